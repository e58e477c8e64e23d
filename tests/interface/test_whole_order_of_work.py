"""From a second sheet to a saved take and back again, by clicks and keys."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from leanstep.core.character.files import load
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.takes import rehearse, trace_csv
from leanstep.desk.stations.clips.station import ClipsStation
from leanstep.desk.stations.graph.station import GraphStation
from leanstep.desk.stations.rehearse.station import RehearseStation
from leanstep.desk.stations.sheets.station import SheetsStation
from leanstep.desk.window import Window
from tests.interface.conftest import name_it, press, ticks

LEFT = Qt.MouseButton.LeftButton


def state_of(window: Window, layer: int = 0) -> str:
    """The state the mirror shows."""
    machine = window.live.machine
    return machine.layers[layer].states[window.live.situation.states[layer]]


@pytest.mark.long
def test_sheet_clip_state_transition_drive_record_save_reopen_undo(
    open_window: Callable[..., Window], demo: Path
) -> None:
    path = demo / "lamplighter.leanstep"
    opened = path.read_bytes()
    window = open_window(path)
    sheets, clips = window.station(SheetsStation), window.station(ClipsStation)
    graph, stage = window.station(GraphStation), window.station(RehearseStation)

    # A second sheet, cut by count.
    QTest.keyClick(window, Qt.Key.Key_1, Qt.KeyboardModifier.ControlModifier)
    window.bring_in(demo / "art" / "ferry-hand.png")
    assert sheets.list.currentIndex().data() == "ferry-hand"
    for field, text in ((sheets.ways.columns, "5"), (sheets.ways.rows, "3")):
        field.selectAll()
        QTest.keyClicks(field, text)
        QTest.keyClick(field, Qt.Key.Key_Return)
    assert "left over" in sheets.ways.by_count.outcome.text() and not sheets.ways.by_count.apply.isEnabled()
    sheets.ways.columns.selectAll()
    QTest.keyClicks(sheets.ways.columns, "8")
    QTest.keyClick(sheets.ways.columns, Qt.Key.Key_Return)
    assert "24 frames of 112 × 112" in sheets.ways.by_count.outcome.text()
    QTest.mouseClick(sheets.ways.by_count.apply, LEFT)
    assert len(sheets.view.loaded.cut.frames) == 24  # type: ignore[union-attr]

    # A drag over the walk makes a clip.
    start, end = (sheets.view.cell(frame).center().toPoint() for frame in (8, 15))
    QTest.mousePress(sheets.view, LEFT, pos=start)
    QTest.mouseMove(sheets.view, end)
    QTest.mouseRelease(sheets.view, LEFT, pos=end)
    assert sheets.view.chosen == list(range(8, 16))
    QTest.mouseClick(sheets.make_clip, LEFT)
    name_it(window, "ferry walk")
    assert window.stack.currentWidget() is clips
    assert clips.current == "ferry walk" and len(clips.film.clip.cels) == 8

    # A state that shows it, and a transition to it.
    QTest.keyClick(window, Qt.Key.Key_4, Qt.KeyboardModifier.ControlModifier)
    slot = graph.page.page.slots[0, "idle"]
    QTest.mouseClick(graph.page, LEFT, pos=QPoint(int(slot.x), int(slot.ground - 10)))
    graph.add_state()
    name_it(window, "wave")
    assert graph.drawer.name.text() == "wave"
    graph.drawer.shows.setCurrentText("clip ferry walk")
    graph.drawer.shows.activated.emit(graph.drawer.shows.currentIndex())
    knob = graph.page._knob(graph.page.page.slots[0, "wave"]).toPoint()
    idle = graph.page.page.slots[0, "idle"]
    QTest.mousePress(graph.page, LEFT, pos=knob)
    QTest.mouseRelease(graph.page, LEFT, pos=QPoint(int(idle.x), int(idle.ground - 10)))
    QTest.keyClicks(graph.drawer.line, "clip done")
    QTest.keyClick(graph.drawer.line, Qt.Key.Key_Return)
    window.session.select_state(0, "idle")
    graph.drawer.join.setCurrentText("wave")
    graph.drawer.join.activated.emit(graph.drawer.join.currentIndex())
    QTest.keyClicks(graph.drawer.line, "light pressd")
    assert "light" in graph.drawer.reading.text() or "not expected" in graph.drawer.reading.text()
    graph.drawer.line.selectAll()
    QTest.keyClicks(graph.drawer.line, "light pressed and not at_lamp")
    QTest.keyClick(graph.drawer.line, Qt.Key.Key_Return)
    assert graph.drawer.reading.text().startswith("Taken when light has just been pressed")
    transition = window.session.document.layers[0].transitions[-1]
    assert (transition.source, transition.to, transition.when) == ("idle", "wave", "light pressed and not at_lamp")

    # Drive to it in the mirror, then record a take of it.
    QTest.keyClick(window, Qt.Key.Key_Space, Qt.KeyboardModifier.ControlModifier)
    assert window.live.mode == "driving"
    QTest.keyPress(graph.page, Qt.Key.Key_E)
    ticks(window, 2)
    assert state_of(window) == "wave"
    QTest.keyRelease(graph.page, Qt.Key.Key_E)
    press(window, Qt.Key.Key_Escape)
    assert window.live.mode == "idle"

    QTest.keyClick(window, Qt.Key.Key_5, Qt.KeyboardModifier.ControlModifier)
    QTest.mouseClick(stage.record_button, LEFT)
    ticks(window, 5)
    QTest.keyPress(stage.course, Qt.Key.Key_E)
    ticks(window, 4)
    QTest.keyRelease(stage.course, Qt.Key.Key_E)
    ticks(window, 60)
    QTest.mouseClick(stage.record_button, LEFT)
    assert stage.current == "take" and stage.take.ticks == 69
    assert "wave" in [window.session.machine.layers[0].states[run.state] for run in stage.trace.ribbon(0)]
    first = trace_csv(stage.trace)

    # Save, reopen: everything is there and the take does the same.
    QTest.keyClick(window, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    assert not window.session.history.changed
    reopened = load(path)
    assert reopened == window.session.document
    assert [sheet.name for sheet in reopened.sheets] == ["lamplighter", "winter", "evening", "lamp", "ferry-hand"]
    take = next(take for take in reopened.takes if take.name == "take")
    assert trace_csv(rehearse(compile_character(reopened), take)) == first

    # Undo it all: the saved bytes are those of the opened file.
    for _ in range(30):
        QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert "nothing to take back" in window.status.text()
    window.save()
    assert path.read_bytes() == opened


@pytest.mark.long
def test_key_to_changed_picture_takes_at_most_two_ticks(window: Window) -> None:
    window.go("Graph")
    QTest.keyClick(window, Qt.Key.Key_Space, Qt.KeyboardModifier.ControlModifier)
    ticks(window, 10)
    before = window.mirror.glass.grab().toImage()
    QTest.keyPress(window.mirror.glass, Qt.Key.Key_Space)
    ticks(window, 2)
    after = window.mirror.glass.grab().toImage()
    assert state_of(window) == "take-off"
    assert before != after


@pytest.mark.long
def test_steering_from_every_station(window: Window) -> None:
    for name in window.stations:
        window.go(name)
        window.live.restart()
        QTest.keyClick(window, Qt.Key.Key_Space, Qt.KeyboardModifier.ControlModifier)
        QTest.keyPress(window.stations[name], Qt.Key.Key_Right)
        ticks(window, 20)
        assert state_of(window) == "stride", window.route.current
        QTest.keyRelease(window.stations[name], Qt.Key.Key_Right)
        press(window, Qt.Key.Key_Escape)
        ticks(window, 40)
        assert state_of(window) == "idle"


@pytest.mark.long
def test_losing_focus_lets_go_of_every_key(window: Window) -> None:
    from PySide6.QtCore import QEvent
    from PySide6.QtWidgets import QApplication

    window.live.drive()
    QTest.keyPress(window.station(GraphStation), Qt.Key.Key_Right)
    ticks(window, 5)
    assert window.live.hands.devices.values()["stick.x"] == 1
    QApplication.sendEvent(window, QEvent(QEvent.Type.WindowDeactivate))
    assert window.live.hands.devices.values()["stick.x"] == 0


def test_what_just_happened_becomes_a_take_that_replays(window: Window) -> None:
    window.go("Rehearse")
    window.live.restart()
    window.live.drive()
    QTest.keyPress(window.station(RehearseStation), Qt.Key.Key_Right)
    ticks(window, 30)
    QTest.keyPress(window.station(RehearseStation), Qt.Key.Key_Space)
    ticks(window, 20)
    seen = window.live.situation
    QTest.keyClick(window, Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    station = window.station(RehearseStation)
    assert station.take is not None and station.take.ticks == 50
    assert station.trace.steps[-1].situation.body == seen.body
    assert station.trace.steps[-1].situation.states == seen.states
