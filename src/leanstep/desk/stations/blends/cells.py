"""The stretches in which samples are picked, as a picture: borders as lines, sticky ones as bands, the picked one tinted."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from PySide6.QtGui import QColor, QImage

from leanstep.core.blends.picking import nearest
from leanstep.core.blends.space import Space
from leanstep.desk.theme import theme

Places = Callable[[np.ndarray, np.ndarray], tuple[Sequence[np.ndarray], np.ndarray]]
"""From the x and y of pixels to the values there, and which pixels belong to the picture."""

MANY = 60
"""Samples beyond which a picture is worked out for every other pixel only."""
HATCH = 6
"""Pixels from one line of a sticky band's hatching to the next."""


class Cells:
    """Pictures of the cells, worked out when the blend space or the room changes, and kept."""

    def __init__(self) -> None:
        self._key: tuple[object, ...] = ()
        self._index = np.zeros((0, 0), np.int32)
        self._lines = QImage()
        self._tints: dict[int, QImage] = {}

    def lines(self, space: Space, size: int, height: int, places: Places) -> QImage:
        """Borders and bands in a room of ``size`` × ``height`` pixels."""
        key = (space, size, height, theme.night)
        if key != self._key:
            self._key = key
            self._tints.clear()
            step = 2 if len(space.places) > MANY else 1
            down, across = np.mgrid[0:height:step, 0:size:step].astype(np.float64) + 0.5
            values, inside = places(across, down)
            index, _, lead = nearest(space, values)
            self._index = np.where(inside, index, -1)
            self._lines = _drawn(self._index, lead, inside, space.sticky, down + across).scaled(size, height)
        return self._lines

    def tint(self, picked: int, size: int, height: int) -> QImage:
        """The cell of one sample, tinted; after :meth:`lines`."""
        if picked not in self._tints:
            self._tints[picked] = _flat(self._index == picked, theme.colour("met"), 150).scaled(size, height)
        return self._tints[picked]


def _drawn(index: np.ndarray, lead: np.ndarray, inside: np.ndarray, sticky: float, sums: np.ndarray) -> QImage:
    """Where the pick changes from pixel to pixel as a line, smooth by how far the next sample is from being nearer."""
    edge = np.zeros(index.shape, bool)
    for axis in (0, 1):
        for way in (1, -1):
            other = np.roll(index, way, axis)
            edge |= (other != index) & inside & (other >= 0)
    fall = np.hypot(*np.gradient(np.where(inside & np.isfinite(lead), lead, 0.0)))
    away = np.where(edge, lead / np.maximum(fall, 1e-6), 9.0)
    alpha = np.where(edge, np.clip(1.6 - away, 0.25, 1.0), 0.0) * 200
    pixels = _pixels(theme.colour("soft"), alpha)
    if sticky > 0:
        band = inside & (lead < sticky)
        hatched = band & (np.mod(sums, HATCH) < 1.0) & ~edge
        faint = theme.colour("faint")
        pixels[hatched] = _premultiplied(faint, 150)
        washed = band & ~hatched & ~edge
        pixels[washed] = _premultiplied(faint, 26)
    return _image(pixels)


def _flat(where: np.ndarray, colour: QColor, alpha: int) -> QImage:
    return _image(_pixels(colour, np.where(where, alpha, 0)))


def _premultiplied(colour: QColor, alpha: int) -> tuple[int, int, int, int]:
    return (colour.blue() * alpha // 255, colour.green() * alpha // 255, colour.red() * alpha // 255, alpha)


def _pixels(colour: QColor, alpha: np.ndarray) -> np.ndarray:
    """Pixels of one colour, as Qt keeps them: blue, green, red, alpha, each times alpha."""
    whole = np.array([colour.blue(), colour.green(), colour.red(), 255]) / 255
    return np.asarray(alpha[..., None] * whole, dtype=np.uint8)


def _image(pixels: np.ndarray) -> QImage:
    height, width, _ = pixels.shape
    held = np.ascontiguousarray(pixels)
    return QImage(held.data, width, height, 4 * width, QImage.Format.Format_ARGB32_Premultiplied).copy()
