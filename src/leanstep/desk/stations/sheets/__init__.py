"""The Sheets station: bring images in and cut them into frames."""

from leanstep.desk.stations.sheets.station import SheetsStation

__all__ = ["SheetsStation"]
