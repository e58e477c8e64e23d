"""Parts drawn into pictures, the same pixels everywhere: places are doubles worked out in a fixed order, pixels are whole numbers.

A pixel of the picture is looked up in a part by a place in 1/1048576 pixels.  Straight colours are laid over each other; a channel c
of opacity a over d of opacity b becomes (255 c a + d b (255 − a)) / (255 a + b (255 − a)) (T. Porter and T. Duff, Compositing digital
images, 1984), rounded half up.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from leanstep.core.cut_outs.canvas import Canvas
from leanstep.core.cut_outs.part_pictures import PartPicture
from leanstep.core.cut_outs.skeleton import Placed, Skeleton
from leanstep.core.jit import Whole, kernel, where
from leanstep.core.sheets.background import Pixels

ONE = 1 << 20
"""A pixel, in the units in which places are looked up."""
LEFT, TOP, RIGHT, LOW = range(4)
"""What is drawn of a part on the canvas, in pixels; the last two are outside."""
X, Y, RIGHT_X, RIGHT_Y, DOWN_X, DOWN_Y = range(6)
"""Where the middle of pixel (0, 0) of the canvas lies in a part, and by how much that grows from column to column and from row to
row."""


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
    """Draw a ``part`` (its number) over a canvas so many pixels ``across``, each of its pixels whole; see :func:`lay_over`."""
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
def lay_over(
    canvas: NDArray[np.uint8],
    across: int,
    pixels: NDArray[np.uint8],
    sizes: NDArray[np.int64],
    order: NDArray[np.int64],
    boxes: NDArray[np.int64],
    starts: NDArray[np.int64],
    smooth: bool,
) -> None:  # pragma: no cover
    """Draw parts over a canvas so many pixels ``across`` in an ``order``, all numbers one after the other: ``pixels`` are those of all
    parts, row by row (RGBA); ``sizes`` say for each part where its own begin, its width and height; ``boxes`` and ``starts`` where it
    lies, see :data:`LEFT` and :data:`X`."""
    c, p, size, box, start = where(canvas), where(pixels), where(sizes), where(boxes), where(starts)
    for part in order:
        if smooth:
            lay_smooth(c, across, p, size, box, start, part)
        else:
            lay_hard(c, across, p, size, box, start, part)


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
        """For each part, where its pixels begin, its width and height."""
        found, begin = [], 0
        for one in self.pictures:
            height, width = one.pixels.shape[:2]
            found.append((begin, width, height))
            begin += width * height
        return np.array(found, np.int64).reshape(-1, 3)

    @cached_property
    def order(self) -> NDArray[np.int64]:
        """The numbers of the parts that have a picture, from the back to the front."""
        return np.array([at for at in self.bones.drawn if self.pictures[at].pixels.size], np.int64)

    @cached_property
    def joints(self) -> NDArray[np.float64]:
        """Where each part's joint lies in its own pixels (× 2)."""
        found = [(x - one.x, y - one.y) for (x, y), one in zip(self.bones.joints, self.pictures, strict=True)]
        return np.array(found, np.float64).reshape(-1, 2)

    def drawn(
        self, canvas: Canvas, lying: Sequence[Placed], smooth: bool = False, whole_pixels: bool = False
    ) -> Pixels:
        """The figure as its parts lie (height × width × 4, RGBA)."""
        made = np.zeros((canvas.height, canvas.width, 4), np.uint8)
        rows = np.array([(one.x, one.y, one.a, one.b, one.c, one.d) for one in lying], np.float64).reshape(-1, 6)
        x, y, a, b, c, d = rows.T
        own_x, own_y = self.joints.T
        # the joint on the canvas
        x, y = canvas.foot[0] + x, canvas.foot[1] - y
        if whole_pixels:
            x, y = np.floor(x - own_x + 0.5) + own_x, np.floor(y - own_y + 0.5) + own_y
        area = a * d - b * c
        flat = area == 0.0
        area = np.where(flat, 1.0, area)
        boxes = self._boxes(canvas, (x, y), (a, b, c, d), smooth)
        boxes[flat] = 0
        # a step of one pixel to the right on the canvas is (d, c) / area in the part, one down is (b, a) / area
        steps = np.array([d / area, c / area, b / area, a / area])
        first_x = own_x + (steps[0] * (0.5 - x) + steps[2] * (0.5 - y))
        first_y = own_y + (steps[1] * (0.5 - x) + steps[3] * (0.5 - y))
        starts = np.floor(np.stack([first_x, first_y, *steps], axis=1) * ONE + 0.5).astype(np.int64)
        sizes, starts = self.sizes.reshape(-1), starts.reshape(-1)
        lay_over(made.reshape(-1), canvas.width, self.pixels, sizes, self.order, boxes.reshape(-1), starts, smooth)
        return made

    def _boxes(
        self,
        canvas: Canvas,
        joint: tuple[NDArray[np.float64], NDArray[np.float64]],
        matrix: tuple[NDArray[np.float64], ...],
        smooth: bool,
    ) -> NDArray[np.int64]:
        """What of the canvas each part may cover."""
        (x, y), (a, b, c, d), (own_x, own_y) = joint, matrix, self.joints.T
        wide, high = self.sizes[:, 1], self.sizes[:, 2]
        u, v = np.stack([-own_x, wide - own_x]), np.stack([-own_y, high - own_y])
        across, down = x + (a * u)[:, None] - (b * v)[None], y - (c * u)[:, None] + (d * v)[None]
        edge = 1 if smooth else 0
        sides = [
            np.maximum(np.floor(across.min(axis=(0, 1))) - edge, 0),
            np.maximum(np.floor(down.min(axis=(0, 1))) - edge, 0),
            np.minimum(np.ceil(across.max(axis=(0, 1))) + edge, canvas.width),
            np.minimum(np.ceil(down.max(axis=(0, 1))) + edge, canvas.height),
        ]
        return np.stack(sides, axis=1).astype(np.int64)
