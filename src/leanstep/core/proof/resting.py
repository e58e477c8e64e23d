"""What becomes of a character that is left alone: everything at its rest value."""

from __future__ import annotations

from dataclasses import dataclass
from functools import reduce
from operator import or_

from leanstep.core.proof.free_world import FreeWorld
from leanstep.core.proof.places import Split, View
from leanstep.core.proof.regional import Masks
from leanstep.core.proof.search import Reach, nearest_first


@dataclass(frozen=True)
class Restless:
    """From ``place`` on, with everything at rest, a layer ends in ``states`` and never finds a restful one."""

    layer: int
    states: frozenset[int]
    place: int


def restless(reach: Reach, layers: tuple[int, ...]) -> list[Restless]:
    """Where layers with restful states do not come to rest, once for each set of states they end in.

    Nothing is said when the assumptions forbid everything to be at rest.
    """
    asked = [layer for layer in layers if reach.machine.layers[layer].restful]
    masks = rest_masks(reach.world)
    if not asked or masks is None:
        return []
    runs = _Runs(reach, masks, asked)
    found: dict[tuple[int, frozenset[int]], Restless] = {}
    seen: set[_End] = set()
    for number in nearest_first(reach):
        end = runs.end(number)
        if end in seen or not end.known:
            continue
        seen.add(end)
        for at, layer in enumerate(asked):
            states = frozenset(reach.places[one].states[layer] for one in end.cycle)
            held = len(states) == 1 and states <= reach.machine.layers[layer].restful
            if not held and not end.rested >> at & 1:
                found.setdefault((layer, states), Restless(layer, states, number))
    return list(found.values())


def rest_masks(world: FreeWorld) -> Masks | None:
    """Every value from outside at rest and an untracked past settled; None when the assumptions forbid it."""
    masks = list(world.full)
    for index, symbol in enumerate(world.machine.symbols):
        if symbol.free:
            masks[index] = 1 << world.values[index].index(symbol.rest)
    for index, mask in world.together.outcomes([symbol.rest for symbol in world.machine.symbols]).items():
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
