"""A body seen from the side: walks, runs, jumps, falls, lands and climbs on rectangles.

Lengths in units (one unit is one pixel of the art), speeds in units a second, up is positive.  One call of :func:`move` is one
tick; only + − × ÷ and comparisons are used, in a fixed order.  ``m`` from ``at`` on is a plan, ``r`` has the numbers and boxes, ``s``
from ``p`` on the state (:mod:`leanstep.core.body.records`).
"""

from __future__ import annotations

import math

from leanstep.core.body.records import BOX, BOX_SIZE, CLIMB, ENDLESS, FIELDS, FLOAT, NUMBERS, PLAN, STILL
from leanstep.core.body.slopes import REACH, bearing_of, high_end, leads_over, leads_up, slope_at, surface, too_steep
from leanstep.core.body.walls import edges, halted
from leanstep.core.character.clips import GOES_AHEAD, GOES_THROUGH, GOES_UP
from leanstep.core.jit import Real, Whole, kernel

PUSH = 0.5
"""How far a stick must be pushed to count as asking for something."""
STEEPEST = 3.0
"""How far down a step of one unit may lead who walks down a slope, in units."""


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
    mode: int,
    cap: float,
    fall: float,
) -> None:  # pragma: no cover
    """One tick; ``mode`` and ``cap`` are how it is asked to move, and how fast at most (0: nothing is asked); it
    falls at ``fall`` at most."""
    pressed = jump and s[p + FIELDS.jump_held] == 0.0
    n = m[at + PLAN.numbers]
    stands = s[p + FIELDS.grounded] != 0.0 or s[p + FIELDS.climbing] != 0.0
    if stands:
        s[p + FIELDS.grace] = r[n + NUMBERS.jump_grace]
    s[p + FIELDS.slope] = 0.0
    leaps, goes = False, int(s[p + FIELDS.travels])
    ladder = ladder_at(m, at, r, s, p) if goes == 0 and (mode == 0 or mode == CLIMB) else -1
    if mode == STILL and goes != 0:
        goes |= GOES_AHEAD | GOES_UP
    if mode == STILL and goes == 0:
        _put(s, p, s[p + FIELDS.x], s[p + FIELDS.y], 0.0, 0.0, s[p + FIELDS.grounded], 0.0, 0.0)
    elif (
        ladder >= 0 and not pressed and (mode == CLIMB or s[p + FIELDS.climbing] != 0.0 or _grabs(r, s, p, sy, ladder))
    ):
        _climb(m, at, r, s, p, sy, ladder)
    else:
        asked = pressed or s[p + FIELDS.buffer] > 0.0
        leaps = asked and mode != FLOAT and (stands or s[p + FIELDS.grace] > 0.0)
        _walk(m, at, r, s, p, sx, sy, jump, leaps, run, mode, cap, fall, goes)
    if leaps:
        s[p + FIELDS.grace], s[p + FIELDS.buffer] = 0.0, 0.0
    else:
        waits = r[n + NUMBERS.jump_buffer] if pressed else s[p + FIELDS.buffer] - 1.0
        s[p + FIELDS.buffer] = max(waits, 0.0)
        s[p + FIELDS.grace] = s[p + FIELDS.grace] if stands else max(s[p + FIELDS.grace] - 1.0, 0.0)
    s[p + FIELDS.jump_held] = 1.0 if jump else 0.0
    s[p + FIELDS.speed] = abs(s[p + FIELDS.vx])
    s[p + FIELDS.rise] = s[p + FIELDS.vy]


@kernel
def _walk(
    m: Whole,
    at: int,
    r: Real,
    s: Real,
    p: int,
    sx: float,
    sy: float,
    jump: bool,
    leaps: bool,
    run: bool,
    mode: int,
    cap: float,
    fall: float,
    goes: int,
) -> None:  # pragma: no cover
    n = m[at + PLAN.numbers]
    dt, stood = r[n + NUMBERS.dt], s[p + FIELDS.grounded] != 0.0
    vx = _steered(r, n, s, p, sx, run, cap)
    if mode == FLOAT:
        vy = s[p + FIELDS.push_up] + _towards(r, n, s[p + FIELDS.vy], sy * r[n + NUMBERS.walk_speed], 1.0)
    else:
        vy = s[p + FIELDS.vy] + s[p + FIELDS.push_up]
        if leaps:
            # a button that was let go while its press waited makes a small jump
            vy = r[n + NUMBERS.jump_speed] if jump else r[n + NUMBERS.jump_speed] * r[n + NUMBERS.jump_cut]
        elif s[p + FIELDS.jump_held] != 0.0 and not jump and vy > 0.0:
            vy = vy * r[n + NUMBERS.jump_cut]
        vy = vy - (r[n + NUMBERS.gravity_up] if vy > 0.0 else r[n + NUMBERS.gravity_down]) * dt
        if -fall > vy:
            vy = -fall

    way, rise = vx * dt, vy * dt
    if goes & GOES_AHEAD != 0:
        way = s[p + FIELDS.travel] * s[p + FIELDS.facing]
        vx = way / dt
    if goes & GOES_UP != 0:
        rise = s[p + FIELDS.travel_up]
        vy, stood = rise / dt, False
    through = goes & GOES_THROUGH != 0
    if through and goes & GOES_UP != 0:
        _put(s, p, s[p + FIELDS.x] + way, s[p + FIELDS.y] + rise, vx, vy, 0.0, 0.0, 0.0)
        return

    # on a slope the speed is kept along it
    under = slope_at(m, at, r, s[p + FIELDS.x], s[p + FIELDS.y]) if stood else -1
    was_on = under >= 0
    if under >= 0 and goes & GOES_AHEAD == 0:
        wide, high = r[under + BOX.width], r[under + BOX.height]
        way = way * wide / math.sqrt(wide * wide + high * high)
    x = s[p + FIELDS.x] + way
    blocked = 0.0
    if not through:
        to = _sideways(m, at, r, n, s, p, x, under)
        if to != x:
            blocked, x, vx = 1.0, to, 0.0
    y = s[p + FIELDS.y] + rise
    y, grounded, hit = _upright(m, at, r, s, p, x, y, vy > 0.0, through)
    if hit:
        vy = 0.0
    if vy <= 0.0:
        y, under = _on_slope(m, at, r, s, p, x, y, stood)
        if under >= 0 and _ceiling(m, at, r, s, p, x, y):
            blocked, x, y, vx = 1.0, s[p + FIELDS.x], s[p + FIELDS.y], 0.0
        if under >= 0:
            grounded, vy = 1.0, 0.0
            s[p + FIELDS.slope] = r[under + BOX.rises] * bearing_of(r[under + BOX.height], r[under + BOX.width])
        elif was_on and grounded == 0.0:
            floor = _floor_below(m, at, r, s, p, x, y, y - abs(way) * STEEPEST - REACH)
            if floor > -ENDLESS:
                y, grounded, vy = floor, 1.0, 0.0
    if goes & GOES_UP != 0 and vy <= 0.0 and _floor_below(m, at, r, s, p, x, y, y) > -ENDLESS:
        grounded, vy = 1.0, 0.0
    if goes & GOES_AHEAD == 0:
        _turn_round(r, n, s, p, sx, vx)
    _put(s, p, x, y, vx, vy, grounded, 0.0, blocked)


@kernel
def _sideways(m: Whole, at: int, r: Real, n: int, s: Real, p: int, x: float, under: int) -> float:  # pragma: no cover
    """How far sideways walls let the body go that stands on a slope (-1: on none)."""
    was, y = s[p + FIELDS.x], s[p + FIELDS.y]
    half, high = s[p + FIELDS.wide] / 2, s[p + FIELDS.high]
    for box in range(m[at + PLAN.floors], m[at + PLAN.floors_end], BOX_SIZE):
        left, right, low, top = edges(r, box, half, 0.0, high)
        if low < y < top and not leads_up(r, under, box):
            x = halted(left, right, was, x)
    for box in range(m[at + PLAN.slopes], m[at + PLAN.slopes_end], BOX_SIZE):
        edge, top = high_end(r, box), r[box + BOX.y] + r[box + BOX.height]
        if not r[box + BOX.y] - high < y < top - REACH:
            continue
        # from its high side a slope is a wall to the body, but where another slope leads up to it only to the foot
        near = 0.0 if leads_over(r, under, edge, top) else half
        if r[box + BOX.rises] < 0.0 and was <= edge:
            x = min(x, edge - near if was <= edge - near else edge)
        elif r[box + BOX.rises] > 0.0 and was >= edge:
            x = max(x, edge + near if was >= edge + near else edge)
    ahead = slope_at(m, at, r, x, y)
    if ahead >= 0 and too_steep(r, n, ahead) and surface(r, ahead, x) > y:
        x = was
    return x


@kernel
def _upright(
    m: Whole, at: int, r: Real, s: Real, p: int, x: float, y: float, rises: bool, through: bool
) -> tuple[float, float, bool]:  # pragma: no cover
    """How far up or down floors and ceilings let the body go, whether it stands then, and whether one stopped it."""
    was, end = s[p + FIELDS.y], y
    half, high = s[p + FIELDS.wide] / 2, s[p + FIELDS.high]
    for box in range(m[at + PLAN.floors], m[at + PLAN.floors_end], BOX_SIZE):
        left, right, low, top = edges(r, box, half, 0.0, high)
        if left < x < right:
            end = halted(low, top, was, end)
    for box in range(m[at + PLAN.floors], m[at + PLAN.floors_end], BOX_SIZE):
        left, right, low, top = edges(r, box, half, 0.0, high)
        within = left < x < right and low < was < top
        if through or not within or _beside_slope(m, at, r, x, was, box):
            continue
        # who is in a wall is put on it or under it where that is the nearest way out
        up, down, beside = top - was, was - low, min(x - left, right - x)
        if not rises and up <= min(down, beside):
            end = max(end, top)
        elif rises and down < up and down <= beside:
            end = min(end, low)
    return end, 1.0 if end != y and not rises else 0.0, end != y


@kernel
def _ceiling(m: Whole, at: int, r: Real, s: Real, p: int, x: float, y: float) -> bool:  # pragma: no cover
    """Whether a ceiling is in the way of who walks up a slope."""
    for box in range(m[at + PLAN.floors], m[at + PLAN.floors_end], BOX_SIZE):
        left, right, low, _ = edges(r, box, s[p + FIELDS.wide] / 2, 0.0, s[p + FIELDS.high])
        if left < x < right and s[p + FIELDS.y] <= low < y:
            return True
    return False


@kernel
def _beside_slope(m: Whole, at: int, r: Real, x: float, y: float, box: int) -> bool:  # pragma: no cover
    """Whether the foot is over a slope that leads up to a floor."""
    for slope in range(m[at + PLAN.slopes], m[at + PLAN.slopes_end], BOX_SIZE):
        over = r[slope + BOX.x] <= x <= r[slope + BOX.x] + r[slope + BOX.width] and y >= r[slope + BOX.y] - REACH
        if over and leads_up(r, slope, box):
            return True
    return False


@kernel
def _floor_below(
    m: Whole, at: int, r: Real, s: Real, p: int, x: float, high: float, low: float
) -> float:  # pragma: no cover
    """The highest floor between two heights under the body; -ENDLESS: none."""
    found = -ENDLESS
    for box in range(m[at + PLAN.floors], m[at + PLAN.floors_end], BOX_SIZE):
        left, right, _, top = edges(r, box, s[p + FIELDS.wide] / 2, 0.0, s[p + FIELDS.high])
        if left < x < right and low <= top <= high and top > found:
            found = top
    return found


@kernel
def _turn_round(r: Real, n: int, s: Real, p: int, sx: float, vx: float) -> None:  # pragma: no cover
    """Face where the stick asks, once it has for long enough and the body goes there."""
    asked = 1.0 if sx > 0.0 else -1.0 if sx < 0.0 else 0.0
    if asked == 0.0 or asked == s[p + FIELDS.facing]:
        s[p + FIELDS.turning] = 0.0
        return
    waits = r[n + NUMBERS.turn_time]
    s[p + FIELDS.turning] = min(s[p + FIELDS.turning] + r[n + NUMBERS.dt], waits)
    if asked * vx > 0.0 and s[p + FIELDS.turning] >= waits:
        s[p + FIELDS.facing], s[p + FIELDS.turning] = asked, 0.0


@kernel
def _on_slope(
    m: Whole, at: int, r: Real, s: Real, p: int, x: float, y: float, stood: bool
) -> tuple[float, int]:  # pragma: no cover
    """How high the foot is on the slope it comes down to or walks down, and that slope; -1: none."""
    # who stood walks down as steeply as the way was long
    down = abs(x - s[p + FIELDS.x]) * STEEPEST + REACH if stood else 0.0
    found = -1
    for box in range(m[at + PLAN.slopes], m[at + PLAN.slopes_end], BOX_SIZE):
        if r[box + BOX.x] <= x <= r[box + BOX.x] + r[box + BOX.width]:
            high = surface(r, box, x)
            came = s[p + FIELDS.y] >= r[box + BOX.y] - REACH
            meets = y <= high + down and (y <= high or stood) and s[p + FIELDS.y] + down >= high - REACH
            if came and meets and (found < 0 or high > y) and not _under_floor(m, at, r, s, p, x, high, box):
                found, y = box, high
    return y, found


@kernel
def _under_floor(
    m: Whole, at: int, r: Real, s: Real, p: int, x: float, y: float, slope: int
) -> bool:  # pragma: no cover
    """Whether the body would come down through a floor to be at this height of a slope that does not lead up to it."""
    for box in range(m[at + PLAN.floors], m[at + PLAN.floors_end], BOX_SIZE):
        left, right, _, top = edges(r, box, s[p + FIELDS.wide] / 2, 0.0, s[p + FIELDS.high])
        if left < x < right and y < top <= s[p + FIELDS.y] and not leads_up(r, slope, box):
            return True
    return False


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
def _steered(r: Real, n: int, s: Real, p: int, sx: float, run: bool, cap: float) -> float:  # pragma: no cover
    """The sideways speed after steering, pushes, and what keeps it down."""
    before = s[p + FIELDS.vx] + s[p + FIELDS.push] * s[p + FIELDS.facing]
    goal = sx * (r[n + NUMBERS.run_speed] if run else r[n + NUMBERS.walk_speed])
    share = r[n + NUMBERS.air_control] if s[p + FIELDS.grounded] == 0.0 else 1.0
    found = _towards(r, n, before, goal, share)
    return min(max(found, -cap), cap) if cap > 0.0 else found


@kernel
def _towards(r: Real, n: int, before: float, goal: float, share: float) -> float:  # pragma: no cover
    """A speed after one tick of speeding up or slowing down to another, with a share of the usual strength."""
    speeds_up = goal != 0.0 and goal * before >= 0.0 and abs(goal) > abs(before)
    amount = (r[n + NUMBERS.acceleration] if speeds_up else r[n + NUMBERS.braking]) * r[n + NUMBERS.dt]
    if share != 1.0:
        amount = amount * share
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
