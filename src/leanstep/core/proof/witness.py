"""Takes that show a verdict: made from a path, thinned out, and replayed before anyone sees them."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from leanstep.core.character.model import Take
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.proof.flashes import Flash
from leanstep.core.proof.flicker import Flicker
from leanstep.core.proof.free_world import FreeWorld
from leanstep.core.proof.places import Place
from leanstep.core.proof.regional import Masks
from leanstep.core.proof.search import Reach
from leanstep.core.proof.wobble import Wobble
from leanstep.core.rehearsal.situation import Situation, Step
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.takes import recorded

Goal = Callable[[Sequence[Step]], bool]
"""Whether a replay shows what it should."""

MOST_REPLAYED = 3_000
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
    return _made(
        reach,
        _rows(reach, [outcome.masks for outcome in outcomes]),
        lambda steps: _active(reach, steps, layer) == state,
    )


def reaching(reach: Reach, place: int) -> Witness:
    """The shortest take that ends in a place."""
    goal = reach.places[place]
    world = reach.world
    return _made(
        reach,
        _rows(reach, [outcome.masks for outcome in reach.path(place)]),
        lambda steps: _in(world, _last(reach, steps), goal),
    )


def flickering(reach: Reach, flicker: Flicker) -> Witness:
    """A shortest take that goes once round the cycle of a flicker; where the past was left open, after as many rounds as
    every memory needs to settle."""
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
            and (not world.history or _last(reach, before).counters == _last(reach, steps).counters)
            and all(steps[-lap].situation.values == step.situation.values for step in round_trip)
        )

    path = [outcome.masks for outcome in reach.path(flicker.place)]
    laps = 1
    if world.history:
        laps += -(-max(reach.machine.memories[index].ticks for index in world.history) // lap)
    return _made(reach, _rows(reach, path + [flicker.masks] * lap * laps), goal)


def _blinks(lap: Sequence[Step], layer: int, window: int) -> bool:
    """Whether a lap that repeats for ever has transitions, and only stays shorter than the window."""
    entries = [at for at, step in enumerate(lap) if step.fired[layer] >= 0]
    return bool(entries) and all(
        after - before < window for before, after in itertools.pairwise([*entries, entries[0] + len(lap)])
    )


def wobbling(reach: Reach, wobble: Wobble) -> Witness:
    """A take that goes once round the walk of a wobble, with nothing but its value moving."""
    world, lap = reach.world, len(wobble.laps)
    start = reach.places[wobble.place]
    others = [index for index in reach.machine.free if index != wobble.symbol]

    def goal(steps: Sequence[Step]) -> bool:
        round_trip = steps[len(steps) - lap :]
        return (
            _in(world, _last(reach, steps[: len(steps) - lap]), start)
            and _in(world, _last(reach, steps), start)
            and {step.situation.states[wobble.layer] for step in round_trip} == wobble.states
            and _blinks(round_trip, wobble.layer, reach.machine.window)
            and len({tuple(step.situation.values[index] for index in others) for step in round_trip}) == 1
            and _spread({step.situation.values[wobble.symbol] for step in round_trip})
            <= reach.machine.symbols[wobble.symbol].wobble
        )

    path = [outcome.masks for outcome in reach.path(wobble.place)]
    rows = _rows(reach, [*path, *wobble.laps])
    near = close_together(world, wobble)
    for row, masks in zip(rows[len(path) :], wobble.laps):
        row[wobble.symbol] = next(value for bit, value in near.items() if masks[wobble.symbol] >> bit & 1)
    return _made(reach, rows, goal)


def close_together(world: FreeWorld, wobble: Wobble) -> dict[int, Symbolic]:
    """A value for each region a wobble goes through, all of them inside an interval no wider than the symbol's wobble."""
    symbol = world.machine.symbols[wobble.symbol]
    used = [
        bit for bit in range(len(world.values[wobble.symbol])) if any(m[wobble.symbol] >> bit & 1 for m in wobble.laps)
    ]
    if symbol.kind == "flag":
        return {bit: bool(bit) for bit in used}
    spans = world.spans[wobble.symbol]
    first, last = spans[used[0]], spans[used[-1]]
    slack = (symbol.wobble - (last.low - first.high)) / 4
    low = first.high if first.high_in else first.high - min(slack, (first.high - first.low) / 2)
    high = last.low if last.low_in else last.low + min(slack, (last.high - last.low) / 2)
    found: dict[int, Symbolic] = {used[0]: low, used[-1]: high}
    for bit in used[1:-1]:
        span = spans[bit]
        middle = (max(span.low, low) + min(span.high, high)) / 2
        found[bit] = span.low if span.low == span.high else float(round(middle)) if symbol.kind == "whole" else middle
    return found


def _spread(values: set[Symbolic]) -> float:
    """How far apart numbers or flags are."""
    numbers = [float(value) for value in values]
    return max(numbers) - min(numbers)


def flashing(reach: Reach, flash: Flash) -> Witness:
    """The shortest take in which a state flashes by: from the tick it is entered to the tick it is left on."""

    def goal(steps: Sequence[Step]) -> bool:
        shown = steps[len(steps) - flash.stay - 1 :]
        values = [[step.situation.values[index] for index in _lasting(reach)] for step in shown]
        return (
            shown[0].fired[flash.layer] >= 0
            and _active(reach, steps[: len(steps) - flash.stay - 1], flash.layer) != flash.state
            and all(step.situation.states[flash.layer] == flash.state for step in shown[:-1])
            and all(step.fired[flash.layer] < 0 for step in shown[1:-1])
            and shown[-1].situation.states[flash.layer] == flash.to
            and all(row == values[0] for row in values)
        )

    path = [outcome.masks for outcome in reach.path(flash.place)]
    return _made(reach, _rows(reach, [*path, flash.masks, *[flash.calm] * flash.stay]), goal)


def _lasting(reach: Reach) -> list[int]:
    symbols = reach.machine.symbols
    return [index for index in reach.machine.free if not symbols[index].momentary]


def on_tick(reach: Reach, place: int, masks: Masks, thin: bool = True) -> Witness:
    """The shortest take to a place and one tick beyond, on which the values are of ``masks``; ``thin``: with every change
    undone that is not needed."""
    start = reach.places[place]
    world = reach.world

    def goal(steps: Sequence[Step]) -> bool:
        values = steps[-1].situation.values
        return _in(world, _last(reach, steps[:-1]), start) and all(
            _bit(world, index, values[index]) & masks[index] for index in reach.machine.free
        )

    return _made(reach, _rows(reach, [*(outcome.masks for outcome in reach.path(place)), masks]), goal, thin)


def _in(world: FreeWorld, situation: Situation, place: Place) -> bool:
    """Whether a situation lies in a place, whatever pulses it still has to wait for."""
    return world.place_of(situation) == place._replace(waits=(0,) * len(place.waits))


def _last(reach: Reach, steps: Sequence[Step]) -> Situation:
    return steps[-1].situation if steps else Stepper(reach.machine, free=True).first()


def _active(reach: Reach, steps: Sequence[Step], layer: int) -> int:
    return _last(reach, steps).states[layer]


def _rows(reach: Reach, path: list[Masks]) -> list[dict[int, Symbolic]]:
    """Values for every tick, so that as little as possible changes."""
    before = [symbol.first for symbol in reach.machine.symbols]
    rows = []
    for masks in path:
        before = chosen(reach.world, masks, before)
        rows.append(dict(enumerate(before)))
    return rows


def _made(reach: Reach, rows: list[dict[int, Symbolic]], goal: Goal, thin: bool = True) -> Witness:
    """The take of these values, if ``thin`` with every change undone that is not needed."""
    shown = _shows(reach, rows, goal)
    if shown and thin:
        rows = _thinned(reach, rows, goal)
    return Witness(recorded(reach.machine, "witness", rows, "free"), shown)


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
    """The region a value lies in, as a mask."""
    for bit, span in enumerate(world.spans[symbol]):
        inside = span.low < float(value) < span.high
        if inside or (span.low_in and value == span.low) or (span.high_in and value == span.high):
            return 1 << bit
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
    if not all(permitted(world, row) for row in rows) or not _spaced(reach, rows):
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


def permitted(world: FreeWorld, row: dict[int, Symbolic]) -> bool:
    """Whether the assumptions allow these values on one tick."""
    if not world.assumptions:
        return True
    masks = tuple(
        _bit(world, index, row[index]) if symbol.free else world.full[index]
        for index, symbol in enumerate(world.machine.symbols)
    )
    masks += world.full[len(world.machine.symbols) :]
    return world.allowed(masks) is not False
