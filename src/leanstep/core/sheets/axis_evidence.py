"""Along one axis of an image: where cut lines could be, and what speaks for them."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from leanstep.core.sheets.autocorrelation import resemblance
from leanstep.core.sheets.background import Mask, Pixels
from leanstep.core.sheets.drawings import Boxes

Numbers = NDArray[np.float64]

SMALLEST = 4
"""The smallest cell that is looked for, in pixels."""

USUAL = (8, 16, 24, 32, 48, 64, 72, 80, 96, 128, 160, 192, 256, 320, 384, 512)
"""Sizes of cells that are met most."""

GAPS = (1, 2, 3, 4, 5, 6, 8, 10, 12, 16)
"""Gaps that are looked for, in pixels."""

NARROW, WIDEST = (1, 2, 3, 4), 8
"""Gaps, and the widest margin, that are looked for where they differ, in pixels."""

FREE = 0.02
"""The share of lines that have to be free for emptiness to tell anything."""

FEW = 4
"""Pixels over that are rather a gap than a rest."""

PAIRED = 0.75
"""Of how much of the room beside a pair of drawings is at most between them."""

EXACT = 0.4
"""What speaks for cells that fill the axis exactly."""

MOST_SEAMS = 6
"""Cut lines that tell something for themselves on a full axis: a pattern within cells has many lines, each less clear."""

APART = 8
"""By how much the largest channel of two neighbours differs at least where a picture does not go on."""

EXACTLY = 0.99
"""The resemblance from which on cells are all the same."""

PEAKS = 16
"""Shifts at which the image resembles itself most that are looked at."""


@dataclass(frozen=True)
class Comb:
    """``count`` cells of ``cell`` pixels from ``start`` on, ``gap`` apart.

    ``cut``: drawn pixels on the worse half of the cut lines, against those of a usual line through a drawing; ``likeness``:
    the image's resemblance to itself a cell on; ``seam``: how much more changes at the cut lines than elsewhere, in
    standard errors; ``parted``: the share of pixels beside the cut lines that differ from those across; ``odd``: how unusual
    start, gap and rest are; ``halves``: every other cut line parts a pair of drawings. ``weight`` is what speaks for it in all.
    """

    start: int
    cell: int
    gap: int
    count: int
    cut: float = 0.0
    likeness: float = 0.0
    seam: float = 0.0
    parted: float = 0.0
    odd: float = 0.0
    weight: float = 0.0
    halves: bool = False

    @property
    def period(self) -> int:
        """From one cell's start to the next one's."""
        return self.cell + self.gap

    @property
    def clear(self) -> float:
        """How much more changes at a cut line than elsewhere, in standard deviations."""
        return self.seam / math.sqrt(max(1, self.count - 1))

    @property
    def end(self) -> int:
        """Where the last cell ends."""
        return self.start + self.count * self.period - self.gap


@dataclass
class Axis:
    """What is known along an axis of ``length`` pixels.

    ``crossing``: drawn pixel pairs that a line before each pixel would part; ``amount``: drawn pixels; ``change``: how
    much the picture changes from one pixel to the next; ``parted``: at which share of pixels it does; ``likeness``: by
    shift; ``spans``: of the drawings (first pixel, and that after the last); ``lettering``: pixels that are taken up by it
    at both ends.
    """

    length: int
    crossing: Numbers
    amount: Numbers
    change: Numbers
    parted: Numbers
    likeness: Numbers
    spans: Boxes
    lettering: tuple[int, int] = (0, 0)

    @cached_property
    def full(self) -> bool:
        """Whether hardly a line along it is free, so that emptiness tells nothing."""
        inner = self.crossing[1:-1]
        return bool(np.count_nonzero(inner == 0) < FREE * len(inner))

    @cached_property
    def usual(self) -> float:
        """What a usual line through a drawing crosses."""
        crossed = self.crossing[self.crossing > 0]
        return float(np.percentile(crossed, 75)) if crossed.size else 1.0

    @cached_property
    def changes(self) -> tuple[float, float]:
        """Mean and spread of what changes from pixel to pixel."""
        inner = self.change[1:-1]
        return (float(inner.mean()), float(inner.std()) or 1.0) if inner.size else (0.0, 1.0)

    def rooms(self, places: NDArray[np.int64]) -> NDArray[np.int64]:
        """How many pixels in a row are empty around each of some places before its end."""
        after = np.searchsorted(self._taken, places)
        right, left = self._taken[after], self._taken[after - 1] + 1
        return np.where(right == places, 0, right - left)

    @cached_property
    def _taken(self) -> NDArray[np.int64]:
        """The pixels along it at which there are drawings, between that before its begin and that after its end."""
        edges = np.zeros(self.length + 1, np.int64)
        np.add.at(edges, self.spans[:, 0], 1)
        np.add.at(edges, self.spans[:, 1], -1)
        return np.concatenate([[-1], np.flatnonzero(np.cumsum(edges)), [self.length]])

    @classmethod
    def of(cls, pixels: Pixels, mask: Mask, spans: Boxes, lettering: tuple[int, int] = (0, 0)) -> Axis:
        """Of an image whose second axis this is."""
        length = mask.shape[1]
        crossing = np.zeros(length + 1)
        crossing[1:-1] = np.count_nonzero(mask[:, 1:] & mask[:, :-1], axis=0)
        step = max(1, mask.shape[0] // 240)
        some = pixels[::step, :, :3] * mask[::step, :, None]
        some = np.concatenate([some, mask[::step, :, None] * np.uint8(128)], axis=2).astype(np.float32)
        steps = np.abs(some[:, 1:] - some[:, :-1])
        change, parted = np.zeros((2, length + 1))
        change[1:-1] = steps.sum(axis=(0, 2))
        parted[1:-1] = (steps.max(axis=2) > APART).mean(axis=0)
        amount = np.concatenate([[0.0], np.cumsum(np.count_nonzero(mask, axis=0))])
        return cls(length, crossing, amount, change, parted, resemblance(some), spans, lettering)


def combs(axis: Axis, cells: set[int]) -> list[Comb]:
    """What the axis could be cut into, that for which most speaks first; ``cells`` are sizes that are likely anyway."""
    found = {(one.start, one.cell, one.gap, one.count): one for one in _candidates(axis, cells)}
    weighed = [_weighed(axis, one) for one in found.values()]
    return sorted(weighed, key=lambda one: -one.weight)


def _candidates(axis: Axis, cells: set[int]) -> list[Comb]:
    """Combs worth a look."""
    length = axis.length
    found = [Comb(0, length, 0, 1)]
    margins = sorted({*GAPS, *range(1, WIDEST + 1)})
    found += [Comb(margin, length - 2 * margin, 0, 1) for margin in margins if length - 2 * margin >= SMALLEST]
    found += [Comb(0, length // count, 0, count) for count in range(2, length // SMALLEST + 1) if length % count == 0]
    periods = {size for size in {*_peaks(axis.likeness), *USUAL, *cells} if size < length}
    for period in sorted(periods):
        found += _from_period(axis, period)
    for gap in GAPS:
        for margin in {0, gap}:
            room = length - 2 * margin + gap
            for count in range(2, min(64, room // (SMALLEST + gap)) + 1):
                if room % count == 0 and room // count - gap >= SMALLEST:
                    found.append(Comb(margin, room // count - gap, gap, count))
    return [*found, *_ruled(length, {*USUAL, *cells})]


def _ruled(length: int, cells: set[int]) -> Iterator[Comb]:
    """Combs of likely cells whose gap is another one than their margin, which fill the axis exactly."""
    for cell in cells:
        for gap in NARROW:
            count = (length - 2 + gap) // (cell + gap)
            rest = length - count * (cell + gap) + gap
            if count >= 2 and rest % 2 == 0 and 0 < rest <= 2 * WIDEST:
                yield Comb(rest // 2, cell, gap, count)


def _from_period(axis: Axis, period: int) -> list[Comb]:
    """Combs of one period: from the image's start, up to its end, in its middle, and along the emptiest lines."""
    length, found = axis.length, []
    count = length // period
    if count < 1 or period < SMALLEST:
        return []
    rest = length - count * period
    starts = {0, rest, rest // 2, axis.lettering[0]}
    folded = axis.crossing[1 : 1 + count * period].reshape(count, period).max(axis=0)
    least = np.flatnonzero(folded == folded.min()) + 1
    middle = int(least[np.abs(least - np.median(least)).argmin()]) % period
    starts |= {middle, int(least[0]) % period}
    for start in starts:
        many = (length - start) // period
        if many >= 1:
            found.append(Comb(start, period, 0, many))
            last = int(axis.spans[:, 1].max()) if len(axis.spans) else length
            needed = max(1, -(-(last - start) // period))
            if needed < many:
                found.append(Comb(start, period, 0, needed))
    return found


def _peaks(likeness: Numbers) -> list[int]:
    """Shifts at which the resemblance is higher than around, the highest ones, with their neighbours."""
    inner = likeness[1:-1]
    tops = np.flatnonzero((inner >= likeness[:-2]) & (inner >= likeness[2:]) & (inner > 0.05)) + 1
    tops = tops[tops >= SMALLEST]
    best = tops[np.argsort(-likeness[tops], kind="stable")][:PEAKS]
    return [int(top) + by for top in best for by in (-1, 0, 1)]


def _weighed(axis: Axis, comb: Comb) -> Comb:
    """A comb with what speaks for it."""
    total = max(1.0, axis.amount[-1])
    inner = axis.amount[np.minimum(axis.length, comb.start + np.arange(comb.count) * comb.period + comb.cell)]
    inner = inner - axis.amount[comb.start + np.arange(comb.count) * comb.period]
    outside = 1 - float(inner.sum()) / total
    odd = _odd(axis, comb)
    prior = _usual(comb) - 12 * outside
    if comb.count == 1:
        return Comb(comb.start, comb.cell, 0, 1, odd=odd, weight=prior - odd)
    begins = comb.start + np.arange(1, comb.count) * comb.period
    ends = begins - comb.gap
    crossed = np.maximum(axis.crossing[begins], axis.crossing[ends])
    if comb.gap:
        crossed = np.maximum(crossed, (axis.amount[begins] - axis.amount[ends]) / comb.gap)
    worst = np.sort(crossed)[len(crossed) // 2 :]
    cut = float(min(1.0, worst.mean() / axis.usual))
    period = comb.period
    likeness = float(axis.likeness[period]) if period < axis.length else 0.0
    around = axis.likeness[period - period // 8 : period + period // 8 + 1]
    beaten = float(around.max()) - likeness if len(around) else 0.0
    halves = _pairs(axis, comb, begins)
    mean, spread = axis.changes
    change = axis.change[begins].mean()
    if axis.full:
        # lines of which only some are seams are too many
        change = (change + np.quantile(axis.change[begins], 0.25)) / 2
    seam = float((change - mean) / spread * np.sqrt(len(begins)))
    parted = float(axis.parted[begins].mean())
    if axis.full:
        # without clear seams fewer and larger cells are likelier; a picture that repeats itself exactly is a pattern within
        # cells, since no two pictures of a motion are alike
        few = 0.5 * np.log2(comb.count) + 1.5 * (comb.cell < 16)
        told = min(1.0, math.sqrt(MOST_SEAMS / len(begins)))
        alike = (1 - 1 / comb.count) * 1.1 * max(told * seam, -1.0) + 2.5 * max(0.0, likeness)
        weight = (alike if likeness < EXACTLY else 0.0) + prior - odd - few
    else:
        weight = (
            6.0 * (0.45 - cut)
            + 3.0 * (likeness - 0.2)
            + 4.0 * min(0.0, likeness)
            - 7.0 * beaten
            - 4.0 * halves
            - 1.5 * (comb.count == 2 and likeness < 0.1)
            + 0.8 * np.log2(comb.count)
            + prior
            - odd
        )
    return Comb(comb.start, comb.cell, comb.gap, comb.count, cut, likeness, seam, parted, odd, float(weight), halves)


def _pairs(axis: Axis, comb: Comb, begins: NDArray[np.int64]) -> bool:
    """Whether drawings lie in pairs, nearer to each other than to those of the next pair."""
    if comb.count % 2 or comb.count < 4:
        return False
    room = axis.rooms(begins - comb.gap // 2)
    inner, outer = room[::2], room[1::2]
    around = np.minimum(np.append(outer, outer[-1]), np.insert(outer, 0, outer[0]))
    return bool(outer.min() > 0 and (inner < PAIRED * around).all())


def _odd(axis: Axis, comb: Comb) -> float:
    """How unusual it is that cells start, lie apart and end like this."""
    rest = axis.length - comb.end
    if axis.lettering != (0, 0) and (comb.start >= axis.lettering[0] > 0 or rest >= axis.lettering[1] > 0):
        return 0.3 if comb.start == 0 or rest == 0 else 1.2
    if comb.gap:
        usual = comb.start in (0, comb.gap)
        return (1.2 if usual else 1.6) if rest == comb.start else 2.8
    if comb.start == 0:
        return (-EXACT if comb.count > 1 else 0.0) if rest == 0 else 1.4 if rest > FEW else 1.7
    return 1.9 if rest in (0, comb.start) else 2.8


def _usual(comb: Comb) -> float:
    """What speaks for a size of cells."""
    weight = -1.0 if comb.cell < 12 else 0.0
    if comb.cell in USUAL:
        return weight + 0.9
    return weight + (0.5 if comb.cell % 8 == 0 else -0.2 if comb.cell % 2 else 0.0)
