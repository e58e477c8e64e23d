"""A body seen from the side: walks, runs, jumps, falls, lands and climbs on rectangles.

Lengths in units (one unit is one pixel of the art), speeds in units a second, up is positive.  One call of :func:`move` is one
tick; only + − × ÷ and comparisons are used, in a fixed order.  ``m`` from ``at`` on is a plan, ``r`` has the numbers and boxes, ``s``
from ``p`` on the state (:mod:`leanstep.core.body.records`).
"""

from __future__ import annotations

from leanstep.core.body.records import BOX, BOX_SIZE, FIELDS, NUMBERS, PLAN
from leanstep.core.compiled import Real, Whole, kernel

PUSH = 0.5
"""How far a stick must be pushed to count as asking for something."""
REACH = 1.0
"""Units by which a ladder may be missed at its ends."""


@kernel
def move(
    m: Whole, at: int, r: Real, s: Real, p: int, sx: float, sy: float, jump: bool, run: bool
) -> None:  # pragma: no cover
    """One tick."""
    pressed = jump and s[p + FIELDS.jump_held] == 0.0
    ladder = ladder_at(m, at, r, s, p)
    if ladder >= 0 and not pressed and (s[p + FIELDS.climbing] != 0.0 or _grabs(r, s, p, sy, ladder)):
        _climb(m, at, r, s, p, sy, ladder)
    else:
        _walk(m, at, r, s, p, sx, jump, pressed, run)
    s[p + FIELDS.jump_held] = 1.0 if jump else 0.0
    s[p + FIELDS.speed] = abs(s[p + FIELDS.vx])
    s[p + FIELDS.rise] = s[p + FIELDS.vy]


@kernel
def _walk(
    m: Whole, at: int, r: Real, s: Real, p: int, sx: float, jump: bool, pressed: bool, run: bool
) -> None:  # pragma: no cover
    n = m[at + PLAN.numbers]
    dt = r[n + NUMBERS.dt]
    vx = _steered(r, n, s, p, sx, run)
    vy = s[p + FIELDS.vy]
    if pressed and (s[p + FIELDS.grounded] != 0.0 or s[p + FIELDS.climbing] != 0.0):
        vy = r[n + NUMBERS.jump_speed]
    elif s[p + FIELDS.jump_held] != 0.0 and not jump and vy > 0.0:
        vy = vy * r[n + NUMBERS.jump_cut]
    vy = vy - (r[n + NUMBERS.gravity_up] if vy > 0.0 else r[n + NUMBERS.gravity_down]) * dt
    if -r[n + NUMBERS.fall_speed] > vy:
        vy = -r[n + NUMBERS.fall_speed]

    x = s[p + FIELDS.x] + vx * dt
    blocked = 0.0
    half = r[n + NUMBERS.width] / 2
    for box in range(m[at + PLAN.floors], m[at + PLAN.floors_end], BOX_SIZE):
        if _overlaps(r, n, box, x - half, s[p + FIELDS.y]):
            blocked = 1.0
            if vx > 0.0:
                x = r[box + BOX.x] - half
            elif vx < 0.0:
                x = r[box + BOX.x] + r[box + BOX.width] + half
            else:
                x = s[p + FIELDS.x]
            vx = 0.0
    y = s[p + FIELDS.y] + vy * dt
    grounded = 0.0
    for box in range(m[at + PLAN.floors], m[at + PLAN.floors_end], BOX_SIZE):
        if _overlaps(r, n, box, x - half, y):
            if vy <= 0.0:
                y = r[box + BOX.y] + r[box + BOX.height]
                grounded = 1.0
            else:
                y = r[box + BOX.y] - r[n + NUMBERS.height]
            vy = 0.0
    if sx > 0.0 and vx > 0.0:
        s[p + FIELDS.facing] = 1.0
    elif sx < 0.0 and vx < 0.0:
        s[p + FIELDS.facing] = -1.0
    _put(s, p, x, y, vx, vy, grounded, 0.0, blocked)


@kernel
def _put(
    s: Real, p: int, x: float, y: float, vx: float, vy: float, grounded: float, climbing: float, blocked: float
) -> None:  # pragma: no cover
    s[p + FIELDS.x] = x
    s[p + FIELDS.y] = y
    s[p + FIELDS.vx] = vx
    s[p + FIELDS.vy] = vy
    s[p + FIELDS.grounded] = grounded
    s[p + FIELDS.climbing] = climbing
    s[p + FIELDS.blocked] = blocked


@kernel
def _steered(r: Real, n: int, s: Real, p: int, sx: float, run: bool) -> float:  # pragma: no cover
    """The sideways speed after steering."""
    before = s[p + FIELDS.vx]
    goal = sx * (r[n + NUMBERS.run_speed] if run else r[n + NUMBERS.walk_speed])
    speeds_up = goal != 0.0 and goal * before >= 0.0 and abs(goal) > abs(before)
    amount = (r[n + NUMBERS.acceleration] if speeds_up else r[n + NUMBERS.braking]) * r[n + NUMBERS.dt]
    if s[p + FIELDS.grounded] == 0.0:
        amount = amount * r[n + NUMBERS.air_control]
    if before < goal:
        return goal if goal < before + amount else before + amount
    return goal if goal > before - amount else before - amount


@kernel
def ladder_at(m: Whole, at: int, r: Real, s: Real, p: int) -> int:  # pragma: no cover
    """The ladder within reach, or -1."""
    x, y = s[p + FIELDS.x], s[p + FIELDS.y]
    for box in range(m[at + PLAN.ladders], m[at + PLAN.ladders_end], BOX_SIZE):
        left, bottom = r[box + BOX.x], r[box + BOX.y]
        if left <= x <= left + r[box + BOX.width] and bottom - REACH <= y <= bottom + r[box + BOX.height] + REACH:
            return box
    return -1


@kernel
def _grabs(r: Real, s: Real, p: int, sy: float, ladder: int) -> bool:  # pragma: no cover
    bottom, y = r[ladder + BOX.y], s[p + FIELDS.y]
    if sy > PUSH:
        return y < bottom + r[ladder + BOX.height] - REACH
    return sy < -PUSH and y > bottom + REACH


@kernel
def _climb(m: Whole, at: int, r: Real, s: Real, p: int, sy: float, ladder: int) -> None:  # pragma: no cover
    n, bottom = m[at + PLAN.numbers], r[ladder + BOX.y]
    vy = sy * r[n + NUMBERS.climb_speed]
    x, top = r[ladder + BOX.x] + r[ladder + BOX.width] / 2, bottom + r[ladder + BOX.height]
    y = s[p + FIELDS.y] + vy * r[n + NUMBERS.dt]
    if y >= top:
        _put(s, p, x, top, 0.0, 0.0, 1.0, 0.0, 0.0)
    elif y <= bottom:
        _put(s, p, x, bottom, 0.0, 0.0, 1.0, 0.0, 0.0)
    else:
        _put(s, p, x, y, 0.0, vy, 0.0, 1.0, 0.0)


@kernel
def _overlaps(r: Real, n: int, box: int, left: float, bottom: float) -> bool:  # pragma: no cover
    return (
        left < r[box + BOX.x] + r[box + BOX.width]
        and left + r[n + NUMBERS.width] > r[box + BOX.x]
        and bottom < r[box + BOX.y] + r[box + BOX.height]
        and bottom + r[n + NUMBERS.height] > r[box + BOX.y]
    )
