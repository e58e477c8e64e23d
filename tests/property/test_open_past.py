"""What a check says when it follows no memory, or few playheads, is what it says when it follows them all, or undecided."""

from __future__ import annotations

import os
from collections import Counter
from collections.abc import Callable

import pytest

from leanstep.core.character.document import Character
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Finding, Report
from leanstep.core.work import Effort, Work
from tests.property.test_rechecks import hold
from tests.support.random_characters import (
    counting_character,
    pulsing_character,
    random_character,
    remembering_character,
)

COUNT = int(os.environ.get("LEANSTEP_OPEN", "60"))
"""Random characters that are compared, of a kind."""

CHUNKS = 4

Make = Callable[[int], Character]

KINDS: dict[str, Make] = {
    "remembering": remembering_character,
    "pulsing": pulsing_character,
    "plain": lambda seed: random_character(seed, rich=False),
    "rich": random_character,
    "counting": counting_character,
}


LITTLE = Effort(followed=0, heavy=0, closely=10, asked=(10, 20))
"""No memory is followed, and what is looked at closely is soon too much."""


def reported(character: Character, most: int) -> Report:
    """The report when memories are followed up to so many combinations, and up to so many situations."""
    return check_character(character, work=Work(effort=Effort(followed=most, heavy=most)))


def said(report: Report) -> dict[tuple[object, ...], str]:
    """Everything the free world says, with its verdict: flickers state by state, orders pair by pair."""
    found: dict[tuple[object, ...], str] = {}
    for one in report.findings:
        if one.world == "free":
            for key in _keys(one):
                if found.get(key) in (None, "undecided"):
                    found[key] = one.verdict
    return found


def _keys(one: Finding) -> list[tuple[object, ...]]:
    about, layer = one.details, one.details.get("layer")
    if one.id in ("flicker.steady", "flicker.restart"):
        return [(one.id, layer, state) for state in about.get("states") or [about["state"]]]
    if one.id == "order.decides":
        return [(one.id, layer, about["transition"], other) for other in about["others"]]
    return [(one.id, *(tuple(value) if isinstance(value, list) else value for value in about.values()))]


def compare(character: Character) -> Counter[str] | None:
    """Hold what is said without memories against what is said with them; None if these cannot all be followed."""
    exact = reported(character, 2_000_000)
    if not exact.complete or exact.aborted:
        return None
    opened = reported(character, 0)
    for one in (opened, check_character(character, work=Work(effort=LITTLE))):
        hold_against(character, exact, one)
        if one.complete:
            assert not said(exact).keys() - said(one).keys(), "something is left out"
    return Counter((opened.complete and "complete") or "open" for _ in [0])


def hold_against(character: Character, exact: Report, opened: Report) -> None:
    """Nothing may be claimed that is not so."""
    true, claimed = said(exact), said(opened)
    lost = {(one.layer, one.name) for one in exact.states if one.free == "unreachable"}
    for key, verdict in claimed.items():
        if verdict != "undecided" and key not in true:
            assert _left_out(character, key, true, lost), f"{key} is {verdict}, which is not so"
    for sure, told in zip(exact.states, opened.states):
        assert told.free in (sure.free, "undecided")
        if told.ticks is not None and sure.ticks is not None:
            assert told.ticks == sure.ticks if told.fewest else told.ticks >= sure.ticks


def _left_out(
    character: Character, key: tuple[object, ...], true: dict[tuple[object, ...], str], lost: set[tuple[str, str]]
) -> bool:
    """Whether something is so, but not listed beside something else that is only known with memories."""
    kind, layer, subject, *_ = key
    if kind == "flash":
        return any((flicker, layer, subject) in true for flicker in ("flicker.steady", "flicker.restart"))
    if kind == "mark.never":
        everywhere = {(one[0], one[-1]) for one in true if len(one) == 3}
        return (kind, key[-1]) in everywhere or (str(layer), str(subject)) in lost
    if kind == "transition.never":
        table = next(one for one in character.layers if one.name == layer)
        return (str(layer), table.transitions[int(str(subject))].source) in lost
    return False


@pytest.mark.long(but=1)
@pytest.mark.parametrize("chunk", range(CHUNKS))
@pytest.mark.parametrize("kind", KINDS)
def test_nothing_is_claimed_that_is_not_so(kind: str, chunk: int) -> None:
    seen: Counter[str] = Counter()
    count = COUNT if kind == "remembering" else COUNT // 2
    for seed in range(chunk, count, CHUNKS):
        try:
            seen += compare(KINDS[kind](seed)) or Counter()
        except AssertionError as error:
            raise AssertionError(f"{kind} {seed}: {error}") from error
    assert kind != "remembering" or seen["complete"] > 2 * seen["open"], "too much is undecided"


def test_a_pair_that_flickers_because_of_what_a_memory_sees_of_states_is_not_said_to_wobble() -> None:
    """Its memory looks at the states themselves, and so says something else on every tick."""
    assert compare(random_character(3290, rich=False))


def test_what_was_too_much_to_be_looked_at_is_not_ruled_out() -> None:
    assert compare(remembering_character(378))


@pytest.mark.long
@pytest.mark.parametrize("kind", KINDS)
def test_checks_after_edits_say_what_new_checks_say(kind: str) -> None:
    for seed in range(8):
        hold(KINDS[kind](seed), seed, Effort(followed=0, heavy=0))


def with_places(character: Character, most: int) -> Report:
    """The report when playheads that come to more places are left open, where a phase is kept or something reads them."""
    return check_character(character, work=Work(effort=Effort(playheads=most)))


@pytest.mark.long(but=1)
@pytest.mark.parametrize("chunk", range(CHUNKS))
def test_nothing_is_claimed_of_playheads_left_open_that_is_not_so(chunk: int) -> None:
    seen: Counter[bool] = Counter()
    for seed in range(chunk, 3 * COUNT, CHUNKS):
        character = random_character(seed)
        exact, opened = with_places(character, 10**9), with_places(character, -(10**9))
        if not exact.complete or exact.aborted:
            continue
        try:
            hold_against(character, exact, opened)
        except AssertionError as error:
            raise AssertionError(f"seed {seed}: {error}") from error
        seen[bool(opened.aborted)] += 1
    assert seen[True] > seen[False] / 20, "hardly any playhead is left open"


@pytest.mark.long(but=3)
@pytest.mark.parametrize("chunk", range(CHUNKS))
def test_nothing_is_claimed_of_ages_left_open_that_is_not_so(chunk: int) -> None:
    compared = 0
    for seed in (*range(chunk, 3 * COUNT, CHUNKS), *[1157] * (chunk == 0)):
        character = random_character(seed)
        conditions = [way.when for layer in character.layers for way in layer.transitions]
        if not any("since(" in when or "buffered" in when for when in conditions):
            continue
        exact = check_character(character, work=Work(effort=Effort(followed=10**9, ages=10**9)))
        opened = check_character(character, work=Work(effort=Effort(followed=0, ages=0)))
        if exact.complete and not exact.aborted:
            compared += 1
            try:
                hold_against(character, exact, opened)
                if opened.complete:
                    assert not said(exact).keys() - said(opened).keys(), "something is left out"
            except AssertionError as error:
                raise AssertionError(f"seed {seed}: {error}") from error
    assert compared > 3 * COUNT / CHUNKS / 10


SEEDS = {
    707: "states that a freeze in such a clip can delay are not said to be reached sooner",
    3640: "a flicker that goes on elsewhere in its clip on the next lap is not said to go on for ever",
}


@pytest.mark.parametrize("seed", SEEDS, ids=SEEDS.get)
def test_of_playheads_left_open(seed: int) -> None:
    character = random_character(seed)
    hold_against(character, with_places(character, 10**9), with_places(character, -(10**9)))
