"""How much an image resembles itself, moved along one axis."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

Numbers = NDArray[np.float64]

MOST_LINES = 240
"""Lines of an image that are compared; of a larger one every n-th is."""

MOST_AT_ONCE = 1 << 22


def resemblance(image: NDArray[Any]) -> Numbers:
    """Correlation of an image (lines × length × channels) with itself moved by 0 … length − 1 along its lines.

    Each line counts without its mean, and only where the image overlaps the moved one: 1 where they are equal, 0 where
    they have nothing in common.
    """
    # what reads pictures takes its time to load, and only this needs it
    from scipy import fft

    step = max(1, -(-image.shape[0] // MOST_LINES))
    lines = image[::step].astype(np.float32)
    lines = lines - lines.mean(axis=1, keepdims=True)
    lines = np.moveaxis(lines, 2, 1).reshape(-1, image.shape[1])
    length = lines.shape[1]
    size = fft.next_fast_len(2 * length, real=True)
    power = np.zeros(size // 2 + 1)
    rows = max(1, MOST_AT_ONCE // size)
    for start in range(0, len(lines), rows):
        power += (np.abs(fft.rfft(lines[start : start + rows], size, axis=1)) ** 2).sum(axis=0)
    products = fft.irfft(power, size)[:length]
    energy = np.concatenate([[0.0], np.cumsum((lines.astype(np.float64) ** 2).sum(axis=0))])
    moved = np.arange(length)
    ahead, behind = energy[length - moved], energy[length] - energy[moved]
    scale = np.sqrt(ahead * behind)
    return np.where(scale > 1e-3 * max(1e-9, energy[-1]), products / np.maximum(scale, 1e-9), 0.0)
