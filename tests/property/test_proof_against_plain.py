"""The proof says of random characters what trying everything says."""

from __future__ import annotations

import math
import os
import random
from collections.abc import Callable, Collection
from typing import Any

import msgspec
import pytest

from leanstep.core.character.blends import Axis
from leanstep.core.character.clips import Mark, Span
from leanstep.core.character.document import Character
from leanstep.core.character.graph import Transition
from leanstep.core.conditions.expression import NUMERIC, SpanOn, parts
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.machine import Machine
from leanstep.core.proof.reduce.picks import picks_written_out
from leanstep.core.proof.reduce.slices import acts_of, slices
from leanstep.core.proof.search.reach import Reach
from leanstep.core.proof.search.reachability import explore
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.values.regions import regions_of
from leanstep.core.proof.verdicts import closed_sets
from leanstep.core.proof.verdicts.events import contests, stuck
from leanstep.core.proof.verdicts.flashes import flashes
from leanstep.core.proof.verdicts.flicker import flickers
from leanstep.core.proof.verdicts.marks import marks_of
from leanstep.core.proof.verdicts.resting import restless
from leanstep.core.proof.verdicts.wobble import wobbles
from leanstep.core.rehearsal.actions import Inputs
from leanstep.core.rehearsal.stepping import Stepper
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


def compare(
    seed: int, most: int = MOST, make: Callable[[int], Character] = random_character, aside: Collection[str] = ()
) -> bool:
    """Hold one character's verdicts against enumeration, but for marks put ``aside``; False when it is too large to enumerate."""
    character = make(seed)
    machine = compile_character(character)
    plain = enumerate_verdicts(picks_written_out(machine), most)
    if plain is None:
        return False
    plain.marks = {key for key in plain.marks if key[2] not in aside}
    plain.missed = {key: tick for key, tick in plain.missed.items() if key[2] not in aside}
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


def unlike(seed: int) -> Character:
    """A character with a blend space whose clips last as long and do the same, but differ in a mark and a span nobody reads."""
    character = turning_character(seed)
    twins = {
        clip.name: msgspec.structs.replace(
            clip,
            name=f"{clip.name} aside",
            marks=(Mark(name="aside", at=0.5), *clip.marks),
            spans=(*clip.spans, Span(name="aside", start=0, end=1)),
        )
        for clip in character.clips
    }
    blends = []
    for blend in character.blends:
        others = [msgspec.structs.replace(one, clip=twins[one.clip].name) for one in blend.samples[1::2]]
        samples = [one for pair in zip(blend.samples[::2], others) for one in pair]
        blends.append(msgspec.structs.replace(blend, samples=tuple(samples)))
    return msgspec.structs.replace(character, clips=(*character.clips, *twins.values()), blends=tuple(blends))


def asking(seed: int, sticky: float = 0.0) -> Character:
    """The same, with a blend space that one value picks, and conditions that ask for the span."""
    character, pick = unlike(seed), random.Random(seed)
    numbers = [one.name for one in character.parameters if one.kind in ("number", "whole") and one.owner == "game"]
    name = pick.choice(["heading", *numbers])
    axis = Axis(parameter=name) if name == "heading" else Axis(parameter=name, min=0, max=2)
    blends = []
    for blend in character.blends:
        samples = tuple(msgspec.structs.replace(one, at=one.at[:1]) for one in blend.samples)
        if name != "heading":
            samples = tuple(msgspec.structs.replace(one, at=(pick.choice([0.0, 0.5, 1.0, 2.0]),)) for one in samples)
        blends.append(msgspec.structs.replace(blend, axes=(axis,), sticky=sticky, samples=samples))

    def asks(one: Transition) -> Transition:
        words = pick.choice(["not span aside", "span aside", "span aside for 2 ticks"])
        return msgspec.structs.replace(one, when=words) if pick.random() < 0.4 else one

    layers = tuple(
        msgspec.structs.replace(one, transitions=tuple(map(asks, one.transitions))) for one in character.layers
    )
    # a border may lie right beside a constant, with no number in between for a wobble to stand for
    still = tuple(msgspec.structs.replace(one, wobble=0.0) for one in character.parameters)
    return msgspec.structs.replace(character, layers=layers, blends=tuple(blends), parameters=still)


def varies(machine: Machine) -> bool:
    return any(picture is not None and bool(picture.varying) for row in machine.pictures for picture in row)


def asks_for_spans(machine: Machine) -> bool:
    ways = (way for layer in machine.layers for row in layer.ways for way in row if way.condition is not None)
    asked = [*(way.condition for way in ways), *(memory.operand for memory in machine.memories)]
    return any(isinstance(part, SpanOn) for one in asked if one is not None for part in parts(one))


@pytest.mark.parametrize("make", [unlike, asking])
def test_verdicts_agree_where_clips_of_a_blend_space_differ(make: Callable[[int], Character]) -> None:
    done = 0
    for seed in range(600 if LONG else 120):
        machine = compile_character(make(seed))
        if varies(machine) and (make is unlike or not asks_for_spans(picks_written_out(machine))):
            try:
                done += compare(seed, 400, make, aside=("aside",))
            except AssertionError as error:
                raise AssertionError(f"seed {seed}") from error
    assert done > (60 if LONG else 8)


@pytest.mark.parametrize("sticky", [0.0, 0.3, 1.0])
def test_what_a_span_of_some_clips_is_written_out_as_is_true_on_the_same_ticks(sticky: float) -> None:
    changed = 0
    for seed in range(300 if LONG else 60):
        machine, pick = compile_character(asking(seed, sticky)), random.Random(seed)
        other = picks_written_out(machine)
        changed += other is not machine
        here, there = (Stepper(one, free=True) for one in (machine, other))
        now, then = here.first(), there.first()
        edges = [value for span in (regions_of(other).spans or ()) for one in span for value in (one.low, one.high)]
        for _ in range(60 if other is not machine else 0):
            inputs: Inputs = {}
            for index in machine.free:
                symbol = machine.symbols[index]
                if symbol.kind in NUMERIC:
                    near = min(max(pick.choice([0.0, *edges]), symbol.low), symbol.high)
                    value = pick.choice([near, math.nextafter(near, symbol.high), math.nextafter(near, symbol.low)])
                    inputs[index] = float(round(value)) if symbol.kind == "whole" else value
                else:
                    inputs[index] = pick.choice(symbol.choices) if symbol.choices else pick.random() < 0.5
            now, then = here.step(now, inputs).situation, there.step(then, inputs).situation
            assert (now.states, now.counters) == (then.states, then.counters), seed
    assert changed > 10


def test_a_pair_that_flickers_with_a_restart_on_the_way_does_not_wobble() -> None:
    """One of its states restarts itself before it gives way, and needs nothing to move for that."""
    assert compare(909600)


def test_a_wobble_that_no_constant_value_leads_through_is_found() -> None:
    """One of its two states is always left on the tick on which the number comes to where it leaves it."""
    assert compare(5006, 6000, slow_character)
