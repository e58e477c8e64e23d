"""A game controller's events as Linux tells them, brought to sticks from -1 to 1 and buttons by where they are.

Types and codes are those of the kernel's input subsystem (``linux/input-event-codes.h``).
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from leanstep.desk.devices import Vector

KEY, ABSOLUTE = 1, 3
"""Types of events."""
STICKS = {0: ("left", 0), 1: ("left", 1), 3: ("right", 0), 4: ("right", 1)}
"""Codes of axes: the stick and whether it is across or up; down is positive there."""
TRIGGERS = {2: "left-trigger", 5: "right-trigger", 10: "left-trigger", 9: "right-trigger"}
HATS = {16: 0, 17: 1}
"""The direction pad, which counts as the left stick."""
BUTTONS = {
    0x130: "south",
    0x131: "east",
    0x133: "north",
    0x134: "west",
    0x136: "left-shoulder",
    0x137: "right-shoulder",
    0x138: "left-trigger",
    0x139: "right-trigger",
    0x13A: "select",
    0x13B: "start",
    0x13D: "left-stick",
    0x13E: "right-stick",
}
PRESSED = 0.5
"""How far a trigger is pulled when it counts as held."""


@dataclass
class Pad:
    """One controller.  ``ranges`` are the least and greatest value of each axis, by code."""

    ranges: Mapping[int, tuple[int, int]]
    sticks: dict[str, Vector] = field(default_factory=dict)
    buttons: set[str] = field(default_factory=set)
    hat: Vector = (0.0, 0.0)

    def feed(self, kind: int, code: int, value: float) -> None:
        """An event."""
        if kind == KEY and code in BUTTONS:
            self._hold(BUTTONS[code], value != 0)
        elif kind == ABSOLUTE and code in STICKS:
            name, axis = STICKS[code]
            self.sticks[name] = _with(self.sticks.get(name, (0.0, 0.0)), axis, self._share(code, value))
        elif kind == ABSOLUTE and code in HATS:
            self.hat = _with(self.hat, HATS[code], float(value))
        elif kind == ABSOLUTE and code in TRIGGERS:
            self._hold(TRIGGERS[code], (self._share(code, value) + 1) / 2 > PRESSED)

    @property
    def pushed(self) -> dict[str, Vector]:
        """The sticks, the direction pad counting as the left one while it is pushed."""
        return self.sticks | ({"left": self.hat} if any(self.hat) else {})

    def _hold(self, name: str, held: bool) -> None:
        if held:
            self.buttons.add(name)
        else:
            self.buttons.discard(name)

    def _share(self, code: int, value: float) -> float:
        """A value of an axis, from -1 to 1; 0 for one of no width."""
        low, high = self.ranges.get(code, (-1, 1))
        return 0.0 if high <= low or value != value else min(max(2 * (value - low) / (high - low) - 1, -1.0), 1.0)


def _with(vector: Vector, axis: int, value: float) -> Vector:
    """A vector with one axis changed; devices count down as positive."""
    return (value, vector[1]) if axis == 0 else (vector[0], -value)
