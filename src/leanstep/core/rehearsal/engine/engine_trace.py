"""What a take did, kept as rows of numbers; steps are made of them when they are asked for."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING, overload

import numpy as np

from leanstep.core.body.body_state import BodyState
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.rehearsal.situation import Setting, Step

if TYPE_CHECKING:
    from leanstep.core.rehearsal.engine.engine import Engine, Part, Rows

PART = 1000
"""Ticks that are played at a time."""

KEPT = 20_000
"""Steps that are kept once made."""


class EngineTrace(Sequence[Step]):
    """A take as far as it has been played."""

    def __init__(self, engine: Engine, start: Rows | None = None) -> None:
        self.engine = engine
        self._first = start or engine.first
        self._parts: list[Part] = []
        self._starts: list[int] = []
        self._length = 0
        self._made: dict[int, Step] = {}

    def play(self, changes: Sequence[Setting], ticks: int) -> Iterator[int]:
        """Play a take of ``ticks`` ticks, yielding the ticks done."""
        places, values = self.engine.changes(changes)
        now = self._first
        here = slice(None)
        while self._length < ticks:
            if ticks > PART:
                here = slice(*np.searchsorted(places[:, 0], [self._length, self._length + PART]))
            part = self.engine.play((places[here], values[here]), min(PART, ticks - self._length), now)
            self._parts.append(part)
            self._starts.append(self._length)
            self._length += len(part.fired)
            now = part.counts[-1], part.values[-1]
            yield self._length

    def __len__(self) -> int:
        return self._length

    @overload
    def __getitem__(self, at: int) -> Step: ...

    @overload
    def __getitem__(self, at: slice) -> Sequence[Step]: ...

    def __getitem__(self, at: int | slice) -> Step | Sequence[Step]:
        if isinstance(at, slice):
            return [self[number] for number in range(*at.indices(self._length))]
        number = at + self._length if at < 0 else at
        if not 0 <= number < self._length:
            raise IndexError(f"there is no tick {at}")
        if number not in self._made:
            if len(self._made) >= KEPT:
                self._made.clear()
            self._made[number] = self._step(number)
        return self._made[number]

    def _step(self, tick: int) -> Step:
        part, row = self._where(tick)
        situation = self.engine.situation(part.counts[row], part.values[row])
        return Step(situation, tuple(part.fired[row].tolist()), part.marks.get(tick, ()), part.fired_in.get(tick, ()))

    def _where(self, tick: int) -> tuple[Part, int]:
        """The part a tick is in, and its row there."""
        which = bisect_right(self._starts, tick) - 1
        return self._parts[which], tick - self._starts[which]

    def taken(self, layer: int) -> list[int]:
        """The transition a layer takes on every tick, or -1."""
        return [one for part in self._parts for one in part.fired[:, layer].tolist()]

    def entries(self, layer: int) -> list[tuple[int, int]]:
        """On which ticks a transition of a layer is taken, and the state it leads to."""
        found: list[tuple[int, int]] = []
        for start, part in zip(self._starts, self._parts):
            ticks = np.flatnonzero(part.fired[:, layer] >= 0)
            found += zip((ticks + start).tolist(), self.engine.states_in(part.counts[ticks], layer))
        return found

    def values(self) -> Iterator[tuple[Symbolic, ...]]:
        """Every symbol's value, tick by tick; the same object where none has changed."""
        last: tuple[list[float], tuple[Symbolic, ...]] = [], ()
        for part in self._parts:
            for row in part.values[:, : len(self.engine.machine.symbols)].tolist():
                if row != last[0]:
                    last = row, self.engine.symbolic(row)
                yield last[1]

    def values_on(self, tick: int) -> tuple[Symbolic, ...]:
        """Every symbol's value on a tick."""
        part, row = self._where(tick)
        return self.engine.symbolic(part.values[row].tolist())

    def bodies(self) -> Iterator[BodyState]:
        """Where the body is, tick by tick."""
        place = self.engine.laid.head.place
        return (BodyState.of(row) for part in self._parts for row in part.values[:, place:].tolist())

    def marks(self) -> list[tuple[int, int, str]]:
        """Tick, layer and name of every mark that fires."""
        return [(tick, *mark) for part in self._parts for tick in sorted(part.marks) for mark in part.marks[tick]]

    def states(self, layer: int) -> list[int]:
        """A layer's active state after every tick."""
        return [state for part in self._parts for state in self.engine.states_in(part.counts, layer)]

    def moving(self, symbols: Sequence[int], since: int) -> list[int]:
        """Those of these symbols whose values change between a tick and the end."""
        kept = np.ones(len(self.engine.machine.symbols), np.bool_)
        if since < self._length:
            part, row = self._where(since)
            first = part.values[row, : len(kept)]
            for start, part in zip(self._starts, self._parts):
                kept &= (part.values[max(since - start, 0) :, : len(kept)] == first).all(axis=0)
        return [symbol for symbol in symbols if not kept[symbol]]

    def curve(self, symbol: int) -> list[float]:
        """A symbol's value as a number, tick by tick; choices by their number."""
        return [value for part in self._parts for value in part.values[:, symbol].tolist()]
