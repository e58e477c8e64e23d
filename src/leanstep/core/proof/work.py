"""How far a search may go, and why it stopped."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass, replace
from enum import Enum

from leanstep.core.defaults import BUDGET


class Reason(Enum):
    """Why not everything was decided."""

    TIME = "time"
    BUDGET = "budget"
    ASSUMPTIONS = "assumptions"
    INEXACT = "inexact"
    PAST = "past"
    """What came before was left open, and no take was found."""
    REPLAY = "replay"
    """A take does not show what it was made for: a mistake in the program."""


class Stopped(Exception):
    """The person stopped the work."""


class TooLong(Exception):
    """A take would have more ``ticks`` than are replayed."""

    def __init__(self, ticks: int) -> None:
        self.ticks = ticks
        super().__init__(f"{ticks} ticks")


LATE = "the time limit was reached"
MOST_TICKS = 100_000
"""Ticks of the longest take that is made to show something: about half an hour at 60 a second."""


@dataclass(frozen=True)
class Effort:
    """How much is followed whole before something is left open.

    ``memories``: how many are followed side by side, each of which may be one way or the other on every tick.
    ``followed``: situations up to which a search follows all memories and ages; where that is not enough and something stays
    undecided, all are followed whatever it takes up to so many combinations of states and pasts (``heavy``), and of these with ages
    (``ages``).  ``ways``: from place to place, up to which limits on how fast numbers change are followed; ``playheads``: places of
    a playhead, besides four for each tick of its clip.  Where the past is left open: ``closely``, situations up to which a few states
    are looked at by themselves, and ``asked``, those of one search for a single question, before
    and after some situations of each kind were looked at, and of all of them together.
    """

    memories: int = 64
    followed: int = 3_000
    heavy: int = 2_000_000
    ages: int = 100_000
    ways: int = 400_000
    playheads: int = 1_000
    closely: int = 20_000
    asked: tuple[int, int, int] = (1_500, 6_000, 30_000)


USUAL = Effort()
"""What checks do that are not told otherwise."""


@dataclass(frozen=True)
class Work:
    """How far a search may go: ``budget`` in situations (the same on every machine); ``deadline`` in seconds of the
    performance counter only aborts; ``progress`` is told the situations so far and returns False to stop; ``effort`` says what is
    followed whole."""

    budget: int = BUDGET
    deadline: float | None = None
    progress: Callable[[int], bool] | None = None
    effort: Effort = USUAL

    def after(self, done: int) -> Work:
        """The same for what follows so many situations that are done: progress is told of both."""
        progress = self.progress
        return self if progress is None else replace(self, progress=lambda situations: progress(done + situations))

    def late(self, situations: int) -> bool:
        """Whether the deadline has passed; raises :class:`Stopped` when the person stopped the work."""
        if self.progress is not None and not self.progress(situations):
            raise Stopped
        return self.deadline is not None and time.perf_counter() > self.deadline
