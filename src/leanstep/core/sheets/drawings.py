"""The drawings of an image: connected pixels, their parts put together, specks told apart, in reading order."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from leanstep.core.sheets.background import Mask
from leanstep.core.sheets.cutting import Rect

Boxes = NDArray[np.int64]
"""One row a box: left, top, right, bottom; the last two are outside."""

SPECK = 0.03
"""Of how much of a usual drawing's pixels on something is a speck."""

PART = 0.08
"""Of how much of a drawing's pixels on something stands for itself, and is no part of that drawing."""

NEAR = 0.4
"""How far from a drawing its parts may lie, as a share of the room between drawings."""

MANY = 4_000
"""Pieces above which specks are dropped before they could be joined to anything."""

MOST_ASKED = 400
"""Drawings that are asked for the room around them."""

BLOCK = 256
"""Pieces that are compared with all others at once."""

EIGHT = np.ones((3, 3), np.int64)


@dataclass(frozen=True)
class Pieces:
    """Connected drawn pixels: their ``boxes`` and ``areas`` in pixels."""

    boxes: Boxes
    areas: NDArray[np.int64]

    def __len__(self) -> int:
        return len(self.areas)

    def of(self, which: NDArray[np.bool_]) -> Pieces:
        """Some of them."""
        return Pieces(self.boxes[which], self.areas[which])


def pieces(mask: Mask) -> Pieces:
    """The connected pieces (corners connect, too) of a mask (height × width)."""
    # what reads pictures takes its time to load, and only this needs it
    from scipy import ndimage

    labels, count = ndimage.label(mask, EIGHT)
    if not count:
        return Pieces(np.zeros((0, 4), np.int64), np.zeros(0, np.int64))
    found = ndimage.find_objects(labels)
    boxes = np.array([(x.start, y.start, x.stop, y.stop) for y, x in found], np.int64)
    return Pieces(boxes, np.bincount(labels[mask], minlength=count + 1)[1:])


def usual_area(areas: NDArray[np.int64]) -> float:
    """The area of a usual drawing: that of the piece in which the middle drawn pixel lies, ordered by size."""
    if not len(areas):
        return 0.0
    areas = np.sort(areas)
    return float(areas[np.searchsorted(np.cumsum(areas), areas.sum() / 2)])


def drawings(found: Pieces, speck: int | None = None, near: int | None = None) -> Pieces:
    """Pieces put together into drawings.

    A piece becomes part of the nearest one that is much larger when that is at most ``near`` pixels away; left out, when it
    is much nearer than drawings are to each other.  What lies inside the box of another one becomes part of it, too.  What
    then still has fewer than ``speck`` pixels is dropped; left out, what is small beside the others.  0 as ``near`` joins
    nothing.
    """
    if not len(found):
        return found
    least = max(2, int(SPECK * usual_area(found.areas))) if speck is None else speck
    if len(found) > MANY:
        # an image full of dots: only what is large enough is looked at, and if that is too much, nothing is joined
        found = found.of(found.areas >= least)
    merged = found if near == 0 or len(found) > MANY else _nested(_joined(found, near))
    return merged.of(merged.areas >= least)


def _joined(found: Pieces, near: int | None) -> Pieces:
    """Parts put to the nearest much larger piece."""
    owner = np.arange(len(found))
    order = np.argsort(-found.areas, kind="stable")
    falling = -found.areas[order]
    reach = max(1, int(NEAR * _room(found))) if near is None else near
    for at in order:
        larger = order[: np.searchsorted(falling, -found.areas[at] / PART, side="right")]
        if len(larger):
            away = distances(found.boxes[at], found.boxes[larger])
            best = int(away.argmin())
            if away[best] <= reach:
                owner[at] = owner[larger[best]]
    return _together(found, owner)


def _room(found: Pieces) -> float:
    """How far a drawing usually is from the nearest other one, in pixels."""
    boxes = found.boxes[found.areas >= PART * usual_area(found.areas)][:MOST_ASKED]
    if len(boxes) < 2:
        return 0.0
    return float(np.median([np.partition(distances(box, boxes), 1)[1] for box in boxes]))


def _nested(found: Pieces) -> Pieces:
    """Pieces of which more than half of the box lies in another's put to that one."""
    # what reads pictures takes its time to load, and only this needs it
    from scipy.sparse import coo_array
    from scipy.sparse.csgraph import connected_components

    boxes, sizes = found.boxes, (found.boxes[:, 2:] - found.boxes[:, :2]).prod(axis=1)
    left, top, right, low = boxes.T
    inside = []
    for start in range(0, len(boxes), BLOCK):
        x0, y0, x1, y1 = boxes[start : start + BLOCK].T[:, :, None]
        shared = (np.minimum(x1, right) - np.maximum(x0, left)).clip(0)
        shared *= (np.minimum(y1, low) - np.maximum(y0, top)).clip(0)
        own = sizes[start : start + BLOCK, None]
        within = (shared > 0.5 * own) & (sizes >= own)
        inside += [(start + at, other) for at, other in np.argwhere(within).tolist() if start + at != other]
    if not inside:
        return found
    graph = coo_array((np.ones(len(inside)), tuple(zip(*inside))), shape=(len(boxes),) * 2)
    return _together(found, connected_components(graph, directed=False)[1])


def _together(found: Pieces, owner: NDArray[np.int64]) -> Pieces:
    """One piece for all that have the same owner."""
    _, group = np.unique(owner, return_inverse=True)
    count = int(group.max()) + 1
    boxes = np.empty((count, 4), np.int64)
    for side in range(4):
        start, merge = ((1 << 40), np.minimum) if side < 2 else (0, np.maximum)
        column = np.full(count, start)
        merge.at(column, group, found.boxes[:, side])
        boxes[:, side] = column
    return Pieces(boxes, np.bincount(group, found.areas, count).astype(np.int64))


def distances(box: NDArray[np.int64], boxes: Boxes) -> NDArray[np.int64]:
    """Pixels between a box and others, along the axis on which they are farther apart."""
    apart = np.maximum(boxes[:, :2] - box[2:], box[:2] - boxes[:, 2:])
    found: NDArray[np.int64] = apart.max(axis=1).clip(0)
    return found


def shared_areas(box: NDArray[np.int64], boxes: Boxes) -> NDArray[np.int64]:
    """The areas that a box has in common with others, in pixels."""
    sides = np.minimum(boxes[:, 2:], box[2:]) - np.maximum(boxes[:, :2], box[:2])
    found: NDArray[np.int64] = sides.clip(0).prod(axis=1)
    return found


def rows_of(boxes: Boxes) -> list[list[int]]:
    """The boxes' numbers in rows from the top, and in a row from the left.

    Boxes are in one row when more than half of the lower one's height is beside the row so far.
    """
    rows: list[list[int]] = []
    spans: list[tuple[float, float]] = []
    for at in np.argsort(boxes[:, 3], kind="stable"):
        top, bottom = float(boxes[at, 1]), float(boxes[at, 3])
        best, row = 0.5, -1
        for number in range(max(0, len(rows) - 4), len(rows)):
            shared = (min(bottom, spans[number][1]) - max(top, spans[number][0])) / max(1.0, bottom - top)
            if shared > best:
                best, row = shared, number
        if row < 0:
            rows.append([int(at)])
            spans.append((top, bottom))
        else:
            rows[row].append(int(at))
            count, (high, low) = len(rows[row]), spans[row]
            spans[row] = (high + (top - high) / count, low + (bottom - low) / count)
    rows.sort(key=lambda row: float(np.mean([boxes[at, 1] + boxes[at, 3] for at in row])))
    return [sorted(row, key=lambda at: int(boxes[at, 0])) for row in rows]


def reading_order(boxes: Boxes) -> NDArray[np.int64]:
    """The boxes' numbers row by row, see :func:`rows_of`."""
    return np.array([at for row in rows_of(boxes) for at in row], np.int64)


def boxes_of(rects: Sequence[Rect]) -> Boxes:
    """Rectangles as boxes."""
    return np.array([(one.x, one.y, one.x + one.width, one.y + one.height) for one in rects], np.int64).reshape(-1, 4)


def found_rects(mask: Mask, speck: int | None = None, near: int | None = None) -> list[Rect]:
    """One tight rectangle a drawing of a mask, in reading order; see :func:`drawings`."""
    return tight_rects(drawings(pieces(mask), speck, near))


def tight_rects(found: Pieces) -> list[Rect]:
    """One tight rectangle a drawing, in reading order."""
    boxes = found.boxes
    return [Rect(int(x), int(y), int(right - x), int(low - y)) for x, y, right, low in boxes[reading_order(boxes)]]
