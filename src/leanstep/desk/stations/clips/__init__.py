"""The Clips station: string frames into clips."""

from leanstep.desk.stations.clips.station import ClipsStation
from leanstep.desk.stations.station import Specification, count_of

STATION = Specification(
    name="Clips",
    purpose="String frames into clips",
    make=ClipsStation,
    handed_on=lambda session: count_of(len(session.document.clips), "clip"),
    subjects=("clip", "accessory", "alternate"),
    kinds=("clip", "mark", "span", "pin", "accessory", "alternate"),
)
