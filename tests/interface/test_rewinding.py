"""Time runs back while a key is held, and goes on from there."""

from __future__ import annotations

import time
from itertools import pairwise

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from leanstep.core.character.edits import change
from leanstep.core.naming.references import Thing
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


@pytest.mark.long
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


@pytest.mark.long
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


@pytest.mark.long
def test_once_more_begins_shortly_before_the_first_thing_that_was_done(window: Window) -> None:
    window.go("Rehearse")
    live = window.live
    live.drive()
    ticks(window, 100)
    QTest.keyPress(window, RIGHT)
    ticks(window, 40)
    x = live.situation.body.x
    QTest.keyRelease(window, RIGHT)
    live.repeat()
    ticks(window, 20 + 40)
    assert live.again is not None and live.situation.body.x == x


@pytest.mark.long
def test_after_a_change_the_same_is_done_once_more_beside_what_it_did_before(window: Window) -> None:
    seen, live = steering(window, 60), window.live
    QTest.keyRelease(window, RIGHT)
    ticks(window, 20)
    before = seen[60].body.x  # type: ignore[attr-defined]
    window.session.edit("faster", lambda document: change(document, ("body",), walk_speed=140.0))
    QTest.keyClick(window, Qt.Key.Key_G, Qt.KeyboardModifier.ControlModifier)
    assert live.mode == "playing" and live.again is not None and "pale figure" in window.status.text()
    ticks(window, 60)
    assert live.again.situation(live.position).body.x == before, "the ghost is where it was"
    assert live.situation.body.x > before + 30, "and the figure, with the same keys, farther on"
    course = window.station(RehearseStation).course
    beside = course.grab().toImage()
    kept, live.again = live.again, None
    alone = course.grab().toImage()
    live.again = kept
    assert beside != alone, "both are seen"
    ticks(window, 40)
    assert live.mode == "driving" and live.again is None, "at its end somebody steers again"


@pytest.mark.long
def test_without_a_change_and_with_nothing_steered_it_does_no_harm(window: Window) -> None:
    live = window.live
    QTest.keyClick(window, Qt.Key.Key_G, Qt.KeyboardModifier.ControlModifier)
    assert live.mode == "idle" and "Steer first" in window.status.text()
    seen = steering(window, 30)
    QTest.keyClick(window, Qt.Key.Key_G, Qt.KeyboardModifier.ControlModifier)
    ticks(window, 30)
    assert live.situation.body.x == seen[30].body.x  # type: ignore[attr-defined]
    where = live.situation.body.x
    QTest.keyClick(window, Qt.Key.Key_Space, Qt.KeyboardModifier.ControlModifier)
    assert live.mode == "driving" and live.situation.body.x == where, "hands take over where it is"


@pytest.mark.long
def test_a_button_that_is_gone_is_said_and_nothing_is_done(window: Window) -> None:
    live = window.live
    window.go("Rehearse")
    live.drive()
    QTest.keyPress(window, Qt.Key.Key_E)
    ticks(window, 20)
    QTest.keyClick(window, Qt.Key.Key_Escape)
    window.session.remove(Thing("button", "light"))
    QTest.keyClick(window, Qt.Key.Key_G, Qt.KeyboardModifier.ControlModifier)
    assert live.mode == "idle" and "cannot be done any more" in window.status.text()


@pytest.mark.long
def test_a_bookmark_is_come_back_to_also_after_an_edit(window: Window) -> None:
    steering(window, 40)
    live = window.live
    there = live.situation.body
    QTest.keyClick(window, Qt.Key.Key_B, Qt.KeyboardModifier.ControlModifier)
    ticks(window, 60)
    assert live.situation.body.x > there.x + 50
    QTest.keyRelease(window, RIGHT)
    window.session.edit("higher", lambda document: change(document, ("body",), jump_speed=400.0))
    QTest.keyClick(window, Qt.Key.Key_J, Qt.KeyboardModifier.ControlModifier)
    assert (live.situation.body.x, live.situation.body.vx) == (there.x, there.vx) and live.mode == "driving"
    window.session.new()
    QTest.keyClick(window, Qt.Key.Key_J, Qt.KeyboardModifier.ControlModifier)
    assert "There is no bookmark" in window.status.text(), "another character has none"


STEER = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier


def state_of(window: Window) -> str:
    return window.session.document.layers[0].states[window.live.situation.states[0]].name


@pytest.mark.long
def test_it_starts_in_the_middle_from_a_state_a_clip_a_tick_and_a_place(window: Window) -> None:
    live = window.live
    window.go("Graph")
    window.session.select_state(0, "climb")
    QTest.keyClick(window, Qt.Key.Key_J, STEER)
    assert state_of(window) == "climb" and live.mode == "driving" and live.situation.stays[0] == 0
    live.leave()
    window.go("Clips")
    window.session.select(Thing("clip", "hurt"))
    QTest.keyClick(window, Qt.Key.Key_J, STEER)
    assert state_of(window) == "hurt"
    ticks(window, 40)
    assert state_of(window) == "idle", "it goes on as from there"
    live.leave()
    window.session.select(Thing("clip", "walk"))
    QTest.keyClick(window, Qt.Key.Key_J, STEER)
    assert "No state shows walk" in window.status.text() and live.mode == "idle"
    window.go("Rehearse")
    station = window.station(RehearseStation)
    station.look(60)
    there = live.situation.body.x
    QTest.keyClick(window, Qt.Key.Key_J, STEER)
    assert live.mode == "driving" and live.situation.body.x == there
    place = station.course.place(200.0, 90.0).toPoint()
    entry = next(
        one for one in station.course.menu_entries(place) if one is not None and one.name == "Put the figure here"
    )
    entry.do()
    assert (live.situation.body.x, live.situation.body.y) == (200, 90)
    ticks(window, 60)
    assert live.situation.body.y == 0 and live.situation.body.grounded, "it falls from there"


@pytest.mark.long
def test_a_late_machine_leaves_no_picture_out_while_time_runs_back(window: Window) -> None:
    steering(window)
    live, shown = window.live, list[int]()
    QTest.keyPress(window, BACK)
    live.start()
    for _ in range(12):
        # as long as three ticks nothing else happens, and then what is there is drawn
        time.sleep(0.05)
        QApplication.processEvents()
        shown.append(live.situation.tick)
    live.stop()
    steps = [one - other for one, other in pairwise(shown)]
    assert set(steps) <= {0, 1} and sum(steps) >= 8
