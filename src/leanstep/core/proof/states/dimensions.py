"""The dimensions of a situation but for active states and stays, which every situation has, and for its past (``places``)."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Hashable, Mapping, Sequence
from typing import Self

from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import NEVER, Symbolic
from leanstep.core.graph.tick_state import Fade, TickState
from leanstep.core.proof.reduce.observables import AgeKey, Layout
from leanstep.core.proof.states.dimension import Dimension


class Playheads(Dimension):
    """Where clips are, and whether they were over, in the states in which something reads that.  Elsewhere it follows from the
    stay, or is not followed."""

    def __init__(self, layout: Layout) -> None:
        self.layout = layout
        self.heads = [(at, heads) for at, heads in layout.heads.items() if any(heads)]

    @classmethod
    def of(cls, layout: Layout) -> Self:
        return cls(layout)

    def part(self, now: TickState) -> tuple[tuple[int, bool], ...]:
        return tuple(
            [(now.playheads[at], now.over[at]) if heads[now.states[at]] else (0, False) for at, heads in self.heads]
        )

    seen = part

    def restore(self, part: tuple[tuple[int, bool], ...], now: TickState) -> None:
        for at, state in enumerate(now.states):
            picture = now.machine.pictures[at][state]
            if picture is not None:
                timing = picture.common.timing
                now.loops[at] = timing.repeats
                if picture.followed:
                    now.lengths[at] = timing.length
                    now.playheads[at], now.over[at] = timing.step(0, now.stays[at] << 16)
        for (at, heads), head in zip(self.heads, part):
            if heads[now.states[at]]:
                now.playheads[at], now.over[at] = head

    def decides(self, atom: x.Expression) -> bool:
        return isinstance(atom, x.SpanOn) and not any(
            picture is not None and (atom.name in picture.varying if picture.followed else atom.name in picture.spans)
            for layer in self.layout.layers
            for picture in self.layout.machine.pictures[layer]
        )

    def frame(self) -> Hashable:
        return tuple(self.layout.machine.pictures[layer] for layer in self.layout.layers)


class Blocks(Dimension):
    """The ticks for which crossfades still hold their layers.  Those that may be interrupted are only seen."""

    def __init__(self, layers: tuple[int, ...]) -> None:
        self.layers = layers

    @classmethod
    def of(cls, layout: Layout) -> Self | None:
        tables = layout.machine.layers
        holding = any(way.blocks for at in layout.layers for row in tables[at].ways for way in row)
        return cls(layout.layers) if holding else None

    def part(self, now: TickState) -> tuple[int, ...]:
        fades = (now.fades[at] for at in self.layers)
        return tuple([fade.left if fade is not None and fade.blocks else 0 for fade in fades])

    def restore(self, part: tuple[int, ...], now: TickState) -> None:
        for at, left in zip(self.layers, part):
            if left:
                now.fades[at] = Fade(0, 0, 0, left, True)


class _Since(Dimension):
    """How long ago something was, as far as a condition can tell."""

    def __init__(self, layout: Layout, most: Sequence[tuple[AgeKey, int]]) -> None:
        self.most = tuple(most)
        self.turns = {key: layout.age_turns[key] for key, _ in most}

    def frame(self) -> Hashable:
        return self.most, tuple(self.turns.values())

    def classed(self, key: AgeKey, age: int) -> int:
        """An age, rounded down to where something last began to read differently."""
        turns = self.turns[key]
        at = bisect_right(turns, age)
        return turns[at - 1] if at else 0

    def kept(self, ages: Mapping[int, int] | Mapping[tuple[int, int], int]) -> tuple[tuple[AgeKey, int], ...]:
        """The ages that count, in order."""
        return tuple(sorted([one for one in ages.items() if one[0] in self.turns])) if ages else ()

    @property
    def limits(self) -> tuple[int, ...]:
        return tuple(limit for _, limit in self.most)

    def clocks(self, part: tuple[tuple[AgeKey, int], ...]) -> tuple[int, ...]:
        known = dict(part)
        return tuple(known.get(key, NEVER) for key in self.turns)

    def showing(self, clocks: tuple[int, ...]) -> Hashable:
        return tuple([(key, age) for key, age in zip(self.turns, clocks) if age != NEVER])

    def class_of(self, number: int, age: int) -> int:
        return -1 if age == NEVER else self.classed(self.most[number][0], age + 1)


class Presses(_Since):
    """How long ago buttons were pressed whose presses are still unused."""

    @classmethod
    def of(cls, layout: Layout) -> Self | None:
        return cls(layout, layout.machine.buffers) if layout.machine.buffers else None

    def part(self, now: TickState) -> Hashable:
        return self.kept(now.ages)

    def restore(self, part: tuple[tuple[int, int], ...], now: TickState) -> None:
        now.ages.update(part)

    def seen(self, now: TickState) -> Hashable:
        # they grow older when it is known whether the button is pressed again
        return tuple([(key, self.classed(key, age + 1)) for key, age in self.kept(now.ages)])

    def decides(self, atom: x.Expression) -> bool:
        return isinstance(atom, x.Buffered) and atom.symbol in self.turns


class Leavings(_Since):
    """How long ago states were left."""

    @classmethod
    def of(cls, layout: Layout) -> Self | None:
        return cls(layout, layout.machine.clocks) if layout.machine.clocks else None

    def part(self, now: TickState) -> Hashable:
        return self.kept(now.since)

    def restore(self, part: tuple[tuple[tuple[int, int], int], ...], now: TickState) -> None:
        now.since.update(part)

    def seen(self, now: TickState) -> Hashable:
        return tuple([(key, self.classed(key, age)) for key, age in self.kept(now.since)])

    def class_of(self, number: int, age: int) -> int:
        # what is forgotten on the tick is not seen any more
        return -1 if age + 1 >= self.most[number][1] else super().class_of(number, age)

    def decides(self, atom: x.Expression) -> bool:
        return isinstance(atom, x.SinceLeft) and (atom.layer, atom.state) in self.turns


class Values(Dimension):
    """The values of the graph's parameters that are read, those of pulses as far as they were raised."""

    def __init__(self, layout: Layout) -> None:
        symbols = layout.machine.symbols
        self.symbols = layout.slice.values
        self.pulses = frozenset(index for index in self.symbols if symbols[index].momentary)

    @classmethod
    def of(cls, layout: Layout) -> Self | None:
        return cls(layout) if layout.slice.values else None

    def part(self, now: TickState) -> tuple[tuple[Symbolic, ...], frozenset[int]]:
        return tuple([now.values[index] for index in self.symbols]), self.pulses.intersection(now.raised)

    def restore(self, part: tuple[tuple[Symbolic, ...], frozenset[int]], now: TickState) -> None:
        values, raised = part
        for index, value in zip(self.symbols, values):
            now.values[index] = (index in raised) if index in self.pulses else value

    def seen(self, now: TickState) -> Hashable:
        return tuple([now.values[index] for index in self.symbols])

    def frame(self) -> Hashable:
        return self.symbols

    def value(self, part: tuple[tuple[Symbolic, ...], frozenset[int]], symbol: int) -> Symbolic:
        """The value of one of the parameters in a part."""
        return part[0][self.symbols.index(symbol)]


class Locks(Dimension):
    """The named locks in force, as bits."""

    @classmethod
    def of(cls, layout: Layout) -> Self | None:
        return cls() if layout.machine.locks else None

    def part(self, now: TickState) -> int:
        return now.locks

    def restore(self, part: int, now: TickState) -> None:
        now.locks = part


class Freeze(Dimension):
    """The ticks for which time still stands."""

    @classmethod
    def of(cls, layout: Layout) -> Self | None:
        return cls() if any(act.do == "freeze" for act in layout.slice.acts) else None

    def part(self, now: TickState) -> int:
        return now.freeze

    def restore(self, part: int, now: TickState) -> None:
        now.freeze = part


DIMENSIONS: tuple[type[Dimension], ...] = (
    Playheads,
    Blocks,
    Presses,
    Leavings,
    Values,
    Locks,
    Freeze,
)
"""All of them, in the order in which they are put into a moment."""
