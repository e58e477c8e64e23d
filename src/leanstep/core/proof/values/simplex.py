"""Linear inequalities over boxes, decided in exact rational numbers."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction

Row = tuple[Sequence[Fraction], Fraction]
"""Coefficients and a bound: their sum of products with the variables shall not exceed it."""


def most_slack(
    rows: Sequence[Row], lows: Sequence[Fraction], highs: Sequence[Fraction]
) -> tuple[Fraction, list[Fraction]]:
    """The largest t such that some point of the box has every row at least t below its bound, and such a point.

    There is a point that fulfils every row if and only if t is not negative.  Found with the simplex method (G. B. Dantzig,
    1947) in rational numbers, with the choice of R. G. Bland, "New Finite Pivoting Rules for the Simplex Method", Mathematics
    of Operations Research 2 (1977), under which it comes to an end.
    """
    count, size = len(lows), len(rows)
    bounds = [bound - sum(a * low for a, low in zip(row, lows)) for row, bound in rows]
    raised = max(Fraction(0), -min(bounds))
    # columns: the variables above their lows, t + raised, one slack a line; the last column is the right side
    lines: list[list[Fraction]] = []
    for at, (row, _) in enumerate(rows):
        lines.append([*row, Fraction(1), *_unit(at, size + count), bounds[at] + raised])
    for at in range(count):
        lines.append([*_unit(at, count), Fraction(0), *_unit(size + at, size + count), highs[at] - lows[at]])
    goal = [*([Fraction(0)] * count), Fraction(-1), *([Fraction(0)] * (size + count + 1))]
    basis = [count + 1 + at for at in range(size + count)]
    while True:
        entering = next((column for column, cost in enumerate(goal[:-1]) if cost < 0), None)
        if entering is None:
            break
        ratios = [(line[-1] / line[entering], basis[at], at) for at, line in enumerate(lines) if line[entering] > 0]
        _, _, leaving = min(ratios)
        _pivot(lines, goal, leaving, entering)
        basis[leaving] = entering
    values = [Fraction(0)] * (count + 1)
    for at, column in enumerate(basis):
        if column <= count:
            values[column] = lines[at][-1]
    return values[count] - raised, [low + above for low, above in zip(lows, values)]


def _unit(at: int, size: int) -> list[Fraction]:
    return [Fraction(int(place == at)) for place in range(size)]


def _pivot(lines: list[list[Fraction]], goal: list[Fraction], leaving: int, entering: int) -> None:
    line = lines[leaving]
    by = line[entering]
    line[:] = [value / by for value in line]
    for other in (*lines[:leaving], *lines[leaving + 1 :], goal):
        times = other[entering]
        if times:
            other[:] = [value - times * mine for value, mine in zip(other, line)]
