"""How soon presses show, in the window: the table beside the takes, its budget, and the press that is played."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from leanstep.core.character.edits import change
from leanstep.desk.stations.rehearse.responding import NOTHING, SHOWS, STATE, WHY, Responding
from leanstep.desk.stations.rehearse.station import RehearseStation
from leanstep.desk.theme import theme
from leanstep.desk.window import Window
from tests.interface.test_body_boxes import pick
from tests.interface.test_sheets import wait_until


def row_of(shown: Responding, button: str, state: str) -> int:
    return next(
        row
        for row in range(shown.table.rowCount())
        if (shown.table.item(row, 0).text(), shown.table.item(row, STATE).text()) == (button, state)
    )


@pytest.mark.long
def test_every_button_is_tried_in_every_state_and_the_slowest_press_is_played(
    open_window: Callable[..., Window], demo: Path
) -> None:
    window = open_window(demo / "lamplighter.leanstep")
    window.session.edit("one take", lambda document: change(document, (), takes=document.takes[1:2]))
    assert window.session.document.takes[0].name == "ladder-and-lamp"
    window.go("Rehearse")
    station = window.station(RehearseStation)
    pick(station.below, "How quick presses show")
    shown = station.responding
    assert shown.isVisible() and not station.timeline.isVisible() and not station.take_row.isVisible()
    wait_until(lambda: shown.table.rowCount() > 8, "the presses")
    idle, lamp = row_of(shown, "jump", "idle"), row_of(shown, "light", "idle")
    assert shown.table.item(idle, SHOWS).text().startswith("1")
    assert (shown.table.item(lamp, SHOWS).text(), shown.table.item(lamp, NOTHING).text()) == ("1", "4 of 6")
    assert shown.table.item(lamp, WHY).text() == "it asks for: at_lamp is on"

    window.session.edit("a budget", lambda document: change(document, ("controls", "buttons", 0), within=0.1))
    assert shown.isVisible() and not station.timeline.isVisible(), "an edit does not take the table away"
    red = theme.colour("error")
    wait_until(
        lambda: shown.table.item(row_of(shown, "jump", "light"), SHOWS).foreground().color() == red, "the budget"
    )
    assert shown.table.item(row_of(shown, "jump", "climb"), SHOWS).foreground().color() != red

    shown.table.setCurrentCell(row_of(shown, "jump", "light"), 0)
    shown.table.setFocus()
    QTest.keyClick(shown.table, Qt.Key.Key_Return)
    live = window.live
    assert live.mode == "playing" and live.take is not None and live.take.name == "jump in light"
    assert window.session.document.layers[0].states[live.situation.states[0]].name == "light"
    QTest.mouseClick(shown.keep, Qt.MouseButton.LeftButton)
    assert window.session.document.takes[-1].name == "jump in light"
    pick(station.below, "The take")
    assert station.timeline.isVisible() and not shown.isVisible()


@pytest.mark.long
def test_without_takes_it_is_said_what_is_missing(open_window: Callable[..., Window]) -> None:
    window = open_window()
    window.session.new()
    window.go("Rehearse")
    station = window.station(RehearseStation)
    next(one for one in station.commands() if one.text() == "How quick presses show").trigger()
    assert station.responding.isVisible() and "No take steers a body here" in station.responding.words.text()


@pytest.mark.long
def test_a_sweep_lists_what_it_saw_with_a_take_that_is_played_and_kept(
    open_window: Callable[..., Window], demo: Path
) -> None:
    window = open_window(demo / "lamplighter-faulty.leanstep")
    window.go("Rehearse")
    station = window.station(RehearseStation)
    shown = station.sweeping
    shown.takes = 80
    pick(station.below, "A sweep of made-up takes")
    assert shown.isVisible() and not station.timeline.isVisible() and shown.again.text() == "Stop"
    wait_until(lambda: "80 takes" in shown.words.text() and bool(shown.rows), "the sweep")
    assert "Never seen: " in shown.words.text(), "the faulty lamplighter has states nobody comes to"
    texts = [row.texts for row in shown.rows]
    assert any(state in ("idle", "stride") and "within 0.1 s" in what for state, _, what, _ in texts), texts
    shown.table.setCurrentCell(0, 0)
    shown.table.setFocus()
    QTest.keyClick(shown.table, Qt.Key.Key_Return)
    assert window.live.mode == "playing"
    takes = len(window.session.document.takes)
    QTest.mouseClick(shown.keep, Qt.MouseButton.LeftButton)
    assert len(window.session.document.takes) == takes + 1 and shown.rows, "what was found is there still"
    window.session.edit("faster", lambda document: change(document, ("body",), walk_speed=99.0))
    assert not shown.rows and "sweep again" in shown.words.text()
    pick(station.below, "How quick presses show")
    assert station.responding.isVisible() and not shown.isVisible()


def test_a_sweep_is_stopped(open_window: Callable[..., Window], demo: Path) -> None:
    window = open_window(demo / "lamplighter.leanstep")
    window.go("Rehearse")
    station = window.station(RehearseStation)
    station.sweeping.takes = 100_000
    pick(station.below, "A sweep of made-up takes")
    QTest.mouseClick(station.sweeping.again, Qt.MouseButton.LeftButton)
    assert not station.sweeping.work.busy and "Stopped" in station.sweeping.words.text()


@pytest.mark.long
def test_takes_before_and_after_are_listed_those_that_changed_first_and_played_side_by_side(
    open_window: Callable[..., Window], demo: Path
) -> None:
    window = open_window(demo / "lamplighter.leanstep")
    window.go("Rehearse")
    station = window.station(RehearseStation)
    shown = station.before_after
    pick(station.below, "Takes before and after")
    wait_until(lambda: "0 takes of 4 do otherwise" in shown.words.text(), "the takes")
    assert all(row.texts[3] == "as before" for row in shown.rows)
    way = ("layers", 0, "transitions", 0)
    window.session.edit("later", lambda document: change(document, way, when="speed > 60"))
    wait_until(lambda: bool(shown.rows) and shown.rows[0].texts[3] != "as before", "the changes")
    first = shown.rows[0]
    assert first.texts[2].isdigit() and "idle instead of stride" in first.texts[3]
    shown.table.setCurrentCell(0, 0)
    shown.table.setFocus()
    QTest.keyClick(shown.table, Qt.Key.Key_Return)
    live = window.live
    assert live.mode == "playing" and live.again is not None and not live.again.steered
    for _ in range(int(first.texts[2]) + 1):
        live.tick()
    states = [
        live.machine.layers[0].states[one.states[0]] for one in (live.situation, live.again.situation(live.position))
    ]
    assert states == ["idle", "stride"], "both are seen on the tick on which they part"
    wanted = change(window.session.document, ("layers", 0), transitions=())
    window.session.edit("nothing leads on", lambda document: wanted)
    wait_until(
        lambda: bool(shown.rows) and "broken that held" in shown.rows[0].texts[1], "broken expectations come first"
    )
