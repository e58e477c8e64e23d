"""The character, alive: steps the machine in real time from keys or from a take."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec.structs import replace
from PySide6.QtCore import QElapsedTimer, QObject, Qt, QTimer, Signal

from leanstep.core.body.keyboard import Keyboard
from leanstep.core.character.model import Take
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.errors import LeanStepError
from leanstep.core.graph.machine import Machine
from leanstep.core.graph.running import Running
from leanstep.core.rehearsal.carrying import carried
from leanstep.core.rehearsal.situation import Situation, Step
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.takes import inputs_of, recorded, rehearse
from leanstep.desk.session import Session

LEAD = 30
"""Ticks before the first input that what is kept as a take begins with, where that changes nothing."""
MOST_CAUGHT_UP = 6
"""Ticks that are made up for at once after a pause."""


class Live(QObject):
    """What the mirror shows.

    ``mode``: ``idle`` (nothing is held), ``driving`` (keys steer), ``playing`` (a take, over and over when ``looping``).
    """

    ticked = Signal()
    mode_changed = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.mode = "idle"
        self.take: Take | None = None
        self.looping = False
        self.paused = False
        self.slow = False
        self.recording: list[dict[int, Symbolic]] | None = None
        self.truths: dict[tuple[int, int], bool] = {}
        self.watched: frozenset[tuple[int, int]] = frozenset()
        self._kept: list[tuple[int, dict[int, Symbolic]]] = []
        self._kept_ticks = 0
        self.keyboard = Keyboard(session.document.controls)
        self.stepper = Stepper(session.machine)
        self.situation: Situation = self.stepper.first()
        self.last: Step | None = None
        self.ribbon: list[tuple[tuple[int, ...], tuple[int, ...]]] = []
        self.still = 0
        """Ticks since a transition was last taken."""
        self._inputs: list[dict[int, Symbolic]] = []
        self._at = 0
        self._clock = QElapsedTimer()
        self._owed = 0.0
        self._timer = QTimer(self, timerType=Qt.TimerType.PreciseTimer, interval=8)
        self._timer.timeout.connect(self._pulse)
        session.changed.connect(self._renew)
        session.opened.connect(self.restart)

    @property
    def machine(self) -> Machine:
        """The machine being stepped."""
        return self.stepper.machine

    def start(self) -> None:
        """Let time run."""
        self._clock.start()
        self._timer.start()

    def stop(self) -> None:
        """Let time stand still."""
        self._timer.stop()

    def restart(self) -> None:
        """Back to the start, with nothing held."""
        self._set_mode("idle")
        self.take = None
        self._begin(free=False)

    def drive(self) -> None:
        """Keys steer from here on; what they do is kept."""
        if self.mode == "playing":
            self._begin(free=False)
        self.take = None
        self.keyboard.let_go()
        self._set_mode("driving")

    def toggle(self) -> None:
        """Begin or end steering."""
        if self.mode == "driving":
            self.leave()
        else:
            self.drive()

    def record(self) -> None:
        """Drive from the start and keep every tick for a take."""
        self._begin(free=False)
        self.keyboard.let_go()
        self.take, self.recording = None, []
        self._set_mode("driving")

    def recorded_take(self, name: str) -> Take | None:
        """End the recording and return what was done; None when nothing was."""
        rows = self.recording
        self.leave()
        return recorded(self.machine, name, rows) if rows else None

    def kept_take(self, name: str) -> Take | None:
        """What was driven since the start, as a take; None when there was nothing.  It begins shortly before the first input,
        where the character does the same from there on."""
        rows, ticks = self._kept, self._kept_ticks
        machine = self.machine
        rest = {index: symbol.rest for index, symbol in enumerate(machine.symbols)}
        first = next((at for at, inputs in rows if any(value != rest[i] for i, value in inputs.items())), None)
        if first is None:
            return None
        whole = recorded(machine, name, _spread(rows, ticks))
        cut = max(0, first - LEAD)
        later = tuple(replace(change, at=change.at - cut) for change in whole.changes if change.at >= cut)
        short = replace(whole, ticks=ticks - cut, changes=later)
        return short if cut and _does_the_same(machine, whole, short, cut) else whole

    def leave(self) -> None:
        """Let go of every key and stop driving or playing; a driven character keeps its place."""
        self.keyboard.let_go()
        self.recording = None
        if self.mode == "playing":
            self.take = None
            self._begin(free=False)
        self._set_mode("idle")

    def play(self, take: Take, looping: bool = False) -> None:
        """Play a take from the start; raises :class:`LeanStepError` when it cannot be."""
        inputs = inputs_of(self.session.machine, take)
        self.keyboard.let_go()
        self.recording = None
        self.take, self.looping, self._inputs, self._at = take, looping, inputs, 0
        self._begin(free=take.world == "free")
        self._set_mode("playing")

    @property
    def position(self) -> int:
        """Ticks of the take that have been played."""
        return self._at

    def key(self, name: str, down: bool) -> bool:
        """A key went down or up; returns whether it steers something."""
        return self.keyboard.press(name) if down else self.keyboard.release(name)

    def inputs_now(self) -> dict[int, Symbolic]:
        """What the controls say, by symbol."""
        values = self.keyboard.values()
        index = self.machine.index
        return {index[name]: value for name, value in values.items() if name in index}

    def tick(self) -> None:
        """One tick."""
        if self.mode == "playing":
            if self._at >= len(self._inputs):
                self._end_of_take()
                return
            inputs = self._inputs[self._at]
            self._at += 1
        else:
            inputs = self.inputs_now()
            if not self._kept or self._kept[-1][1] != inputs:
                self._kept.append((self._kept_ticks, inputs))
            self._kept_ticks += 1
            if self.recording is not None:
                self.recording.append(inputs)
        self._step(inputs)

    def _step(self, inputs: dict[int, Symbolic]) -> None:
        self.truths = {}
        self.last = self.stepper.step(self.situation, inputs, self._watch)
        self.situation = self.last.situation
        self.still = 0 if max(self.last.fired, default=-1) >= 0 else self.still + 1
        self.ribbon.append((self.situation.states, self.last.fired))
        del self.ribbon[: -int(self.machine.character.rate * 4)]
        self.ticked.emit()

    def _watch(self, layer: int, now: Running) -> None:
        """Note which transitions are true as they are tried, of the states somebody watches."""
        for at, state in self.watched:
            if at == layer and state < len(self.machine.tests[at]):
                self.truths |= {(at, way.index): holds(now) for holds, way in self.machine.tests[at][state]}

    def _end_of_take(self) -> None:
        """A witness goes on with its last values, so that a flicker is seen; other takes start over or end."""
        if self.take is not None and self.take.world == "free":
            held = self.take.ticks + int(self.machine.character.rate * 3)
            if self._at < held:
                self._at += 1
                self._step({})
                return
        if self.looping and self.take is not None:
            self.play(self.take, True)
        else:
            self._set_mode("idle")

    def _pulse(self) -> None:
        elapsed = self._clock.restart() / 1000
        if self.paused:
            return
        self._owed += elapsed * self.machine.character.rate * (0.25 if self.slow else 1.0)
        for _ in range(min(int(self._owed), MOST_CAUGHT_UP)):
            self.tick()
        self._owed -= int(self._owed)

    def _begin(self, free: bool) -> None:
        self.stepper = Stepper(self.session.machine, free=free)
        self.keyboard.controls = self.session.document.controls
        self.situation = self.stepper.first()
        self.last = None
        self.ribbon.clear()
        self._kept.clear()
        self._kept_ticks = 0
        self._owed = 0.0
        self.still = 0
        self.ticked.emit()

    def _set_mode(self, mode: str) -> None:
        if mode != self.mode:
            self.mode = mode
            self.mode_changed.emit()

    def _renew(self) -> None:
        """The document changed: go on in the new one from the same place."""
        machine = self.session.machine
        if machine is self.machine:
            return
        old, before = self.machine, self.situation
        self.stepper = Stepper(machine, free=self.stepper.free)
        self.keyboard.controls = self.session.document.controls
        self.truths = {}
        self.situation = carried(old, machine, before, self.stepper.first())
        self.ribbon.clear()
        if self.mode == "playing" and self.take is not None:
            try:
                self._inputs = inputs_of(machine, self.take)
            except LeanStepError:
                self._set_mode("idle")


def _spread(rows: list[tuple[int, dict[int, Symbolic]]], ticks: int) -> Iterator[dict[int, Symbolic]]:
    """Inputs tick by tick from those that differ from the ones before."""
    ends = [at for at, _ in rows[1:]] + [ticks]
    for (at, inputs), end in zip(rows, ends):
        for _ in range(end - at):
            yield inputs


def _does_the_same(machine: Machine, whole: Take, short: Take, cut: int) -> bool:
    """Whether a take without its first ``cut`` ticks goes through the same states and places."""
    one, other = rehearse(machine, whole), rehearse(machine, short)
    layers = range(len(machine.layers))
    if any(one.states(layer)[cut:] != other.states(layer) for layer in layers):
        return False
    return one.steps[-1].situation.body == other.steps[-1].situation.body
