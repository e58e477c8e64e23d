"""One tick of whichever body it is, and what it tells afterwards."""

from __future__ import annotations

from leanstep.core.body import above, records, side_view, slopes
from leanstep.core.body.records import ABOVE, BOX, BOX_SIZE, FIELDS, NUMBERS, PLAN, STILL
from leanstep.core.body.walls import edges
from leanstep.core.character.standing import FAR
from leanstep.core.jit import Real, Whole, kernel

move_above, move_sideways, ladder_at = above.move, side_view.move, side_view.ladder_at
high_side = slopes.high_side
across, along = above.across, above.along


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
    mode: int,
    cap: float,
    fall: float,
    wide: float,
    high: float,
) -> None:  # pragma: no cover
    """One tick; what is not ``free`` is asked nothing by the controls, but what the states ask it does (:class:`records.Steer`)."""
    if mode == 0:
        mode = int(s[p + FIELDS.mode])
    if not free or mode == STILL:
        sx, sy, jump, run = 0.0, 0.0, False, False
    n = m[at + PLAN.numbers]
    if not 0.0 < fall < r[n + NUMBERS.fall_speed]:
        fall = r[n + NUMBERS.fall_speed]
    above = m[at + PLAN.model] == ABOVE
    _fit(m, at, r, s, p, wide if wide > 0.0 else r[n + NUMBERS.width], high if high > 0.0 else _usual(m, at, r))
    if above:
        move_above(m, at, r, s, p, sx, sy, jump, run, free, aims, aim, face, mode, cap, fall)
    else:
        move_sideways(m, at, r, s, p, sx, sy, jump, run, mode, cap, fall)
    s[p + FIELDS.push], s[p + FIELDS.push_up] = 0.0, 0.0
    s[p + FIELDS.travel], s[p + FIELDS.travel_up], s[p + FIELDS.travels] = 0.0, 0.0, 0.0


@kernel
def _usual(m: Whole, at: int, r: Real) -> float:  # pragma: no cover
    """How high the standing body is, or how deep seen from above."""
    n = m[at + PLAN.numbers]
    return r[n + NUMBERS.depth] if m[at + PLAN.model] == ABOVE else r[n + NUMBERS.height]


@kernel
def _fit(m: Whole, at: int, r: Real, s: Real, p: int, wide: float, high: float) -> None:  # pragma: no cover
    """Take another body box; a bigger one that would enter something only once there is room."""
    if wide > s[p + FIELDS.wide] or high > s[p + FIELDS.high]:
        for box in range(m[at + PLAN.floors], m[at + PLAN.floors_end], BOX_SIZE):
            new = _meets(m, at, r, s, p, box, wide, high)
            if new and not _meets(m, at, r, s, p, box, s[p + FIELDS.wide], s[p + FIELDS.high]):
                return
    s[p + FIELDS.wide], s[p + FIELDS.high] = wide, high


@kernel
def _meets(m: Whole, at: int, r: Real, s: Real, p: int, box: int, wide: float, high: float) -> bool:  # pragma: no cover
    """Whether a body box of this size would overlap a wall."""
    under, over = 0.0, high
    if m[at + PLAN.model] == ABOVE:
        under, over = high / 2, high / 2
        if r[box + BOX.tall] < s[p + FIELDS.lift]:
            return False
    left, right, low, top = edges(r, box, wide / 2, under, over)
    return left < s[p + FIELDS.x] < right and low < s[p + FIELDS.y] < top


@kernel
def _headroom(m: Whole, at: int, r: Real, s: Real, p: int) -> bool:  # pragma: no cover
    """Whether the standing body would have room."""
    wide = r[m[at + PLAN.numbers] + NUMBERS.width]
    for box in range(m[at + PLAN.floors], m[at + PLAN.floors_end], BOX_SIZE):
        if _meets(m, at, r, s, p, box, wide, _usual(m, at, r)):
            return False
    return True


@kernel
def _ahead(m: Whole, at: int, r: Real, s: Real, p: int, ledge: bool) -> float:  # pragma: no cover
    """How far the next wall is in the facing, from the body's edge, or how high it reaches above the foot."""
    best, high = FAR, 0.0
    x, y = s[p + FIELDS.x], s[p + FIELDS.y]
    for box in range(m[at + PLAN.floors], m[at + PLAN.floors_end], BOX_SIZE):
        left, bottom = r[box + BOX.x], r[box + BOX.y]
        right, top = left + r[box + BOX.width], bottom + r[box + BOX.height]
        if m[at + PLAN.model] == ABOVE:
            away = _along_ray(s[p + FIELDS.facing], left - x, right - x, bottom - y, top - y)
            reaches = r[box + BOX.tall]
            if reaches < s[p + FIELDS.lift]:
                continue
        else:
            before, after, low, _ = edges(r, box, s[p + FIELDS.wide] / 2, 0.0, s[p + FIELDS.high])
            if not low < y < top:
                continue
            reaches, away = top - y, (before - x if s[p + FIELDS.facing] > 0.0 else x - after)
        if 0.0 <= away < best:
            best, high = away, reaches
    if m[at + PLAN.model] != ABOVE:
        for box in range(m[at + PLAN.slopes], m[at + PLAN.slopes_end], BOX_SIZE):
            # the high side of a slope is a wall
            away, reaches = high_side(r, s, p, box)
            if 0.0 <= away < best and reaches > 0.0:
                best, high = away, reaches
    return high if ledge else best


@kernel
def _along_ray(facing: float, left: float, right: float, low: float, top: float) -> float:  # pragma: no cover
    """How far a rectangle is along a direction; -1 where it is not met."""
    dx, dy = across(facing), along(facing)
    near, far = 0.0, FAR
    if dx == 0.0:
        if left > 0.0 or right < 0.0:
            return -1.0
    else:
        one, other = left / dx, right / dx
        near, far = max(near, min(one, other)), min(far, max(one, other))
    if dy == 0.0:
        if low > 0.0 or top < 0.0:
            return -1.0
    else:
        one, other = low / dy, top / dy
        near, far = max(near, min(one, other)), min(far, max(one, other))
    return near if near <= far else -1.0


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
    if what == records.HEADROOM:
        return 1.0 if _headroom(m, at, r, s, p) else 0.0
    if what == records.AHEAD or what == records.LEDGE:
        return _ahead(m, at, r, s, p, what == records.LEDGE)
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
