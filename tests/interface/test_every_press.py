"""Steering in real time: no tap is lost, and nothing that was recorded is thrown away."""

from __future__ import annotations

import random
import time

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from leanstep.desk import hands, live_figure
from leanstep.desk.stations.rehearse.station import RehearseStation
from leanstep.desk.window import Window
from tests.interface.conftest import ticks


def down(window: Window) -> bool:
    return bool(window.live.hands.devices.values()["jump"])


def recorded(window: Window, name: str) -> list[bool]:
    """A button on every tick of what is being recorded."""
    live = window.live
    assert live.recording is not None
    return [bool(inputs[live.machine.index[name]]) for inputs in live.recording]


@pytest.mark.long
def test_taps_that_come_together_on_a_busy_machine_all_count(window: Window) -> None:
    """The window stands still while somebody taps: what comes in at once then belongs to ticks one after the other."""
    live = window.live
    live.record()
    rng, count = random.Random(3), 40
    live.start()
    for _ in range(count):
        begun = time.monotonic()
        held = rng.uniform(0.005, 0.1)
        time.sleep(rng.uniform(0.0, 0.25) + held)  # nothing is taken in meanwhile
        live.hands.key("Space", True, begun)
        live.hands.key("Space", False, begun + held)
        QTest.qWait(60)
    live.stop()
    seen = recorded(window, "jump")
    assert sum(now and not before for before, now in zip([False, *seen], seen)) == count


class Clock:
    """Time that goes on when a test says so, in ticks of the demo."""

    def __init__(self) -> None:
        self.ticks = self._read = 1000.0

    def seconds(self) -> float:
        return self.ticks / 60

    def restart(self) -> float:
        passed, self._read = self.ticks - self._read, self.ticks
        return passed * 1000 / 60

    start = restart


@pytest.fixture
def clock(window: Window, monkeypatch: pytest.MonkeyPatch) -> Clock:
    """The time of the live character, which goes on by itself no more; it walks to the right, and sleeps."""
    clock, live = Clock(), window.live
    window.go("Graph")
    monkeypatch.setattr(live, "_clock", clock)
    for module in (live_figure, hands):
        monkeypatch.setattr(module, "monotonic", clock.seconds)
    live.record()
    live.start()
    live.hands.push("stick", 1.0, 0.0)
    told: list[int] = []
    live.ticked.connect(lambda: told.append(live.ticks))
    while live.ticks < 200 or live._asleep == 1:
        clock.ticks += live._asleep
        live._pulse()
    assert len(told) < 150
    return clock


@pytest.mark.parametrize("after", [0.5, 1.5])
def test_a_press_while_it_sleeps_counts_on_the_tick_it_belongs_to(window: Window, clock: Clock, after: float) -> None:
    live = window.live
    before = live.ticks
    clock.ticks += after
    live.hands.key("Space", True)
    assert live.ticks == before + int(after)
    assert 0 < live._timer.interval() <= 1000 / 60 * 0.5 + 2
    clock.ticks += 0.5
    live._pulse()
    assert recorded(window, "jump")[-int(after) - 2 :] == [*[False] * (1 + int(after)), True]


def test_it_is_awake_on_every_tick_on_which_a_mark_fires(window: Window, clock: Clock) -> None:
    """A mark is heard and named when it fires."""
    live, awake = window.live, set[int]()
    begun = live.ticks
    while live.ticks < begun + 200:
        clock.ticks += live._asleep
        live._pulse()
        awake.add(live.ticks)
    fired = {tick for tick, _, _ in live.marks if tick > begun}
    assert len(fired) > 3 and fired <= awake and len(awake) < 150


def test_a_stick_that_is_pushed_while_it_sleeps_counts_from_the_next_tick(window: Window, clock: Clock) -> None:
    live = window.live
    before, at = live.ticks, live.machine.index["stick.x"]
    clock.ticks += 1.5
    live.hands.push("stick", -1.0, 0.0)
    assert live.ticks == before + 1
    clock.ticks += 0.5
    live._pulse()
    assert live.recording is not None and [float(row[at]) for row in live.recording[-2:]] == [1.0, -1.0]


def test_a_tap_between_two_ticks_jumps(window: Window) -> None:
    window.live.drive()
    ticks(window, 20)
    QTest.keyPress(window, Qt.Key.Key_Space)
    QTest.keyRelease(window, Qt.Key.Key_Space)
    ticks(window, 1)
    assert down(window)
    ticks(window, 1)
    assert not down(window)


@pytest.mark.long
@pytest.mark.parametrize("ended", ["Esc", "restart", "steer", "play"])
def test_what_was_recorded_is_kept_however_it_ends(window: Window, ended: str) -> None:
    window.go("Rehearse")
    before = window.session.document.takes
    window.station(RehearseStation).record()
    QTest.keyPress(window, Qt.Key.Key_Right)
    ticks(window, 30)
    if ended == "Esc":
        QTest.keyClick(window, Qt.Key.Key_Escape)
    elif ended == "restart":
        window.live.restart()
    elif ended == "steer":
        window.live.toggle()
    else:
        window.live.play(before[0])
    added = window.session.document.takes[len(before) :]
    assert [one.ticks for one in added] == [30] and window.live.recording is None
    assert added[0].name in window.status.text() and "ended" in window.status.text()
    window.session.undo()
    assert window.session.document.takes == before


@pytest.mark.long
def test_ticks_that_are_left_out_are_said(window: Window) -> None:
    window.live.drive()
    window.live.start()
    time.sleep(1.2)
    QTest.qWait(60)
    window.live.stop()
    assert "left out" in window.status.text()
