"""Copying, drawing and ordering transitions by hand on the graph and in the list of ways out."""

from __future__ import annotations

import itertools

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QFontMetricsF, QGuiApplication
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QWidget

from leanstep.core.character.edits import change, put
from leanstep.core.character.graph import Layer, State
from leanstep.desk.stations.graph.page import GraphPage
from leanstep.desk.stations.graph.station import GraphStation
from leanstep.desk.theme import MEDIUM, font
from leanstep.desk.window import Window

LEFT = Qt.MouseButton.LeftButton


def drag(widget: QWidget, start: QPointF, end: QPointF) -> None:
    QTest.mousePress(widget, LEFT, pos=start.toPoint())
    QTest.mouseMove(widget, ((start + end) * 0.5).toPoint())
    QTest.mouseMove(widget, end.toPoint())
    QTest.mouseRelease(widget, LEFT, pos=end.toPoint())


def graph(window: Window) -> GraphPage:
    window.go("Graph")
    page: GraphPage = window.station(GraphStation).page
    return page


@pytest.mark.long
def test_a_transition_is_drawn_from_a_lane_and_from_the_whole_graph(window: Window) -> None:
    page = graph(window)
    crouch = page.box_of(page.page.slots[0, "crouch"]).center()
    air = next(row for row in page.page.rows if row.lane == "air")
    drag(page, QPointF(60, air.ground - 20), crouch)
    made = window.session.document.layers[0].transitions[-1]
    assert (made.source, made.from_lane, made.to, made.when) == ("", "air", "crouch", "")
    assert window.session.transition == (0, len(window.session.document.layers[0].transitions) - 1)
    crouch = page.box_of(page.page.slots[0, "crouch"]).center()
    drag(page, page._whole(0).center(), crouch)
    made = window.session.document.layers[0].transitions[-1]
    assert (made.source, made.from_lane, made.to) == ("", "", "crouch")
    assert window.station(GraphStation).drawer.source.currentText() == "the whole graph"


def test_a_click_on_a_lane_still_chooses_it(window: Window) -> None:
    page = graph(window)
    air = next(row for row in page.page.rows if row.lane == "air")
    before = window.session.document
    QTest.mouseClick(page, LEFT, pos=QPoint(60, int(air.ground - 20)))
    lane = window.session.selection.thing("lane")
    assert lane is not None and lane.name == "air" and window.session.document is before


@pytest.mark.long
def test_a_state_is_copied_with_its_ways_out_and_pasted_in_another_character(window: Window) -> None:
    page = graph(window)
    window.session.select_state(0, "crouch")
    page.setFocus()
    QTest.keyClick(page, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    assert "leanstep-copy" in QGuiApplication.clipboard().text()
    QTest.keyClick(page, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    layer = window.session.document.layers[0]
    assert layer.states[-1].name == "crouch 2" and window.session.state == (0, "crouch 2")
    assert [one.to for one in layer.transitions if one.source == "crouch 2"] == ["idle"]
    window.session.undo()
    assert all(state.name != "crouch 2" for state in window.session.document.layers[0].states)
    window.session.new()
    window.session.edit(
        "begun", lambda document: put(document, ("layers",), (Layer(name="base", states=(State(name="x"),)),))
    )
    graph(window).pasted.emit()
    assert window.session.document.layers[0].states[-1].name == "crouch"
    assert "Lacking here:" in window.status.text() and "clip crouch" in window.status.text()


@pytest.mark.long
def test_a_way_out_is_dragged_in_the_mirror_and_moved_by_keys(window: Window) -> None:
    graph(window)
    window.session.select_state(0, "idle")
    rows = window.mirror.ways.rows
    layer = window.session.document.layers[0]
    own = [row for row in rows if layer.transitions[row.index].source == "idle"]
    names = [layer.transitions[row.index].to for row in own]
    QTest.qWait(20)
    drag(own[2], QPointF(30, 10), QPointF(30, 10 + own[0].y() - own[2].y()))
    layer = window.session.document.layers[0]
    after = [one.to for one in layer.transitions if one.source == "idle" and not one.urgent]
    assert after == [names[2], names[0], names[1], *names[3:]]
    put = [one.to for one in layer.transitions if one.ordered]
    assert put == [names[2]], "it is known that this order is meant"
    first = next(row for row in window.mirror.ways.rows if layer.transitions[row.index].to == names[2])
    first.setFocus()
    QTest.keyClick(first, Qt.Key.Key_Down, Qt.KeyboardModifier.AltModifier)
    layer = window.session.document.layers[0]
    assert [one.to for one in layer.transitions if one.source == "idle" and not one.urgent] == [
        names[0],
        names[2],
        *names[1:2],
        *names[3:],
    ]


@pytest.mark.long
def test_a_way_out_of_another_owner_keeps_its_place_and_it_is_said_why(window: Window) -> None:
    graph(window)
    window.session.select_state(0, "idle")
    rows = window.mirror.ways.rows
    before = window.session.document
    assert before.layers[0].transitions[rows[0].index].source == ""
    QTest.qWait(20)
    drag(rows[2], QPointF(30, 10), QPointF(30, 10 + rows[0].y() - rows[2].y()))
    assert window.session.document is before and "Only transitions of one owner" in window.status.text()


@pytest.mark.long
def test_ten_names_of_24_letters_do_not_overlap(window: Window) -> None:
    page = graph(window)
    states = tuple(State(name=f"lamplighter slides on {at}", lane="ground") for at in range(10))
    layer = Layer(name="base", states=states)
    window.session.edit("begun", lambda document: change(put(document, ("layers",), (layer,)), (), takes=()))
    QTest.qWait(20)
    slots = page.page.rows[0].slots
    assert len(slots) == 10
    words = QFontMetricsF(font(11, MEDIUM))
    widths = [max(words.horizontalAdvance(line) for line in page.name_lines(slot, words)) + 8 for slot in slots]
    for (one, width), (other, next_width) in itertools.pairwise(zip(slots, widths, strict=True)):
        assert one.x + width / 2 < other.x - next_width / 2


@pytest.mark.long
def test_the_bar_under_a_condition_shows_where_it_is_true(window: Window) -> None:
    graph(window)
    station = window.station(GraphStation)
    layer = window.session.document.layers[0]
    at = next(number for number, one in enumerate(layer.transitions) if one.when == "speed > 12")
    window.session.select_transition(0, at)
    QTest.qWait(20)
    bars = station.drawer.bars
    assert bars.isVisible() and len(bars.numbers) == 1
    image = bars.grab().toImage()
    colours = {image.pixelColor(x, 8).name() for x in range(image.width())}
    assert len(colours) >= 3  # the line, where it is false, and where it is true
    no_number = next(number for number, one in enumerate(layer.transitions) if one.when == "hit")
    window.session.select_transition(0, no_number)
    assert not bars.isVisible()
