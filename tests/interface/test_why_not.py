"""“Why not …?” beside the mirror: asked of the tick that is looked at, while steering, and left alone."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from leanstep.core.character.edits import change
from leanstep.desk.stations.rehearse.station import RehearseStation
from leanstep.desk.window import Window
from tests.interface.conftest import ticks
from tests.interface.test_body_boxes import pick
from tests.interface.test_sheets import wait_until


def test_the_state_that_is_not_entered_is_asked_about_with_the_keyboard(window: Window) -> None:
    window.go("Graph")
    asks = window.mirror.why_not
    assert not asks.answer.isVisible()
    asks.states.setFocus()
    pick(asks.states, "base: crouch")
    assert asks.answer.isVisible()
    assert "idle → crouch: not so is stick.y is below -0.5 (stick.y 0)" in asks.answer.text()
    QTest.keyClick(asks.states, Qt.Key.Key_Home)
    pick(asks.states, "Why not …")
    assert not asks.answer.isVisible()


@pytest.mark.long
def test_what_gets_there_is_looked_for_played_and_kept(window: Window) -> None:
    window.go("Rehearse")
    station, asks = window.station(RehearseStation), window.mirror.why_not
    station.look(40)
    assert not asks.search.isVisible(), "nothing is asked yet"
    pick(asks.states, "base: take-off")
    QTest.mouseClick(asks.search, Qt.MouseButton.LeftButton)
    wait_until(lambda: asks.play.isVisible(), "what gets there")
    assert asks.way.text() == "jump held from tick 40 for 1 tick gets there on tick 40."
    QTest.mouseClick(asks.keep, Qt.MouseButton.LeftButton)
    kept = window.session.document.takes[-1]
    assert (kept.name, kept.expects[0].name) == ("to take-off", "take-off")
    QTest.mouseClick(asks.search, Qt.MouseButton.LeftButton) if asks.search.isVisible() else None
    window.session.undo()
    assert all(take.name != "to take-off" for take in window.session.document.takes)


@pytest.mark.long
def test_what_no_small_change_reaches_is_said(window: Window) -> None:
    window.go("Rehearse")
    station, asks = window.station(RehearseStation), window.mirror.why_not
    station.look(40)
    pick(asks.states, "base: climb")
    asks.search.setFocus()
    QTest.keyClick(asks.search, Qt.Key.Key_Space)
    wait_until(lambda: "proves nothing" in asks.way.text(), "the end of the search")
    assert not asks.play.isVisible()


@pytest.mark.long
def test_while_steering_it_says_since_when(window: Window) -> None:
    window.live.drive()
    window.live.hands.key("Right", True)
    ticks(window, 60)
    pick(window.mirror.why_not.states, "base: idle")
    text = window.mirror.why_not.answer.text()
    assert "stride → idle: not so is speed is below 6 (speed 70 units/s), for 1 s" in text


@pytest.mark.long
def test_a_tick_that_is_looked_at_tells_why_and_why_not(window: Window) -> None:
    window.go("Rehearse")
    station, asks = window.station(RehearseStation), window.mirror.why_not
    trace = station.trace
    assert trace is not None
    entered = trace.entries(0)
    station.look(entered[0][0])
    assert "idle → stride was taken: speed is above 12" in asks.answer.text()
    pick(asks.states, "base: skid")
    assert "stride" in asks.answer.text() or "idle" in asks.answer.text()
    before = asks.answer.text()
    station.look(entered[0][0] + 30)
    assert asks.answer.text() != before and "was taken" not in asks.answer.text(), "it follows the tick"
    assert "stride → skid: not so is speed is above 120" in asks.answer.text()


@pytest.mark.long
def test_states_that_come_and_go_are_listed_and_an_old_answer_is_gone(window: Window) -> None:
    asks = window.mirror.why_not
    pick(asks.states, "base: crouch")
    window.session.edit("renamed", lambda document: change(document, ("layers", 0, "states", 0), name="stand"))
    names = [asks.states.itemText(at) for at in range(asks.states.count())]
    assert "base: stand" in names and "base: idle" not in names and not asks.answer.isVisible()
