"""Which sample of a blend space is shown."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence

import numpy as np

from leanstep.core.bearings import CIRCLE
from leanstep.core.blends.space import Space


def pick(space: Space, values: Sequence[float], before: int = -1) -> int | None:
    """Index of the sample of least distance from ``values``, one for each axis, the first listed of those at one distance.
    With sticky borders the one picked ``before`` (-1: none) stays until another is nearer by that much.  None when there are no
    samples."""
    if not space.places:
        return None
    squares = squares_of(space, values)
    best = min(range(len(squares)), key=lambda index: squares[index])
    if space.sticky > 0 and before >= 0:
        return best if math.sqrt(squares[best]) < math.sqrt(squares[before]) - space.sticky else before
    return best


def squares_of(space: Space, values: Sequence[float]) -> list[float]:
    """The square of every sample's distance from ``values``, in rulings, summed in the order of the axes."""
    inside = [axis.inside(value) for axis, value in zip(space.axes, values)]
    found = []
    for place in space.places:
        total = 0.0
        for axis, at, value in zip(space.axes, place, inside):
            away = axis.away(at, value)
            total = total + away * away
        found.append(total)
    return found


def same_place(one: float, other: float) -> bool:
    """Whether two places on an axis are the same; any is the same as any."""
    return one == other or (math.isnan(one) and math.isnan(other))


def kept(left: Space, picked: int, entered: Space, both: Sequence[tuple[int, int]]) -> int:
    """What counts as picked before when a state with a blend space is entered from one with another: the first sample that has
    the same place on the axes ``both`` read, each given by its number in the one and in the other; -1 when there is none."""
    if not both or picked < 0:
        return -1
    at = left.places[picked]
    for number, place in enumerate(entered.places):
        if all(same_place(at[one], place[other]) for one, other in both):
            return number
    return -1


def borders(space: Space) -> list[float]:
    """The places on a single axis where the pick changes, from low to high; with sticky borders it changes half a :func:`band`
    further on."""
    places = sorted({place[0] for place in space.places if not math.isnan(place[0])})
    return [(low + high) / 2 for low, high in itertools.pairwise(places)]


def band(space: Space) -> float:
    """How wide the band about a border of a single axis is in which the pick stays as it was, in the parameter's unit: going from
    one sample to the other, d and D rulings away, it changes where D < d - sticky, half of that beyond the middle."""
    return space.sticky * space.axes[0].step


def nearest(space: Space, values: Sequence[np.ndarray]) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """At many places at once, without a past: the pick, its distance, and by how many rulings it is nearer than the next sample;
    shapes as those of ``values``, one array for each axis.  For drawing and for places to look at more closely: the last bit may
    differ from :func:`pick`."""
    shape = np.broadcast_shapes(*(value.shape for value in values))
    best, second = np.full(shape, np.inf), np.full(shape, np.inf)
    index = np.full(shape, -1, np.int32)
    inside = [
        np.mod(value, CIRCLE) if axis.round else np.clip(value, axis.low, axis.high)
        for axis, value in zip(space.axes, values)
    ]
    for number, place in enumerate(space.places):
        total = np.zeros(shape)
        for axis, at, value in zip(space.axes, place, inside):
            if not math.isnan(at):
                way = value - at
                if axis.round:
                    way = np.mod(way + CIRCLE / 2, CIRCLE) - CIRCLE / 2
                total = total + (way / axis.step) ** 2
        nearer = total < best
        second = np.where(nearer, best, np.minimum(second, total))
        best = np.where(nearer, total, best)
        index = np.where(nearer, number, index)
    distance, farther = np.sqrt(best), np.sqrt(second)
    return (
        index,
        distance,
        np.where(np.isfinite(farther), farther, 1e9) - np.where(np.isfinite(distance), distance, 0.0),
    )
