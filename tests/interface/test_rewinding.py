"""Time runs back while a key is held, and goes on from there."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from leanstep.core.rehearsal.takes import rehearse
from leanstep.desk.stations.rehearse.station import RehearseStation
from leanstep.desk.window import Window
from tests.interface.conftest import ticks

BACK, RIGHT = Qt.Key.Key_Backspace, Qt.Key.Key_Right


def steering(window: Window, count: int = 80) -> list[object]:
    """Steer to the right; the situations before every tick and after the last one."""
    window.go("Rehearse")
    window.live.drive()
    QTest.keyPress(window, RIGHT)
    seen: list[object] = [window.live.situation]
    for _ in range(count):
        ticks(window, 1)
        seen.append(window.live.situation)
    return seen


def test_held_it_runs_back_tick_by_tick_and_goes_on_from_there(window: Window) -> None:
    seen, live = steering(window), window.live
    QTest.keyPress(window, BACK)
    for number in range(1, 31):
        ticks(window, 1)
        assert repr(live.situation) == repr(seen[80 - number]), "every tick as it was"
    QTest.keyRelease(window, BACK)
    assert "Back by 0.5 s" in window.status.text() and live.mode == "driving"
    x = live.situation.body.x
    ticks(window, 40)
    assert live.situation.body.x < x + 40, "nothing is held any more: it comes to a stop"
    take = live.kept_take("kept")
    assert take is not None
    end = rehearse(live.machine, take).steps[-1].situation
    assert repr(end.body) == repr(live.situation.body), "what is kept has not what was taken back"


def test_it_stops_at_the_beginning_and_a_recording_loses_what_was_taken_back(window: Window) -> None:
    window.go("Rehearse")
    station, live = window.station(RehearseStation), window.live
    station.record()
    first = live.situation
    QTest.keyPress(window, RIGHT)
    ticks(window, 20)
    QTest.keyPress(window, BACK)
    ticks(window, 50)
    assert repr(live.situation) == repr(first)
    QTest.keyRelease(window, BACK)
    QTest.keyRelease(window, RIGHT)
    ticks(window, 12)
    station.record()
    assert station.take is not None and station.take.ticks == 12 and not station.take.changes


def test_esc_and_an_edit_end_it(window: Window) -> None:
    steering(window)
    QTest.keyPress(window, BACK)
    ticks(window, 10)
    QTest.keyClick(window, Qt.Key.Key_Escape)
    assert window.live.mode == "idle"
    x = window.live.situation.body.x
    ticks(window, 3)
    assert window.live.situation.body.x >= x
    steering(window, 20)
    QTest.keyPress(window, BACK)
    ticks(window, 5)
    window.session.undo()
    window.session.edit("nothing of note", lambda document: document)
    QTest.keyRelease(window, BACK)
    ticks(window, 5)
    assert window.live.mode == "driving"
