"""How a game may run otherwise than by its graph: what goes in, what is logged, and in which order layers are tried."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from leanstep.core.bearings import bearing_of, reduced
from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.graph.machine import Machine
from leanstep.core.graph.tick_state import TickState
from leanstep.core.rehearsal.comparing.logs import Inputs, Log
from leanstep.core.rehearsal.comparing.mutations import everywhere
from leanstep.core.rehearsal.situation import Setting, Situation, Step
from leanstep.core.rehearsal.step_trace import gathered
from leanstep.core.rehearsal.stepping import Stepper, Watch
from leanstep.core.rehearsal.traces import player_of

SHIFTS = (1, -1, 2, -2, 3, -3)
"""By how many ticks inputs are moved."""
CHAIN = 8
"""Transitions a layer takes on one tick at most where a game goes on until none is left."""
MOST_REMEMBERED = 200
"""Ticks before a difference in which a transition may have set something back."""
LOOKED_BACK = 24
"""Ticks before a difference in which something may have been missed."""


@dataclass(frozen=True)
class Variant:
    """How a game may run: its ``kind`` and what that says, the machine and what goes into it (``changes``: the same as changes, where
    they are known); ``stepper`` makes another stepper; ``late``: by how many ticks states are logged late.  ``about`` is a value that
    the sentence leaves open."""

    kind: str
    sentence: str
    machine: Machine
    inputs: Inputs
    stepper: Callable[[Machine], Stepper] | None = None
    late: int = 0
    about: float | None = None
    changes: Sequence[Setting] | None = None

    def states(self, ticks: int, start: Situation | None = None) -> list[list[int]]:
        """The states of each layer, tick by tick, as the game would log them from a situation on (None: the start)."""
        layers = range(len(self.machine.layers))
        if self.stepper is not None:
            return [list(row) for row in zip(*self._stepped(ticks, start))]
        trace = player_of(self.machine, True).play(self._changes(ticks), ticks, start)
        found = [trace.states(layer) for layer in layers]
        if not self.late:
            return found
        first = trace.first.states
        return [[first[layer]] * self.late + found[layer][: ticks - self.late] for layer in layers]

    def first_mismatch(self, log: Log, ticks: int) -> tuple[int, int] | None:
        """The first of so many ticks, and on it the first layer, on which it is in another state than a log says."""
        start = log.start(self.machine)
        if self.stepper is None:
            return log.first_mismatch(self.states(ticks, start))
        for tick, row in enumerate(self._stepped(ticks, start)):
            for layer, states in enumerate(log.states):
                if states is not None and row[layer] != states[tick]:
                    return tick, layer
        return None

    def _changes(self, ticks: int) -> list[Setting]:
        if self.changes is None:
            return gathered(self.machine, self.inputs[:ticks])
        return [one for one in self.changes if one[0] < ticks]

    def _stepped(self, ticks: int, start: Situation | None) -> Iterator[tuple[int, ...]]:
        """The states of the layers after each tick, stepped one by one."""
        assert self.stepper is not None
        stepper = self.stepper(self.machine)
        now = start or stepper.first()
        for row in self.inputs[:ticks]:
            now = stepper.step(now, dict(row)).situation
            yield now.states


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


@dataclass
class Forgetful(Stepper):
    """Sets back what it remembers when a transition of ``layer`` is taken, or that one only (-1: any): memories, or with ``presses``
    the presses that are buffered."""

    layer: int = -1
    way: int = -1
    presses: bool = False

    def step(self, before: Situation, inputs: dict[int, Symbolic], watch: Watch | None = None) -> Step:
        """One tick."""
        step = super().step(before, inputs, watch)
        taken = [way for at, way in enumerate(step.fired) if way >= 0 and self.layer in (-1, at)]
        if self.way not in taken and not (self.way == -1 and taken):
            return step
        after = step.situation
        after = replace(after, ages=()) if self.presses else replace(after, counters=(0,) * len(after.counters))
        return replace(step, situation=after)


def other_ways(machine: Machine, log: Log, tick: int) -> Iterator[Variant]:
    """How a game may run otherwise, the likely first, where something differs on ``tick`` of its log."""
    inputs = log.inputs
    if len(machine.layers) > 1:
        yield Variant("layers", "the game tries the layers in another order", machine, inputs, Backwards)
        yield Variant(
            "layers", "in the game every layer sees the others as they were before the tick", machine, inputs, Together
        )
    yield Variant("chained", "the game takes several transitions on one tick", machine, inputs, Chained)
    logged = "the game logs a state before the tick is played, or everything that goes in counts a tick late there"
    yield Variant("logged", logged, machine, inputs, None, 1)
    read = [at for at in range(len(machine.symbols)) if machine.symbols[at].free and any(at in row for row in inputs)]
    for words, which in _together(machine, read):
        for by in SHIFTS:
            yield Variant(*_late_words(words, by), machine, shifted(machine, inputs, which, by))
    yield from _turned(machine, inputs)
    yield from _missed(machine, log, tick)
    single = tuple({at: _single(value) for at, value in row.items()} for row in inputs)
    yield Variant("float32", "the game reckons in single precision (32 bits)", _in_singles(machine), single)
    kept = [at for at in read if machine.symbols[at].momentary]
    for at in kept:
        name = machine.symbols[at].name
        yield Variant("kept", f"{name} stays true for longer than its tick there", machine, _kept(inputs, at))


def _together(machine: Machine, read: Sequence[int]) -> Iterator[tuple[str, list[int]]]:
    """What may be late together, of what is logged, in words: everything, each alone, a stick, the controls, what is none of them."""
    yield "everything that goes in", list(read)
    for at in read:
        yield machine.symbols[at].name, [at]
    for stick, parts in zip(machine.character.controls.sticks, machine.sticks):
        yield f"all of {stick.name}", [at for at in parts if at in read]
    controls = [at for at in read if machine.symbols[at].owner == "controls"]
    if 0 < len(controls) < len(read):
        yield "everything of the controls", controls
        yield "everything but the controls", [at for at in read if at not in controls]


def setting_back(machine: Machine, log: Log, tick: int) -> Iterator[Variant]:
    """A game that forgets when a transition is taken: any, one of a layer, or one that was taken lately."""
    changes = gathered(machine, log.inputs[: tick + 1])
    trace = player_of(machine, True).play(changes, tick + 1, log.start(machine))
    layers = range(len(machine.layers))
    whose = [("any transition", -1, -1)]
    whose += [(f"any transition of {machine.layers[at].name}", at, -1) for at in layers if len(layers) > 1]
    for at in layers:
        for way in dict.fromkeys(way for way in reversed(trace.taken(at)[-MOST_REMEMBERED:]) if way >= 0):
            target = machine.character.layers[at].transitions[way].to
            whose.append((f"the way to {target} of {machine.layers[at].name}", at, way))
    kept = [("the memories (for, within)", False)] * bool(machine.memories)
    kept += [("buffered presses", True)] * bool(machine.buffers)
    for what, presses in kept:
        for words, layer, way in whose:
            stepper = partial(Forgetful, free=True, layer=layer, way=way, presses=presses)
            yield Variant("memory", f"{words} sets {what} back there", machine, log.inputs, stepper)


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


def _missed(machine: Machine, log: Log, tick: int) -> Iterator[Variant]:
    """Pulses and presses shortly before that did not arrive, and flags and buttons that the game saw otherwise on one tick."""
    inputs = log.inputs
    whole: list[Variant] = []
    single: list[Variant] = []
    for at, symbol in enumerate(machine.symbols):
        if symbol.kind not in ("pulse", "button", "flag") or not symbol.free:
            continue
        for start in range(tick, max(-1, tick - LOOKED_BACK), -1):
            now = bool(inputs[start].get(at, False))
            then = bool(start and inputs[start - 1].get(at, False))
            if symbol.kind != "flag" and now and (symbol.kind == "pulse" or not then):
                end = start + 1
                while symbol.kind == "button" and end < len(inputs) and inputs[end].get(at, False):
                    end += 1
                made = tuple({**row, at: False} if start <= number < end else row for number, row in enumerate(inputs))
                what = "press" if symbol.kind == "button" else "pulse"
                sentence = f"the game misses the {what} {symbol.name} of tick {log.first + start}"
                whole.append(Variant("missed", sentence, machine, made))
            if symbol.kind != "pulse" and at in inputs[start]:
                made = (*inputs[:start], {**inputs[start], at: not now}, *inputs[start + 1 :])
                words = "on" if now else "off"
                sentence = f"the game misses that {symbol.name} is {words} on tick {log.first + start}"
                single.append(Variant("missed", sentence, machine, made))
    yield from whole
    yield from single


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
