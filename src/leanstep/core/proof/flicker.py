"""Pictures that flicker although nothing changes.

In a constant run nothing is left to choose, so it ends in a cycle of places.  A cycle that flickers passes through a
place just entered by a transition; it is therefore enough to follow constant runs from those, giving up as soon as a
stay grows to the flicker window, and splitting open symbols only where an answer needs it.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import networkx as nx

from leanstep.core.proof.free_world import FreeWorld
from leanstep.core.proof.places import Outcome, Place, Split, View
from leanstep.core.proof.regional import Masks
from leanstep.core.proof.search import Limits, Reach

MOST = 2_000_000
"""Ticks of constant runs that are followed for one slice."""


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
    """Every set of states of ``layers`` some constant run flickers between, each with its earliest showing."""
    limits = limits or Limits()
    best: dict[tuple[int, frozenset[int]], Flicker] = {}
    hunt = _Hunt(reach)
    complete = reach.complete
    for layer in layers:
        suspects = suspected(reach, layer)
        if not suspects:
            continue
        for done, start in enumerate(entered_places(reach, layer)):
            if hunt.left <= 0 or (done % 64 == 0 and limits.late(len(reach.places))):
                complete = False
                break
            if reach.places[start].states[layer] in suspects:
                for found in hunt.runs(layer, start, suspects):
                    key = (layer, found.states)
                    if key not in best or found.ticks < best[key].ticks:
                        best[key] = found
    listed = sorted(best.values(), key=lambda found: (found.layer, found.ticks, sorted(found.states)))
    return Flickers(listed, complete and hunt.left > 0)


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


@dataclass
class Run:
    """A constant run so far: the values kept, the places passed, those in which a layer's state had just been entered,
    and the ticks since the last time."""

    masks: Masks
    path: list[Place]
    entered: set[Place] = field(default_factory=set)
    stay: int = 0

    def narrowed(self, world: FreeWorld, split: Split) -> list[Run]:
        """This run for each half of a split that the assumptions leave open."""
        return [
            Run(masks, list(self.path), set(self.entered), self.stay)
            for masks in split.of(self.masks)
            if world.allowed(masks) is not False
        ]


class Walker:
    """Takes single ticks of constant runs; a tick that must be like the one before is not worked out again."""

    def __init__(self, world: FreeWorld) -> None:
        self.world = world
        self._last: tuple[View, Masks, Outcome] | None = None

    def tick(self, place: Place, masks: Masks) -> tuple[Place, Outcome] | Split:
        """The place after a tick with these values, or the split needed to tell."""
        moved = self.world.move(place)
        last = self._last
        if last is not None and last[0] == moved.view and last[1] == masks:
            return self.world.after(place, moved, last[2]), last[2]
        outcome = self.world.tick(moved.view, masks)
        if isinstance(outcome, Split):
            return outcome
        self._last = moved.view, masks, outcome
        return self.world.after(place, moved, outcome), outcome


@dataclass
class _Hunt:
    """Follows constant runs; ``left`` ticks may still be followed."""

    reach: Reach
    left: int = MOST

    def runs(self, layer: int, start: int, suspects: set[int]) -> list[Flicker]:
        """Cycles that lead back to the place they are followed from.

        A run is given up when a stay reaches the window, when nothing can change any more, or when it enters a place
        with a lower number: its cycle is found from there.
        """
        world, window, numbers = self.reach.world, self.reach.machine.window, self.reach.numbers
        walker = Walker(world)
        found = []
        first = self.reach.places[start]
        stack = [Run(world.steady_masks(first.states, first.held), [first], {first})]
        while stack:
            run = stack.pop()
            while self.left > 0:
                self.left -= 1
                place = run.path[-1]
                step = walker.tick(place, run.masks)
                if isinstance(step, Split):
                    stack.extend(run.narrowed(world, step))
                    break
                after, outcome = step
                run.stay += 1
                if outcome.fired[layer] < 0:
                    if run.stay >= window or after == place:
                        break
                elif run.stay >= window or after.states[layer] not in suspects:
                    break
                elif after == first:
                    flicker = self._cycle(layer, run)
                    found.extend([flicker] if flicker else [])
                    break
                elif after in run.entered or numbers.get(after, start) < start:
                    break
                else:
                    run.entered.add(after)
                    run.stay = 0
                run.path.append(after)
        return found

    def _cycle(self, layer: int, run: Run) -> Flicker | None:
        """The flicker of a closed run, entered where it is reached first."""
        allowed = self.reach.world.completed(run.masks)
        shown = [self.reach.numbers[place] for place in run.path if place in self.reach.numbers]
        if allowed is None or not shown:
            return None
        earliest = min(shown, key=lambda number: (self.reach.depths[number], number))
        states = frozenset(place.states[layer] for place in run.path)
        lap = len(run.path)
        return Flicker(layer, states, earliest, lap, allowed, self.reach.depths[earliest] + lap)
