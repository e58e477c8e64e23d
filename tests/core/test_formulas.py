"""Parameters that are computed from others: in order, again after every effect, and however they build on each other."""

from __future__ import annotations

import random

import pytest

from leanstep.core.character.blends import Axis, BlendSpace, Sample
from leanstep.core.character.clips import Cel, Clip, Effect, Span
from leanstep.core.character.document import Character
from leanstep.core.character.graph import Layer, State
from leanstep.core.character.inputs import Parameter
from leanstep.core.conditions import expression as x
from leanstep.core.findings.report import check_character
from leanstep.core.graph.compilation import compile_character
from leanstep.core.proof.reduce.inlining import written_out
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.traces import Player
from tests.property.test_engine_against_plain import agree
from tests.support.build import sketch, way


def formulas(*texts: str, first: str = "speed") -> tuple[Parameter, ...]:
    """``f0`` is computed by the first text and so on, each with a wide range."""
    made = (Parameter(name=f"f{at}", owner="formula", formula=text) for at, text in enumerate(texts))
    return (Parameter(name=first, min=0, max=8), *made)


def doubling(levels: int) -> Character:
    """Each formula is the sum of the next with itself; the last one is speed."""
    texts = [*(f"f{at + 1} + f{at + 1}" for at in range(levels)), "speed"]
    return sketch(way("a>b", "f0 > 3"), way("b>a", "f0 < 2"), parameters=formulas(*texts))


@pytest.mark.parametrize("levels", [3, 24, 60])
def test_formulas_that_use_others_twice_are_computed_and_checked(levels: int) -> None:
    machine = compile_character(doubling(levels))
    assert not machine.faults
    speed, result = machine.index["speed"], machine.index["f0"]
    step = Stepper(machine, free=True).step(Stepper(machine, free=True).first(), {speed: 0.25})
    assert step.situation.values[result] == min(0.25 * 2**levels, 1e6)
    report = check_character(doubling(levels))
    assert not report.complete and not [one for one in report.findings if one.verdict == "proved"]
    assert ("what the formula of f0 comes to" in report.aborted) == (levels > 3)


@pytest.mark.parametrize("length", [160, 1500])
def test_a_long_chain_of_formulas_is_computed_and_checked(length: int) -> None:
    texts = [*(f"f{at + 1} + 1" for at in range(length)), "speed"]
    character = sketch(way("a>b", f"f0 > {length + 3}"), way("b>a", "speed < 1"), parameters=formulas(*texts))
    machine = compile_character(character)
    agree(machine, True, random.Random(length), 20)
    assert {one.name for one in check_character(character).states} == {"a", "b"}


def test_formulas_that_need_each_other_are_named_and_others_are_not_spoilt() -> None:
    texts = ("f1 + 1", "f2", "f0 * 2", "speed", "f1")
    character = sketch(way("a>b", "f3 > 2"), way("b>a", "f4 > 2"), parameters=formulas(*texts))
    found = {one.details.get("parameter"): one.sentence for one in check_character(character).findings}
    for name in ("f0", "f1", "f2"):
        assert "f0 needs f1" in found[name] and "f1 needs f2" in found[name] and "f2 needs f0" in found[name]
    assert "the formula of f1 is broken" in found["f4"]
    assert "f3" not in found


def test_an_assumption_may_not_rest_on_what_effects_set_by_way_of_formulas() -> None:
    drawn = Parameter(name="drawn", kind="flag", owner="graph")
    parameters = (drawn, Parameter(name="ready", kind="flag", owner="formula", formula="drawn"))
    character = sketch(way("a>b"), way("b>a"), parameters=parameters, assumptions=("ready",))
    assert "drawn is set by effects" in " ".join(one.sentence for one in check_character(character).findings)


def shown_by_gear() -> Character:
    """A blend space over a formula of a parameter that is set on entry, and a layer that asks for it on the same tick."""
    clips = tuple(Clip(name=name, sheet="art", cels=(Cel(frame=0, ticks=8),)) for name in ("slow", "fast"))
    clips += (
        Clip(name="once", sheet="art", cels=(Cel(frame=0, ticks=4),), spans=(Span(name="on", end=2, hold="lit"),)),
    )
    blend = BlendSpace(
        name="gait",
        axes=(Axis(parameter="pace", min=0, max=20),),
        samples=(Sample(at=(0,), clip="slow"), Sample(at=(20,), clip="fast")),
    )
    parameters = (
        Parameter(name="go", kind="flag"),
        Parameter(name="gear", kind="whole", owner="graph", min=0, max=2),
        Parameter(name="lit", kind="flag", owner="graph"),
        Parameter(name="pace", owner="formula", formula="gear * 10", min=0, max=20),
        Parameter(name="dark", kind="flag", owner="formula", formula="not lit"),
    )
    states = (
        State(name="rest", clip="once", on_entry=(Effect(do="set", name="gear", value=0),)),
        State(name="run", blend="gait", on_entry=(Effect(do="set", name="gear", value=2),)),
    )
    upper = Layer(
        name="upper",
        states=(State(name="still"), State(name="lean")),
        transitions=(way("still>lean", "pace > 15 and dark"), way("lean>still", "not (pace > 15)")),
    )
    made = sketch(way("rest>run", "go"), way("run>rest", "not go"), states=states, parameters=parameters)
    layers = (*made.layers, upper)
    return Character(name="Gears", parameters=parameters, clips=clips, blends=(blend,), layers=layers)


def test_formulas_are_computed_after_entry_effects_and_before_the_first_pick() -> None:
    machine = compile_character(shown_by_gear())
    stepper = Stepper(machine, free=True)
    step = stepper.step(stepper.first(), {machine.index["go"]: True})
    assert step.fired == (0, 0)
    assert step.situation.values[machine.index["pace"]] == 20.0
    assert step.situation.picks[0] == 1
    trace = Player(machine, True).play([(0, machine.index["go"], True)], 3)
    assert [one.situation.picks[0] for one in trace.steps] == [1, 1, 1]


def test_a_flag_held_by_a_span_reaches_formulas_on_its_tick() -> None:
    machine = compile_character(shown_by_gear())
    lit, dark = machine.index["lit"], machine.index["dark"]
    stepper = Stepper(machine, free=True)
    now = stepper.first()
    for _ in range(6):
        assert now.values[dark] is not now.values[lit]
        now = stepper.step(now, {}).situation


@pytest.mark.parametrize("seed", range(20))
def test_both_engines_agree_on_formulas_effects_and_spans(seed: int) -> None:
    agree(compile_character(shown_by_gear()), True, random.Random(seed), 60)


def test_a_proof_sees_formulas_as_what_they_stand_for() -> None:
    parameters = formulas("f1 * 2", "f2", "speed + 1")
    ways = (way("a>b", "f0 > 12"), way("b>a", "f0 < 6"), way("a>c", "f0 > 18"))
    character = sketch(*ways, states="a b c", parameters=parameters)
    conditions = [one.condition for one in written_out(compile_character(character)).layers[0].ways[0]]
    assert {symbol for one in conditions if one is not None for symbol in x.symbols_in(one)} == {0}
    report = check_character(character)
    assert report.complete and {one.name: one.free for one in report.states}["b"] == "reachable"
    assert "state.unreachable" in {one.id for one in report.findings if one.details.get("state") == "c"}


def test_a_blend_space_over_a_choice_is_a_fault_and_shows_its_first_clip() -> None:
    made = shown_by_gear()
    mood = Parameter(name="pace", kind="choice", choices=("one", "another"))
    parameters = tuple(mood if one.name == "pace" else one for one in made.parameters)
    spoilt = Character(name="Spoilt", parameters=parameters, clips=made.clips, blends=made.blends, layers=made.layers)
    machine = compile_character(spoilt)
    assert "reads numbers and bearings, and pace is a choice" in [one.fault.reason for one in machine.faults][-1]
    agree(machine, True, random.Random(1), 20)
