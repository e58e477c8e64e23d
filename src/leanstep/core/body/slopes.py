"""Slopes: which one a foot is on, how high it is there, and what it leads up to.

Lengths in units, up is positive; ``r`` has the numbers and boxes, ``s`` from ``p`` on the state
(:mod:`leanstep.core.body.records`).
"""

from __future__ import annotations

from leanstep.core import bearings
from leanstep.core.body.records import BOX, BOX_SIZE, FIELDS, NUMBERS, PLAN
from leanstep.core.jit import Real, Whole, kernel

REACH = 1.0
"""Units by which a ladder may be missed at its ends, and a slope."""
bearing_of = kernel(bearings.bearing_of)


@kernel
def high_side(r: Real, s: Real, p: int, slope: int) -> tuple[float, float]:  # pragma: no cover
    """How far the high side of a slope is from the body's edge in its facing, and how high it reaches above the foot; at a height of
    0 it is no wall."""
    half, y, edge = s[p + FIELDS.wide] / 2, s[p + FIELDS.y], high_end(r, slope)
    top = r[slope + BOX.y] + r[slope + BOX.height]
    if s[p + FIELDS.facing] * r[slope + BOX.rises] > 0.0 or not r[slope + BOX.y] - s[p + FIELDS.high] < y < top - REACH:
        return 0.0, 0.0
    return (edge - half) - s[p + FIELDS.x] if s[p + FIELDS.facing] > 0.0 else s[p + FIELDS.x] - (edge + half), top - y


@kernel
def high_end(r: Real, slope: int) -> float:  # pragma: no cover
    """Where along x a slope is highest."""
    return r[slope + BOX.x] + r[slope + BOX.width] if r[slope + BOX.rises] > 0.0 else r[slope + BOX.x]


@kernel
def leads_over(r: Real, slope: int, edge: float, top: float) -> bool:  # pragma: no cover
    """Whether a slope (-1: none) is as high as ``top`` before it comes to ``edge``."""
    if slope < 0 or r[slope + BOX.y] + r[slope + BOX.height] + REACH < top:
        return False
    end = high_end(r, slope)
    return end <= edge + REACH if r[slope + BOX.rises] > 0.0 else end >= edge - REACH


@kernel
def slope_at(m: Whole, at: int, r: Real, x: float, y: float) -> int:  # pragma: no cover
    """The slope the foot is on or in, the highest there; -1: none."""
    found, best = -1, 0.0
    for box in range(m[at + PLAN.slopes], m[at + PLAN.slopes_end], BOX_SIZE):
        if r[box + BOX.x] <= x <= r[box + BOX.x] + r[box + BOX.width]:
            high = surface(r, box, x)
            if r[box + BOX.y] - REACH <= y <= high + REACH and (found < 0 or high > best):
                found, best = box, high
    return found


@kernel
def surface(r: Real, box: int, x: float) -> float:  # pragma: no cover
    """How high a slope is at a place, at its ends beyond it."""
    share = min(max((x - r[box + BOX.x]) / r[box + BOX.width], 0.0), 1.0)
    if r[box + BOX.rises] < 0.0:
        share = 1.0 - share
    return r[box + BOX.y] + share * r[box + BOX.height]


@kernel
def leads_up(r: Real, slope: int, box: int) -> bool:  # pragma: no cover
    """Whether a slope leads up to a floor, which is no wall for who walks there."""
    if slope < 0 or r[box + BOX.y] + r[box + BOX.height] > r[slope + BOX.y] + r[slope + BOX.height] + REACH:
        return False
    if r[slope + BOX.rises] > 0.0:
        return abs(r[slope + BOX.x] + r[slope + BOX.width] - r[box + BOX.x]) <= REACH
    return abs(r[box + BOX.x] + r[box + BOX.width] - r[slope + BOX.x]) <= REACH


@kernel
def too_steep(r: Real, n: int, box: int) -> bool:  # pragma: no cover
    """Whether a slope is steeper than the body goes up."""
    return bearing_of(r[box + BOX.height], r[box + BOX.width]) > r[n + NUMBERS.slope]
