"""Marks and spans by mouse and keyboard: made, moved, lengthened, copied, renamed, and what they do written in place."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest

from leanstep.core.character.clips import Clip, Effect
from leanstep.core.naming.references import Thing
from leanstep.desk.stations.clips.event_choice import ROW, Event, Events
from leanstep.desk.stations.clips.event_row import EventRow
from leanstep.desk.stations.clips.station import ClipsStation
from leanstep.desk.stations.rehearse.station import RehearseStation
from leanstep.desk.window import Window
from tests.interface.conftest import name_it, ticks

LEFT = Qt.MouseButton.LeftButton
CTRL, ALT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.AltModifier


@pytest.fixture
def station(window: Window) -> ClipsStation:
    """The station with the clip crouch, paused."""
    window.go("Clips")
    window.session.select(Thing("clip", "crouch"))
    made = window.station(ClipsStation)
    assert isinstance(made, ClipsStation)
    made.toggle()
    return made


def clip(station: ClipsStation) -> Clip:
    assert station.clip is not None
    return station.clip


def at(events: Events, tick: float, row: int) -> QPoint:
    return QPointF(events.x_of(tick), 2 + (row + 0.5) * ROW).toPoint()


def dragged(
    events: Events, start: QPoint, end: QPoint, keys: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier
) -> None:
    QTest.mousePress(events, LEFT, keys, start)
    QTest.mouseMove(events, (start + end) * 0.5)
    QTest.mouseMove(events, end)
    QTest.mouseRelease(events, LEFT, keys, end)


def written(row: EventRow, text: str) -> None:
    line = row.mark_entries if row.mark_entries.isVisible() else row.span_entries
    line.setFocus()
    line.selectAll()
    QTest.keyClicks(line, text)
    line._popup.hide()
    QTest.keyClick(line, Qt.Key.Key_Return)


@pytest.mark.long
def test_a_click_makes_a_mark_and_a_drag_a_span(station: ClipsStation) -> None:
    events = station.events
    assert not clip(station).marks and events.names == []
    length = sum(cel.ticks for cel in clip(station).cels)
    QTest.mouseClick(events, LEFT, pos=at(events, length / 2, 0))
    assert [mark.name for mark in clip(station).marks] == ["mark"] and station.event_row.name.text() == "mark"
    QTest.keyClicks(station.event_row.name, "knees")
    QTest.keyClick(station.event_row.name, Qt.Key.Key_Return)
    assert [mark.name for mark in clip(station).marks] == ["knees"] and events.names == [("mark", "knees")]
    dragged(events, at(events, 1, 1), at(events, 4, 1))
    span = clip(station).spans[0]
    assert (span.start, span.end) == (1, 4) and events.names == [("mark", "knees"), ("span", span.name)]
    QTest.mouseClick(events, LEFT, pos=at(events, 0, 0))
    first = clip(station).marks[0]
    assert (first.name, first.at) == ("knees", 0), "a second one of the name"


@pytest.mark.long
def test_events_are_dragged_nudged_lengthened_and_caught(station: ClipsStation) -> None:
    events, edges = station.events, [0.0, clip(station).cels[0].ticks]
    QTest.mouseClick(events, LEFT, pos=at(events, 1, 0))
    dragged(events, at(events, 1, 0), at(events, edges[1] + 0.2, 0))
    assert clip(station).marks[0].at == edges[1], "caught by the edge of a cel"
    dragged(events, at(events, edges[1], 0), at(events, edges[1] + 0.3, 0), ALT)
    assert clip(station).marks[0].at == edges[1] + 0.25, "Alt lets go"
    events.setFocus()
    QTest.keyClick(events, Qt.Key.Key_Right)
    assert clip(station).marks[0].at == edges[1] + 1.25
    dragged(events, at(events, 1, 1), at(events, 2, 1))
    dragged(events, at(events, 2, 1), at(events, 4, 1))
    assert (clip(station).spans[0].start, clip(station).spans[0].end) == (1, 4)
    events.setFocus()
    QTest.keyClick(events, Qt.Key.Key_Right, ALT)
    assert clip(station).spans[0].end == 5
    QTest.keyClick(events, Qt.Key.Key_Delete)
    assert not clip(station).spans and len(clip(station).marks) == 1


@pytest.mark.long
def test_what_an_event_does_is_written_in_place(window: Window, station: ClipsStation) -> None:
    QTest.mouseClick(station.events, LEFT, pos=at(station.events, 2, 0))
    row = station.event_row
    written(row, "raise nothing_known; say foot = left; say volume = 0.6")
    mark = clip(station).marks[0]
    assert mark.effects == (Effect(do="raise", name="nothing_known"),) and mark.says == {"foot": "left", "volume": 0.6}
    assert row.fault.isVisible() and "nothing_known" in row.fault.text(), "what it cannot do is said where it is"
    written(row, "freeze 4 ticks")
    assert clip(station).marks[0].effects == (Effect(do="freeze", value=4.0),) and not row.fault.isVisible()
    written(row, "dance")
    assert clip(station).marks[0].effects == (Effect(do="freeze", value=4.0),)
    assert "cannot be read" in row.fault.text() and row.mark_entries.text() == "dance", "the text stays to be put right"
    for _ in range(2):
        window.session.undo()
    assert clip(station).marks[0].effects == ()


@pytest.mark.long
def test_a_sentence_is_completed(window: Window, station: ClipsStation) -> None:
    QTest.mouseClick(station.events, LEFT, pos=at(station.events, 2, 0))
    line = station.event_row.mark_entries
    line.setFocus()
    QTest.keyClicks(line, "freeze 4 ticks; fre")
    assert line._popup.isVisible()
    line._popup.setCurrentIndex(line._popup.model().index(0, 0))
    QTest.keyClick(line, Qt.Key.Key_Return)
    assert line.text() == "freeze 4 ticks; freeze 4 ticks"


@pytest.mark.long
def test_events_go_to_another_clip_and_stay_with_their_cels(window: Window, station: ClipsStation) -> None:
    events = station.events
    QTest.mouseClick(events, LEFT, pos=at(events, 1, 0))
    QTest.mouseClick(events, LEFT, CTRL, pos=at(events, 1, 0))
    events.choose([Event("mark", 0)])
    events.setFocus()
    QTest.keyClick(events, Qt.Key.Key_C, CTRL)
    window.session.select(Thing("clip", "hurt"))
    QTest.keyClick(events, Qt.Key.Key_V, CTRL)
    assert [(mark.name, mark.at) for mark in clip(station).marks] == [("mark", 1)]
    first = clip(station).cels[0].ticks
    station.film.choose(0)
    station.cel_row.ticks.setValue(first * 3)
    assert clip(station).cels[0].ticks == first * 3 and clip(station).marks[0].at == 3


@pytest.mark.long
def test_all_events_are_listed_with_where_they_fire(window: Window) -> None:
    window.go("Clips")
    station = window.station(ClipsStation)
    window.session.select(Thing("clip", "walk"))
    QTest.mouseClick(station.events, LEFT, pos=at(station.events, 6, 1))
    QTest.mouseClick(station.event_row.list_button, LEFT)
    own, steps, whistle = [action.text() for action in station.event_edits.listed.actions()]
    assert whistle.startswith("mark whistle: idle at 20; in idle; ")
    assert own.startswith("mark mark: walk at 6; in stride; ") and "times in walk-and-jump" in own
    assert steps.startswith("mark step: walk at 5, walk at 25, run at 4, run at 18; in stride; ")
    station.event_edits.listed.close()


@pytest.mark.long
def test_a_mark_that_is_passed_stands_out(station: ClipsStation) -> None:
    events = station.events
    QTest.mouseClick(events, LEFT, pos=at(events, 3, 0))
    events.show_playhead(2.0)
    before = events.grab().toImage()
    events.show_playhead(3.5)
    assert [mark.name for mark in events._lit] == ["mark"]
    place = events.place(Event("mark", 0)).center().toPoint() + QPoint(0, -6)
    assert events.grab().toImage().pixelColor(place) != before.pixelColor(place)


@pytest.mark.long
def test_marks_stand_on_the_timeline_of_a_take(window: Window) -> None:
    window.go("Rehearse")
    timeline = window.station(RehearseStation).timeline
    assert {name for _, _, name in timeline.events} == {"step", "whistle"}
    tick = timeline.events[0][0]
    line = next(one for one in timeline._lines if one.kind == "events")
    place = QPointF(timeline.x_of(tick + 0.5), line.top + line.height / 2).toPoint()
    colour = timeline.grab().toImage().pixelColor(place)
    assert colour.blue() > colour.green() + 40, "a violet mark"
    window.session.select(Thing("take", "hit-in-the-air"))
    assert bool(timeline.events) == any(one.kind == "events" for one in timeline._lines)


@pytest.mark.long
def test_an_empty_station_says_what_goes_there_and_offers_the_next_step(window: Window) -> None:
    window.session.new()
    for name, word in (
        ("Sheets", "images with drawings"),
        ("Clips", "frames in time"),
        ("Blends", "clips along a number"),
    ):
        window.go(name)
        station = window.stations[name]
        place = station.pages.currentWidget()  # type: ignore[attr-defined]
        assert word in place.words.text() and place.button.isVisible()
        assert place.grab().toImage() != QImage()
    window.go("Clips")
    QTest.mouseClick(window.station(ClipsStation).pages.currentWidget().button, LEFT)  # type: ignore[attr-defined]
    name_it(window, "nod")
    assert [clip.name for clip in window.session.document.clips] == ["nod"]
    assert window.station(ClipsStation).pages.currentIndex() == 0


def test_marks_are_named_in_the_mirror_as_they_fire(window: Window) -> None:
    glass = window.mirror.glass
    window.live.drive()
    window.live.hands.key("Right", True)
    named = []
    for _ in range(90):
        ticks(window, 1)
        named.append(glass._marks_text())
    assert "step" in named and named[0] == "", "named for a moment after each footstep"
    at = named.index("step")
    assert named[at : at + 15] == ["step"] * 15 and "" in named[at:]
    window.live.leave()
    assert glass._marks_text() == ""
