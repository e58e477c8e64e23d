"""Regions stand for every value, and judging sets agrees with deciding values."""

from __future__ import annotations

import itertools
import random

import pytest

from leanstep.core.conditions import expression as x
from leanstep.core.conditions.closures import truth
from leanstep.core.conditions.evaluation import Moment, Symbolic, decide
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.machine import Machine
from leanstep.core.proof.reduce.slices import slices
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.values.predicates import Regional, Setting
from leanstep.core.proof.values.regions import regions_of
from tests.support.build import sketch, way
from tests.support.random_characters import random_character


def conditions_of(machine: Machine) -> list[x.Expression]:
    """Every condition that is about values alone."""
    found = [way.condition for layer in machine.layers for row in layer.ways for way in row if way.condition]
    past = x.Remembered | x.Stayed | x.ClipOver | x.ClipAt | x.SpanOn | x.Active | x.SinceLeft | x.Buffered
    return [one for one in [*found, *machine.assumptions] if not any(isinstance(part, past) for part in x.parts(one))]


def judging(machine: Machine) -> Regional:
    """Judges of a machine whose clips and past do not matter."""
    return Regional(machine, regions_of(machine), lambda layer, state: False, lambda atom: True)


def any_value(symbol: x.Symbol, pick: random.Random) -> Symbolic:
    """Some value of a symbol, often near round numbers."""
    if symbol.kind in ("flag", "pulse", "button"):
        return pick.random() < 0.5
    if symbol.kind == "choice":
        return pick.choice(symbol.choices)
    if symbol.kind == "whole":
        return float(pick.randint(int(symbol.low), int(symbol.high)))
    near = pick.choice([-2.0, -1.0, -0.5, 0.0, 0.5, 1.0, 2.0]) + pick.choice([0.0, 0.0, 1e-12, -1e-12, 0.3])
    return min(max(near if pick.random() < 0.7 else pick.uniform(symbol.low, symbol.high), symbol.low), symbol.high)


@pytest.mark.parametrize("seed", range(60))
def test_every_value_reads_like_one_of_the_values_that_stand_for_it(seed: int) -> None:
    machine = compile_character(random_character(seed))
    regions = regions_of(machine)
    conditions = conditions_of(machine)
    pick = random.Random(seed)

    def truths(values: list[Symbolic]) -> tuple[bool, ...]:
        return tuple(decide(one, Moment(values)) for one in conditions)

    for _ in range(20):
        values = [any_value(symbol, pick) if symbol.free else symbol.first for symbol in machine.symbols]
        for index in machine.free:
            stand_ins = [[*values[:index], value, *values[index + 1 :]] for value in regions.values[index]]
            assert truths(values) in {truths(one) for one in stand_ins}


@pytest.mark.parametrize("seed", range(60))
def test_judging_single_values_and_sets_agrees_with_deciding(seed: int) -> None:
    machine = compile_character(random_character(seed))
    regions = regions_of(machine)
    regional = judging(machine)
    first = [symbol.first for symbol in machine.symbols]
    pick = random.Random(seed)
    for condition in conditions_of(machine):
        judge = regional.judge(condition)
        for _ in range(12):
            masks = [pick.randint(1, full) for full in regional.full]
            options = [
                [value for bit, value in enumerate(regions.values[index]) if mask >> bit & 1]
                if machine.symbols[index].free
                else [first[index]]
                for index, mask in enumerate(masks)
            ]
            answers = {
                decide(condition, Moment(list(values)))
                for values in itertools.islice(itertools.product(*options), 3000)
            }
            setting = Setting(list(masks), Moment(list(first)))
            judged = judge(setting)
            if judged is None:
                part = setting.part
                assert part and part & masks[setting.symbol] == part and part != masks[setting.symbol]
            else:
                assert answers == {judged}


@pytest.mark.parametrize(
    ("condition", "count"),
    [
        ("speed > 2", 3),
        ("speed >= 0", 2),
        ("speed > 8", 2),
        ("speed between 1 and 2", 5),
        ("lives = 2", 3),
        ("lives > 0.5", 2),
        ("grounded", 2),
    ],
)
def test_a_symbol_has_no_more_regions_than_its_conditions_need(condition: str, count: int) -> None:
    machine = compile_character(sketch(way("a>b", condition)))
    condition_symbols = x.symbols_in(machine.layers[0].ways[0][0].condition)
    (symbol,) = condition_symbols
    assert len(regions_of(machine).values[symbol]) == count


def test_values_that_stand_for_intervals_are_round_and_at_rest_where_they_can_be() -> None:
    machine = compile_character(sketch(way("a>b", "speed > 2 and speed < 5")))
    assert regions_of(machine).values[machine.index["speed"]] == (0.0, 2.0, 4.0, 5.0, 6.0)


def test_comparisons_of_two_numbers_that_are_no_sums_stay_open_and_say_so() -> None:
    (part, _), *_ = slices(compile_character(sketch(way("a>b", "speed * lives > 3"))))
    assert FreeWorld(part).doubts == ["a comparison of lives and speed"]
    (part, _), *_ = slices(compile_character(sketch(way("a>b", "lives > 1 and speed > 1"))))
    assert not FreeWorld(part).doubts


@pytest.mark.parametrize("seed", range(80))
def test_conditions_as_functions_say_what_deciding_them_says(seed: int) -> None:
    machine = compile_character(random_character(seed))
    conditions = [way.condition for layer in machine.layers for row in layer.ways for way in row if way.condition]
    conditions += [memory.operand for memory in machine.memories]
    pick = random.Random(seed)
    for _ in range(20):
        count = len(machine.layers)
        moment = Moment(
            values=[any_value(symbol, pick) for symbol in machine.symbols],
            held_before=frozenset(index for index in range(len(machine.symbols)) if pick.random() < 0.5),
            states=[pick.randrange(len(layer.states)) for layer in machine.layers],
            stays=[pick.randrange(5) for _ in range(count)],
            playheads=[pick.randrange(3 * 65536) for _ in range(count)],
            lengths=[pick.choice([0, 65536, 131072]) for _ in range(count)],
            loops=[pick.random() < 0.5 for _ in range(count)],
            over=[pick.random() < 0.5 for _ in range(count)],
            spans=frozenset(name for name in ("swing_span", "sway_span") if pick.random() < 0.5),
            ages={index: pick.randrange(4) for index in range(len(machine.symbols)) if pick.random() < 0.5},
            since={place: pick.randrange(4) for place, _ in machine.clocks if pick.random() < 0.5},
            memories=[pick.random() < 0.5 for _ in machine.memories],
        )
        for condition in conditions:
            assert truth(condition)(moment) is decide(condition, moment)
