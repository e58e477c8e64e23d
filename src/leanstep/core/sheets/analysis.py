"""What can be seen of a sheet's frames that may be wrong with them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from leanstep.core.sheets.background import DRAWN, Mask
from leanstep.core.sheets.boxes import Box, drawn_box
from leanstep.core.sheets.cutting import Rect, left_over
from leanstep.core.sheets.drawings import MANY, boxes_of, pieces, shared_areas
from leanstep.core.sheets.images import CutSheet
from leanstep.core.sheets.matching import coarse_picture

Counts = NDArray[np.int64]

REACH = 4
"""Pixels by which a figure is looked for beside where it should stand."""

CLEARLY = 0.06
"""How much more of a frame has to agree with the others a pixel or more aside, for it to wander."""

ALIKE = 0.8
"""How much of it has to agree with them then: another pose is no wandering."""

SOLES = 0.12
"""The share of a drawing's height, from below, in which its feet are."""
BETWEEN = 3
"""Empty columns that lie at least between two feet that stand apart."""


@dataclass(frozen=True)
class SheetAnalysis:
    """What was seen of a sheet's frames, by their numbers.

    ``rects``: the frames.  ``over``: pixels left over right and below.  ``empty``: nothing is drawn.  ``through``: the drawing
    goes on beyond the frame's edge.  ``touching``: it only reaches the edge.  ``equal``: groups of frames with the same picture.
    ``wander``: pixels by which the figure stands aside of where it does in the others of its group.  ``feet``: in pixels from the
    frames' top left corners.  ``middles``: x of the drawing's middle, from the foot; ``drawings``: the boxes around them, None
    where nothing is drawn; ``ink``: drawn pixels of each column and of each row; ``boxes``: body boxes, ``own`` of which frames
    alone; ``height``: how high the figure usually stands when it is shown, in units; ``pictures``: coarse ones.  ``whole``:
    rectangles that hold the whole drawings of frames that are cut through, unless most are.  ``apart``: how far apart the feet of each
    drawing stand, in units; ``scale``: how much larger frames are shown.
    """

    rects: tuple[Rect, ...]
    over: tuple[int, int]
    empty: frozenset[int]
    through: tuple[int, ...]
    touching: tuple[int, ...]
    equal: tuple[tuple[int, ...], ...]
    wander: dict[int, int]
    feet: tuple[tuple[float, float], ...]
    middles: tuple[float, ...]
    drawings: tuple[Box | None, ...]
    ink: tuple[tuple[Counts, Counts], ...]
    boxes: tuple[Box | None, ...]
    own: frozenset[int]
    height: float
    pictures: tuple[NDArray[np.float32] | None, ...]
    whole: dict[int, Rect]
    apart: tuple[float, ...]
    scale: tuple[float, float]

    def outside(self, frame: int, box: Box) -> float:
        """The share of a frame's drawn pixels that lie left and right, or above and below, of a box."""
        columns, rows = self.ink[frame]
        foot = self.feet[frame]
        across = _share_outside(columns, foot[0] + box.left, foot[0] + box.right)
        return max(across, _share_outside(rows, foot[1] - box.top, foot[1] - box.bottom))


def _share_outside(counts: Counts, start: float, end: float) -> float:
    middles = np.arange(len(counts)) + 0.5
    total = counts.sum()
    return float(counts[(middles < start) | (middles > end)].sum() / total) if total else 0.0


def analysis_of(sheet: CutSheet, groups: Sequence[Sequence[int]] = ()) -> SheetAnalysis:
    """Look at a sheet's frames; ``groups`` are those that are shown one after the other."""
    drawn = sheet.pixels[:, :, 3] >= DRAWN
    rects = [frame.rect for frame in sheet.frames]
    masks = [drawn[one.y : one.y + one.height, one.x : one.x + one.width] for one in rects]
    through, touching = [], []
    for number, rect in enumerate(rects):
        on_edge, beyond = _edges(drawn, rect)
        if beyond:
            through.append(number)
        elif on_edge:
            touching.append(number)
    seen: dict[bytes, list[int]] = {}
    for number, mask in enumerate(masks):
        if mask.any():
            picture = np.where(mask[:, :, None], sheet.picture(number), 0)
            seen.setdefault(f"{picture.shape}".encode() + picture.tobytes(), []).append(number)
    ink = [(mask.sum(axis=0), mask.sum(axis=1)) for mask in masks]
    middles = [
        float(np.average(np.arange(columns.size) + 0.5, weights=columns)) - frame.foot[0] if columns.any() else 0.0
        for (columns, _), frame in zip(ink, sheet.frames)
    ]
    height, width = drawn.shape
    return SheetAnalysis(
        tuple(rects),
        left_over(sheet.sheet.cut, width, height),
        frozenset(number for number, mask in enumerate(masks) if not mask.any()),
        tuple(through),
        tuple(touching),
        tuple(tuple(group) for group in seen.values() if len(group) > 1),
        _wander(groups, masks, [frame.foot[0] for frame in sheet.frames]),
        tuple(frame.foot for frame in sheet.frames),
        tuple(middles),
        tuple(drawn_box(mask, frame.foot) for mask, frame in zip(masks, sheet.frames)),
        tuple(ink),
        tuple(frame.box for frame in sheet.frames),
        frozenset(map(int, sheet.sheet.boxes)),
        sheet.shown_height,
        tuple(coarse_picture(sheet.picture(number)) for number in range(len(rects))),
        whole_rects(drawn, rects, through) if len(through) <= len(rects) / 2 else {},
        tuple(_apart(mask) * sheet.scale[0] for mask in masks),
        sheet.scale,
    )


def _apart(mask: Mask) -> float:
    """How far apart two feet are in a drawing's lowest rows, from edge to same edge; 0 where they are not."""
    rows = np.flatnonzero(mask.any(axis=1))
    if not rows.size:
        return 0.0
    low = mask[max(rows[0], rows[-1] - round((rows[-1] - rows[0]) * SOLES)) : rows[-1] + 1]
    columns = np.flatnonzero(low.any(axis=0))
    gaps = np.flatnonzero(np.diff(columns) > BETWEEN)
    if not gaps.size:
        return 0.0
    left, right = columns[: gaps[0] + 1], columns[gaps[-1] + 1 :]
    return float(right[0] - left[0] + right[-1] - left[-1]) / 2


def _edges(drawn: Mask, rect: Rect) -> tuple[bool, bool]:
    """Whether the drawing of a frame reaches its edge, and whether it goes on beyond."""
    x0, y0, x1, y1 = rect.x, rect.y, rect.x + rect.width, rect.y + rect.height
    height, width = drawn.shape
    on_edge = beyond = False
    for inside, outside in (
        (drawn[y0:y1, x0], drawn[y0:y1, x0 - 1] if x0 else None),
        (drawn[y0:y1, x1 - 1], drawn[y0:y1, x1] if x1 < width else None),
        (drawn[y0, x0:x1], drawn[y0 - 1, x0:x1] if y0 else None),
        (drawn[y1 - 1, x0:x1], drawn[y1, x0:x1] if y1 < height else None),
    ):
        on_edge = on_edge or bool(inside.any())
        beyond = beyond or (outside is not None and bool((inside & outside).any()))
    return on_edge, beyond


def whole_rects(drawn: Mask, rects: Sequence[Rect], numbers: Sequence[int]) -> dict[int, Rect]:
    """For some frames, tight rectangles around the drawings that lie mostly in them, and nothing of their neighbours'."""
    found, frames = pieces(drawn).boxes, boxes_of(rects)
    whole: dict[int, Rect] = {}
    for number in numbers if len(found) <= MANY else ():
        here = found[shared_areas(frames[number], found) > 0]
        mine = [box for box in here if int(shared_areas(box, frames).argmax()) == number]
        if mine:
            left, top = (min(int(box[side]) for box in mine) for side in (0, 1))
            right, low = (max(int(box[side]) for box in mine) for side in (2, 3))
            whole[number] = Rect(left, top, right - left, low - top)
    return whole


def _wander(groups: Sequence[Sequence[int]], masks: Sequence[Mask], feet: Sequence[float]) -> dict[int, int]:
    """By how many pixels figures stand aside in frames of equal size that are shown one after the other."""
    found: dict[int, int] = {}
    for group in groups:
        some = [n for n in group if n < len(masks) and masks[n].any() and masks[n].shape == masks[group[0]].shape]
        if len(some) < 3:
            continue
        # aligned by their feet
        aligned = [np.roll(masks[number], round(feet[some[0]] - feet[number]), axis=1) for number in some]
        total = np.sum(aligned, axis=0, dtype=np.int64)
        for number, mask in zip(some, aligned):
            others = (total - mask) / (len(some) - 1)
            fits = {by: float(others[np.roll(mask, by, axis=1)].sum()) / mask.sum() for by in range(-REACH, REACH + 1)}
            best = max(fits, key=lambda by: (fits[by], -abs(by)))
            if best and fits[best] >= ALIKE and fits[best] - fits[0] >= CLEARLY:
                found[number] = -best
    return found
