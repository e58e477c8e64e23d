"""What was played, tick by tick, in the fastest engine that can play it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import TYPE_CHECKING

from leanstep.core.body.body_state import BodyState
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.deforming import PLAIN, Deformed, after, at_start, deforms
from leanstep.core.rehearsal.engine.engine_trace import EngineTrace
from leanstep.core.rehearsal.engine.tables import Unfit
from leanstep.core.rehearsal.engine_readiness import is_ready
from leanstep.core.rehearsal.situation import Glimpse, Setting, Situation
from leanstep.core.rehearsal.step_trace import StepTrace
from leanstep.core.rehearsal.stepping import Stepper

if TYPE_CHECKING:
    from leanstep.core.rehearsal.engine.engine import Engine


FOLLOWED = 20_000
"""Ticks over which it is followed how a figure is drawn, unless said."""


@dataclass(frozen=True)
class Run:
    """A stretch of a ribbon: a state shown from tick ``start`` up to but not including ``end``."""

    state: int
    start: int
    end: int


@dataclass
class Trace:
    """What was played.  ``first`` is the situation before tick 0, ``steps[n]`` what tick n did."""

    machine: Machine
    first: Situation
    steps: EngineTrace | StepTrace
    followed: int = FOLLOWED
    _shapes: Shapes | None = field(default=None, repr=False)

    def playing(self, changes: Sequence[Setting], ticks: int) -> Iterator[int]:
        """Play from the start, with changes in the order of their ticks, yielding the ticks done."""
        return self.steps.play(changes, ticks)

    def after(self, ticks: int) -> Situation:
        """The situation after so many ticks."""
        return self.steps[ticks - 1].situation if ticks else self.first

    def deformed(self, tick: int) -> Deformed:
        """How the figure is drawn after a tick; what began longer ago than ``followed`` ticks is not looked for."""
        if not deforms(self.machine) or tick < 0:
            return PLAIN
        if self._shapes is None or not self._shapes.reaches(tick):
            self._shapes = Shapes(self, max(0, tick - self.followed))
        return self._shapes.at(tick)

    def values(self) -> Iterator[tuple[Symbolic, ...]]:
        """Every symbol's value, tick by tick."""
        return self.steps.values()

    def values_on(self, tick: int) -> tuple[Symbolic, ...]:
        """Every symbol's value on a tick."""
        return self.steps.values_on(tick)

    def bodies(self) -> Iterator[BodyState]:
        """Where the body is, tick by tick."""
        return self.steps.bodies()

    def marks(self) -> list[tuple[int, int, str]]:
        """Tick, layer and name of every mark that fires."""
        return self.steps.marks()

    def states(self, layer: int) -> list[int]:
        """A layer's active state after every tick."""
        return self.steps.states(layer)

    def entries(self, layer: int) -> list[tuple[int, int]]:
        """On which ticks a transition of a layer is taken, and the state it leads to."""
        return self.steps.entries(layer)

    def taken(self, layer: int) -> list[int]:
        """The transition a layer takes on every tick, by its place in the layer's list; -1 where it takes none."""
        return self.steps.taken(layer)

    def curve(self, index: int) -> list[float]:
        """A symbol's value on every tick as a number, a choice's by a number for each."""
        return self.steps.curve(index)

    def moving(self, indices: Sequence[int], since: int = 0) -> list[int]:
        """Those of these symbols whose values change between tick ``since`` and the end."""
        return self.steps.moving(indices, since)

    def ribbon(self, layer: int) -> list[Run]:
        """The stays of a layer over time.  A restart begins a new one; a state left on tick n is shown up to n."""
        runs: list[Run] = []
        state, start = self.first.states[layer], 0
        for tick, entered in self.entries(layer):
            if tick > start:
                runs.append(Run(state, start, tick))
            state, start = entered, tick
        runs.append(Run(state, start, len(self.steps)))
        return runs


class Shapes:
    """How the figure of a trace is drawn after the ticks from ``begin`` on, and after the one before, as far as that is worked out;
    what began earlier is not looked for."""

    def __init__(self, trace: Trace, begin: int) -> None:
        self.trace, self.begin = trace, begin
        self._known = [at_start(trace.machine, trace.after(begin))]

    def reaches(self, tick: int) -> bool:
        """Whether it can tell of a tick."""
        return tick >= self.begin - 1

    def grow(self, end: int, most: int) -> None:
        """Work out what follows, up to tick ``end``, but no more than ``most`` ticks."""
        next_one = self.begin + len(self._known) - 1
        for tick in range(next_one, min(end + 1, next_one + most)):
            now, step = self._known[-1], self.trace.steps[tick]
            self._known.append(after(self.trace.machine, now, self.trace.after(tick), step))

    def at(self, tick: int) -> Deformed:
        """How it is drawn after a tick."""
        self.grow(tick, most=tick - self.begin + 1)
        return self._known[tick - self.begin + 1]


class Player:
    """Plays a machine, in the free world when ``free``.  ``unfit`` says why the compiled engine cannot, once it was tried; empty
    while nothing speaks against it."""

    def __init__(self, machine: Machine, free: bool) -> None:
        self.machine = machine
        self.free = free
        self.unfit = ""

    @property
    def engine(self) -> Engine | None:
        """The compiled engine; None while it is not ready, and when the machine has numbers that are too large for it."""
        return self._engine if is_ready() else None

    @cached_property
    def _engine(self) -> Engine | None:
        # compiled code takes its time to load, and only playing needs this
        from leanstep.core.rehearsal.engine.engine import Engine

        try:
            return Engine(self.machine, self.free)
        except Unfit as error:
            self.unfit = str(error)
            return None

    @cached_property
    def first(self) -> Situation:
        """The situation before tick 0."""
        return Stepper(self.machine, self.free).first()

    def trace(self, start: Situation | None = None) -> Trace:
        """A trace in which nothing has happened yet, from a situation on (None: the start)."""
        steps: EngineTrace | StepTrace
        if self.engine is not None:
            steps = EngineTrace(self.engine, self.engine.rows(start) if start is not None else None)
        else:
            steps = StepTrace(Stepper(self.machine, self.free), start=start)
        return Trace(self.machine, start or self.first, steps)

    def play(self, changes: Sequence[Setting], ticks: int, start: Situation | None = None) -> Trace:
        """Play from a situation on (None: the start), with changes in the order of their ticks."""
        trace = self.trace(start)
        for _ in trace.playing(changes, ticks):
            pass
        return trace

    def start(self) -> Glimpse:
        """What there is before tick 0."""
        one = self.first
        on = one if self.engine is None else self.engine.first
        return Glimpse(one.states, one.stays, one.values, one.body, (-1,) * len(one.states), 0, on)

    def _going_on(self, after: Glimpse) -> Engine | None:
        """The engine to go on with: that which what there was came from, even if another is ready by now."""
        return None if isinstance(after.on, Situation) else self._engine

    def counters(self, after: Glimpse) -> tuple[int, ...]:
        """The memories' counters after a tick."""
        engine = self._going_on(after)
        if engine is not None:
            return engine.counters(after.on)  # type: ignore[arg-type]
        assert isinstance(after.on, Situation)
        return after.on.counters

    def situation(self, after: Glimpse) -> Situation:
        """The whole situation after a tick."""
        engine = self._going_on(after)
        if engine is not None:
            return engine.situation(*after.on)  # type: ignore[misc]
        assert isinstance(after.on, Situation)
        return after.on

    def go_on(self, after: Glimpse, rows: Sequence[Mapping[int, Symbolic]]) -> Iterator[Glimpse]:
        """Play what changes, tick by tick, from what there was after a tick."""
        engine = self._going_on(after)
        if engine is not None:
            yield from engine.glimpses(_from(after.tick, rows), len(rows), after.on)  # type: ignore[arg-type]
            return
        stepper, now = Stepper(self.machine, self.free), after.on
        for row in rows:
            step = stepper.step(now, dict(row))  # type: ignore[arg-type]
            now = one = step.situation
            yield Glimpse(one.states, one.stays, one.values, one.body, step.fired, one.tick, now)

    def states(self, layer: int, after: Glimpse, rows: Sequence[Mapping[int, Symbolic]]) -> list[int]:
        """A layer's active state after every tick."""
        engine = self._going_on(after)
        if engine is not None:
            return engine.states(layer, _from(after.tick, rows), len(rows), after.on)  # type: ignore[arg-type]
        return [one.states[layer] for one in self.go_on(after, rows)]

    def last(self, layer: int, after: Glimpse, rows: Sequence[Mapping[int, Symbolic]]) -> tuple[int, int]:
        """A layer's state before the last tick, and the transition it takes on it (-1: none)."""
        engine = self._going_on(after)
        if engine is not None:
            return engine.last(layer, _from(after.tick, rows), len(rows), after.on)  # type: ignore[arg-type]
        *before, last = after, *self.go_on(after, rows)
        return before[-1].states[layer], last.fired[layer]

    def end(self, after: Glimpse, rows: Sequence[Mapping[int, Symbolic]]) -> Glimpse:
        """What there is when everything is played."""
        engine = self._going_on(after)
        if engine is not None:
            return engine.until(-1, _from(after.tick, rows), len(rows), after.on)  # type: ignore[arg-type]
        *_, last = after, *self.go_on(after, rows)
        return last

    def until(self, layer: int, after: Glimpse, rows: Sequence[Mapping[int, Symbolic]]) -> Glimpse:
        """What there is when a layer has first taken a transition, or when everything is played."""
        engine = self._going_on(after)
        if engine is not None:
            return engine.until(layer, _from(after.tick, rows), len(rows), after.on)  # type: ignore[arg-type]
        last = after
        for last in self.go_on(after, rows):
            if last.fired[layer] >= 0:
                break
        return last


def _from(tick: int, rows: Sequence[Mapping[int, Symbolic]]) -> list[Setting]:
    """What changes, one row a tick from ``tick`` on, as changes."""
    return [(tick + at, index, value) for at, row in enumerate(rows) for index, value in row.items()]


def player_of(machine: Machine, free: bool) -> Player:
    """The player of a machine, made once."""
    return machine.once((Player, free), lambda: Player(machine, free))
