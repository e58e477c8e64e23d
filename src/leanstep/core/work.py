"""How far work may go, how it is stopped, and why it ended before it was done."""

from __future__ import annotations

import os
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass, replace
from enum import Enum

from leanstep.core.defaults import BUDGET


class Reason(Enum):
    """Why not everything was decided."""

    TIME = "time"
    MEMORY = "memory"
    BUDGET = "budget"
    ASSUMPTIONS = "assumptions"
    INEXACT = "inexact"
    PAST = "past"
    """What came before was left open, and no take was found."""
    REPLAY = "replay"
    """A take does not show what it was made for: a mistake in the program."""


ON_THIS_MACHINE = (Reason.TIME, Reason.MEMORY)
"""Limits that are reached sooner or later on another machine."""


class Stopped(Exception):
    """Somebody stopped the work."""


class Exhausted(Exception):
    """A limit of the work was reached; says ``reason`` and ``said``, and claims nothing."""

    def __init__(self, reason: Reason, said: str) -> None:
        self.reason, self.said = reason, said
        super().__init__(said)


class TooLong(Exception):
    """A take would have more ``ticks`` than are replayed."""

    def __init__(self, ticks: int) -> None:
        self.ticks = ticks
        super().__init__(f"{ticks} ticks")


LOOKS = 0.02
"""Seconds between two looks at how much memory is held."""
PAGE = os.sysconf("SC_PAGE_SIZE")
"""Bytes of a page of memory."""
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
    are looked at by themselves, and ``asked``, views of which it is found out what follows, for one search for a single question and
    for all of them together (so many places that only count on make as much work as one).  ``wobbled``: places that are looked at for
    what wobbles.  ``handed_on``: situations and views that an edited character takes over in any case, of use or not.
    """

    memories: int = 64
    followed: int = 3_000
    heavy: int = 2_000_000
    ages: int = 100_000
    ways: int = 400_000
    playheads: int = 1_000
    closely: int = 20_000
    asked: tuple[int, int] = (3_000, 15_000)
    wobbled: int = 200_000
    handed_on: int = 1_000


USUAL = Effort()
"""What checks do that are not told otherwise."""


@dataclass(frozen=True)
class Work:
    """How far work may go, how it is stopped, and whom it tells how far it is: one value for all that may take long.

    ``budget``: situations that are followed (the same on every machine); ``play``: ticks for which the body world is played.
    ``seconds`` from when it begins, ``deadline`` on the performance counter, and ``memory`` in megabytes that the whole process may
    come to hold, only abort.  ``stop`` says whether somebody wants it to stop, ``told`` is told how much is done; ``effort`` says what
    proofs follow whole.

    Whoever begins something enters :meth:`under_way`; loops deep inside call :func:`look`.
    """

    budget: int = BUDGET
    play: int = 0
    seconds: float | None = None
    deadline: float | None = None
    memory: int | None = None
    stop: Callable[[], bool] | None = None
    told: Callable[[int], None] | None = None
    effort: Effort = USUAL

    @contextmanager
    def under_way(self) -> Iterator[Work]:
        """The work as it begins now, its seconds counting; what is called inside it keeps to it and to all that it is part of."""
        due = None if self.seconds is None else time.perf_counter() + self.seconds
        known = [one for one in (due, self.deadline) if one is not None]
        work = replace(self, seconds=None, deadline=min(known, default=None))
        token = _under_way.set((*_under_way.get(), work))
        try:
            yield work
        finally:
            _under_way.reset(token)

    def after(self, done: int) -> Work:
        """The same for what follows when so much is done: what is told counts that too."""
        told = self.told
        return self if told is None else replace(self, told=lambda more: told(done + more))

    def at(self, done: int) -> None:
        """So much is done.

        Raises
        ------
        Stopped : somebody stopped the work, or what it is part of.
        Exhausted : a limit of it, or of what it is part of, was reached.
        """
        self._look()
        look()
        if self.told is not None:
            self.told(done)

    def _look(self) -> None:
        if self.stop is not None and self.stop():
            raise Stopped
        if self.deadline is not None and time.perf_counter() > self.deadline:
            raise Exhausted(Reason.TIME, "the time limit was reached")
        if self.memory is not None and held() > self.memory:
            raise Exhausted(Reason.MEMORY, "the memory limit was reached")


DEFAULT = Work()
"""How far work goes that is not told otherwise."""


def look() -> None:
    """Keep to the work under way, however deep inside it.

    Raises
    ------
    Stopped : somebody stopped it.
    Exhausted : one of its limits was reached.
    """
    for work in _under_way.get():
        work._look()


_under_way: ContextVar[tuple[Work, ...]] = ContextVar("under_way", default=())


def held() -> float:
    """The megabytes that this process holds in memory; 0 where the system does not tell.  Looked at again after a while only."""
    global _looked_at, _held
    now = time.perf_counter()
    if now - _looked_at > LOOKS:
        _looked_at = now
        try:
            with open("/proc/self/statm", "rb") as pages:
                _held = int(pages.read().split()[1]) * PAGE / 2**20
        except OSError:
            _held = 0.0
    return _held


_looked_at, _held = 0.0, 0.0
