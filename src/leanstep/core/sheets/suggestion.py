"""What cut an image nobody described asks for: a grid, tight rectangles, or a single drawing.

Evidence comes from several sides and is weighed in one place, :func:`_weigh`: whether cut lines run through empty pixels,
whether the image resembles itself a cell further on, seams between cells that are drawn to their edges, one drawing a
cell, and what is usual (cells that fill the image, usual sizes, squares).
"""

from __future__ import annotations

from dataclasses import astuple, dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from leanstep.core.character.sheets import Cut, Pair
from leanstep.core.sheets.axis_evidence import Axis, Comb, combs
from leanstep.core.sheets.background import Mask, Pixels, drawn
from leanstep.core.sheets.cutting import Rect
from leanstep.core.sheets.drawings import Boxes, Pieces, drawings, pieces, tight_rects
from leanstep.core.sheets.margins import frame, framed_by
from leanstep.core.sheets.text_rows import lettering
from leanstep.core.wording import counted

KEPT = 12
"""Combs of each axis that are combined with those of the other."""

ALONE = 0.6
"""Of how much of what is drawn in a cell on it is one drawing, with parts and specks."""

SCRAP = 0.12
"""Of how much of what is usually drawn in a cell on something more than a scrap is in it."""

FAINT = 0.4
"""Of how much of what is drawn in the fullest row on something more than parts is in another one."""

MOST_MORE = 6.0
"""How much more may speak for a grid than for its columns and rows alone, beyond what speaks more for the best."""

MOST_SUMMED = 1400
"""Pixels of a side that are looked at when the drawn pixels of cells are counted."""

CLEAR, ALIKE = 3.0, 0.35
"""Standard errors above which columns are parted by clear seams, and which share as clear the seams of rows then are at least."""

MOVING = 0.3
"""How much full pictures of two motions resemble each other at most."""

ENDS, GOES_ON = 0.97, 0.5
"""Of how much of the lines between rows that differ on both sides on the picture ends there, and below which share it goes on."""

PACKED = 8.0
"""How much has to speak for a grid of an image that does not resemble itself."""

MOST_CELLS = 20_000
"""Cells a suggested grid may have."""


@dataclass(frozen=True)
class GridSuggestion:
    """A grid: cell, margin and gap as (x, y) in pixels; ``empty`` are the numbers of cells in which nothing is drawn."""

    columns: int
    rows: int
    cell: tuple[int, int]
    margin: tuple[int, int]
    gap: tuple[int, int]
    empty: tuple[int, ...]
    confidence: float
    reason: str

    @property
    def cut(self) -> Cut:
        """The cut that makes these frames."""
        return Cut(
            way="size",
            columns=self.columns,
            rows=self.rows,
            width=self.cell[0],
            height=self.cell[1],
            margin=_pair(self.margin),
            gap=_pair(self.gap),
        )

    def to_json(self) -> dict[str, object]:
        """As the command line prints it."""
        return {
            "kind": "grid",
            "columns": self.columns,
            "rows": self.rows,
            "cell": list(self.cell),
            "margin": list(self.margin),
            "gap": list(self.gap),
            "empty": list(self.empty),
            "confidence": self.confidence,
            "reason": self.reason,
        }


@dataclass(frozen=True)
class RectsSuggestion:
    """One tight rectangle a drawing, in reading order."""

    rects: tuple[Rect, ...]
    confidence: float
    reason: str

    @property
    def cut(self) -> Cut:
        """The cut that makes these frames."""
        return Cut(way="rects", rects=tuple(astuple(rect) for rect in self.rects))

    def to_json(self) -> dict[str, object]:
        """As the command line prints it."""
        rects = [list(astuple(rect)) for rect in self.rects]
        return {"kind": "rects", "rects": rects, "confidence": self.confidence, "reason": self.reason}


def _pair(pair: tuple[int, int]) -> Pair:
    return pair[0] if pair[0] == pair[1] else pair


Suggestion = GridSuggestion | RectsSuggestion


class Evidence:
    """What there is to be seen in an image: its ``pixels``, those that are drawn (``mask``), without lettering, which takes up
    ``lettering`` rows at the top and at the bottom."""

    def __init__(self, pixels: Pixels, mask: Mask) -> None:
        self.pixels = pixels
        found = pieces(mask)
        self.lettering = top, low = lettering(mask.shape[0], found)
        high = mask.shape[0]
        if top or low:
            mask = mask.copy()
            mask[:top] = mask[high - low :] = False
            found = found.of((found.boxes[:, 1] >= top) & (found.boxes[:, 3] <= high - low))
        self.mask, self.pieces = mask, found

    @cached_property
    def drawings(self) -> Pieces:
        """Drawings without specks."""
        return drawings(self.pieces)

    @cached_property
    def _sums(self) -> tuple[int, NDArray[np.int32]]:
        """Drawn pixels above and left of each pixel; of a large image only of every n-th pixel of every n-th row."""
        step = -(-max(self.mask.shape) // MOST_SUMMED)
        some = self.mask[::step, ::step]
        sums = np.zeros((some.shape[0] + 1, some.shape[1] + 1), np.int32)
        np.cumsum(some, axis=0, out=sums[1:, 1:])
        np.cumsum(sums[1:, 1:], axis=1, out=sums[1:, 1:])
        return step, sums

    def amounts(self, x: Comb, y: Comb) -> NDArray[np.int64]:
        """Drawn pixels of each cell (rows × columns), about."""
        step, sums = self._sums
        starts = [comb.start + np.arange(comb.count) * comb.period for comb in (y, x)]
        top, left = (-(-start // step) for start in starts)
        low, right = (-(-(start + comb.cell) // step) for start, comb in zip(starts, (y, x)))
        top, low = top[:, None], low[:, None]
        found: NDArray[np.int64] = sums[low, right] - sums[top, right] - sums[low, left] + sums[top, left]
        return found * step**2

    @cached_property
    def across(self) -> Axis:
        """Along x."""
        return Axis.of(self.pixels, self.mask, self.drawings.boxes[:, [0, 2]])

    @cached_property
    def down(self) -> Axis:
        """Along y."""
        return Axis.of(self.pixels.swapaxes(0, 1), self.mask.T, self.drawings.boxes[:, [1, 3]], self.lettering)


@dataclass(frozen=True)
class _Judged:
    """A grid with what speaks for it."""

    x: Comb
    y: Comb
    weight: float
    single: float


def suggestions(pixels: Pixels) -> list[Suggestion]:
    """Ways to cut an image (height × width × 4), the best first; none when nothing is drawn."""
    return suggested(Evidence(pixels, drawn(pixels)))


def suggested(evidence: Evidence) -> list[Suggestion]:
    """The same of an image whose drawn pixels are known."""
    if not len(evidence.drawings):
        return []
    judged = _grids(evidence)
    best = judged[0]
    others = [one for one in judged[1:] if _differs(one, best)]
    second = others[0].weight if others else best.weight - 4
    confidence = float(1 / (1 + np.exp(second - best.weight)))
    grids = [_described(evidence, best, confidence)]
    if others:
        grids.append(_described(evidence, others[0], (1 - confidence) * 0.9))
    third = [one for one in others[1:] if _differs(one, others[0])][:1]
    grids += [_described(evidence, one, (1 - confidence) * 0.5) for one in third]
    packed = _packed(evidence, best)
    rects = _loose(evidence, 0.8 if packed else round((1 - confidence) / 2, 3))
    if packed:
        return [rects, *(replace(one, confidence=one.confidence * 0.3) for one in grids)]
    return [*grids, rects] if 1 < len(rects.rects) <= MOST_CELLS else [*grids]


def _packed(evidence: Evidence, best: _Judged) -> bool:
    """Whether drawings lie loose: the image does not resemble itself, and less speaks for the best grid than for most."""
    found = evidence.drawings
    if (
        not 3 <= len(found) <= MOST_CELLS
        or float((found.boxes[:, 2:] - found.boxes[:, :2]).prod(axis=1).sum()) > 0.9 * evidence.mask.size
    ):
        return False
    likeness = max(best.x.likeness, best.y.likeness)
    return best.weight < PACKED - 5 * max(0.0, likeness - 0.1) - 2 * (best.single == 1)


def _differs(one: _Judged, other: _Judged) -> bool:
    return (one.x.count, one.y.count) != (other.x.count, other.y.count)


def _grids(evidence: Evidence) -> list[_Judged]:
    """Grids, that for which most speaks first."""
    down = combs(evidence.down, {comb.cell for comb in combs(evidence.across, set())[:4]})
    across = combs(evidence.across, {comb.cell for comb in down[:4]})
    square = across[0].cell, down[0].cell
    framed = framed_by(across, evidence.across.length) & framed_by(down, evidence.down.length)
    boxes = evidence.drawings.boxes
    best_across = _best(across, square[1], evidence.across, framed)
    best_down = _best(down, square[0], evidence.down, framed)
    columns = [_lain(comb, boxes[:, [0, 2]], evidence.across.full) for comb in best_across]
    rows = [_lain(comb, boxes[:, [1, 3]], evidence.down.full) for comb in best_down]
    pairs = [
        (x, y, x.comb.weight + y.comb.weight + frame(x.comb, y.comb, evidence.mask.shape))
        for x in columns
        for y in rows
        if x.comb.count * y.comb.count <= MOST_CELLS
    ]
    pairs.sort(key=lambda pair: -pair[2])
    found: list[_Judged] = []
    most = -np.inf
    for x, y, weight in pairs:
        if weight + MOST_MORE < most and any(_differs(one, found[0]) for one in found):
            break
        found.append(_weigh(x, y, weight, evidence))
        most = max(most, found[-1].weight)
    return sorted(found, key=lambda one: -one.weight)


@dataclass(frozen=True)
class _Lain:
    """A comb with the cell that holds the middle of each drawing, and the share of the drawing that lies in it."""

    comb: Comb
    homes: NDArray[np.int64]
    inside: NDArray[np.float64]


def _lain(comb: Comb, spans: Boxes, full: bool) -> _Lain:
    """How drawings of which the ``spans`` (first, last) along an axis are given lie in a comb; on a full axis one drawing
    covers many cells, which tells nothing."""
    middle = spans.mean(axis=1)
    homes = ((middle - comb.start + comb.gap / 2) // comb.period).astype(np.int64).clip(0, comb.count - 1)
    if full:
        return _Lain(comb, homes, np.ones(len(homes)))
    start = comb.start + homes * comb.period
    shared = np.minimum(spans[:, 1], start + comb.cell) - np.maximum(spans[:, 0], start)
    return _Lain(comb, homes, shared.clip(0) / np.maximum(1, spans[:, 1] - spans[:, 0]))


def _best(found: list[Comb], cell: int, axis: Axis, framed: set[tuple[int, int]]) -> list[Comb]:
    """The best combs, those with the cell of the other axis, or its cell and margin, and the one that cuts nothing."""
    return [
        comb
        for number, comb in enumerate(found)
        if number < KEPT or comb.cell in (cell, axis.length) or (comb.start, comb.cell) in framed
    ]


def _weigh(across: _Lain, down: _Lain, weight: float, evidence: Evidence) -> _Judged:
    """What speaks for a grid: what speaks for its columns and its rows (``weight``), and how the drawings lie in its cells."""
    x, y = across.comb, down.comb
    boxes = evidence.drawings.boxes
    below = (boxes[:, 0] + boxes[:, 2] >= 2 * x.start) & (boxes[:, 1] + boxes[:, 3] >= 2 * y.start)
    areas = evidence.drawings.areas[below]
    homes = (down.homes * x.count + across.homes)[below]
    amount = evidence.amounts(x, y)
    largest = np.zeros(amount.size)
    np.maximum.at(largest, homes, areas)
    full = np.asarray(amount > 0)
    some = largest > 0
    single = float((largest[some] >= ALONE * amount.ravel()[some]).mean()) if some.any() else 0.0
    scraps = float((amount[full] < SCRAP * np.median(amount[full])).mean()) if full.any() else 0.0
    # a row may end early, and rows at the end may be empty; holes before a drawing are odd
    before = np.maximum.accumulate(full[:, ::-1], axis=1)[:, ::-1]
    holes = float((before & ~full).sum() / max(1, full.sum()))
    rows_without = float((~full.any(axis=1)).mean() + (~full.any(axis=0)).mean())
    tails = float((~full & ~before & full.any(axis=1, keepdims=True)).mean())
    shares = (across.inside * down.inside)[below]
    inside = float(shares @ areas / areas.sum()) if len(areas) else 0.0
    weight += 0.8 * max(0.0, min(x.odd, y.odd))
    # half of a pair is no drawing of its own
    weight += (2.5 - 1.5 * x.halves) * single - 4.0 * scraps - 3.0 * min(1.0, holes) - 5.0 * rows_without - 0.7 * tails
    weight += 3.0 * (inside - 1)
    weight += 0.8 * (max(x.odd, y.odd) <= 0)
    top, low = evidence.lettering
    if y.start < top or y.end > evidence.mask.shape[0] - low:
        weight -= 2.5
    if y.count > 1:
        # parts that hover over or lie below drawings are no row of their own
        rows = np.array([np.median(row[row > 0]) if row.any() else 0.0 for row in amount])
        weight -= 2.5 * max(0.0, 1 - float(rows[rows > 0].min() / (FAINT * rows.max()))) if rows.any() else 0.0
    if evidence.across.full and evidence.down.full and y.count > 1:
        weight -= 3.0 * max(0.0, y.likeness - MOVING)
        breaks = y.parted >= ENDS
        weight += breaks - 2.0 * max(0.0, GOES_ON - y.parted)
        if x.seam > CLEAR and not breaks:
            # pictures that break off from column to column do so about as clearly from row to row
            weight -= 8.0 * min(1.0, max(0.0, 2 - 2 * y.clear / (ALIKE * x.clear)))
    ratio = max(x.cell, y.cell) / min(x.cell, y.cell)
    weight += 1.2 if ratio == 1 else -0.6 * max(0.0, np.log2(ratio) - 1)
    return _Judged(x, y, float(weight), single * inside)


def _loose(evidence: Evidence, confidence: float) -> RectsSuggestion:
    rects = tuple(tight_rects(evidence.drawings))
    why = "They lie apart, and no grid fits them." if confidence > 0.5 else "Each lies apart from the others."
    return RectsSuggestion(rects, confidence, f"{counted(len(rects), 'drawing')}, a tight rectangle each. {why}")


def _described(evidence: Evidence, one: _Judged, confidence: float) -> GridSuggestion:
    x, y = one.x, one.y
    cells = evidence.amounts(x, y).ravel()
    # what is counted is a sample of a large image: an empty cell is looked at whole
    empty = []
    for number in np.flatnonzero(cells == 0).tolist():
        row, column = divmod(number, x.count)
        top, left = y.start + row * y.period, x.start + column * x.period
        if not evidence.mask[top : top + y.cell, left : left + x.cell].any():
            empty.append(number)
    return GridSuggestion(
        x.count,
        y.count,
        (x.cell, y.cell),
        (x.start, y.start),
        (x.gap, y.gap),
        tuple(empty),
        round(confidence, 3),
        _reason(evidence, one),
    )


def _reason(evidence: Evidence, one: _Judged) -> str:
    """What decided, in words."""
    x, y = one.x, one.y
    size = f"{x.count} × {y.count} of {x.cell} × {y.cell}"
    if x.count == y.count == 1:
        return "One drawing fills the image." if len(evidence.drawings) == 1 else "No cut lines fit these drawings."
    lines = [comb for comb in (x, y) if comb.count > 1]
    cut = max(comb.cut for comb in lines)
    if cut == 0:
        return f"{size}: every cut line runs through empty pixels."
    if cut < 0.35:
        return f"{size}: the cut lines run through few drawn pixels."
    if all(comb.likeness > 0.5 for comb in lines):
        return f"{size}: the image repeats itself from cell to cell."
    if any(comb.seam > 1.5 for comb in lines):
        return f"{size}: the picture breaks off at the cut lines."
    return f"{size}: the cells fill the image."
