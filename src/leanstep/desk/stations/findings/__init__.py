"""The Findings station: read what is wrong, and see it happen."""

from leanstep.desk.session import Session
from leanstep.desk.stations.findings.station import FindingsStation
from leanstep.desk.stations.station import Specification, count_of


def _verdict(session: Session) -> str:
    report = session.report
    if report is None:
        return "not checked" if session.checker.stopped else "checking …"
    errors, warnings = report.count("error"), report.count("warning")
    if errors or warnings:
        return count_of(errors, "error") if errors else count_of(warnings, "warning")
    return "all sound" if report.complete else "nothing found so far"


STATION = Specification(
    name="Findings",
    purpose="Read what is wrong, and see it happen",
    make=FindingsStation,
    handed_on=_verdict,
    kinds=("finding",),
    greets=True,
    judges=True,
)
