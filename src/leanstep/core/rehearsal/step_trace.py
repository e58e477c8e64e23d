"""What a take did, step by step, where the compiled engine cannot play it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence

from leanstep.core.body.body_state import BodyState
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.situation import Setting, Situation, Step
from leanstep.core.rehearsal.stepping import Stepper


class StepTrace(list[Step]):
    """A take as far as it has been stepped."""

    def __init__(self, stepper: Stepper, steps: Iterable[Step] = (), start: Situation | None = None) -> None:
        super().__init__(steps)
        self.stepper = stepper
        self.start = start

    def play(self, changes: Sequence[Setting], ticks: int) -> Iterator[int]:
        """Play a take of ``ticks`` ticks, yielding the ticks done."""
        self.clear()
        situation = self.start or self.stepper.first()
        for inputs in spread(changes, ticks):
            self.append(self.stepper.step(situation, inputs))
            situation = self[-1].situation
            yield len(self)

    def entries(self, layer: int) -> list[tuple[int, int]]:
        """On which ticks a transition of a layer is taken, and the state it leads to."""
        return [(tick, step.situation.states[layer]) for tick, step in enumerate(self) if step.fired[layer] >= 0]

    def values(self) -> Iterator[tuple[Symbolic, ...]]:
        """Every symbol's value, tick by tick."""
        return (step.situation.values for step in self)

    def values_on(self, tick: int) -> tuple[Symbolic, ...]:
        """Every symbol's value on a tick."""
        return self[tick].situation.values

    def bodies(self) -> Iterator[BodyState]:
        """Where the body is, tick by tick."""
        return (step.situation.body for step in self)

    def marks(self) -> list[tuple[int, int, str]]:
        """Tick, layer and name of every mark that fires."""
        return [(tick, *mark) for tick, step in enumerate(self) for mark in step.marks]

    def states(self, layer: int) -> list[int]:
        """A layer's active state after every tick."""
        return [step.situation.states[layer] for step in self]

    def taken(self, layer: int) -> list[int]:
        """The transition a layer takes on every tick, or -1."""
        return [step.fired[layer] for step in self]

    def moving(self, symbols: Sequence[int], since: int) -> list[int]:
        """Those of these symbols whose values change between a tick and the end."""
        return [symbol for symbol in symbols if len(set(self.curve(symbol)[since:])) > 1]

    def curve(self, symbol: int) -> list[float]:
        """A symbol's value as a number, tick by tick; choices by their number."""
        values = (step.situation.values[symbol] for step in self)
        choices = self.stepper.machine.symbols[symbol].choices
        return [float(choices.index(value)) if isinstance(value, str) else float(value) for value in values]


def gathered(machine: Machine, rows: Sequence[Mapping[int, Symbolic]]) -> list[Setting]:
    """What changes, of the values of symbols on every tick; countdowns stand in a row only where they are given."""
    before: Mapping[int, Symbolic] = {}
    found: list[Setting] = []
    symbols = machine.symbols
    for tick, row in enumerate(rows):
        for index, value in row.items():
            if before.get(index) != value if symbols[index].lasts else value is not False:
                found.append((tick, index, value))
        before = row
    return found


def given(machine: Machine, before: Sequence[Symbolic], after: Sequence[Symbolic], frozen: bool) -> dict[int, Symbolic]:
    """What must be set on a tick so that values from outside go from what they were to what they are, pulses only where they are
    true; ``frozen``: time stands on it."""
    found: dict[int, Symbolic] = {}
    for index in machine.free:
        symbol, now = machine.symbols[index], after[index]
        if symbol.countdown:
            by = 0.0 if frozen else 1.0
            if now != max(float(before[index]) - by, 0.0):
                found[index] = min(float(now) + by, symbol.high) if now else 0.0
        elif now is True if symbol.momentary else now != before[index]:
            found[index] = now
    return found


def spread(changes: Sequence[Setting], ticks: int) -> list[dict[int, Symbolic]]:
    """What changes on every tick, by symbol index."""
    rows: list[dict[int, Symbolic]] = [{} for _ in range(ticks)]
    for tick, index, value in changes:
        if tick < ticks:
            rows[tick][index] = value
    return rows
