"""Pictures that flicker although nothing changes.

In a constant run nothing is left to choose, so it ends in a cycle of places.  A cycle that flickers passes through a
place just entered by a transition; it is therefore enough to follow constant runs from those, giving up as soon as a
stay grows to the flicker window, and splitting open symbols only where an answer needs it.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import networkx as nx

from leanstep.core.proof.free_world import FreeWorld, Place, Split
from leanstep.core.proof.regional import Masks
from leanstep.core.proof.search import Reach, Stopped

LONGEST_CYCLE = 20_000
"""Ticks after which a constant run is given up."""


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


def flickers(reach: Reach, progress: Callable[[int], bool] | None = None) -> list[Flicker]:
    """Every set of states some constant run flickers between, each with its earliest showing."""
    best: dict[tuple[int, frozenset[int]], Flicker] = {}
    numbers = {place: number for number, place in enumerate(reach.places)}
    for layer in range(len(reach.machine.layers)):
        suspects = _suspects(reach, layer)
        if not suspects:
            continue
        for done, start in enumerate(sorted(_entered(reach, layer))):
            if progress is not None and done % 64 == 0 and not progress(len(reach.places)):
                raise Stopped
            if reach.places[start].states[layer] in suspects:
                for found in _runs(reach, layer, start, suspects, numbers):
                    key = (layer, found.states)
                    if key not in best or found.ticks < best[key].ticks:
                        best[key] = found
    return sorted(best.values(), key=lambda found: (found.layer, found.ticks, sorted(found.states)))


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


def _runs(reach: Reach, layer: int, start: int, suspects: set[int], numbers: dict[Place, int]) -> list[Flicker]:
    """Follow every constant run from a place as long as no stay reaches the window."""
    world, window = reach.world, reach.machine.window
    found = []
    first = reach.places[start]
    stack = [_Run(world.steady_masks(first.states, first.held), [first], {first: 0}, 0)]
    while stack:
        run = stack.pop()
        while len(run.path) < LONGEST_CYCLE:
            place = run.path[-1]
            step = world.tick(world.view_of(place), run.masks)
            if isinstance(step, Split):
                stack.extend(run.narrowed(world, step))
                break
            after = world.after(place, step)
            run.stay += 1
            if step.fired[layer] < 0:
                if run.stay >= window:
                    break
            elif run.stay >= window or after.states[layer] not in suspects:
                break
            elif after in run.entries:
                cycle = run.path[run.entries[after] :]
                solved = world.completed(run.masks)
                shown = [numbers[one] for one in cycle if one in numbers]
                if solved is not None and shown:
                    earliest = min(shown, key=lambda number: reach.depths[number])
                    states = frozenset(one.states[layer] for one in cycle)
                    ticks = reach.depths[earliest] + len(cycle)
                    found.append(Flicker(layer, states, earliest, len(cycle), solved, ticks))
                break
            else:
                run.entries[after] = len(run.path)
                run.stay = 0
            run.path.append(after)
    return found


@dataclass
class _Run:
    """A constant run so far.  ``entries``: where in ``path`` a state had just been entered; ``stay`` in ticks."""

    masks: Masks
    path: list[Place]
    entries: dict[Place, int]
    stay: int

    def narrowed(self, world: FreeWorld, split: Split) -> list[_Run]:
        """This run for each half of a split that the assumptions leave open."""
        return [
            _Run(masks, list(self.path), dict(self.entries), self.stay)
            for masks in split.of(self.masks)
            if world.allowed(masks) is not False
        ]
