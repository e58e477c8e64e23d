"""How a game may run otherwise than by its graph: what goes in, what is logged, and in which order layers are tried."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from leanstep.core.bearings import bearing_of, reduced
from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.graph.machine import Machine
from leanstep.core.graph.tick_state import TickState
from leanstep.core.rehearsal.comparing.mutations import everywhere
from leanstep.core.rehearsal.step_trace import gathered
from leanstep.core.rehearsal.stepping import Stepper, Watch
from leanstep.core.rehearsal.traces import player_of

SHIFTS = (1, -1, 2, -2, 3, -3)
"""By how many ticks inputs are moved."""
CHAIN = 8
"""Transitions a layer takes on one tick at most where a game goes on until none is left."""
Inputs = tuple[dict[int, Symbolic], ...]


@dataclass(frozen=True)
class Variant:
    """How a game may run: its ``kind`` and what that says, the machine and what goes into it; ``step`` makes another stepper;
    ``late``: by how many ticks states are logged late.  ``about`` is a value that the sentence leaves open."""

    kind: str
    sentence: str
    machine: Machine
    inputs: Inputs
    stepper: Callable[[Machine], Stepper] | None = None
    late: int = 0
    about: float | None = None

    def states(self, ticks: int) -> list[list[int]]:
        """The states of each layer, tick by tick, as the game would log them."""
        machine = self.machine
        layers = range(len(machine.layers))
        if self.stepper is None:
            trace = player_of(machine, True).play(gathered(machine, self.inputs[:ticks]), ticks)
            found = [trace.states(layer) for layer in layers]
        else:
            stepper = self.stepper(machine)
            now, found = stepper.first(), [[] for _ in layers]
            for row in self.inputs[:ticks]:
                now = stepper.step(now, dict(row)).situation
                for layer in layers:
                    found[layer].append(now.states[layer])
        if not self.late:
            return found
        first = Stepper(machine, True).first().states
        return [[first[layer]] * self.late + found[layer][: ticks - self.late] for layer in layers]


class Backwards(Stepper):
    """Tries layers the other way round."""

    def _transitions(self, now: TickState, fired: list[int], watch: Watch | None) -> None:
        for at in reversed(range(len(fired))):
            way = self.first_true(now, at)
            if way is not None:
                fired[at] = way.index
                now.take(at, way)


class Together(Stepper):
    """Lets every layer see the others as they were before the tick's transitions."""

    def _transitions(self, now: TickState, fired: list[int], watch: Watch | None) -> None:
        ways = [self.first_true(now, at) for at in range(len(fired))]
        for at, way in enumerate(ways):
            if way is not None:
                fired[at] = way.index
                now.take(at, way)


class Chained(Stepper):
    """Takes one transition after another on the same tick."""

    def _transitions(self, now: TickState, fired: list[int], watch: Watch | None) -> None:
        for at in range(len(fired)):
            for _ in range(CHAIN):
                way = self.first_true(now, at)
                if way is None:
                    break
                fired[at] = way.index
                now.take(at, way)


def other_ways(machine: Machine, inputs: Inputs, tick: int) -> Iterator[Variant]:
    """How a game may run otherwise, the likely first, where something differs on ``tick``."""
    if len(machine.layers) > 1:
        yield Variant("layers", "the game tries the layers in another order", machine, inputs, Backwards)
        yield Variant(
            "layers", "in the game every layer sees the others as they were before the tick", machine, inputs, Together
        )
    yield Variant("chained", "the game takes several transitions on one tick", machine, inputs, Chained)
    yield Variant("logged", "the game logs a state before the tick is played, not after", machine, inputs, None, 1)
    read = [at for at in range(len(machine.symbols)) if machine.symbols[at].free and any(at in row for row in inputs)]
    for by in SHIFTS:
        yield Variant(*_late_words("everything that goes in", by), machine, shifted(machine, inputs, read, by))
    for at in read:
        name = machine.symbols[at].name
        for by in SHIFTS:
            yield Variant(*_late_words(name, by), machine, shifted(machine, inputs, [at], by))
    yield from _turned(machine, inputs)
    yield from _missed(machine, inputs, tick)
    single = tuple({at: _single(value) for at, value in row.items()} for row in inputs)
    yield Variant("float32", "the game reckons in single precision (32 bits)", _in_singles(machine), single)
    kept = [at for at in read if machine.symbols[at].momentary]
    for at in kept:
        name = machine.symbols[at].name
        yield Variant("kept", f"{name} stays true for longer than its tick there", machine, _kept(inputs, at))


def _late_words(name: str, by: int) -> tuple[str, str]:
    ticks = f"{abs(by)} tick{'s' if abs(by) > 1 else ''}"
    if by > 0:
        return "late", f"{name} counts {ticks} late there"
    return "early", f"{name} counts {ticks} early there"


def shifted(machine: Machine, inputs: Inputs, which: Sequence[int], by: int) -> Inputs:
    """Inputs of which some come so many ticks later."""
    found = []
    for tick, row in enumerate(inputs):
        other, made = inputs[min(max(tick - by, 0), len(inputs) - 1)], dict(row)
        for at in which:
            made[at] = other.get(at, machine.symbols[at].first) if tick - by >= 0 else machine.symbols[at].first
        found.append(made)
    return tuple(found)


def _turned(machine: Machine, inputs: Inputs) -> Iterator[Variant]:
    """Axes and bearings the other way round."""
    for stick, (across, up, push, bearing) in zip(machine.character.controls.sticks, machine.sticks):
        for at, words in ((up, "up and down"), (across, "left and right")):
            if not any(at in row for row in inputs):
                continue
            made = []
            for row in inputs:
                one = {**row, at: -float(row.get(at, 0.0))}
                if bearing in row and row.get(push, 0.0):
                    one[bearing] = bearing_of(float(one.get(across, 0.0)), float(one.get(up, 0.0)))
                made.append(one)
            yield Variant("upside", f"{words} of {stick.name} are the other way round there", machine, tuple(made))
    for at, symbol in enumerate(machine.symbols):
        if symbol.kind == "bearing" and symbol.free and any(at in row for row in inputs):
            turned = tuple({**row, at: reduced(360.0 - float(row.get(at, 0.0)))} for row in inputs)
            yield Variant("turned", f"{symbol.name} is counted anticlockwise there", machine, turned)
            quarter = tuple({**row, at: reduced(90.0 - float(row.get(at, 0.0)))} for row in inputs)
            yield Variant("turned", f"{symbol.name} is counted from the right, anticlockwise, there", machine, quarter)
            continue
        signed = symbol.kind == "number" and symbol.low < 0 < symbol.high and "." not in symbol.name
        if signed and symbol.free and any(at in row for row in inputs):
            turned = tuple({**row, at: -float(row.get(at, 0.0))} for row in inputs)
            yield Variant("upside", f"{symbol.name} has the other sign there", machine, turned)


def _missed(machine: Machine, inputs: Inputs, tick: int) -> Iterator[Variant]:
    """Pulses and presses shortly before that did not arrive."""
    for at, symbol in enumerate(machine.symbols):
        if symbol.kind not in ("pulse", "button") or not symbol.free:
            continue
        for start in range(tick, max(-1, tick - 12), -1):
            now = bool(inputs[start].get(at, False))
            if not now or (start and symbol.kind == "button" and inputs[start - 1].get(at, False)):
                continue
            end = start + 1
            while symbol.kind == "button" and end < len(inputs) and inputs[end].get(at, False):
                end += 1
            made = tuple({**row, at: False} if start <= number < end else row for number, row in enumerate(inputs))
            what = "press" if symbol.kind == "button" else "pulse"
            yield Variant("missed", f"the game misses the {what} {symbol.name} of tick {start}", machine, made)
            break


def _kept(inputs: Inputs, at: int) -> Inputs:
    """Inputs in which a pulse is still true on the tick after it came."""
    made = []
    before = False
    for row in inputs:
        now = bool(row.get(at, False))
        made.append({**row, at: now or before})
        before = now
    return tuple(made)


def _single(value: Symbolic) -> Symbolic:
    return float(np.float32(value)) if isinstance(value, float) else value


def _in_singles(machine: Machine) -> Machine:
    """A machine whose constants are rounded to single precision."""

    def rounded(part: x.Expression) -> x.Expression | None:
        return replace(part, value=float(np.float32(part.value))) if isinstance(part, x.Fixed) else None

    return everywhere(machine, rounded)
