"""Where the bodies find things: places of fields among numbers.

A body's numbers, the boxes of its course and its state are rows of doubles; ``PLAN`` are whole numbers that say where those are.
The same kernels move a body in the compiled engine, whose tables hold all this, and in the plain one, from lists.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple, TypeVar

_T = TypeVar("_T", bound=tuple[Any, ...])


def numbered(kind: type[_T]) -> _T:
    """A record whose every field is its place."""
    return kind(*range(len(kind._fields)))  # type: ignore[attr-defined]


class Plan(NamedTuple):
    """Which body it is, how it is steered, and where its numbers and the boxes of the course begin and end."""

    model: int
    ways: int
    numbers: int
    floors: int
    floors_end: int
    ladders: int
    ladders_end: int
    slopes: int
    slopes_end: int


class Numbers(NamedTuple):
    """The body's numbers, as in the document, but ``jump_grace`` and ``jump_buffer`` in ticks; ``dt`` is the length of a tick in
    seconds."""

    width: int
    height: int
    depth: int
    walk_speed: int
    run_speed: int
    acceleration: int
    braking: int
    air_control: int
    gravity_up: int
    gravity_down: int
    fall_speed: int
    jump_speed: int
    jump_cut: int
    jump_grace: int
    jump_buffer: int
    climb_speed: int
    turn_rate: int
    along: int
    along_after: int
    along_wait: int
    along_back: int
    cell: int
    slope: int
    turn_time: int
    dt: int


class Box(NamedTuple):
    """A rectangle of the course; ``tall`` is how high a wall is that is seen from above, ``rises`` whether a slope goes
    up to the right (1) or to the left (-1)."""

    x: int
    y: int
    width: int
    height: int
    tall: int
    rises: int


class Fields(NamedTuple):
    """A body's state; see :class:`leanstep.core.body.body_state.BodyState`."""

    x: int
    y: int
    vx: int
    vy: int
    facing: int
    grounded: int
    climbing: int
    blocked: int
    jump_held: int
    lift: int
    rise: int
    heading: int
    speed: int
    pushing: int
    leading: int
    was_x: int
    was_y: int
    goal_x: int
    goal_y: int
    stepping: int
    asked: int
    following: int
    mode: int
    push: int
    push_up: int
    wide: int
    high: int
    slope: int
    turning: int
    side: int
    travel: int
    travel_up: int
    travels: int
    grace: int
    buffer: int


class Steer(NamedTuple):
    """What the controls ask of a body on one tick, and whether it is ``free`` to do it.  ``aims``: it looks along ``aim``;
    ``face``: it turns to what it touches, by so many degrees a second (0: it does not).  ``mode``, ``cap``, ``fall``, ``wide``
    and ``high`` are what the active states ask of it (0: nothing)."""

    x: float = 0.0
    y: float = 0.0
    jump: bool = False
    run: bool = False
    free: bool = True
    aims: bool = False
    aim: float = 0.0
    face: float = 0.0
    mode: int = 0
    cap: float = 0.0
    fall: float = 0.0
    wide: float = 0.0
    high: float = 0.0


PLAN, NUMBERS, BOX, FIELDS = numbered(Plan), numbered(Numbers), numbered(Box), numbered(Fields)
BOX_SIZE = len(BOX)
MODES = ("", "walk", "climb", "float", "still")
"""How a body can be asked to move; nothing is asked by the first."""
WALK, CLIMB, FLOAT, STILL = range(1, 5)
SIDE, ABOVE = range(2)
FREE, EIGHT, FOUR, SQUARE = range(4)
"""In the order of how few ways there are."""
MODELS = ("side", "above")
WAYS = ("free", "eight", "four", "square")
ENDLESS = 1e9
"""How tall a wall is of which nothing is said."""

TOLD = {
    "speed": "how fast the body moves, seen from the side sideways, in units a second, never below 0",
    "rise": "how fast the body moves up, in units a second; below 0 when falling",
    "grounded": "the body stands on something",
    "climbing": "the body holds on to a ladder",
    "at_ladder": "a ladder is within reach",
    "blocked": "a wall stops the body from going where it is steered",
    "heading": "the direction the body last moved in, seen from above",
    "facing": "the direction the figure looks in, seen from above",
    "moving": "the body has moved on this tick, seen from above",
    "headroom": "the standing body would have room where it is",
    "ahead": "how far the next wall is in the facing, in units, at most 200",
    "ledge": "how high that wall reaches above the foot, in units; 0 where there is none",
}
"""What the body sets, beside one flag for every named zone of the course."""
SPEED, RISE, GROUNDED, CLIMBING, AT_LADDER, BLOCKED, HEADING, FACING, MOVING, HEADROOM, AHEAD, LEDGE, IN_ZONE = range(
    13
)

Lists = tuple[Sequence[int], Sequence[float]]
