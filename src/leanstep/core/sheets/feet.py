"""Foot points: where a frame stands, found from what is drawn by a rule."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from leanstep.core.sheets.background import Mask
from leanstep.core.sheets.cutting import Rect

Point = tuple[float, float]

SHARED = 0.7
"""The share of a row's frames in which a pixel has to be drawn to be part of the figure's body."""

LOWER = 0.7
"""Where the lower part of a body begins, as a share of its height: heads and tails say little of where it stands."""

WIDE = 0.35
"""The share of a drawing's width that what reaches below the others has to have to be more than a stray part."""

SELDOM = 0.3
"""The share of a row's frames in which a pixel has to be drawn to tell anything of where the body stands."""

STRAY = 2
"""Pixels by which one frame alone may not reach below all others of its row."""

RUN = 0.12
"""The share of a drawing's width that a run of pixels has to have to be solid."""

OF_CELLS = ("cell", "centre")
"""The rules that do not look at what is drawn."""

Span = tuple[int, int, int, int]


def foot_points(rule: str, rects: Sequence[Rect], masks: Sequence[Mask]) -> list[Point]:
    """The foot of every frame, in pixels from its top left corner; ``masks`` (height × width) say what is drawn.

    ``rule`` is one of those of a sheet, see :class:`leanstep.core.character.model.Sheet`.  Frames in which nothing is drawn
    have that of the cell.
    """
    if rule == "row":
        return _by_rows(rects, masks)
    return [_single(rule, rect, mask) for rect, mask in zip(rects, masks)]


def of_cell(rule: str, rect: Rect) -> Point:
    """The foot of a cell by the rule ``centre``; by all others its bottom centre."""
    return rect.width / 2, rect.height / 2 if rule == "centre" else float(rect.height)


def _single(rule: str, rect: Rect, mask: Mask) -> Point:
    box = bounds(mask)
    if rule in OF_CELLS or box is None:
        return of_cell(rule, rect)
    left, top, right, low = box
    if rule == "solid":
        least = max(2, round(RUN * (right - left)))
        solid = np.flatnonzero(_longest_runs(mask[top:low, left:right]) >= least)
        if solid.size:
            low = top + int(solid[-1]) + 1
            columns = np.flatnonzero(mask[low - 1])
            return (float(columns[0]) + float(columns[-1]) + 1) / 2, float(low)
    return (left + right) / 2, float(low)


def _longest_runs(mask: Mask) -> np.ndarray:
    """The longest run of drawn pixels of each row."""
    run = np.zeros(mask.shape[0], np.int64)
    best = run.copy()
    for column in mask.T:
        run = np.where(column, run + 1, 0)
        best = np.maximum(best, run)
    return best


def bounds(mask: Mask) -> Span | None:
    """Left, top, right and bottom (the last two outside) of what is drawn; None when nothing is."""
    columns, rows = np.flatnonzero(mask.any(axis=0)), np.flatnonzero(mask.any(axis=1))
    if not columns.size:
        return None
    return int(columns[0]), int(rows[0]), int(columns[-1]) + 1, int(rows[-1]) + 1


def _by_rows(rects: Sequence[Rect], masks: Sequence[Mask]) -> list[Point]:
    rows: dict[tuple[int, int, int], list[int]] = {}
    for number, rect in enumerate(rects):
        rows.setdefault((rect.y, rect.width, rect.height), []).append(number)
    points: list[Point] = [(rect.width / 2, float(rect.height)) for rect in rects]
    for numbers in rows.values():
        some = [number for number in numbers if masks[number].any()]
        if len(some) == 1:
            points[some[0]] = _single("solid", rects[some[0]], masks[some[0]])
        elif some:
            point = _shared([masks[number] for number in some])
            for number in numbers:
                points[number] = point
    return points


def _shared(masks: Sequence[Mask]) -> Point:
    """The point below the body that all frames of a row share: what swings does not move it, and what jumps keeps its height.

    Its height is that of the lowest frame, unless that reaches below all others with a part only, while its body stays up.
    """
    often = np.mean(masks, axis=0)
    rows = np.flatnonzero((often >= min(SHARED, float(often.max()))).any(axis=1))
    lower = often[int(rows[0] + LOWER * (rows[-1] - rows[0])) :]
    weights = (np.where(lower >= SELDOM, lower, 0) ** 2).sum(axis=0)
    middle = float(np.average(np.arange(len(weights)) + 0.5, weights=weights)) if weights.any() else len(weights) / 2
    return round(middle * 2) / 2, float(_ground_line(masks))


def _ground_line(masks: Sequence[Mask]) -> int:
    """The bottom of the lowest frame; that of the second where only a stray part of the lowest reaches below the others, while
    its body stays up."""
    rows = [np.argwhere(mask)[:, 0] for mask in masks]
    order = sorted(range(len(rows)), key=lambda number: -int(rows[number][-1]))
    first = rows[order[0]]
    if len(rows) > 2:
        second = rows[order[1]]
        deeper = int(first[-1] - second[-1])
        moved = max(first[0] - second[0], first.mean() - second.mean())
        mask = masks[order[0]]
        wide = mask[second[-1] + 1 :].any(axis=0).sum() / mask.any(axis=0).sum()
        if deeper > STRAY and moved < deeper / 2 and wide < WIDE:
            return int(second[-1]) + 1
    return int(first[-1]) + 1
