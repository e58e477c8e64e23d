"""The proof says of random characters what trying everything says."""

from __future__ import annotations

import os
from collections.abc import Callable
from typing import Any

import pytest

from leanstep.core.character.document import Character
from leanstep.core.graph.compilation import compile_character
from leanstep.core.proof.reduce.slices import acts_of, slices
from leanstep.core.proof.search.reach import Reach
from leanstep.core.proof.search.reachability import explore
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.verdicts import closed_sets
from leanstep.core.proof.verdicts.events import contests, stuck
from leanstep.core.proof.verdicts.flashes import flashes
from leanstep.core.proof.verdicts.flicker import flickers
from leanstep.core.proof.verdicts.marks import marks_of
from leanstep.core.proof.verdicts.resting import restless
from leanstep.core.proof.verdicts.wobble import wobbles
from tests.support.plain import Plain, enumerate_verdicts
from tests.support.random_characters import (
    acting_character,
    counting_character,
    mixed_character,
    random_character,
    slow_character,
    turning_character,
)

LONG = bool(os.environ.get("LEANSTEP_LONG"))
COUNT = int(os.environ.get("LEANSTEP_RANDOM", "5000" if LONG else "600"))
"""Characters on which the proof and enumeration must agree."""

MOST = int(os.environ.get("LEANSTEP_RANDOM_TICKS", "160"))
"""Ticks that are tried to enumerate one; larger characters are left out."""

SLOW = int(os.environ.get("LEANSTEP_RANDOM_SLOW", "24" if LONG else "12"))
"""Characters with a limit on which they must agree."""

TURNING = int(os.environ.get("LEANSTEP_RANDOM_TURNING", "3000" if LONG else "260"))
"""Characters that go by a bearing, with blend spaces, on which they must agree."""
LARGE = 240 if LONG else 24
"""How many of these are large."""

CHUNKS = 40


def compare(seed: int, most: int = MOST, make: Callable[[int], Character] = random_character) -> bool:
    """Hold one character's verdicts against enumeration; False when it is too large to enumerate."""
    character = make(seed)
    machine = compile_character(character)
    plain = enumerate_verdicts(machine, most)
    if plain is None:
        return False
    found = [(layers, explore(FreeWorld(part))) for part, layers in slices(machine)]
    assert plain.impossible == any(reach.stuck >= 0 for _, reach in found)
    for layers, reach in found if not plain.impossible else ():
        assert reach.complete, reach.aborted
        agree(reach, layers, plain)
    return True


def agree(reach: Reach, layers: tuple[int, ...], plain: Plain) -> None:
    """Hold everything a slice's search says about ``layers`` against enumeration."""

    def of(table: dict[Any, Any]) -> dict[Any, Any]:
        return {key: value for key, value in table.items() if key[0] in layers}

    def among(found: set[Any]) -> set[Any]:
        return {key for key in found if key[0] in layers}

    depths = {key: reach.depths[place] for key, place in reach.entered.items() if key[0] in layers}
    assert depths == of(plain.depths)
    assert {(layer, closed) for layer in layers for closed in closed_sets.closed_sets(reach, layer)} == among(
        plain.dead_ends
    )
    traps = {
        (layer, state): reach.depths[place]
        for layer in layers
        for state, place in closed_sets.traps(reach, layer).items()
    }
    assert traps == of(plain.traps)
    idle = closed_sets.idle_transitions(reach, layers)
    assert {(one.layer, one.transition) for one in idle if one.kind == "shadowed"} == among(plain.shadowed)
    assert {(one.layer, one.transition) for one in idle if one.kind != "shadowed"} == among(plain.never)
    flickering = {(one.layer, one.states): one.ticks for one in flickers(reach, layers).found}
    shown, possible = (
        {(layer, state, len(states) > 1) for layer, states in found for state in states}
        for found in (flickering, of(plain.flickers))
    )
    assert shown == possible
    for key, ticks in flickering.items():
        assert plain.flickers[key][0] <= ticks <= plain.flickers[key][1]
    tired = restless(reach, layers)
    assert {(one.layer, one.states): one.ticks(reach) for one in tired} == of(plain.no_rest)
    assert {(one.layer, one.state): one.ticks for one in flashes(reach, layers)} == of(plain.flashes)
    marks = marks_of(reach, layers)
    assert among(set(marks.fired)) == among(plain.marks)
    assert {key: cut.tick + 1 for key, cut in marks.missed.items() if key[0] in layers} == of(plain.missed)
    writers = [act.target for layer in layers for act in acts_of(reach.machine, layer) if act.do == "set"]
    written = {reach.machine.symbols[target].name for target in writers}
    caught = {one.name: reach.depths[one.place] for one in stuck(reach, layers)}
    assert caught == {name: ticks for name, ticks in plain.stuck.items() if name in written}
    assert {(one.layer, one.first, one.other) for one in contests(reach, layers)} == among(plain.orders)
    assert {(one.layer, one.states, one.symbol) for one in wobbles(reach, layers).found} == among(plain.wobbles)


@pytest.mark.long(but=5)
@pytest.mark.parametrize("chunk", range(CHUNKS))
def test_verdicts_agree_with_plain_enumeration(chunk: int) -> None:
    done, seed = 0, chunk
    while done < COUNT // CHUNKS:
        try:
            done += compare(seed)
        except AssertionError as error:
            raise AssertionError(f"seed {seed}") from error
        seed += CHUNKS


@pytest.mark.parametrize(
    "seed",
    [
        222,
        521,
        2852,
        23590,
        24261,
        30304,
        38134,
        99266,
        119825,
        206665,
        216187,
        303750,
        373189,
        615019,
        647033,
        1025205,
        7042515,
    ],
)
def test_characters_that_once_told_them_apart_agree(seed: int) -> None:
    assert compare(seed, 4000)


@pytest.mark.long
@pytest.mark.parametrize("chunk", range(4))
def test_verdicts_agree_where_a_number_changes_only_so_fast(chunk: int) -> None:
    done, seed = 0, chunk
    while done < SLOW // 4:
        try:
            done += compare(seed, 1500, slow_character)
        except AssertionError as error:
            raise AssertionError(f"seed {seed}") from error
        seed += 4


@pytest.mark.parametrize("chunk", range(2))
def test_verdicts_agree_where_a_number_is_compared_with_what_effects_count(chunk: int) -> None:
    done, seed = 0, chunk
    while done < SLOW:
        try:
            done += compare(seed, 600, mixed_character)
        except AssertionError as error:
            raise AssertionError(f"seed {seed}") from error
        seed += 2


@pytest.mark.parametrize("chunk", range(2))
def test_verdicts_agree_where_conditions_ask_for_phases(chunk: int) -> None:
    done, seed = 0, chunk
    while done < (300 if LONG else 25):
        try:
            done += compare(seed, MOST, acting_character)
        except AssertionError as error:
            raise AssertionError(f"seed {seed}") from error
        seed += 2


@pytest.mark.long
@pytest.mark.parametrize("chunk", range(2))
def test_verdicts_agree_where_conditions_ask_for_a_countdown(chunk: int) -> None:
    done, seed = 0, chunk
    while done < (300 if LONG else 25):
        try:
            done += compare(seed, 400, counting_character)
        except AssertionError as error:
            raise AssertionError(f"seed {seed}") from error
        seed += 2


@pytest.mark.long(but=2)
@pytest.mark.parametrize("chunk", range(16))
def test_verdicts_agree_where_conditions_are_about_a_bearing(chunk: int) -> None:
    large, done, seed = chunk < 4, 0, chunk
    while done < (LARGE // 4 if large else (TURNING - LARGE) // 12):
        try:
            done += compare(seed, 2000 if large else MOST, turning_character)
        except AssertionError as error:
            raise AssertionError(f"seed {seed}") from error
        seed += 16


def test_a_pair_that_flickers_with_a_restart_on_the_way_does_not_wobble() -> None:
    """One of its states restarts itself before it gives way, and needs nothing to move for that."""
    assert compare(909600)


def test_a_wobble_that_no_constant_value_leads_through_is_found() -> None:
    """One of its two states is always left on the tick on which the number comes to where it leaves it."""
    assert compare(5006, 6000, slow_character)
