"""What takes show where a search had to leave the past open: they go on from what has been played.

Each of these looks for a take and says None when it finds none; that proves nothing.  The takes are not proved shortest.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator
from dataclasses import dataclass
from functools import partial
from itertools import chain, islice, product, takewhile

from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.proof.values.predicates import Masks
from leanstep.core.proof.verdicts.flicker import Flicker
from leanstep.core.proof.verdicts.resting import Restless
from leanstep.core.proof.verdicts.wobble import Wobble
from leanstep.core.proof.witness.building import (
    close_together,
    ends_in,
    ends_true,
    goes_by,
    goes_round,
    keeps,
    lies_in,
    recurs,
)
from leanstep.core.proof.witness.plans import Plan, Rows, Where
from leanstep.core.proof.witness.playing import Stage
from leanstep.core.proof.witness.shrinking import Goal, Witness, made
from leanstep.core.rehearsal.situation import Glimpse
from leanstep.core.rehearsal.traces import Trace

MOST_AROUND = 100
"""Takes that are tried from each state of a flicker, of a kind."""


@dataclass(frozen=True)
class Passing:
    """How a state only flashes by: it is shown for ``stay`` ticks before it gives way to ``to``."""

    stay: int
    to: int
    witness: Witness


def entering(stage: Stage, state: int) -> Witness | None:
    """The take after which a state was first active."""
    return _whole(stage, stage.found.states[stage.layer, state], lambda trace: ends_in(trace, stage.layer, state))


def reaching(stage: Stage, place: int) -> Witness | None:
    """A take that ends in a place, by staying in its state."""
    core = stage.reach.places[place]
    state, ticks = core.states[stage.layer], core.stays[stage.layer]
    plan = stage.stays(state, ticks)
    if plan is None:
        return None
    _, rows = stage.laid_out(stage.seen[state], plan)
    return _made(
        stage, stage.seen[state], rows, lambda trace: lies_in(stage.reach, trace.after(len(trace.steps)), place)
    )


def flickering(stage: Stage, flicker: Flicker, thin: bool = True) -> Witness | None:
    """A take that goes round the cycle of a flicker once every memory has settled."""
    layer, lap = stage.layer, flicker.lap

    def goal(trace: Trace) -> bool:
        return keeps(stage.reach, trace, flicker.masks) and _repeats(stage, trace, flicker.states, lap, ())

    for state, plan in takewhile(lambda _: not stage.spent, _round(stage, flicker)):
        seen = stage.seen[state]
        changes, rows = stage.laid_out(seen, plan)
        if set(stage.reach.player.states(layer, seen, changes)[-lap:]) == flicker.states:
            witness = _made(stage, seen, rows, goal, thin)
            if witness is not None:
                return witness
    return None


def _repeats(stage: Stage, trace: Trace, states: frozenset[int], lap: int, moving: Collection[int]) -> bool:
    """Whether the last ``lap`` ticks of a trace go round in these states, and would do so for ever, with no values from outside
    changing but those that may."""
    reach, begin = stage.reach, len(trace.steps) - lap
    before, after = trace.after(begin), trace.after(begin + lap)
    return (
        goes_round(reach, trace, stage.layer, states, lap)
        and set(trace.moving(reach.machine.free, begin)) <= set(moving)
        and recurs(reach, before, after)
    )


def wobbling(stage: Stage, wobble: Wobble) -> Witness | None:
    """A take that goes round the walk of a wobble once every memory has come to say the same on every lap."""
    reach, symbol, lap = stage.reach, wobble.symbol, len(wobble.laps)
    near = close_together(reach.world, wobble)
    values = [next(value for bit, value in near.items() if masks[symbol] >> bit & 1) for masks in wobble.laps]
    width = reach.machine.symbols[symbol].wobble

    def goal(trace: Trace) -> bool:
        moved = trace.curve(symbol)[-lap:]
        return max(moved) - min(moved) <= width and _repeats(stage, trace, wobble.states, lap, (symbol,))

    for state in sorted(wobble.states & stage.seen.keys()):
        seen = stage.seen[state]
        for row, first in product(stage.quiet.rows([wobble.laps[0]], seen.values), range(lap)):
            walk = [(row | {symbol: value}, 1) for value in [*values[first:], *values[:first]]]
            again = walk * (-(-stage.most // lap) + 1)
            plans = [again, *([*begin, *again] for begin in stage.calmed(state, row, stage.most))]
            for plan in takewhile(lambda _: not stage.spent, plans):
                changes, rows = stage.laid_out(seen, plan)
                if set(reach.player.states(stage.layer, seen, changes)[-lap:]) == wobble.states:
                    witness = _made(stage, seen, rows, goal)
                    if witness is not None:
                        return witness
    return None


def _round(stage: Stage, flicker: Flicker) -> Iterator[tuple[int, Plan]]:
    """States to begin in, and values that may lead into the cycle of a flicker and round it: its own at once, or after others
    with which memories come to be as they should, from its states; and its own from any other state."""
    ticks, world = stage.most + flicker.lap, stage.reach.world
    inside = [state for state in sorted(flicker.states) if state in stage.seen]
    asked = {index for state in inside for index in world.asked.get((stage.layer, state), ())}
    wanted = [(index, world.narrowed(flicker.masks, index, True) is not None) for index in sorted(asked)]

    def from_states(states: Iterable[int]) -> Iterator[tuple[int, Plan]]:
        for state in states:
            yield from ((state, [(row, ticks)]) for row in stage.quiet.rows([flicker.masks], stage.seen[state].values))

    def from_inside() -> Iterator[tuple[int, Plan]]:
        for state in inside:
            last = len(stage.reach.machine.layers[stage.layer].ways[state]) - 1
            yield from islice(stage.plans(state, last, [flicker.masks], ticks, wanted), MOST_AROUND)

    yield from from_states(inside)
    yield from from_inside()
    yield from from_states(state for state in stage.seen if state not in flicker.states)


def restless(stage: Stage, found: Restless) -> Witness | None:
    """A take after which a layer, left alone, ends in the states it should and comes to no restful one on the way."""
    reach, layer = stage.reach, stage.layer
    symbols, restful = reach.machine.symbols, reach.machine.layers[layer].restful
    rest = {
        index: symbol.alone if symbol.free else symbol.first
        for index, symbol in enumerate(symbols)
        if symbol.kind != "bearing" or not symbol.free
    }
    for seen in takewhile(lambda _: not stage.spent, stage.seen.values()):
        changes, rows = stage.laid_out(seen, [(rest, 2 * stage.most)])
        run = list(reach.player.go_on(seen, changes))
        if any(one.states[layer] in restful for one in run if one.fired[layer] >= 0):
            continue
        ends = partial(_ends_in, stage, found.states, len(stage.until(seen)))
        if _made(stage, seen, rows, ends, thin=False) is not None:
            return _whole(stage, stage.until(seen), lambda _: True)
    return None


def _ends_in(stage: Stage, states: frozenset[int], begin: int, trace: Trace) -> bool:
    """Whether a trace goes round in these states at its end, and has been in that cycle before."""
    last = len(trace.steps)
    end = trace.after(last)
    for tick in range(last - 1, begin, -1):
        one = trace.after(tick)
        if recurs(stage.reach, one, end):
            return set(trace.states(stage.layer)[tick:]) == states
    return False


def flashing(stage: Stage, state: int, quick: list[Masks]) -> Passing | None:
    """A take in which a state flashes by; ``quick`` are values with which it may be left at once."""
    for index, entered in sorted(stage.taken.items(), key=lambda one: one[1].tick):
        if entered.states[stage.layer] == state:
            shown = _passing(stage, state, entered, stage.found.transitions[stage.layer, index])
            if shown is not None:
                return shown
    for source, row in enumerate(stage.reach.machine.layers[stage.layer].ways):
        for position, way in enumerate(row):
            if way.target != state or source == state or source not in stage.seen:
                continue
            for begin, plan in takewhile(lambda _: not stage.spent, _into(stage, (source, position), state, quick)):
                seen = stage.seen[begin]
                changes, rows = stage.laid_out(seen, plan)
                entered = stage.reach.player.end(seen, changes)
                if entered.fired[stage.layer] == way.index:
                    shown = _passing(stage, state, entered, stage.until(seen) + rows)
                    if shown is not None:
                        return shown
    return None


def true_with(
    stage: Stage, place: int, masks: Masks, where: Where, first: int, other: int, thin: bool
) -> Witness | None:
    """A take on whose last tick a transition is true while the ``first`` is taken (-1: whichever), found by keeping values with which
    the search saw it in a place, or ``where`` it is so in other views of the state."""
    reach, layer = stage.reach, stage.layer
    state, stay = reach.places[place].states[layer], reach.places[place].stays[layer]
    if state not in stage.seen:
        return None
    begin = stage.stays(state, stay) if stay else None
    in_time = stage.quiet.rows([masks], list(begin[-1][0].values())) if begin else ()
    plans = chain(
        ((state, [*(begin or ()), (row, 1)]) for row in in_time),
        stage.plans(state, reach.machine.layers[layer].position(state, other), [masks], 1),
        stage.led_to(state, where),
    )
    goal = partial(ends_true, layer, state, first, other)
    for number, (source, plan) in enumerate(plans):
        seen = stage.seen[source]
        changes, rows = stage.laid_out(seen, plan)
        if number:
            # the first is most often the right one, and needs no look beforehand
            before, fired = reach.player.last(layer, seen, changes)
            if before != state or fired == -1 or first not in (-1, fired):
                continue
        witness = _made(stage, seen, rows, goal, thin)
        if witness is not None:
            return witness
    return None


def _into(stage: Stage, by: tuple[int, int], state: int, quick: list[Masks]) -> Iterator[tuple[int, Plan]]:
    """States to begin in and values with which a way may be taken and then the state it leads to be left at once."""
    (source, position), brief = by, stage.reach.world.brief
    way = stage.reach.machine.layers[stage.layer].ways[source][position]
    for other in quick:
        both = []
        for box in stage.boxes.get(source, {}).get(way.index, []):
            part = tuple([one if at in brief else one & another for at, (one, another) in enumerate(zip(box, other))])
            both += [part] if all(part) else []
        if both:
            yield from stage.plans(source, position, both, 1, stage.quiet.wanted(state, other))


def _passing(stage: Stage, state: int, entered: Glimpse, whole: Rows) -> Passing | None:
    """How a state flashes by when the values with which it was entered are kept."""
    reach, layer, window = stage.reach, stage.layer, stage.reach.machine.window
    last = reach.player.until(layer, entered, [{}] * max(window - 1, 1))
    stay, index = last.tick - entered.tick, last.fired[layer]
    way = next((way for way in reach.machine.layers[layer].ways[state] if way.index == index), None)
    if way is None or way.urgent or way.target == state or stay >= window:
        return None
    calm = {at: value if at not in stage.pulses else False for at, value in whole[-1].items()}
    witness = _whole(stage, [*whole, *[calm] * stay], lambda trace: goes_by(trace, layer, state, way.target, stay))
    return Passing(stay, way.target, witness) if witness is not None else None


def _made(stage: Stage, seen: Glimpse, rows: Rows, goal: Goal, thin: bool = True) -> Witness | None:
    """The take that goes on with these values from the first situation of a state, if it shows the goal."""
    return _whole(stage, stage.until(seen) + rows, goal, thin)


def _whole(stage: Stage, rows: Rows, goal: Goal, thin: bool = True) -> Witness | None:
    # most rows are the same for long
    lists = {id(row): list(row.values()) for row in rows}
    values: list[list[Symbolic]] = [lists[id(row)] for row in rows]
    witness = made(stage.reach, values, goal, thin)
    return witness if witness.replays else None
