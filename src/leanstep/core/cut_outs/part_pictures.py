"""The pictures of parts: what lies within an outline on a frame, what is left of the frame, and what goes on under other parts."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from leanstep.core.character.cut_outs import CutOutPart
from leanstep.core.sheets.background import Mask, Pixels
from leanstep.core.sheets.feet import bounds

ROUND = ((-1, 0), (0, -1), (0, 1), (1, 0))
"""From where a pixel takes its colour, the first first: above, left, right, below."""


@dataclass(frozen=True)
class PartPicture:
    """A part's pixels (height × width × 4, RGBA), and where their top left corner lies on its frame."""

    pixels: Pixels
    x: int
    y: int


NOTHING = PartPicture(np.zeros((0, 0, 4), np.uint8), 0, 0)


def within(outline: Sequence[Sequence[float]], height: int, width: int) -> Mask:
    """The pixels of a frame (height × width) whose middle lies within an outline; where it crosses itself, inside and outside take
    turns."""
    found = np.zeros((height, width), np.bool_)
    if not outline:
        return found
    left = max(0, math.floor(min(x for x, _ in outline)))
    right = min(width, math.ceil(max(x for x, _ in outline)))
    x = np.arange(left, right) + 0.5
    for (ax, ay), (bx, by) in zip(outline, (*outline[1:], outline[0])):
        # the rows whose middle the side goes past, and in them what is left of it
        top, low = (math.ceil(min(max(y - 0.5, 0.0), height)) for y in (min(ay, by), max(ay, by)))
        if top < low and left < right:
            y = np.arange(top, low)[:, None] + 0.5
            found[top:low, left:right] ^= x < ax + (y - ay) / (by - ay) * (bx - ax)
    return found


def part_pictures(parts: Sequence[CutOutPart], frames: Mapping[int, Pixels]) -> list[PartPicture]:
    """The picture of each part, of the frames (height × width × 4) by their numbers; empty where there is no such frame."""
    return [_picture(part, parts, frames[part.frame]) if part.frame in frames else NOTHING for part in parts]


def _mask(part: CutOutPart, parts: Sequence[CutOutPart], height: int, width: int) -> Mask:
    """The pixels of its frame that a part's picture has."""
    if part.outline:
        return within(part.outline, height, width)
    mask = np.ones((height, width), np.bool_)
    for other in parts:
        if other.frame == part.frame and other.outline:
            mask &= ~within(other.outline, height, width)
    return mask


def _picture(part: CutOutPart, parts: Sequence[CutOutPart], frame: Pixels) -> PartPicture:
    height, width = frame.shape[:2]
    mask = _mask(part, parts, height, width) & (frame[:, :, 3] > 0)
    covers = np.zeros_like(mask)
    for other in parts:
        if other is not part and other.behind == part.name and other.frame == part.frame:
            covers |= within(other.outline, height, width)
    place = bounds(mask)
    if place is None:
        return NOTHING
    # what goes on has its own on two sides, and so lies between what is there
    left, top, right, low = place
    mask, covers = mask[top:low, left:right], covers[top:low, left:right]
    pixels = np.where(mask[:, :, None], frame[top:low, left:right], 0).astype(np.uint8)
    if covers.any():
        pixels = continued(pixels, covers & between(mask))
    return PartPicture(np.ascontiguousarray(pixels), left, top)


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
