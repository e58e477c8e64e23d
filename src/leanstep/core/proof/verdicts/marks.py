"""Marks without effects: which fire, and which a transition can cut off.

Such a mark decides nothing, so places do not tell stays apart for it.  Here they are: every way through a state whose
clip has such marks is followed from the tick it is entered up to its last mark, place by place.
"""

from __future__ import annotations

import heapq
from dataclasses import dataclass

from leanstep.core.clips.timing import TICK
from leanstep.core.graph.clip_tables import Cue
from leanstep.core.proof.search.reach import Reach, ways_in
from leanstep.core.proof.states.places import Outcome
from leanstep.core.work import MOST_TICKS


@dataclass(frozen=True)
class Cut:
    """A mark cut off on tick ``tick``: after the outcomes of ``path`` (None: the shortest way there), in ``place``, by what
    happens at ``position`` of its outcomes."""

    place: int
    position: int
    tick: int
    path: tuple[Outcome, ...] | None = None


@dataclass(frozen=True)
class Marks:
    """``fired`` are the (layer, state, name) that fire, ``missed`` those that can be cut off, each as soon as possible."""

    fired: frozenset[tuple[int, int, str]]
    missed: dict[tuple[int, int, str], Cut]


def marks_of(reach: Reach, layers: tuple[int, ...]) -> Marks:
    """The marks of every state these layers can be in; those with effects as the search noted them."""
    fired = set(reach.marks)
    missed = {key: Cut(*where, reach.depths[where[0]]) for key, where in reach.missed.items()}
    for layer in layers:
        for state, picture in enumerate(reach.machine.pictures[layer]):
            if (layer, state) in reach.entered and picture is not None and reach.world.layout.idle_cues(layer, state):
                stroll = _MarkWalk(reach, layer, state, picture.common.cues, picture.common.timing.length)
                stroll.run()
                fired |= {(layer, state, name) for name in stroll.fired}
                missed |= {(layer, state, name): cut for name, cut in stroll.missed.items()}
    return Marks(frozenset(fired), missed)


_Spot = tuple[int, int]
"""A place's number and the ticks the state has been shown."""


class _MarkWalk:
    """Goes through a state, nearest first, with its stay counted out."""

    def __init__(self, reach: Reach, layer: int, state: int, cues: tuple[Cue, ...], length: int) -> None:
        self.reach, self.layer, self.state = reach, layer, state
        self.ticks = [(-(-cue.at // TICK), cue.name) for cue in cues if cue.at <= length]
        self.last = max((ticks for ticks, _ in self.ticks), default=0)
        self.fired: set[str] = set()
        self.missed: dict[str, Cut] = {}
        self.before: dict[_Spot, tuple[_Spot | None, int, int]] = {}
        self.waiting: list[tuple[int, _Spot, _Spot | None, int, int]] = []

    def run(self) -> None:
        """Follow every way up to the last mark."""
        self._enter()
        while self.waiting:
            depth, spot, parent, position, ticks = heapq.heappop(self.waiting)
            if spot not in self.before and spot[1] < self.last:
                self.before[spot] = parent, position, ticks
                self._go_on(depth, spot)

    def _enter(self) -> None:
        reach = self.reach
        first = reach.machine.layers[self.layer].start
        if first == self.state:
            heapq.heappush(self.waiting, (0, (0, 0), None, -1, 0))
        for number, position, after in ways_in(reach, self.layer):
            if reach.places[after].states[self.layer] == self.state:
                # the way to the place before is the search's own
                heapq.heappush(self.waiting, (reach.depths[number] + 1, (after, 0), (number, -1), position, 1))

    def _go_on(self, depth: int, spot: _Spot) -> None:
        reach, (number, stay) = self.reach, spot
        if not reach.successors[number]:
            return
        view = reach.views[number]
        after_it = stay + (not view.frozen)
        outcomes = reach.world.outcomes(view)
        leap = reach.leaps.get(number, 1)
        for position, after in enumerate(reach.successors[number]):
            ticks = leap if outcomes[position].idle else 1
            leaves = outcomes[position].fired[self.layer] >= 0
            shown = after_it if leaves or view.frozen else stay + ticks
            self.fired |= {name for at, name in self.ticks if stay < at <= shown}
            if leaves:
                for at, name in self.ticks:
                    if at > after_it and name not in self.missed:
                        self.missed[name] = Cut(number, position, depth, self._path(depth, spot))
            else:
                heapq.heappush(self.waiting, (depth + ticks, (after, min(shown, self.last)), spot, position, ticks))

    def _path(self, depth: int, spot: _Spot) -> tuple[Outcome, ...] | None:
        """The outcomes that lead to a spot; None where they are too many to be replayed anyhow."""
        if depth > MOST_TICKS:
            return None
        reach, found = self.reach, list[Outcome]()
        at: _Spot | None = spot
        while at is not None and at[1] >= 0:
            at, position, ticks = self.before[at]
            if at is not None:
                found += [reach.world.outcomes(reach.views[at[0]])[position]] * ticks
        return (*(reach.path(at[0]) if at is not None else ()), *reversed(found))
