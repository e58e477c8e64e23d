"""Directions in names, in every spelling."""

from __future__ import annotations

import pytest

from leanstep.core.clips.families import HOLE, families
from leanstep.core.direction_words import direction_in


def bearing_said(text: str) -> float | None:
    """The bearing of a text that is a direction and nothing else."""
    found = direction_in(text)
    return found.bearing if found is not None and (found.start, found.end) == (0, len(text)) else None


@pytest.mark.parametrize(
    "text",
    [
        "up left",
        "up-left",
        "upleft",
        "up_left",
        "Up Left",
        "left up",
        "north west",
        "north-west",
        "northwest",
        "NW",
        "nw",
    ],
)
def test_one_direction_in_every_spelling(text: str) -> None:
    assert bearing_said(text) == 315.0
    found = direction_in(f"walk_{text}")
    assert found is not None and found.bearing == 315.0 and f"walk_{text}"[found.start :] == text


@pytest.mark.parametrize(
    ("text", "bearing"), [("up", 0.0), ("E", 90.0), ("south", 180.0), ("left", 270.0), ("SE", 135.0)]
)
def test_other_directions(text: str, bearing: float) -> None:
    assert bearing_said(text) == bearing


@pytest.mark.parametrize("text", ["uphill", "newt", "leftover", "7", "", "walk"])
def test_what_is_no_direction(text: str) -> None:
    assert bearing_said(text) is None


def test_spellings_make_one_family() -> None:
    (family,) = families(["walk north", "walk NW", "walk left"])
    assert family.name == f"walk {HOLE}" and family.clips == {0.0: "walk north", 315.0: "walk NW", 270.0: "walk left"}


def test_digits_are_directions_only_where_all_are_those_of_a_keypad() -> None:
    (family,) = families([f"walk_{digit}" for digit in (2, 4, 6, 8, 7)])
    assert family.clips[315.0] == "walk_7" and family.clips[180.0] == "walk_2"
    assert families([f"walk_{digit}" for digit in (1, 2, 3, 4)]) == []
    assert families([f"walk_{digit}" for digit in range(1, 10)]) == [], "five is no direction"
