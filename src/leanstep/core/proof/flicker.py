"""Pictures that flicker although nothing changes.

In a constant run nothing is left to choose, so it ends in a cycle of places.  A cycle that flickers passes through a
place just entered by a transition; it is therefore enough to follow constant runs from those, giving up as soon as a
stay grows to the flicker window, and splitting open symbols only where an answer needs it.
"""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass

import networkx as nx

from leanstep.core.proof.free_world import FreeWorld, Place, Split
from leanstep.core.proof.regional import Masks
from leanstep.core.proof.search import Reach, Stopped


@dataclass(frozen=True)
class Flicker:
    """A cycle of ``states`` (one: it restarts itself) of a layer, every stay shorter than the flicker window.

    Reached at ``place``; from there values of ``masks`` kept for ``lap`` ticks lead round once.
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


def flickers(
    reach: Reach,
    most: int = 2_000_000,
    time_limit: float | None = None,
    progress: Callable[[int], bool] | None = None,
) -> Flickers:
    """Every set of states some constant run flickers between, each with its earliest showing.

    ``most`` bounds the ticks of constant runs that are followed; ``time_limit`` in seconds only aborts.
    """
    started = time.perf_counter()
    best: dict[tuple[int, frozenset[int]], Flicker] = {}
    numbers = {place: number for number, place in enumerate(reach.places)}
    hunt = _Hunt(reach, numbers, most)
    complete = True
    for layer in range(len(reach.machine.layers)):
        suspects = _suspects(reach, layer)
        if not suspects:
            continue
        for done, start in enumerate(sorted(_entered(reach, layer))):
            if done % 64 == 0 and progress is not None and not progress(len(reach.places)):
                raise Stopped
            if hunt.left <= 0 or (time_limit is not None and time.perf_counter() - started > time_limit):
                complete = False
                break
            if reach.places[start].states[layer] in suspects:
                for found in hunt.runs(layer, start, suspects):
                    key = (layer, found.states)
                    if key not in best or found.ticks < best[key].ticks:
                        best[key] = found
    listed = sorted(best.values(), key=lambda found: (found.layer, found.ticks, sorted(found.states)))
    return Flickers(listed, complete and hunt.left > 0)


def _entered(reach: Reach, layer: int) -> set[int]:
    """Places in which the layer's state has just been entered."""
    found = {0}
    for number, successors in enumerate(reach.successors):
        for outcome, after in zip(reach.world.outcomes(reach.views[number]), successors):
            if outcome.fired[layer] >= 0:
                found.add(after)
    return found


def _suspects(reach: Reach, layer: int) -> set[int]:
    """States on a cycle of transitions that can be taken after a short stay without any pulse or edge."""
    graph = nx.DiGraph()
    done = set()
    for number, view in enumerate(reach.views):
        if view in done or reach.places[number].stays[layer] + 1 >= max(reach.machine.window, 1):
            continue
        done.add(view)
        ways = reach.machine.layers[layer].ways[view.states[layer]]
        for fired in reach.world.steady_fires(view):
            if fired[layer] >= 0:
                graph.add_edge(view.states[layer], ways[fired[layer]].target)
    return {
        state
        for component in nx.strongly_connected_components(graph)
        for state in component
        if len(component) > 1 or graph.has_edge(state, state)
    }


@dataclass
class _Hunt:
    """Follows constant runs; ``left`` ticks may still be followed."""

    reach: Reach
    numbers: dict[Place, int]
    left: int

    def runs(self, layer: int, start: int, suspects: set[int]) -> list[Flicker]:
        """Cycles that lead back to the place they are followed from.

        A run is given up when a stay reaches the window, when nothing can change any more, or when it enters a place
        with a lower number: its cycle is found from there.
        """
        world, window = self.reach.world, self.reach.machine.window
        found = []
        first = self.reach.places[start]
        stack = [_Run(world.steady_masks(first.states, first.held), [first], {first}, 0)]
        while stack:
            run = stack.pop()
            while self.left > 0:
                self.left -= 1
                place = run.path[-1]
                step = world.tick(world.view_of(place), run.masks)
                if isinstance(step, Split):
                    stack.extend(run.narrowed(world, step))
                    break
                after = world.after(place, step)
                run.stay += 1
                if step.fired[layer] < 0:
                    if run.stay >= window or after == place:
                        break
                elif run.stay >= window or after.states[layer] not in suspects:
                    break
                elif after == first:
                    flicker = self._cycle(layer, run)
                    found.extend([flicker] if flicker else [])
                    break
                elif after in run.entered or self.numbers.get(after, start) < start:
                    break
                else:
                    run.entered.add(after)
                    run.stay = 0
                run.path.append(after)
        return found

    def _cycle(self, layer: int, run: _Run) -> Flicker | None:
        """The flicker of a closed run, entered where it is reached first."""
        allowed = self.reach.world.completed(run.masks)
        shown = [self.numbers[place] for place in run.path if place in self.numbers]
        if allowed is None or not shown:
            return None
        earliest = min(shown, key=lambda number: self.reach.depths[number])
        states = frozenset(place.states[layer] for place in run.path)
        lap = len(run.path)
        return Flicker(layer, states, earliest, lap, allowed, self.reach.depths[earliest] + lap)


@dataclass
class _Run:
    """A constant run so far.  ``entered``: the places in which a state had just been entered; ``stay`` in ticks."""

    masks: Masks
    path: list[Place]
    entered: set[Place]
    stay: int

    def narrowed(self, world: FreeWorld, split: Split) -> list[_Run]:
        """This run for each half of a split that the assumptions leave open."""
        return [
            _Run(masks, list(self.path), set(self.entered), self.stay)
            for masks in split.of(self.masks)
            if world.allowed(masks) is not False
        ]
