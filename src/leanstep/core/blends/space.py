"""A blend space laid out: its axes with what they read, and where its samples lie."""

from __future__ import annotations

import math
from collections.abc import Collection
from dataclasses import dataclass

from leanstep.core.bearings import CIRCLE, MOST, reduced, turn
from leanstep.core.character.blends import ANY, Axis, BlendSpace

AROUND = 45.0
"""The ruling of a bearing's axis unless said, in degrees."""


@dataclass(frozen=True)
class Ruled:
    """An axis: the ``parameter`` it reads, from ``low`` to ``high``, and its unit of distance ``step``, all in the parameter's
    unit; ``round``: it is a bearing, and its range the whole circle."""

    parameter: str
    low: float
    high: float
    step: float
    round: bool = False

    def inside(self, value: float) -> float:
        """A value brought into the range: what lies outside counts as its end."""
        if self.round:
            return reduced(value)
        return min(max(value, self.low), self.high)

    def away(self, place: float, value: float) -> float:
        """How far a value in the range is from a place, in rulings, with its sign; from :data:`ANYWHERE` it is not."""
        if math.isnan(place):
            return 0.0
        return (turn(place, value) if self.round else value - place) / self.step

    def caught(self, value: float) -> float:
        """The ruling nearest to a value."""
        if self.round:
            return reduced(round(value / self.step) * self.step)
        return self.low + round((value - self.low) / self.step) * self.step


ANYWHERE = math.nan
"""Stands for ``any`` among places."""


@dataclass(frozen=True)
class Space:
    """Axes, and one place for each sample with one number for each axis (:data:`ANYWHERE`: any)."""

    axes: tuple[Ruled, ...]
    places: tuple[tuple[float, ...], ...]
    sticky: float = 0.0

    @property
    def dial(self) -> tuple[int, int] | None:
        """The number of the only bearing's axis and of the other one (-1: there is none), where there is such a one."""
        around = [at for at, axis in enumerate(self.axes) if axis.round]
        others = [at for at, axis in enumerate(self.axes) if not axis.round]
        return (around[0], others[0] if others else -1) if len(around) == 1 else None


def ruled(axis: Axis, round: bool) -> Ruled:
    """An axis with what it leaves out."""
    if round:
        return Ruled(axis.parameter, 0.0, MOST, AROUND if axis.step is None else float(axis.step), True)
    return Ruled(axis.parameter, axis.low, axis.high, axis.ruling)


def space_of(blend: BlendSpace, bearings: Collection[str]) -> Space:
    """A blend space laid out; ``bearings`` are the names of directions (:func:`bearings_of`)."""
    axes = tuple(ruled(axis, axis.parameter in bearings) for axis in blend.axes)
    places = tuple(
        tuple(
            ANYWHERE if place == ANY else reduced(float(place)) if axis.round else float(place)
            for axis, place in zip(axes, sample.at)
        )
        for sample in blend.samples
    )
    return Space(axes, places, blend.sticky)


def circle_of(axis: Ruled) -> float:
    """After how many rulings an axis comes round to where it began; 0 for one that does not."""
    return CIRCLE / axis.step if axis.round else 0.0
