"""What a character does over and over while nothing is asked of it."""

from __future__ import annotations

from collections.abc import Hashable, Iterator

from leanstep.core.conditions import expression as x
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.situation import Situation


def essence(machine: Machine, situation: Situation) -> Hashable:
    """All of a situation that decides what follows: stays as far as a condition can tell, and no tick."""
    most = machine.once(essence, lambda: 2 + max(_stays(machine), default=0))
    fading = any(fade is not None for fade in situation.fades)
    stays = situation.stays if fading else tuple(min(stay, most) for stay in situation.stays)
    return (
        *(situation.states, stays, situation.playheads, situation.picks, situation.overs, situation.fades),
        *(situation.counters, situation.ages, situation.since, situation.held, situation.values, situation.raised),
        *(situation.locks, situation.locked, situation.freeze, situation.body),
    )


def _stays(machine: Machine) -> Iterator[int]:
    """The stays, in ticks, that anything compares with."""
    conditions = [way.condition for layer in machine.layers for row in layer.ways for way in row]
    conditions += [memory.operand for memory in machine.memories]
    conditions += [formula for _, formula in machine.formulas]
    for condition in conditions:
        if condition is not None:
            yield from (part.ticks for part in x.parts(condition) if isinstance(part, x.Stayed))
