"""The character, alive: steps the machine in real time from keys or from a take."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import QElapsedTimer, QObject, Qt, QTimer, Signal

from leanstep.core.body.keyboard import Keyboard
from leanstep.core.character.model import Take
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.errors import LeanStepError
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.situation import Situation, Step
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.takes import inputs_of, recorded
from leanstep.desk.session import Session

MOST_KEPT = 36_000
"""Ticks of driving that are always kept, so that what just happened can become a take."""
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
        self.kept: list[dict[int, Symbolic]] = []
        self.keyboard = Keyboard(session.document.controls)
        self.stepper = Stepper(session.machine)
        self.situation: Situation = self.stepper.first()
        self.last: Step | None = None
        self.ribbon: list[tuple[tuple[int, ...], tuple[int, ...]]] = []
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
        """What was driven since the start, as a take; None when there was nothing or it is too long ago to be exact."""
        return recorded(self.machine, name, self.kept) if self.kept and len(self.kept) < MOST_KEPT else None

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
            if len(self.kept) < MOST_KEPT:
                self.kept.append(inputs)
            if self.recording is not None:
                self.recording.append(inputs)
        self.last = self.stepper.step(self.situation, inputs)
        self.situation = self.last.situation
        self.ribbon.append((self.situation.states, self.last.fired))
        del self.ribbon[: -int(self.machine.character.rate * 4)]
        self.ticked.emit()

    def _end_of_take(self) -> None:
        """A witness goes on with its last values, so that a flicker is seen; other takes start over or end."""
        if self.take is not None and self.take.world == "free":
            held = self.take.ticks + int(self.machine.character.rate * 3)
            if self._at < held:
                self._at += 1
                self.last = self.stepper.step(self.situation, {})
                self.situation = self.last.situation
                self.ribbon.append((self.situation.states, self.last.fired))
                self.ticked.emit()
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
        self.kept.clear()
        self._owed = 0.0
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
        self.situation = carried(old, machine, before, self.stepper.first())
        self.ribbon.clear()
        if self.mode == "playing" and self.take is not None:
            try:
                self._inputs = inputs_of(machine, self.take)
            except LeanStepError:
                self._set_mode("idle")


def carried(old: Machine, new: Machine, before: Situation, first: Situation) -> Situation:
    """The situation of an old machine in a new one: the same states and values by name, where they still exist."""
    values = tuple(
        before.values[old.index[symbol.name]]
        if symbol.name in old.index and old.symbols[old.index[symbol.name]] == symbol
        else symbol.rest
        for symbol in new.symbols
    )
    states, stays, playheads = list(first.states), list(first.stays), list(first.playheads)
    for at, layer in enumerate(new.layers):
        if at < len(old.layers):
            name = old.layers[at].states[before.states[at]]
            if name in layer.states:
                states[at], stays[at] = layer.states.index(name), before.stays[at]
                playheads[at] = before.playheads[at]
    counters = before.counters if old.memories == new.memories else first.counters
    made = replace(
        first,
        states=tuple(states),
        stays=tuple(stays),
        playheads=tuple(playheads),
        counters=counters,
        values=values,
        body=before.body,
        tick=before.tick,
    )
    picks = tuple(
        picture.pick(list(values)) if (picture := new.pictures[at][state]) else 0 for at, state in enumerate(states)
    )
    return replace(made, picks=picks)
