"""What the engine has beside a table: the body that moves, and what it tells."""

from __future__ import annotations

from typing import NamedTuple

from leanstep.core.body.records import MODELS, numbered


class Driven(NamedTuple):
    """From ``model`` to ``slopes_end`` the plan of a body (:mod:`leanstep.core.body.records`), then the parameters that steer it
    (-1: there is none), and what it tells."""

    model: int
    ways: int
    numbers: int
    floors: int
    floors_end: int
    ladders: int
    ladders_end: int
    slopes: int
    slopes_end: int
    aim_push: int
    aim: int
    aim_held: int
    stick_x: int
    stick_y: int
    jump: int
    run: int
    published: int
    published_end: int


class Published(NamedTuple):
    """Something the body tells; ``zones`` is a range of boxes in ``r``, ``rest`` the value of a choice that cannot be told."""

    what: int
    parameter: int
    zones: int
    zones_end: int
    rest: int


DRIVEN, PUBLISHED = numbered(Driven), numbered(Published)
PUBLISHED_SIZE = len(PUBLISHED)
SIDE_VIEW = MODELS.index("side")
