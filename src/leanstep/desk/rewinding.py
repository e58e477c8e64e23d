"""Time that runs back through what was steered."""

from __future__ import annotations

from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.deforming import PLAIN, Deformed, after, at_start, deforms
from leanstep.core.rehearsal.traces import Trace, player_of
from leanstep.desk.input_log import InputLog

FOLLOWED = 600
"""Ticks over which it is followed how the figure is drawn."""
AT_ONCE = 4
"""Ticks of what comes after them that are worked out on every tick back, so that none waits."""


class _Block:
    """How the figure is drawn after the ticks from ``begin`` on, as far as that is worked out."""

    def __init__(self, trace: Trace, begin: int) -> None:
        self.trace, self.begin = trace, begin
        self.known = [at_start(trace.machine, trace.after(begin))]

    def grow(self, ticks: int, end: int) -> None:
        """Work out some more, up to tick ``end``."""
        for tick in range(self.begin + len(self.known) - 1, min(end + 1, self.begin + len(self.known) - 1 + ticks)):
            self.known.append(after(self.trace.machine, self.known[-1], self.trace.after(tick), self.trace.steps[tick]))

    def at(self, tick: int) -> Deformed:
        """How it is drawn after a tick, the one before ``begin`` at the earliest."""
        self.grow(tick - self.begin - len(self.known) + 2, tick)
        return self.known[tick - self.begin + 1]


class Rewind:
    """What was steered lately as a trace, and the tick of it that is shown: the last one at first."""

    def __init__(self, machine: Machine, kept: InputLog) -> None:
        rows = list(kept.spread(kept.begun))
        self.begun, self.at = kept.begun, len(rows)
        self.trace: Trace = player_of(machine, False).trace(kept.start)
        self._block: _Block | None = None
        self._coming: _Block | None = None
        settings = [(tick, index, value) for tick, row in enumerate(rows) for index, value in row.items()]
        for _ in self.trace.playing(settings, len(rows)):
            pass

    def back(self) -> None:
        """One tick back, at most to the beginning of what is known."""
        self.at = max(0, self.at - 1)

    def deformed(self) -> Deformed:
        """How the figure is drawn now; what began longer ago than is followed is not looked for."""
        tick = self.at - 1
        if not deforms(self.trace.machine) or tick < 0:
            return PLAIN
        if self._block is None or tick < self._block.begin - 1:
            self._block, self._coming = self._coming or _Block(self.trace, max(0, tick - FOLLOWED)), None
        block = self._block
        if self._coming is None and block.begin > 1:
            self._coming = _Block(self.trace, max(0, block.begin - 2 - FOLLOWED))
        if self._coming is not None:
            self._coming.grow(AT_ONCE, block.begin - 2)
        return block.at(tick)

    @property
    def tick(self) -> int:
        """The tick that comes next from here, as :class:`InputLog` counts."""
        return self.begun + self.at
