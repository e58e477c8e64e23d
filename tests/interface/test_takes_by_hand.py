"""Takes: what happened is kept from where it began, and bars of sticks and of game values are drawn from nothing."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from leanstep.core.character.edits import append, change
from leanstep.core.character.inputs import Parameter
from leanstep.core.character.takes import Take
from leanstep.core.naming.references import Thing
from leanstep.core.rehearsal.takes import rehearse
from leanstep.desk.stations.rehearse.station import RehearseStation
from leanstep.desk.widgets.timeline import Timeline
from leanstep.desk.window import Window
from tests.interface.conftest import ticks
from tests.interface.test_drawer import typed

LEFT = Qt.MouseButton.LeftButton


def station(window: Window) -> RehearseStation:
    window.go("Rehearse")
    found = window.station(RehearseStation)
    assert isinstance(found, RehearseStation)
    return found


def replays(window: Window, take: Take) -> None:
    """A take ends where the character is now."""
    end = rehearse(window.session.machine, take).steps[-1].situation
    now = window.live.situation
    assert (end.body, end.states, end.stays, end.values) == (now.body, now.states, now.stays, now.values)


def steer(window: Window, key: str, count: int) -> None:
    window.live.hands.key(key, True)
    ticks(window, count)
    window.live.hands.key(key, False)
    ticks(window, 20)


@pytest.mark.long
def test_two_minutes_and_more_are_kept_however_long_the_window_has_been_open(window: Window) -> None:
    window.live.drive()
    for _ in range(90):
        steer(window, "Right", 60)
        steer(window, "Left", 60)
    assert window.live.ticks > 14_000
    take = window.live.kept_take("kept")
    assert take is not None and take.begins is not None
    assert 7_200 <= take.ticks <= 7_200 + 600
    replays(window, take)


@pytest.mark.long
def test_it_begins_after_the_last_edit_that_changed_what_the_character_does(window: Window) -> None:
    window.live.drive()
    steer(window, "Right", 90)
    body = window.session.document.body
    window.session.edit("faster", lambda document: change(document, ("body",), walk_speed=body.walk_speed * 1.5))
    place = window.live.situation.body.x
    steer(window, "Right", 70)
    window.session.edit("noted", lambda document: change(document, ("layers", 0, "states", 0), note="calm"))
    steer(window, "Left", 30)
    take = window.live.kept_take("kept")
    assert take is not None and take.begins is not None and take.begins.body["x"] == place
    assert take.ticks == 70 + 20 + 30 + 20
    replays(window, take)
    rehearsing = station(window)
    rehearsing.keep()
    assert "where you were" in rehearsing.sentence.text()
    window.session.save()
    QTest.qWait(50)
    rehearsing.play()
    ticks(window, window.session.document.takes[-1].ticks)
    assert (window.live.situation.body, window.live.situation.states) == (
        rehearse(window.session.machine, window.session.document.takes[-1]).steps[-1].situation.body,
        rehearse(window.session.machine, window.session.document.takes[-1]).steps[-1].situation.states,
    )


@pytest.mark.long
def test_what_is_steered_after_a_take_has_ended_begins_where_that_ended(window: Window) -> None:
    found = station(window)
    window.session.select(Thing("take", "walk-and-jump"))
    QTest.qWait(50)
    found.play()
    ticks(window, window.session.document.takes[0].ticks + 1)
    assert window.live.mode == "idle" and window.live.situation.body.x != 0
    window.live.drive()
    steer(window, "Left", 30)
    take = window.live.kept_take("kept")
    assert take is not None and take.begins is not None
    replays(window, take)


def empty_take(window: Window) -> Timeline:
    """A take of two seconds in which nothing is set."""
    found = station(window)
    window.session.edit("began", lambda document: append(document, ("takes",), Take(name="drawn", ticks=120)))
    window.session.select(Thing("take", "drawn"))
    QTest.qWait(50)
    return found.timeline


def row(timeline: Timeline, name: str) -> float:
    """How far down the row of a value lies."""
    assert timeline.machine is not None
    index = timeline.machine.index[name]
    return next(line.top for line in timeline._lines if line.kind == "control" and line.index == index)


def draw(timeline: Timeline, name: str, start: int, end: int, upper: bool = True) -> None:
    y = int(row(timeline, name) + (4 if upper else 13))
    QTest.mousePress(timeline, LEFT, pos=QPoint(int(timeline.x_of(start)), y))
    QTest.mouseMove(timeline, QPoint(int(timeline.x_of(end)), y))
    QTest.mouseRelease(timeline, LEFT, pos=QPoint(int(timeline.x_of(end)), y))


def said(window: Window) -> list[tuple[int, dict[str, object]]]:
    take = window.session.document.takes[-1]
    return [(one.at, dict(one.set)) for one in take.changes]


@pytest.mark.long
def test_a_bar_of_a_stick_is_drawn_either_way_and_given_another_value(window: Window) -> None:
    timeline = empty_take(window)
    draw(timeline, "stick.x", 20, 60)
    (start, first), (end, last) = said(window)
    assert (first, last) == ({"stick.x": 1.0}, {"stick.x": 0.0}) and abs(start - 20) <= 1 and abs(end - 60) <= 1
    draw(timeline, "stick.x", 80, 100, upper=False)
    assert {"stick.x": -1.0} in [values for _, values in said(window)]
    rehearsing = station(window)
    value = rehearsing.take_row.value
    assert value.isVisible() and value.value() == -1.0
    typed(value.lineEdit(), "-0.4")
    assert {"stick.x": -0.4} in [values for _, values in said(window)]
    timeline.setFocus()
    QTest.keyClick(timeline, Qt.Key.Key_Up)
    assert {"stick.x": -0.3} in [values for _, values in said(window)]
    QTest.keyClick(timeline, Qt.Key.Key_Delete)
    assert len(said(window)) == 2
    window.session.undo()
    assert len(said(window)) == 4


def test_a_value_of_the_game_gets_a_row_and_bars_of_its_choices(window: Window) -> None:
    mood = Parameter(name="mood", kind="choice", choices=("calm", "merry", "cross"))
    window.session.edit("began", lambda document: append(document, ("parameters",), mood))
    timeline = empty_take(window)
    rehearsing = station(window)
    also = rehearsing.take_row.also
    assert "mood" in [also.itemText(at) for at in range(also.count())]
    also.setCurrentText("mood")
    also.activated.emit(also.currentIndex())
    draw(timeline, "mood", 10, 50)
    assert [values for _, values in said(window)] == [{"mood": "merry"}, {"mood": "calm"}]
    choice = rehearsing.take_row.choice
    assert choice.isVisible() and choice.currentText() == "merry"
    choice.setCurrentText("cross")
    choice.activated.emit(choice.currentIndex())
    assert said(window)[0][1] == {"mood": "cross"}


@pytest.mark.long
def test_expectations_stand_on_the_timeline(window: Window) -> None:
    found = station(window)
    window.session.select(Thing("take", "ladder-and-lamp"))
    QTest.qWait(50)
    for _ in range(100):
        if found.timeline.met:
            break
        QTest.qWait(20)
    assert found.timeline.met == [("enter light of layer base", "")]
    typed(found.take_row.expects, "enter light; never enter hurt; end in crouch")
    for _ in range(100):
        if len(found.timeline.met) == 3:
            break
        QTest.qWait(20)
    assert [bool(missing) for _, missing in found.timeline.met] == [False, False, True]
    assert "crouch" in found.timeline.met[2][1]
