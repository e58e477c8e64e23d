"""Nothing typed is eaten: while checks end, images are read again and the figure is steered, every field keeps what is written."""

from __future__ import annotations

import os
from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QComboBox, QLineEdit

from leanstep.core.character.edits import change
from leanstep.core.character.sheets import Cut
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Report
from leanstep.core.sheets.recutting import Recut
from leanstep.desk.art import Loaded
from leanstep.desk.stations.findings.station import FindingsStation
from leanstep.desk.stations.graph.station import GraphStation
from leanstep.desk.stations.sheets.station import SheetsStation
from leanstep.desk.window import Window
from tests.interface.test_every_field import TABLE, Control
from tests.support.build import DEMO

LONG = os.environ.get("LEANSTEP_LONG") == "1"
NONE, LEFT = Qt.KeyboardModifier.NoModifier, Qt.MouseButton.LeftButton
WRITTEN = {name: how for name, how in TABLE.items() if isinstance(how, Control) and how.text}


def disturb(window: Window) -> None:
    """What goes on behind a person who types: a check ends, images are read again, time passes."""
    session = window.session
    session.checker.report = Report("", (), (), 0, 0.0, True)
    session.checker.checked.emit()
    session.art.changed.emit()
    session.noted.emit()
    if session.finding is not None:
        session.checker.repaired.emit(session.finding, None)
    window.live.tick()
    QApplication.processEvents()


@pytest.mark.long
def test_a_condition_is_written_while_checks_end(window: Window) -> None:
    """The whole way: a new transition, its condition typed slowly, stored once and whole."""
    window.go("Graph")
    graph = window.station(GraphStation)
    graph.drawer.make_transition(0, "state", "idle", "land")
    line = graph.drawer.line
    text = "since(idle) > 0.4 s and grounded"
    steps = window.session.history.undo_name
    for letter in text:
        QTest.keyClick(QApplication.focusWidget(), letter)  # type: ignore[call-overload]
        disturb(window)
        assert window.session.history.undo_name == steps, "nothing is stored before it is meant"
    assert line.text() == text
    QTest.keyClick(line, Qt.Key.Key_Escape)
    QTest.keyClick(line, Qt.Key.Key_Return)
    assert window.session.document.layers[0].transitions[-1].when == text


@pytest.mark.long
def test_a_name_typed_for_a_new_state_is_whole(window: Window) -> None:
    window.go("Graph")
    QTest.keyClick(window, Qt.Key.Key_T, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    for letter in "abcdefgh":
        QTest.keyClick(QApplication.focusWidget(), letter)  # type: ignore[call-overload]
        disturb(window)
    QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Return)
    assert [one.name for one in window.session.document.layers[0].states].count("abcdefgh") == 1


@pytest.mark.long
def test_a_command_takes_what_was_typed_first(window: Window) -> None:
    """A shortcut while a name is written: the name counts, and then the command."""
    window.go("Graph")
    window.session.select_state(0, "crouch")
    graph = window.station(GraphStation)
    graph.drawer.name.ask()
    QTest.keyClicks(graph.drawer.name, "duck")
    QTest.keyClick(window, Qt.Key.Key_T, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    names = [one.name for one in window.session.document.layers[0].states]
    assert "duck" in names and "crouch" not in names and "state" in names


@pytest.mark.long
def test_a_press_beside_takes_what_was_typed(window: Window) -> None:
    """What is pressed may take no focus: the mirror, for one."""
    window.go("Graph")
    window.session.select_state(0, "crouch")
    name = window.station(GraphStation).drawer.name
    name.ask()
    QTest.keyClicks(name, "duck")
    QTest.mouseClick(window.mirror, LEFT, pos=QPoint(20, 60))
    assert "duck" in [one.name for one in window.session.document.layers[0].states]


@pytest.mark.long
def test_undo_after_making_a_clip_takes_the_clip_back(window: Window) -> None:
    """Its name waits for being typed; nothing is written in it that the field could take back."""
    window.go("Sheets")
    station = window.station(SheetsStation)
    station.view.choose([0, 1, 2])
    before = window.session.document
    QTest.mouseClick(station.make_clip, LEFT)
    assert isinstance(QApplication.focusWidget(), QLineEdit)
    QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert window.session.document.clips == before.clips


@pytest.mark.long
def test_a_list_that_is_open_stays_open(window: Window) -> None:
    window.go("Graph")
    window.session.select_state(0, "crouch")
    shows = window.station(GraphStation).drawer.shows
    assert isinstance(shows, QComboBox)
    shows.showPopup()
    disturb(window)
    window.session.edit("test", lambda document: change(document, (), name="other"))
    assert shows.view().isVisible()
    shows.hidePopup()


@pytest.mark.long
def test_a_drag_goes_on_while_checks_end(window: Window, monkeypatch: pytest.MonkeyPatch) -> None:
    """Windows know of a button that is held: so this goes through the window, not to a widget."""
    window.go("Graph")
    page = window.station(GraphStation).page
    place = page.mapTo(window, QPoint(300, 40))
    QTest.mousePress(window.windowHandle(), LEFT, NONE, place)
    shown: list[float | None] = []
    monkeypatch.setattr(page, "refresh", shown.append)
    window.session.checker.checked.emit()
    window.session.art.changed.emit()
    assert not shown, "it is not shown anew under the pointer"
    QTest.mouseRelease(window.windowHandle(), LEFT, NONE, place)
    QTest.qWait(120)
    assert shown


@pytest.mark.long
def test_a_list_that_is_scrolled_stays_there(window: Window) -> None:
    """One more button in the panel of names does not take it to its top."""
    window.go("Graph")
    window.mirror.show_tab("Parameters")
    names = window.mirror.names
    names.verticalScrollBar().setValue(150)
    before = names.verticalScrollBar().value()
    assert before > 0
    names.add_button()
    QApplication.processEvents()
    assert names.verticalScrollBar().value() >= before


@pytest.mark.long
def test_what_cannot_be_read_stays_to_be_put_right(window: Window) -> None:
    window.go("Graph")
    window.session.select_state(0, "crouch")
    line = window.station(GraphStation).drawer.rows.entry
    line.setFocus()
    QTest.keyClicks(line, "freze 2 ticks")
    QTest.keyClick(line, Qt.Key.Key_Escape)
    QTest.keyClick(line, Qt.Key.Key_Return)
    window.station(GraphStation).page.setFocus()
    disturb(window)
    assert line.text() == "freze 2 ticks"
    window.session.select_state(0, "land")
    assert line.text() != "freze 2 ticks", "that was about another state"


@pytest.mark.long
def test_a_reason_for_muting_is_written_while_checks_end(open_window: Callable[..., Window], demo: Path) -> None:
    window = open_window(demo / "lamplighter-faulty.leanstep")
    window.session.checker.report = check_character(window.session.document, demo)
    window.session.checker.checked.emit()
    window.go("Findings")
    station = window.station(FindingsStation)
    QTest.mouseClick(station.mute_button, LEFT)
    window.session.checker.checked.emit()
    assert station.reason.isVisible(), "nothing is written yet, but it is asked"
    for letter in "known since May":
        QTest.keyClick(window.focusWidget(), letter)  # type: ignore[call-overload]
        window.session.checker.checked.emit()
    assert station.reason.text() == "known since May"


def test_a_question_about_a_sheet_does_not_outlive_its_document(window: Window) -> None:
    window.session.new()
    window.go("Sheets")
    station = window.station(SheetsStation)
    station.take_files([DEMO / "art" / "ferry-hand.png"])
    for _ in range(200):
        if isinstance(station.view.loaded, Loaded):
            break
        QTest.qWait(25)
    station.edits.recut("cut", Recut(Cut(columns=8, rows=3), station.image_size() or (0, 0), {}))
    station.maker.ask_to_steer()
    assert station.walk.isVisible()
    window.session.new()
    assert not station.walk.isVisible() and not station.ways.isHidden()
