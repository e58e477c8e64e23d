"""Everything of a state, a transition, a lane and a layer is changed in the drawer under the graph."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QColor
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLineEdit, QPushButton, QWidget

from leanstep.core.character.clips import Effect
from leanstep.core.character.edits import change
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.desk.stations.graph.drawer import Drawer
from leanstep.desk.stations.graph.layout import Arc
from leanstep.desk.stations.graph.station import GraphStation
from leanstep.desk.theme import theme
from leanstep.desk.window import Window
from tests.interface.conftest import name_it
from tests.interface.test_body_boxes import pick

LEFT = Qt.MouseButton.LeftButton


def drawer(window: Window) -> Drawer:
    window.go("Graph")
    return window.station(GraphStation).drawer


def typed(line: QLineEdit, text: str) -> None:
    line.setFocus()
    line.selectAll()
    QTest.keyClick(line, Qt.Key.Key_Delete)
    QTest.keyClicks(line, text)
    completer = getattr(line, "_popup", None)
    if completer is not None:
        completer.hide()
    QTest.keyClick(line, Qt.Key.Key_Return)


def click(within: QWidget, text: str) -> None:
    button = next(one for one in within.findChildren(QPushButton) if one.text() == text and one.isVisible())
    QTest.mouseClick(button, LEFT)


def layer(window: Window, at: int = 0) -> Layer:
    return window.session.document.layers[at]


def state(window: Window, name: str) -> State:
    return next(one for one in layer(window).states if one.name == name)


@pytest.mark.long
def test_what_a_state_does_and_expects_is_written_in_place(window: Window) -> None:
    pane = drawer(window)
    window.session.select_state(0, "crouch")
    typed(pane.rows.entry, "freeze 2 ticks")
    typed(pane.rows.leave, "unlock movement as crouching")
    typed(pane.rows.expects, "grounded")
    typed(pane.rows.grace.lineEdit(), "0.25")
    typed(pane.rows.note, "low roof")
    QTest.mouseClick(pane.backward, LEFT, pos=QPoint(8, pane.backward.height() // 2))
    made = state(window, "crouch")
    assert made.on_entry == (Effect(do="freeze", value=2.0),)
    assert made.on_leave == (Effect(do="unlock", name="crouching"),)
    assert (made.expects, made.grace, made.note, made.backward) == ("grounded", 0.25, "low roof", True)
    typed(pane.rows.entry, "raise nobody")
    assert "nobody" in pane.rows.fault.text()
    typed(pane.rows.expects, "grounde")
    typed(pane.rows.entry, "")
    assert "grounded" in pane.rows.fault.text(), "the nearest known name is offered"
    for _ in range(9):
        window.session.undo()
    assert state(window, "crouch").on_entry == () and pane.rows.entry.text() == ""


@pytest.mark.long
def test_how_a_transition_changes_over(window: Window) -> None:
    pane = drawer(window)
    window.session.select_transition(0, 1)

    def way() -> Transition:
        return layer(window).transitions[1]

    assert not pane.more.interruptible.isEnabled(), "there is no fade to interrupt"
    typed(pane.more.fade.lineEdit(), "0.2")
    QTest.mouseClick(pane.more.interruptible, LEFT, pos=QPoint(8, pane.more.interruptible.height() // 2))
    QTest.mouseClick(pane.more.keep_phase, LEFT, pos=QPoint(8, pane.more.keep_phase.height() // 2))
    typed(pane.more.note, "softly")
    assert (way().fade, way().interruptible, way().note) == (0.2, False, "softly")
    assert way().keep_phase != window.session.history._saved.layers[0].transitions[1].keep_phase


@pytest.mark.long
def test_lanes_are_named_ordered_added_and_removed_on_the_page(window: Window) -> None:
    pane = drawer(window)
    page = window.station(GraphStation).page
    row = next(one for one in page.page.rows if one.lane == "air")
    QTest.mouseClick(page, LEFT, pos=QPoint(60, int(row.ground - 22)))
    assert pane.lanes.isVisible() and pane.lanes.lane.text() == "air"
    typed(pane.lanes.lane, "sky")
    assert "sky" in layer(window).lane_names and state(window, "rise").lane == "sky"
    before = layer(window).lane_names
    click(pane.lanes, "Up")
    assert layer(window).lane_names.index("sky") == before.index("sky") - 1
    click(pane.lanes, "Up")
    assert "already the first" in window.status.text()
    click(pane.lanes, "Add a lane")
    typed(pane.lanes.lane, "water")
    assert layer(window).lane_names[:2] == ("sky", "water")
    click(pane.lanes, "Remove the lane")
    assert "water" not in layer(window).lane_names


@pytest.mark.long
def test_layers_are_added_named_ordered_and_removed(window: Window) -> None:
    pane = drawer(window)
    page = window.station(GraphStation).page
    row = page.page.rows[0]
    QTest.mouseClick(page, LEFT, pos=QPoint(60, int(row.ground - 22)))
    names = [one.name for one in window.session.document.layers]
    pick(pane.lanes.start, "stride")
    assert layer(window).start == "stride"
    click(pane.lanes, "Add a layer")
    typed(pane.lanes.layer, "mood")
    assert [one.name for one in window.session.document.layers] == [*names, "mood"]
    click(pane.lanes, "Earlier")
    assert [one.name for one in window.session.document.layers] == [*names[:-1], "mood", names[-1]]
    click(pane.lanes, "Remove the layer")
    assert [one.name for one in window.session.document.layers] == names


@pytest.mark.long
def test_a_state_is_duplicated_with_its_ways_out_and_one_named_like_a_clip_shows_it(window: Window) -> None:
    drawer(window)
    station = window.station(GraphStation)
    window.session.select_state(0, "crouch")
    station.drawer.duplicate()
    ways = [one for one in layer(window).transitions if one.source == "crouch 2"]
    assert [one.when for one in ways] == [one.when for one in layer(window).transitions if one.source == "crouch"]
    assert state(window, "crouch 2").clip == "crouch" and window.session.state == (0, "crouch 2")
    window.session.edit("another clip", lambda document: change(document, ("clips", 0), name="doze"))
    station.add_state()
    name_it(window, "doze")
    assert state(window, "doze").clip == "doze"


def test_an_arc_under_the_pointer_stands_out_with_both_its_ends(window: Window) -> None:
    drawer(window)
    page = window.station(GraphStation).page
    window.session.clear_selection()
    arc = next(one for one in page.page.arcs if one.kind == "state" and page.arc_at(middle(one)) is one)
    quiet = page.grab().toImage()
    QTest.mouseMove(page, middle(arc).toPoint())
    assert page.lit is arc and f"{arc.source} → {arc.target}, when " in page.toolTip()
    assert page.grab().toImage() != quiet
    paper = theme.paper
    assert contrast(paper.faint, paper.leaf) >= 2.5, "arcs at rest can be followed"


def middle(arc: Arc) -> QPointF:
    (x0, y0), (x1, y1) = arc.points[1], arc.points[2]
    return QPointF((x0 + x1) / 2, (y0 + y1) / 2)


def contrast(one: str, other: str) -> float:
    """The contrast of two colours as the Web Content Accessibility Guidelines 2.1 reckon it."""

    def light(name: str) -> float:
        parts = QColor(name).getRgbF()[:3]  # type: ignore[index]
        red, green, blue = (part / 12.92 if part <= 0.03928 else ((part + 0.055) / 1.055) ** 2.4 for part in parts)
        return 0.2126 * red + 0.7152 * green + 0.0722 * blue

    low, high = sorted((light(one), light(other)))
    return (high + 0.05) / (low + 0.05)
