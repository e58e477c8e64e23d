"""The stations, in the order of work.  This is the only place that lists them."""

from __future__ import annotations

from importlib import import_module

from leanstep.core.naming.targets import Subject
from leanstep.desk.stations.station import Specification

ORDER = (
    "sheets",
    "clips",
    "blends",
    "graph",
    "rehearse",
    "findings",
    "handover",
)
STATIONS: tuple[Specification, ...] = tuple(
    import_module(f"leanstep.desk.stations.{folder}").STATION for folder in ORDER
)


def mending(subject: Subject) -> Specification | None:
    """The station where a finding is mended; None when nothing shows what it is about."""
    return next((one for one in STATIONS if any(subject.has(key) for key in one.subjects)), None)


def showing(kind: str) -> Specification | None:
    """The station that shows a kind of thing."""
    return next((one for one in STATIONS if kind in one.kinds), None)
