"""Short stays in constant runs: from a state just entered to the transition that leaves it within the flicker window.

A constant run keeps its values, so a stay in it is decided by a box: sets of values all of which lead to the same
transition after the same time.  A longer constant run is a chain of such stays whose boxes have values in common.
"""

from __future__ import annotations

from dataclasses import dataclass

from leanstep.core.proof.search.reach import Reach, once
from leanstep.core.proof.states.cache import Stay
from leanstep.core.proof.states.places import Outcome, Place, View
from leanstep.core.proof.values.predicates import Masks, Split


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

            def answer(masks: Masks, _: object) -> Split | bool:
                stay = self._follow(place, masks, states)
                if isinstance(stay, Split):
                    return stay
                if stay is not None:
                    found.append(stay)
                return False

            world.divide(world.steady_masks(place), answer)
            world.kept.stays[key] = found, frozenset(states)
        return world.kept.stays[key][0]

    def _follow(self, place: Place, masks: Masks, states: set[tuple[int, ...]]) -> Stay | Split | None:
        world = self.reach.world
        passed: list[Place] = []
        last: tuple[View, Outcome] | None = None
        for ticks in range(1, self.reach.machine.window):
            passed.append(place)
            states.add(place.states)
            moved = world.move(place)
            outcome = last[1] if last is not None and last[0] == moved.view else world.tick(moved.view, masks)
            if isinstance(outcome, Split):
                return outcome
            last = moved.view, outcome
            after = world.after(place, moved, outcome)
            fired = outcome.fired[self.layer]
            if fired >= 0:
                way = self.reach.machine.layers[self.layer].ways[place.states[self.layer]][fired]
                return Stay(masks, way, ticks, after, tuple(passed))
            if after == place:
                return None
            place = after
        return None


@once
def stays_of(reach: Reach, layer: int) -> Stays:
    """The short stays of one layer of a search."""
    return Stays(reach, layer)
