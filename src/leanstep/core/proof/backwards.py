"""Going back along the edges between places, in compiled code."""

from __future__ import annotations

import numpy as np

from leanstep.core.jit import kernel


@kernel
def mark_back(marked: np.ndarray, before: np.ndarray, starts: np.ndarray) -> None:  # pragma: no cover
    """Mark every place from which a marked one can be reached; ``before[starts[p]:starts[p + 1]]`` are the places that lead
    to place p."""
    waiting = np.empty(len(marked), np.int64)
    found = 0
    for place in range(len(marked)):
        if marked[place]:
            waiting[found] = place
            found += 1
    while found > 0:
        found -= 1
        place = waiting[found]
        for at in range(starts[place], starts[place + 1]):
            if not marked[before[at]]:
                marked[before[at]] = True
                waiting[found] = before[at]
                found += 1
