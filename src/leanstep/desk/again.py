"""The same once more: what was steered before an edit, played after it, with what it did before beside it."""

from __future__ import annotations

from leanstep.core.character.model import Take
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.drawable import Drawable, of_situation
from leanstep.core.rehearsal.situation import Situation
from leanstep.core.rehearsal.takes import recorded, rehearse
from leanstep.core.rehearsal.traces import Trace
from leanstep.desk.kept import Kept

MOST = 20.0
"""Seconds that are played again at most."""
LEAD = 20
"""Ticks that are played before the first thing is done."""


class Again:
    """What was steered in a machine, as a take, and the ghost: the trace of what it did there."""

    def __init__(self, machine: Machine, kept: Kept) -> None:
        latest = max(kept.begun, kept.ticks - round(MOST * machine.character.rate))
        at, start = kept.nearest(latest)
        rows = list(kept.spread(at))
        self.take: Take = recorded(machine, "again", rows, start=start)
        self.ghost: Trace = rehearse(machine, self.take)
        idle = max(0, min((change.at for change in self.take.changes), default=0) - LEAD)
        if idle:
            # nobody waits for what was not done yet
            self.take = recorded(machine, "again", rows[idle:], start=self.ghost.after(idle))
            self.ghost = rehearse(machine, self.take)

    def situation(self, tick: int) -> Situation:
        """Where it was after so many ticks, at its end for ever after."""
        return self.ghost.after(min(tick, len(self.ghost.steps)))

    def drawable(self, tick: int) -> Drawable:
        """How it was drawn then."""
        return of_situation(
            self.ghost.machine, self.situation(tick), self.ghost.deformed(min(tick, len(self.ghost.steps)) - 1)
        )
