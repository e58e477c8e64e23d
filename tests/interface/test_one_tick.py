"""A tick of a take or a witness, shown everywhere at once, and steered on from."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from leanstep.desk.stations.findings.station import FindingsStation
from leanstep.desk.stations.graph.station import GraphStation
from leanstep.desk.stations.rehearse.station import RehearseStation
from leanstep.desk.window import Window
from tests.interface.conftest import wait_checked
from tests.interface.test_sheets import wait_until


def scrub(window: Window, tick: int) -> None:
    """Press on the ribbon of the timeline, at a tick."""
    timeline = window.station(RehearseStation).timeline
    timeline.setFocus()
    QTest.mouseClick(timeline, Qt.MouseButton.LeftButton, pos=QPoint(round(timeline.x_of(tick)), timeline.height() - 4))


def ways_out(window: Window) -> str:
    """What the listed ways out say."""
    return ", ".join(row.accessibleName() for row in window.mirror.ways.rows)


def rehearsed(window: Window) -> None:
    window.go("Rehearse")
    window.station(RehearseStation).choose("walk-and-jump")
    wait_until(lambda: len(window.station(RehearseStation).trace.steps) == 300, "the take is rehearsed")


@pytest.mark.long
def test_scrubbing_shows_figure_state_ways_out_values_and_marks_of_that_tick(window: Window) -> None:
    rehearsed(window)
    station, live = window.station(RehearseStation), window.live
    trace = station.trace
    machine = window.session.machine
    rise = next(at for at, state in enumerate(trace.states(0)) if machine.layers[0].states[state] == "rise")
    # what is chosen in Graph does not matter
    window.session.select_state(0, "idle")
    scrub(window, rise + 2)
    assert live.position == rise + 2 and live.situation == trace.steps[rise + 2].situation
    assert window.mirror.title.text().startswith("rise")
    assert "tick" in window.mirror.glass._caption_text() and "walk-and-jump" in window.mirror.glass._caption_text()
    assert "fall" in ways_out(window) and "stride" not in ways_out(window)
    window.mirror.show_tab("Parameters")
    speed = machine.index["speed"]
    assert live.situation.values[speed] == trace.values_on(rise + 2)[speed]
    # time stands still
    QTest.qWait(300)
    assert live.position == rise + 2 and live.situation == trace.steps[rise + 2].situation


@pytest.mark.long
def test_the_ways_out_say_what_was_true_on_the_tick_they_were_taken(window: Window) -> None:
    rehearsed(window)
    trace = window.station(RehearseStation).trace
    tick, _ = trace.entries(0)[0]
    scrub(window, tick)
    machine, target = trace.machine, trace.steps[tick].situation.states[0]

    def true() -> list[str]:
        return [row.accessibleName() for row in window.mirror.ways.rows if row.true and row.layer == 0]

    taken = machine.layers[0].states[target]
    scrub(window, tick)
    assert window.live.position == tick and any(f". {taken} when" in one for one in true()), true()
    scrub(window, tick - 20)
    assert not any(f". {taken} when" in one for one in true()), true()


@pytest.mark.long
def test_marks_of_the_tick_are_named(window: Window) -> None:
    rehearsed(window)
    tick, _, name = window.station(RehearseStation).trace.marks()[0]
    scrub(window, tick + 1)
    assert name in window.mirror.glass._marks_text()
    scrub(window, tick - 2)
    assert window.mirror.glass._marks_text() == ""


@pytest.mark.long
def test_any_tick_can_be_the_start_of_steering(window: Window) -> None:
    rehearsed(window)
    trace, live = window.station(RehearseStation).trace, window.live
    scrub(window, 120)
    body = live.situation.body
    assert body.x > trace.first.body.x + 20
    window.mirror.drive_button.click()
    assert live.mode == "driving" and abs(live.situation.body.x - body.x) < 10
    QTest.qWait(200)
    QTest.keyClick(window.station(RehearseStation), Qt.Key.Key_Escape)
    assert live.mode == "idle"
    take = live.kept_take("on from there")
    assert take is None or take.begins is not None


@pytest.mark.long
def test_esc_lets_go_of_the_tick(window: Window) -> None:
    rehearsed(window)
    scrub(window, 120)
    QTest.keyClick(window.station(RehearseStation).timeline, Qt.Key.Key_Escape)
    assert window.live.mode == "idle" and window.live.situation.tick < 60


@pytest.mark.long
def test_a_witness_is_scrubbed_in_findings(window: Window) -> None:
    window.go("Findings")
    station = window.station(FindingsStation)
    wait_checked(window)
    row = next(at for at, one in enumerate(window.session.report.findings) if one.witness is not None)
    station.list.setCurrentIndex(station.model.index(row, 0))
    wait_until(lambda: station.timeline.isVisible() and station._trace is not None, "the witness")
    timeline = station.timeline
    QTest.mouseClick(timeline, Qt.MouseButton.LeftButton, pos=QPoint(round(timeline.x_of(3)), timeline.height() - 4))
    assert window.live.mode == "looking" and window.live.position == 3
    assert window.live.situation == station._trace.steps[3].situation


def test_ways_out_follow_the_figure_while_it_is_steered(window: Window) -> None:
    window.go("Graph")
    window.session.select_state(0, "climb")
    assert "over" in ways_out(window)
    window.live.drive()
    wait_until(lambda: "stride" in ways_out(window), "those of the figure")
    window.live.leave()
    wait_until(lambda: "stride" not in ways_out(window), "those of climb")


def test_the_page_of_the_graph_shows_the_cel_that_the_mirror_shows(window: Window) -> None:
    """Where the character is, its figure on the page is not a loop of its own."""
    window.go("Graph")
    page, live = window.station(GraphStation).page, window.live
    live.stop()
    for _ in range(7):
        live.tick()
    live.restart()
    seen = set()
    for _ in range(40):
        live.tick()
        piece = page.moving()[0, "idle"].pieces[0]
        assert piece == live.figure().pieces[0]
        seen.add(piece.frame)
    assert len(seen) > 1
