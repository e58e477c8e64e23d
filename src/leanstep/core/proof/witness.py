"""Takes that show a verdict: made from a path, thinned out, and replayed before anyone sees them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from leanstep.core.character.model import Take
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.proof.flicker import Flicker
from leanstep.core.proof.free_world import FreeWorld, Values
from leanstep.core.proof.search import Reach
from leanstep.core.rehearsal.stepping import Situation, Step, Stepper
from leanstep.core.rehearsal.takes import recorded

Goal = Callable[[Sequence[Step]], bool]
"""Whether a replay shows what it should."""

MOST_REPLAYED = 60_000
"""Ticks that may be replayed to thin one witness out."""


@dataclass(frozen=True)
class Witness:
    """A free-world take of ``take.ticks`` ticks that shows a verdict; ``replays`` is False only through a bug."""

    take: Take
    replays: bool


def entering(reach: Reach, layer: int, state: int) -> Witness:
    """The shortest take after which a state is active."""
    place = reach.entered[layer, state]
    outcomes = reach.path(place)
    return _made(reach, [outcome.values for outcome in outcomes], lambda steps: _active(reach, steps, layer) == state)


def reaching(reach: Reach, place: int) -> Witness:
    """The shortest take that ends in a place."""
    goal = reach.places[place]
    world = reach.world
    return _made(
        reach,
        [outcome.values for outcome in reach.path(place)],
        lambda steps: world.place_of(_last(reach, steps)) == goal,
    )


def flickering(reach: Reach, flicker: Flicker) -> Witness:
    """A shortest take that goes once round the cycle of a flicker."""
    world, lap = reach.world, flicker.lap
    start = reach.places[flicker.place]

    def goal(steps: Sequence[Step]) -> bool:
        before = steps[: len(steps) - lap]
        round_trip = steps[len(steps) - lap :]
        return (
            world.place_of(_last(reach, before)) == start
            and world.place_of(_last(reach, steps)) == start
            and {step.situation.states[flicker.layer] for step in round_trip} == flicker.states
            and all(steps[-lap].situation.values == step.situation.values for step in round_trip)
        )

    path = [outcome.values for outcome in reach.path(flicker.place)]
    return _made(reach, path + [flicker.values] * lap, goal)


def shadowed(reach: Reach, place: int, values: Values) -> Witness:
    """The shortest take to where a shadowed transition's condition holds, that tick included."""
    start = reach.places[place]
    world = reach.world
    return _made(
        reach,
        [*(outcome.values for outcome in reach.path(place)), values],
        lambda steps: world.place_of(_last(reach, steps[:-1])) == start,
    )


def _last(reach: Reach, steps: Sequence[Step]) -> Situation:
    return steps[-1].situation if steps else Stepper(reach.machine, free=True).first()


def _active(reach: Reach, steps: Sequence[Step], layer: int) -> int:
    return _last(reach, steps).states[layer]


def _made(reach: Reach, path: list[Values], goal: Goal) -> Witness:
    """Fill open values so that as little as possible changes, then drop every change that is not needed."""
    world = reach.world
    symbols = reach.machine.symbols
    rest: Values = tuple(symbol.rest for symbol in symbols) + (None,) * (len(world.regions) - len(symbols))
    before, rows = rest, []
    for values in path:
        row = world.completed(list(values), before) or list(values)
        kept = [
            value if value is not None else (False if index in world.momentary else before[index])
            for index, value in enumerate(row)
        ]
        before = tuple(kept)
        rows.append({index: value for index, value in enumerate(kept[: len(symbols)]) if value is not None})
    if not _shows(reach, rows, goal):
        return Witness(recorded(reach.machine, "witness", rows, "free"), False)
    return Witness(recorded(reach.machine, "witness", _thinned(reach, rows, goal), "free"), True)


def _thinned(reach: Reach, rows: list[dict[int, Symbolic]], goal: Goal) -> list[dict[int, Symbolic]]:
    """Undo changes one by one, the last first, as long as the replay still shows the goal."""
    symbols = reach.machine.symbols
    work = 0
    again = True
    while again:
        again = False
        for tick in range(len(rows) - 1, -1, -1):
            for index, symbol in enumerate(symbols):
                before = symbol.rest if tick == 0 or symbol.momentary else rows[tick - 1][index]
                now = rows[tick][index]
                if now == before:
                    continue
                work += len(rows)
                if work > MOST_REPLAYED:
                    return rows
                trial = [dict(row) for row in rows]
                for later in range(tick, len(rows)):
                    if later > tick and (symbol.momentary or rows[later][index] != now):
                        break
                    trial[later][index] = before
                if _shows(reach, trial, goal):
                    rows, again = trial, True
    return rows


def _shows(reach: Reach, rows: list[dict[int, Symbolic]], goal: Goal) -> bool:
    world, machine = reach.world, reach.machine
    if not all(_permitted(world, row, len(machine.symbols)) for row in rows):
        return False
    stepper = Stepper(machine, free=True)
    situation, steps = stepper.first(), []
    for row in rows:
        step = stepper.step(situation, row)
        steps.append(step)
        situation = step.situation
    return goal(steps)


def _permitted(world: FreeWorld, row: dict[int, Symbolic], count: int) -> bool:
    values: list[Symbolic | None] = [row.get(index) for index in range(count)]
    return world.allowed(values + [None] * (len(world.regions) - count)) is not False
