"""The bar under a condition against the plainest way to ask: every value on its own."""

from __future__ import annotations

import pytest

from leanstep.core.conditions.evaluation import decide
from leanstep.core.conditions.ranges import Range, ranges, read_numbers
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.stepping import Stepper, moment_of
from tests.support.build import sketch, way


def _condition(when: str) -> Machine:
    machine = compile_character(sketch(way("a>b", when)))
    assert not machine.faults
    return machine


def _ranges(when: str, **inputs: object) -> list[Range]:
    machine = _condition(when)
    condition = machine.layers[0].ways[0][0].condition
    assert condition is not None
    now = Stepper(machine, free=True).step(
        Stepper(machine, free=True).first(),
        {machine.index[name]: value for name, value in inputs.items()},  # type: ignore[misc]
    )
    moment = moment_of(machine, now.situation)
    speed = machine.index["speed"]
    assert speed in read_numbers(condition, machine.symbols, machine.memories)
    found = ranges(condition, speed, machine.symbols, machine.memories, moment)
    for step in range(801):
        moment.values[speed] = step / 100
        # what is remembered counts as if it had been kept
        for index, memory in enumerate(machine.memories):
            moment.memories[index] = decide(memory.operand, moment)
        now_true = [one for one in found if one.now and one.low <= step / 100 <= one.high]
        at_a_cut = any(step / 100 in (one.low, one.high) for one in found)
        assert decide(condition, moment) == bool(now_true) or at_a_cut, step / 100
    return found


def test_a_comparison_is_true_from_its_constant_on() -> None:
    assert _ranges("speed > 3") == [Range(3.0, 8.0, True)]
    assert _ranges("speed between 1 and 4") == [Range(1.0, 4.0, True)]
    assert _ranges("speed != 2") == [Range(0.0, 2.0, True), Range(2.0, 8.0, True)]


def test_where_the_rest_is_missing_it_only_can_be_true() -> None:
    assert _ranges("speed > 3 and grounded") == [Range(3.0, 8.0, False)]
    assert _ranges("speed > 3 and grounded", grounded=True) == [Range(3.0, 8.0, True)]
    assert _ranges("speed > 3 and stay >= 0.5 s") == [Range(3.0, 8.0, False)]
    assert _ranges("speed > 3 or grounded") == [Range(0.0, 3.0, False), Range(3.0, 8.0, True)]


def test_what_is_remembered_counts_as_kept() -> None:
    assert _ranges("speed < 2 for 0.3 s") == [Range(0.0, 2.0, True)]


@pytest.mark.parametrize("when", ["speed * 2 > 5", "abs(speed - 4) < 1", "not (speed < 2 or speed > 6)"])
def test_sums_are_as_fine_as_the_grid(when: str) -> None:
    machine = _condition(when)
    condition = machine.layers[0].ways[0][0].condition
    assert condition is not None
    moment = moment_of(machine, Stepper(machine).first())
    found = ranges(condition, machine.index["speed"], machine.symbols, machine.memories, moment)
    for step in range(100):
        moment.values[machine.index["speed"]] = value = step / 12.5
        drawn = any(one.low - 0.1 <= value <= one.high + 0.1 for one in found)
        assert drawn or not decide(condition, moment), value
    assert sum(one.high - one.low for one in found) < 6


def test_a_single_value_is_a_range_of_its_own() -> None:
    machine = compile_character(sketch(way("a>b", "lives = 2")))
    condition = machine.layers[0].ways[0][0].condition
    assert condition is not None
    moment = moment_of(machine, Stepper(machine).first())
    assert ranges(condition, machine.index["lives"], machine.symbols, machine.memories, moment) == [Range(2, 2, True)]
