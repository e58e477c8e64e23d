"""A check that takes over what earlier ones worked out says what a check from nothing says."""

from __future__ import annotations

import os
import random
from typing import Any

import pytest

from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.document import Character
from leanstep.core.character.edits import change
from leanstep.core.character.files import load
from leanstep.core.character.graph import State
from leanstep.core.character.inputs import Parameter
from leanstep.core.findings.evidence import Memo
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Report
from leanstep.core.work import USUAL, Effort, Work
from tests.support.build import DEMO, sketch, way
from tests.support.random_characters import edited, random_character, slow_character

COUNT = int(os.environ.get("LEANSTEP_RECHECKS", "24"))
"""Random characters that are edited."""

EDITS = 4


def said(report: Report) -> dict[str, Any]:
    """All a report says but for how long it took."""
    found = report.to_json()
    found["search"].pop("seconds")
    return found


def hold(character: Character, seed: int, effort: Effort = USUAL) -> None:
    """Check a character again after each of a few edits, the last of which undoes some."""
    pick, memo = random.Random(seed), Memo()
    versions = [character]
    for _ in range(EDITS):
        versions.append(edited(versions[-1], pick))
    versions.append(versions[pick.randrange(EDITS)])
    for version in versions:
        work = Work(effort=effort)
        assert said(check_character(version, work=work, memo=memo)) == said(check_character(version, work=work))


@pytest.mark.long(but=3)
@pytest.mark.parametrize("chunk", range(6))
def test_a_check_after_random_edits_says_what_a_new_check_says(chunk: int) -> None:
    for seed in range(chunk, COUNT, 6):
        character = slow_character(seed) if seed % 8 == 7 else random_character(seed)
        try:
            hold(character, seed)
        except AssertionError as error:
            raise AssertionError(f"seed {seed}") from error


@pytest.mark.long
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


@pytest.mark.parametrize(
    ("condition", "edit"),
    [
        ("grounded", "grounded and stay > 3 ticks"),
        ("grounded and stay > 3 ticks", "grounded"),
        ("grounded and stay < 3 ticks", "grounded and stay != 5 ticks"),
        ("grounded or stay = 4 ticks", "grounded or stay > 2 ticks and hurt"),
        ("clip done", "clip done and stay > 2 ticks"),
        ("clip done and stay < 3 ticks", "clip done"),
        ("stay < 1 ticks", "stay < 1 ticks or stay >= 3 ticks"),
        ("hurt and stay > 2 ticks", "hurt and not (stay < 3 ticks or stay > 8 ticks)"),
        ("(stay > 3 ticks) for 2 ticks and hurt", "(stay > 3 ticks) for 2 ticks and hurt and stay < 7 ticks"),
        ("jump released", "jump released and (stay > 2 ticks or jump pressed)"),
        ("jump pressed or stay < 3 ticks", "stay < 3 ticks"),
    ],
)
def test_an_edit_of_a_timer_is_followed_in_a_state_with_a_clip(condition: str, edit: str) -> None:
    clip = Clip(name="swing", sheet="art", loop="once", cels=(Cel(frame=0, ticks=6),))
    states = (State(name="a", clip="swing"), State(name="b", ending=True), State(name="c"))
    ways = (way("a>b", condition), way("a>c", "jump pressed for 2 ticks or lives = 2"), way("c>a", "stay > 1 ticks"))
    before, memo = sketch(*ways, states=states, clips=(clip,)), Memo()
    check_character(before, memo=memo)
    again = change(before, ("layers", 0, "transitions", 0), when=edit)
    assert said(check_character(again, memo=memo)) == said(check_character(again))


def test_an_edit_after_which_more_edges_are_asked_for_is_followed_at_rest() -> None:
    states = (State(name="a"), State(name="b", restful=True))
    before, memo = sketch(way("a>b", "hurt"), way("b>a", "grounded"), states=states), Memo()
    check_character(before, memo=memo)
    report = check_character(change(before, ("layers", 0, "transitions", 1), when="jump pressed"), memo=memo)
    assert [one.details["state"] for one in report.findings if one.id == "state.no-rest"] == ["a"]


def test_an_edit_after_which_no_edge_is_asked_for_is_followed() -> None:
    ways = (way("a>b", "speed > 3 and not (jump pressed and stay < 1 ticks)"), way("b>a", "speed <= 3 and jump"))
    before, memo = sketch(*ways), Memo()
    check_character(before, memo=memo)
    again = change(before, ("layers", 0, "transitions", 0), when="speed > 3")
    report = check_character(again, memo=memo)
    assert said(report) == said(check_character(again))
    assert "flicker.wobble" in {finding.id for finding in report.findings}


def test_an_edit_that_asks_for_another_memory_is_followed() -> None:
    flags = tuple(Parameter(name=name, kind="flag") for name in ("f", "g"))
    ways = (way("b>a", "f for 4 ticks"), way("b>c", "g for 4 ticks"), way("a>b", "f for 4 ticks and not f"))
    never, memo = sketch(*ways, states="a b c", parameters=flags), Memo()
    assert [one.free for one in check_character(never, memo=memo).states] == ["reachable", "unreachable", "unreachable"]
    again = change(never, ("layers", 0, "transitions", 2), when="g for 4 ticks")
    assert [one.ticks for one in check_character(again, memo=memo).states] == [0, 4, 5]
