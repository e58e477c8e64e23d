"""The colours of a picture, and others in their place."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from leanstep.core.character.sheets import Exchange
from leanstep.core.sheets.background import DRAWN, Pixels


def palette(pixels: Pixels, most: int) -> list[tuple[str, float]]:
    """The colours of what is drawn in a picture (height × width × 4), as ``#rrggbb`` with their share of it, ``most`` of them at most;
    the most frequent first."""
    drawn = pixels[pixels[:, :, 3] >= DRAWN]
    if not len(drawn):
        return []
    numbers, counts = np.unique(_numbers(drawn), return_counts=True)
    order = np.argsort(-counts, kind="stable")[:most]
    return [(f"#{int(numbers[at]):06x}", float(counts[at] / len(drawn))) for at in order]


def exchanged(pixels: Pixels, exchanges: Iterable[Exchange]) -> Pixels:
    """A picture (height × width × 4) with other colours, all exchanged at once; how clear a pixel is stays."""
    numbers, made = _numbers(pixels), pixels.copy()
    for one in exchanges:
        made[numbers == int(one.was[1:], 16), :3] = list(bytes.fromhex(one.to[1:]))
    return made


def _numbers(pixels: Pixels) -> np.ndarray:
    """Red, green and blue as one number."""
    colours = pixels[..., :3].astype(np.uint32)
    return (colours[..., 0] << 16) | (colours[..., 1] << 8) | colours[..., 2]
