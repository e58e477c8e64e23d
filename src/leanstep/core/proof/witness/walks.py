"""Walks from state to state on which what memories remember is kept, for takes that cannot wait in a state until it is remembered."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from functools import cached_property
from operator import and_

from leanstep.core.proof.search.reach import Reach
from leanstep.core.proof.values.predicates import Masks
from leanstep.core.proof.witness.waiting import Quiet, Wanted
from leanstep.core.rehearsal.situation import Glimpse

MOST_MORE = 10
"""Lengths of walks that are tried, of one tick more each."""

Walk = tuple[int, list[Masks]]
"""The state that a walk begins in, and the values of every tick."""


class Walks:
    """Walks of a layer on which every state is left on its first tick, by values with which the search saw that, whatever the past."""

    def __init__(self, reach: Reach, layer: int, quiet: Quiet) -> None:
        self.reach, self.layer, self.quiet = reach, layer, quiet

    def to(self, state: int, wanted: Wanted, ticks: int, seen: Mapping[int, Glimpse]) -> Iterator[Walk]:
        """Walks to a state through those that were ``seen``, of so many ticks and a few more, on which what memories remember is as
        ``wanted``: of each length the one that begins in the state that was seen first."""
        missing, masks = self.quiet.narrowed(self.reach.world.full, wanted)
        before = {} if missing else self._before(masks)
        # for every length the states in which a walk begins, with its first values and the state after
        begins: list[dict[int, tuple[Masks, int]]] = []
        last: list[int] = [state]
        while last and len(begins) < ticks + MOST_MORE:
            begin: dict[int, tuple[Masks, int]] = {}
            for after in last:
                for source, box in before.get(after, ()):
                    begin.setdefault(source, (box, after))
            begins.append(begin)
            last = sorted(begin.keys() & seen.keys(), key=lambda one: seen[one].tick)
            if last and len(begins) >= ticks:
                yield last[0], _along(last[0], begins)

    def _before(self, masks: Masks) -> dict[int, list[tuple[int, Masks]]]:
        """For each state those from which it is come to with values out of masks, and such values."""
        found: dict[int, list[tuple[int, Masks]]] = {}
        for source, target, box in self._sure:
            part = tuple(map(and_, box, masks))
            if all(part):
                found.setdefault(target, []).append((source, part))
        return found

    @cached_property
    def _sure(self) -> list[tuple[int, int, Masks]]:
        """Pairs of states and values with which the first gives way to the second on its first tick, whatever the past."""
        world, found = self.reach.world, []
        for state, views in self.quiet.views.items():
            row = self.reach.machine.layers[self.layer].ways[state]
            for view in (view for view in views if not view.stays[self.layer]):
                for position, outcome in enumerate(world.outcomes(view)):
                    fired = outcome.fired[self.layer]
                    boxes = world.boxes(view, position) if fired >= 0 else ()
                    found += [(state, row[fired].target, box) for box in boxes if not world.trust(box)]
        return found


def _along(state: int, begins: list[dict[int, tuple[Masks, int]]]) -> list[Masks]:
    """The values of the longest walk from a state."""
    found = []
    for begin in reversed(begins):
        box, state = begin[state]
        found.append(box)
    return found
