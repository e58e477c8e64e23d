"""A body seen from above: goes in every direction, slides along walls, turns, aims, jumps off its shadow.

Lengths in units, speeds in units a second, x to the right and y up on the screen, directions in degrees (0 is up, 90 right).  One
call of :func:`move` is one tick; only + − × ÷, square roots and comparisons are used, in a fixed order.  ``m`` from ``at`` on is a
plan, ``r`` has the numbers and boxes, ``s`` from ``p`` on the state (:mod:`leanstep.core.body.records`).
"""

from __future__ import annotations

import math

from leanstep.core import bearings
from leanstep.core.body.records import BOX, BOX_SIZE, EIGHT, FIELDS, FLOAT, FOUR, NUMBERS, PLAN, SQUARE, STILL
from leanstep.core.body.walls import edges, halted
from leanstep.core.character.clips import GOES_AHEAD, GOES_THROUGH, GOES_UP
from leanstep.core.jit import Real, Whole, kernel

PUSH = 0.5
"""How far a stick must be pushed to count as asking for something where there are four ways."""
SAME = 1e-9
"""By what share two speeds may differ and still be one."""
TOUCH = 1.0
"""Units within which a wall is touched."""

reduced, turn = kernel(bearings.reduced), kernel(bearings.turn)
bearing_of, push_of, across = kernel(bearings.bearing_of), kernel(bearings.push_of), kernel(bearings.across)


@kernel
def along(bearing: float) -> float:  # pragma: no cover
    """How far up a step of length 1 along a bearing goes."""
    shifted = bearing + 90.0
    return across(shifted if shifted < 360.0 else shifted - 360.0)


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
) -> None:  # pragma: no cover
    """One tick.  ``aims``: the figure looks along ``aim``; ``face``: it turns to what it touches by so many degrees a second; ``mode``
    and ``cap``: how it is asked to move, and how fast at most (0: nothing is asked); ``fall``: how fast it falls at most."""
    n = m[at + PLAN.numbers]
    dt, ways = r[n + NUMBERS.dt], m[at + PLAN.ways]
    x, y = s[p + FIELDS.x], s[p + FIELDS.y]
    push, way = _asked(ways, s, p, sx, sy)
    speed = r[n + NUMBERS.run_speed] if run else r[n + NUMBERS.walk_speed]
    if 0.0 < cap < speed:
        speed = cap
    _pushed(s, p, mode, cap)
    hit, goes = True, int(s[p + FIELDS.travels])
    if goes & GOES_AHEAD != 0:
        hit = _carried(m, at, r, s, p, goes & GOES_THROUGH != 0)
    elif ways == SQUARE:
        _squares(m, at, r, s, p, push, way, speed * dt)
    else:
        hit = _walk(m, at, r, s, p, push, way, speed)
    dx, dy = (s[p + FIELDS.x] - x) / dt, (s[p + FIELDS.y] - y) / dt
    moved = dx != 0.0 or dy != 0.0
    if not hit:
        # the same, but for what adding it to a place rounds off
        dx, dy = s[p + FIELDS.vx], s[p + FIELDS.vy]
    s[p + FIELDS.speed] = math.sqrt(dx * dx + dy * dy) if moved else 0.0
    if moved:
        s[p + FIELDS.heading] = bearing_of(dx, dy)
    _leap(r, n, s, p, jump, mode, fall, goes & GOES_UP != 0)
    if face > 0.0:
        obstacle = _touched(m, at, r, s, p)
        if obstacle >= 0:
            _turn_to(s, p, _towards(r, s, p, obstacle), face * dt)
    elif aims and free:
        _turn_to(s, p, aim, r[n + NUMBERS.turn_rate] * dt)
    elif goes & GOES_AHEAD != 0:
        pass
    elif free and r[n + NUMBERS.along] > 0.0 and ways != SQUARE:
        if push > 0.0 and s[p + FIELDS.blocked] == 0.0:
            _turn_to(s, p, way, r[n + NUMBERS.turn_rate] * dt)
    elif free and moved:
        _turn_to(s, p, s[p + FIELDS.heading], r[n + NUMBERS.turn_rate] * dt)
    if s[p + FIELDS.facing] > 180.0:
        s[p + FIELDS.side] = -1.0
    elif 0.0 < s[p + FIELDS.facing] < 180.0:
        s[p + FIELDS.side] = 1.0


@kernel
def _pushed(s: Real, p: int, mode: int, cap: float) -> None:  # pragma: no cover
    """Pushes that were asked for, and what keeps the speed down."""
    push, facing = s[p + FIELDS.push], s[p + FIELDS.facing]
    vx, vy = s[p + FIELDS.vx] + push * across(facing), s[p + FIELDS.vy] + push * along(facing)
    speed = math.sqrt(vx * vx + vy * vy)
    if mode == STILL:
        vx, vy = 0.0, 0.0
    elif 0.0 < cap < speed:
        vx, vy = vx * cap / speed, vy * cap / speed
    s[p + FIELDS.vx], s[p + FIELDS.vy] = vx, vy


@kernel
def _asked(ways: int, s: Real, p: int, sx: float, sy: float) -> tuple[float, float]:  # pragma: no cover
    """How far the stick is pushed, and the way that is asked for."""
    if ways >= FOUR:
        wide, high = abs(sx) > PUSH, abs(sy) > PUSH
        if wide and s[p + FIELDS.was_x] == 0.0:
            s[p + FIELDS.leading] = 1.0
        elif high and s[p + FIELDS.was_y] == 0.0:
            s[p + FIELDS.leading] = 2.0
        s[p + FIELDS.was_x] = 1.0 if wide else 0.0
        s[p + FIELDS.was_y] = 1.0 if high else 0.0
        if s[p + FIELDS.leading] == 1.0 and not wide:
            s[p + FIELDS.leading] = 2.0 if high else 0.0
        elif s[p + FIELDS.leading] == 2.0 and not high:
            s[p + FIELDS.leading] = 1.0 if wide else 0.0
        if s[p + FIELDS.leading] == 1.0:
            return min(abs(sx), 1.0), 90.0 if sx > 0.0 else 270.0
        if s[p + FIELDS.leading] == 2.0:
            return min(abs(sy), 1.0), 0.0 if sy > 0.0 else 180.0
        return 0.0, 0.0
    push = push_of(sx, sy)
    if push == 0.0:
        return 0.0, 0.0
    way = bearing_of(sx, sy)
    if ways == EIGHT:
        way = reduced(math.floor(way / 45.0 + 0.5) * 45.0)
    return push, way


@kernel
def _walk(
    m: Whole, at: int, r: Real, s: Real, p: int, push: float, way: float, speed: float
) -> bool:  # pragma: no cover
    """Steer, and go as far as the walls let it; whether one stopped it."""
    n = m[at + PLAN.numbers]
    dt = r[n + NUMBERS.dt]
    going = reduced(way + _share(r, n, s, p, push) * turn(way, s[p + FIELDS.facing]))
    goal_x, goal_y = push * speed * across(going), push * speed * along(going)
    vx, vy = s[p + FIELDS.vx], s[p + FIELDS.vy]
    # turning at one speed by up to a right angle counts as speeding up, whatever rounding makes of it
    fast = vx * vx + vy * vy
    ahead = goal_x * vx + goal_y * vy >= -SAME * fast
    faster = push > 0.0 and ahead and goal_x * goal_x + goal_y * goal_y >= fast * (1.0 - SAME)
    amount = (r[n + NUMBERS.acceleration] if faster else r[n + NUMBERS.braking]) * dt
    if s[p + FIELDS.grounded] == 0.0:
        amount = amount * r[n + NUMBERS.air_control]
    far_x, far_y = goal_x - vx, goal_y - vy
    far = math.sqrt(far_x * far_x + far_y * far_y)
    if far <= amount:
        vx, vy = goal_x, goal_y
    else:
        vx, vy = vx + far_x * amount / far, vy + far_y * amount / far
    return _slide(m, at, r, s, p, vx, vy, vx * dt, vy * dt)


@kernel
def _carried(m: Whole, at: int, r: Real, s: Real, p: int, through: bool) -> bool:  # pragma: no cover
    """Go where a clip takes the figure, along the facing; whether a wall stopped it."""
    dt, facing = r[m[at + PLAN.numbers] + NUMBERS.dt], s[p + FIELDS.facing]
    dx, dy = s[p + FIELDS.travel] * across(facing), s[p + FIELDS.travel] * along(facing)
    s[p + FIELDS.stepping], s[p + FIELDS.following] = 0.0, 0.0
    if not through:
        return _slide(m, at, r, s, p, dx / dt, dy / dt, dx, dy)
    s[p + FIELDS.blocked] = 0.0
    s[p + FIELDS.x], s[p + FIELDS.y] = s[p + FIELDS.x] + dx, s[p + FIELDS.y] + dy
    s[p + FIELDS.vx], s[p + FIELDS.vy] = dx / dt, dy / dt
    return False


@kernel
def _slide(
    m: Whole, at: int, r: Real, s: Real, p: int, vx: float, vy: float, dx: float, dy: float
) -> bool:  # pragma: no cover
    """Go a way as far as the walls let it; whether one stopped it."""
    x, y = s[p + FIELDS.x], s[p + FIELDS.y]
    new_x = _halted(m, at, r, s, p, x, y, x + dx, False)
    new_y = _halted(m, at, r, s, p, new_x, y, y + dy, True)
    hit = new_x != x + dx or new_y != y + dy
    if new_x != x + dx:
        vx = 0.0
    if new_y != y + dy:
        vy = 0.0
    s[p + FIELDS.blocked] = 1.0 if hit and new_x == x and new_y == y else 0.0
    s[p + FIELDS.x], s[p + FIELDS.y] = new_x, new_y
    s[p + FIELDS.vx], s[p + FIELDS.vy] = vx, vy
    return hit


@kernel
def _halted(
    m: Whole, at: int, r: Real, s: Real, p: int, x: float, y: float, end: float, up: bool
) -> float:  # pragma: no cover
    """How far walls that are not jumped over let the body go from a place, across or up; out of one that it is in it may go."""
    half, deep = s[p + FIELDS.wide] / 2, s[p + FIELDS.high] / 2
    for box in range(m[at + PLAN.floors], m[at + PLAN.floors_end], BOX_SIZE):
        left, right, low, top = edges(r, box, half, deep, deep)
        if r[box + BOX.tall] < s[p + FIELDS.lift]:
            continue
        if up and left < x < right:
            end = halted(low, top, y, end)
        elif not up and low < y < top:
            end = halted(left, right, x, end)
    return end


@kernel
def _share(r: Real, n: int, s: Real, p: int, push: float) -> float:  # pragma: no cover
    """By how much the way turns from where the stick points to where the figure looks."""
    wait, after, dt = r[n + NUMBERS.along_wait], r[n + NUMBERS.along_after], r[n + NUMBERS.dt]
    pushing = s[p + FIELDS.pushing]
    if push > 0.0:
        pushing = min(pushing + dt, wait + after)
    else:
        pushing = max(pushing - dt * r[n + NUMBERS.along_back], 0.0)
    s[p + FIELDS.pushing] = pushing
    if pushing < wait:
        return 0.0
    if after <= 0.0:
        return r[n + NUMBERS.along]
    return r[n + NUMBERS.along] * min((pushing - wait) / after, 1.0)


@kernel
def _squares(
    m: Whole, at: int, r: Real, s: Real, p: int, push: float, way: float, reach: float
) -> None:  # pragma: no cover
    """Go by whole cells; one following step is remembered while one is under way."""
    n = m[at + PLAN.numbers]
    cell, dt = r[n + NUMBERS.cell], r[n + NUMBERS.dt]
    wish = 0.0 if push == 0.0 else 1.0 + way / 90.0
    if wish != 0.0 and wish != s[p + FIELDS.asked] and s[p + FIELDS.stepping] != 0.0:
        s[p + FIELDS.following] = wish
    s[p + FIELDS.asked] = wish
    begin_x, begin_y = s[p + FIELDS.x], s[p + FIELDS.y]
    s[p + FIELDS.blocked] = 0.0
    for _ in range(8):
        if s[p + FIELDS.stepping] == 0.0:
            step = s[p + FIELDS.following] if s[p + FIELDS.following] != 0.0 else wish
            s[p + FIELDS.following] = 0.0
            if step == 0.0:
                break
            x, y = s[p + FIELDS.x], s[p + FIELDS.y]
            goal_x = x + across((step - 1.0) * 90.0) * cell
            goal_y = y + along((step - 1.0) * 90.0) * cell
            if (
                _halted(m, at, r, s, p, x, y, goal_x, False) != goal_x
                or _halted(m, at, r, s, p, goal_x, y, goal_y, True) != goal_y
            ):
                s[p + FIELDS.blocked] = 1.0
            if s[p + FIELDS.blocked] != 0.0:
                break
            s[p + FIELDS.stepping] = step
            s[p + FIELDS.goal_x], s[p + FIELDS.goal_y] = goal_x, goal_y
        left = abs(s[p + FIELDS.goal_x] - s[p + FIELDS.x]) + abs(s[p + FIELDS.goal_y] - s[p + FIELDS.y])
        if reach < left:
            towards = (s[p + FIELDS.stepping] - 1.0) * 90.0
            s[p + FIELDS.x] = s[p + FIELDS.x] + across(towards) * reach
            s[p + FIELDS.y] = s[p + FIELDS.y] + along(towards) * reach
            break
        s[p + FIELDS.x], s[p + FIELDS.y] = s[p + FIELDS.goal_x], s[p + FIELDS.goal_y]
        s[p + FIELDS.stepping] = 0.0
        reach = reach - left
    s[p + FIELDS.vx] = (s[p + FIELDS.x] - begin_x) / dt
    s[p + FIELDS.vy] = (s[p + FIELDS.y] - begin_y) / dt


@kernel
def _leap(
    r: Real, n: int, s: Real, p: int, jump: bool, mode: int, fall: float, carried: bool
) -> None:  # pragma: no cover
    """A jump, a push or what a clip travels lifts the figure off its shadow."""
    dt, rise = r[n + NUMBERS.dt], s[p + FIELDS.rise] + s[p + FIELDS.push_up]
    if jump and s[p + FIELDS.jump_held] == 0.0 and s[p + FIELDS.grounded] != 0.0:
        rise = r[n + NUMBERS.jump_speed]
    elif s[p + FIELDS.jump_held] != 0.0 and not jump and rise > 0.0:
        rise = rise * r[n + NUMBERS.jump_cut]
    s[p + FIELDS.jump_held] = 1.0 if jump else 0.0
    if carried:
        s[p + FIELDS.lift] = max(s[p + FIELDS.lift] + s[p + FIELDS.travel_up], 0.0)
        s[p + FIELDS.rise] = s[p + FIELDS.travel_up] / dt if s[p + FIELDS.lift] > 0.0 else 0.0
        s[p + FIELDS.grounded] = 1.0 if s[p + FIELDS.lift] == 0.0 else 0.0
        return
    if s[p + FIELDS.lift] == 0.0 and rise <= 0.0:
        s[p + FIELDS.rise], s[p + FIELDS.grounded] = 0.0, 1.0
        return
    if mode == STILL:
        rise = 0.0
    elif mode != FLOAT:
        rise = rise - (r[n + NUMBERS.gravity_up] if rise > 0.0 else r[n + NUMBERS.gravity_down]) * dt
    if -fall > rise:
        rise = -fall
    lift = s[p + FIELDS.lift] + rise * dt
    if lift <= 0.0:
        lift, rise = 0.0, 0.0
    s[p + FIELDS.lift], s[p + FIELDS.rise] = lift, rise
    s[p + FIELDS.grounded] = 1.0 if lift == 0.0 else 0.0


@kernel
def _touched(m: Whole, at: int, r: Real, s: Real, p: int) -> int:  # pragma: no cover
    """The nearest wall that is touched, the first listed of those as near; -1: none."""
    half, deep = s[p + FIELDS.wide] / 2, s[p + FIELDS.high] / 2
    x, y = s[p + FIELDS.x], s[p + FIELDS.y]
    best, found = TOUCH * TOUCH, -1
    for box in range(m[at + PLAN.floors], m[at + PLAN.floors_end], BOX_SIZE):
        wide = max(r[box + BOX.x] - x - half, x - half - r[box + BOX.x] - r[box + BOX.width], 0.0)
        high = max(r[box + BOX.y] - y - deep, y - deep - r[box + BOX.y] - r[box + BOX.height], 0.0)
        away = wide * wide + high * high
        if away < best or (away == best and found < 0):
            best, found = away, box
    return found


@kernel
def _towards(r: Real, s: Real, p: int, box: int) -> float:  # pragma: no cover
    """The direction of the nearest place of a wall."""
    x, y = s[p + FIELDS.x], s[p + FIELDS.y]
    near_x = min(max(x, r[box + BOX.x]), r[box + BOX.x] + r[box + BOX.width])
    near_y = min(max(y, r[box + BOX.y]), r[box + BOX.y] + r[box + BOX.height])
    if near_x == x and near_y == y:
        return s[p + FIELDS.facing]
    return bearing_of(near_x - x, near_y - y)


@kernel
def _turn_to(s: Real, p: int, target: float, most: float) -> None:  # pragma: no cover
    """Turn the figure towards a direction by at most so many degrees; 0: at once."""
    way = turn(s[p + FIELDS.facing], target)
    if most <= 0.0 or abs(way) <= most:
        s[p + FIELDS.facing] = target
    else:
        s[p + FIELDS.facing] = reduced(s[p + FIELDS.facing] + (most if way > 0.0 else -most))
