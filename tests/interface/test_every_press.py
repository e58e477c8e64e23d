"""Steering in real time: no tap is lost, and nothing that was recorded is thrown away."""

from __future__ import annotations

import random
import time

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from leanstep.desk.stations.rehearse.station import RehearseStation
from leanstep.desk.window import Window
from tests.interface.conftest import ticks


def down(window: Window) -> bool:
    return bool(window.live.hands.devices.values()["jump"])


@pytest.mark.long
def test_taps_that_come_together_on_a_busy_machine_all_count(window: Window) -> None:
    """The window stands still while somebody taps: what comes in at once then belongs to ticks one after the other."""
    live, seen = window.live, []
    live.drive()
    live.ticked.connect(lambda: seen.append(down(window)))
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
    assert sum(now and not before for before, now in zip([False, *seen], seen)) == count


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
