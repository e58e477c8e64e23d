"""Everything that can be reached in the free world, nearest first."""

from __future__ import annotations

import time
from array import array
from collections.abc import Callable
from dataclasses import dataclass, field

from leanstep.core.graph.machine import Machine
from leanstep.core.proof.free_world import FreeWorld, Outcome, Place, View

BUDGET = 200_000
"""Situations a search may visit unless told otherwise."""


class Stopped(Exception):
    """The person stopped the work."""


@dataclass
class Reach:
    """The reachable places of a character.

    ``places`` in the order they were found (fewest ticks first); ``views[i]`` is the view of place i and
    ``successors[i]`` the place each of that view's outcomes leads to.  ``parents[i]`` is the place before and the outcome's
    position (-1 for the first place).  ``depths[i]`` are ticks.  ``complete``: nothing was left out.
    """

    world: FreeWorld
    places: list[Place] = field(default_factory=list)
    views: list[View] = field(default_factory=list)
    successors: list[array[int]] = field(default_factory=list)
    parents: list[tuple[int, int]] = field(default_factory=list)
    depths: array[int] = field(default_factory=lambda: array("l"))
    entered: dict[tuple[int, int], int] = field(default_factory=dict)
    fired: set[tuple[int, int]] = field(default_factory=set)
    edges: list[set[tuple[int, int]]] = field(default_factory=list)
    complete: bool = True
    aborted: str = ""

    @property
    def machine(self) -> Machine:
        return self.world.machine

    def path(self, place: int) -> list[Outcome]:
        """The outcomes, tick by tick, that lead to a place."""
        found = []
        while self.parents[place][0] >= 0:
            parent, position = self.parents[place]
            found.append(self.world.outcomes(self.views[parent])[position])
            place = parent
        return found[::-1]


def explore(
    machine: Machine,
    budget: int = BUDGET,
    time_limit: float | None = None,
    progress: Callable[[int], bool] | None = None,
) -> Reach:
    """Visit every place reachable in the free world, breadth first.

    ``budget`` bounds the number of places (the same on every machine); ``time_limit`` in seconds only aborts.
    ``progress`` is told the number of places now and then and returns False to stop (:class:`Stopped`).

    ``entered[layer, state]`` is the first place in which a state is active, ``fired`` the (layer, transition index) that
    can be taken, ``edges[layer]`` the pairs of states between which one can.
    """
    world = FreeWorld(machine)
    reach = Reach(world, edges=[set() for _ in machine.layers])
    started = time.perf_counter()
    ids: dict[Place, int] = {}
    seen: set[tuple[View, int]] = set()

    def add(place: Place, parent: int, position: int, depth: int) -> int:
        number = ids.get(place)
        if number is None:
            number = ids[place] = len(reach.places)
            reach.places.append(place)
            reach.parents.append((parent, position))
            reach.depths.append(depth)
            for at, state in enumerate(place.states):
                reach.entered.setdefault((at, state), number)
        return number

    if world.completed(world.full) is None:
        reach.complete = False
        reach.aborted = "the assumptions can never all hold"
        add(world.first(), -1, -1, 0)
        return reach
    add(world.first(), -1, -1, 0)
    current = 0
    while current < len(reach.places):
        if len(reach.places) > budget:
            reach.complete, reach.aborted = False, f"the budget of {budget} situations was used up"
            break
        if current % 512 == 0:
            if time_limit is not None and time.perf_counter() - started > time_limit:
                reach.complete, reach.aborted = False, f"the time limit of {time_limit:g} s was reached"
                break
            if progress is not None and not progress(len(reach.places)):
                raise Stopped
        place = reach.places[current]
        view = world.view_of(place)
        outcomes = world.outcomes(view)
        depth = reach.depths[current] + 1
        reach.views.append(view)
        reach.successors.append(
            array("l", (add(world.after(place, outcome), current, at, depth) for at, outcome in enumerate(outcomes)))
        )
        for at, outcome in enumerate(outcomes):
            if (view, at) in seen or not any(fired >= 0 for fired in outcome.fired):
                continue
            seen.add((view, at))
            for layer, fired in enumerate(outcome.fired):
                if fired >= 0:
                    way = machine.layers[layer].ways[view.states[layer]][fired]
                    reach.fired.add((layer, way.index))
                    reach.edges[layer].add((view.states[layer], way.target))
        current += 1
    return reach
