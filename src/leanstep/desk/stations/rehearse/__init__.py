"""The Rehearse station: steer the character, record takes and replay them."""

from leanstep.desk.stations.rehearse.station import RehearseStation
from leanstep.desk.stations.station import Specification, count_of

STATION = Specification(
    name="Rehearse",
    purpose="Steer the character, record takes and replay them",
    make=RehearseStation,
    handed_on=lambda session: count_of(len(session.document.takes), "take"),
    subjects=("take",),
    kinds=("take",),
    suffixes=(".csv", ".json"),
    mirror=False,
)
