"""What drawn parts fit into."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from leanstep.core.cut_outs.part_pictures import PartPicture
from leanstep.core.cut_outs.skeleton import Placed, Point, Skeleton
from leanstep.core.errors import LeanStepError

MARGIN = 1
"""Free pixels around what is drawn."""
WIDEST = 4096
"""Pixels that a side of a picture drawn from parts can have."""


@dataclass(frozen=True)
class Canvas:
    """The size of pictures in pixels, and where in them the figure's foot lies, from the top left corner."""

    width: int
    height: int
    foot: Point


def reach_of(bones: Skeleton, pictures: Sequence[PartPicture], lying: Sequence[Placed]) -> tuple[float, ...]:
    """How far the parts of a figure reach from its foot: left, down, right and up, in pixels (to the left and down below 0)."""
    corners = [
        one.carried(x - joint[0], joint[1] - y)
        for (joint, one, picture) in zip(bones.joints, lying, pictures)
        for x in (picture.x, picture.x + picture.pixels.shape[1])
        for y in (picture.y, picture.y + picture.pixels.shape[0])
        if picture.pixels.size
    ] or [(0.0, 0.0)]
    across, up = [x for x, _ in corners], [y for _, y in corners]
    return min(across), min(up), max(across), max(up)


def fitting(name: str, bones: Skeleton, pictures: Sequence[PartPicture], lying: Sequence[Sequence[Placed]]) -> Canvas:
    """What all pictures of the sheet ``name`` fit into, as far to the left of the foot as to the right; what does not move keeps its
    pixels.

    Raises
    ------
    LeanStepError : it would be too large.
    """
    reaches = [reach_of(bones, pictures, one) for one in lying] or [(0.0, 0.0, 0.0, 0.0)]
    left, down = min(one[0] for one in reaches), min(one[1] for one in reaches)
    right, up = max(one[2] for one in reaches), max(one[3] for one in reaches)
    left, right = min(left, -right), max(right, -left)
    x, y = _within_pixel(bones)
    foot = x + max(0, math.ceil(-left - x)) + MARGIN, y + max(0, math.ceil(up - y)) + MARGIN
    width, height = (max(1, math.ceil(side)) + MARGIN for side in (foot[0] + right, foot[1] - down))
    if max(width, height) > WIDEST:
        reason = f"its frames would be {width} × {height} pixels"
        raise LeanStepError(f"sheet {name!r}", reason, f"Move or scale parts less: {WIDEST} is the most.")
    return Canvas(width, height, foot)


def _within_pixel(bones: Skeleton) -> Point:
    """Where in a pixel the foot lies, so that the first part that hangs on nothing keeps its pixels where it rests."""
    root = bones.parents.index(-1) if bones.parents else -1
    if root < 0:
        return 0.0, 0.0
    x, y = bones.joints[root][0] - bones.places[root][0], bones.joints[root][1] + bones.places[root][1]
    return x - math.floor(x), y - math.floor(y)
