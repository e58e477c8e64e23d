"""The same once more: what was steered before an edit, played after it, with what it did before beside it."""

from __future__ import annotations

from leanstep.core.character.takes import Take
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.drawable import Drawable, of_situation
from leanstep.core.rehearsal.situation import Situation
from leanstep.core.rehearsal.takes import recorded, rehearse
from leanstep.core.rehearsal.traces import Trace
from leanstep.desk.input_log import InputLog

MOST = 20.0
"""Seconds that are played again at most."""
LEAD = 20
"""Ticks that are played before the first thing is done."""


class Again:
    """A take, and the ghost: what it does in a machine.  ``steered``: it is what somebody did, who goes on at its end."""

    def __init__(self, machine: Machine, take: Take, steered: bool = False) -> None:
        self.take, self.steered = take, steered
        self.ghost: Trace = rehearse(machine, take)

    def situation(self, tick: int) -> Situation:
        """Where it was after so many ticks, at its end for ever after."""
        return self.ghost.after(min(tick, len(self.ghost.steps)))

    def drawable(self, tick: int) -> Drawable:
        """How it was drawn then."""
        return of_situation(
            self.ghost.machine, self.situation(tick), self.ghost.deformed(min(tick, len(self.ghost.steps)) - 1)
        )


def steered(machine: Machine, kept: InputLog) -> Again:
    """What was steered last, from shortly before the first thing that was done."""
    at, start = kept.nearest(max(kept.begun, kept.ticks - round(MOST * machine.character.rate)))
    rows = list(kept.spread(at))
    again = Again(machine, recorded(machine, "again", rows, start=start), True)
    idle = max(0, min((change.at for change in again.take.changes), default=0) - LEAD)
    if not idle:
        return again
    # nobody waits for what was not done yet
    return Again(machine, recorded(machine, "again", rows[idle:], start=again.ghost.after(idle)), True)
