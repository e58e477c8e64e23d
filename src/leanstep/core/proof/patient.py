"""Takes through a search that had to leave the past open: inputs are kept until what should happen does.

Where memories are too many to follow, the search allows more than can happen; what it does not find is still impossible, but
what it finds has to be played.  A memory that should hold comes to hold when its operand is kept, so patience often helps.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field

from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.graph.machine import Machine
from leanstep.core.proof.regional import Masks
from leanstep.core.proof.search import Reach
from leanstep.core.proof.witness import chosen, permitted
from leanstep.core.rehearsal.limits import first_broken, tick_by_tick, towards
from leanstep.core.rehearsal.situation import Glimpse

TRIES = 12
"""Sets of values that are tried for each transition."""

MOST_WAITED = 5_000
"""Takes with which one layer's transitions are waited for."""

MOST_RAMP = 2_000
"""Ticks for which values are led to where they should be."""

MOST_PATIENCE = 2_000
"""Ticks for which values are kept."""

Rows = list[dict[int, Symbolic]]
Plan = list[tuple[dict[int, Symbolic], int]]
"""Values, each with the ticks for which they are kept."""


@dataclass
class Played:
    """What has been played: (layer, state) and (layer, transition index), with the values of every tick until then."""

    states: dict[tuple[int, int], Rows] = field(default_factory=dict)
    transitions: dict[tuple[int, int], Rows] = field(default_factory=dict)


def played(reach: Reach, layers: tuple[int, ...]) -> Played:
    """Play the states and transitions of ``layers`` that a search found, each from the first situation its state was played
    to."""
    found = Played()
    for layer in layers:
        _Layer(reach, layer, found).play()
    return found


class _Layer:
    """Plays one layer.  ``seen`` has the first situation of each state; what was played until then is in ``found``."""

    def __init__(self, reach: Reach, layer: int, found: Played) -> None:
        self.reach, self.layer, self.found = reach, layer, found
        self.most = _patience(reach)
        self.pulses = [index for index in reach.machine.free if reach.machine.symbols[index].momentary]
        self.seen: dict[int, Glimpse] = {}
        self.queue: deque[Glimpse] = deque()
        self.boxes, self.idle = _boxes(reach, layer)
        self.looked: set[tuple[int, int]] = set()
        self.left = MOST_WAITED

    def play(self) -> None:
        """Play whatever can be played from the start."""
        self._note(self.reach.player.start(), [])
        while self.queue or self._look_again():
            seen = self.queue.popleft()
            for index, some in self.boxes.get(seen.states[self.layer], {}).items():
                if (self.layer, index) not in self.found.transitions:
                    self._shown(seen, index, ([(row, self.most)] for row in self._rows(some, seen.values)))

    def _note(self, now: Glimpse, rows: Rows) -> None:
        state = now.states[self.layer]
        if state not in self.seen:
            self.found.states[self.layer, state] = rows
            self.seen[state] = now
            self.queue.append(now)

    def _look_again(self) -> bool:
        """Wait before transitions that lead to states not played yet; whether that leads to one."""
        table = self.reach.machine.layers[self.layer]
        for state, seen in self.seen.items():
            for position, way in enumerate(table.ways[state]):
                if (state, way.index) not in self.looked and way.target not in self.seen:
                    self.looked.add((state, way.index))
                    if self._shown(seen, way.index, self._waiting(state, position)):
                        return True
        return False

    def _waiting(self, state: int, position: int) -> Iterator[Plan]:
        """Values on which the search saw nothing happen, and then those with which it saw a way taken."""
        way, wait = self.reach.machine.layers[self.layer].ways[state][position], self._wait(state, position)
        taken, idle = self.boxes.get(state, {}).get(way.index, []), self.idle.get(state, [])
        for row in self._rows(taken, self.seen[state].values):
            for before in self._rows(idle, list(row.values())):
                self.left -= 1
                if self.left < 0:
                    return
                yield [(before, wait), (row, self.most)]

    def _wait(self, state: int, position: int) -> int:
        """For how many ticks it can make sense to wait for a way, and for those tried before it not to be taken."""
        machine = self.reach.machine
        conditions = (way.condition for way in machine.layers[self.layer].ways[state][: position + 1])
        parts = [part for one in conditions if one is not None for part in x.parts(one)]
        memories = [machine.memories[part.index].ticks for part in parts if isinstance(part, x.Remembered)]
        return min(max([*memories, self.reach.world.layout.caps[self.layer][state]]) + 1, MOST_PATIENCE)

    def _rows(self, boxes: list[Masks], before: Sequence[Symbolic]) -> Iterator[dict[int, Symbolic]]:
        """Values out of boxes, near those before, that the assumptions allow."""
        for masks in boxes:
            row = dict(enumerate(chosen(self.reach.world, masks, list(before))))
            if permitted(self.reach.world, row):
                yield row

    def _shown(self, seen: Glimpse, index: int, plans: Iterable[Plan]) -> bool:
        """Whether some plan shows a transition."""
        return any(self._shows(seen, index, plan) for plan in plans)

    def _shows(self, seen: Glimpse, index: int, plan: Plan) -> bool:
        """Whether a transition is the next to be taken after a situation when values are each kept for some ticks; it is
        noted then."""
        changes, rows, values = list[Mapping[int, Symbolic]](), Rows(), seen.values
        for row, ticks in plan:
            gradual = _gradual(self.reach.machine, values, row)
            changes += [*gradual, *[{index: True for index in self.pulses if row[index]}] * (ticks - 1)]
            rows += [*gradual, *[row] * (ticks - 1)]
            values = tuple(row.values())
        now = self.reach.player.until(self.layer, seen, changes)
        whole = self.found.states[self.layer, seen.states[self.layer]] + rows[: now.tick - seen.tick]
        if now.fired[self.layer] != index or not _as_declared(self.reach.machine, whole):
            return False
        self.found.transitions[self.layer, index] = whole
        self._note(now, whole)
        return True


def _gradual(machine: Machine, before: Sequence[Symbolic], row: dict[int, Symbolic]) -> Rows:
    """The values of ``row``, reached as fast as declared limits let them be."""
    now, found = dict(enumerate(before)), Rows()
    slow = [index for index in machine.limited if machine.symbols[index].step]
    while not found or (any(now[index] != row[index] for index in slow) and len(found) < MOST_RAMP):
        now = towards(machine, now, row)
        found.append(now)
    return found


def _as_declared(machine: Machine, rows: Rows) -> bool:
    """Whether values keep to the declared limits."""
    return first_broken(machine, tick_by_tick(rows, machine.limited)) is None


def _boxes(reach: Reach, layer: int) -> tuple[dict[int, dict[int, list[Masks]]], dict[int, list[Masks]]]:
    """By state and transition index, a few sets of values with which the search saw it taken; and by state a few with which
    it saw nothing happen."""
    taken: dict[int, dict[int, list[Masks]]] = {}
    idle: dict[int, list[Masks]] = {}
    for view in dict.fromkeys(reach.views):
        state = view.states[layer]
        for position, outcome in enumerate(reach.world.outcomes(view)):
            if outcome.fired[layer] >= 0:
                way = reach.machine.layers[layer].ways[state][outcome.fired[layer]]
                some = taken.setdefault(state, {}).setdefault(way.index, [])
            else:
                some = idle.setdefault(state, [])
            some += reach.world.boxes(view, position)[: TRIES - len(some)]
    return taken, idle


def _patience(reach: Reach) -> int:
    """After how many ticks of the same values nothing new can come."""
    longest = max((memory.ticks for memory in reach.machine.memories), default=0)
    stays = max((cap for row in reach.world.layout.caps.values() for cap in row), default=0)
    return min(longest + stays + 2, MOST_PATIENCE)
