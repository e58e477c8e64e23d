"""What columns and rows of a grid say together of margins and gaps."""

from __future__ import annotations

from collections.abc import Iterable

from leanstep.core.sheets.axis_evidence import Comb

FRAMED = 1.5
"""What speaks for cells with one margin on all sides and one gap, which fill the image."""


def framed_by(found: Iterable[Comb], length: int) -> set[tuple[int, int]]:
    """Margins and cells of combs whose cells have the same margin at both ends of an axis of ``length`` pixels."""
    return {(comb.start, comb.cell) for comb in found if comb.start and comb.start + comb.end == length}


def frame(x: Comb, y: Comb, shape: tuple[int, ...]) -> float:
    """What speaks for margins and gaps of columns and of rows with each other, in an image of this ``shape`` (height, width)."""
    high, wide = shape
    ends = wide - x.end, high - y.end
    weight = 0.0
    if x.count > 1 and y.count > 1:
        weight += -1.5 if x.gap != y.gap else 1.0 if x.gap and x.start == y.start else 0.0
    for many, one in ((x, y), (y, x)):
        if many.gap and one.count == 1:
            # a single row has the margins of its columns above and below
            weight += max(0.0, one.odd) + 0.5 if one.start == many.start and ends[0] == ends[1] else -1.0
    gaps = {comb.gap for comb in (x, y) if comb.count > 1}
    # a gap of two margins is as good as larger cells
    if (
        x.cell == y.cell
        and len(gaps) == 1
        and gaps.isdisjoint((0, 2 * x.start))
        and {x.start, y.start, *ends} == {x.start}
    ):
        weight += FRAMED
    return weight
