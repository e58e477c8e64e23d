"""The Rehearse station: steer the character on its course, record takes and replay them."""

from leanstep.desk.stations.rehearse.station import RehearseStation

__all__ = ["RehearseStation"]
