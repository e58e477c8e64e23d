"""Rows of lettering above or below the drawings of a sheet: titles that belong to no frame."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

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

CLOSE = 0.55
"""The share of its length that letters are wide together at least: small drawings lie a cell apart."""


def lettering(height: int, found: Pieces) -> tuple[int, int]:
    """How many pixel rows at the top and at the bottom of an image are taken up by a row of lettering.

    Lettering is many small pieces close to each other, above or below everything large, or parted from it by an empty row;
    ``found`` are all pieces of an image of ``height`` pixels.
    """
    if not len(found):
        return 0, 0
    above, below = _beyond_large(found)
    top, low = found.boxes[:, 1], found.boxes[:, 3]
    if not _letters(above):
        above = _parted(found, top, low)
    if not _letters(below):
        below = _parted(found, height - low, height - top)
    return (
        int(above.boxes[:, 3].max()) if len(above) else 0,
        height - int(below.boxes[:, 1].min()) if len(below) else 0,
    )


def _beyond_large(found: Pieces) -> tuple[Pieces, Pieces]:
    """The pieces above and below everything large."""
    tops, lows = found.boxes[:, 1], found.boxes[:, 3]
    heights = lows - tops
    # of pieces of about the same area, letters are the lower ones
    tall = heights >= LOW * np.percentile(np.repeat(heights, np.minimum(found.areas, MOST_COUNTED)), 75)
    large = tall & (found.areas >= SMALL * usual_area(found.areas))
    if not large.any() or large.all():
        return _none(found), _none(found)
    return found.of(lows <= tops[large].min()), found.of(tops >= lows[large].max())


def _parted(found: Pieces, tops: NDArray[np.int64], lows: NDArray[np.int64]) -> Pieces:
    """The pieces up to the first empty row, if they are lettering: letters that touch are one large piece among small ones."""
    order = np.argsort(tops, kind="stable")
    empty = np.flatnonzero(tops[order][1:] > np.maximum.accumulate(lows[order])[:-1])
    if not len(empty):
        return _none(found)
    taken = np.zeros(len(found), bool)
    taken[order[: empty[0] + 1]] = True
    some, rest = found.of(taken), found.of(~taken)
    small = some.areas[some.areas <= SMALL * usual_area(rest.areas)].sum() > some.areas.sum() / 2
    return some if small and _letters(some) else _none(found)


def _none(found: Pieces) -> Pieces:
    return found.of(np.zeros(len(found), bool))


def _letters(some: Pieces) -> bool:
    """Whether pieces are a row of lettering."""
    some = some.of(some.areas >= DOT)
    if len(some) < LETTERS:
        return False
    wide = some.boxes[:, 2] - some.boxes[:, 0]
    (left, top), (right, low) = some.boxes[:, :2].min(axis=0), some.boxes[:, 2:].max(axis=0)
    if np.median(wide) > NARROW or wide.sum() < CLOSE * (right - left):
        return False
    return bool(low - top <= HIGHEST and some.areas.sum() >= DENSE * (right - left) * (low - top))
