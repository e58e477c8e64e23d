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
from leanstep.core.jit import kernel
from leanstep.core.sheets.background import Pixels

ONE = 1 << 20
"""A pixel, in the units in which places are looked up."""
LEFT, TOP, RIGHT, LOW = range(4)
"""What is drawn of a part on the canvas, in pixels; the last two are outside."""
X, Y, RIGHT_X, RIGHT_Y, DOWN_X, DOWN_Y = range(6)
"""Where the middle of pixel (0, 0) of the canvas lies in a part, and by how much that grows from column to column and from row to
row."""


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
    pixels: NDArray[np.uint8],
    sizes: NDArray[np.int64],
    order: NDArray[np.int64],
    boxes: NDArray[np.int64],
    starts: NDArray[np.int64],
    smooth: bool,
) -> None:  # pragma: no cover
    """Draw parts over a canvas (height × width × 4, RGBA) in an ``order``.  ``pixels`` (× 4) are those of all parts, row by row, one
    part after the other; ``sizes`` say for each part where its own begin, its width and height; ``boxes`` and ``starts`` where it
    lies, see :data:`LEFT` and :data:`X`."""
    for at in order:
        begin, width, height = sizes[at, 0], sizes[at, 1], sizes[at, 2]
        for row in range(boxes[at, 1], boxes[at, 3]):
            inside = False
            for column in range(boxes[at, 0], boxes[at, 2]):
                x = starts[at, 0] + starts[at, 2] * column + starts[at, 4] * row
                y = starts[at, 1] + starts[at, 3] * column + starts[at, 5] * row
                if not smooth:
                    at_x, at_y = x >> 20, y >> 20
                    if 0 <= at_x < width and 0 <= at_y < height:
                        inside = True
                        one = begin + at_y * width + at_x
                        a = int(pixels[one, 3])
                        if a:
                            _over(canvas, row, column, int(pixels[one, 0]), int(pixels[one, 1]), int(pixels[one, 2]), a)
                    continue
                x, y = x - 524288, y - 524288
                left, top = x >> 20, y >> 20
                if left < -1 or top < -1 or left >= width or top >= height:
                    if inside:
                        break
                    continue
                inside = True
                right_share, low_share = (x >> 12) & 255, (y >> 12) & 255
                red = green = blue = opaque = 0
                for down in range(2):
                    for right in range(2):
                        at_x, at_y = left + right, top + down
                        if 0 <= at_x < width and 0 <= at_y < height:
                            across = right_share if right else 256 - right_share
                            one = begin + at_y * width + at_x
                            much = across * (low_share if down else 256 - low_share) * int(pixels[one, 3])
                            opaque += much
                            red += much * int(pixels[one, 0])
                            green += much * int(pixels[one, 1])
                            blue += much * int(pixels[one, 2])
                a = (opaque + 32768) >> 16
                if a:
                    half = opaque // 2
                    r, g, b = (red + half) // opaque, (green + half) // opaque, (blue + half) // opaque
                    _over(canvas, row, column, r, g, b, a)


@dataclass(frozen=True)
class Drawing:
    """The parts of a figure, ready to be drawn; ``pictures`` in the order of the skeleton."""

    bones: Skeleton
    pictures: Sequence[PartPicture]

    @cached_property
    def pixels(self) -> NDArray[np.uint8]:
        """Those of all parts, one after the other (× 4)."""
        return np.concatenate([one.pixels.reshape(-1, 4) for one in self.pictures] or [np.zeros((0, 4), np.uint8)])

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
        lay_over(made, self.pixels, self.sizes, self.order, boxes, starts, smooth)
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
