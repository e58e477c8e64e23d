"""A body seen from the side: walks, runs, jumps, falls, lands and climbs on rectangles.

Lengths in units (one unit is one pixel of the art), speeds in units a second, up is positive.  One call of
:func:`step` is one tick; only + − × ÷ and comparisons are used, in a fixed order.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from leanstep.core.character.model import Body, Course, Shape

PUSH = 0.5
"""How far a stick must be pushed to count as asking for something."""
REACH = 1.0
"""Units by which a ladder may be missed at its ends."""

PUBLISHED = {
    "speed": "how fast the body moves sideways, in units a second, never below 0",
    "rise": "how fast the body moves up, in units a second; below 0 when falling",
    "grounded": "the body stands on something",
    "climbing": "the body holds on to a ladder",
    "at_ladder": "a ladder is within reach",
    "blocked": "a wall stops the body from going where it is steered",
}
"""What the body sets, beside one flag for every named zone of the course."""


@dataclass(frozen=True)
class BodyState:
    """Where the body is: ``x``, ``y`` is the foot, ``facing`` 1 for right and -1 for left."""

    x: float
    y: float
    vx: float = 0.0
    vy: float = 0.0
    facing: int = 1
    grounded: bool = False
    climbing: bool = False
    blocked: bool = False
    jump_held: bool = False


@dataclass(frozen=True)
class Steering:
    """What the controls ask of the body on one tick; a locked body is asked nothing."""

    x: float = 0.0
    y: float = 0.0
    jump: bool = False
    run: bool = False


def placed(course: Course) -> BodyState:
    """The body at the course's start, standing when there is ground."""
    x, y = course.start
    return BodyState(float(x), float(y), grounded=any(_rests_on(shape, x, y) for shape in floors(course)))


def published(state: BodyState, body: Body, course: Course) -> dict[str, float | bool]:
    """The values the body sets, by parameter name."""
    values: dict[str, float | bool] = {
        "speed": abs(state.vx),
        "rise": state.vy,
        "grounded": state.grounded,
        "climbing": state.climbing,
        "at_ladder": _ladder(state, course) is not None,
        "blocked": state.blocked,
    }
    for shape in course.shapes:
        if shape.kind == "zone" and shape.name:
            inside = shape.x <= state.x <= shape.x + shape.width and shape.y <= state.y <= shape.y + shape.height
            values[shape.name] = bool(values.get(shape.name, False)) or inside
    return values


def step(state: BodyState, steering: Steering, body: Body, course: Course, dt: float) -> BodyState:
    """The body one tick of ``dt`` seconds later."""
    pressed = steering.jump and not state.jump_held
    ladder = _ladder(state, course)
    if state.climbing and ladder is not None and not pressed:
        return _climb(state, steering, body, ladder, dt)
    if ladder is not None and not pressed and _grabs(state, steering, ladder):
        return _climb(replace(state, climbing=True, grounded=False), steering, body, ladder, dt)

    vx = _steered(state, steering, body, dt)
    vy = state.vy
    if pressed and (state.grounded or state.climbing):
        vy = body.jump_speed
    elif state.jump_held and not steering.jump and vy > 0:
        vy = vy * body.jump_cut
    vy = max(vy - (body.gravity_up if vy > 0 else body.gravity_down) * dt, -body.fall_speed)

    x = state.x + vx * dt
    blocked = False
    half = body.width / 2
    for shape in floors(course):
        if _overlaps(shape, x - half, state.y, body.width, body.height):
            blocked = True
            x = shape.x - half if vx > 0 else shape.x + shape.width + half if vx < 0 else state.x
            vx = 0.0
    y = state.y + vy * dt
    grounded = False
    for shape in floors(course):
        if _overlaps(shape, x - half, y, body.width, body.height):
            if vy <= 0:
                y, grounded = shape.y + shape.height, True
            else:
                y = shape.y - body.height
            vy = 0.0
    facing = state.facing
    if steering.x > 0 and vx > 0:
        facing = 1
    elif steering.x < 0 and vx < 0:
        facing = -1
    return BodyState(x, y, vx, vy, facing, grounded, False, blocked, steering.jump)


def _steered(state: BodyState, steering: Steering, body: Body, dt: float) -> float:
    """The sideways speed after steering."""
    goal = steering.x * (body.run_speed if steering.run else body.walk_speed)
    speeds_up = goal != 0 and goal * state.vx >= 0 and abs(goal) > abs(state.vx)
    amount = (body.acceleration if speeds_up else body.braking) * dt
    if not state.grounded:
        amount = amount * body.air_control
    if state.vx < goal:
        return min(state.vx + amount, goal)
    return max(state.vx - amount, goal)


def _grabs(state: BodyState, steering: Steering, ladder: Shape) -> bool:
    top = ladder.y + ladder.height
    if steering.y > PUSH:
        return state.y < top - REACH
    return steering.y < -PUSH and state.y > ladder.y + REACH


def _climb(state: BodyState, steering: Steering, body: Body, ladder: Shape, dt: float) -> BodyState:
    vy = steering.y * body.climb_speed
    x, y, top = ladder.x + ladder.width / 2, state.y + vy * dt, ladder.y + ladder.height
    facing = state.facing
    if y >= top:
        return BodyState(x, top, 0.0, 0.0, facing, True, False, False, steering.jump)
    if y <= ladder.y:
        return BodyState(x, ladder.y, 0.0, 0.0, facing, True, False, False, steering.jump)
    return BodyState(x, y, 0.0, vy, facing, False, True, False, steering.jump)


def _ladder(state: BodyState, course: Course) -> Shape | None:
    for shape in course.shapes:
        if (
            shape.kind == "ladder"
            and shape.x <= state.x <= shape.x + shape.width
            and shape.y - REACH <= state.y <= shape.y + shape.height + REACH
        ):
            return shape
    return None


_ENDLESS = Shape(kind="floor", x=-1e7, y=-1000.0, width=2e7, height=1000.0)


def floors(course: Course) -> list[Shape]:
    """The solid shapes; a course without any gets an endless floor at height 0."""
    return [shape for shape in course.shapes if shape.kind == "floor"] or [_ENDLESS]


def _overlaps(shape: Shape, left: float, bottom: float, width: float, height: float) -> bool:
    return (
        left < shape.x + shape.width
        and left + width > shape.x
        and bottom < shape.y + shape.height
        and bottom + height > shape.y
    )


def _rests_on(shape: Shape, x: float, y: float) -> bool:
    return shape.x <= x <= shape.x + shape.width and y == shape.y + shape.height
