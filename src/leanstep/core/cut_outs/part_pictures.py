"""The pictures of parts: what lies within an outline on a frame, what is left of the frame, and what goes on under other parts."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from leanstep.core.character.cut_outs import CutOutPart
from leanstep.core.sheets.background import Mask, Pixels

ROUND = ((-1, 0), (0, -1), (0, 1), (1, 0))
"""From where a pixel takes its colour, the first first: above, left, right, below."""


@dataclass(frozen=True)
class PartPicture:
    """A part's pixels (height × width × 4, RGBA), and where their top left corner lies on its frame."""

    pixels: Pixels
    x: int
    y: int


def within(outline: Sequence[Sequence[float]], height: int, width: int) -> Mask:
    """The pixels of a frame (height × width) whose middle lies within an outline; where it crosses itself, inside and outside take
    turns."""
    found = np.zeros((height, width), np.bool_)
    x, y = np.arange(width) + 0.5, (np.arange(height) + 0.5)[:, None]
    for (ax, ay), (bx, by) in zip(outline, (*outline[1:], outline[0])):
        if ay != by:
            crosses = (ay > y) != (by > y)
            found ^= crosses & (x < ax + (y - ay) / (by - ay) * (bx - ax))
    return found


def part_pictures(parts: Sequence[CutOutPart], frames: Mapping[int, Pixels]) -> list[PartPicture]:
    """The picture of each part, of the frames (height × width × 4) by their numbers; empty where there is no such frame."""
    masks = [_mask(part, parts, frames) for part in parts]
    return [_picture(at, parts, masks, frames) for at in range(len(parts))]


def _mask(part: CutOutPart, parts: Sequence[CutOutPart], frames: Mapping[int, Pixels]) -> Mask:
    """The pixels of its frame that a part's picture has."""
    if part.frame not in frames:
        return np.zeros((0, 0), np.bool_)
    height, width = frames[part.frame].shape[:2]
    if part.outline:
        return within(part.outline, height, width)
    mask = np.ones((height, width), np.bool_)
    for other in parts:
        if other.frame == part.frame and other.outline:
            mask &= ~within(other.outline, height, width)
    return mask


def _picture(at: int, parts: Sequence[CutOutPart], masks: Sequence[Mask], frames: Mapping[int, Pixels]) -> PartPicture:
    part, mask = parts[at], masks[at]
    if not mask.any():
        return PartPicture(np.zeros((0, 0, 4), np.uint8), 0, 0)
    pixels = np.where(mask[:, :, None], frames[part.frame], 0).astype(np.uint8)
    for other, covers in zip(parts, masks):
        if other is not part and other.behind == part.name and other.frame == part.frame and other.outline:
            pixels = continued(pixels, covers & between(pixels[:, :, 3] > 0))
    drawn = pixels[:, :, 3] > 0
    if not drawn.any():
        return PartPicture(np.zeros((0, 0, 4), np.uint8), 0, 0)
    rows, columns = np.flatnonzero(drawn.any(axis=1)), np.flatnonzero(drawn.any(axis=0))
    top, left = int(rows[0]), int(columns[0])
    return PartPicture(np.ascontiguousarray(pixels[top : rows[-1] + 1, left : columns[-1] + 1]), left, top)


def between(drawn: Mask) -> Mask:
    """The pixels that have drawn ones on both sides in their row, or both above and below in their column."""
    found = np.zeros_like(drawn)
    for axis in (0, 1):
        before = np.logical_or.accumulate(drawn, axis)
        after = np.flip(np.logical_or.accumulate(np.flip(drawn, axis), axis), axis)
        found |= before & after
    return found


def continued(pixels: Pixels, under: Mask) -> Pixels:
    """A picture (height × width × 4) that goes on in the pixels ``under`` others, one after the other, in the colours around."""
    made = pixels.copy()
    left: NDArray[np.bool_] = under & (made[:, :, 3] == 0)
    height, width = left.shape
    while left.any():
        known, before = made[:, :, 3] > 0, int(left.sum())
        source = made.copy()
        for down, right in ROUND:
            rows, columns = np.nonzero(left)
            y, x = rows + down, columns + right
            inside = (y >= 0) & (y < height) & (x >= 0) & (x < width)
            rows, columns, y, x = rows[inside], columns[inside], y[inside], x[inside]
            there = known[y, x]
            rows, columns = rows[there], columns[there]
            made[rows, columns] = source[y[there], x[there]]
            left[rows, columns] = False
        if int(left.sum()) == before:
            break
    return made
