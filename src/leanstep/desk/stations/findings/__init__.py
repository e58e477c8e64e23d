"""The Findings station: read what is wrong, and see it happen."""

from leanstep.desk.stations.findings.station import FindingsStation

__all__ = ["FindingsStation"]
