"""One tick after another: the plainest engine, which every other one is held against."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

from leanstep.core.bearings import bearing_of, push_of
from leanstep.core.body.body_state import BodyState, Motion, asked_of
from leanstep.core.body.records import MODES, Steer
from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.graph.clip_tables import Picture
from leanstep.core.graph.effects import fitted
from leanstep.core.graph.machine import CompiledTransition, Machine
from leanstep.core.graph.tick_state import TickState
from leanstep.core.rehearsal.situation import Situation, Step


class Requests(NamedTuple):
    """What states ask of a body, each thing by the first that does: how fast to turn, the number of a mode, how fast it moves and
    falls at most, and its box; 0: nothing is asked."""

    face: float
    mode: int
    cap: float
    fall: float
    wide: float
    high: float


Watch = Callable[[int, TickState], None]


def running(machine: Machine, before: Situation, values: list[Symbolic]) -> TickState:
    """A situation set in motion, with this tick's values."""
    pictures = (row[state] for row, state in zip(machine.pictures, before.states))
    timings = [None if one is None else one.reels[pick].timing for one, pick in zip(pictures, before.picks)]
    return TickState(
        values=values,
        held_before=before.held,
        states=list(before.states),
        stays=list(before.stays),
        playheads=list(before.playheads),
        lengths=[0 if one is None else one.length for one in timings],
        loops=[one is not None and one.repeats for one in timings],
        over=list(before.overs),
        ages=dict(before.ages),
        since={(layer, state): ticks for layer, state, ticks in before.since},
        machine=machine,
        picks=list(before.picks),
        fades=list(before.fades),
        raised=set(before.raised),
        locks=before.locks,
        freeze=before.freeze,
    )


def moment_of(machine: Machine, situation: Situation) -> TickState:
    """A situation as conditions see it, memories included."""
    moment = running(machine, situation, list(situation.values))
    moment.memories = [
        memory.holds(counter) for memory, counter in zip(machine.memories, situation.counters, strict=True)
    ]
    return moment


@dataclass
class Stepper:
    """Steps a machine.  In the free world (``free``) the body's parameters come with the inputs and step 2 is skipped."""

    machine: Machine
    free: bool = False
    motion: Motion = field(init=False)

    def __post_init__(self) -> None:
        machine, character = self.machine, self.machine.character
        names = {symbol.name for symbol in machine.symbols if symbol.owner == "body"}
        self.motion = machine.once(Motion, lambda: Motion(character.body, character.course, character.rate, names))

    def first(self) -> Situation:
        """The situation just before tick 0: every layer's start state entered, nothing held."""
        machine = self.machine
        now = TickState(values=[symbol.first for symbol in machine.symbols], machine=machine)
        now.compute_formulas()
        now.enter_all()
        return self._situation(now, [0] * len(machine.memories), frozenset(), now.locked(), self.motion.first, 0)

    def step(self, before: Situation, inputs: dict[int, Symbolic], watch: Watch | None = None) -> Step:
        """One tick.  ``inputs`` gives the value of every symbol from outside that is not at its kept value: symbols left
        out keep the value they had, pulses left out are false.  ``watch`` is told of every layer whose transitions are
        tried, and of the moment in which they are.
        """
        machine = self.machine
        now, counters, body = self.up_to_transitions(before, inputs)
        locked = now.locked()
        fired = [-1] * len(machine.layers)
        if not before.freeze:
            self._transitions(now, fired, watch)
        held = frozenset(
            index for index, symbol in enumerate(machine.symbols) if symbol.kind == "button" and now.values[index]
        )
        after = self._situation(now, counters, held, locked or now.locked(), body, before.tick + 1)
        return Step(after, tuple(fired), tuple(now.marks), tuple(now.fired_in))

    def _transitions(self, now: TickState, fired: list[int], watch: Watch | None) -> None:
        """Step 6: each layer, in order, takes at most one transition; ``fired`` is told which."""
        for at in range(len(fired)):
            if watch is not None and not now.blocked(at):
                watch(at, now)
            way = self.first_true(now, at)
            if way is not None:
                fired[at] = way.index
                now.take(at, way)

    def true_when_tried(self, before: Situation, inputs: dict[int, Symbolic], layer: int) -> list[int]:
        """The indices of the transitions of a layer that are true on a tick, in the order in which they are tried; none when
        they are not tried at all."""
        tests = self.machine.tests
        state = before.states[layer]
        asked = self.machine.once((_asked, layer, state), lambda: _asked(self.machine, layer, state))
        now = self.when_tried(before, inputs, layer, asked)
        if before.freeze or now.blocked(layer):
            return []
        return [way.index for holds, way in tests[layer][now.states[layer]] if holds(now)]

    def when_tried(
        self, before: Situation, inputs: dict[int, Symbolic], layer: int, asked: Iterable[int] | None = None
    ) -> TickState:
        """The moment of a tick in which a layer's transitions are tried; ``asked`` as in :meth:`up_to_transitions`."""
        now, _, _ = self.up_to_transitions(before, inputs, asked)
        for at in range(layer if not before.freeze else 0):
            way = self.first_true(now, at)
            if way is not None:
                now.take(at, way)
        return now

    def first_true(self, now: TickState, layer: int) -> CompiledTransition | None:
        """The transition that a layer takes."""
        if now.blocked(layer):
            return None
        return next((way for holds, way in self.machine.tests[layer][now.states[layer]] if holds(now)), None)

    def up_to_transitions(
        self, before: Situation, inputs: dict[int, Symbolic], asked: Iterable[int] | None = None
    ) -> tuple[TickState, list[int], BodyState]:
        """Steps 1 to 5 of a tick: the moment in which transitions are tried, the memories' counters and the body.  Of memories
        that are not ``asked`` for (None: all are) the counters stay."""
        machine = self.machine
        values: list[Symbolic] = [
            (index in before.raised if not symbol.free else inputs.get(index, False))
            if symbol.momentary
            else inputs.get(index, before.values[index])
            if symbol.free
            else before.values[index]
            for index, symbol in enumerate(machine.symbols)
        ]
        self._steer(before, values)
        body, frozen = before.body, before.freeze > 0
        if not self.free and not frozen:
            body = self._move(before, values)
        now = running(machine, before, values)
        now.compute_formulas()
        now.raised = set()
        now.fade_on()
        if frozen:
            now.freeze -= 1
            now.see_spans(set())
        else:
            now.advance()
        now.remember_presses()
        now.grow_older()
        counters = list(before.counters)
        now.memories = [False] * len(counters)
        for index in range(len(counters)) if asked is None else asked:
            memory = machine.memories[index]
            counters[index] = memory.after(counters[index], machine.operands[index](now))
            now.memories[index] = memory.holds(counters[index])
        return now, counters, body

    def _situation(
        self, now: TickState, counters: list[int], held: frozenset[int], locked: bool, body: BodyState, tick: int
    ) -> Situation:
        body = asked_of(body, now.asked)
        return Situation(
            tuple(now.states),
            tuple(now.stays),
            tuple(now.playheads),
            tuple(now.picks),
            tuple(now.over),
            tuple(now.fades),
            tuple(counters),
            tuple(sorted(now.ages.items())),
            tuple(sorted((*place, ticks) for place, ticks in now.since.items())),
            held,
            tuple(now.values),
            frozenset(now.raised),
            now.locks,
            locked,
            now.freeze,
            body,
            tick,
        )

    def _steer(self, before: Situation, values: list[Symbolic]) -> None:
        """Step 1: how far and where to sticks are pushed; a bearing is kept while there is no push."""
        for x_axis, y_axis, push, bearing in self.machine.sticks:
            if not self.free:
                sideways, up = float(values[x_axis]), float(values[y_axis])
                values[push], values[bearing] = push_of(sideways, up), bearing_of(sideways, up)
            if not values[push]:
                values[bearing] = before.values[bearing]

    def _move(self, before: Situation, values: list[Symbolic]) -> BodyState:
        """Step 2: the body moves and sets its parameters."""
        machine, by = self.machine, self.machine.steered_by

        def said(what: str) -> float:
            return float(values[by[what]] or 0.0) if by[what] >= 0 else 0.0

        held = said("aim_held") != 0
        pushed = by["aim_push"] < 0 or said("aim_push") > 0
        aims = held if by["aim"] < 0 else pushed and (held or by["aim_held"] < 0)
        steer = Steer(
            said("stick_x"),
            said("stick_y"),
            said("jump") != 0,
            said("run") != 0,
            not before.locked,
            aims,
            before.body.facing if by["aim"] < 0 else said("aim"),
            *requests_of(machine, before.states),
        )
        body = self.motion.step(before.body, steer)
        for name, value in self.motion.published(body).items():
            index = machine.index[name]
            values[index] = fitted(machine.symbols[index], value)
        return body


def requests_of(machine: Machine, active: Sequence[int]) -> Requests:
    """What the active states of the layers ask of the body."""
    states = [layer.states[at] for layer, at in zip(machine.character.layers, active)]
    boxes = [row[at] for row, at in zip(machine.boxes, active) if row[at]]
    return Requests(
        next((state.face for state in states if state.face), 0.0),
        next((MODES.index(state.mode) for state in states if state.mode), 0),
        next((state.cap for state in states if state.cap), 0.0),
        next((state.fall_cap for state in states if state.fall_cap), 0.0),
        *(boxes[0] if boxes else (0.0, 0.0)),
    )


def _asked(machine: Machine, layer: int, state: int) -> list[int]:
    """The memories that transitions of a layer's state read, and those of the layers before it, in order."""
    rows = [machine.layers[layer].ways[state], *(row for at in range(layer) for row in machine.layers[at].ways)]
    waiting: list[x.Expression | None] = [way.condition for row in rows for way in row]
    found = set[int]()
    while waiting:
        condition = waiting.pop()
        read = {part.index for part in x.parts(condition) if isinstance(part, x.Remembered)} if condition else set()
        waiting += [machine.memories[index].operand for index in read - found]
        found |= read
    return sorted(found)


def shown(picture: Picture | None, pick: int, playhead: int, values: Sequence[Symbolic]) -> tuple[str, int] | None:
    """The name of the clip a layer shows, and the number of the cel (:meth:`Reel.number_shown`); None when nothing is shown."""
    if picture is None:
        return None
    cel = picture.reels[pick].number_shown(playhead, values)
    return None if cel is None else (picture.reels[pick].clip.name, cel)
