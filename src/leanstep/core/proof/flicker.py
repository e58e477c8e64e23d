"""Pictures that flicker although nothing changes.

In a constant run nothing is left to choose, so it ends in a cycle of places.  A cycle that flickers is a closed chain of
short stays whose boxes have values in common.
"""

from __future__ import annotations

import heapq
import itertools
import math
from collections.abc import Iterator
from dataclasses import dataclass, field

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
        found = list(hunt.run(limits))
        for alone in (True, False):
            shown: set[int] = set()
            some = [one for one in found if (len(one.states) == 1) == alone]
            for one in sorted(some, key=lambda one: (one.ticks, sorted(one.states))):
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
class _Chain:
    """Stays that follow each other: the values they have in common, packed, and the fewest ticks to any of their places."""

    stays: tuple[Stay, ...]
    ticks: int
    depth: int
    box: int

    @property
    def total(self) -> int:
        """The ticks of the way there and once through."""
        return self.depth + self.ticks


@dataclass
class _Hunt:
    """Looks for closed chains of short stays in one layer; ``left`` stays may still be followed.

    A run with constant values passes the same places over and over, so every closed chain is found from the one of its
    places that comes first in some order, among those that come later.  Values lead from a place along one chain only:
    a chain that comes back to a place of its own, but not to its first, is given up.
    """

    reach: Reach
    layer: int
    left: int = MOST
    late: bool = False
    onward: dict[Place, list[Stay]] = field(default_factory=dict)
    depths: dict[int, int] = field(default_factory=dict)
    shown: dict[int, _Chain] = field(default_factory=dict)
    alone: dict[int, _Chain] = field(default_factory=dict)

    def run(self, limits: Limits) -> Iterator[Flicker]:
        """For every state the flicker of it alone, and that of it with others, shown in the fewest ticks."""
        self.stays = Stays(self.reach, self.layer)
        suspects = suspected(self.reach, self.layer)
        if suspects:
            self._link(suspects)
        left = set(self.onward)
        for first in sorted(self.onward, key=lambda place: (-len(self.onward[place]), self.reach.numbers[place])):
            if self.left <= 0 or self.late:
                break
            self.late = limits.late(len(self.reach.places))
            state = first.states[self.layer]
            self._close(first, {place for place in left if place.states[self.layer] == state})
            self._close(first, left)
            left.discard(first)
        for best in (self.alone, self.shown):
            yield from (self._flicker(best[state]) for state in sorted(best))

    def _link(self, suspects: set[int]) -> None:
        """Keep the stays that lie on a cycle in which every two neighbours have values in common."""
        places = [self.reach.places[number] for number in entered_places(self.reach, self.layer)]
        stays: dict[Place, list[Stay]] = {
            place: [stay for stay in self.stays.of(place) if stay.way.target in suspects]
            for place in places
            if place.states[self.layer] in suspects
        }
        graph = nx.DiGraph()
        possible = self.stays.packing.possible
        for row in stays.values():
            for stay in row:
                for later in stays.get(stay.after, ()):
                    if possible(stay.packed & later.packed):
                        graph.add_edge(id(stay), id(later))
        cyclic = {
            one
            for component in nx.strongly_connected_components(graph)
            for one in component
            if len(component) > 1 or graph.has_edge(one, one)
        }
        for place, row in stays.items():
            kept = [stay for stay in row if id(stay) in cyclic]
            if kept:
                self.onward[place] = kept
                self.depths |= {id(stay): self._depth(stay) for stay in kept}

    def _depth(self, stay: Stay) -> int:
        """The fewest ticks to any place of a stay."""
        numbers = self.reach.numbers
        return min(self.reach.depths[numbers[place]] for place in stay.on_the_way if place in numbers)

    def _close(self, first: Place, left: set[Place]) -> None:
        """Note the chains among the places ``left`` that lead back to the ``first`` and are shown sooner than those known of
        their states."""
        reach, packing = self.reach, self.stays.packing
        count = itertools.count()
        whole = packing.packed(reach.world.steady_masks(first.states, first.held))
        rows = {place: self.onward[place] for place in left}
        queue = [(0, 0, first, _Chain((), 0, reach.depths[reach.numbers[first]], whole), rows)]
        while queue and self.left > 0:
            ticks, _, place, chain, rows = heapq.heappop(queue)
            if chain.stays and place == first:
                if reach.world.completed(packing.box(chain.box)) is not None:
                    self._note(chain)
                continue
            around = self._around(place, first, chain.box, rows)
            if not around or min(self.depths[id(s)] for row in around.values() for s in row) + ticks >= self._most(around, chain):
                continue
            passed = {stay.after for stay in chain.stays}
            for stay in around[place]:
                if stay.after not in passed:
                    depth = min(chain.depth, self.depths[id(stay)])
                    later = _Chain((*chain.stays, stay), ticks + stay.ticks, depth, chain.box & stay.packed)
                    heapq.heappush(queue, (later.ticks, next(count), stay.after, later, around))

    def _around(
        self, place: Place, first: Place, box: int, rows: dict[Place, list[Stay]]
    ) -> dict[Place, list[Stay]]:
        """The stays in ``rows`` that have values in common with a box and lie between a place and the ``first``."""
        possible = self.stays.packing.possible
        onward: dict[Place, list[Stay]] = {}
        back: dict[Place, list[Place]] = {}
        waiting = [place]
        while waiting:
            here = waiting.pop()
            if here in onward:
                continue
            onward[here] = row = [stay for stay in rows[here] if stay.after in rows and possible(box & stay.packed)]
            self.left -= len(rows[here])
            for stay in row:
                back.setdefault(stay.after, []).append(here)
                if stay.after != first:
                    waiting.append(stay.after)
        around, waiting = set(), [first]
        while waiting:
            for here in back.get(waiting.pop(), ()):
                if here not in around:
                    around.add(here)
                    waiting.append(here)
        if place not in around:
            return {}
        around.add(first)
        return {here: [stay for stay in onward.get(here, ()) if stay.after in around] for here in around}

    def _most(self, around: dict[Place, list[Stay]], chain: _Chain) -> float:
        """The ticks from which on no way to end a chain ``around`` is of any use."""
        layer = self.layer
        states = {place.states[layer] for place in around} | {stay.way.target for stay in chain.stays}
        best = self.shown if len(states) > 1 else self.alone
        return max(best[state].total if state in best else math.inf for state in states)

    def _note(self, chain: _Chain) -> None:
        """Keep a closed chain for those of its states of which none is shown as soon."""
        states = {stay.way.target for stay in chain.stays}
        best = self.shown if len(states) > 1 else self.alone
        sooner = {state for state in states if state not in best or chain.total < best[state].total}
        best |= dict.fromkeys(sooner, chain)

    def _flicker(self, chain: _Chain) -> Flicker:
        """The flicker of a closed chain, entered where it is reached first."""
        reach = self.reach
        allowed = reach.world.completed(self.stays.packing.box(chain.box))
        assert allowed is not None
        passed = [reach.numbers[place] for stay in chain.stays for place in stay.on_the_way if place in reach.numbers]
        earliest = min(passed, key=lambda number: (reach.depths[number], number))
        states = frozenset(place.states[self.layer] for stay in chain.stays for place in stay.on_the_way)
        return Flicker(self.layer, states, earliest, chain.ticks, allowed, chain.total)
