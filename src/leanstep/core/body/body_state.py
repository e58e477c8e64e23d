"""A body on its course, step by step: the kernels of both bodies, run as they stand."""

from __future__ import annotations

from collections.abc import Container, Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from operator import attrgetter
from struct import pack
from typing import Any

from leanstep.core.body import records, sensors
from leanstep.core.body.records import MODELS, TOLD, WAYS, Numbers, Plan, Steer
from leanstep.core.character.body import Body, Course, Shape
from leanstep.core.conditions.tree import Duration, ticks_of
from leanstep.core.jit import plain

_PLAIN = plain(sensors)
_ROW = attrgetter(*records.Fields._fields)
TRUTHS = ("grounded", "climbing", "blocked", "jump_held")
FLAGS = (*TRUTHS, "at_ladder", "moving", "headroom")
"""What is told as true or false."""


@dataclass(frozen=True)
class BodyState:
    """Where the body is: ``x``, ``y`` is the foot, in units; ``vx``, ``vy`` how it moves, in units a second.  ``facing`` is 1 for
    right and -1 for left seen from the side, a bearing seen from above.

    Seen from above: ``lift`` is how far a jump takes it off its shadow, ``rise`` how fast that grows; ``heading`` the direction
    it last moved in and ``speed`` how fast; ``pushing`` the seconds the stick has been pushed, as far as they count; ``leading``
    the axis that counts where there are four ways (1 across, 2 up), ``was_x`` and ``was_y`` whether it was pushed; ``goal_x``,
    ``goal_y`` the cell it steps to, ``stepping`` which way (1 up, 2 right, 3 down, 4 left, 0 not), ``asked`` what was asked for
    last, ``following`` what is remembered.

    ``mode`` is what an effect has asked for (:data:`records.MODES`), ``push`` and ``push_up`` are pushes still to come, in units a
    second; ``wide`` and ``high`` is the body box now, ``slope`` the degrees by which the ground rises to the right, ``turning`` the
    seconds it has been asked to turn round; ``side`` is 1 or -1 as it last looked right or left, seen from above.
    ``travel`` and ``travel_up`` is how far clips take it next, ahead and up, in units, ``travels`` what of that counts
    (:mod:`leanstep.core.character.motion`).  ``grace`` are the ticks left in which it may jump although it left the ground,
    ``buffer`` those for which a press waits for ground.
    """

    x: float
    y: float
    vx: float = 0.0
    vy: float = 0.0
    facing: float = 1.0
    grounded: bool = False
    climbing: bool = False
    blocked: bool = False
    jump_held: bool = False
    lift: float = 0.0
    rise: float = 0.0
    heading: float = 90.0
    speed: float = 0.0
    pushing: float = 0.0
    leading: float = 0.0
    was_x: float = 0.0
    was_y: float = 0.0
    goal_x: float = 0.0
    goal_y: float = 0.0
    stepping: float = 0.0
    asked: float = 0.0
    following: float = 0.0
    mode: float = 0.0
    push: float = 0.0
    push_up: float = 0.0
    wide: float = 0.0
    high: float = 0.0
    slope: float = 0.0
    turning: float = 0.0
    side: float = 1.0
    travel: float = 0.0
    travel_up: float = 0.0
    travels: float = 0.0
    grace: float = 0.0
    buffer: float = 0.0

    @property
    def row(self) -> list[float]:
        """Its fields as numbers (:class:`records.Fields`)."""
        return [*map(float, _ROW(self))]

    @classmethod
    def of(cls, row: Iterable[float]) -> BodyState:
        """The state from a row of numbers."""
        named: dict[str, Any] = dict(zip(records.Fields._fields, map(float, row)))
        return cls(**named | {name: bool(named[name]) for name in TRUTHS})


_ENDLESS = Shape(kind="floor", x=-1e7, y=-1000.0, width=2e7, height=1000.0)


def floors(body: Body, course: Course) -> list[Shape]:
    """What stops the body; seen from the side a course without anything gets an endless floor at height 0."""
    found = [shape for shape in course.shapes if shape.kind == "floor"]
    return found or ([_ENDLESS] if body.model == "side" else [])


def boxed(shapes: Iterable[Shape]) -> Iterator[tuple[float, ...]]:
    """Shapes as rows of numbers (:class:`records.Box`)."""
    for one in shapes:
        yield (
            one.x,
            one.y,
            one.width,
            one.height,
            records.ENDLESS if one.tall is None else one.tall,
            1 if one.rises == "right" else -1,
        )


def numbers_of(body: Body, rate: float) -> tuple[float, ...]:
    """The body's numbers as a row."""
    numbers = {name: float(getattr(body, name)) for name in Numbers._fields[:-1]}
    waits = {name: float(ticks_of(Duration(numbers[name], "s"), rate)) for name in ("jump_grace", "jump_buffer")}
    return (*(numbers | waits).values(), 1 / rate)


def placed(body: Body, course: Course) -> BodyState:
    """The body at the course's start, standing when there is ground."""
    x, y = map(float, course.start)
    if body.model == "above":
        return BodyState(x, y, facing=90.0, grounded=True, goal_x=x, goal_y=y, wide=body.width, high=body.depth)
    stands = any(_rests_on(shape, x, y) for shape in floors(body, course))
    return BodyState(x, y, grounded=stands, wide=body.width, high=body.height)


def _rests_on(shape: Shape, x: float, y: float) -> bool:
    return shape.x <= x <= shape.x + shape.width and y == shape.y + shape.height


def _bits(row: Sequence[float]) -> bytes:
    return pack(f"{len(row)}d", *row)


class Motion:
    """A body on a course, at so many ticks a second, that tells some ``names`` of what it can tell (None: all)."""

    def __init__(self, body: Body, course: Course, rate: float, names: Container[str] | None = None) -> None:
        self._numbers: list[float] = list(numbers_of(body, rate))
        solid = self._boxes(floors(body, course))
        ladders = self._boxes(shape for shape in course.shapes if shape.kind == "ladder")
        slopes = self._boxes(shape for shape in course.shapes if shape.kind == "slope")
        self._plan = Plan(MODELS.index(body.model), WAYS.index(body.ways), 0, *solid, *ladders, *slopes)
        self._told = [(what, name) for what, name in enumerate(TOLD) if names is None or name in names]
        zones = dict.fromkeys(shape.name for shape in course.shapes if shape.kind == "zone" and shape.name)
        self._zones = {
            name: self._boxes(one for one in course.shapes if one.kind == "zone" and one.name == name)
            for name in zones
            if names is None or name in names
        }
        self.first = placed(body, course)
        self._resting: tuple[BodyState, bytes] | None = None
        self._last: tuple[BodyState, dict[str, float | bool]] | None = None

    def _boxes(self, shapes: Iterable[Shape]) -> tuple[int, int]:
        begin = len(self._numbers)
        for row in boxed(shapes):
            self._numbers.extend(row)
        return begin, len(self._numbers)

    def step(self, state: BodyState, steer: Steer) -> BodyState:
        """The body one tick later.  A body at rest is not worked out again."""
        resting, asked = self._resting, _bits(steer)
        if resting is not None and resting[0] is state and resting[1] == asked:
            return state
        row = state.row
        before = _bits(row)
        _PLAIN.move(self._plan, 0, self._numbers, row, 0, *steer)
        after = BodyState.of(row)
        self._resting = (after, asked) if _bits(row) == before else None
        return after

    def published(self, state: BodyState) -> dict[str, float | bool]:
        """The values the body sets, by parameter name; a zone with the name of one of them adds to it."""
        last = self._last
        if last is None or last[0] is not state:
            last = self._last = (state, self._published(state))
        return last[1]

    def _published(self, state: BodyState) -> dict[str, float | bool]:
        row = state.row
        values: dict[str, float | bool] = {}
        for what, name in self._told:
            told = _PLAIN.told(self._plan, 0, self._numbers, row, 0, what)
            values[name] = bool(told) if name in FLAGS else told
        for name, (begin, end) in self._zones.items():
            within = _PLAIN.inside(self._numbers, row, 0, begin, end)
            values[name] = bool(values.get(name, False)) or within
        return values


def asked_of(body: BodyState, asked: Iterable[tuple[str, float]]) -> BodyState:
    """The body with what effects ask of it, to be obeyed on its next step."""
    for what, value in asked:
        if what == "mode":
            body = replace(body, mode=value)
        elif what == "travels":
            body = replace(body, travels=float(int(body.travels) | int(value)))
        else:
            body = replace(body, **{what: getattr(body, what) + value})
    return body
