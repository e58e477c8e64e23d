"""The path a clip travels: what it does to the body, where it is, and how far it goes."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache
from types import SimpleNamespace
from typing import get_args

from leanstep.core.character.clips import GOES_AHEAD, GOES_THROUGH, GOES_UP, Clip, Travel
from leanstep.core.character.instants import Easing
from leanstep.core.clips.timing import Timing, timing, units

EASES = get_args(Easing)


@cache
def _kernels() -> SimpleNamespace:
    """The kernels of paths, as they stand; only who steps loads them, and the compiler with them."""
    from leanstep.core.clips import paths
    from leanstep.core.jit import plain

    return plain(paths)


def laid(travel: Travel) -> tuple[float, ...]:
    """A path as rows of numbers, scaled, from where it begins."""
    rows = [] if travel.keys and travel.keys[0].at == 0 else [0.0, 0.0, 0.0, 0.0]
    for key in travel.keys:
        rows += [units(key.at), key.x * travel.scale_x, key.y * travel.scale_y, EASES.index(key.ease)]
    return tuple(map(float, rows))


def goes_bits(travel: Travel | None) -> int:
    """What a path does to the body, as bits; 0 where it moves nothing but the drawing."""
    if travel is None or travel.moves != "body":
        return 0
    ahead = GOES_AHEAD if any(key.x for key in travel.keys) else 0
    up = GOES_UP if any(key.y for key in travel.keys) else 0
    return ahead | up | (GOES_THROUGH if travel.through else 0) if ahead | up else 0


def step(rows: Sequence[float], made: Timing, head: int, amount: int) -> tuple[float, float]:
    """How far a path goes ahead and up in a step of the playhead."""
    back, paths = made.begin if made.repeats else -1, _kernels()
    x, y = (paths.gone(rows, 0, len(rows), made.length, back, head, amount, which) for which in (paths.X, paths.Y))
    return float(x), float(y)


def at(rows: Sequence[float], head: int) -> tuple[float, float]:
    """Where a path is at a playhead, ahead and up of where it began."""
    paths = _kernels()
    x, y = (paths.place(rows, 0, len(rows), head, which) for which in (paths.X, paths.Y))
    return float(x), float(y)


def total(clip: Clip) -> tuple[float, float]:
    """How far a clip's path goes ahead and up, once through."""
    if clip.travel is None:
        return 0.0, 0.0
    rows = laid(clip.travel)
    return tuple(end - start for start, end in zip(at(rows, 0), at(rows, timing(clip).length)))  # type: ignore[return-value]
