"""Cutting a sheet into frames."""

from __future__ import annotations

from dataclasses import dataclass

from leanstep.core.character.model import Cut
from leanstep.core.errors import LeanStepError

MOST_FRAMES = 100_000


@dataclass(frozen=True)
class Rect:
    """A rectangle of an image in pixels; ``x``, ``y`` is its top left corner."""

    x: int
    y: int
    width: int
    height: int


def rectangles(cut: Cut, width: int, height: int) -> list[Rect]:
    """The frames of an image of ``width`` × ``height`` pixels, row by row, left to right.

    Raises
    ------
    LeanStepError : the cells do not fill the image exactly; the sentence says how many pixels are over and what fits.
    """
    if cut.way == "count":
        return _grid(
            cut.columns,
            cut.rows,
            _share(width, cut.columns, "columns"),
            _share(height, cut.rows, "rows"),
            margin=0,
            gap=0,
        )
    columns = _fitting(width, cut.width, cut.margin, cut.gap, "wide")
    rows = _fitting(height, cut.height, cut.margin, cut.gap, "high")
    return _grid(columns, rows, cut.width, cut.height, cut.margin, cut.gap)


def _grid(columns: int, rows: int, width: int, height: int, margin: int, gap: int) -> list[Rect]:
    if columns * rows > MOST_FRAMES:
        raise LeanStepError("cut", f"{columns} × {rows} frames are too many", f"Cut at most {MOST_FRAMES} frames.")
    return [
        Rect(margin + column * (width + gap), margin + row * (height + gap), width, height)
        for row in range(rows)
        for column in range(columns)
    ]


def _share(length: int, count: int, what: str) -> int:
    if count < 1 or count > length:
        raise LeanStepError("cut", f"{length} px cannot be cut into {count} {what}", f"Use 1 to {length} {what}.")
    if length % count:
        fits = [number for number in range(1, length + 1) if length % number == 0]
        below = max(number for number in fits if number < count)
        above = min(number for number in fits if number > count)
        raise LeanStepError(
            "cut",
            f"{length} px do not divide into {count} {what}: {length % count} px are left over",
            f"{below} or {above} {what} would fit.",
        )
    return length // count


def _fitting(length: int, cell: int, margin: int, gap: int, what: str) -> int:
    if cell < 1:
        raise LeanStepError("cut", f"a cell of {cell} px is not {what} enough", "Use at least 1 px.")
    inner = length - 2 * margin + gap
    count, over = divmod(inner, cell + gap)
    if count < 1:
        raise LeanStepError(
            "cut",
            f"a cell of {cell} px with a margin of {margin} px does not fit into {length} px",
            "Use a smaller cell.",
        )
    if over:
        raise LeanStepError(
            "cut",
            f"{count} cells of {cell} px (margin {margin}, gap {gap}) leave {over} of {length} px over",
            "Change the cell, the margin or the gap until nothing is left.",
        )
    return count
