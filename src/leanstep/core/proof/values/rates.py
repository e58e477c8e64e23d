"""Regions of a number that changes only so fast.

Its range is cut at every comparison's constant and at every whole number of steps from one, up and down.  All values of
such a cell can reach the same cells on the next tick: moved by a step, the ends of cells are ends of cells again, or lie
beyond the range.  So it is enough to know in which cell a value lies.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from fractions import Fraction
from typing import NamedTuple

from leanstep.core.conditions import expression as x

MOST_CELLS = 600
"""Ends of cells up to which a limit is followed."""


class Cell(NamedTuple):
    """An interval of exact numbers, and whether its ends belong to it."""

    low: Fraction
    high: Fraction
    low_in: bool
    high_in: bool

    def near(self, other: Cell, step: Fraction) -> bool:
        """Whether from some value of this cell some value of another is no farther than a step."""
        up, down = self.high + step - other.low, other.high - (self.low - step)
        return (up > 0 or (up == 0 and self.high_in and other.low_in)) and (
            down > 0 or (down == 0 and self.low_in and other.high_in)
        )

    def widened(self, step: Fraction) -> Cell:
        """What is no farther than a step from it."""
        return Cell(self.low - step, self.high + step, self.low_in, self.high_in)

    def common(self, other: Cell) -> Cell:
        """What lies in both."""
        low = max((self.low, not self.low_in), (other.low, not other.low_in))
        high = min((self.high, self.high_in), (other.high, other.high_in))
        return Cell(low[0], high[0], not low[1], high[1])

    def doubles(self) -> tuple[float, float, bool, bool]:
        """Ends of an interval that holds the same doubles, and whether they belong to it."""
        low, high = float(self.low), float(self.high)
        low_in, high_in = self.low_in, self.high_in
        if low != self.low:
            low, low_in = low if low > self.low else math.nextafter(low, math.inf), True
        if high != self.high:
            high, high_in = high if high < self.high else math.nextafter(high, -math.inf), True
        return low, high, low_in, high_in


def limited(symbol: x.Symbol) -> bool:
    """Whether a symbol has a limit that keeps it from some change."""
    return symbol.free and 0 < symbol.step < Fraction(symbol.high) - Fraction(symbol.low)


def cells_of(symbol: x.Symbol, cuts: Iterable[float]) -> list[Cell] | None:
    """The cells of a limited number, from low to high; None when they are too many to follow."""
    low, high, step = Fraction(symbol.low), Fraction(symbol.high), symbol.step
    inside = [Fraction(cut) for cut in cuts if symbol.low <= cut <= symbol.high]
    if len(inside) * ((high - low) / step + 1) > MOST_CELLS:
        return None
    ends = {cut + count * step for cut in inside for count in range(-((cut - low) // step), (high - cut) // step + 1)}
    found: list[Cell] = []
    at, closed = low, True
    for end in sorted(ends):
        if end > at:
            found.append(Cell(at, end, closed, False))
        found.append(Cell(end, end, True, True))
        at, closed = end, False
    if at < high:
        found.append(Cell(at, high, closed, True))
    return found


def a_double(low: float, high: float, low_in: bool, high_in: bool, rest: float) -> float | None:
    """A double of the interval, the rest value or one with few digits if there is one; None when it is empty."""

    def belongs(value: float) -> bool:
        return (low < value or (low_in and value == low)) and (value < high or (high_in and value == high))

    if belongs(rest):
        return rest
    middle = low / 2 + high / 2
    for digits in range(16):
        value = round(middle, digits)
        if belongs(value):
            return value
    for value in (middle, low, high, math.nextafter(low, high)):
        if belongs(value):
            return value
    return None


def along(cells: Sequence[Cell], start: float, step: Fraction) -> list[float] | None:
    """A double of each cell in turn, none farther than a step from the one before, ``start`` at first; it changes only where
    it must.  None when there are none."""
    open_ways = list(cells)
    for at in range(len(cells) - 2, -1, -1):
        open_ways[at] = cells[at].common(open_ways[at + 1].widened(step))
    found: list[float] = []
    for cell in open_ways:
        here = cell.common(Cell(Fraction(start), Fraction(start), True, True).widened(step))
        value = a_double(*here.doubles(), start)
        if value is None:
            return None
        found.append(value)
        start = value
    return found
