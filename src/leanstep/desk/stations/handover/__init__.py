"""The end of the route: hand the character over to games, build servers and people."""

from leanstep.desk.session import Session
from leanstep.desk.stations.handover.goods import kept_for
from leanstep.desk.stations.handover.station import HandoverStation
from leanstep.desk.stations.station import Specification


def _ready(session: Session) -> str:
    kept = kept_for(session)
    return f"{len(kept.wanted)} things, after every save" if kept.again and kept.wanted else "files for games"


STATION = Specification(
    name="Hand over",
    purpose="Files that games, build servers and people read",
    make=HandoverStation,
    handed_on=_ready,
    mirror=False,
)
