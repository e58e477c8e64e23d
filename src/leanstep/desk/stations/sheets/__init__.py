"""The Sheets station: bring images in and cut them into frames."""

from leanstep.desk.stations.sheets.station import SheetsStation
from leanstep.desk.stations.station import Specification, count_of

STATION = Specification(
    name="Sheets",
    purpose="Cut images into frames",
    make=SheetsStation,
    handed_on=lambda session: count_of(len(session.document.sheets), "sheet"),
    subjects=("sheet",),
    kinds=("sheet", "costume"),
    suffixes=(".png", ".gif", ".webp", ".bmp", ".jpg", ".jpeg"),
)
