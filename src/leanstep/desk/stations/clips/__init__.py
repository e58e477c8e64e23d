"""The Clips station: string frames into clips."""

from leanstep.desk.stations.clips.station import ClipsStation

__all__ = ["ClipsStation"]
