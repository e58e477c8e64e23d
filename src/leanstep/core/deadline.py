"""A time by which work has to be done, or a word that stops it, looked at wherever work may take long.

The deadline belongs to the work under way, not to any one object: whoever begins sets it with :func:`within`, loops call
:func:`look`, and what is not done by then ends in :class:`OutOfTime`, which says so and claims nothing.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar

_due: ContextVar[float | None] = ContextVar("due", default=None)


_stop: ContextVar[Callable[[], bool] | None] = ContextVar("stop", default=None)


class OutOfTime(Exception):
    """The time limit was reached."""


class Stopped(Exception):
    """Somebody stopped the work."""


@contextmanager
def within(seconds: float | None) -> Iterator[float | None]:
    """Work that has so many seconds (None: as long as it takes); gives the deadline on the performance counter."""
    due = None if seconds is None else time.perf_counter() + seconds
    token = _due.set(due)
    try:
        yield due
    finally:
        _due.reset(token)


@contextmanager
def stoppable(stop: Callable[[], bool]) -> Iterator[None]:
    """Work that ends in :class:`Stopped` once ``stop`` says so."""
    token = _stop.set(stop)
    try:
        yield
    finally:
        _stop.reset(token)


def look() -> None:
    """Raise :class:`OutOfTime` once the deadline has passed, :class:`Stopped` once the work is to stop."""
    stop = _stop.get()
    if stop is not None and stop():
        raise Stopped
    due = _due.get()
    if due is not None and time.perf_counter() > due:
        raise OutOfTime
