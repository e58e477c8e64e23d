"""Following a spot from picture to picture by what is drawn about it.

The square about the spot is looked for in the next picture near where it was: the place with the least sum of squared differences of
colours times opacity (template matching; the sum is taken apart into squares and a correlation).  What is found is a guess: it comes
with how sure it is, and nobody applies it unseen.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.fft import irfft2, next_fast_len, rfft2

from leanstep.core.sheets.background import Pixels

Floats = NDArray[np.float32]
Place = tuple[float, float]

SMALL, LARGE = 4, 12
"""Pixels from the middle of a square to its edge, at least and at most."""
SHARE, REACH = 16.0, 6.0
"""Which share of a picture's height that is, and how far it may have moved from one picture to the next."""
NEARER = 0.02
"""How much more places differ that are as far away as can be: of two that are alike the nearer one is taken."""
SURE = 0.75
"""From which sureness on a place is trusted."""


@dataclass(frozen=True)
class Followed:
    """Where a spot was found, in pixels right and down of a picture's top left corner, and how ``sure`` that is, from 0 to 1."""

    x: float
    y: float
    sure: float


def follow(pictures: Sequence[Pixels], offsets: Sequence[Place], at: Place) -> Iterator[Followed | None]:
    """Follow a spot from the first picture (height × width × 4, RGBA) to each other one; None from where nothing is drawn about it.

    ``offsets`` are places of the pictures that belong together, mostly their feet: the spot is looked for where it was beside them.
    """
    radius, reach = _sizes(max(one.shape[0] for one in pictures))
    across = np.arange(-reach, reach + 1, dtype=np.float32)
    away = np.hypot(across[:, None], across[None, :]) / (reach * np.sqrt(2.0))
    x, y = at
    origin = template = _square(pictures[0], x, y, radius)
    for before, offset, picture in zip(offsets, offsets[1:], pictures[1:]):
        if not _drawn(template):
            yield None
            continue
        x, y = x - before[0] + offset[0], y - before[1] + offset[1]
        # as it was just now, and as it was at first, so that it does not drift
        costs = _costs(_square(picture, x, y, radius + reach), (template, origin))
        row, column = np.unravel_index(int(np.argmin(costs + NEARER * away)), costs.shape)
        x, y = x + int(column) - reach, y + int(row) - reach
        yield Followed(x, y, max(0.0, 1.0 - float(costs[row, column])))
        template = _square(picture, x, y, radius)


def likeness(one: Pixels, at: Place, other: Pixels, there: Place) -> float:
    """How alike what is drawn about two spots is, from 0 to 1; what is empty about one and drawn about the other counts as well."""
    radius, _ = _sizes(max(one.shape[0], other.shape[0]))
    first, second = _square(one, *at, radius), _square(other, *there, radius)
    near = _near(first.shape[0])[:, :, None]
    energy = float((near * (first**2 + second**2)).sum()) + 1e-6
    return max(0.0, 1.0 - float((near * (first - second) ** 2).sum()) / energy)


def _sizes(height: int) -> tuple[int, int]:
    """From the middle of a square to its edge, and how far is looked, for pictures so high."""
    radius = int(min(max(height / SHARE, SMALL), LARGE))
    return radius, int(max(height / REACH, 2 * radius))


def _square(picture: Pixels, across: float, down: float, radius: int) -> Floats:
    """What lies about a place, as colours times opacity and opacity, from 0 to 1; nothing beyond the edges."""
    x, y = round(across), round(down)
    height, width = picture.shape[:2]
    found = np.zeros((2 * radius + 1, 2 * radius + 1, 4), np.float32)
    left, top = max(0, x - radius), max(0, y - radius)
    right, low = min(width, x + radius + 1), min(height, y + radius + 1)
    if left < right and top < low:
        to_left, to_top = left - x + radius, top - y + radius
        part = picture[top:low, left:right].astype(np.float32) / np.float32(255.0)
        part[:, :, :3] *= part[:, :, 3:]
        found[to_top : to_top + low - top, to_left : to_left + right - left] = part
    return found


def _drawn(square: Floats) -> bool:
    return bool(square[:, :, 3].sum() >= 1.0)


def _costs(area: Floats, templates: Sequence[Floats]) -> Floats:
    """How much templates differ from an area at each place at which they lie in it, 0 for not at all; what lies near their middle and
    is drawn in them counts, so that what is behind may change."""
    side, size = templates[0].shape[0], area.shape[0]
    count, length = size - side + 1, next_fast_len(size, True)
    squares = (area**2).sum(axis=2, keepdims=True)
    seen = rfft2(np.concatenate([area, squares], axis=2), (length, length), axes=(0, 1))
    total = np.zeros((count, count), np.float32)
    for template in templates:
        weights = (_near(side) * template[:, :, 3] + np.float32(1e-6))[:, :, None]
        # turned round, a product of spectra is a correlation
        parts = np.concatenate([np.float32(-2.0) * weights * template, weights], axis=2)
        spectrum = (seen * rfft2(parts[::-1, ::-1], (length, length), axes=(0, 1))).sum(axis=2)
        found = irfft2(spectrum, (length, length))[side - 1 : size, side - 1 : size].astype(np.float32)
        energy = float((weights * template**2).sum()) + 1e-6
        total += np.maximum(found + np.float32(energy), 0.0) / np.float32(energy)
    mean: Floats = (total / len(templates)).astype(np.float32)
    return mean


def _near(side: int) -> Floats:
    """How much each place of a square counts: less towards its edge."""
    across = (np.arange(side, dtype=np.float32) - side // 2) / (side / 3.0)
    one: Floats = np.exp(-(across**2) / 2.0).astype(np.float32)
    found: Floats = (one[:, None] * one[None, :]).astype(np.float32)
    return found
