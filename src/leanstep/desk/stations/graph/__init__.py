"""The Graph station: lanes, figures and arcs."""

from leanstep.desk.stations.graph.station import GraphStation

__all__ = ["GraphStation"]
