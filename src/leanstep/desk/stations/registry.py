"""The stations, in the order of work.  This is the only place that lists them."""

from __future__ import annotations

from leanstep.core.naming.targets import Subject
from leanstep.desk.stations import blends, clips, findings, graph, handover, rehearse, sheets
from leanstep.desk.stations.station import Specification

STATIONS: tuple[Specification, ...] = (
    sheets.STATION,
    clips.STATION,
    blends.STATION,
    graph.STATION,
    rehearse.STATION,
    findings.STATION,
    handover.STATION,
)


def mending(subject: Subject) -> Specification | None:
    """The station where a finding is mended; None when nothing shows what it is about."""
    return next((one for one in STATIONS if any(subject.has(key) for key in one.subjects)), None)


def showing(kind: str) -> Specification | None:
    """The station that shows a kind of thing."""
    return next((one for one in STATIONS if kind in one.kinds), None)
