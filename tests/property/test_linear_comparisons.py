"""What linear comparisons allow together is what some values show."""

from __future__ import annotations

import itertools
import random
from fractions import Fraction

import pytest

from leanstep.core.character.graph import State
from leanstep.core.character.inputs import Parameter
from leanstep.core.conditions.evaluation import Moment, decide
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.machine import Machine
from leanstep.core.proof.reduce.slices import slices
from leanstep.core.proof.search.reachability import explore
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.values.simplex import most_slack
from leanstep.core.proof.verdicts.closed_sets import closed_sets, idle_transitions, traps
from leanstep.core.proof.verdicts.flashes import flashes
from leanstep.core.proof.verdicts.flicker import flickers
from leanstep.core.proof.verdicts.resting import restless
from leanstep.core.proof.witness.building import entering, flickering
from leanstep.core.proof.witness.shrinking import witness_of
from tests.support.build import sketch, way


def compared(rng: random.Random, names: str, plain: bool = False) -> str:
    """A comparison of two of these parameters; a ``plain`` one keeps whole numbers whole and asks for no exact value."""
    one, other = rng.sample(names, 2)
    factor = rng.choice([2, 3] if plain else [2, 0.5, 3])
    left = rng.choice([f"{one} + {other}", f"{one} * {factor} - {other}", f"{one}"])
    right = rng.choice([str(rng.randrange(-10, 30)), f"{other} + {rng.randrange(5)}"] + [f"{other} / 4"] * (not plain))
    return f"{left} {rng.choice(['<', '<=', '>', '>='] + ['=', '!='] * (not plain))} {right}"


def machine_of(conditions: list[str], kind: str, names: str = "xy") -> Machine:
    """A machine that asks each of these once."""
    high = 100 if kind == "whole" else 10
    parameters = tuple(Parameter(name=name, kind=kind, min=0, max=high) for name in names)  # type: ignore[arg-type]
    ways = (*(way("a>b", condition) for condition in conditions), way("b>a", "x > 3 and y > 4.5"))
    return compile_character(sketch(*ways, parameters=parameters))


@pytest.mark.long(but=6)
@pytest.mark.parametrize("kind", ["whole", "number"])
@pytest.mark.parametrize("seed", range(24))
def test_outcomes_go_together_exactly_when_some_values_show_them(seed: int, kind: str) -> None:
    rng = random.Random(seed)
    machine = machine_of([compared(rng, "xy") for _ in range(3)], kind)
    ((part, _),) = slices(machine)
    world = FreeWorld(part)
    together = world.together
    grid = range(101) if kind == "whole" else [at / 4 for at in range(41)]
    shown = set()
    for x, y in itertools.product(grid, grid):
        values = [float(x), float(y)]
        regions = [next(bit for bit, s in enumerate(world.spans[at]) if inside(s, values[at])) for at in (0, 1)]
        outcomes = together.outcomes(values)
        shown.add((*regions, *(outcomes[symbol] for symbol in sorted(outcomes))))
    counts = [range(len(world.spans[0])), range(len(world.spans[1]))]
    unsure = total = 0
    for first, second, *outcomes in itertools.product(*counts, *[(0b01, 0b10)] * len(together.open)):  # type: ignore[assignment]
        masks = [1 << first, 1 << second, *world.full[2:]]
        for symbol, outcome in zip(sorted(together.open), outcomes):
            masks[symbol] = outcome
        together.unsure.clear()
        possible = together.possible(tuple(masks))
        if (first, second, *outcomes) in shown:
            assert possible is True
        elif possible and not together.unsure:
            near = [world.spans[0][first].value, world.spans[1][second].value]
            values = together.values(tuple(masks), near)  # type: ignore[arg-type, assignment]
            assert all(inside(world.spans[at][bit], values[at]) for at, bit in ((0, first), (1, second)))
            assert [together.outcomes(values)[symbol] for symbol in sorted(together.open)] == outcomes
            assert kind == "number", "the grid has every whole number"
        unsure, total = unsure + bool(together.unsure), total + 1
    assert unsure <= total / 5


def inside(span: tuple[float, float, bool, bool, float], value: float) -> bool:
    """Whether a value lies in a region."""
    low, high, low_in, high_in, _ = span
    return low < value < high or (low_in and value == low) or (high_in and value == high)


@pytest.mark.parametrize("seed", range(60))
def test_the_most_slack_is_no_less_than_at_any_point_and_is_there_at_its_own(seed: int) -> None:
    rng = random.Random(seed)
    count, size = rng.randrange(1, 4), rng.randrange(1, 5)
    lows = [Fraction(rng.randrange(-5, 5)) for _ in range(count)]
    highs = [low + rng.randrange(0, 6) for low in lows]
    rows = [
        ([Fraction(rng.randrange(-3, 4)) for _ in range(count)], Fraction(rng.randrange(-9, 9))) for _ in range(size)
    ]
    slack, point = most_slack(rows, lows, highs)

    def slack_at(values: list[Fraction]) -> Fraction:
        return min(bound - sum(a * value for a, value in zip(row, values)) for row, bound in rows)

    assert slack_at(point) == slack
    assert all(low <= value <= high for low, value, high in zip(lows, point, highs))
    for corner in itertools.product(*([low, (low + high) / 2, high] for low, high in zip(lows, highs))):
        assert slack_at(list(corner)) <= slack


@pytest.mark.parametrize("seed", range(30))
def test_a_comparison_never_comes_out_on_the_far_side_of_its_margin(seed: int) -> None:
    rng = random.Random(seed)
    machine = machine_of(["x * 0.1 + y * 0.7 > 0.3 * x + 1.1"], "number")
    ((part, _),) = slices(machine)
    (linear,) = FreeWorld(part).together.open.values()
    for _ in range(300):
        x, y = rng.uniform(0, 10), rng.uniform(0, 10)
        if rng.random() < 0.7:  # as near to equal as doubles come
            y = (1.1 + 0.3 * x - 0.1 * x) / 0.7 + rng.choice([-1, 0, 1]) * 2.0**-52
        exact = linear.weights[0] * Fraction(x) + linear.weights[1] * Fraction(y) + linear.constant
        if decide(linear.compared, Moment([x, y])):
            assert exact > -linear.error
        else:
            assert exact <= linear.error


@pytest.mark.long(but=1)
@pytest.mark.parametrize("chunk", range(6))
def test_verdicts_are_those_of_trying_every_value(chunk: int) -> None:
    decided = 0
    for seed in range(chunk * 8, chunk * 8 + 8):
        rng = random.Random(seed)
        parameters = tuple(Parameter(name=name, kind="whole", min=0, max=4) for name in "xyz")
        states = "abcd"
        shown = tuple(State(name=name, restful=name == "a") for name in states)
        ways = []
        for state in states:
            for _ in range(rng.randrange(1, 4)):
                more = ["", f" and {compared(rng, 'xyz', True)}", " and stay >= 2 ticks", " for 2 ticks"]
                condition = compared(rng, "xyz", True) + rng.choice(more)
                ways.append(way(f"{state}>{rng.choice(states.replace(state, ''))}", condition))
        assumed = (compared(rng, "xyz", True),) if rng.random() < 0.3 else ()
        machine = compile_character(
            sketch(*ways, states=shown, parameters=parameters, assumptions=assumed, flicker_window=0.05)
        )
        by_value, by_outcome = (said(machine, small) for small in (64, 0))
        if by_outcome is not None:
            decided += 1
            assert by_value == by_outcome, seed
    assert decided >= 5


def said(machine: Machine, small: int) -> object:
    """What the proof says when whole numbers with up to ``small`` values are taken one by one; None where it is unsure."""
    found: list[object] = []
    for part, layers in slices(machine):
        reach = explore(FreeWorld(part, small=small))
        assert bool(reach.world.together.open) == (small == 0)
        if reach.stuck >= 0:
            return "stuck"
        states = {key: reach.depths[place] for key, place in reach.entered.items()}
        idle = [(one.kind, one.transition) for one in idle_transitions(reach, layers)]
        quick = {(state, one.ticks) for one in flickers(reach, layers).found for state in one.states}
        found += [states, sorted(closed_sets(reach, 0)), traps(reach, 0).keys(), idle, min(quick, default=None)]
        found.append([(one.states, reach.depths[one.place]) for one in restless(reach, layers)])
        found.append([(one.state, one.ticks) for one in flashes(reach, layers)])
        if reach.world.doubts:
            return None
        for key in states:
            assert witness_of(reach, entering(reach, *key)).replays
        for flicker in flickers(reach, layers).found:
            assert witness_of(reach, flickering(reach, flicker)).replays
    return found
