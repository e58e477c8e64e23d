"""What a check says when it follows no memory is what it says when it follows them all, or it is undecided."""

from __future__ import annotations

import os
from collections import Counter
from collections.abc import Callable

import pytest

from leanstep.core.character.model import Character
from leanstep.core.findings import model
from leanstep.core.findings.model import Finding
from leanstep.core.findings.report import Report, check_character
from tests.property.test_rechecks import hold
from tests.support.random_characters import random_character, remembering_character

COUNT = int(os.environ.get("LEANSTEP_OPEN", "120"))
"""Random characters that are compared, of a kind."""

CHUNKS = 4

Make = Callable[[int], Character]

KINDS: dict[str, Make] = {
    "remembering": remembering_character,
    "plain": lambda seed: random_character(seed, rich=False),
    "rich": random_character,
}


def reported(character: Character, most: int) -> Report:
    """The report when memories are followed up to so many combinations."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(model, "HEAVY", most)
        return check_character(character)


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
    about, layer = one.subject, one.subject.get("layer")
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
    true, claimed = said(exact), said(opened)
    lost = {(one.layer, one.name) for one in exact.states if one.free == "unreachable"}
    for key, verdict in claimed.items():
        if verdict != "undecided" and key not in true:
            assert _left_out(character, key, true, lost), f"{key} is {verdict}, which is not so"
    if opened.complete:
        assert not true.keys() - claimed.keys(), "something is left out"
    for sure, told in zip(exact.states, opened.states):
        assert told.free in (sure.free, "undecided")
        assert told.ticks is None or sure.ticks is None or told.ticks >= sure.ticks
    return Counter((opened.complete and "complete") or "open" for _ in [0])


def _left_out(
    character: Character, key: tuple[object, ...], true: dict[tuple[object, ...], str], lost: set[tuple[str, str]]
) -> bool:
    """Whether something is so, but not listed beside something else that is only known with memories."""
    kind, layer, subject, *_ = key
    if kind == "flash":
        return any((flicker, layer, subject) in true for flicker in ("flicker.steady", "flicker.restart"))
    if kind == "transition.never":
        table = next(one for one in character.layers if one.name == layer)
        return (str(layer), table.transitions[int(str(subject))].source) in lost
    return False


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


@pytest.mark.parametrize("kind", KINDS)
def test_checks_after_edits_say_what_new_checks_say(kind: str, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(model, "HEAVY", 0)
    for seed in range(8):
        hold(KINDS[kind](seed), seed)
