"""Cutting a sheet into frames."""

from __future__ import annotations

from dataclasses import dataclass

from leanstep.core.character.sheets import Cut, both
from leanstep.core.errors import LeanStepError

MOST_FRAMES = 16_384
"""Frames a sheet can have: each has a foot, a box and findings of its own."""


@dataclass(frozen=True)
class Rect:
    """A rectangle of an image in pixels; ``x``, ``y`` is its top left corner."""

    x: int
    y: int
    width: int
    height: int


def rectangles(cut: Cut, width: int, height: int) -> list[Rect]:
    """The frames of an image of ``width`` × ``height`` pixels; of a grid row by row, left to right.

    Raises
    ------
    LeanStepError : the cells of a cut by count do not fill the image exactly, or a cell lies outside the image; the
        sentence says how many pixels are over and what fits.
    """
    if len(cut.rects) > MOST_FRAMES:
        raise LeanStepError("cut", f"{len(cut.rects)} frames are too many", f"Cut at most {MOST_FRAMES} frames.")
    found = [Rect(*rect) for rect in cut.rects] if cut.way == "rects" else _grid(cut, width, height)
    for cell, rect in cut.cells.items():
        if int(cell) < len(found):
            found[int(cell)] = Rect(*rect)
    for number, one in enumerate(found):
        if one.x + one.width > width or one.y + one.height > height:
            raise LeanStepError(
                "cut",
                f"frame {number} ({one.width} × {one.height} at {one.x}, {one.y}) lies outside the image, which is "
                f"{width} × {height} pixels",
                "Move it, or take it away.",
            )
    return found


def left_over(cut: Cut, width: int, height: int) -> tuple[int, int]:
    """Pixels that cells of a cut by size leave over right and below of an image of ``width`` × ``height``, beyond a margin as
    wide as that left and above; 0 for other cuts."""
    if cut.way != "size":
        return 0, 0
    last = _grid(cut, width, height)[-1]
    over = (width - last.x - last.width, height - last.y - last.height)
    x, y = (0 if rest == margin else rest for rest, margin in zip(over, both(cut.margin)))
    return x, y


def _grid(cut: Cut, width: int, height: int) -> list[Rect]:
    """The cells of a cut by count or by size."""
    if cut.way == "count":
        columns, rows = cut.counts
        cell, margin, gap = (_share(width, columns, "columns"), _share(height, rows, "rows")), (0, 0), (0, 0)
    else:
        cell, margin, gap = (cut.width, cut.height), both(cut.margin), both(cut.gap)
        columns = _fitting(width, cell[0], margin[0], gap[0], cut.columns, "wide")
        rows = _fitting(height, cell[1], margin[1], gap[1], cut.rows, "high")
    if columns * rows > MOST_FRAMES:
        raise LeanStepError("cut", f"{columns} × {rows} frames are too many", f"Cut at most {MOST_FRAMES} frames.")
    return [
        Rect(margin[0] + column * (cell[0] + gap[0]), margin[1] + row * (cell[1] + gap[1]), *cell)
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


def _fitting(length: int, cell: int, margin: int, gap: int, most: int, what: str) -> int:
    """How many cells fit, and at most ``most`` where that is not 0."""
    if cell < 1:
        raise LeanStepError("cut", f"a cell of {cell} px is not {what} enough", "Use at least 1 px.")
    count = (length - margin + gap) // (cell + gap)
    if count < 1:
        raise LeanStepError(
            "cut",
            f"a cell of {cell} px with a margin of {margin} px does not fit into {length} px",
            "Use a smaller cell.",
        )
    if most > count:
        raise LeanStepError(
            "cut",
            f"{most} cells of {cell} px (margin {margin}, gap {gap}) do not fit into {length} px",
            f"{count} would fit.",
        )
    return most or count
