"""Which sample of a blend space is shown, and how samples would mix."""

from __future__ import annotations

import itertools
import math

from leanstep.core.character.model import BlendSpace


def pick(blend: BlendSpace, value: float, before: int = -1) -> int | None:
    """Index of the sample nearest to ``value`` on a one-axis blend space, the first listed of those at one distance; values
    outside the range count as its end.  With sticky borders the one picked ``before`` (-1: none) stays until another is nearer
    by that much.  None when there are no samples.
    """
    if not blend.samples:
        return None
    squares = _squares(blend, value)
    best = min(range(len(squares)), key=lambda index: squares[index])
    if blend.sticky > 0 and before >= 0:
        return best if math.sqrt(squares[best]) < math.sqrt(squares[before]) - blend.sticky else before
    return best


def _squares(blend: BlendSpace, value: float) -> list[float]:
    """The square of every sample's distance from a value, in rulings."""
    axis = blend.axes[0]
    inside = min(max(value, axis.min), axis.max)
    distances = ((inside - sample.at[0]) / axis.ruling for sample in blend.samples)
    return [distance * distance for distance in distances]


def kept(left: BlendSpace, picked: int, entered: BlendSpace) -> int:
    """What counts as picked before when a state with a blend space is entered from one with another: the first sample that has
    the same place on the axis both read; -1 when there is none."""
    if left.axes[0].parameter != entered.axes[0].parameter:
        return -1
    places = [sample.at for sample in entered.samples]
    at = left.samples[picked].at
    return places.index(at) if at in places else -1


def weights(blend: BlendSpace, value: float) -> list[float]:
    """How much of every sample is in the mix at ``value``: linear between neighbours, 1 in all, constant beyond the ends.

    Samples on one place share their weight equally.
    """
    places = sorted({sample.at[0] for sample in blend.samples})
    if not places:
        return []
    shares = dict.fromkeys(places, 0.0)
    if value <= places[0]:
        shares[places[0]] = 1.0
    elif value >= places[-1]:
        shares[places[-1]] = 1.0
    else:
        right = next(index for index, place in enumerate(places) if place > value)
        low, high = places[right - 1], places[right]
        shares[high] = (value - low) / (high - low)
        shares[low] = 1.0 - shares[high]
    count = {place: sum(sample.at[0] == place for sample in blend.samples) for place in places}
    return [shares[sample.at[0]] / count[sample.at[0]] for sample in blend.samples]


def borders(blend: BlendSpace) -> list[float]:
    """The places where the pick changes, from low to high; with sticky borders it changes half a :func:`band` further on."""
    places = sorted({sample.at[0] for sample in blend.samples})
    return [(low + high) / 2 for low, high in itertools.pairwise(places)]


def band(blend: BlendSpace) -> float:
    """How wide the band about a border is in which the pick stays as it was, in the parameter's unit: going from one sample to
    the other, d and D rulings away, it changes where D < d - sticky, half of that beyond the middle."""
    return blend.sticky * blend.axes[0].ruling
