"""Parts drawn into pictures, the same pixels everywhere: places are doubles worked out in a fixed order, pixels are whole numbers.

A pixel of the picture is looked up in a part by a place in 1/1048576 pixels.  Straight colours are laid over each other; a channel c
of opacity a over d of opacity b becomes (255 c a + d b (255 − a)) / (255 a + b (255 − a)) (T. Porter and T. Duff, Compositing digital
images, 1984), rounded half up.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from leanstep.core.cut_outs.canvas import Canvas
from leanstep.core.cut_outs.part_pictures import PartPicture
from leanstep.core.cut_outs.skeleton import Placed, Skeleton
from leanstep.core.jit import Real, Whole, kernel, where
from leanstep.core.sheets.background import Pixels

ONE = 1 << 20
"""A pixel, in the units in which places are looked up."""


@kernel
def _over(canvas: Whole, at: int, r: int, g: int, b: int, a: int) -> None:  # pragma: no cover
    """Lay a colour of opacity ``a`` (1 to 255) over a pixel that begins ``at`` a place."""
    below = int(canvas[at + 3])
    if a == 255 or below == 0:
        canvas[at] = r
        canvas[at + 1] = g
        canvas[at + 2] = b
        canvas[at + 3] = a
        return
    rest = below * (255 - a)
    whole = 255 * a + rest
    canvas[at] = (255 * a * r + rest * int(canvas[at]) + whole // 2) // whole
    canvas[at + 1] = (255 * a * g + rest * int(canvas[at + 1]) + whole // 2) // whole
    canvas[at + 2] = (255 * a * b + rest * int(canvas[at + 2]) + whole // 2) // whole
    canvas[at + 3] = (whole + 127) // 255


@kernel
def lay_hard(
    canvas: Whole, across: int, pixels: Whole, size: Whole, box: Whole, start: Whole, part: int
) -> None:  # pragma: no cover
    """Draw a ``part`` (its number) over a canvas so many pixels ``across``, each of its pixels whole.  ``box``: left, top, right and
    low on the canvas, the last two outside; ``start``: where the middle of pixel (0, 0) of the canvas lies in the part, and how
    much that grows from column to column and from row to row, each x and y."""
    begin, width, height = size[3 * part], size[3 * part + 1], size[3 * part + 2]
    first, right_x, right_y = 6 * part, start[6 * part + 2], start[6 * part + 3]
    for row in range(box[4 * part + 1], box[4 * part + 3]):
        left = box[4 * part]
        x = start[first] + right_x * left + start[first + 4] * row
        y = start[first + 1] + right_y * left + start[first + 5] * row
        inside = False
        for column in range(left, box[4 * part + 2]):
            at_x, at_y = x >> 20, y >> 20
            x, y = x + right_x, y + right_y
            if 0 <= at_x < width and 0 <= at_y < height:
                inside = True
                one = 4 * (begin + at_y * width + at_x)
                a = int(pixels[one + 3])
                if a:
                    at = 4 * (row * across + column)
                    _over(canvas, at, int(pixels[one]), int(pixels[one + 1]), int(pixels[one + 2]), a)
            elif inside:
                break  # a row goes through a part once


@kernel
def lay_smooth(
    canvas: Whole, across: int, pixels: Whole, size: Whole, box: Whole, start: Whole, part: int
) -> None:  # pragma: no cover
    """Draw a ``part`` (its number) over a canvas so many pixels ``across``, mixing the four pixels around a place."""
    begin, width, height = size[3 * part], size[3 * part + 1], size[3 * part + 2]
    first, right_x, right_y = 6 * part, start[6 * part + 2], start[6 * part + 3]
    for row in range(box[4 * part + 1], box[4 * part + 3]):
        edge = box[4 * part]
        x = start[first] + right_x * edge + start[first + 4] * row - 524288
        y = start[first + 1] + right_y * edge + start[first + 5] * row - 524288
        inside = False
        for column in range(edge, box[4 * part + 2]):
            left, top, right_share, low_share = x >> 20, y >> 20, (x >> 12) & 255, (y >> 12) & 255
            x, y = x + right_x, y + right_y
            if left < -1 or top < -1 or left >= width or top >= height:
                if inside:
                    break
                continue
            inside = True
            red = green = blue = opaque = 0
            for down in range(2):
                for right in range(2):
                    at_x, at_y = left + right, top + down
                    if 0 <= at_x < width and 0 <= at_y < height:
                        share = right_share if right else 256 - right_share
                        one = 4 * (begin + at_y * width + at_x)
                        much = share * (low_share if down else 256 - low_share) * int(pixels[one + 3])
                        opaque += much
                        red += much * int(pixels[one])
                        green += much * int(pixels[one + 1])
                        blue += much * int(pixels[one + 2])
            a = (opaque + 32768) >> 16
            if a:
                half, at = opaque // 2, 4 * (row * across + column)
                r, g, b = (red + half) // opaque, (green + half) // opaque, (blue + half) // opaque
                _over(canvas, at, r, g, b, a)


@kernel
def look_up(
    lying: Real,
    joints: Real,
    size: Whole,
    foot: tuple[float, float],
    room: tuple[int, int],
    whole_pixels: bool,
    box: Whole,
    start: Whole,
    part: int,
) -> bool:  # pragma: no cover
    """Where a ``part`` (its number) is looked up: write its ``box`` and its ``start``; whether it has any extent.  ``lying`` are x, y,
    a, b, c, d of each part, ``joints`` where joints lie in their own pixels, ``room`` the width and height of the canvas."""
    one = 6 * part
    a, b, c, d = lying[one + 2], lying[one + 3], lying[one + 4], lying[one + 5]
    own_x, own_y = joints[2 * part], joints[2 * part + 1]
    # the joint on the canvas
    x, y = foot[0] + lying[one], foot[1] - lying[one + 1]
    if whole_pixels:
        x, y = math.floor(x - own_x + 0.5) + own_x, math.floor(y - own_y + 0.5) + own_y
    area = a * d - b * c
    if area == 0.0:
        return False
    # its middle on the canvas, and how far it reaches from there
    wide, high = size[3 * part + 1] / 2.0, size[3 * part + 2] / 2.0
    u, v = wide - own_x, high - own_y
    middle_x, middle_y = x + (a * u - b * v), y + (d * v - c * u)
    far_x, far_y = abs(a) * wide + abs(b) * high + 1.0, abs(c) * wide + abs(d) * high + 1.0
    at = 4 * part
    box[at] = max(0, math.floor(middle_x - far_x))
    box[at + 1] = max(0, math.floor(middle_y - far_y))
    box[at + 2] = min(room[0], math.ceil(middle_x + far_x))
    box[at + 3] = min(room[1], math.ceil(middle_y + far_y))
    # a step of one pixel to the right on the canvas is (d, c) / area in the part, one down is (b, a) / area
    right_x, right_y, down_x, down_y = d / area, c / area, b / area, a / area
    start[one] = math.floor((own_x + (right_x * (0.5 - x) + down_x * (0.5 - y))) * ONE + 0.5)
    start[one + 1] = math.floor((own_y + (right_y * (0.5 - x) + down_y * (0.5 - y))) * ONE + 0.5)
    start[one + 2] = math.floor(right_x * ONE + 0.5)
    start[one + 3] = math.floor(right_y * ONE + 0.5)
    start[one + 4] = math.floor(down_x * ONE + 0.5)
    start[one + 5] = math.floor(down_y * ONE + 0.5)
    return True


@kernel
def lay_over(
    canvas: NDArray[np.uint8],
    room: tuple[int, int],
    foot: tuple[float, float],
    pixels: NDArray[np.uint8],
    sizes: NDArray[np.int64],
    joints: NDArray[np.float64],
    order: NDArray[np.int64],
    lying: NDArray[np.float64],
    smooth: bool,
    whole_pixels: bool,
) -> None:  # pragma: no cover
    """Draw parts over a canvas of a width and height (``room``) with the figure's foot at ``foot``, in an ``order``.  Numbers stand
    one after the other: ``pixels`` are those of all parts, row by row (RGBA); ``sizes`` say for each part where its own begin, its
    width and height; ``joints`` and ``lying`` see :func:`look_up`."""
    boxes, starts = np.zeros(len(sizes) // 3 * 4, np.int64), np.zeros(len(sizes) * 2, np.int64)
    c, p, size, box, start = where(canvas), where(pixels), where(sizes), where(boxes), where(starts)
    for part in order:
        if look_up(where(lying), where(joints), size, foot, room, whole_pixels, box, start, part):
            if smooth:
                lay_smooth(c, room[0], p, size, box, start, part)
            else:
                lay_hard(c, room[0], p, size, box, start, part)


@dataclass(frozen=True)
class Drawing:
    """The parts of a figure, ready to be drawn; ``pictures`` in the order of the skeleton."""

    bones: Skeleton
    pictures: Sequence[PartPicture]

    @cached_property
    def pixels(self) -> NDArray[np.uint8]:
        """Those of all parts, one after the other."""
        return np.concatenate([one.pixels.reshape(-1) for one in self.pictures] or [np.zeros(0, np.uint8)])

    @cached_property
    def sizes(self) -> NDArray[np.int64]:
        """For each part, where its pixels begin, its width and height, one after the other."""
        found, begin = [], 0
        for one in self.pictures:
            height, width = one.pixels.shape[:2]
            found.append((begin, width, height))
            begin += width * height
        return np.array(found, np.int64).reshape(-1)

    @cached_property
    def order(self) -> NDArray[np.int64]:
        """The numbers of the parts that have a picture, from the back to the front."""
        return np.array([at for at in self.bones.drawn if self.pictures[at].pixels.size], np.int64)

    @cached_property
    def joints(self) -> NDArray[np.float64]:
        """Where each part's joint lies in its own pixels, across and down, one after the other."""
        found = [(x - one.x, y - one.y) for (x, y), one in zip(self.bones.joints, self.pictures, strict=True)]
        return np.array(found, np.float64).reshape(-1)

    def drawn(
        self, canvas: Canvas, lying: Sequence[Placed], smooth: bool = False, whole_pixels: bool = False
    ) -> Pixels:
        """The figure as its parts lie (height × width × 4, RGBA)."""
        made = np.zeros((canvas.height, canvas.width, 4), np.uint8)
        rows = np.array([(one.x, one.y, one.a, one.b, one.c, one.d) for one in lying], np.float64).reshape(-1)
        room = canvas.width, canvas.height
        lay_over(
            made.reshape(-1),
            room,
            canvas.foot,
            self.pixels,
            self.sizes,
            self.joints,
            self.order,
            rows,
            smooth,
            whole_pixels,
        )
        return made
