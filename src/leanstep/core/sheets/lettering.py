"""Rows of lettering above or below the drawings of a sheet: titles that belong to no frame."""

from __future__ import annotations

from leanstep.core.sheets.drawings import Pieces, usual_area

LETTERS = 5
"""Pieces that a row of lettering has at least."""

HIGHEST = 28
"""Pixels that a row of lettering is high at most."""

SMALL = 0.45
"""How large letters are at most, as a share of the drawings' usual area."""

DOT = 4
"""Pixels a letter has at least; smaller ones are specks, or dots of letters."""

DENSE = 0.18
"""The share of its box that lettering fills at least."""


def lettering(height: int, found: Pieces) -> tuple[int, int]:
    """How many pixel rows at the top and at the bottom of an image are taken up by a row of lettering.

    Lettering is many small pieces close to each other, above or below everything large; ``found`` are all pieces of an image
    of ``height`` pixels.
    """
    large = found.areas >= SMALL * usual_area(found.areas)
    if not large.any() or large.all():
        return 0, 0
    tops, lows = found.boxes[:, 1], found.boxes[:, 3]
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
    (left, top), (right, low) = some.boxes[:, :2].min(axis=0), some.boxes[:, 2:].max(axis=0)
    return bool(low - top <= HIGHEST and some.areas.sum() >= DENSE * (right - left) * (low - top))
