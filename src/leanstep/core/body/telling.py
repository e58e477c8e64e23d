"""One tick of whichever body it is, and what it tells afterwards."""

from __future__ import annotations

from leanstep.core.body import above, records, side_view
from leanstep.core.body.records import ABOVE, BOX, BOX_SIZE, FIELDS, PLAN
from leanstep.core.compiled import Real, Whole, kernel

move_above, move_sideways, ladder_at = above.move, side_view.move, side_view.ladder_at


@kernel
def move(
    m: Whole,
    at: int,
    r: Real,
    s: Real,
    p: int,
    sx: float,
    sy: float,
    jump: bool,
    run: bool,
    free: bool,
    aims: bool,
    aim: float,
    face: float,
) -> None:  # pragma: no cover
    """One tick; what is not ``free`` is asked nothing."""
    if not free:
        sx, sy, jump, run = 0.0, 0.0, False, False
    if m[at + PLAN.model] == ABOVE:
        move_above(m, at, r, s, p, sx, sy, jump, run, free, aims, aim, face)
    else:
        move_sideways(m, at, r, s, p, sx, sy, jump, run)


@kernel
def told(m: Whole, at: int, r: Real, s: Real, p: int, what: int) -> float:  # pragma: no cover
    """What the body tells of something, as a number."""
    if what == records.SPEED:
        return s[p + FIELDS.speed]
    if what == records.RISE:
        return s[p + FIELDS.rise]
    if what == records.GROUNDED:
        return s[p + FIELDS.grounded]
    if what == records.CLIMBING:
        return s[p + FIELDS.climbing]
    if what == records.AT_LADDER:
        return 1.0 if m[at + PLAN.model] != ABOVE and ladder_at(m, at, r, s, p) >= 0 else 0.0
    if what == records.BLOCKED:
        return s[p + FIELDS.blocked]
    if what == records.HEADING:
        return s[p + FIELDS.heading]
    if what == records.FACING and m[at + PLAN.model] == ABOVE:
        return s[p + FIELDS.facing]
    if what == records.FACING:
        return 90.0 if s[p + FIELDS.facing] > 0.0 else 270.0
    if what == records.MOVING:
        return 1.0 if s[p + FIELDS.speed] > 0.0 else 0.0
    return 0.0


@kernel
def inside(r: Real, s: Real, p: int, begin: int, end: int) -> bool:  # pragma: no cover
    """Whether the foot is in one of some boxes."""
    x, y = s[p + FIELDS.x], s[p + FIELDS.y]
    for box in range(begin, end, BOX_SIZE):
        left, bottom = r[box + BOX.x], r[box + BOX.y]
        if left <= x <= left + r[box + BOX.width] and bottom <= y <= bottom + r[box + BOX.height]:
            return True
    return False
