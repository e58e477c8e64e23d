"""Short stays in constant runs: from a state just entered to the transition that leaves it within the flicker window.

A constant run keeps its values, so a stay in it is decided by a box: sets of values all of which lead to the same
transition after the same time.  A longer constant run is a chain of such stays whose boxes have values in common.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

from leanstep.core.proof.search.reach import Reach, once
from leanstep.core.proof.states.cache import Stay
from leanstep.core.proof.states.free_world import Halt, Tried
from leanstep.core.proof.states.places import Outcome, Place, View
from leanstep.core.proof.values.predicates import Masks, Split


class _Run(NamedTuple):
    """How far a constant run has been followed: the place it is in, those it passed before, what happened last and in which view,
    and where the tick that needed a split had come."""

    place: Place
    passed: tuple[Place, ...] = ()
    last: tuple[View, Outcome] | None = None
    then: Tried | Halt | None = None


@dataclass
class Stays:
    """The short stays of one layer, worked out once for every place."""

    reach: Reach
    layer: int

    def of(self, place: Place) -> list[Stay]:
        """Every stay that begins in a place just entered and is shorter than the window; boxes do not overlap."""
        world, key = self.reach.world, (self.layer, place)
        if key not in world.kept.stays:
            found: list[Stay] = []
            states: set[tuple[int, ...]] = set()

            def answer(masks: Masks, run: _Run | None) -> Split | bool:
                stay = self._follow(run or _Run(place), masks, states)
                if isinstance(stay, Split):
                    return stay
                if stay is not None:
                    found.append(stay)
                return False

            world.divide(world.steady_masks(place), answer)
            world.kept.stays[key] = found, frozenset(states)
        return world.kept.stays[key][0]

    def _follow(self, run: _Run, masks: Masks, states: set[tuple[int, ...]]) -> Stay | Split | None:
        world = self.reach.world
        place, passed, last, then = run
        while len(passed) < self.reach.machine.window - 1:
            states.add(place.states)
            moved = world.move(place)
            outcome = last[1] if last is not None and last[0] == moved.view else world.tick(moved.view, masks, then)
            if isinstance(outcome, Split):
                return outcome._replace(then=_Run(place, passed, last, outcome.then))
            passed, last, then = (*passed, place), (moved.view, outcome), None
            after = world.after(place, moved, outcome)
            fired = outcome.fired[self.layer]
            if fired >= 0:
                way = self.reach.machine.layers[self.layer].ways[place.states[self.layer]][fired]
                return Stay(masks, way, len(passed), after, passed)
            if after == place:
                return None
            place = after
        return None


@once
def stays_of(reach: Reach, layer: int) -> Stays:
    """The short stays of one layer of a search."""
    return Stays(reach, layer)
