"""Parameters, controls, assumptions and the character's own numbers, in the panel beside the mirror."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton, QWidget

from leanstep.core.character.edits import change
from leanstep.core.character.files import load
from leanstep.core.character.inputs import Parameter
from leanstep.core.naming.references import Thing
from leanstep.desk.parameters.control_rows import ControlRow
from leanstep.desk.parameters.panel import NamesPanel
from leanstep.desk.parameters.parameter_row import ParameterRow
from leanstep.desk.stations.graph.station import GraphStation
from leanstep.desk.window import Window
from tests.interface.conftest import press, ticks
from tests.interface.test_body_boxes import pick
from tests.interface.test_drawer import typed
from tests.support.build import DEMO

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def panel(window: Window) -> NamesPanel:
    """The panel, opened beside Graph."""
    window.go("Graph")
    press(window, Qt.Key.Key_P, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    assert window.mirror.names.isVisible() and not window.mirror.ways.isVisible()
    return window.mirror.names


def row_of(panel: NamesPanel, name: str) -> ParameterRow:
    row = next(one for one in panel.rows if one.head.parameter.name == name)
    if not row.head.open:
        panel.ensureWidgetVisible(row.head)
        QTest.mouseClick(row.head, LEFT, pos=QPoint(20, 10))
    assert row.inside.isVisible()
    return row


def parameter(window: Window, name: str) -> Parameter:
    return next(one for one in window.session.document.parameters if one.name == name)


def control(panel: NamesPanel, name: str) -> ControlRow:
    return next(one for one in panel.controls if one.control.name == name)


def button(within: QWidget, text: str) -> QPushButton:
    return next(one for one in within.findChildren(QPushButton) if one.text() == text and one.isVisible())


def test_values_of_this_moment_stand_beside_their_parameters(window: Window, panel: NamesPanel) -> None:
    speed = next(row.head for row in panel.rows if row.head.parameter.name == "speed")
    assert speed.words().startswith("0") and speed.cuts, "conditions compare speed with something"
    window.live.drive()
    window.live.hands.key("Right", True)
    ticks(window, 20)
    assert float(speed.words().split()[0]) > 10
    window.go("Rehearse")
    assert panel.isVisible(), "it stays open beside other stations"


@pytest.mark.long
def test_a_parameter_is_made_named_changed_and_removed(window: Window, panel: NamesPanel) -> None:
    QTest.mouseClick(button(panel, "Add …"), LEFT)
    action = next(one for one in panel.new_menu.actions() if one.text() == "A number of the game")
    panel.new_menu.close()
    action.trigger()
    row = row_of(panel, "value")
    typed(row.name, "fog")
    typed(row.low, "2")
    assert "above max" in row.fault.text() and parameter(window, "fog").min == 0, "nothing that breaks a rule is taken"
    typed(row.high, "5")
    typed(row.low, "2")
    typed(row.unit, "m")
    typed(row.wobble, "0.5")
    typed(row.limit, "3")
    typed(row.rest, "2.5")
    typed(row.note, "from the sea")
    made = parameter(window, "fog")
    assert (made.min, made.max, made.unit, made.wobble, made.per_second) == (2, 5, "m", 0.5, 3)
    assert (made.rest, made.note) == (2.5, "from the sea")
    typed(row.high, "many")
    assert "many is no number" in row.fault.text() and row.high.text() == "5"
    typed(row.high, "")
    assert parameter(window, "fog").max is None
    typed(row.name, "not")
    assert "a word of the condition language" in row.fault.text()
    QTest.mouseClick(row.remove_button, LEFT)
    assert all(one.name != "fog" for one in window.session.document.parameters)


@pytest.mark.long
def test_only_what_means_something_is_shown(window: Window, panel: NamesPanel) -> None:
    row = row_of(panel, "grounded")
    assert row.chatters.isVisible() and not row.low.isVisible() and not row.choices.isVisible()
    QTest.mouseClick(row.chatters, LEFT, pos=QPoint(8, row.chatters.height() // 2))
    assert parameter(window, "grounded").chatters
    typed(row.name, "on_ground")
    assert "the body sets it under the name grounded" in row.fault.text()
    speed = row_of(panel, "speed")
    assert not row.inside.isVisible(), "one is open at a time"
    pick(speed.kind, "a choice")
    assert not parameter(window, "speed").choices or speed.fault.isVisible() or speed.choices.isVisible()


@pytest.mark.long
def test_parameters_of_the_graph_and_formulas_are_shown_as_such(window: Window, panel: NamesPanel) -> None:
    lit = Parameter(name="lit", kind="flag", owner="graph", start=True)
    haste = Parameter(name="haste", owner="formula", formula="speed * 2")
    window.session.edit("a", lambda document: change(document, (), parameters=(*document.parameters, lit, haste)))
    window.session.show(Thing("parameter", "lit"))
    row = row_of(panel, "lit")
    assert row.owner.currentText() == "the graph" and row.start.text() == "on"
    typed(row.start, "off")
    assert parameter(window, "lit").start is False
    row = row_of(panel, "haste")
    assert row.formula.isVisible() and not row.wobble.isVisible()
    typed(row.formula, "speed * 3")
    assert parameter(window, "haste").formula == "speed * 3"
    typed(row.formula, "speed * 3 + ledge")
    assert parameter(window, "haste").formula == "speed * 3 + ledge"
    assert parameter(window, "ledge").owner == "body", "what the body can tell is told in the same step"
    window.session.undo()
    assert "ledge" not in {one.name for one in window.session.document.parameters}


@pytest.mark.long
def test_renaming_and_who_reads_it(window: Window, panel: NamesPanel) -> None:
    row = row_of(panel, "at_lamp")
    typed(row.name, "at_lantern")
    conditions = " ".join(one.when for layer in window.session.document.layers for one in layer.transitions)
    assert "at_lantern" in conditions and "at_lamp" not in conditions
    row = row_of(panel, "at_lantern")
    assert row.readers.text().startswith("Named in ")
    QTest.mouseClick(row.readers, LEFT)
    go = next(one for one in row.reader_menu.actions() if "the condition of" in one.text())
    row.reader_menu.close()
    go.trigger()
    assert window.session.transition is not None, "it leads to the transition"


@pytest.mark.long
def test_keys_are_pressed_written_refused_and_clash(window: Window, panel: NamesPanel) -> None:
    jump = control(panel, "jump").fields["keys"]
    panel.ensureWidgetVisible(jump)
    QTest.mouseClick(jump.press, LEFT)
    QTest.keyClick(jump.press, Qt.Key.Key_Control)
    assert window.session.document.controls.buttons[0].keys == ("Space", "Ctrl"), "Ctrl alone counts"
    typed(jump.line, "Space Enterr")
    assert "There is no key called Enterr. Did you mean Enter?" in control(panel, "jump").fault.text()
    assert jump.line.text() == "Space Ctrl"
    typed(jump.line, "space Left")
    assert window.session.document.controls.buttons[0].keys == ("Space", "Left")
    assert "Left holds jump and stick left." in control(panel, "jump").fault.text()
    stick = control(panel, "stick")
    pick(stick.opposite, "opposite keys cancel")
    assert window.session.document.controls.sticks[0].opposite == "cancel"
    typed(control(panel, "jump").name, "leap")
    assert window.session.document.controls.buttons[0].name == "leap"
    typed(control(panel, "run").name, "leap")
    assert "already" in control(panel, "run").fault.text()
    count = len(panel.controls)
    QTest.mouseClick(button(panel, "Add a button"), LEFT)
    QTest.mouseClick(button(panel, "Add a stick"), LEFT)
    assert len(panel.controls) == count + 2
    QTest.mouseClick(button(control(panel, "stick_2"), "Remove"), LEFT)
    assert len(panel.controls) == count + 1
    while window.session.history.undo_name:
        window.session.undo()
    assert window.session.document == load(DEMO / "lamplighter.leanstep")


@pytest.mark.long
def test_assumptions_and_the_character_itself(window: Window, panel: NamesPanel) -> None:
    heading = [one for one in panel.findChildren(QPushButton) if one.text() == "Add"][-1]
    panel.ensureWidgetVisible(heading)
    QTest.mouseClick(heading, LEFT)
    line = panel.assumptions[-1]
    typed(line, "not (climbing and grounded)")
    assert window.session.document.assumptions[-1] == "not (climbing and grounded)"
    typed(panel.assumptions[-1], "climbin")
    assert "did you mean climbing?" in window.status.text()
    count = len(window.session.document.assumptions)
    QTest.mouseClick([one for one in panel.findChildren(QPushButton) if one.text() == "Remove"][-1], LEFT)
    assert len(window.session.document.assumptions) == count - 1
    typed(panel.name, "The lamplighter of Quay Street")
    typed(panel.rate.lineEdit(), "30")
    typed(panel.window_field.lineEdit(), "0.2")
    document = window.session.document
    assert (document.name, document.rate, document.flicker_window) == ("The lamplighter of Quay Street", 30, 0.2)


@pytest.mark.long
def test_what_the_game_sets_is_a_handle_while_steering(window: Window, panel: NamesPanel) -> None:
    """A hit is dealt, and a game value dragged, without a take."""
    mood = Parameter(name="wind", min=0.0, max=10.0)
    window.session.edit("a", lambda document: change(document, (), parameters=(*document.parameters, mood)))
    window.live.drive()
    ticks(window, 5)
    hit = next(row.head for row in panel.rows if row.head.parameter.name == "hit")
    panel.ensureWidgetVisible(hit)
    QTest.mouseClick(hit, LEFT, pos=QPoint(hit.width() - 30, 27))
    layer = window.live.machine.layers[0]
    assert layer.states[window.live.situation.states[0]] == "hurt"
    wind = next(row.head for row in panel.rows if row.head.parameter.name == "wind")
    panel.ensureWidgetVisible(wind)
    place = wind._place()
    QTest.mousePress(wind, LEFT, pos=QPoint(int(place.left() + 4), 27))
    QTest.mouseMove(wind, QPoint(int(place.center().x()), 27))
    QTest.mouseRelease(wind, LEFT, pos=QPoint(int(place.center().x()), 27))
    ticks(window, 2)
    value = window.live.situation.values[window.live.machine.index["wind"]]
    assert 4.5 < float(value) < 5.5 and wind.words().startswith(f"{float(value):.4g}")
    assert not wind.open, "the line is a handle, not a lid"
    take = window.live.kept_take("kept")
    assert take is not None and any("hit" in one.set for one in take.changes), "it is kept with what was steered"


@pytest.mark.long
def test_what_the_body_can_tell_is_there_once_a_condition_names_it(window: Window) -> None:
    window.go("Graph")
    window.session.select_transition(0, 0)
    line = window.station(GraphStation).drawer.line
    line.setFocus()
    line.selectAll()
    QTest.keyClicks(line, "headroo")
    offered = [line._completer.completionModel().index(0, 0).data()]
    assert offered == ["headroom"]
    QTest.keyClicks(line, "m and speed > 12")
    assert "not called" not in window.station(GraphStation).drawer.reading.text()
    QTest.keyClick(line, Qt.Key.Key_Escape)
    QTest.keyClick(line, Qt.Key.Key_Return)
    assert parameter(window, "headroom").owner == "body" and "headroom" in window.status.text()
    window.session.undo()
    assert "headroom" not in {one.name for one in window.session.document.parameters}
