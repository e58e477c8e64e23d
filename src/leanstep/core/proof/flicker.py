"""Pictures that flicker although nothing changes.

In a constant run nothing is left to choose, so it ends in a cycle of places.  A cycle that flickers is a closed chain of
short stays whose boxes have values in common.
"""

from __future__ import annotations

import heapq
import itertools
from dataclasses import dataclass

import networkx as nx

from leanstep.core.proof.free_world import FreeWorld
from leanstep.core.proof.places import Place, Split, View
from leanstep.core.proof.regional import Masks
from leanstep.core.proof.search import Limits, Reach
from leanstep.core.proof.stays import Stay, Stays

MOST = 1_000_000
"""Short stays that are followed for one slice."""


@dataclass(frozen=True)
class Flicker:
    """A cycle of ``states`` (one: it restarts itself) of a layer, every stay shorter than the flicker window.

    Reached at ``place``; from there values of ``masks`` kept for ``lap`` ticks lead round once.  ``ticks`` are those of the
    way there and once round.
    """

    layer: int
    states: frozenset[int]
    place: int
    lap: int
    masks: Masks
    ticks: int


@dataclass
class Flickers:
    """What was found; ``complete`` is False when the work was cut short."""

    found: list[Flicker]
    complete: bool = True


def flickers(reach: Reach, layers: tuple[int, ...], limits: Limits | None = None) -> Flickers:
    """Flickers of ``layers`` that between them show every state that can flicker, each in the fewest ticks any flicker
    through one of its states needs.  One whose states others show already, sooner, is left out; states that restart
    themselves are listed on their own."""
    limits = limits or Limits()
    listed: list[Flicker] = []
    complete = reach.complete
    for layer in layers:
        hunt = _Hunt(reach, layer)
        for alone in (True, False):
            best = [hunt.through(state, alone, limits) for state in sorted(hunt.suspects)]
            found = [one for one in best if one is not None]
            shown: set[int] = set()
            for one in sorted(found, key=lambda one: (one.ticks, len(one.states), sorted(one.states))):
                if not one.states <= shown:
                    listed.append(one)
                    shown |= one.states
        complete = complete and hunt.left > 0 and not hunt.late
    return Flickers(sorted(listed, key=lambda one: (one.layer, one.ticks, sorted(one.states))), complete)


def entered_places(reach: Reach, layer: int) -> list[int]:
    """Places in which the layer's state has just been entered, in order."""
    found = {0}
    for number, row in enumerate(reach.successors):
        if row:
            for outcome, (after, _) in zip(reach.world.outcomes(reach.views[number]), row):
                if outcome.fired[layer] >= 0:
                    found.add(after)
    return sorted(found)


def suspected(reach: Reach, layer: int) -> set[int]:
    """States on a cycle of transitions that can be taken after a short stay without any pulse or edge."""
    graph = nx.DiGraph()
    graph.add_edges_from(sorted(quick_edges(reach, layer)))
    return {
        state
        for component in nx.strongly_connected_components(graph)
        for state in component
        if len(component) > 1 or graph.has_edge(state, state)
    }


def quick_edges(reach: Reach, layer: int) -> set[tuple[int, int]]:
    """The pairs of states between which a transition can be taken after a short stay without any pulse or edge."""
    return {(source, target) for source, target, _ in quick_ways(reach, layer)}


def quick_ways(reach: Reach, layer: int) -> set[tuple[int, int, bool]]:
    """Source, target and urgency of what can be taken after a short stay without any pulse or edge."""
    found: set[tuple[int, int, bool]] = set()
    done: set[View] = set()
    window = max(reach.machine.window, 1)
    for number, view in enumerate(reach.views):
        if view in done or reach.places[number].stays[layer] + 1 >= window:
            continue
        done.add(view)
        ways = reach.machine.layers[layer].ways[view.states[layer]]
        for fired in _steady_fires(reach.world, view):
            if fired[layer] >= 0:
                way = ways[fired[layer]]
                found.add((view.states[layer], way.target, way.urgent))
    return found


def _steady_fires(world: FreeWorld, view: View) -> list[tuple[int, ...]]:
    """What can fire in a view without any pulse or edge."""
    found: dict[tuple[int, ...], None] = {}

    def answer(masks: Masks) -> Split | bool:
        step = world.evaluate(view, masks)
        if isinstance(step, Split):
            return step
        if step[0] not in found and world.completed(masks) is not None:
            found[step[0]] = None
        return False

    world.divide(world.steady_masks(view.states, view.held), answer)
    return list(found)


@dataclass(frozen=True, slots=True)
class _Near:
    """A stay that may be part of a closed chain, the fewest ticks to any of its places, and the number of its ``round``:
    the stays it can share a chain with."""

    stay: Stay
    depth: int
    round: int


@dataclass
class _Hunt:
    """Looks for closed chains of short stays in one layer; ``left`` stays may still be followed.

    ``suspects`` are the states that may be part of one; those found not to be are taken out.
    """

    reach: Reach
    layer: int
    left: int = MOST
    late: bool = False

    def __post_init__(self) -> None:
        self.suspects = suspected(self.reach, self.layer)
        self.stays = Stays(self.reach, self.layer)
        self.onward: dict[Place, list[_Near]] = {}
        self.least: dict[Place, int] = {}
        self.entered: dict[int, list[int]] = {}
        if self.suspects:
            self._link()

    def _link(self) -> None:
        """Keep the stays that lie on a cycle in which every two neighbours have values in common."""
        places = [self.reach.places[number] for number in entered_places(self.reach, self.layer)]
        stays: dict[Place, list[Stay]] = {
            place: [stay for stay in self.stays.of(place) if stay.way.target in self.suspects]
            for place in places
            if place.states[self.layer] in self.suspects
        }
        graph = nx.DiGraph()
        possible = self.stays.packing.possible
        for row in stays.values():
            for stay in row:
                for later in stays.get(stay.after, ()):
                    if possible(stay.packed & later.packed):
                        graph.add_edge(id(stay), id(later))
        rounds = {
            one: number
            for number, component in enumerate(nx.strongly_connected_components(graph))
            for one in component
            if len(component) > 1 or graph.has_edge(one, one)
        }
        least: dict[int, int] = {}
        for place, row in stays.items():
            kept = [_Near(stay, self._depth(stay), rounds[id(stay)]) for stay in row if id(stay) in rounds]
            if kept:
                self.onward[place] = kept
                self.entered.setdefault(place.states[self.layer], []).append(self.reach.numbers[place])
            for one in kept:
                least[one.round] = min(one.depth, least.get(one.round, one.depth))
        self.least = {place: min(least[one.round] for one in row) for place, row in self.onward.items()}
        self.suspects &= set(self.entered)

    def _depth(self, stay: Stay) -> int:
        """The fewest ticks to any place of a stay."""
        numbers = self.reach.numbers
        return min(self.reach.depths[numbers[place]] for place in stay.on_the_way if place in numbers)

    def through(self, state: int, alone: bool, limits: Limits) -> Flicker | None:
        """The flicker through a state, of it ``alone`` or with others, that is shown in the fewest ticks; None when there is
        none."""
        best: Flicker | None = None
        for start in sorted(self.entered.get(state, []), key=lambda number: (self.reach.depths[number], number)):
            self.late = self.late or limits.late(len(self.reach.places))
            if self.left <= 0 or self.late:
                return best
            if best is not None and self.reach.depths[start] >= best.ticks:
                break
            best = self._closed(start, alone, best) or best
        if best is None and not alone:
            self.suspects.discard(state)
        return best

    def _closed(self, start: int, alone: bool, known: Flicker | None) -> Flicker | None:
        """The chain that leads back to a place and is shown in the fewest ticks, if those are fewer than a known one's.

        Where a place has been come to with more values, no later, and past places no farther, nothing new can follow from
        fewer.
        """
        reach, first, packing = self.reach, self.reach.places[start], self.stays.packing
        count = itertools.count()
        only = first.states[self.layer]
        most = known.ticks if known else None
        least = self.least[first]
        best: tuple[int, tuple[Stay, ...]] | None = None
        begin = packing.packed(reach.world.steady_masks(first.states, first.held))
        queue: list[tuple[int, int, int, int, Place, tuple[Stay, ...]]]
        queue = [(0, next(count), reach.depths[start], begin, first, ())]
        been: dict[Place, list[tuple[int, int]]] = {}
        while queue and self.left > 0:
            ticks, _, depth, box, place, chain = heapq.heappop(queue)
            if most is not None and least + ticks >= most:
                break
            if chain and place == first:
                if (alone or any(stay.way.target != only for stay in chain)) and (most is None or depth + ticks < most):
                    most, best = depth + ticks, (box, chain)
                continue
            if any(box & wider == box and nearer <= depth for wider, nearer in been.get(place, ())):
                continue
            been.setdefault(place, []).append((box, depth))
            for one in self.onward.get(place, ()):
                self.left -= 1
                stay = one.stay
                both = box & stay.packed
                if stay.way.target not in self.suspects or not packing.possible(both):
                    continue
                if alone and stay.way.target != only:
                    continue
                if stay.after != first or reach.world.completed(packing.box(both)) is not None:
                    later = (ticks + stay.ticks, next(count), min(depth, one.depth), both, stay.after, (*chain, stay))
                    heapq.heappush(queue, later)
        return self._flicker(packing.box(best[0]), best[1]) if best else None

    def _flicker(self, masks: Masks, chain: tuple[Stay, ...]) -> Flicker:
        """The flicker of a closed chain, entered where it is reached first."""
        reach = self.reach
        allowed = reach.world.completed(masks)
        assert allowed is not None
        shown = [reach.numbers[place] for stay in chain for place in stay.on_the_way if place in reach.numbers]
        earliest = min(shown, key=lambda number: (reach.depths[number], number))
        states = frozenset(place.states[self.layer] for stay in chain for place in stay.on_the_way)
        lap = sum(stay.ticks for stay in chain)
        return Flicker(self.layer, states, earliest, lap, allowed, reach.depths[earliest] + lap)
