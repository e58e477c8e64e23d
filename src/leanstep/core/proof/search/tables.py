"""What ticks make of the places of a world, in tables that are filled as they are asked for (``table_kernels`` reads them)."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from functools import cached_property
from itertools import accumulate, pairwise
from typing import NamedTuple, Self

import numpy as np

from leanstep.core.conditions.evaluation import NEVER
from leanstep.core.proof.search.table_arrays import CHOICES, Counts, Facts
from leanstep.core.proof.search.table_kernels import CASE, RESTS, STAND, note
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.states.places import CoreKey, News, Outcome, Past, Place, View

WORD = 60
"""How many bits the counters in one word of a row have together, at most."""

MOST_TRUST = 4
"""What trusts in more counts as trusting in so much."""

MOST_BITS, MOST_VALUES = 60, 1 << 17
"""Bits that the kinds of all counts come to, and values that all counts have, at most."""

_Rest = tuple[frozenset[int], tuple[int, ...], tuple[int, ...]]
"""What there is of a past besides counters: buttons held, waits, and regions nearby."""


class Column:
    """Numbers one after the other, with room for more."""

    def __init__(self, width: int | None = None) -> None:
        self.array = np.zeros(16 if width is None else (16, width), np.int64)
        self.count = 0

    def add(self, value: int | Sequence[int]) -> int:
        """One more; its place."""
        self.array = with_room(self.array, self.count + 1)
        self.array[self.count] = value
        self.count += 1
        return self.count - 1


def with_room(array: np.ndarray, room: int, fill: int = 0) -> np.ndarray:
    """The same numbers with room for so many."""
    if len(array) >= room:
        return array
    grown = np.full((max(room, 2 * len(array)), *array.shape[1:]), fill, array.dtype)
    grown[: len(array)] = array
    return grown


class _Counted(NamedTuple):
    """The ``counts`` of a world: how many of them are those of ``memories``, how many those of ``stays``, and by layer and state where
    the kinds of stays are (``staying``), and what they do while they go on (``going_on``)."""

    counts: Counts
    memories: int
    stays: int
    staying: list[list[int]]
    going_on: list[list[int]]

    @classmethod
    def of(cls, world: FreeWorld) -> _Counted:
        """How the tracked memories, the clocks of dimensions, and the stays of a world are counted."""
        kinds, starts, steps, shift = list[int](), list[int](), list[list[tuple[int, ...]]](), 0
        for memory in (world.machine.memories[index] for index in world.tracked):
            values = range(memory.ticks + 1)
            starts.append(len(kinds))
            kinds += [int(value >= memory.enough) << shift for value in values]
            steps.append(
                [tuple([memory.told_apart(memory.after(value, on)) for on in (False, True)]) for value in values]
            )
            shift += 1
        memories = shift
        for dimension in world.dimensions:
            for number, limit in enumerate(dimension.limits):
                seen = _numbered([dimension.class_of(number, age) for age in (*range(limit), NEVER)])
                starts.append(len(kinds))
                kinds += [kind << shift for kind in seen]
                steps.append([(min(age + 1, limit), 0, limit) for age in range(limit + 1)])
                shift += max(seen).bit_length()
        staying, going_on = list[list[int]](), list[list[int]]()
        for at in world.layers:
            caps, most = world.layout.caps[at], 0
            staying.append([])
            for state, cap in enumerate(caps):
                turns = [world.layout.stay_class(at, state, stay) for stay in range(cap + 2)]
                seen = _numbered([*pairwise(turns)])
                staying[-1].append(len(kinds))
                kinds += [kind << shift for kind in seen]
                most = max(most, *seen)
            shift += most.bit_length()
            ends = sorted({*caps})
            steps.append([(0, stay, *(min(stay + 1, end) for end in ends)) for stay in range(max(caps) + 1)])
            going_on.append([2 + ends.index(cap) for cap in caps])
        radix, width = [len(rows) for rows in steps], [len(rows[0]) for rows in steps]
        offsets = [*accumulate((values * choices for values, choices in zip(radix, width)), initial=0)][:-1]
        flat = [to for rows in steps for row in rows for to in row]
        told = [(1 << shift) - (1 << memories)]
        columns = (*_packed(radix), radix, starts, kinds, offsets, width, flat, told)
        return cls(Counts(*(np.array(one, np.int64) for one in columns)), memories, len(staying), staying, going_on)


def _numbered(seen: Sequence[Hashable]) -> list[int]:
    """A number for each of what is seen, the same for the same."""
    numbers = {one: at for at, one in enumerate(dict.fromkeys(seen))}
    return [numbers[one] for one in seen]


def _can_be_counted(world: FreeWorld) -> bool:
    """Whether all that a world counts can be written in tables."""
    memories = [world.machine.memories[index].ticks for index in world.tracked]
    clocks = [limit for dimension in world.dimensions for limit in dimension.limits]
    rows = [world.layout.caps[at] for at in world.layers]
    turns = [len(turns) for turns in world.age_turns.values()]
    turns += [max(map(len, world.layout.thresholds[at])) for at in world.layers]
    bits = len(memories) + sum((2 * most + 2).bit_length() for most in turns)
    return bits <= MOST_BITS and sum((*memories, *clocks, *map(sum, rows), *map(max, rows))) <= MOST_VALUES


class Tables:
    """The places of a world as rows of numbers, and what is known of what follows them.  ``views`` are all that were come across."""

    def __init__(self, world: FreeWorld) -> None:
        self.world = world
        self.views: list[View] = []
        self._counted = _Counted.of(world)
        self.counts = counts = self._counted.counts
        self._cores: list[CoreKey] = []
        self._rests: list[_Rest] = []
        self._core_numbers = dict[CoreKey, int]()
        self._rest_numbers = dict[_Rest, int]()
        self._view_numbers = dict[View, int]()
        self._cores_after = dict[tuple[int, tuple[object, ...]], tuple[int, tuple[int, ...]]]()
        self._rests_after = dict[tuple[int, News], int]()
        self._read, self._view, self._begin = Column(), Column(), Column()
        self._ways = Column(CHOICES + len(counts.radix))
        self._begin.add(0)
        self._known, self._new = dict[tuple[int, int], int](), list[tuple[int, int, int]]()
        self._keys, self._values = np.zeros((64, 2), np.int64), np.full(64, -1)
        self._staying = Column(self._counted.stays)

    @classmethod
    def of(cls, world: FreeWorld) -> Self | None:
        """The tables of a world; None where it counts too much, or for too long."""
        return cls(world) if _can_be_counted(world) else None

    @property
    def cases(self) -> list[int]:
        """The number of the view of each case."""
        numbers: list[int] = self._view.array[: self._view.count].tolist()
        return numbers

    @cached_property
    def alike(self) -> np.ndarray:
        """For each value of each count, where :attr:`Counts.kinds` has it, the least that shows the same for as long as a stay is
        short, whatever happens."""
        counts, caps = self.counts, self.world.layout.caps
        found = np.zeros(len(counts.kinds), np.int64)
        for count in range(len(counts.radix) - self._counted.stays):
            width, offset, start = counts.width[count], counts.offset[count], counts.kind[count]
            values = int(counts.radix[count])
            steps = counts.steps[offset : offset + values * width].reshape(values, width)
            found[start : start + values] = self._alike(counts.kinds[start : start + values], steps)
        for at, starts in zip(self.world.layers, self._counted.staying):
            for start, cap in zip(starts, caps[at]):
                steps = np.minimum(np.arange(1, cap + 2), cap)[:, None]
                found[start : start + cap + 1] = self._alike(counts.kinds[start : start + cap + 1], steps)
        return found

    def _alike(self, kinds: np.ndarray, steps: np.ndarray) -> np.ndarray:
        """Of values of such kinds, after each of which one of some values comes, the least that are alike."""
        _, sorts = np.unique(kinds, return_inverse=True)
        for _ in range(self.world.machine.window):
            told = np.column_stack([sorts, sorts[steps]])
            _, finer = np.unique(told, axis=0, return_inverse=True)
            if finer.max() == sorts.max():
                break
            sorts = finer
        _, least = np.unique(sorts, return_index=True)
        found: np.ndarray = least[sorts]
        return found

    @property
    def width(self) -> int:
        """How many numbers a row has."""
        return 3 + int(self.counts.word.max(initial=0))

    def row_of(self, place: Place) -> list[int]:
        """A place as numbers."""
        core, counts = self._uncounted(place.core.key)
        row = [core, self._rest_of(place.past)] + [0] * (self.width - 2)
        for count, word, shift in zip(
            (*place.past.counters, *counts), self.counts.word.tolist(), self.counts.shift.tolist()
        ):
            row[2 + word] |= count << shift
        return row

    def place_of(self, row: np.ndarray) -> Place:
        """The place that a row says."""
        core, rest = row[:2].tolist()
        counts, memories, key = self._shown(row), self._counted.memories, self._cores[core]
        parts, stays, at = list(key.parts), list(key.stays), memories
        for number, dimension in enumerate(self.world.dimensions):
            limits = dimension.limits
            if limits:
                shown = (NEVER if age == limit else age for age, limit in zip(counts[at:], limits))
                parts[number] = dimension.showing(tuple(shown))
                at += len(limits)
        for layer, stay in zip(self.world.layers, counts[at:]):
            stays[layer] = stay
        past = self.world.pool.past(tuple(counts[:memories]), *self._rests[rest])
        return self.world.pool.core(CoreKey(key.states, tuple(stays), tuple(parts))).after(past)

    def learn(self, row: np.ndarray) -> None:
        """Find out what follows the place that a row says."""
        world, place, counts = self.world, self.place_of(row), self.counts
        moved, shown = world.move(place), self._shown(row)
        view, (core, rest) = moved.view, row[:2].tolist()
        kinds = [*counts.kind.tolist(), *self._staying.array[core].tolist()]
        bits = sum(counts.kinds[[kind + value for kind, value in zip(kinds, shown)]].tolist())
        stand = self._stand(core, bits & int(counts.told[0]), view)
        key = CASE | stand * RESTS | rest, bits & int(self._read.array[stand])
        if key in self._known:
            return
        ways = list[tuple[int, ...]]()
        for position, outcome in enumerate(world.outcomes(view)):
            to, then = (stand, world.does(view.held, outcome)), (rest, outcome.news)
            if to not in self._cores_after or then not in self._rests_after:
                after = world.after(place, moved, outcome)
                self._rests_after[then] = self._rest_of(after.past)
                core_after, later = self._uncounted(after.core.key)
                clocks = slice(self._counted.memories, len(shown) - self._counted.stays)
                moves = map(_move, shown[clocks], later, counts.radix[clocks].tolist())
                stays = (self._stayed(view, outcome, number) for number in range(self._counted.stays))
                self._cores_after[to] = core_after, (*moves, *stays)
            core_after, choices = self._cores_after[to]
            trust = min(MOST_TRUST, *map(world.trust, world.boxes(view, position)))
            ways.append((trust, position, core_after, self._rests_after[then], *outcome.news.operands, *choices))
        for way in sorted(ways):
            self._ways.add(way)
        self._begin.add(self._ways.count)
        if view not in self._view_numbers:
            self._view_numbers[view] = len(self.views)
            self.views.append(view)
        self._note(*key, self._view.add(self._view_numbers[view]))

    def facts(self) -> Facts:
        """All that is known."""
        if 2 * len(self._known) > len(self._values):
            room = 4 * len(self._values)
            self._keys, self._values = np.zeros((room, 2), np.int64), np.full(room, -1)
            self._new = [(*key, value) for key, value in self._known.items()]
        if self._new:
            note(self._keys, self._values, np.array(self._new, np.int64))
            self._new = []
        columns = self._staying, self._read, self._view, self._begin, self._ways
        arrays = *(one.array for one in columns), self._keys, self._values
        return Facts(self.counts, *arrays)

    def _shown(self, row: np.ndarray) -> list[int]:
        """What the counts of a row show."""
        counts = self.counts
        shown: list[int] = (row[2 + counts.word] >> counts.shift & counts.mask).tolist()
        return shown

    def _note(self, one: int, two: int, value: int) -> None:
        self._known[one, two] = value
        self._new.append((one, two, value))

    def _uncounted(self, key: CoreKey) -> tuple[int, list[int]]:
        """The number of a core without its clocks and stays, and what these show."""
        parts, counts, layers = list(key.parts), list[int](), self.world.layers
        for number, dimension in enumerate(self.world.dimensions):
            limits = dimension.limits
            if limits:
                counts += map(min, dimension.clocks(parts[number]), limits)
                parts[number] = ()
        counts += [key.stays[at] for at in layers]
        without = CoreKey(key.states, (0,) * len(key.stays), tuple(parts))
        number = self._core_numbers.setdefault(without, len(self._cores))
        if number == len(self._cores):
            self._cores.append(without)
            self._staying.add([kinds[key.states[at]] for at, kinds in zip(layers, self._counted.staying)])
        return number, counts

    def _stayed(self, view: View, outcome: Outcome, number: int) -> int:
        """What the stay of a layer of the slice does: it begins, or time stands still, or it goes on."""
        layer = self.world.layers[number]
        if outcome.fired[layer] >= 0:
            return 0
        return 1 if view.frozen else self._counted.going_on[number][view.states[layer]]

    def _stand(self, core: int, kinds: int, view: View) -> int:
        """The number of where a core stands with clocks of such kinds."""
        key = STAND | core, kinds
        if key not in self._known:
            self._note(*key, self._read.add(sum(one << at for at, one in enumerate(self.world.read_in(view.states)))))
        return self._known[key]

    def _rest_of(self, past: Past) -> int:
        rest = past.held, past.waits, past.near
        if rest not in self._rest_numbers:
            self._rest_numbers[rest] = len(self._rests)
            self._rests.append(rest)
        return self._rest_numbers[rest]


def _move(before: int, after: int, values: int) -> int:
    """What a clock with so many values did: it ran on, was set to 0, or does not run."""
    return 0 if after == min(before + 1, values - 1) else 1 if after == 0 else 2


def _packed(radix: list[int]) -> tuple[list[int], list[int], list[int]]:
    """The word of a row that each count is in, its shift there, and the mask of its bits."""
    words, shifts, masks, end = list[int](), list[int](), list[int](), 0
    for bits in ((values - 1).bit_length() for values in radix):
        fits = words and end + bits <= WORD
        shifts.append(end if fits else 0)
        words.append((words[-1] if fits else words[-1] + 1) if words else 0)
        masks.append((1 << bits) - 1)
        end = shifts[-1] + bits
    return words, shifts, masks
