"""What takes that show a verdict are made from: a path through the search, and what must be seen on it."""

from __future__ import annotations

import itertools
from fractions import Fraction
from functools import partial

from leanstep.core.bearings import reduced, turn
from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.proof.search.reach import Reach
from leanstep.core.proof.states.concrete import Rows, values_along
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.states.places import Outcome
from leanstep.core.proof.values.predicates import Masks
from leanstep.core.proof.values.rates import Cell, along
from leanstep.core.proof.values.regions import Span, further_round
from leanstep.core.proof.verdicts.flashes import Flash
from leanstep.core.proof.verdicts.flicker import Flicker
from leanstep.core.proof.verdicts.resting import Restless
from leanstep.core.proof.verdicts.wobble import Wobble
from leanstep.core.proof.witness.shrinking import Aim
from leanstep.core.rehearsal.situation import Situation
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.traces import Trace


def entering(reach: Reach, layer: int, state: int) -> Aim:
    """The shortest take after which a state is active."""
    path = [outcome.masks for outcome in reach.path(reach.entered[layer, state])]
    return Aim(path, _rows(reach, path), lambda trace: ends_in(trace, layer, state))


def ends_in(trace: Trace, layer: int, state: int) -> bool:
    """Whether a state is active at the end of a trace."""
    return [trace.first.states[layer], *trace.states(layer)][-1] == state


def reaching(reach: Reach, place: int) -> Aim:
    """The shortest take that ends in a place."""
    path = [outcome.masks for outcome in reach.path(place)]
    return Aim(path, _rows(reach, path), lambda trace: lies_in(reach, trace.after(len(path)), place))


def left_alone(reach: Reach, found: Restless) -> Aim:
    """The shortest take that ends where a character, left alone, never comes to rest, with the bearings it keeps then."""
    if found.came is None:
        return reaching(reach, found.place)
    before, masks = found.came
    path = [*(outcome.masks for outcome in reach.path(before)), masks]
    bearings = [index for index in reach.machine.free if reach.machine.symbols[index].kind == "bearing"]

    def goal(trace: Trace) -> bool:
        values = trace.values_on(len(path) - 1)
        kept = all(reach.world.regions.bit_of(index, values[index]) & masks[index] for index in bearings)
        return kept and lies_in(reach, trace.after(len(path)), found.place)

    return Aim(path, _rows(reach, path), goal, fixed=1)


def flickering(reach: Reach, flicker: Flicker) -> Aim:
    """A shortest take that goes once round the cycle of a flicker; where the past was left open, after as many rounds as
    every memory needs to settle."""
    world, lap = reach.world, flicker.lap
    path = [outcome.masks for outcome in reach.path(flicker.place)]
    laps = 1
    if world.history:
        laps += -(-max(reach.machine.memories[index].ticks for index in world.history) // lap)
    end = len(path) + laps * lap

    def goal(trace: Trace) -> bool:
        return (
            goes_round(reach, trace, flicker.layer, flicker.states, lap)
            and not trace.moving(reach.machine.free, end - lap)
            and keeps(reach, trace, flicker.masks)
            and lies_in(reach, trace.after(end), flicker.place)
            and recurs(reach, trace.after(end - lap), trace.after(end))
        )

    def arrives(trace: Trace) -> bool:
        return trace.states(flicker.layer)[-1] == reach.places[flicker.place].states[flicker.layer]

    early = (len(path), arrives) if path else None
    path += [flicker.masks] * lap * laps
    return Aim(path, _rows(reach, path), goal, early=early, fixed=lap * laps)


def goes_round(reach: Reach, trace: Trace, layer: int, states: frozenset[int], lap: int) -> bool:
    """Whether the last ``lap`` ticks, repeated for ever, show just these states, none of them as long as the window."""
    begin = len(trace.steps) - lap
    if set(trace.states(layer)[begin:]) != states:
        return False
    entries = [tick for tick, _ in trace.entries(layer) if tick >= begin]
    return bool(entries) and all(
        after - before < reach.machine.window for before, after in itertools.pairwise([*entries, entries[0] + lap])
    )


def wobbling(reach: Reach, wobble: Wobble) -> Aim:
    """A take that goes once round the walk of a wobble, with nothing but its value moving."""
    world, lap = reach.world, len(wobble.laps)
    path = [outcome.masks for outcome in reach.path(wobble.place)]
    begin, end = len(path), len(path) + lap

    def goal(trace: Trace) -> bool:
        values = trace.curve(wobble.symbol)[begin:]
        if reach.machine.symbols[wobble.symbol].kind == "bearing":
            values = [turn(values[0], value) for value in values]
        return (
            goes_round(reach, trace, wobble.layer, wobble.states, lap)
            and set(trace.moving(reach.machine.free, begin)) <= {wobble.symbol}
            and max(values) - min(values) <= reach.machine.symbols[wobble.symbol].wobble
            and lies_in(reach, trace.after(end), wobble.place)
            and recurs(reach, trace.after(begin), trace.after(end))
        )

    near = close_together(world, wobble)
    ends = sorted(near.values())
    whole = [*path, *wobble.laps]
    rows = _rows(reach, whole)
    if wobble.symbol in world.paced:
        _pace(reach, whole, rows, wobble.symbol, {tick: (ends[0], ends[-1]) for tick in range(begin, end)})
    else:
        for row, masks in zip(rows[begin:], wobble.laps):
            row[wobble.symbol] = next(value for bit, value in near.items() if masks[wobble.symbol] >> bit & 1)
    return Aim(whole, rows, goal, fixed=lap)


def close_together(world: FreeWorld, wobble: Wobble) -> dict[int, Symbolic]:
    """A value for each region a wobble goes through, all of them inside an interval no wider than the symbol's wobble."""
    symbol = world.machine.symbols[wobble.symbol]
    used = [
        bit for bit in range(len(world.values[wobble.symbol])) if any(m[wobble.symbol] >> bit & 1 for m in wobble.laps)
    ]
    if symbol.kind == "flag":
        return {bit: bool(bit) for bit in used}
    spans = list(world.spans[wobble.symbol])
    if symbol.kind == "bearing":
        spans, used = _unrolled(spans, used)
    first, last = spans[used[0]], spans[used[-1]]
    slack = (symbol.wobble - (last.low - first.high)) / 4
    low = first.high if first.high_in else first.high - min(slack, (first.high - first.low) / 2)
    high = last.low if last.low_in else last.low + min(slack, (last.high - last.low) / 2)
    if not (first.least <= low <= first.most and last.least <= high <= last.most and high - low <= symbol.wobble):
        low, high = first.most, last.least
    found: dict[int, Symbolic] = {used[0]: low, used[-1]: high}
    for bit in used[1:-1]:
        span = spans[bit]
        middle = (max(span.low, low) + min(span.high, high)) / 2
        middle = float(round(middle)) if symbol.kind == "whole" else middle
        found[bit] = min(max(middle, span.least), span.most)
    if symbol.kind == "bearing":
        count = len(world.spans[wobble.symbol])
        return {bit % count: reduced(float(value)) for bit, value in found.items()}
    return found


def _unrolled(spans: list[Span], used: list[int]) -> tuple[list[Span], list[int]]:
    """The regions of a bearing gone through twice, and which of them are used, from one end of the arc they span to the
    other."""
    count = len(spans)
    widest = max(range(len(used)), key=lambda at: (used[at] - used[at - 1] - 1) % count)
    order = [bit if bit >= used[widest] else bit + count for bit in used]
    return [*spans, *map(further_round, spans)], sorted(order)


def flashing(reach: Reach, flash: Flash) -> Aim:
    """The shortest take in which a state flashes by: from the tick it is entered to the tick it is left on."""
    path = [outcome.masks for outcome in reach.path(flash.place)]
    whole = [*path, flash.masks, *[flash.calm] * flash.stay]
    rows = _rows(reach, whole)
    for row in rows[len(path) + 1 :]:
        for index in reach.machine.countdowns:
            row[index] = rows[len(path)][index]
    return Aim(
        whole, rows, lambda trace: goes_by(trace, flash.layer, flash.state, flash.to, flash.stay), fixed=flash.stay + 1
    )


def goes_by(trace: Trace, layer: int, state: int, to: int, stay: int) -> bool:
    """Whether a trace ends with a state that is entered, shown for ``stay`` ticks while nothing changes, and left by an ordinary
    transition."""
    begin = len(trace.steps) - stay - 1
    taken = trace.steps[-1].fired[layer]
    if any(way.urgent for way in trace.machine.layers[layer].ways[state] if way.index == taken):
        return False
    states = [trace.first.states[layer], *trace.states(layer)]
    symbols = enumerate(trace.machine.symbols)
    return (
        states[begin] != state
        and states[begin + 1 :] == [state] * stay + [to]
        and [tick for tick, _ in trace.entries(layer) if tick >= begin] == [begin, begin + stay]
        and not trace.moving([index for index, one in symbols if one.free and not one.momentary], begin)
    )


def on_tick(reach: Reach, place: int, masks: Masks, thin: bool = True, path: tuple[Outcome, ...] | None = None) -> Aim:
    """The take along a path (None: the shortest) to a place and one tick beyond, on which the values are of ``masks``;
    ``thin``: with every change undone that is not needed."""
    world = reach.world
    before = [outcome.masks for outcome in (reach.path(place) if path is None else path)]

    def goal(trace: Trace) -> bool:
        values = trace.values_on(len(before))
        return all(
            world.regions.bit_of(index, values[index]) & masks[index] for index in reach.machine.free
        ) and lies_in(reach, trace.after(len(before)), place)

    whole = [*before, masks]
    return Aim(whole, _rows(reach, whole), goal, thin, fixed=1)


def true(reach: Reach, place: int, masks: Masks, layer: int, first: int, other: int, thin: bool = False) -> Aim:
    """The shortest take to a place and one tick beyond, on which a transition is true while the ``first`` is taken (-1: whichever)."""
    path = [*(outcome.masks for outcome in reach.path(place)), masks]
    what = layer, reach.places[place].states[layer], first, other
    return Aim(
        path, _rows(reach, path), partial(ends_true, *what), thin, fixed=1, surprise=partial(_not_so_at_the_end, *what)
    )


def ends_true(layer: int, state: int, first: int, other: int, trace: Trace) -> bool:
    """Whether a transition of a state is true on the last tick of a trace, while the ``first`` is taken (-1: whichever)."""
    found = _true_at_the_end(trace, layer, state)
    return other in found and first in (-1, found[0])


def _true_at_the_end(trace: Trace, layer: int, state: int) -> list[int]:
    """The indices of a state's transitions that are true on the last tick of a trace, in the order in which they are tried."""
    tick = len(trace.steps) - 1
    before, symbols, values = trace.after(tick), trace.machine.symbols, trace.values_on(tick)
    if before.states[layer] != state:
        return []
    inputs = {index: values[index] for index, symbol in enumerate(symbols) if symbol.free}
    return Stepper(trace.machine, free=True).true_when_tried(before, inputs, layer)


def _not_so_at_the_end(layer: int, state: int, first: int, other: int, trace: Trace) -> x.Expression | None:
    """The condition because of which a transition is not true on the last tick of a trace, or another than the ``first`` is taken."""
    found, before = _true_at_the_end(trace, layer, state), first >= 0
    for way in trace.machine.layers[layer].ways[state]:
        before = before and way.index != first
        if (before and way.index in found) or (way.index in (first, other) and way.index not in found):
            return way.condition
    return None


def taking(reach: Reach, place: int, masks: Masks, layer: int, index: int) -> Aim:
    """The shortest take to a place and one tick beyond, on which a transition is taken."""
    path = [*(outcome.masks for outcome in reach.path(place)), masks]
    return Aim(path, _rows(reach, path), lambda trace: trace.steps[-1].fired[layer] == index, thin=False)


def lies_in(reach: Reach, situation: Situation, place: int) -> bool:
    """Whether a situation lies in a place, whatever pulses it still has to wait for."""
    goal = reach.places[place]
    now = reach.world.place_of(situation)
    return now.core is goal.core and reach.world.without_waits(goal.past) is now.past


def keeps(reach: Reach, trace: Trace, masks: Masks) -> bool:
    """Whether the values at the end of a trace, but for pulses, are of ``masks``."""
    values, regions = trace.values_on(len(trace.steps) - 1), reach.world.regions
    kept = (index for index in reach.machine.free if not reach.machine.symbols[index].momentary)
    return all(regions.bit_of(index, values[index]) & masks[index] for index in kept)


def recurs(reach: Reach, before: Situation, after: Situation) -> bool:
    """Whether two situations are the same in all that decides what follows: in what the search tells apart and, as far as
    something depends on it, in what it leaves open, which is memories, ages of presses and leavings, playheads, picks, and values of
    the graph."""
    world = reach.world
    if world.place_of(before) is not world.place_of(after):
        return False
    symbols = reach.machine.symbols
    of_graph = {
        index
        for atom in world.opened
        if isinstance(atom, x.Expression)
        for index in x.symbols_in(atom)
        if not symbols[index].free
    }
    if any(before.values[index] != after.values[index] for index in of_graph):
        return False
    read = bool(world.wild) or any(
        isinstance(atom, x.ClipOver | x.ClipAt | x.SpanOn | x.Compared | x.IsOn) for atom in world.opened
    )
    if world.history and before.counters != after.counters:
        return False
    if not world.clocked and (before.ages, before.since, before.held) != (after.ages, after.since, after.held):
        return False
    return not read or all(
        (before.playheads[at], before.overs[at], before.picks[at])
        == (after.playheads[at], after.overs[at], after.picks[at])
        for at in world.layers
    )


def _rows(reach: Reach, path: list[Masks]) -> Rows:
    """Values for every tick, so that as little as possible changes."""
    rows = values_along(reach.world, path)
    for index in (*reach.world.paced, *reach.world.limit_ignored):
        if reach.machine.symbols[index].kind == "bearing":
            continue
        _pace(reach, path, rows, index, {})
    return rows


def _pace(
    reach: Reach, path: list[Masks], rows: Rows, index: int, between: dict[int, tuple[Symbolic, Symbolic]]
) -> None:
    """Let a number with a limit change only as fast as it may; on some ticks ``between`` two values."""
    symbol, cells, bit = reach.machine.symbols[index], list[Cell](), 0
    for tick, masks in enumerate(path):
        bit = bit if bit & masks[index] else masks[index] & -masks[index]
        cell = reach.world.regions.cell(index, bit)
        if tick in between:
            low, high = between[tick]
            cell = cell.common(Cell(Fraction(float(low)), Fraction(float(high)), True, True))
        cells.append(cell)
    values = along(cells, float(symbol.first), symbol.step)
    for row, value in zip(rows, values or ()):
        row[index] = value
