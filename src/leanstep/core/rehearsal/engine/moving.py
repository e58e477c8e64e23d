"""The body's tick in compiled code: the same steps, in the same order, as the body's own."""

from __future__ import annotations

from leanstep.core.body.side_view import PUSH, REACH
from leanstep.core.compiled import kernel
from leanstep.core.rehearsal.engine import records
from leanstep.core.rehearsal.engine.judging import Real, Whole, fitted
from leanstep.core.rehearsal.engine.records import BOX, FRAME, HEAD, NOW, PLACE, PUBLISHED

BOX_SIZE, PUBLISHED_SIZE = len(BOX), len(PUBLISHED)


@kernel
def move(m: Whole, r: Real, z: Whole, v: Real) -> None:  # pragma: no cover
    """Step 2 of a tick: the body moves and sets its parameters."""
    free = z[NOW.locked] == 0
    sx = v[m[HEAD.stick_x]] if free and m[HEAD.stick_x] >= 0 else 0.0
    sy = v[m[HEAD.stick_y]] if free and m[HEAD.stick_y] >= 0 else 0.0
    jump = free and m[HEAD.jump] >= 0 and v[m[HEAD.jump]] != 0.0
    running = free and m[HEAD.run] >= 0 and v[m[HEAD.run]] != 0.0
    pressed = jump and z[NOW.jump_held] == 0
    ladder = _ladder(m, r, v)
    if ladder >= 0 and not pressed and (z[NOW.climbing] != 0 or _grabs(m, r, v, sy, ladder)):
        _climb(m, r, z, v, sy, ladder)
    else:
        _walk(m, r, z, v, sx, jump, pressed, running)
    z[NOW.jump_held] = jump
    _publish(m, r, z, v)


@kernel
def _walk(
    m: Whole, r: Real, z: Whole, v: Real, sx: float, jump: bool, pressed: bool, running: bool
) -> None:  # pragma: no cover
    body, place = m[HEAD.body], m[HEAD.place]
    dt = r[body + FRAME.dt]
    vx = _steered(m, r, z, v, sx, running)
    vy = v[place + PLACE.vy]
    if pressed and (z[NOW.grounded] != 0 or z[NOW.climbing] != 0):
        vy = r[body + FRAME.jump_speed]
    elif z[NOW.jump_held] != 0 and not jump and vy > 0:
        vy = vy * r[body + FRAME.jump_cut]
    vy = vy - (r[body + FRAME.gravity_up] if vy > 0 else r[body + FRAME.gravity_down]) * dt
    if -r[body + FRAME.fall_speed] > vy:
        vy = -r[body + FRAME.fall_speed]

    x = v[place + PLACE.x] + vx * dt
    blocked = False
    half = r[body + FRAME.width] / 2
    for box in range(m[HEAD.floors], m[HEAD.floors_end], BOX_SIZE):
        if _overlaps(m, r, box, x - half, v[place + PLACE.y]):
            blocked = True
            if vx > 0:
                x = r[box + BOX.x] - half
            elif vx < 0:
                x = r[box + BOX.x] + r[box + BOX.width] + half
            else:
                x = v[place + PLACE.x]
            vx = 0.0
    y = v[place + PLACE.y] + vy * dt
    grounded = False
    for box in range(m[HEAD.floors], m[HEAD.floors_end], BOX_SIZE):
        if _overlaps(m, r, box, x - half, y):
            if vy <= 0:
                y = r[box + BOX.y] + r[box + BOX.height]
                grounded = True
            else:
                y = r[box + BOX.y] - r[body + FRAME.height]
            vy = 0.0
    if sx > 0 and vx > 0:
        z[NOW.facing] = 1
    elif sx < 0 and vx < 0:
        z[NOW.facing] = -1
    _put(m, z, v, x, y, vx, vy, grounded, False, blocked)


@kernel
def _put(
    m: Whole,
    z: Whole,
    v: Real,
    x: float,
    y: float,
    vx: float,
    vy: float,
    grounded: bool,
    climbing: bool,
    blocked: bool,
) -> None:  # pragma: no cover
    place = m[HEAD.place]
    v[place + PLACE.x] = x
    v[place + PLACE.y] = y
    v[place + PLACE.vx] = vx
    v[place + PLACE.vy] = vy
    z[NOW.grounded] = grounded
    z[NOW.climbing] = climbing
    z[NOW.blocked] = blocked


@kernel
def _steered(m: Whole, r: Real, z: Whole, v: Real, sx: float, running: bool) -> float:  # pragma: no cover
    body = m[HEAD.body]
    before = v[m[HEAD.place] + PLACE.vx]
    goal = sx * (r[body + FRAME.run_speed] if running else r[body + FRAME.walk_speed])
    speeds_up = goal != 0 and goal * before >= 0 and abs(goal) > abs(before)
    amount = (r[body + FRAME.acceleration] if speeds_up else r[body + FRAME.braking]) * r[body + FRAME.dt]
    if z[NOW.grounded] == 0:
        amount = amount * r[body + FRAME.air_control]
    if before < goal:
        return goal if goal < before + amount else before + amount
    return goal if goal > before - amount else before - amount


@kernel
def _ladder(m: Whole, r: Real, v: Real) -> int:  # pragma: no cover
    """The ladder within reach, or -1."""
    x, y = v[m[HEAD.place] + PLACE.x], v[m[HEAD.place] + PLACE.y]
    for box in range(m[HEAD.ladders], m[HEAD.ladders_end], BOX_SIZE):
        bottom, height = r[box + BOX.y], r[box + BOX.height]
        if (
            r[box + BOX.x] <= x <= r[box + BOX.x] + r[box + BOX.width]
            and bottom - REACH <= y <= bottom + height + REACH
        ):
            return box
    return -1


@kernel
def _grabs(m: Whole, r: Real, v: Real, sy: float, ladder: int) -> bool:  # pragma: no cover
    bottom, y = r[ladder + BOX.y], v[m[HEAD.place] + PLACE.y]
    if sy > PUSH:
        return y < bottom + r[ladder + BOX.height] - REACH
    return sy < -PUSH and y > bottom + REACH


@kernel
def _climb(m: Whole, r: Real, z: Whole, v: Real, sy: float, ladder: int) -> None:  # pragma: no cover
    body, bottom = m[HEAD.body], r[ladder + BOX.y]
    vy = sy * r[body + FRAME.climb_speed]
    x, top = r[ladder + BOX.x] + r[ladder + BOX.width] / 2, bottom + r[ladder + BOX.height]
    y = v[m[HEAD.place] + PLACE.y] + vy * r[body + FRAME.dt]
    if y >= top:
        _put(m, z, v, x, top, 0.0, 0.0, True, False, False)
    elif y <= bottom:
        _put(m, z, v, x, bottom, 0.0, 0.0, True, False, False)
    else:
        _put(m, z, v, x, y, 0.0, vy, False, True, False)


@kernel
def _overlaps(m: Whole, r: Real, box: int, left: float, bottom: float) -> bool:  # pragma: no cover
    body = m[HEAD.body]
    return (
        left < r[box + BOX.x] + r[box + BOX.width]
        and left + r[body + FRAME.width] > r[box + BOX.x]
        and bottom < r[box + BOX.y] + r[box + BOX.height]
        and bottom + r[body + FRAME.height] > r[box + BOX.y]
    )


@kernel
def _publish(m: Whole, r: Real, z: Whole, v: Real) -> None:  # pragma: no cover
    """Tell the parameters that are the body's; a zone with the name of another of them adds to it."""
    place = m[HEAD.place]
    x, y = v[place + PLACE.x], v[place + PLACE.y]
    for one in range(m[HEAD.published], m[HEAD.published_end], PUBLISHED_SIZE):
        what, told = m[one + PUBLISHED.what], 0.0
        if what == records.SPEED:
            told = abs(v[place + PLACE.vx])
        elif what == records.RISE:
            told = v[place + PLACE.vy]
        elif what == records.GROUNDED:
            told = float(z[NOW.grounded])
        elif what == records.CLIMBING:
            told = float(z[NOW.climbing])
        elif what == records.AT_LADDER:
            told = 1.0 if _ladder(m, r, v) >= 0 else 0.0
        elif what == records.BLOCKED:
            told = float(z[NOW.blocked])
        first, end = m[one + PUBLISHED.zones], m[one + PUBLISHED.zones_end]
        if first < end:
            told = 1.0 if told != 0.0 else 0.0
            for box in range(first, end, BOX_SIZE):
                if (
                    r[box + BOX.x] <= x <= r[box + BOX.x] + r[box + BOX.width]
                    and r[box + BOX.y] <= y <= r[box + BOX.y] + r[box + BOX.height]
                ):
                    told = 1.0
        v[m[one + PUBLISHED.symbol]] = fitted(m, r, m[one + PUBLISHED.symbol], told)
