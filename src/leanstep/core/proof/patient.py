"""Takes through a search that had to leave the past open: inputs are kept until what should happen does.

Where memories are too many to follow, the search allows more than can happen; what it does not find is still impossible, but
what it finds has to be played.  A memory that should hold comes to hold when its operand is kept, so patience often helps.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Sequence
from dataclasses import dataclass, field

from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.graph.machine import Machine
from leanstep.core.proof.regional import Masks
from leanstep.core.proof.search import Reach
from leanstep.core.proof.witness import chosen, permitted
from leanstep.core.rehearsal.limits import first_broken, tick_by_tick, towards
from leanstep.core.rehearsal.situation import Glimpse

TRIES = 4
"""Sets of values that are tried for each transition."""

MOST_RAMP = 2_000
"""Ticks for which values are led to where they should be."""

Rows = list[dict[int, Symbolic]]


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
        _play(reach, layer, found)
    return found


def _play(reach: Reach, layer: int, found: Played) -> None:
    boxes = _boxes(reach, layer)
    most = _patience(reach)
    pulses = [index for index in reach.machine.free if reach.machine.symbols[index].momentary]
    first = reach.player.start()
    found.states[layer, first.states[layer]] = []
    queue: deque[tuple[Glimpse, Rows]] = deque([(first, [])])
    while queue:
        seen, rows = queue.popleft()
        for index, some in boxes.get(seen.states[layer], {}).items():
            if (layer, index) in found.transitions:
                continue
            for masks in some:
                row = dict(enumerate(chosen(reach.world, masks, list(seen.values))))
                if not permitted(reach.world, row):
                    continue
                on: dict[int, Symbolic] = {index: True for index in pulses if row[index]}
                first_rows = _gradual(reach.machine, seen.values, row)
                now = reach.player.until(layer, seen, [*first_rows, *[on] * (most - 1)])
                whole = rows + [*first_rows, *[row] * most][: now.tick - seen.tick]
                if now.fired[layer] == index and _as_declared(reach.machine, whole):
                    found.transitions[layer, index] = whole
                    if (layer, now.states[layer]) not in found.states:
                        found.states[layer, now.states[layer]] = whole
                        queue.append((now, whole))
                    break


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


def _boxes(reach: Reach, layer: int) -> dict[int, dict[int, list[Masks]]]:
    """By state and transition index, a few sets of values with which the search saw it taken."""
    found: dict[int, dict[int, list[Masks]]] = {}
    for view in dict.fromkeys(reach.views):
        state = view.states[layer]
        for outcome in reach.world.outcomes(view):
            if outcome.fired[layer] >= 0:
                way = reach.machine.layers[layer].ways[state][outcome.fired[layer]]
                some = found.setdefault(state, {}).setdefault(way.index, [])
                if len(some) < TRIES:
                    some.append(outcome.masks)
    return found


def _patience(reach: Reach) -> int:
    """After how many ticks of the same values nothing new can come."""
    longest = max((memory.ticks for memory in reach.machine.memories), default=0)
    stays = max((cap for row in reach.world.layout.caps.values() for cap in row), default=0)
    return min(longest + stays + 2, 2000)
