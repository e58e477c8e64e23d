"""Time that runs back through what was steered."""

from __future__ import annotations

from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.deforming import PLAIN, Deformed, deforms
from leanstep.core.rehearsal.traces import Shapes, Trace, player_of
from leanstep.desk.input_log import InputLog

FOLLOWED = 600
"""Ticks over which it is followed how the figure is drawn."""
AT_ONCE = 4
"""Ticks of what comes after them that are worked out on every tick back, so that none waits."""


class Rewind:
    """What was steered lately as a trace, and the tick of it that is shown: the last one at first."""

    def __init__(self, machine: Machine, kept: InputLog) -> None:
        rows = list(kept.spread(kept.begun))
        self.begun, self.at = kept.begun, len(rows)
        self.trace: Trace = player_of(machine, False).trace(kept.start)
        self._block: Shapes | None = None
        self._coming: Shapes | None = None
        settings = [(tick, index, value) for tick, row in enumerate(rows) for index, value in row.items()]
        for _ in self.trace.playing(settings, len(rows)):
            pass
        self._drawn_after(self.at - 2)

    def back(self) -> None:
        """One tick back, at most to the beginning of what is known."""
        self.at = max(0, self.at - 1)

    def deformed(self) -> Deformed:
        """How the figure is drawn now; what began longer ago than is followed is not looked for."""
        return self._drawn_after(self.at - 1)

    def _drawn_after(self, tick: int) -> Deformed:
        if not deforms(self.trace.machine) or tick < 0:
            return PLAIN
        if self._block is None or not self._block.reaches(tick):
            self._block, self._coming = self._coming or Shapes(self.trace, max(0, tick - FOLLOWED)), None
        block = self._block
        if self._coming is None and block.begin > 1:
            self._coming = Shapes(self.trace, max(0, block.begin - 2 - FOLLOWED))
        if self._coming is not None:
            self._coming.grow(block.begin - 2, AT_ONCE)
        return block.at(tick)

    @property
    def tick(self) -> int:
        """The tick that comes next from here, as :class:`InputLog` counts."""
        return self.begun + self.at
