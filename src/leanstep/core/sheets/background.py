"""What of an image is drawn and what is ground: transparent, or one colour around everything, also with slight noise."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Pixels = NDArray[np.uint8]
Mask = NDArray[np.bool_]

DRAWN = 8
"""Alpha from which a pixel counts as drawn."""

BORDER_SHARE = 0.55
"""The share of an opaque image's border that has to be of one colour for it to be the ground."""

NEAR = 40
"""How far a pixel of the border may be from the ground's colour to tell how noisy the ground is (largest channel)."""

GAP = 8
"""By how much two colours of a noisy ground that follow each other differ at most (largest channel)."""

STRAY = 0.05
"""The share of the border below which what comes after a gap is no other colour."""

LEAST_HOLE = 4
"""Pixels an enclosed place has to have to be offered."""


@dataclass(frozen=True)
class Ground:
    """The colour (red, green, blue) that surrounds the drawings, and by how much (largest channel) it varies by itself."""

    colour: tuple[int, int, int]
    tolerance: int

    @classmethod
    def written(cls, colour: str, tolerance: int) -> Ground:
        """The ground of a colour like ``#ff00ff``."""
        return cls((int(colour[1:3], 16), int(colour[3:5], 16), int(colour[5:7], 16)), tolerance)

    @property
    def text(self) -> str:
        """The colour like ``#ff00ff``."""
        return "#{:02x}{:02x}{:02x}".format(*self.colour)

    def covers(self, pixels: Pixels) -> Mask:
        """Which pixels (height × width × 4) are of this colour or transparent."""
        near = pixels[:, :, 3] < DRAWN
        within = np.ones(near.shape, np.bool_)
        for channel, middle in enumerate(self.colour):
            low, high = max(0, middle - self.tolerance), min(255, middle + self.tolerance)
            # a difference in bytes wraps, so that one comparison tells both ends
            within &= pixels[:, :, channel] - np.uint8(low) <= np.uint8(high - low)
        return near | within


def ground_of(pixels: Pixels) -> Ground | None:
    """The colour around the drawings of an opaque image; None when the ground is transparent or there is none."""
    border = np.concatenate([pixels[0], pixels[-1], pixels[1:-1, 0], pixels[1:-1, -1]])
    if (border[:, 3] < DRAWN).mean() > 0.05 or not border.size:
        return None
    colours = border[:, :3].astype(np.int64)
    coarse = colours // 16 @ np.array([256, 16, 1])
    middle = np.median(colours[coarse == np.bincount(coarse).argmax()], axis=0)
    far = np.abs(colours - middle).max(axis=1)
    near = far <= _reach(far)
    if near.mean() < BORDER_SHARE:
        return None
    middle = np.median(colours[near], axis=0)
    spread = np.percentile(np.abs(colours[near] - middle).max(axis=1), 98)
    return Ground((int(middle[0]), int(middle[1]), int(middle[2])), int(min(NEAR, max(2, np.ceil(1.5 * spread) + 1))))


def _reach(far: NDArray[np.float64]) -> float:
    """How far colours reach that vary by noise, which leaves no gaps: what comes after one is another colour, if it is more than
    a few pixels."""
    met = np.unique(far[far <= NEAR])
    for low in met[:-1][np.diff(met) > GAP]:
        if ((far > low) & (far <= NEAR)).mean() > STRAY:
            return float(low)
    return NEAR


def cleared(pixels: Pixels, ground: Ground, holes: Sequence[Sequence[int]] = ()) -> Pixels:
    """The image with the ground made transparent, from its borders inwards and around the pixels ``holes`` (x, y): pixels of
    the same colour that the drawings enclose stay."""
    # what reads pictures takes its time to load, and only this needs it
    from scipy import ndimage

    labels, _ = ndimage.label(ground.covers(pixels))
    outside = _outside(labels)
    high, wide = labels.shape
    for x, y in holes:
        if x < wide and y < high:
            outside.add(int(labels[y, x]))
    found = pixels.copy()
    found[np.isin(labels, list(outside - {0})), 3] = 0
    return found


def holes_of(pixels: Pixels, ground: Ground) -> list[tuple[int, int]]:
    """A pixel (x, y) of every place of the ground's colour that drawings enclose, the largest first; not those of fewer than
    ``LEAST_HOLE`` pixels."""
    # what reads pictures takes its time to load, and only this needs it
    from scipy import ndimage

    labels, count = ndimage.label(ground.covers(pixels))
    areas = np.bincount(labels.ravel(), minlength=count + 1)
    outside = _outside(labels)
    inner = [label for label in np.argsort(-areas, kind="stable").tolist() if label and label not in outside]
    places = ndimage.find_objects(labels)
    found = []
    for label in inner:
        if areas[label] >= LEAST_HOLE:
            down, across = places[label - 1]
            y, x = np.argwhere(labels[down, across] == label)[0]
            found.append((int(across.start + x), int(down.start + y)))
    return found


def _outside(labels: NDArray[np.int32]) -> set[int]:
    """The labels on the border."""
    return {*labels[0].tolist(), *labels[-1].tolist(), *labels[:, 0].tolist(), *labels[:, -1].tolist()} - {0}


def drawn(pixels: Pixels) -> Mask:
    """Which pixels of an image (height × width × 4) are drawn, whatever its ground is."""
    ground = ground_of(pixels)
    return pixels[:, :, 3] >= DRAWN if ground is None else ~ground.covers(pixels)
