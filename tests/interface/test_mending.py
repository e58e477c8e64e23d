"""Findings are mended in the window, muted with a reason, and it is told what is new and what is gone."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from leanstep.core.character.edits import change
from leanstep.core.character.files import load
from leanstep.core.findings.results import Finding
from leanstep.desk.stations.findings.station import FindingsStation
from leanstep.desk.window import Window
from tests.interface.test_sheets import click, wait_until

pytestmark = pytest.mark.checks


def opened(open_window: Callable[..., Window], path: Path) -> tuple[Window, FindingsStation]:
    """The window with the findings of a file."""
    window = open_window(path)
    window.go("Findings")
    wait_until(lambda: window.session.report is not None, "the check")
    station = window.station(FindingsStation)
    assert isinstance(station, FindingsStation)
    return window, station


def choose(window: Window, station: FindingsStation, at: int) -> None:
    station.list.setCurrentIndex(station.model.index(at))


def after_edit(window: Window, edit: Callable[[], object]) -> None:
    """Do something that edits, and wait for the check that follows."""
    sent = window.session.checker._request
    edit()
    wait_until(lambda: window.session.checker._request > sent, "the edit to be sent")
    before = window.session.report
    wait_until(lambda: window.session.report is not before, "the next check")


def to_mend(finding: Finding) -> bool:
    """What of the faulty demo is mended by a repair: its errors, and what is wrong with motion."""
    return finding.severity == "error" or finding.id in ("clip.slide", "travel.inside", "squash.stays")


@pytest.mark.long
def test_the_faulty_demo_is_made_clean_by_repairs_alone(open_window: Callable[..., Window], demo: Path) -> None:
    window, station = opened(open_window, demo / "lamplighter-faulty.leanstep")
    states = [state.name for state in window.session.document.layers[0].states]
    steps, gathered, answers = 0, 0, list[object]()
    window.session.checker.repaired.connect(lambda finding, repair: answers.append(finding))
    while (report := window.session.report) and (wrong := [one for one in report.findings if to_mend(one)]):
        for error in wrong:
            answers.clear()
            choose(window, station, -1)
            choose(window, station, station.model.row_of(error.key))
            wait_until(lambda: station.finding in answers, "what mends it")
            if station.mending.repair is not None:
                break
        assert station.mending.isVisible() and station.mending.words.text().startswith("To mend it: ")
        finding, repair = station.finding, station.mending.repair
        assert finding is not None and repair is not None
        if repair.also:
            at = station.model.row_of(finding.key)
            below = [one.key for one in station.model.items[at + 1 : at + 1 + len(repair.also)]]
            assert set(below) == set(repair.also), "what one repair mends stands together"
            assert f"mends {len(below)} other finding" in station.mending.words.text()
            gathered += 1
        if finding.witness is not None and len(station.mending.ribbons.traces) == 2:
            assert station.mending.ribbons.isVisible(), "the witness before and after"
        station.list.setFocus()
        plays = window.live.mode == "playing" and window.live.take == station.shown_take
        if finding.witness is not None and not plays:
            QTest.keyClick(station.list, Qt.Key.Key_Return)
            assert window.live.mode == "playing", "Enter plays the witness first"
        after_edit(window, lambda: QTest.keyClick(station.list, Qt.Key.Key_Return))
        steps += 1
        assert f"Gone: {finding.sentence}" in station.changes.text() and station.changes.isVisible()
        assert steps < 14
    assert gathered >= 2
    assert steps == 9 and not window.session.document.muted
    assert [state.name for state in window.session.document.layers[0].states] == states
    assert {one.id for one in window.session.report.findings if one.severity == "warning"} <= {
        "costume.lacks",
        "flash",
        "flicker.wobble",
        "pin.jump",
        "transition.shadowed",
        "state.unreached",
        "transition.unreached",
    }
    for _ in range(steps):
        window.session.undo()
    assert window.session.document == load(demo / "lamplighter-faulty.leanstep")


@pytest.mark.long
def test_a_finding_is_muted_with_a_reason_and_taken_back(open_window: Callable[..., Window], demo: Path) -> None:
    window, station = opened(open_window, demo / "lamplighter.leanstep")
    report = window.session.report
    assert report is not None
    count = len(report.findings)
    at = next(at for at, one in enumerate(report.findings) if one.id == "frame.duplicate")
    choose(window, station, at)
    click(station.mute_button)
    assert station.reason.isVisible()
    QTest.keyClick(station.reason, Qt.Key.Key_Return)
    assert not window.session.document.muted, "without a reason nothing is muted"
    QTest.keyClicks(station.reason, "the pole is held twice")
    after_edit(window, lambda: QTest.keyClick(station.reason, Qt.Key.Key_Return))
    assert station.model.rowCount() == count - 1 and station.muted_button.text() == "1 finding muted ▸"
    window.save()
    saved = (demo / "lamplighter.leanstep").read_text()
    assert '"about": "sheet lamplighter"' in saved and '"reason": "the pole is held twice"' in saved

    click(station.muted_button)
    assert station.model.rowCount() == count
    choose(window, station, count - 1)
    assert "the pole is held twice" in station.why.text() and station.mute_button.text() == "Take it back"
    after_edit(window, lambda: click(station.mute_button))
    assert not window.session.document.muted and not station.muted_button.isVisible()


def test_a_muted_finding_that_is_gone_is_said(open_window: Callable[..., Window], demo: Path) -> None:
    path = demo / "lamplighter.leanstep"
    text = path.read_text().rstrip().removesuffix("}").rstrip()
    path.write_text(text + ',\n  "muted": [{"id": "clip.drifts", "about": "clip walk", "reason": "once"}]\n}\n')
    window, station = opened(open_window, path)
    report = window.session.report
    assert report is not None
    at = next(at for at, one in enumerate(report.findings) if one.id == "mute.stale")
    assert "The muted finding clip.drifts about clip walk does not exist any more" in report.findings[at].sentence
    choose(window, station, at)
    after_edit(window, lambda: click(station.mute_button))
    assert not window.session.document.muted and "mute.stale" not in {one.id for one in window.session.report.findings}


@pytest.mark.long
def test_a_repair_of_an_older_document_is_not_made(open_window: Callable[..., Window], demo: Path) -> None:
    window, station = opened(open_window, demo / "lamplighter-faulty.leanstep")
    choose(window, station, 0)
    wait_until(lambda: station.mending.repair is not None, "the repair")
    window.session.edit("another", lambda document: change(document, (), name="Other"))
    assert station.mending.repair is None and not station.mending.isVisible()
    station.mending.mend()
    assert window.session.document.name == "Other" and window.session.history.undo_name == "another"


@pytest.mark.long
def test_asking_for_a_repair_does_not_break_a_check_off(open_window: Callable[..., Window], demo: Path) -> None:
    window, station = opened(open_window, demo / "lamplighter-faulty.leanstep")
    sent = window.session.checker._request
    window.session.edit("another", lambda document: change(document, (), flicker_window=0.12))
    wait_until(lambda: window.session.checker._request > sent, "the check to begin")
    before = window.session.report
    for row in (1, 2, 1, 0):
        choose(window, station, row)
    wait_until(lambda: window.session.report is not before, "its end")
    wait_until(lambda: station.mending.repair is not None, "the repair of what is chosen then")


@pytest.mark.long
def test_an_order_that_is_meant_is_not_told_any_more(open_window: Callable[..., Window], demo: Path) -> None:
    window, station = opened(open_window, demo / "lamplighter.leanstep")
    report = window.session.report
    assert report is not None
    at = next(at for at, one in enumerate(report.findings) if one.id == "order.decides")
    other = next(at for at, one in enumerate(report.findings) if one.id != "order.decides")
    choose(window, station, other)
    assert not station.meant_button.isVisible()
    choose(window, station, at)
    key = station.finding.key
    after_edit(window, lambda: click(station.meant_button))
    (muted,) = window.session.document.muted
    assert (muted.id, muted.reason) == ("order.decides", "that is meant")
    assert key not in {one.key for one in window.session.report.findings}
    after_edit(window, window.session.undo)
    assert key in {one.key for one in window.session.report.findings}


@pytest.mark.long
def test_a_witness_is_kept_with_the_second_figure_that_it_needs(open_window: Callable[..., Window], demo: Path) -> None:
    window = open_window(demo / "fencing-teacher-faulty.leanstep")
    wait_until(lambda: window.session.report is not None, "the check")
    assert window.session.report is not None
    finding = next(one for one in window.session.report.findings if one.id == "action.endless")
    window.session.finding = finding
    window.session.wanted.emit("finding")
    station = window.station(FindingsStation)
    click(station.keep_button)
    kept, witness = window.session.document.takes[-1], finding.witness
    assert kept.name == "witness action.endless" and witness is not None and witness.second is not None
    assert (kept.second, kept.changes, kept.ticks) == (witness.second, witness.changes, witness.ticks)
