"""Controllers and the on-screen stick steer the character in the window."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from leanstep.desk import controllers
from leanstep.desk.controllers import NOT_ALLOWED
from leanstep.desk.gamepads import ABSOLUTE, KEY
from leanstep.desk.stations.rehearse.station import RehearseStation
from leanstep.desk.window import Window

LEFT = Qt.MouseButton.LeftButton
Event = tuple[int, int, float]
"""Type, code and value; all come now."""


class Stream:
    """A recorded stream of events: what each look finds; after it the controller is gone."""

    path = "recorded"
    ranges = {0: (0, 255), 1: (0, 255)}

    def __init__(self, *looks: list[Event]) -> None:
        self.looks = list(looks)

    def read(self) -> Iterable[tuple[int, int, float, None]]:
        if not self.looks:
            raise OSError("no such device")
        events = self.looks.pop(0)
        if not events:
            raise BlockingIOError
        return [(*event, None) for event in events]


@pytest.fixture
def window(demo: Path, open_window: Callable[..., Window], monkeypatch: pytest.MonkeyPatch) -> Window:
    monkeypatch.setattr(controllers, "may_not_be_read", lambda: False)
    made = open_window(demo / "ferry-hand.leanstep")
    made.controllers._find = lambda known: []
    made.go("Rehearse")
    return made


def facing(window: Window) -> float:
    return window.live.situation.body.facing


def drive(window: Window, ticks: int) -> None:
    for _ in range(ticks):
        window.live.tick()


def test_a_controller_walks_the_figure_and_lets_go_when_it_is_unplugged(window: Window) -> None:
    stream = Stream([(ABSOLUTE, 0, 128), (ABSOLUTE, 1, 255)], [], [(KEY, 0x130, 1)])
    window.controllers._find = lambda known: [] if "recorded" in known else [stream]
    window.live.drive()
    for _ in range(3):
        window.controllers.read()
        drive(window, 10)
    assert abs(facing(window) - 180) < 2 and window.live.situation.body.speed > 80
    window.controllers.read()
    assert window.status.text().startswith("The game controller is gone")
    drive(window, 40)
    assert window.live.situation.body.speed == 0 and abs(facing(window) - 180) < 2


@pytest.mark.long
def test_a_controller_that_may_not_be_read_is_explained_with_what_to_type(
    window: Window, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(controllers, "may_not_be_read", lambda: True)
    window.live.drive()
    window.controllers.look()
    assert "usermod" in NOT_ALLOWED and window.controllers._told


@pytest.mark.long
def test_the_stick_on_the_screen_is_there_while_steering_and_pushes(window: Window) -> None:
    stick = window.station(RehearseStation).course.stick
    assert not stick.isVisible()
    window.live.drive()
    assert stick.isVisible()
    middle = QPoint(stick.width() // 2, stick.height() // 2)
    QTest.mousePress(stick, LEFT, pos=middle + QPoint(-30, 30))
    drive(window, 30)
    assert abs(facing(window) - 225) < 1 and window.live.situation.body.speed > 60
    QTest.mouseMove(stick, middle + QPoint(0, -38))
    drive(window, 20)
    assert abs(facing(window)) < 1
    QTest.mouseRelease(stick, LEFT, pos=middle)
    drive(window, 30)
    assert window.live.situation.body.speed == 0 and abs(facing(window)) < 1
    QTest.keyClick(window, Qt.Key.Key_Escape)
    assert not stick.isVisible()
