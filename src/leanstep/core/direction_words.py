"""Directions as people write them into names: ``up left``, ``up-left``, ``upleft``, ``north west``, ``NW`` are one."""

from __future__ import annotations

import re
from collections.abc import Iterable
from typing import NamedTuple

from leanstep.core.bearings import bearing_of

_UP = {"up": 1, "north": 1, "n": 1, "down": -1, "south": -1, "s": -1}
_RIGHT = {"right": 1, "east": 1, "e": 1, "left": -1, "west": -1, "w": -1}
_LONG_UP, _LONG_RIGHT = "up|north|down|south", "right|east|left|west"
_WORDS = re.compile(
    r"(?<![^\W_])(?:"
    rf"(?P<up>{_LONG_UP})[\s_-]?(?P<right>{_LONG_RIGHT})|(?P<right2>{_LONG_RIGHT})[\s_-]?(?P<up2>{_LONG_UP})"
    rf"|(?P<up3>{_LONG_UP})|(?P<right3>{_LONG_RIGHT})|(?P<up4>[ns])(?P<right4>[ew])|(?P<up5>[ns])|(?P<right5>[ew])"
    r")(?![^\W_])",
    re.IGNORECASE,
)
_DIGITS = re.compile(r"(?<!\d)[1-9](?!\d)")
KEYPAD = {8: 0.0, 9: 45.0, 6: 90.0, 3: 135.0, 2: 180.0, 1: 225.0, 4: 270.0, 7: 315.0}
"""Bearings by the digits of a keypad."""


class Direction(NamedTuple):
    """Where a direction stands in a name, and its bearing in degrees."""

    start: int
    end: int
    bearing: float


def direction_in(name: str) -> Direction | None:
    """The last direction that a name says in words or letters."""
    found = list(_WORDS.finditer(name))
    if not found:
        return None
    last = found[-1]
    said = {key.rstrip("2345"): word.lower() for key, word in last.groupdict().items() if word}
    return Direction(
        last.start(), last.end(), bearing_of(_RIGHT.get(said.get("right", ""), 0), _UP.get(said.get("up", ""), 0))
    )


def on_keypad(names: Iterable[str]) -> dict[str, Direction]:
    """The directions of names that differ in digits of a keypad alone: where up, down, left and right are all there, and nothing that
    is no direction."""
    families: dict[str, dict[str, Direction]] = {}
    for name in names:
        digits = list(_DIGITS.finditer(name))
        if digits:
            last, digit = digits[-1], int(digits[-1].group())
            family = families.setdefault(f"{name[: last.start()]}\0{name[last.end() :]}", {})
            family[name] = Direction(last.start(), last.end(), KEYPAD.get(digit, -1.0))
    found: dict[str, Direction] = {}
    for family in families.values():
        bearings = {one.bearing for one in family.values()}
        if {0.0, 90.0, 180.0, 270.0} <= bearings and -1.0 not in bearings:
            found |= family
    return found
