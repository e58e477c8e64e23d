"""Speed, measured as tables; nothing is asserted.  With ``--briefly`` everything is measured once, at the smallest size."""

from __future__ import annotations

import sys
import time
from collections.abc import Callable
from typing import TypeVar

BRIEFLY = "--briefly" in sys.argv[1:]
_T = TypeVar("_T")


def sized(usual: _T, briefly: _T) -> _T:
    """A size as it is usually measured, or the smallest one."""
    return briefly if BRIEFLY else usual


ROUNDS = sized(5, 1)
"""Times a run is repeated; the best one counts."""


def timed(work: Callable[[], object]) -> float:
    """Seconds a work takes."""
    started = time.perf_counter()
    work()
    return time.perf_counter() - started


def best(work: Callable[[], object]) -> float:
    """Seconds of the fastest of a few runs."""
    return min(timed(work) for _ in range(ROUNDS))
