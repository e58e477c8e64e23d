"""A take that begins in the middle of another one does what that one did from there on, in every engine and out of its file."""

from __future__ import annotations

import random
from dataclasses import replace

import msgspec
import pytest

from leanstep.core.character.document import Character
from leanstep.core.character.files import dump, load, parse
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.machine import Machine
from leanstep.core.naming.references import Thing
from leanstep.core.naming.removing import without
from leanstep.core.naming.renaming import rename
from leanstep.core.rehearsal.engine.engine import Engine
from leanstep.core.rehearsal.saved_situations import beginning_of, situation_of
from leanstep.core.rehearsal.situation import Situation
from leanstep.core.rehearsal.step_trace import spread
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.takes import inputs_of, recorded, rehearse
from tests.property.test_engine_against_plain import anything
from tests.support.build import DEMO, sketch, way
from tests.support.random_characters import random_character


def later(character: Character, machine: Machine, free: bool, rng: random.Random, ticks: int) -> None:
    """Play, begin again at a tick somewhere in the middle, and compare."""
    rows = spread(anything(rng, machine, ticks), ticks)
    stepper, situation = Stepper(machine, free), Stepper(machine, free).first()
    seen = []
    for row in rows:
        seen.append(situation)
        situation = stepper.step(situation, row).situation
    cut = rng.randrange(1, ticks)
    take = recorded(machine, "middle", rows[cut:], "free" if free else "body", seen[cut])
    saved = parse(dump(msgspec.structs.replace(character, takes=(take,)))).takes[0]
    assert saved == take
    trace = rehearse(machine, saved)
    plain = situation_of(machine, saved.begins)
    for tick, row in enumerate(inputs_of(machine, saved)):
        step = stepper.step(plain, row)
        plain = step.situation
        expected = seen[cut + tick + 1] if cut + tick + 1 < ticks else situation
        assert repr(as_tick(plain, 0)) == repr(as_tick(expected, 0)), (cut, tick)
        assert repr(trace.steps[tick]) == repr(step), (cut, tick)
    engine = Engine(machine, free)
    assert repr(engine.situation(*engine.rows(seen[cut]))) == repr(seen[cut])


def as_tick(situation: Situation, tick: int) -> Situation:
    """The situation as if it were that of another tick."""
    return replace(situation, tick=tick)


@pytest.mark.long
@pytest.mark.parametrize("chunk", range(4))
def test_random_characters_go_on_from_any_tick(chunk: int) -> None:
    for seed in range(chunk * 50, chunk * 50 + 50):
        character = random_character(seed)
        later(character, compile_character(character), seed % 2 == 0, random.Random(seed), 40)


@pytest.mark.parametrize("seed", [*range(3), 14, 23])
def test_the_lamplighter_goes_on_from_any_tick_with_his_body(seed: int) -> None:
    character = load(DEMO / "lamplighter.leanstep")
    later(character, compile_character(character), False, random.Random(seed), 400)


def test_renaming_and_removing_reach_what_a_take_begins_with() -> None:
    character = load(DEMO / "lamplighter.leanstep")
    machine = compile_character(character)
    take = recorded(machine, "middle", [{}] * 5, start=Stepper(machine).first())
    character = msgspec.structs.replace(character, takes=(take,))
    renamed = rename(character, Thing("state", "idle", "base"), "rest").takes[0].begins
    assert renamed is not None and renamed.layers[0].state == "rest"
    gone = without(character, Thing("state", "idle", "base")).takes[0].begins
    assert gone is not None and [one.layer for one in gone.layers] == ["lantern"]
    other = compile_character(without(character, Thing("state", "idle", "base")))
    assert other.layers[0].states[situation_of(other, gone).states[0]] == other.character.layers[0].start_name


def test_a_memory_counts_on_in_another_version_where_it_is_the_same() -> None:
    calm, far = way("a>b", "speed < 2 for 0.5 s"), way("a>b", "not in base.b for 1 s and lives = 3")
    machine = compile_character(sketch(calm, far))
    situation = Stepper(machine).first()
    for _ in range(20):
        situation = Stepper(machine, free=True).step(situation, {}).situation
    begins = beginning_of(machine, situation)
    other = compile_character(sketch(way("b>a", "speed > 7 within 0.2 s"), far, calm))
    again = situation_of(other, begins)
    assert sorted(begins.memories.values()) == [20, 20] and sorted(again.counters) == [0, 20, 20]
    assert beginning_of(other, again).memories == begins.memories
