"""Rows of lettering above or below the drawings of a sheet: titles that belong to no frame."""

from __future__ import annotations

import numpy as np

from leanstep.core.sheets.drawings import Pieces, usual_area

LETTERS = 5
"""Pieces that a row of lettering has at least."""

HIGHEST = 28
"""Pixels that a row of lettering is high at most."""

SMALL = 0.45
"""How large letters are at most, as a share of the drawings' usual area."""

LOW = 0.65
"""How high letters are at most, as a share of the drawings' usual height."""

MOST_COUNTED = 200
"""Pixels of a piece that count when heights are compared."""

DOT = 4
"""Pixels a letter has at least; smaller ones are specks, or dots of letters."""

NARROW = 10
"""How wide letters usually are at most, in pixels: a row of low figures is no lettering."""

DENSE = 0.18
"""The share of its box that lettering fills at least."""


def lettering(height: int, found: Pieces) -> tuple[int, int]:
    """How many pixel rows at the top and at the bottom of an image are taken up by a row of lettering.

    Lettering is many small pieces close to each other, above or below everything large; ``found`` are all pieces of an image
    of ``height`` pixels.
    """
    if not len(found):
        return 0, 0
    tops, lows = found.boxes[:, 1], found.boxes[:, 3]
    heights = lows - tops
    # of pieces of about the same area, letters are the lower ones
    tall = heights >= LOW * np.percentile(np.repeat(heights, np.minimum(found.areas, MOST_COUNTED)), 75)
    large = tall & (found.areas >= SMALL * usual_area(found.areas))
    if not large.any() or large.all():
        return 0, 0
    first, last = int(tops[large].min()), int(lows[large].max())
    above, below = found.of(lows <= first), found.of(tops >= last)
    return (
        int(above.boxes[:, 3].max()) if _letters(above) else 0,
        height - int(below.boxes[:, 1].min()) if _letters(below) else 0,
    )


def _letters(some: Pieces) -> bool:
    """Whether pieces are a row of lettering."""
    some = some.of(some.areas >= DOT)
    if len(some) < LETTERS:
        return False
    if np.median(some.boxes[:, 2] - some.boxes[:, 0]) > NARROW:
        return False
    (left, top), (right, low) = some.boxes[:, :2].min(axis=0), some.boxes[:, 2:].max(axis=0)
    return bool(low - top <= HIGHEST and some.areas.sum() >= DENSE * (right - left) * (low - top))
