"""What a blend space covers: samples nothing picks, values far from every sample, picks that flip, directions not stood in.

What is claimed is shown at single values or holds for all of them; places to look at come from a grid.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from leanstep.core.bearings import CIRCLE, in_words, reduced
from leanstep.core.blends.picking import nearest, pick, same_place, squares_of
from leanstep.core.blends.space import Ruled, Space

GRID = 96
"""Places an axis is looked at besides those of its samples."""

Range = tuple[float, float]
Values = tuple[float, ...]


@dataclass(frozen=True)
class Flip:
    """The values ``one`` pick the sample ``first`` after ``second``, and ``other`` the other way round; they differ on the axis
    ``axis`` alone."""

    axis: int
    first: int
    second: int
    one: Values
    other: Values


def place_words(space: Space, place: Values) -> str:
    """A place in words, such as ``up-right at 90``."""
    said = []
    for axis, at in zip(space.axes, place):
        said.append("any" if math.isnan(at) else in_words(at) if axis.round else f"{at:g}")
    return (" at " if space.axes[0].round else ", ").join(said)


def coincident(space: Space) -> Iterator[tuple[int, int]]:
    """Samples that lie on the place of an earlier one, each with that one."""
    for number, place in enumerate(space.places):
        for before in range(number):
            if all(map(same_place, space.places[before], place)):
                yield number, before
                break


def never_picked(space: Space, ranges: Sequence[Range]) -> Iterator[int]:
    """Samples another one of which is nearer, or as near and listed before, at all values in these ranges."""
    for number in range(len(space.places)):
        for other in range(len(space.places)):
            if other != number:
                least = sum(
                    _least_lead(axis, space.places[other][at], space.places[number][at], ranges[at])
                    for at, axis in enumerate(space.axes)
                )
                if least > 0 or (least == 0 and other < number):
                    yield number
                    break


def _least_lead(axis: Ruled, near: float, far: float, values: Range) -> float:
    """By how much ``far`` is at least farther than ``near``, in squared rulings, over the values of a range."""
    if same_place(near, far):
        return 0.0
    ends = (0.0, CIRCLE / 2) if axis.round else values
    if math.isnan(near):
        inside = axis.round or values[0] <= far <= values[1]
        return 0.0 if inside else min(axis.away(far, value) ** 2 for value in ends)
    if axis.round:
        half = CIRCLE / 2 / axis.step
        if math.isnan(far):
            return -half * half
        return (half - abs(axis.away(far, near))) ** 2 - half * half
    if math.isnan(far):
        return -max(axis.away(near, value) ** 2 for value in ends)
    return min(axis.away(far, value) ** 2 - axis.away(near, value) ** 2 for value in ends)


def gap(space: Space, ranges: Sequence[Range]) -> tuple[Values, float] | None:
    """The values farthest from every sample, and how far in rulings, where that is more than one."""
    if not space.places:
        return None
    grids = np.meshgrid(*(axis_grid(space, at, ranges[at]) for at in range(len(space.axes))), indexing="ij")
    _, away, _ = nearest(space, grids)
    where = np.unravel_index(int(np.argmax(away)), away.shape)
    values = tuple(float(grid[where]) for grid in grids)
    far = math.sqrt(min(squares_of(space, values)))
    return (values, far) if far > 1 + 1e-9 else None


def axis_grid(space: Space, at: int, values: Range) -> np.ndarray:
    """Values of an axis to look at: evenly spread, those of the samples, and those half way between them."""
    axis = space.axes[at]
    places = sorted({place[at] for place in space.places if not math.isnan(place[at])})
    if axis.round:
        between = [reduced(one + ((other - one) % CIRCLE) / 2) for one, other in zip(places, places[1:] + places[:1])]
        return np.unique([*np.arange(GRID) * (CIRCLE / GRID), *places, *between])
    between = [(one + other) / 2 for one, other in itertools.pairwise(places)]
    inside = [place for place in (*places, *between) if values[0] <= place <= values[1]]
    return np.unique([*np.linspace(*values, GRID), *inside])


def flips(space: Space, ranges: Sequence[Range], widths: Sequence[float]) -> list[Flip]:
    """Pairs of samples that give way to each other and back while one value moves within a width, one flip for each pair and
    axis."""
    found: dict[tuple[int, frozenset[int]], Flip] = {}
    for at, axis in enumerate(space.axes):
        if widths[at] > space.sticky * axis.step:
            for flip in _flips_along(space, ranges, at, widths[at]):
                found.setdefault((at, frozenset({flip.first, flip.second})), flip)
    return list(found.values())


def _flips_along(space: Space, ranges: Sequence[Range], at: int, width: float) -> Iterator[Flip]:
    others = [axis_grid(space, one, ranges[one]) for one in range(len(space.axes)) if one != at]
    line = axis_grid(space, at, ranges[at])
    if space.axes[at].round:
        line = np.append(line, line[0] + CIRCLE)
    for fixed in others[0] if others else [0.0]:
        rows = [line if one == at else np.full(len(line), fixed) for one in range(len(space.axes))]
        index, _, _ = nearest(space, rows)
        for step in np.flatnonzero(index[1:] != index[:-1]):
            flip = _flip_at(space, ranges, at, width, float(fixed), (float(line[step]), float(line[step + 1])))
            if flip is not None:
                yield flip


def _flip_at(space: Space, ranges: Sequence[Range], at: int, width: float, fixed: float, between: Range) -> Flip | None:
    """A flip about where the pick changes between two values of an axis."""

    def values(value: float) -> Values:
        axis = space.axes[at]
        kept = reduced(value) if axis.round else min(max(value, ranges[at][0]), ranges[at][1])
        return tuple(kept if one == at else fixed for one in range(len(space.axes)))

    low, high = between
    first = pick(space, values(low))
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if pick(space, values(middle)) == first else (low, middle)
    second = pick(space, values(high))
    if first is None or second is None or first == second:
        return None
    whole = width * (1 - 1e-9)
    for share in (0.5, 0.25, 0.75, 0.0, 1.0):
        one, other = values(low - whole * share), values(high + whole * (1 - share))
        if pick(space, one, second) == first and pick(space, other, first) == second:
            return Flip(at, first, second, one, other)
    return None


def not_stood_in(space: Space, also: frozenset[float]) -> list[float]:
    """The directions of samples that go, in which no sample at rest stands, nor one of ``also``; none where nothing stands at
    all."""
    if space.dial is None or space.dial[1] < 0:
        return []
    around, out = space.dial
    rest = space.axes[out].inside(0.0)
    stands = [place for place in space.places if place[out] == rest]
    stood = {place[around] for place in stands} | also
    walked = {place[around] for place in space.places if place[out] != rest and not math.isnan(place[around])}
    return sorted(walked - stood) if stands else []
