"""Paths and feet under the film and on the course, by mouse and by keyboard."""

from __future__ import annotations

from typing import Any

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest

from leanstep.core.character.clips import Clip, Contact, Key, Travel
from leanstep.core.naming.references import Thing
from leanstep.desk.stations.clips.station import ClipsStation
from leanstep.desk.stations.rehearse.station import RehearseStation
from leanstep.desk.window import Window
from tests.interface.test_body_boxes import pick
from tests.interface.test_drawer import click, typed

LEFT = Qt.MouseButton.LeftButton
SHIFT = Qt.KeyboardModifier.ShiftModifier


@pytest.fixture
def station(window: Window) -> Any:
    """The Clips station, at rest, with a clip that stays in place."""
    window.go("Clips")
    found: Any = window.station(ClipsStation)
    found.playing = False
    window.session.select(Thing("clip", "climb"))
    return found


def clip(station: Any) -> Clip:
    found: Clip = station.clip
    return found


def travel(station: Any) -> Travel:
    found = clip(station).travel
    assert found is not None
    return found


def drag(widget: Any, start: QPointF, end: QPointF) -> None:
    QTest.mousePress(widget, LEFT, pos=start.toPoint())
    QTest.mouseMove(widget, ((start + end) * 0.5).toPoint())
    QTest.mouseMove(widget, end.toPoint())
    QTest.mouseRelease(widget, LEFT, pos=end.toPoint())


@pytest.mark.long
def test_a_clip_is_given_a_path_and_its_keys_are_typed_dragged_and_nudged(window: Window, station: Any) -> None:
    row, lane = station.motion.travel, station.motion.lane
    assert not lane.isVisible() and not row.isVisible()
    pick(row.choice, "Travels a path")
    assert lane.isVisible() and row.isVisible() and travel(station).keys == (Key(at=36.0, x=40.0),)
    typed(row.up.lineEdit(), "130")
    assert travel(station).keys == (Key(at=36.0, x=40.0, y=130.0),)
    assert "clears the 136-unit ladder" not in row.sentence.text()
    assert row.sentence.text() == "Goes 40 units ahead and 130 up: ends 6 units below the top of the 136-unit ladder."
    click(row, "Add a key")
    assert len(travel(station).keys) == 2
    # the second key's peg is dragged to an earlier tick, in one step that is undone at once
    lane.choose("key", 0)
    before = travel(station)
    peg = lane.peg(0)
    drag(lane, peg, QPointF(lane.x_of(12), peg.y()))
    assert travel(station).keys[0].at == 12.0 and travel(station).keys[1] == before.keys[1]
    window.session.undo()
    assert travel(station) == before
    # and two drags are two steps
    for tick in (12, 6):
        drag(lane, lane.peg(0), QPointF(lane.x_of(tick), peg.y()))
    window.session.undo()
    assert travel(station).keys[0].at == 12.0
    window.session.undo()
    assert travel(station) == before
    # by keyboard: a tick later, the next key, out of the path
    lane.setFocus()
    QTest.keyClick(lane, Qt.Key.Key_Right, SHIFT)
    assert travel(station).keys[0].at == before.keys[0].at + 1
    QTest.keyClick(lane, Qt.Key.Key_Right)
    assert row.which.text() == "key 2 of 2"
    QTest.keyClick(lane, Qt.Key.Key_Delete)
    assert len(travel(station).keys) == 1
    pick(row.choice, "Stays in place")
    assert clip(station).travel is None and not lane.isVisible()
    for _ in range(10):
        window.session.undo()
    assert clip(station).travel is None and window.session.history.undo_name == ""


@pytest.mark.long
def test_a_key_is_made_by_a_double_click_on_the_path(station: Any) -> None:
    pick(station.motion.travel.choice, "Travels a path")
    lane = station.motion.lane
    QTest.mouseDClick(lane, LEFT, pos=QPoint(round(lane.x_of(18)), 8))
    assert [key.at for key in travel(station).keys] == [18.0, 36.0] and travel(station).keys[0].x == 20.0


@pytest.mark.long
def test_keys_out_of_order_or_at_one_tick_and_a_path_of_no_length_are_refused_with_a_sentence(
    window: Window, station: Any
) -> None:
    row = station.motion.travel
    pick(row.choice, "Travels a path")
    row.add()
    station.motion.lane.choose("key", 0)
    before, said = travel(station), list[str]()
    window.session.said.connect(said.append)
    typed(row.at.lineEdit(), "40")
    assert travel(station) == before and "two keys lie at tick 40" in said[-1] and row.at.value() == 36.0
    typed(row.at.lineEdit(), "50")
    assert travel(station) == before and "comes after that at 50" in said[-1]
    station.motion.travel.remove()
    typed(row.ahead.lineEdit(), "0")
    assert travel(station).keys == (Key(at=40.0, x=50.0),) and "the path has no length" in said[-1]


@pytest.mark.long
def test_feet_are_keyed_and_the_clip_is_played_as_fast_as_they_walk(window: Window, station: Any) -> None:
    window.session.select(Thing("clip", "run"))
    feet, lane = station.motion.feet, station.motion.lane
    assert feet.sentence.text() == (
        "The feet walk 162.9 units/s. Shown at 165 they skate 0.5 units a step, 1% of a stride."
    )
    lane.choose("contact", 1)
    click(feet, "Remove foot")
    assert len(clip(station).contacts) == 1
    typed(feet.lands.lineEdit(), "10")
    assert clip(station).contacts[0].x == 10.0 and "skate 11.2 units a step, 41% of a stride" in feet.sentence.text()
    # the end of the bar is dragged
    block = lane.box_of(lane.feet(), lane.feet().blocks[0])
    drag(lane, QPointF(block.right(), block.center().y()), QPointF(lane.x_of(10), block.center().y()))
    assert clip(station).contacts[0].end == 10.0
    click(feet, "Play it so")
    playback = clip(station).playback
    assert playback is not None and (playback.parameter, playback.at) == ("speed", 163.8)
    assert "0% of a stride" in feet.sentence.text() and not feet.pace.isVisible()
    typed(feet.end.lineEdit(), "0")
    assert clip(station).contacts[0].end == 10.0, "a foot goes up after it came down"
    click(feet, "Another foot")
    assert clip(station).contacts[1] == Contact(start=10.0, end=20.0, x=10.0, to=-17.3)


@pytest.mark.long
def test_a_foot_is_keyed_where_there_was_none(station: Any) -> None:
    click(station, "Key a foot")
    assert clip(station).contacts == (Contact(start=0.0, end=18.0, x=10.0, to=-10.0),)
    assert station.motion.feet.isVisible() and not station.motion.travel.isVisible()
    lane = station.motion.lane
    lane.setFocus()
    QTest.keyClick(lane, Qt.Key.Key_Right, SHIFT)
    assert clip(station).contacts[0].start == 1.0
    QTest.keyClick(lane, Qt.Key.Key_Delete)
    assert not clip(station).contacts


@pytest.mark.long
def test_keys_of_a_path_are_dragged_and_nudged_on_the_course(window: Window) -> None:
    window.go("Rehearse")
    station: Any = window.station(RehearseStation)
    course = station.course
    pick(station.paths, "Path of over")
    live = window.live
    keys = course.path.keys(live.situation)
    assert keys == [(80.0, 37.0), (94.0, 37.0)]
    at = course.place(*keys[1])
    drag(course, at, course.place(110.0, 50.0))
    over = next(one for one in window.session.document.clips if one.name == "over")
    assert over.travel is not None and (over.travel.keys[1].x, over.travel.keys[1].y) == (30.0, 50.0)
    course.setFocus()
    QTest.keyClick(course, Qt.Key.Key_PageUp)
    QTest.keyClick(course, Qt.Key.Key_Up, SHIFT)
    over = next(one for one in window.session.document.clips if one.name == "over")
    assert over.travel is not None and over.travel.keys[0].y == 47.0
    window.session.undo()
    window.session.undo()
    over = next(one for one in window.session.document.clips if one.name == "over")
    assert over.travel is not None and [key.y for key in over.travel.keys] == [37.0, 37.0]


def test_the_path_stays_where_the_figure_set_off_on_it(window: Window) -> None:
    window.go("Rehearse")
    station: Any = window.station(RehearseStation)
    station.choose("ladder-and-lamp")
    pick(station.paths, "Path of over")
    starts = []
    for tick in (320, 327, 335):
        station.look(tick)
        starts.append(station.course.path.start(window.live.situation)[:2])
    assert all(abs(x - starts[0][0]) < 2 and abs(y - starts[0][1]) < 6 for x, y in starts)
