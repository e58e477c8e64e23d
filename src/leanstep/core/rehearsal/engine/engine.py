"""The compiled engine as the rest of the program sees it: situations in, situations out."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import cached_property
from itertools import accumulate
from os import cpu_count

import numpy as np

from leanstep.core.body.body_state import BodyState, placed
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.graph.machine import Machine
from leanstep.core.graph.tick_state import Fade
from leanstep.core.rehearsal.engine.playing import play, play_many
from leanstep.core.rehearsal.engine.stepping import enter_all
from leanstep.core.rehearsal.engine.tables import Laid
from leanstep.core.rehearsal.situation import Glimpse, Setting, Situation
from leanstep.core.tick.codes import BEARING, CHOICE, KINDS
from leanstep.core.tick.effects import TOLD, TOLD_SIZE
from leanstep.core.tick.places import NOW, PLAYER

Rows = tuple[np.ndarray, np.ndarray]
"""A situation as its counts and its values."""


@dataclass(frozen=True)
class Part:
    """What happened on some ticks, one row each; by tick, ``marks`` are (layer, name) and ``fired_in`` what each fired in, as in
    :class:`~leanstep.core.rehearsal.situation.Step`."""

    counts: np.ndarray
    values: np.ndarray
    fired: np.ndarray
    marks: dict[int, tuple[tuple[int, str], ...]]
    fired_in: dict[int, tuple[tuple[int, int, int], ...]]


@dataclass(frozen=True)
class Batch:
    """How takes end, one row each, and on which tick each first enters a state or takes a transition (-1: never), by their
    number among those of all layers."""

    counts: np.ndarray
    values: np.ndarray
    entered: np.ndarray
    taken: np.ndarray


class Engine:
    """Plays a machine.  In the free world (``free``) the body's parameters come with the inputs.

    Raises
    ------
    Unfit : some number of the machine is too large for the tables.
    """

    def __init__(self, machine: Machine, free: bool = False) -> None:
        self.machine = machine
        self.free = free
        self.laid = machine.once(Laid, lambda: Laid(machine))
        self._kinds = [KINDS.index(symbol.kind) for symbol in machine.symbols]
        self.bases = tuple(accumulate((len(layer.states) for layer in machine.layers), initial=0))
        """The row of each layer's first state."""

    @cached_property
    def first(self) -> Rows:
        """The rows of the situation just before tick 0."""
        laid, machine = self.laid, self.machine
        at = laid.head
        counts, values = np.zeros(laid.counts[0], np.int64), np.zeros(laid.values[0])
        values[at.place :] = placed(machine.character.body, machine.character.course).row
        z, v = self.moving((counts, values))
        enter_all(laid.tables, z, v)
        return z[: len(counts)], v[: len(values)]

    def moving(self, rows: Rows) -> Rows:
        """Copies of a situation's rows, with room for what is only known on the tick."""
        z, v = np.zeros(self.laid.counts[1], np.int64), np.zeros(self.laid.values[1])
        z[: len(rows[0])], v[: len(rows[1])] = rows
        return z, v

    def changes(self, changes: Iterable[Setting]) -> Rows:
        """Changes as arrays: (tick, symbol) and the values."""
        some = list(changes)
        places = np.array([(tick, symbol) for tick, symbol, _ in some], np.int64).reshape(-1, 2)
        return places, np.array([self.laid.coded(value) for _, _, value in some], np.float64)

    def play(self, due: Rows, ticks: int, start: Rows | None = None, until: int = -1) -> Part:
        """Play ``ticks`` ticks from ``start`` on, with changes in the order of their ticks, or up to the first on which layer
        ``until`` takes a transition."""
        start = start or self.first
        room = 2 * ticks + 16
        while True:
            told = np.zeros(TOLD + TOLD_SIZE * room, np.int64)
            told[1] = room
            counts, values = np.empty((ticks, len(start[0])), np.int64), np.empty((ticks, len(start[1])))
            fired = np.empty((ticks, len(self.machine.layers)), np.int64)
            done = play(self.laid.tables, self.moving(start), told, self.free, until, due, (counts, values, fired))
            if told[0] <= room:
                return Part(counts[:done], values[:done], fired[:done], *self._marks(told))
            room = int(told[0])

    def play_many(self, takes: Sequence[tuple[Sequence[Setting], int]]) -> Batch:
        """Play takes of (changes, ticks), each from the start, on every core."""
        due = self.changes(change for changes, _ in takes for change in changes)
        ends = list(accumulate((len(changes) for changes, _ in takes), initial=0))
        rows = np.array([(ticks, *ends[at : at + 2]) for at, (_, ticks) in enumerate(takes)], np.int64).reshape(-1, 3)
        layers = self.machine.layers
        ways = np.cumsum([0, *(layer.count for layer in layers)])
        made = Batch(
            np.empty((len(takes), len(self.first[0])), np.int64),
            np.empty((len(takes), len(self.first[1]))),
            np.empty((len(takes), self.bases[-1]), np.int64),
            np.empty((len(takes), ways[-1]), np.int64),
        )

        def some(part: slice) -> None:
            out = (made.counts[part], made.values[part], made.entered[part], made.taken[part])
            play_many(self.laid.tables, self.moving(self.first), self.free, self.first, rows[part], due, ways, out)

        size = -(-len(takes) // (cpu_count() or 1)) or 1
        with ThreadPoolExecutor() as pool:
            list(pool.map(some, [slice(at, at + size) for at in range(0, len(takes), size)]))
        return made

    def _marks(
        self, told: np.ndarray
    ) -> tuple[dict[int, tuple[tuple[int, str], ...]], dict[int, tuple[tuple[int, int, int], ...]]]:
        """The marks that fired and what each fired in, by tick."""
        laid = self.laid
        names, fired_in = dict[int, tuple[tuple[int, str], ...]](), dict[int, tuple[tuple[int, int, int], ...]]()
        rows = told[TOLD : TOLD + TOLD_SIZE * told[0]].reshape(-1, TOLD_SIZE).tolist()
        for tick, layer, name, cue, state, pick in rows:
            names[tick] = (*names.get(tick, ()), (layer, laid.marks[name]))
            where = (state - self.bases[layer], pick, cue - laid.first_cue(state, pick))
            fired_in[tick] = (*fired_in.get(tick, ()), where)
        return names, fired_in

    def glimpses(self, changes: Iterable[Setting], ticks: int, start: Rows) -> Iterator[Glimpse]:
        """Play as :meth:`play` does, and look at every tick."""
        part = self.play(self.changes(changes), ticks, start)
        return (self._glimpse(part, row) for row in range(len(part.fired)))

    def states(self, layer: int, changes: Iterable[Setting], ticks: int, start: Rows) -> list[int]:
        """Play as :meth:`play` does; the state of a layer after every tick."""
        return self.states_in(self.play(self.changes(changes), ticks, start).counts, layer)

    def last(self, layer: int, changes: Iterable[Setting], ticks: int, start: Rows) -> tuple[int, int]:
        """Play as :meth:`play` does; the state of a layer before the last tick and the transition it takes on it."""
        part = self.play(self.changes(changes), ticks, start)
        before = part.counts[-2] if ticks > 1 else start[0]
        return self.states_in(before[np.newaxis], layer)[0], int(part.fired[-1, layer])

    def states_in(self, counts: np.ndarray, layer: int) -> list[int]:
        """The state of a layer in each row of counts."""
        states: list[int] = (counts[:, len(NOW) + layer * len(PLAYER) + PLAYER.state] - self.bases[layer]).tolist()
        return states

    def until(self, layer: int, changes: Iterable[Setting], ticks: int, start: Rows) -> Glimpse:
        """Play up to the first tick on which a layer (-1: none) takes a transition, and look at the last one."""
        part = self.play(self.changes(changes), ticks, start, layer)
        return self._glimpse(part, len(part.fired) - 1)

    def counters(self, rows: Rows) -> tuple[int, ...]:
        """The memories' counters of a situation."""
        return tuple(rows[0][self.laid.head.counters : self.laid.head.ages].tolist())

    def _glimpse(self, part: Part, row: int) -> Glimpse:
        z, v = part.counts[row].tolist(), part.values[row].tolist()
        places = range(len(NOW), self.laid.head.counters, len(PLAYER))
        return Glimpse(
            tuple([z[at + PLAYER.state] - base for at, base in zip(places, self.bases)]),
            tuple([z[at + PLAYER.stay] for at in places]),
            self.symbolic(v),
            self._body(v),
            tuple(part.fired[row].tolist()),
            z[NOW.tick],
            (part.counts[row].copy(), part.values[row].copy()),
        )

    def _body(self, v: list[float]) -> BodyState:
        return BodyState.of(v[self.laid.head.place :])

    def situation(self, counts: np.ndarray, values: np.ndarray) -> Situation:
        """A situation from its rows."""
        z, v, at, machine = counts.tolist(), values.tolist(), self.laid.head, self.machine
        players = [z[first : first + len(PLAYER)] for first in range(len(NOW), at.counters, len(PLAYER))]
        each = list(zip(*players)) if players else [()] * len(PLAYER)
        fades = tuple(
            Fade(
                one[PLAYER.fade_state] - base,
                one[PLAYER.fade_pick],
                one[PLAYER.fade_head],
                one[PLAYER.fade_left],
                bool(one[PLAYER.fade_blocks]),
            )
            if one[PLAYER.fade_left] >= 0
            else None
            for one, base in zip(players, self.bases)
        )
        return Situation(
            tuple(one - base for one, base in zip(each[PLAYER.state], self.bases)),
            each[PLAYER.stay],
            each[PLAYER.head],
            each[PLAYER.pick],
            tuple(map(bool, each[PLAYER.over])),
            fades,
            self.counters((counts, values)),
            tuple((button, age) for (button, _), age in zip(machine.buffers, z[at.ages : at.since]) if age >= 0),
            tuple((*place, age) for (place, _), age in zip(machine.clocks, z[at.since : at.held]) if age >= 0),
            frozenset(index for index, on in enumerate(z[at.held : at.raised]) if on),
            self.symbolic(v),
            frozenset(index for index, on in enumerate(z[at.raised : at.locks]) if on),
            sum(on << lock for lock, on in enumerate(z[at.locks :])),
            bool(z[NOW.locked]),
            z[NOW.freeze],
            self._body(v),
            z[NOW.tick],
        )

    def rows(self, situation: Situation) -> Rows:
        """The rows of a situation that a machine like this one was in."""
        laid, machine, at = self.laid, self.machine, self.laid.head
        counts, values = np.zeros(laid.counts[0], np.int64), np.zeros(laid.values[0])
        counts[: len(NOW)] = (situation.tick, situation.locked, situation.freeze)
        for layer in range(len(machine.layers)):
            place, fade, base = len(NOW) + layer * len(PLAYER), situation.fades[layer], self.bases[layer]
            gone = (
                (base + fade.state, fade.pick, fade.playhead, fade.left, fade.blocks)
                if fade is not None
                else (0, 0, 0, -1, 0)
            )
            counts[place : place + len(PLAYER)] = (
                base + situation.states[layer],
                situation.stays[layer],
                situation.playheads[layer],
                situation.picks[layer],
                situation.overs[layer],
                *gone,
            )
        counts[at.counters : at.ages] = situation.counters
        ages, left = dict(situation.ages), {place[:2]: place[2] for place in situation.since}
        counts[at.ages : at.since] = [ages.get(button, -1) for button, _ in machine.buffers]
        counts[at.since : at.held] = [left.get(place, -1) for place, _ in machine.clocks]
        for index in situation.held:
            counts[at.held + index] = 1
        for index in situation.raised:
            counts[at.raised + index] = 1
        for lock in range(len(machine.locks)):
            counts[at.locks + lock] = situation.locks >> lock & 1
        values[: at.place] = [laid.coded(value) for value in situation.values]
        values[at.place :] = situation.body.row
        return counts, values

    def symbolic(self, values: list[float]) -> tuple[Symbolic, ...]:
        """The symbols' values from a row of numbers."""
        return tuple(map(self._value, self._kinds, values))

    def _value(self, kind: int, number: float) -> Symbolic:
        if kind <= BEARING:
            return number
        return self.laid.word(number) if kind == CHOICE else number != 0.0
