"""Parts drawn into pictures, the same pixels everywhere: places are doubles worked out in a fixed order, pixels are whole numbers.

A pixel of the picture is looked up in a part by a place in 1/1048576 pixels.  Straight colours are laid over each other; a channel c
of opacity a over d of opacity b becomes (255 c a + d b (255 − a)) / (255 a + b (255 − a)) (T. Porter and T. Duff, Compositing digital
images, 1984), rounded half up.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from leanstep.core.cut_outs.canvas import Canvas
from leanstep.core.cut_outs.part_pictures import PartPicture
from leanstep.core.cut_outs.skeleton import Placed, Point, Skeleton
from leanstep.core.jit import kernel
from leanstep.core.sheets.background import Pixels

ONE = 1 << 20
"""A pixel, in the units in which places are looked up."""
HALF = ONE >> 1


@kernel
def _over(canvas: NDArray[np.uint8], y: int, x: int, r: int, g: int, b: int, a: int) -> None:  # pragma: no cover
    """Lay a colour of opacity ``a`` (1 to 255) over a pixel."""
    below = int(canvas[y, x, 3])
    if a == 255 or below == 0:
        canvas[y, x, 0], canvas[y, x, 1], canvas[y, x, 2], canvas[y, x, 3] = r, g, b, a
        return
    rest = below * (255 - a)
    whole = 255 * a + rest
    canvas[y, x, 0] = (255 * a * r + rest * int(canvas[y, x, 0]) + whole // 2) // whole
    canvas[y, x, 1] = (255 * a * g + rest * int(canvas[y, x, 1]) + whole // 2) // whole
    canvas[y, x, 2] = (255 * a * b + rest * int(canvas[y, x, 2]) + whole // 2) // whole
    canvas[y, x, 3] = (whole + 127) // 255


@kernel
def lay_over(
    canvas: NDArray[np.uint8],
    part: NDArray[np.uint8],
    box: NDArray[np.int64],
    start: NDArray[np.int64],
    smooth: bool,
) -> None:  # pragma: no cover
    """Draw a part over a canvas (both height × width × 4, RGBA), in the pixels of ``box`` (left, top, right, bottom; the last two are
    outside).  ``start``: where the middle of pixel (0, 0) lies in the part, in ``x`` and ``y``, and by how much that grows from column
    to column (x, y) and from row to row (x, y)."""
    height, width = part.shape[0], part.shape[1]
    for row in range(box[1], box[3]):
        for column in range(box[0], box[2]):
            x = start[0] + start[2] * column + start[4] * row
            y = start[1] + start[3] * column + start[5] * row
            if not smooth:
                at_x, at_y = x >> 20, y >> 20
                if 0 <= at_x < width and 0 <= at_y < height:
                    a = int(part[at_y, at_x, 3])
                    if a:
                        one = part[at_y, at_x]
                        _over(canvas, row, column, int(one[0]), int(one[1]), int(one[2]), a)
                continue
            x, y = x - 524288, y - 524288
            left, top = x >> 20, y >> 20
            if left < -1 or top < -1 or left >= width or top >= height:
                continue
            right_share, low_share = (x >> 12) & 255, (y >> 12) & 255
            red = green = blue = opaque = 0
            for down in range(2):
                for right in range(2):
                    at_x, at_y = left + right, top + down
                    if 0 <= at_x < width and 0 <= at_y < height:
                        weight = (right_share if right else 256 - right_share) * (
                            low_share if down else 256 - low_share
                        )
                        much = weight * int(part[at_y, at_x, 3])
                        opaque += much
                        red += much * int(part[at_y, at_x, 0])
                        green += much * int(part[at_y, at_x, 1])
                        blue += much * int(part[at_y, at_x, 2])
            a = (opaque + 32768) >> 16
            if a:
                half = opaque // 2
                _over(
                    canvas,
                    row,
                    column,
                    (red + half) // opaque,
                    (green + half) // opaque,
                    (blue + half) // opaque,
                    a,
                )


def draw(
    canvas: Canvas,
    bones: Skeleton,
    pictures: Sequence[PartPicture],
    lying: Sequence[Placed],
    smooth: bool = False,
    whole_pixels: bool = False,
) -> Pixels:
    """A figure as its parts lie (height × width × 4, RGBA); ``pictures`` in the order of the skeleton."""
    made = np.zeros((canvas.height, canvas.width, 4), np.uint8)
    for at in bones.drawn:
        if pictures[at].pixels.size:
            _draw_part(made, canvas, pictures[at], bones.joints[at], lying[at], smooth, whole_pixels)
    return made


def _draw_part(
    made: Pixels, canvas: Canvas, picture: PartPicture, joint: Point, one: Placed, smooth: bool, whole_pixels: bool
) -> None:
    height, width = picture.pixels.shape[:2]
    # the joint on the canvas, and in the part's own pixels
    x, y = canvas.foot[0] + one.x, canvas.foot[1] - one.y
    own_x, own_y = joint[0] - picture.x, joint[1] - picture.y
    if whole_pixels:
        x, y = math.floor(x - own_x + 0.5) + own_x, math.floor(y - own_y + 0.5) + own_y
    area = one.a * one.d - one.b * one.c
    if area == 0.0:
        return
    corners = [
        (x + one.a * (u - own_x) - one.b * (v - own_y), y - one.c * (u - own_x) + one.d * (v - own_y))
        for u in (0.0, width)
        for v in (0.0, height)
    ]
    edge = 1 if smooth else 0
    box = np.array(
        [
            max(0, math.floor(min(u for u, _ in corners)) - edge),
            max(0, math.floor(min(v for _, v in corners)) - edge),
            min(canvas.width, math.ceil(max(u for u, _ in corners)) + edge),
            min(canvas.height, math.ceil(max(v for _, v in corners)) + edge),
        ],
        np.int64,
    )
    # a step of one pixel to the right on the canvas is (d, c) / area in the part, one down is (b, a) / area
    right_x, right_y, down_x, down_y = one.d / area, one.c / area, one.b / area, one.a / area
    first_x = own_x + (right_x * (0.5 - x) + down_x * (0.5 - y))
    first_y = own_y + (right_y * (0.5 - x) + down_y * (0.5 - y))
    start = [first_x, first_y, right_x, right_y, down_x, down_y]
    lay_over(made, picture.pixels, box, np.array([math.floor(value * ONE + 0.5) for value in start], np.int64), smooth)
