"""The size at which a sheet's frames are shown, and the factor that fits them to others."""

from __future__ import annotations

import numpy as np
from PIL import Image

from leanstep.core.character.sheets import Scale
from leanstep.core.sheets.background import Pixels

MANY_TIMES = 2.0
"""How many times as high as others figures have to be for a scale to be pointed out."""


LARGEST = 8192
"""Pixels that a side of an enlarged frame has at most."""


def factors(scale: Scale | None, height: float, side: int) -> tuple[float, float]:
    """By how much frames are enlarged in width and height, where the figure is drawn ``height`` pixels high, and the largest
    frame's longer side has ``side`` pixels; so that none becomes larger than can be shown."""
    if scale is None:
        return 1.0, 1.0
    most = max(1.0, LARGEST / side)
    by = min(scale.height / height if scale.height else scale.by, most)
    return min(by * scale.stretch, most), by


def scaled(pixels: Pixels, by: tuple[float, float], smooth: bool) -> Pixels:
    """A picture (height × width × 4, RGBA) enlarged in width and height: every pixel repeated, or smoothly."""
    height, width = pixels.shape[:2]
    size = (max(1, round(width * by[0])), max(1, round(height * by[1])))
    if size == (width, height):
        return pixels
    way = Image.Resampling.LANCZOS if smooth else Image.Resampling.NEAREST
    return np.asarray(Image.fromarray(np.ascontiguousarray(pixels)).resize(size, way))


def fitting(height: float, others: float) -> float | None:
    """The whole multiple, or one part of a whole, at which figures of a height stand about as high as others; None when they
    are not much larger or smaller."""
    if height * MANY_TIMES <= others:
        return float(round(others / height))
    if height >= MANY_TIMES * others:
        return 1.0 / round(height / others)
    return None


def in_words(factor: float) -> str:
    """A factor: ``4``, ``1/3`` or ``0.75``."""
    parts = 1 / factor
    return f"1/{round(parts)}" if factor < 1 and abs(parts - round(parts)) < 1e-3 else f"{factor:.4g}"
