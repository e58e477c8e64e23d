"""The character as time goes on: tick after tick from what hands do, and asleep while nothing is seen to change."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable, Sequence
from time import monotonic

from PySide6.QtCore import QElapsedTimer, QObject, Qt, QTimer, Signal

from leanstep.core.body.courses import fallen_out
from leanstep.core.character.deforming import Squash
from leanstep.core.character.takes import Take
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.errors import LeanStepError
from leanstep.core.graph.machine import Machine
from leanstep.core.graph.tick_state import TickState
from leanstep.core.rehearsal.deforming import PLAIN, Deformed, after, at_start, deforms, tried
from leanstep.core.rehearsal.drawable import Drawable, of_situation
from leanstep.core.rehearsal.situation import Situation, Step
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.wording import counted
from leanstep.desk.foresight import AHEAD, AT_ONCE, Coming, Foresight, Truths
from leanstep.desk.hands import Hands
from leanstep.desk.input_log import InputLog
from leanstep.desk.rewinding import Rewind
from leanstep.desk.second_figure import SecondOnCourse
from leanstep.desk.session import Session
from leanstep.desk.state_log import StateLog
from leanstep.desk.steered import Steered

KEPT_SECONDS = 120
"""What was steered last that can always be kept as a take."""
WAKE = 8
"""Milliseconds after which it is looked whether a tick is due, where it is not known when the next one is."""
MOST_MARKS = 60
"""Marks that fired last which are remembered."""
MOST_CAUGHT_UP = 30
"""Ticks that are made up for at once after a pause; those before are left out, and that is said."""
Watcher = Callable[[int, Situation, Truths], object]
"""What somebody would see after so many more ticks, in the situation then; something that can be compared, and None for as long
as nothing is seen at all."""


class LiveFigure(QObject):
    """The character as time goes on: what it is now, what came before, and the hands that steer it.

    With nothing held it is known what comes next, and it sleeps until something changes that a watcher sees.
    """

    ticked = Signal()
    mode_changed = Signal()
    said = Signal(str)
    measured = Signal(object, str)
    """Both figures are free again after a contact (:class:`~leanstep.core.rehearsal.pair_traces.Measured`), and what made that
    another advantage than the clips say."""
    fell = Signal(bool)
    """The figure has fallen out of the course, where it is held (True), or it is on it again."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.mode = "idle"
        self.take: Take | None = None
        self.looping = False
        self.paused = False
        self.slow = False
        self.recording: list[dict[int, Symbolic]] | None = None
        self.truths: Truths = {}
        self.watchers: list[Watcher] = []
        self._watched: frozenset[tuple[int, int]] = frozenset()
        self._foresight = Foresight(self._stepped)
        self.second: SecondOnCourse | None = None
        """Somebody else on the course."""
        self._of_desk: SecondOnCourse | None = None
        """Who stands there again when a take has been played."""
        self._kept = InputLog()
        self.steered = Steered()
        self.hands = Hands(session.document.controls)
        self.hands.stirred = self._stirred
        self.fallen = False
        self.stepper = Stepper(session.machine)
        self.situation: Situation = self.stepper.first()
        self.deformed = at_start(self.machine, self.situation)
        self.last: Step | None = None
        self._came: Coming | None = None
        self.past = StateLog()
        self.marks: deque[tuple[int, int, str]] = deque(maxlen=MOST_MARKS)
        """The marks that fired last: tick (of :attr:`ticks`), layer, name."""
        self.ticks = 0
        """Ticks since the window was opened."""
        self._inputs: list[dict[int, Symbolic]] = []
        self._rewound: Rewind | None = None
        self._at = 0
        self._clock = QElapsedTimer()
        self._owed = 0.0
        self._asleep = 1
        """Ticks after which it wakes."""
        self._timer = QTimer(self, timerType=Qt.TimerType.PreciseTimer, interval=WAKE)
        self._timer.timeout.connect(self._pulse)
        session.selected.connect(self.wake)
        session.art.changed.connect(self.wake)

    def leave(self) -> None:
        """Let go, and go on by itself."""
        raise AssertionError("a simulation says how it is left")

    def _back(self, rewound: Rewind) -> None:
        raise AssertionError("a simulation says how time runs back")

    def _end_of_take(self) -> None:
        raise AssertionError("a simulation says what comes after a take")

    @property
    def machine(self) -> Machine:
        """The machine being stepped."""
        return self.stepper.machine

    @property
    def steers(self) -> bool:
        """Whether hands steer: the character, or the second figure while a take plays."""
        second = self.second is not None and self.second.does == "steered"
        return self.mode == "driving" or (self.mode == "playing" and second)

    def wake(self) -> None:
        """Something else may be seen now: look again soon when it changes."""
        self._timer.setInterval(WAKE)

    def start(self) -> None:
        """Let time run."""
        self._clock.start()
        self._timer.start()

    def stop(self) -> None:
        """Let time stand still."""
        self._timer.stop()

    @property
    def shows_take(self) -> bool:
        """Whether what is shown comes from a take."""
        return self.mode in ("playing", "looking")

    def tick(self, until: float = float("inf"), told: bool = True) -> None:
        """One tick; what was pressed up to ``until`` counts.  ``told``: whoever shows it is told."""
        if self._rewound is not None:
            self._back(self._rewound)
            return
        if self.mode == "playing":
            if self._at >= len(self._inputs):
                self._end_of_take()
                return
            if self.steers:
                self.hands.take(until)
                self.hands.devices.pass_time(1 / self.machine.character.rate)
            inputs = self._inputs[self._at]
            self._at += 1
        else:
            self.hands.take(until)
            inputs = self.hands.inputs(self.machine)
            self.hands.devices.pass_time(1 / self.machine.character.rate)
            self._keep_inputs(inputs)
            if self.recording is not None:
                self.recording.append(inputs)
            self.hands.given.clear()
        self._step(inputs, told)

    def _keep_inputs(self, inputs: dict[int, Symbolic]) -> None:
        self._kept.add(inputs, self.situation, round(KEPT_SECONDS * self.machine.character.rate))

    def _step(self, inputs: dict[int, Symbolic], told: bool = True) -> None:
        """One tick with these inputs; who shows it is told, if it is to be (``told``) or marks fire."""
        foreseen = None
        if self.second is not None:
            inputs = self.second.with_due(inputs)
        else:
            if not self._foresight.ahead:
                self._look_ahead(inputs)
            foreseen = self._foresight.next(self.situation, inputs)
        self._came = came = foreseen or self._stepped(self.situation, self.deformed, inputs)
        self.last, self.truths, self.deformed = came.step, came.truths, came.deformed
        if self.second is not None:
            self.last = self.second.after(self.last, self._hands_of_second())
            self._tell_measured()
        self.situation, fired = self.last.situation, self.last.fired
        if self.mode == "driving":
            self.steered.add(self.machine.character, fired)
        self.ticks += 1
        for layer, name in self.last.marks:
            self.marks.append((self.ticks, layer, name))
        self.past.add(self.situation.states, fired)
        if told or (self.last.marks and self.mode != "idle"):
            self.ticked.emit()
        self._look_down()

    def _look_ahead(self, inputs: dict[int, Symbolic]) -> None:
        """Work out some ticks at once, if it is known or likely which inputs they have."""
        if self.mode == "playing":
            rows = [inputs, *self._inputs[self._at : self._at + AT_ONCE - 1]]
        elif self.mode == "driving" and self._came is not None and inputs == self._came.inputs:
            rows = [inputs] * AT_ONCE
        else:
            return
        self._foresight.work_out(self.machine, self.situation, self.deformed, rows)

    def _hands_of_second(self) -> dict[int, Symbolic]:
        """What hands do, where they steer the second figure."""
        assert self.second is not None
        if self.second.does != "steered":
            return {}
        return self.hands.inputs(self.second.figure.machine)

    def _tell_measured(self) -> None:
        """Say who was free first, once both are."""
        assert self.second is not None
        told = self.second.told()
        if told is not None:
            self.measured.emit(*told)

    def _look_down(self) -> None:
        """A figure that has fallen out of the course is held there, until it is put back or there is ground for it."""
        character = self.machine.character
        held = not self.stepper.free and not self.shows_take
        fallen = held and fallen_out(character.course, character.body, self.situation.body.y)
        if fallen != self.fallen:
            self.fallen = fallen
            self.ticked.emit()
            if fallen and self.mode == "driving":
                self.leave()
            self.fell.emit(fallen)

    def try_squash(self, squash: Squash) -> None:
        """Begin a squash now, which ends by itself."""
        self._foresight.forget()
        self.deformed = tried(self.deformed, squash)
        self.wake()
        self.ticked.emit()

    def figure(self, ticks: int = 0) -> Drawable:
        """The figure as it is drawn, after so many ticks that are known ahead."""
        came = self._foresight.ahead[ticks - 1] if ticks else self._came
        if ticks or (came is not None and came.step.situation is self.situation and came.deformed is self.deformed):
            assert came is not None
            return came.drawn(self.machine)
        return of_situation(self.machine, self.situation, self.deformed)

    def _stepped(self, before: Situation, deformed: Deformed, inputs: dict[int, Symbolic]) -> Coming:
        """One tick, which transitions of the watched states were true when they were tried, and how the figure is drawn."""
        truths: Truths = {}
        tests = self.machine.tests

        def watch(layer: int, now: TickState) -> None:
            for at, state in self._watched:
                if at == layer and state < len(tests[at]):
                    truths.update({(at, way.index): holds(now) for holds, way in tests[at][state]})

        step = self.stepper.step(before, inputs, watch)
        drawn = after(self.machine, deformed, before, step) if deforms(self.machine) else PLAIN
        return Coming(inputs, step, truths, drawn)

    @property
    def _rate(self) -> float:
        """Ticks a second, as they are shown."""
        return self.machine.character.rate * (0.25 if self.slow else 1.0)

    def _pulse(self) -> None:
        elapsed = self._clock.restart() / 1000
        self._asleep = 1
        if self.paused or self.fallen or self.mode == "looking":
            return
        self._owed += elapsed * self._rate
        due = int(self._owed)
        self._owed -= due
        if self._rewound is not None:
            # a late picture is shown late: none is left out of what is looked for
            due = min(due, 1)
        if self.mode != "idle" or self.second is not None:
            each = 1 / self._rate
            last = monotonic() - self._owed * each
            if due > MOST_CAUGHT_UP and self.mode == "driving":
                self.said.emit(f"The machine was busy: {counted(due - MOST_CAUGHT_UP, 'tick')} left out.")
            for left in range(min(due, MOST_CAUGHT_UP) - 1, -1, -1):
                self.tick(last - left * each, left == 0)
                if self.fallen:
                    break
            self._sleep(self._likely())
            return
        self._sleep_through(min(due, AHEAD) - 1)
        if due:
            self.tick()
        self._sleep(
            self._foresight.coming(self.machine, self.situation, self.deformed, self.hands.inputs(self.machine))
        )

    def _sleep_through(self, ticks: int) -> None:
        """Ticks that were known ahead: hands did nothing on them, and nobody is told."""
        inputs = self.hands.inputs(self.machine)
        for _ in range(ticks):
            if not self._foresight.ahead:
                self.tick()
                continue
            self._keep_inputs(inputs)
            self._step(inputs, False)

    def _likely(self) -> Sequence[Coming]:
        """The ticks that come while it is steered and hands go on doing what they do, as far as they are worked out."""
        if self.mode != "driving" or self.second is not None or self._rewound is not None or self.hands.waiting:
            return ()
        if not self._foresight.ahead:
            self._look_ahead(self.hands.inputs(self.machine))
        return self._foresight.ahead

    def _sleep(self, coming: Sequence[Coming]) -> None:
        """Sleep until something that is seen changes, as far as it is known what comes."""
        self._asleep = 1
        now: dict[Watcher, object] = {}
        for one in coming:
            if self._seen_to_change(self._asleep, one, now):
                break
            self._asleep += 1
        self._wake_in(self._asleep)

    def _seen_to_change(self, ticks: int, coming: Coming, now: dict[Watcher, object]) -> bool:
        """Whether somebody sees something else after so many ticks than ``now``, which is asked once, or hears a mark."""
        if coming.step.marks and self.mode != "idle":
            return True
        for at, watcher in enumerate(self.watchers):
            if watcher not in now:
                now[watcher] = watcher(0, self.situation, self.truths)
            seen = now[watcher]
            if seen is not None and watcher(ticks, coming.step.situation, coming.truths) != seen:
                # who sees something change will be the first to see it again
                self.watchers.insert(0, self.watchers.pop(at))
                return True
        return False

    def _wake_in(self, ticks: int) -> None:
        self._timer.setInterval(max(1, int(1000 * (ticks - self._owed) / self._rate) + 1))

    def _stirred(self) -> None:
        """Hands do something else: the ticks that were slept through are done, and it is awake on the next one."""
        if self._asleep > 1 and self.steers and self._timer.isActive():
            self._pulse()
            self._asleep = 1
            self._wake_in(1)

    def _catch_up(self) -> None:
        """The ticks slept through so far are done."""
        if self.mode == "idle" and self._timer.isActive():
            self._pulse()
        self._stirred()
        self._foresight.forget()

    def set_handle(self, name: str, value: Symbolic) -> None:
        """Let the game set a value from now on; a pulse comes on the next tick, which follows at once."""
        at = self.machine.index.get(name)
        if at is None or self.shows_take:
            return
        self._catch_up()
        if self.machine.symbols[at].kind == "pulse":
            self.hands.raised.add(name)
            self.tick()
            self.hands.raised.clear()
        elif self.machine.symbols[at].countdown:
            self.hands.given[name] = value
        else:
            self.hands.handles[name] = value
        self.wake()

    def _second_renewed(self, machine: Machine, before: SecondOnCourse) -> SecondOnCourse | None:
        """The second figure beside the edited character, where it was; nobody where it does not go with that any more."""
        try:
            made = SecondOnCourse(machine, before.written, before.does)
        except LeanStepError as error:
            self.said.emit(f"{error.thing}: {error.reason}. {error.way_out}")
            return None
        made.go_on_as(before)
        return made
