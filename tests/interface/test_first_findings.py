"""The first findings are seen before the first check is done."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtTest import QTest

from leanstep.core.character.files import load
from leanstep.core.findings import messages
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Finding
from leanstep.desk.stations.findings.station import FindingsStation
from leanstep.desk.window import Window
from tests.support.build import DEMO


@pytest.fixture
def window(open_window: Callable[..., Window], demo: Path) -> Window:
    return open_window(demo / "lamplighter-faulty.leanstep")


def certain(found: list[Finding]) -> messages.Certain:
    return messages.Certain(1, [one.to_json() for one in found])


@pytest.mark.long
def test_what_is_certain_is_listed_while_the_check_goes_on(window: Window) -> None:
    window.go("Findings")
    station, session = window.station(FindingsStation), window.session
    told = []  # type: ignore[var-annotated]
    whole = check_character(load(DEMO / "lamplighter-faulty.leanstep"), DEMO, certain=told.append)
    session.checker._take(certain(told[0]))
    assert station.model.rowCount() == len(told[0]) > 0
    assert "so far" in station.summary.text()
    session.checker._take(certain(told[-1]))
    assert station.model.rowCount() == len(told[-1]) and station.finding == told[-1][0]
    session.checker.report, session.checker.early = whole, ()
    session.checker.checked.emit()
    assert station.model.rowCount() == len(whole.findings) and "so far" not in station.summary.text()
    assert station.finding == whole.findings[0], "nobody has chosen another one"


def test_an_edit_keeps_the_findings_of_the_check_before_until_the_next_is_done(window: Window) -> None:
    session = window.session
    session.checker.report = check_character(load(DEMO / "lamplighter-faulty.leanstep"), DEMO)
    session.checker.checked.emit()
    session.checker._take(certain([]))
    assert session.report.findings and not session.checker.early


@pytest.mark.long
@pytest.mark.checks
def test_the_worker_tells_findings_before_its_report(window: Window) -> None:
    seen: list[bool] = []
    window.session.checker.told.connect(lambda: seen.append(True))
    window.session.checker.checked.connect(lambda: seen.append(False))
    for _ in range(4000):
        QTest.qWait(20)
        if False in seen:
            break
    assert seen[0] and not seen[-1]
