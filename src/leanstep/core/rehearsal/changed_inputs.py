"""What would have had to be done otherwise: the smallest change of a take's inputs that is found to lead into a state."""

from __future__ import annotations

import dataclasses
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations

from msgspec.structs import replace

from leanstep.core.character.takes import Expectation, Take
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.conditions.expression import Symbol
from leanstep.core.graph.costumes import only_worn
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.comparing.words import value_words
from leanstep.core.rehearsal.step_trace import gathered
from leanstep.core.rehearsal.takes import from_outside, inputs_of, recorded, rehearse
from leanstep.core.rehearsal.traces import Player, Trace, player_of
from leanstep.core.wording import counted, listed
from leanstep.core.work import look

BACK, AHEAD, EARLY = 90, 30, 15
"""Ticks before the one that is asked about in which something may be changed, after it in which the state is waited for, and
before it in which coming there counts."""
MOST_RUNS = 1200
"""Changes that are tried."""
STARTS = (0, -1, -3, -6, -12, -25, -50, -85)
LENGTHS = (1, 3, 8, 20, 60)
"""When a change begins, from the tick that is asked about, and for how many ticks it holds."""
SECOND_STARTS, SECOND_LENGTHS = (0, -6, -25), (3, 20, 60)
"""The same where two things are changed."""


@dataclass(frozen=True)
class Bar:
    """A symbol that has another value from tick ``start`` up to but not including ``end``."""

    symbol: Symbol
    index: int
    value: Symbolic
    start: int
    end: int

    @property
    def words(self) -> str:
        """What is to be done, in words."""
        when = f"from tick {self.start} for {counted(self.end - self.start, 'tick')}"
        if self.symbol.kind == "button":
            return f"{self.symbol.name} {'held' if self.value else 'let go of'} {when}"
        if self.symbol.momentary:
            return f"{self.symbol.name} on tick {self.start}"
        if self.symbol.countdown:
            return f"{self.symbol.name} given as {value_words(self.value)} on tick {self.start}"
        return f"{self.symbol.name} at {value_words(self.value)} {when}"


@dataclass(frozen=True)
class Changed:
    """A take that comes to the state, on tick ``tick``, and what is other in it."""

    take: Take
    tick: int
    bars: tuple[Bar, ...]

    @property
    def sentence(self) -> str:
        """What gets there, in words."""
        if not self.bars:
            return f"It gets there on tick {self.tick} as it is"
        return f"{listed([bar.words for bar in self.bars])} gets there on tick {self.tick}"


def smallest_change(
    trace: Trace, take: Take, tick: int, layer: int, wanted: int, runs: int = MOST_RUNS
) -> Changed | None:
    """The smallest change that is found to lead into a state about a tick of a take: of one thing before two, for as short as it may
    be.  None where none is found within ``runs``; that proves nothing."""
    return _Search(trace, take, tick, layer, wanted).find(runs)


class _Search:
    def __init__(self, trace: Trace, take: Take, tick: int, layer: int, wanted: int) -> None:
        self.machine: Machine = trace.machine
        self.trace, self.take, self.tick, self.layer, self.wanted = trace, take, tick, layer, wanted
        self.begin = max(0, tick - BACK)
        self.rows = self._full(tick + AHEAD)
        self.idle = only_worn(self.machine)
        self.player: Player = player_of(self.machine, take.world == "free")
        # ticks of a trace are counted from where it begins
        self.start = dataclasses.replace(trace.after(self.begin), tick=0)
        self.runs = 0

    def find(self, runs: int) -> Changed | None:
        if self._reaches(()) is not None:
            return self._made(())
        for bars in self._changes():
            if self.runs >= runs:
                return None
            if self._reaches(bars) is not None:
                return self._made(self._shortened(bars))
        return None

    def _changes(self) -> Iterator[tuple[Bar, ...]]:
        """One thing, what hands do before what the game does, then two."""
        for one in sorted(self._bars(STARTS, LENGTHS), key=lambda bar: bar.symbol.owner != "controls"):
            yield (one,)
        for one, other in combinations(self._bars(SECOND_STARTS, SECOND_LENGTHS), 2):
            if one.index != other.index:
                yield one, other

    def _full(self, ticks: int) -> list[dict[int, Symbolic]]:
        """What comes from outside on every tick, what is kept, too; beyond the take's end its last goes on."""
        rows: list[dict[int, Symbolic]] = []
        given = inputs_of(self.machine, self.take)
        now = {
            at: self.trace.first.values[at]
            for at, one in enumerate(self.machine.symbols)
            if self._outside(at, one) and one.lasts
        }
        for tick in range(ticks + 1):
            new = given[tick] if tick < len(given) else {}
            now |= {at: value for at, value in new.items() if self.machine.symbols[at].lasts}
            rows.append(now | new)
        return rows

    def _outside(self, at: int, one: Symbol) -> bool:
        return one.free and from_outside(self.machine, at, self.take.world)

    def _bars(self, starts: Sequence[int], lengths: Sequence[int]) -> Iterator[Bar]:
        """What may be done otherwise, shortest first, and of those nearest first."""
        for length in lengths:
            for offset in starts:
                start = self.tick + offset
                if start < self.begin or start >= len(self.rows):
                    continue
                for at, one in enumerate(self.machine.symbols):
                    if at in self.idle or not self._outside(at, one) or (not one.lasts and length > 1):
                        continue
                    for value in other_values(one, self.rows[start].get(at, one.rest)):
                        yield Bar(one, at, value, start, min(start + length, len(self.rows)))

    def _changed(self, bars: Sequence[Bar]) -> list[dict[int, Symbolic]]:
        rows = list(self.rows)
        for bar in bars:
            for tick in range(bar.start, bar.end):
                rows[tick] = {**rows[tick], bar.index: bar.value}
        return rows

    def _reaches(self, bars: Sequence[Bar]) -> int | None:
        """The tick on which the state is entered about the one that was asked about; None where it is not."""
        look()
        self.runs += 1
        rows = self._changed(bars)[self.begin :]
        played = self.player.trace(self.start)
        for _ in played.playing(gathered(self.machine, rows), len(rows)):
            pass
        return self._entered(played, self.begin, bars)

    def _entered(self, played: Trace, begin: int, bars: Sequence[Bar]) -> int | None:
        """The tick on which the state is entered, once something is other."""
        first = max(self.tick - EARLY, min((bar.start for bar in bars), default=self.tick))
        for tick, state in played.entries(self.layer):
            if state == self.wanted and first <= tick + begin <= self.tick + AHEAD:
                return tick + begin
        return None

    def _shortened(self, bars: tuple[Bar, ...]) -> tuple[Bar, ...]:
        """The same change for as short as it may be."""
        for number in range(len(bars)):
            step = bars[number].end - bars[number].start
            while step > 1:
                step = (step + 1) // 2
                one = bars[number]
                if one.end - step > one.start:
                    shorter = (*bars[:number], _shorter(one, step), *bars[number + 1 :])
                    if self._reaches(shorter) is not None:
                        bars, step = shorter, shorter[number].end - shorter[number].start
        return bars

    def _made(self, bars: tuple[Bar, ...]) -> Changed | None:
        """The change as a take of its own, which is played to see that it gets there."""
        tick = self._reaches(bars)
        name = self.machine.layers[self.layer].states[self.wanted]
        if tick is None:
            return None
        start = self.trace.first if self.take.begins is not None else None
        rows = self._changed(bars)[: tick + 10]
        made = recorded(self.machine, f"to {name}", rows, self.take.world, start)
        expects = Expectation(what="enter", name=name, layer=self.machine.layers[self.layer].name if self.layer else "")
        made = replace(made, expects=(expects,))
        found = self._entered(rehearse(self.machine, made), 0, bars)
        return None if found is None else Changed(made, found, bars)


def other_values(one: Symbol, now: Symbolic) -> Iterable[Symbolic]:
    """The values worth trying in place of the one it has."""
    if one.kind in ("button", "flag", "pulse"):
        return (not now,)
    if one.kind == "choice":
        return (choice for choice in one.choices if choice != now)
    return (value for value in dict.fromkeys((one.high, one.low, one.rest)) if value != now)


def _shorter(bar: Bar, ticks: int) -> Bar:
    return Bar(bar.symbol, bar.index, bar.value, bar.start, bar.end - ticks)
