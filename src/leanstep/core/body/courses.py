"""Courses that are there to begin with."""

from __future__ import annotations

from leanstep.core.character.body import Body, Course, Shape

DEEP = 400.0
"""Units below everything a course has from which on a figure has fallen out of it."""


def fallen_out(course: Course, body: Body, y: float) -> bool:
    """Whether a figure with its foot at ``y`` is below everything it could land on.  Without shapes there is endless ground, and seen
    from above nothing falls."""
    return body.model != "above" and bool(course.shapes) and y < min(one.y for one in course.shapes) - DEEP


def _floor(x: float, y: float, width: float, height: float) -> Shape:
    return Shape(kind="floor", x=x, y=y, width=width, height=height)


FLAT = Course(shapes=(_floor(-400, -60, 1600, 60),))
STEPS = Course(
    shapes=(
        _floor(-400, -60, 760, 60),
        _floor(200, 0, 160, 28),
        _floor(360, -60, 120, 116),
        _floor(560, -60, 180, 60),
        _floor(840, -60, 420, 60),
        _floor(1000, 44, 120, 16),
    )
)
LADDER = Course(
    shapes=(
        _floor(-400, -60, 1200, 60),
        _floor(240, 108, 240, 16),
        _floor(320, 216, 240, 16),
        Shape(kind="ladder", x=260, y=0, width=24, height=124),
        Shape(kind="ladder", x=440, y=124, width=24, height=108),
        _floor(784, 0, 16, 260),
    )
)
ROOFS = Course(
    start=(-300.0, 0.0),
    shapes=(
        _floor(-400, -60, 300, 60),
        _floor(-40, -60, 200, 100),
        _floor(220, -60, 180, 150),
        _floor(470, -60, 220, 110),
        _floor(760, -60, 160, 190),
        _floor(980, -60, 320, 60),
        Shape(kind="ladder", x=736, y=0, width=24, height=130),
    ),
)

QUAY = Course(
    shapes=(
        _floor(-260, 150, 520, 24),
        _floor(-284, -190, 24, 364),
        _floor(260, -190, 24, 364),
        _floor(-260, -190, 190, 24),
        _floor(-20, -190, 280, 24),
        _floor(-180, 60, 90, 60),
        _floor(60, 90, 16, 16),
    )
)
"""Seen from above."""

READY = {
    "flat": FLAT,
    "steps and gaps": STEPS,
    "ladder house": LADDER,
    "harbour roofs": ROOFS,
    "quay, from above": QUAY,
}
"""Ready courses by what they are called."""
