"""The Blends station: arrange clips along an axis."""

from leanstep.desk.stations.blends.station import BlendsStation

__all__ = ["BlendsStation"]
