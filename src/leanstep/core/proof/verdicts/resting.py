"""What becomes of a character that is left alone: everything at its rest value."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import reduce
from itertools import islice, product
from operator import and_, or_

import networkx as nx

from leanstep.core.conditions import expression as x
from leanstep.core.proof.search.reach import Reach, nearest_first
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.states.places import View
from leanstep.core.proof.values.predicates import Masks, Split

MOST_KEPT = 256
"""Sets of bearings' regions that are gone through."""


@dataclass(frozen=True)
class Restless:
    """From ``place`` on, with everything at rest, a layer ends in ``states`` and never finds a restful one.  Where it matters
    which bearings are kept, ``came`` says from which place one comes there, and with which values."""

    layer: int
    states: frozenset[int]
    place: int
    came: tuple[int, Masks] | None = None

    def ticks(self, reach: Reach) -> int:
        """The fewest ticks until then."""
        return reach.depths[self.place] if self.came is None else reach.depths[self.came[0]] + 1


def restless(reach: Reach, layers: tuple[int, ...]) -> list[Restless]:
    """Where layers with restful states do not come to rest, once for each set of states they end in.

    Nothing is said when the assumptions forbid everything to be at rest.
    """
    asked = [layer for layer in layers if reach.machine.layers[layer].restful]
    found: dict[tuple[int, frozenset[int]], Restless] = {}
    for bearings in kept_bearings(reach.world) if asked else ():
        masks = rest_masks(reach.world, bearings)
        if masks is not None:
            _look(reach, _Runs(reach, masks, asked), bearings, found)
    return list(found.values())


def comes_to_rest(reach: Reach, layer: int) -> bool:
    """Whether a layer that is left alone comes to a restful state and stays there, whatever is open of ages.

    Left alone, memories settle after a while, and a press that is remembered can be used but once; so for good only what needs neither
    goes on.  If that never goes round but in one restful state, it ends in one.
    """
    world, table = reach.world, reach.machine.layers[layer]
    if world.paced:
        return False
    for bearings in kept_bearings(world):
        masks = rest_masks(world, bearings)
        if masks is None:
            continue
        rest = list(masks)
        for atom, symbol in world.opened.items():
            if isinstance(atom, x.Buffered):
                rest[symbol] &= 0b01
        happens = {view: _may_happen(world, view, rest) for view in dict.fromkeys(reach.views)}
        graph = nx.DiGraph()
        for number, row in enumerate(reach.successors):
            graph.add_edges_from((number, row[position]) for position in happens[reach.views[number]])
        for component in nx.strongly_connected_components(graph):
            states = {reach.places[one].states[layer] for one in component}
            goes_on = len(component) > 1 or graph.has_edge(*component, *component)
            if goes_on and (len(states) > 1 or not states <= table.restful):
                return False
    return True


def _may_happen(world: FreeWorld, view: View, masks: list[int]) -> list[int]:
    """The positions of the outcomes of a view that some values of these masks may bring about."""
    return [
        position
        for position in range(len(world.outcomes(view)))
        if any(all(map(and_, box, masks)) for box in world.boxes(view, position))
    ]


def kept_bearings(world: FreeWorld) -> Iterator[dict[int, int]]:
    """The regions that bearings may be kept in, which rest where they are; one way for each set of them."""
    read = [
        index
        for index in world.machine.free
        if world.machine.symbols[index].kind == "bearing" and len(world.values[index]) > 1
    ]
    for bits in islice(product(*(range(len(world.values[index])) for index in read)), MOST_KEPT):
        yield {index: 1 << bit for index, bit in zip(read, bits)}


def _look(
    reach: Reach, runs: _Runs, bearings: dict[int, int], found: dict[tuple[int, frozenset[int]], Restless]
) -> None:
    """Add the runs that come to no restful state, from wherever one can be with these bearings."""
    asked, seen = runs.asked, set[_End]()
    ways = _ways_in(reach, bearings) if bearings else None
    for number in nearest_first(reach) if ways is None else ways:
        end = runs.end(number)
        if end in seen or not end.known:
            continue
        seen.add(end)
        for at, layer in enumerate(asked):
            states = frozenset(reach.places[one].states[layer] for one in end.cycle)
            held = len(states) == 1 and states <= reach.machine.layers[layer].restful
            if not held and not end.rested >> at & 1:
                one = Restless(layer, states, number, ways[number] if ways is not None else None)
                known = found.get((layer, states))
                if known is None or one.ticks(reach) < known.ticks(reach):
                    found[layer, states] = one


def _ways_in(reach: Reach, bearings: dict[int, int]) -> dict[int, tuple[int, Masks] | None]:
    """The places one can be in with these bearings, nearest first, each with the place before it and the values there."""
    world = reach.world
    symbols = world.machine.symbols
    found: dict[int, tuple[int, Masks] | None] = {}
    if all(world.regions.bit_of(index, symbols[index].first) == bit for index, bit in bearings.items()):
        found[0] = None
    for number in nearest_first(reach):
        for position, after in enumerate(reach.successors[number]):
            for box in world.boxes(reach.views[number], position) if after not in found else ():
                masks = tuple(mask & bearings.get(index, mask) for index, mask in enumerate(box))
                allowed = world.completed(masks) if all(masks) else None
                if allowed is not None:
                    found.setdefault(after, (number, allowed))
    return found


def rest_masks(world: FreeWorld, bearings: dict[int, int]) -> Masks | None:
    """Every value from outside at rest (what the body sets: as of a figure that stands), ``bearings`` in these regions, and an
    untracked past settled; None when the assumptions forbid it."""
    masks = list(world.full)
    for index, symbol in enumerate(world.machine.symbols):
        if symbol.free:
            masks[index] = bearings.get(index, world.regions.bit_of(index, symbol.alone))
    rest = [
        world.values[index][bearings[index].bit_length() - 1] if index in bearings else symbol.alone
        for index, symbol in enumerate(world.machine.symbols)
    ]
    for index, mask in world.together.outcomes(rest).items():
        masks[index] = mask
    settled = world.settled(masks)
    return settled if world.completed(settled) is not None else None


@dataclass(frozen=True, eq=False)
class _End:
    """Where a run ends: the places it goes round in, and as bits the layers asked about in which a restful state is entered
    on the way.  Not ``known``: that depends on something open."""

    cycle: tuple[int, ...]
    rested: int
    known: bool = True


class _Runs:
    """Runs in which every value goes to one of a set and stays there, as fast as declared limits let it; what has been found
    out about a place is kept."""

    def __init__(self, reach: Reach, masks: Masks, asked: list[int]) -> None:
        self.reach, self.world, self.masks, self.asked = reach, reach.world, masks, asked
        self.ends: dict[int, _End] = {}
        self._happens: dict[View, tuple[int, int] | None] = {}

    def end(self, place: int) -> _End:
        """Where the run from a place ends."""
        ends, path, on_path = self.ends, list[tuple[int, int]](), dict[int, int]()
        while (end := ends.get(place)) is None and place not in on_path:
            view = self.reach.views[place]
            if view not in self._happens:
                self._happens[view] = self._what_happens(view)
            happens = self._happens[view]
            if happens is None:
                end = ends[place] = _End((), 0, False)
                break
            on_path[place] = len(path)
            path.append((place, happens[1]))
            place = self.reach.successors[place][happens[0]]
        if end is None:
            cycle, path = path[on_path[place] :], path[: on_path[place]]
            end = _End(tuple([one for one, _ in cycle]), reduce(or_, [rested for _, rested in cycle]))
            ends.update((one, end) for one in end.cycle)
        for one, rested in reversed(path):
            if rested & ~end.rested:
                end = _End(end.cycle, rested | end.rested, end.known)
            ends[one] = end
        return end

    def _what_happens(self, view: View) -> tuple[int, int] | None:
        """The position of what happens in a view, and as bits the layers asked about in which it enters a restful state; None
        when that depends on something open, or the assumptions forbid the values."""
        key = view, self._next(view)
        known = self.world.kept.rests
        if key not in known:
            known[key] = self._position(*key)
        position, tables, rested = known[key], self.reach.machine.layers, 0
        if position is None:
            return None
        fired = self.world.outcomes(view)[position].fired
        for at, layer in enumerate(self.asked):
            way = tables[layer].ways[view.states[layer]][fired[layer]] if fired[layer] >= 0 else None
            if way is not None and way.target in tables[layer].restful:
                rested |= 1 << at
        return position, rested

    def _position(self, view: View, masks: Masks) -> int | None:
        outcome = self.world.tick(view, masks)
        if isinstance(outcome, Split) or self.world.allowed(masks) is False:
            return None
        return next((at for at, one in enumerate(self.world.outcomes(view)) if one.brings(outcome)), None)

    def _next(self, view: View) -> Masks:
        """The values on the tick after a place with a view."""
        masks = list(self.masks)
        for index, near in zip(self.world.paced, view.near):
            reach = self.world.regions.reach[index][near.bit_length() - 1]
            if not reach & masks[index]:
                masks[index] = 1 << reach.bit_length() - 1 if masks[index] > reach else reach & -reach
        return tuple(masks)
