"""One tick after another: the plainest engine, which every other one is held against."""

from __future__ import annotations

from dataclasses import dataclass, field

from leanstep.core.body import side_view
from leanstep.core.body.side_view import BodyState, Steering
from leanstep.core.conditions.evaluation import Symbolic, decide
from leanstep.core.conditions.expression import Memory, Symbol
from leanstep.core.graph.machine import Machine, Picture


@dataclass(frozen=True)
class Situation:
    """Everything that decides what happens next.

    ``stays`` in ticks, ``playheads`` in 1/65536 tick, one entry per layer.  ``counters`` has one number per memory: for
    ``for`` the ticks in a row its operand was true, for ``within`` the ticks it will still count as true.
    """

    states: tuple[int, ...]
    stays: tuple[int, ...]
    playheads: tuple[int, ...]
    picks: tuple[int, ...]
    counters: tuple[int, ...]
    held: frozenset[int]
    values: tuple[Symbolic, ...]
    body: BodyState
    tick: int = 0


@dataclass(frozen=True)
class Step:
    """What happened on one tick: the situation after it, and per layer the transition taken (index in the layer's list,
    -1 for none)."""

    situation: Situation
    fired: tuple[int, ...]


@dataclass
class Stepper:
    """Steps a machine.  In the free world (``free``) the body's parameters come with the inputs and step 2 is skipped."""

    machine: Machine
    free: bool = False
    _steering: dict[str, int] = field(init=False)

    def __post_init__(self) -> None:
        body, index = self.machine.character.body, self.machine.index
        wanted = {"x": f"{body.stick}.x", "y": f"{body.stick}.y", "jump": body.jump, "run": body.run}
        self._steering = {key: index[name] for key, name in wanted.items() if name in index}

    def first(self) -> Situation:
        """The situation just before tick 0: every layer's start state entered, nothing held."""
        machine = self.machine
        values = tuple(symbol.rest for symbol in machine.symbols)
        layers = len(machine.layers)
        starts = tuple(layer.start for layer in machine.layers)
        picks = tuple(self._pick(at, state, list(values)) for at, state in enumerate(starts))
        return Situation(
            starts,
            (0,) * layers,
            (0,) * layers,
            picks,
            (0,) * len(machine.memories),
            frozenset(),
            values,
            side_view.placed(machine.character.course),
        )

    def step(self, before: Situation, inputs: dict[int, Symbolic]) -> Step:
        """One tick.  ``inputs`` gives the value of every symbol that is not at its kept value: symbols left out keep the
        value they had, pulses left out are false.
        """
        machine = self.machine
        values: list[Symbolic] = [
            inputs.get(index, False if symbol.momentary else before.values[index])
            for index, symbol in enumerate(machine.symbols)
        ]
        body = before.body
        if not self.free:
            body = self._move(before, values)
        held = frozenset(
            index for index, symbol in enumerate(machine.symbols) if symbol.kind == "button" and values[index]
        )

        states, stays = list(before.states), [stay + 1 for stay in before.stays]
        playheads, picks = self._play(before, values)
        moment = machine.moment(values, before.held, states, stays)
        counters = []
        for index, memory in enumerate(machine.memories):
            counter = count(memory, before.counters[index], decide(memory.operand, moment))
            moment.memories.append(remembers(memory, counter))
            counters.append(counter)

        fired = []
        for at, layer in enumerate(machine.layers):
            taken = next(
                (way for way in layer.ways[states[at]] if way.condition is not None and decide(way.condition, moment)),
                None,
            )
            fired.append(taken.index if taken else -1)
            if taken:
                states[at], stays[at], playheads[at] = taken.target, 0, 0
                picks[at] = self._pick(at, taken.target, values)
        after = Situation(
            tuple(states),
            tuple(stays),
            tuple(playheads),
            tuple(picks),
            tuple(counters),
            held,
            tuple(values),
            body,
            before.tick + 1,
        )
        return Step(after, tuple(fired))

    def _move(self, before: Situation, values: list[Symbolic]) -> BodyState:
        """Step 2: the body moves and sets its parameters."""
        character = self.machine.character
        locked = any(state in layer.locks for layer, state in zip(self.machine.layers, before.states, strict=True))
        steering = Steering()
        if not locked:
            asked = {key: values[index] for key, index in self._steering.items()}
            steering = Steering(
                float(asked.get("x") or 0.0),
                float(asked.get("y") or 0.0),
                bool(asked.get("jump")),
                bool(asked.get("run")),
            )
        body = side_view.step(before.body, steering, character.body, character.course, 1 / character.rate)
        for name, value in side_view.published(body, character.body, character.course).items():
            index = self.machine.index.get(name)
            if index is not None and self.machine.symbols[index].owner == "body":
                values[index] = fitted(self.machine.symbols[index], value)
        return body

    def _play(self, before: Situation, values: list[Symbolic]) -> tuple[list[int], list[int]]:
        """Step 4 for playheads: they advance, and keep their share of the clip when a blend's pick changes."""
        playheads, picks = [], []
        for at, state in enumerate(before.states):
            picture = self.machine.pictures[at][state]
            if picture is None:
                playheads.append(0)
                picks.append(0)
                continue
            old, new = before.picks[at], picture.pick(values)
            playhead = before.playheads[at]
            if new != old:
                playhead = playhead * picture.timings[new].length // picture.timings[old].length
            playheads.append(picture.timings[new].step(playhead))
            picks.append(new)
        return playheads, picks

    def _pick(self, layer: int, state: int, values: list[Symbolic]) -> int:
        picture = self.machine.pictures[layer][state]
        return picture.pick(values) if picture else 0


def count(memory: Memory, counter: int, operand: bool) -> int:
    """A memory's counter after a tick on which its operand was ``operand``."""
    if memory.kind == "for":
        return min(counter + 1, memory.ticks) if operand else 0
    return memory.ticks if operand else max(counter - 1, 0)


def remembers(memory: Memory, counter: int) -> bool:
    """A memory's value with this counter."""
    return counter >= memory.ticks if memory.kind == "for" else counter > 0


def fitted(symbol: Symbol, value: Symbolic) -> Symbolic:
    """``value`` brought into the symbol's kind and range."""
    if symbol.kind in ("flag", "pulse", "button"):
        return bool(value)
    if symbol.kind == "choice":
        return value if value in symbol.choices else symbol.rest
    number = min(max(float(value), symbol.low), symbol.high)
    return float(round(number)) if symbol.kind == "whole" else number


def shown(picture: Picture | None, pick: int, playhead: int) -> tuple[str, int] | None:
    """Clip name and cel index a layer shows; None when its state has no picture."""
    if picture is None:
        return None
    cel = picture.timings[pick].cel_at(playhead)
    return None if cel is None else (picture.clips[pick].name, cel)
