"""A check that takes over what earlier ones worked out says what a check from nothing says."""

from __future__ import annotations

import os
import random
from typing import Any

import pytest

from leanstep.core.character.edits import change
from leanstep.core.character.files import load
from leanstep.core.character.model import Character, Parameter
from leanstep.core.findings.model import Memo
from leanstep.core.findings.report import Report, check_character
from tests.support.build import DEMO, sketch, way
from tests.support.random_characters import edited, random_character, slow_character

COUNT = int(os.environ.get("LEANSTEP_RECHECKS", "48"))
"""Random characters that are edited."""

EDITS = 4


def said(report: Report) -> dict[str, Any]:
    """All a report says but for how long it took."""
    found = report.to_json()
    found["search"].pop("seconds")
    return found


def hold(character: Character, seed: int) -> None:
    """Check a character again after each of a few edits, the last of which undoes some."""
    pick, memo = random.Random(seed), Memo()
    versions = [character]
    for _ in range(EDITS):
        versions.append(edited(versions[-1], pick))
    versions.append(versions[pick.randrange(EDITS)])
    for version in versions:
        assert said(check_character(version, memo=memo)) == said(check_character(version))


@pytest.mark.parametrize("chunk", range(6))
def test_a_check_after_random_edits_says_what_a_new_check_says(chunk: int) -> None:
    for seed in range(chunk, COUNT, 6):
        character = slow_character(seed) if seed % 8 == 7 else random_character(seed)
        try:
            hold(character, seed)
        except AssertionError as error:
            raise AssertionError(f"seed {seed}") from error


@pytest.mark.parametrize(
    ("layer", "transition", "condition"),
    [
        (0, 0, "speed > 13"),
        (0, 0, "speed > 6"),
        (0, 4, "speed < 6 and stay > 0.2 s"),
        (0, 5, "abs(stick.x) > 0.5 or hit"),
        (0, 20, "not grounded for 0.1 s"),
        (1, 0, "hit and stay > 0.1 s"),
        (1, 1, "in base.hurt"),
    ],
)
def test_the_demo_checked_again_after_an_edit_says_what_a_new_check_says(
    layer: int, transition: int, condition: str
) -> None:
    sound, memo = load(DEMO / "lamplighter.leanstep"), Memo()
    check_character(sound, memo=memo)
    again = change(sound, ("layers", layer, "transitions", transition), when=condition)
    assert said(check_character(again, memo=memo)) == said(check_character(again))


def test_an_edit_that_asks_for_another_memory_is_followed() -> None:
    flags = tuple(Parameter(name=name, kind="flag") for name in ("f", "g"))
    ways = (way("b>a", "f for 4 ticks"), way("b>c", "g for 4 ticks"), way("a>b", "f for 4 ticks and not f"))
    never, memo = sketch(*ways, states="a b c", parameters=flags), Memo()
    assert [one.free for one in check_character(never, memo=memo).states] == ["reachable", "unreachable", "unreachable"]
    again = change(never, ("layers", 0, "transitions", 2), when="g for 4 ticks")
    assert [one.ticks for one in check_character(again, memo=memo).states] == [0, 4, 5]
