"""Frames of an image that was exported again, known by their pictures: exactly, moved, similar, and then by place."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from leanstep.core.sheets.background import DRAWN, Pixels
from leanstep.core.sheets.cutting import Rect
from leanstep.core.sheets.feet import bounds

How = Literal["exact", "shifted", "similar", "place"]

SIDE = 12
"""Squares a side that pictures are compared by."""

ALIKE = 0.22
"""How much pictures may differ (0 equal, 1 nothing in common) to be taken for the same drawing, redrawn."""

ORDER = 0.05
"""How much a change of place among a hundred frames counts beside a difference of pictures."""


@dataclass(frozen=True)
class Match:
    """Frame ``old`` is frame ``new`` now.  ``moved``: by how many pixels (x, y) its drawing stands elsewhere in its frame."""

    old: int
    new: int
    how: How
    moved: tuple[int, int] = (0, 0)


@dataclass(frozen=True)
class Matching:
    """What became of all frames: ``matches`` by old numbers; ``gone`` old ones and ``added`` new ones, in which something is
    drawn."""

    matches: tuple[Match, ...]
    gone: tuple[int, ...]
    added: tuple[int, ...]

    @property
    def stays(self) -> bool:
        """Whether every frame has the number it had, and none is gone or new."""
        return not self.gone and not self.added and all(one.old == one.new for one in self.matches)


@dataclass(frozen=True)
class _Picture:
    """A frame's drawing: where it stands in its frame, its pixels, and a coarse picture of them (None: empty)."""

    rect: Rect
    corner: tuple[int, int]
    exact: bytes
    tight: bytes
    coarse: NDArray[np.float32] | None


def matched(old_pixels: Pixels, old: Sequence[Rect], new_pixels: Pixels, new: Sequence[Rect]) -> Matching:
    """Find the ``old`` frames of an image among the ``new`` ones of another (both height × width × 4)."""
    before = [_picture(old_pixels, rect) for rect in old]
    after = [_picture(new_pixels, rect) for rect in new]
    found: dict[int, Match] = {}
    taken: set[int] = set()

    def note(some: Sequence[tuple[int, int]], how: How) -> None:
        for one, other in some:
            (x, y), (left, top) = before[one].corner, after[other].corner
            found[one] = Match(one, other, how, (left - x, top - y))
            taken.add(other)

    def rest(pictures: Sequence[_Picture], known: object) -> list[int]:
        return [n for n, one in enumerate(pictures) if n not in known and one.coarse is not None]  # type: ignore[operator]

    note(
        _equal([one.exact for one in before], [one.exact for one in after], rest(before, found), rest(after, taken)),
        "exact",
    )
    note(
        _equal([one.tight for one in before], [one.tight for one in after], rest(before, found), rest(after, taken)),
        "shifted",
    )
    note(_similar(before, after, rest(before, found), rest(after, taken)), "similar")
    places = {(one.rect.x, one.rect.y): number for number, one in enumerate(after)}
    at_place = [(one, places.get((before[one].rect.x, before[one].rect.y), -1)) for one in rest(before, found)]
    free = set(rest(after, taken))
    note([pair for pair in at_place if pair[1] in free], "place")
    empty = [n for n, one in enumerate(before) if one.coarse is None]
    for number in empty:
        other = places.get((before[number].rect.x, before[number].rect.y), -1)
        if other >= 0 and after[other].coarse is None:
            found[number] = Match(number, other, "exact")
    return Matching(
        tuple(found[number] for number in sorted(found)), tuple(rest(before, found)), tuple(rest(after, taken))
    )


def _picture(pixels: Pixels, rect: Rect) -> _Picture:
    part = pixels[rect.y : rect.y + rect.height, rect.x : rect.x + rect.width]
    span = bounds(part[:, :, 3] >= DRAWN)
    if span is None:
        return _Picture(rect, (0, 0), b"", b"", None)
    left, top, right, low = span
    tight = part[top:low, left:right]
    tight = np.where(tight[:, :, 3:] < DRAWN, 0, tight).astype(np.uint8)
    key = f"{tight.shape}".encode() + tight.tobytes()
    place = f"{rect.width} {rect.height} {left} {top} ".encode()
    return _Picture(rect, (left, top), place + key, key, _coarse(part, span))


def coarse_picture(part: Pixels) -> NDArray[np.float32] | None:
    """A frame's drawing as a coarse picture; None when nothing is drawn."""
    span = bounds(part[:, :, 3] >= DRAWN)
    return None if span is None else _coarse(part, span)


def _coarse(part: Pixels, span: tuple[int, int, int, int]) -> NDArray[np.float32]:
    """A drawing over a square around it, as means of ``SIDE`` × ``SIDE`` squares of colour (weighed by alpha) and alpha."""
    left, top, right, low = span
    side = max(right - left, low - top)
    square = np.zeros((side, side, 4), np.float32)
    x, y = (side - (right - left)) // 2, side - (low - top)
    drawing = part[top:low, left:right].astype(np.float32) / 255
    drawing[:, :, :3] *= drawing[:, :, 3:]
    square[y:, x : x + right - left] = drawing
    edges = np.linspace(0, side, SIDE + 1)
    starts = np.minimum(edges[:-1].astype(int), side - 1)
    sums = np.add.reduceat(np.add.reduceat(square, starts, axis=0), starts, axis=1)
    sizes = np.maximum(1, np.diff([*starts, side]))
    means: NDArray[np.float32] = (sums / (sizes[:, None, None] * sizes[None, :, None])).astype(np.float32)
    return means.ravel()


def _equal(
    before: Sequence[bytes], after: Sequence[bytes], old: Sequence[int], new: Sequence[int]
) -> list[tuple[int, int]]:
    """Pairs that are equal; where several are, each the nearest in number, all in all."""
    # what reads pictures takes its time to load, and only this needs it
    from scipy.optimize import linear_sum_assignment

    groups: dict[bytes, list[int]] = {}
    for number in new:
        groups.setdefault(after[number], []).append(number)
    asked: dict[bytes, list[int]] = {}
    for number in old:
        if before[number] in groups:
            asked.setdefault(before[number], []).append(number)
    found = []
    for key, olds in asked.items():
        news = groups[key]
        apart = np.abs(np.subtract.outer(olds, news))
        found += [(olds[row], news[column]) for row, column in zip(*linear_sum_assignment(apart))]
    return found


def _similar(
    before: Sequence[_Picture], after: Sequence[_Picture], old: Sequence[int], new: Sequence[int]
) -> list[tuple[int, int]]:
    """Pairs of pictures that are alike, the least different in all."""
    # what reads pictures takes its time to load, and only this needs it
    from scipy.optimize import linear_sum_assignment

    if not old or not new:
        return []
    first = np.array([before[number].coarse for number in old])
    second = np.array([after[number].coarse for number in new])
    amount = np.maximum(first.sum(axis=1)[:, None] + second.sum(axis=1), 1e-6)
    differ = np.array([np.abs(second - one).sum(axis=1) for one in first]) / amount
    order = ORDER * np.abs(np.subtract.outer(old, new)) / 100
    pairs = zip(*linear_sum_assignment(np.minimum(differ + order, 2 * ALIKE)))
    return [(old[row], new[column]) for row, column in pairs if differ[row, column] <= ALIKE]


def unlike(one: NDArray[np.float32], other: NDArray[np.float32]) -> float:
    """How much two coarse pictures differ: 0 equal, 1 nothing in common."""
    return float(np.abs(one - other).sum() / max(1e-6, float(one.sum() + other.sum())))
