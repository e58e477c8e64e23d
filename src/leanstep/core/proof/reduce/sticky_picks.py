"""What may be picked at which values where the borders of a blend space stick, whatever was picked before.

What was picked stays until another sample is nearer by ``sticky`` rulings: so it is the nearest, or one that is farther by no more
than that.  On one axis which these are changes only where two samples are equally far, or one is farther by just that much; in between
it is the same everywhere.  Right beside such a place, where the last bits of distances would count, those count as well that are
farther by a little more: what is said here may allow more than can be, never less.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import combinations

from leanstep.core.bearings import CIRCLE, reduced
from leanstep.core.blends.picking import band, squares_of
from leanstep.core.blends.space import Space

NEAR = 1e-8
"""How near is right beside, as a share of the greatest number on an axis."""


@dataclass(frozen=True)
class Stretch:
    """Values above ``low`` and up to ``high`` (None: from or to the end), at which one of these samples is picked."""

    low: float | None
    high: float | None
    picks: frozenset[int]


def sticky_stretches(space: Space) -> Iterator[Stretch]:
    """What may be picked from where on to where, from low to high."""
    axis, turns = space.axes[0], _turns(space)
    beside = NEAR * max(1.0, *map(abs, turns))
    low, begin = None, 0.0 if axis.round else turns[0] - 1.0
    for turn in turns:
        if turn - beside > begin:
            yield Stretch(low, turn - beside, _may_be_picked(space, (begin + turn - beside) / 2, beside / axis.step))
            low = turn - beside
        yield Stretch(low, turn + beside, _may_be_picked(space, turn, 3 * beside / axis.step))
        low = begin = turn + beside
    if not axis.round:
        yield Stretch(low, None, _may_be_picked(space, begin + 1.0, beside / axis.step))


def _turns(space: Space) -> list[float]:
    """Where it may change what may be picked, in order."""
    axis, wide = space.axes[0], band(space)
    places = [place[0] for place in space.places if not math.isnan(place[0])]
    found = {axis.low, axis.high}
    for middle in [*places, *((one + other) / 2 for one, other in combinations(places, 2))]:
        found |= {middle + by for by in (-wide, -wide / 2, 0.0, wide / 2, wide)}
    if axis.round:
        found = {reduced(turn + half) for turn in found for half in (0.0, CIRCLE / 2)} | {0.0, CIRCLE}
    return sorted(found)


def _may_be_picked(space: Space, value: float, beside: float) -> frozenset[int]:
    """The samples that may be picked at a value, and those farther by a little more, in rulings."""
    away = [math.sqrt(square) for square in squares_of(space, [value])]
    return frozenset(at for at, one in enumerate(away) if one <= min(away) + space.sticky + beside)
