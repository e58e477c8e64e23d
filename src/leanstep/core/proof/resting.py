"""What becomes of a character that is left alone: everything at its rest value."""

from __future__ import annotations

from dataclasses import dataclass

from leanstep.core.proof.free_world import FreeWorld
from leanstep.core.proof.kept import Happens
from leanstep.core.proof.places import Split, View
from leanstep.core.proof.regional import Masks
from leanstep.core.proof.search import Reach, nearest_first

Entered = tuple[frozenset[int], ...]
"""Per layer, states entered."""


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
    runs = _Runs(reach, masks)
    found: dict[tuple[int, frozenset[int]], Restless] = {}
    seen: set[_End] = set()
    for number in nearest_first(reach):
        end = runs.end(number)
        if end in seen:
            continue
        seen.add(end)
        for layer in asked:
            restful = reach.machine.layers[layer].restful
            states = frozenset(reach.places[one].states[layer] for one in end.cycle)
            held = len(states) == 1 and states <= restful
            if end.known and not held and not end.entered[layer] & restful:
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
    """Where a run ends: the places it goes round in, and per layer the states entered on the way.  Not ``known``: that
    depends on something open."""

    cycle: tuple[int, ...]
    entered: Entered
    known: bool = True


class _Runs:
    """Runs in which every value goes to one of a set and stays there, as fast as declared limits let it; what has been found
    out about a place is kept."""

    def __init__(self, reach: Reach, masks: Masks) -> None:
        self.reach, self.world, self.masks = reach, reach.world, masks
        self.ends: dict[int, _End] = {}
        self._happens: dict[View, Happens] = {}
        self.none = tuple(frozenset[int]() for _ in reach.machine.layers)

    def end(self, place: int) -> _End:
        """Where the run from a place ends."""
        ends, path, on_path = self.ends, list[tuple[int, Entered]](), dict[int, int]()
        while (end := ends.get(place)) is None and place not in on_path:
            follows = self._follows(place)
            if follows is None:
                end = ends[place] = _End((), self.none, False)
                break
            on_path[place] = len(path)
            path.append((place, follows[1]))
            place = follows[0]
        if end is None:
            cycle, path = path[on_path[place] :], path[: on_path[place]]
            end = _End(tuple(one for one, _ in cycle), self._joined([entered for _, entered in cycle]))
            ends.update((one, end) for one in end.cycle)
        for one, entered in reversed(path):
            if any(entered):
                both = self._joined([entered, end.entered])
                end = end if both == end.entered else _End(end.cycle, both, end.known)
            ends[one] = end
        return end

    def _follows(self, number: int) -> tuple[int, Entered] | None:
        """The place after, and per layer the states entered; None when that depends on something open, or the assumptions
        forbid the values."""
        view = self.reach.views[number]
        if view not in self._happens:
            self._happens[view] = self._known(view, self._next(view))
        happens = self._happens[view]
        return (self.reach.successors[number][happens[0]], happens[1]) if happens is not None else None

    def _known(self, view: View, masks: Masks) -> Happens:
        known = self.world.kept.rests
        if (view, masks) not in known:
            known[view, masks] = self._what_happens(view, masks)
        return known[view, masks]

    def _what_happens(self, view: View, masks: Masks) -> Happens:
        """The position of what happens in a view, and per layer the states entered."""
        outcome = self.world.tick(view, masks)
        if isinstance(outcome, Split) or self.world.allowed(masks) is False:
            return None
        outcomes = self.world.outcomes(view)
        position = next((at for at, one in enumerate(outcomes) if one.brings(outcome)), None)
        if position is None:
            return None
        ways = (table.ways[state] for table, state in zip(self.world.machine.layers, view.states))
        return position, tuple(
            frozenset([row[fired].target]) if fired >= 0 else frozenset[int]()
            for row, fired in zip(ways, outcome.fired)
        )

    def _next(self, view: View) -> Masks:
        """The values on the tick after a place with a view."""
        masks = list(self.masks)
        for index, near in zip(self.world.paced, view.near):
            reach = self.world.regions.reach[index][near.bit_length() - 1]
            if not reach & masks[index]:
                masks[index] = 1 << reach.bit_length() - 1 if masks[index] > reach else reach & -reach
        return tuple(masks)

    def _joined(self, entries: list[Entered]) -> Entered:
        entries = [entered for entered in entries if any(entered)] or [self.none]
        return tuple(frozenset().union(*layer) for layer in zip(*entries))
