"""Time that runs back through what was steered."""

from __future__ import annotations

from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.traces import Trace, player_of
from leanstep.desk.input_log import InputLog

FOLLOWED = 600
"""Ticks over which it is followed how the figure is drawn: few, so that no tick back waits."""


class Rewind:
    """What was steered lately as a trace, and the tick of it that is shown: the last one at first."""

    def __init__(self, machine: Machine, kept: InputLog) -> None:
        rows = list(kept.spread(kept.begun))
        self.begun, self.at = kept.begun, len(rows)
        self.trace: Trace = player_of(machine, False).trace(kept.start)
        self.trace.followed = FOLLOWED
        settings = [(tick, index, value) for tick, row in enumerate(rows) for index, value in row.items()]
        for _ in self.trace.playing(settings, len(rows)):
            pass

    def back(self) -> None:
        """One tick back, at most to the beginning of what is known."""
        self.at = max(0, self.at - 1)

    @property
    def tick(self) -> int:
        """The tick that comes next from here, as :class:`InputLog` counts."""
        return self.begun + self.at
