"""Takes that show a verdict: made from a path, thinned out, and replayed before anyone sees them."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from leanstep.core.character.model import Take
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.proof.flicker import Flicker
from leanstep.core.proof.free_world import FreeWorld, Place
from leanstep.core.proof.regional import Masks
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
    return _made(reach, [outcome.masks for outcome in outcomes], lambda steps: _active(reach, steps, layer) == state)


def reaching(reach: Reach, place: int) -> Witness:
    """The shortest take that ends in a place."""
    goal = reach.places[place]
    world = reach.world
    return _made(
        reach,
        [outcome.masks for outcome in reach.path(place)],
        lambda steps: _in(world, _last(reach, steps), goal),
    )


def flickering(reach: Reach, flicker: Flicker) -> Witness:
    """A shortest take that goes once round the cycle of a flicker."""
    world, lap = reach.world, flicker.lap
    start = reach.places[flicker.place]

    def goal(steps: Sequence[Step]) -> bool:
        before = steps[: len(steps) - lap]
        round_trip = steps[len(steps) - lap :]
        return (
            _in(world, _last(reach, before), start)
            and _in(world, _last(reach, steps), start)
            and {step.situation.states[flicker.layer] for step in round_trip} == flicker.states
            and _blinks(round_trip, flicker.layer, reach.machine.window)
            and all(steps[-lap].situation.values == step.situation.values for step in round_trip)
        )

    path = [outcome.masks for outcome in reach.path(flicker.place)]
    return _made(reach, path + [flicker.masks] * lap, goal)


def _blinks(lap: Sequence[Step], layer: int, window: int) -> bool:
    """Whether a lap that repeats for ever has transitions, and only stays shorter than the window."""
    entries = [at for at, step in enumerate(lap) if step.fired[layer] >= 0]
    return bool(entries) and all(
        after - before < window for before, after in itertools.pairwise([*entries, entries[0] + len(lap)])
    )


def shadowed(reach: Reach, place: int, masks: Masks) -> Witness:
    """The shortest take to where a shadowed transition's condition holds, that tick included."""
    start = reach.places[place]
    world = reach.world
    return _made(
        reach,
        [*(outcome.masks for outcome in reach.path(place)), masks],
        lambda steps: _in(world, _last(reach, steps[:-1]), start),
    )


def _in(world: FreeWorld, situation: Situation, place: Place) -> bool:
    """Whether a situation lies in a place, whatever pulses it still has to wait for."""
    return world.place_of(situation) == place._replace(waits=(0,) * len(place.waits))


def _last(reach: Reach, steps: Sequence[Step]) -> Situation:
    return steps[-1].situation if steps else Stepper(reach.machine, free=True).first()


def _active(reach: Reach, steps: Sequence[Step], layer: int) -> int:
    return _last(reach, steps).states[layer]


def _made(reach: Reach, path: list[Masks], goal: Goal) -> Witness:
    """Choose values so that as little as possible changes, then undo every change that is not needed."""
    machine = reach.machine
    before = [symbol.first for symbol in machine.symbols]
    rows = []
    for masks in path:
        before = chosen(reach.world, masks, before)
        rows.append(dict(enumerate(before)))
    if not _shows(reach, rows, goal):
        return Witness(recorded(machine, "witness", rows, "free"), False)
    return Witness(recorded(machine, "witness", _thinned(reach, rows, goal), "free"), True)


def chosen(world: FreeWorld, masks: Masks, before: list[Symbolic]) -> list[Symbolic]:
    """One value per symbol out of ``masks`` that the assumptions allow: what it was before (pulses: off) where it can be,
    else the rest value, else the first region."""
    symbols = world.machine.symbols
    wanted = [False if symbol.momentary else value for symbol, value in zip(symbols, before)]
    near = [_bit(world, index, value) for index, value in enumerate(wanted)] + [0] * (len(masks) - len(symbols))
    allowed = world.completed(masks, tuple(near)) or masks
    values: list[Symbolic] = []
    for index, symbol in enumerate(symbols):
        if not symbol.free:
            values.append(before[index])
            continue
        options = [value for bit, value in enumerate(world.values[index]) if allowed[index] >> bit & 1]
        values.append(next((value for value in (wanted[index], symbol.rest) if value in options), options[0]))
    return values


def _bit(world: FreeWorld, symbol: int, value: Symbolic) -> int:
    regions = world.values[symbol]
    return 1 << regions.index(value) if value in regions else 0


def _thinned(reach: Reach, rows: list[dict[int, Symbolic]], goal: Goal) -> list[dict[int, Symbolic]]:
    """Undo changes one by one, the last first, as long as the replay still shows the goal."""
    symbols = reach.machine.symbols
    work = 0
    again = True
    while again:
        again = False
        for tick in range(len(rows) - 1, -1, -1):
            for index in reach.machine.free:
                symbol = symbols[index]
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
    if not all(_permitted(world, row, len(machine.symbols)) for row in rows) or not _spaced(reach, rows):
        return False
    stepper = Stepper(machine, free=True)
    situation, steps = stepper.first(), []
    for row in rows:
        step = stepper.step(situation, row)
        steps.append(step)
        situation = step.situation
    return goal(steps)


def _spaced(reach: Reach, rows: list[dict[int, Symbolic]]) -> bool:
    """Whether pulses that come only so often do."""
    for index, symbol in enumerate(reach.machine.symbols):
        if symbol.spacing > 1 and symbol.free:
            ticks = [tick for tick, row in enumerate(rows) if row[index]]
            if any(after - before < symbol.spacing for before, after in itertools.pairwise(ticks)):
                return False
    return True


def _permitted(world: FreeWorld, row: dict[int, Symbolic], count: int) -> bool:
    masks = tuple(
        _bit(world, index, row[index]) if symbol.free else world.full[index]
        for index, symbol in enumerate(world.machine.symbols)
    )
    masks += world.full[count:]
    return world.allowed(masks) is not False
