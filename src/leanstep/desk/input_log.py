"""What was steered last, kept so that it can become a take."""

from __future__ import annotations

from collections import deque
from collections.abc import Iterator

from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.rehearsal.situation import Situation

EVERY = 600
"""Ticks after which the situation is kept from which a take could begin."""

Inputs = dict[int, Symbolic]


class InputLog:
    """The inputs of the last ticks, as those that differ from the ones before.

    ``begun`` is the first tick that is kept, ``start`` the situation before it (None: the character's start).  What is older
    than a number of ticks is let go of as soon as there is a later situation to begin from.
    """

    def __init__(self, start: Situation | None = None) -> None:
        self.start = start
        self.begun = self.ticks = 0
        self.rows: deque[tuple[int, Inputs]] = deque()
        self._later: deque[tuple[int, Situation]] = deque()

    def add(self, inputs: Inputs, before: Situation, most: int) -> None:
        """One more tick: its inputs and the situation before it; at least the last ``most`` ticks stay."""
        if self.ticks and self.ticks % EVERY == 0:
            self._later.append((self.ticks, before))
        if not self.rows or self.rows[-1][1] != inputs:
            self.rows.append((self.ticks, inputs))
        self.ticks += 1
        while self._later and self._later[0][0] <= self.ticks - most:
            self._begin(*self._later.popleft())

    def _begin(self, tick: int, start: Situation) -> None:
        self.begun, self.start = tick, start
        while len(self.rows) > 1 and self.rows[1][0] <= tick:
            self.rows.popleft()
        self.rows[0] = tick, self.rows[0][1]

    def spread(self, begin: int = 0) -> Iterator[Inputs]:
        """The inputs tick by tick, from a tick on."""
        rows = list(self.rows)
        ends = [at for at, _ in rows[1:]] + [self.ticks]
        for (at, inputs), end in zip(rows, ends):
            for _ in range(end - max(at, begin)):
                yield inputs

    def cut(self, tick: int) -> None:
        """What was done from a tick on has not been done."""
        while self.rows and self.rows[-1][0] >= tick:
            self.rows.pop()
        while self._later and self._later[-1][0] >= tick:
            self._later.pop()
        self.ticks = tick

    def nearest(self, tick: int) -> tuple[int, Situation | None]:
        """The last situation that is kept up to a tick, and the tick it is before (None: the character's start)."""
        found: tuple[int, Situation | None] = self.begun, self.start
        return max((one for one in self._later if one[0] <= tick), key=lambda one: one[0], default=found)
