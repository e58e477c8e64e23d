"""The compiled engine does on every tick what the plain stepper does."""

from __future__ import annotations

import os
import random

import pytest

from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.files import load
from leanstep.core.character.graph import State
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal import traces
from leanstep.core.rehearsal.engine.engine import Engine
from leanstep.core.rehearsal.engine.engine_trace import PART, EngineTrace
from leanstep.core.rehearsal.situation import Setting
from leanstep.core.rehearsal.step_trace import StepTrace, spread
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.traces import Player, Trace
from tests.support.build import DEMO, sketch, way
from tests.support.random_characters import acting_character, counting_character, random_character, turning_character

LONG = bool(os.environ.get("LEANSTEP_LONG"))


def anything(rng: random.Random, machine: Machine, ticks: int) -> list[Setting]:
    """Inputs that change now and then."""
    found: list[Setting] = []
    for tick in range(ticks):
        for index, symbol in enumerate(machine.symbols):
            if not symbol.free or rng.random() > 0.15:
                continue
            if symbol.kind in ("flag", "pulse", "button"):
                found.append((tick, index, rng.random() < 0.6))
            elif symbol.kind == "choice":
                found.append((tick, index, rng.choice(symbol.choices)))
            else:
                value = rng.uniform(max(symbol.low, -20.0), min(symbol.high, 20.0))
                whole = symbol.kind == "whole" or rng.random() < 0.5
                value = float(round(value)) if whole else value
                found.append((tick, index, min(max(value, symbol.low), symbol.high)))
    return found


def agree(machine: Machine, free: bool, rng: random.Random, ticks: int) -> None:
    """Play the same inputs in both engines; what they say of a tick is the same to the last bit."""
    changes = anything(rng, machine, ticks)
    stepper, tape = Stepper(machine, free), EngineTrace(Engine(machine, free))
    assert list(tape.play(changes, ticks))[-1] == len(tape) == ticks
    situation = stepper.first()
    assert repr(tape.engine.situation(*tape.engine.first)) == repr(situation)
    for tick in range(ticks):
        step = stepper.step(situation, {index: value for at, index, value in changes if at == tick})
        assert repr(tape[tick]) == repr(step), tick
        situation = step.situation


@pytest.mark.long(but=4)
@pytest.mark.parametrize("chunk", range(10))
def test_random_characters_do_the_same_in_both_engines_in_either_world(chunk: int) -> None:
    for seed in range(chunk * 60, chunk * 60 + (60 if LONG else 24)):
        agree(compile_character(random_character(seed)), seed % 2 == 0, random.Random(seed), 60)


@pytest.mark.parametrize("chunk", range(4))
def test_characters_with_phases_do_the_same_in_both_engines(chunk: int) -> None:
    for seed in range(chunk * 60, chunk * 60 + (60 if LONG else 12)):
        agree(compile_character(acting_character(seed)), seed % 2 == 0, random.Random(seed), 60)


@pytest.mark.parametrize("chunk", range(4))
def test_characters_with_countdowns_do_the_same_in_both_engines(chunk: int) -> None:
    for seed in range(chunk * 60, chunk * 60 + (60 if LONG else 12)):
        agree(compile_character(counting_character(seed)), seed % 2 == 0, random.Random(seed), 60)


@pytest.mark.long(but=1)
@pytest.mark.parametrize("chunk", range(10))
def test_characters_that_go_by_directions_do_the_same_in_both_engines_in_either_world(chunk: int) -> None:
    for seed in range(chunk * 300, chunk * 300 + (300 if LONG else 90)):
        agree(compile_character(turning_character(seed)), seed % 2 == 0, random.Random(seed), 24)


@pytest.mark.long(but=3)
@pytest.mark.parametrize("seed", range(4))
def test_the_lamplighter_does_the_same_in_both_engines_with_the_body_and_over_the_seam_between_parts(seed: int) -> None:
    agree(compile_character(load(DEMO / "lamplighter.leanstep")), False, random.Random(seed), PART + 100)


def test_a_batch_of_takes_ends_and_enters_what_each_take_does_on_its_own() -> None:
    machine = compile_character(load(DEMO / "lamplighter.leanstep"))
    engine = Engine(machine)
    takes = [(anything(random.Random(seed), machine, 200), 200) for seed in range(30)]
    batch = engine.play_many(takes)
    for number, (changes, ticks) in enumerate(takes):
        tape = EngineTrace(engine)
        list(tape.play(changes, ticks))
        assert repr(engine.situation(batch.counts[number], batch.values[number])) == repr(tape[-1].situation)
        entered, taken = {}, {}  # type: ignore[var-annotated]
        for layer in range(len(machine.layers)):
            for tick, state in tape.entries(layer):
                entered.setdefault((layer, state), tick)
                taken.setdefault((layer, tape[tick].fired[layer]), tick)
        states = [(layer, state) for layer, table in enumerate(machine.layers) for state in range(len(table.states))]
        ways = [(layer, way) for layer, table in enumerate(machine.layers) for way in range(table.count)]
        assert batch.entered[number].tolist() == [entered.get(key, -1) for key in states]
        assert batch.taken[number].tolist() == [taken.get(key, -1) for key in ways]
        assert max(batch.taken[number]) > 0


@pytest.mark.parametrize("seed", range(12))
def test_a_trace_reads_the_same_from_rows_of_numbers_as_from_steps(seed: int) -> None:
    machine = compile_character(random_character(seed) if seed else load(DEMO / "lamplighter.leanstep"))
    free = seed % 2 == 1
    by_rows = Player(machine, free).play(anything(random.Random(seed), machine, 80), 80)
    by_steps = Trace(machine, by_rows.first, StepTrace(Stepper(machine, free), by_rows.steps))
    assert isinstance(by_rows.steps, EngineTrace) and list(by_rows.bodies()) == list(by_steps.bodies())
    assert list(by_rows.values()) == list(by_steps.values())
    everything = range(len(machine.symbols))
    assert by_rows.moving(everything) == by_steps.moving(everything)
    for layer in range(len(machine.layers)):
        assert by_rows.states(layer) == by_steps.states(layer)
        assert by_rows.entries(layer) == by_steps.entries(layer)
        assert by_rows.ribbon(layer) == by_steps.ribbon(layer)
    for index, symbol in enumerate(machine.symbols):
        if symbol.kind != "choice":
            assert by_rows.curve(index) == by_steps.curve(index)


def test_clips_too_long_for_the_tables_are_played_by_the_stepper() -> None:
    clip = Clip(name="sleep", sheet="art", cels=(Cel(frame=0, ticks=60_000.0),))
    states = (State(name="a", clip="sleep"), State(name="b"))
    machine = compile_character(sketch(way("a>b", "clip done"), way("b>a", "hurt"), states=states, clips=(clip,)))
    player = Player(machine, True)
    assert player.engine is None and "too" in player.unfit
    trace = player.play([(0, machine.index["hurt"], True)], 5)
    assert trace.states(0) == [0] * 5 and trace.after(5).tick == 5
    (last,) = list(player.go_on(player.start(), [{}]))
    assert last.states == (0,) and last.tick == 1
    assert player.until(0, player.start(), [{}] * 7)[-3:-1] == ((-1,), 7)


@pytest.mark.parametrize("seed", range(12))
def test_going_on_until_a_transition_stops_on_the_same_tick_in_both_engines(
    seed: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    machine = compile_character(random_character(seed))
    compiled, plain = Player(machine, True), Player(machine, True)
    with monkeypatch.context() as early:
        early.setattr(traces, "is_ready", lambda: False)
        other = plain.start()  # from before the compiled engine was ready: it goes on as it began
    rows = spread(anything(random.Random(seed), machine, 60), 60)
    seen = compiled.start()
    while seen.tick < 60:
        ticks = compiled.go_on(seen, rows[seen.tick :])
        one, two = (player.until(0, at, rows[seen.tick :]) for player, at in ((compiled, seen), (plain, other)))
        assert one[:-1] == two[:-1]
        assert one[:-1] == next(tick[:-1] for tick in ticks if tick.fired[0] >= 0 or tick.tick == 60)
        seen, other = one, two
