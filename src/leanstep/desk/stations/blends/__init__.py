"""The Blends station: arrange clips along a parameter."""

from leanstep.desk.stations.blends.station import BlendsStation
from leanstep.desk.stations.station import Specification, count_of

STATION = Specification(
    name="Blends",
    purpose="Arrange clips by speed",
    make=BlendsStation,
    handed_on=lambda session: count_of(len(session.document.blends), "space"),
    subjects=("blend",),
    kinds=("blend",),
)
