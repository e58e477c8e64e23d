"""From keys, game controllers and an on-screen stick to what the controls say.

Dead zone, rounding and ``release`` act here, where a device is read, so that takes hold what comes out.
"""

from __future__ import annotations

import math
from collections.abc import Mapping

from leanstep.core.bearings import across, along, bearing_of, push_of, reduced, turn
from leanstep.core.character.inputs import Controls, Stick

KEPT_BY = 5.0
"""Degrees beyond the middle between two rounded directions up to which the one before stays."""
PAD_STICKS = ("left", "right")
"""The sticks of a game controller; a stick of which nothing is said takes them in order."""
PAD_BUTTONS = (
    *("south", "east", "west", "north", "left-shoulder", "right-shoulder", "left-trigger", "right-trigger"),
    *("select", "start", "left-stick", "right-stick"),
)
"""The buttons of a game controller, called by where they are; a button of which nothing is said takes them in order."""

Vector = tuple[float, float]


class Devices:
    """What is down and pushed now, in the order keys went down, and the control values that follow.

    Opposite keys of a stick resolve by its rule: the last one wins, the first one wins, or they cancel.
    """

    def __init__(self, controls: Controls) -> None:
        self._down: list[str] = []
        self._pushed: dict[str, Vector] = {}
        self._pad_sticks: dict[str, Vector] = {}
        self._pad_buttons: set[str] = set()
        self._held: dict[str, tuple[Vector, float]] = {}
        self._ways: dict[str, float] = {}
        self.controls = controls

    # --- keys

    def press(self, key: str) -> bool:
        """A key went down; returns whether it belongs to a control.  Repeats are ignored."""
        if key not in self._down:
            self._down.append(key)
            self._held.clear()
        return self.knows(key)

    def release(self, key: str) -> bool:
        """A key came up; returns whether it belongs to a control.  Where one of two ways is let go, the diagonal is kept for as
        long as the stick says."""
        before = {stick.name: self._keys(stick) for stick in self.controls.sticks}
        if key in self._down:
            self._down.remove(key)
        for stick in self.controls.sticks:
            now = self._keys(stick)
            if all(before[stick.name]) and any(now) and not all(now) and stick.release > 0:
                self._held[stick.name] = before[stick.name], stick.release
            elif not any(now):
                self._held.pop(stick.name, None)
        return self.knows(key)

    def let_go(self) -> None:
        """Everything counts as up and in the middle."""
        self._down.clear()
        self._held.clear()
        self._pushed.clear()
        self.unplug()

    def knows(self, key: str) -> bool:
        """Whether the key is bound to a control."""
        return any(key in button.keys for button in self.controls.buttons) or any(
            key in keys for stick in self.controls.sticks for keys in (stick.left, stick.right, stick.down, stick.up)
        )

    # --- what is pushed

    def push(self, stick: str, x: float, y: float) -> None:
        """The on-screen stick stands there."""
        self._pushed[stick] = _sound(x, y)

    def push_pad(self, sticks: Mapping[str, Vector]) -> None:
        """The sticks of a game controller stand there, by :data:`PAD_STICKS`."""
        self._pad_sticks = {name: _sound(*vector) for name, vector in sticks.items()}

    def hold_pad(self, button: str, down: bool) -> None:
        """One of :data:`PAD_BUTTONS` went down or up."""
        if down:
            self._pad_buttons.add(button)
        else:
            self._pad_buttons.discard(button)

    def unplug(self) -> None:
        """The controller is gone: it holds nothing any more."""
        self._pad_sticks.clear()
        self._pad_buttons.clear()

    # --- what follows

    def pass_time(self, seconds: float) -> None:
        """Time goes on: what is kept for a while runs out."""
        if not self._held:
            return
        left = {name: (vector, kept - seconds) for name, (vector, kept) in self._held.items()}
        self._held = {name: one for name, one in left.items() if one[1] > 1e-9}

    def values(self) -> dict[str, float | bool]:
        """The value of every button and stick axis."""
        result: dict[str, float | bool] = {}
        for number, stick in enumerate(self.controls.sticks):
            result[f"{stick.name}.x"], result[f"{stick.name}.y"] = self._stick(number, stick)
        for number, button in enumerate(self.controls.buttons):
            bound = button.pad or PAD_BUTTONS[number : number + 1]
            result[button.name] = any(key in self._down for key in button.keys) or any(
                name in self._pad_buttons for name in bound
            )
        return result

    def _stick(self, number: int, stick: Stick) -> Vector:
        keys = self._held[stick.name][0] if stick.name in self._held else self._keys(stick)
        if any(keys):
            return self._rounded(stick, *keys)
        name = stick.pad or (PAD_STICKS[number] if number < len(PAD_STICKS) else "")
        pushed = self._pushed.get(stick.name, (0.0, 0.0))
        x, y = pushed if any(pushed) else self._pad_sticks.get(name, (0.0, 0.0))
        push = push_of(x, y)
        if push <= stick.dead_zone:
            return 0.0, 0.0
        share = min((push - stick.dead_zone) / (1 - stick.dead_zone), 1.0) / push
        return self._rounded(stick, x * share, y * share)

    def _rounded(self, stick: Stick, x: float, y: float) -> Vector:
        """A push brought to one of so many ways; the one before stays a little longer than it is the nearest."""
        if stick.rounding == 0:
            return x, y
        each = 360.0 / stick.rounding
        bearing, before = bearing_of(x, y), self._ways.get(stick.name)
        if before is None or abs(turn(before, bearing)) > each / 2 + KEPT_BY:
            before = reduced(math.floor(bearing / each + 0.5) * each)
        self._ways[stick.name] = before
        push = push_of(x, y)
        return across(before) * push, along(before) * push

    def _keys(self, stick: Stick) -> Vector:
        return self._axis(stick, stick.left, stick.right), self._axis(stick, stick.down, stick.up)

    def _axis(self, stick: Stick, low: tuple[str, ...], high: tuple[str, ...]) -> float:
        asked = [-1.0 if key in low else 1.0 for key in self._down if key in low or key in high]
        if not asked or (stick.opposite == "cancel" and len(set(asked)) == 2):
            return 0.0
        return asked[-1] if stick.opposite == "last" else asked[0]


def _sound(x: float, y: float) -> Vector:
    """A push as a device says it, inside its circle; what is no number is no push."""
    if not (math.isfinite(x) and math.isfinite(y)):
        return 0.0, 0.0
    length = math.hypot(x, y)
    return (x / length, y / length) if length > 1 else (x, y)
