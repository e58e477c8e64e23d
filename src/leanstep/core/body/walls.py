"""What a wall stops, by its edges.

A wall is compared with the foot by the four places at which the foot is when the body touches it: who is stopped there is at exactly
that double, and so touches the wall and is not in it, whatever rounding makes of widths and edges.
"""

from __future__ import annotations

from leanstep.core.body.records import BOX
from leanstep.core.jit import Real, kernel


@kernel
def edges(
    r: Real, box: int, half: float, under: float, over: float
) -> tuple[float, float, float, float]:  # pragma: no cover
    """Where the foot is when the body touches a wall from the left, the right, below and above, in units; the body reaches ``half``
    to each side of its foot, ``over`` above it and ``under`` below."""
    left, low = r[box + BOX.x], r[box + BOX.y]
    return left - half, left + r[box + BOX.width] + half, low - over, low + r[box + BOX.height] + under


@kernel
def halted(low: float, high: float, start: float, end: float) -> float:  # pragma: no cover
    """Where a way along one axis ends that may not enter from ``low`` to ``high``; from within it goes anywhere."""
    if start <= low < end:
        return low
    if start >= high > end:
        return high
    return end
