"""The character, alive: steps the machine in real time from keys or from a take."""

from __future__ import annotations

from msgspec.structs import replace
from PySide6.QtCore import QTimer, Signal

from leanstep.core.character.takes import Take
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.errors import LeanStepError
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.deforming import PLAIN, Deformed, at_start
from leanstep.core.rehearsal.migration import behaves_alike, carried
from leanstep.core.rehearsal.saved_situations import situation_of
from leanstep.core.rehearsal.situation import Situation
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.takes import inputs_of, recorded, rehearse
from leanstep.core.rehearsal.traces import Trace, player_of
from leanstep.desk.again import Again, steered
from leanstep.desk.input_log import InputLog
from leanstep.desk.kept_takes import kept_take
from leanstep.desk.live_figure import WAKE, LiveFigure
from leanstep.desk.rewinding import Rewind
from leanstep.desk.second_figure import SecondOnCourse
from leanstep.desk.session import Session
from leanstep.desk.state_log import StateLog

SHOWN = 4.0
"""Seconds before a tick that is looked at which are shown as its past."""


class Simulation(LiveFigure):
    """What the mirror shows.

    ``mode``: ``idle`` (nothing is held), ``driving`` (keys steer), ``playing`` (a take, over and over when ``looping``),
    ``looking`` (a tick of a take is shown, and time stands still there).
    """

    cut_short = Signal(object, str)
    """A recording ended with something else than its button: the take, and why."""
    second_steered = Signal(object)
    """A take has been played in which the second figure was steered: the take with what it did."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.again: Again | None = None
        """What is done once more, while it is."""
        self._before: tuple[Machine, InputLog] | None = None
        self._looked_at: tuple[Trace, Deformed, dict[int, Symbolic]] | None = None
        session.changed.connect(self._renew)
        session.opened.connect(self._opened)

    @property
    def watched(self) -> frozenset[tuple[int, int]]:
        """The (layer, state) of whose transitions it is noted whether they are true when they are tried."""
        return self._watched

    @watched.setter
    def watched(self, places: frozenset[tuple[int, int]]) -> None:
        if places != self._watched:
            self._watched = places
            if self._looked_at is not None:
                self._show_tick()
            self._foresight.forget()
            self.wake()

    def restart(self) -> None:
        """Back to the start, with nothing held."""
        rows = self._taken_rows()
        self._set_mode("idle")
        self.take = None
        self._begin(free=False)
        self._keep(rows, "The recording ended where the character was put back")

    def drive(self) -> None:
        """Keys steer from here on; what they do is kept."""
        self._keep(self._taken_rows(), "The recording ended where you began to steer anew")
        if self.mode == "playing" and self.again is not None:
            self._kept = InputLog(self.situation)
        elif self.mode == "playing":
            self._begin(free=False)
        elif self.mode == "looking":
            # from the tick that is looked at, in the world with a body
            self.stepper = Stepper(self.session.machine)
            self._kept = InputLog(self.situation)
        self.take = None
        self.hands.let_go()
        self._set_mode("driving")

    def _opened(self) -> None:
        """Another document is open."""
        self._before = None
        self.steered.counts.clear()
        self.restart()

    def repeat(self) -> None:
        """Do what was steered last once more, as the character is now; what it did before an edit is beside it, until its end or until
        somebody steers."""
        before = (self.machine, self._kept) if self._kept.ticks else self._before
        if before is None:
            self.said.emit("Steer first; then it can be done once more, with what was changed.")
            return
        again = steered(*before)
        try:
            self.play(again.take)
        except LeanStepError as error:
            self.said.emit(f"{error.reason[0].upper()}{error.reason[1:]}; what was steered cannot be done any more.")
            return
        self.again, self._before = again, before
        self.said.emit("The same once more; the pale figure is as it was before.")

    def go_on_from(self, situation: Situation) -> None:
        """Steer on from another situation of the character as it is now."""
        self.leave()
        self._begin(free=False)
        self.situation, self.deformed = situation, at_start(self.machine, situation)
        self._kept = InputLog(situation)
        self.drive()
        self.ticked.emit()

    def toggle(self) -> None:
        """Begin or end steering."""
        if self.mode == "driving":
            self.leave()
        else:
            self.drive()

    def record(self) -> None:
        """Drive from the start and keep every tick for a take."""
        self._keep(self._taken_rows(), "The recording ended where another one began")
        self._begin(free=False)
        self.hands.let_go()
        self.take, self.recording = None, []
        self._set_mode("driving")

    def _end_recording(self, new: Machine) -> None:
        """What was recorded cannot go on in an edited character whose parameters are others: it ends with what is valid."""
        rows, old = self._taken_rows(), self.machine
        kept = [
            {new.index[name]: value for i, value in row.items() if (name := old.symbols[i].name) in new.index}
            for row in rows
        ]
        self.hands.let_go()
        self._set_mode("idle")
        if kept:
            take = recorded(new, "cut short", kept)
            QTimer.singleShot(0, lambda: self.cut_short.emit(take, "The recording ended with the change of parameters"))

    def _taken_rows(self) -> list[dict[int, Symbolic]]:
        """End the recording, if there is one: what was done on its ticks."""
        rows, self.recording = self.recording, None
        return rows or []

    def _keep(self, rows: list[dict[int, Symbolic]], why: str) -> None:
        """What was recorded is kept, and it is said why it ended."""
        if rows:
            self.cut_short.emit(recorded(self.machine, "cut short", rows), why)

    def recorded_take(self, name: str) -> Take | None:
        """End the recording and return what was done, the second figure with it; None when nothing was."""
        rows, second = self._taken_rows(), self.second
        written = second.recorded(len(rows)) if second is not None else None
        self.leave()
        return replace(recorded(self.machine, name, rows), second=written) if rows else None

    def kept_take(self, name: str) -> Take | None:
        """What was driven last, as a take (:func:`~leanstep.desk.kept_takes.kept_take`); None when there was nothing."""
        if self.second is not None and self.mode == "driving" and not self._kept.begun and self._kept.ticks:
            rows = [*self._kept.spread()]
            return replace(recorded(self.machine, name, rows), second=self.second.recorded(len(rows)))
        return kept_take(self.stepper, self._kept, name)

    def leave(self) -> None:
        """Let go of every key and stop driving or playing; a driven character keeps its place, and what was recorded is kept."""
        self.go_on()
        self.hands.let_go()
        rows = self._taken_rows()
        if self.shows_take:
            self.take = None
            self._set_mode("idle")
            self._begin(free=False)
        self._set_mode("idle")
        self._keep(rows, "The recording ended where you let go")

    def play(self, take: Take, looping: bool = False, steer_second: bool = False) -> None:
        """Play a take from the start, its second figure as the take says or steered by hands; raises :class:`LeanStepError` when it
        cannot be."""
        self._keep(self._taken_rows(), "The recording ended where a take was played")
        inputs = inputs_of(self.session.machine, take)
        second = None
        if take.second is not None and take.world == "body":
            second = SecondOnCourse(self.session.machine, take.second, "steered" if steer_second else "written")
        self.hands.let_go()
        if self.mode != "playing":
            self._of_desk = self.second
        self.second = second
        self.take, self.looping, self._inputs, self._at = take, looping, inputs, 0
        self.again = None
        self._set_mode("playing")
        self._begin(free=take.world == "free")

    @property
    def position(self) -> int:
        """Ticks of the take that have been played, or the tick that is looked at."""
        return self._at

    @property
    def tried(self) -> tuple[int, ...]:
        """The states whose ways out are tried: the active ones, and of a tick that is looked at those in which it began."""
        return self._looked_at[0].after(self._at).states if self._looked_at is not None else self.situation.states

    def rewind(self) -> None:
        """Time runs back from here, until :meth:`go_on`; only what was steered comes back."""
        if self.mode != "driving" or self._rewound is not None or not self._kept.ticks or self.second is not None:
            return
        self.hands.let_go()
        self._rewound = Rewind(self.machine, self._kept)
        self.said.emit("Time runs back; let go, and it goes on from there.")

    def go_on(self) -> None:
        """Time runs on from where it was rewound to; what came after has not been done."""
        rewound, self._rewound = self._rewound, None
        if rewound is None:
            return
        gone = self._kept.ticks - rewound.tick
        if self.recording is not None:
            del self.recording[max(0, len(self.recording) - gone) :]
        self._kept.cut(rewound.tick)
        self.said.emit(f"Back by {gone / self.machine.character.rate:.1f} s; you steer on from there.")

    def _back(self, rewound: Rewind) -> None:
        """One tick back."""
        rewound.back()
        at, trace = rewound.at, rewound.trace
        self.situation, self.deformed = trace.after(at), rewound.deformed()
        self.last, self.truths = trace.steps[at - 1] if at else None, {}
        self._show_past(trace, at)
        self.ticked.emit()

    def _show_past(self, trace: Trace, end: int) -> range:
        """Let the past be that of a trace, up to but not including a tick; the ticks it shows."""
        span = range(max(0, end - round(SHOWN * trace.machine.character.rate)), end)
        self.past = StateLog()
        for at in span:
            self.past.add(trace.steps[at].situation.states, trace.steps[at].fired)
        self.marks.clear()
        return span

    def played(self) -> tuple[Trace, Take, int]:
        """What led to the tick of now: a trace, its take, and the number of the tick in it.  What was steered lately is played
        again; where nothing was, it is the one tick that comes next.

        Raises
        ------
        LeanStepError : the take that is played sets something that is not there any more.
        """
        if self._looked_at is not None and self.take is not None:
            return self._looked_at[0], self.take, self._at
        take = self.take if self.mode == "playing" else self.kept_take("now")
        if take is not None and (self.mode != "playing" or self._at > 0):
            trace = rehearse(self.machine, take, self._at if self.mode == "playing" else None)
            return trace, take, len(trace.steps) - 1
        trace = player_of(self.machine, False).trace(self.situation)
        for _ in trace.playing([], 1):
            pass
        return trace, Take(name="now", ticks=1), 0

    def look(self, take: Take, trace: Trace, tick: int) -> None:
        """Show a tick of a take that was rehearsed: the figure, its state, its ways out and what they say, values and marks are
        those of that tick, and time stands still.  Whoever steers then goes on from there."""
        self._keep(self._taken_rows(), "The recording ended where a take was looked at")
        tick = max(0, min(tick, len(trace.steps) - 1))
        inputs = inputs_of(trace.machine, take)
        self.hands.let_go()
        self._set_mode("looking")
        self._foresight.forget()
        self.take, self._at = take, tick
        self.stepper = Stepper(trace.machine, free=take.world == "free")
        self.hands.handles.clear()
        self._looked_at = trace, trace.deformed(tick), inputs[tick] if tick < len(inputs) else {}
        span = self._show_past(trace, tick + 1)
        self.marks.extend((self.ticks - tick + at, layer, name) for at in span for layer, name in trace.steps[at].marks)
        self._show_tick()

    def _show_tick(self) -> None:
        """Do the tick that is looked at once more, to know what was true on it."""
        assert self._looked_at is not None
        trace, deformed, inputs = self._looked_at
        came = self._stepped(trace.after(self._at), PLAIN, inputs)
        self.last, self.truths = came.step, came.truths
        self.situation, self.deformed = trace.after(self._at + 1), deformed
        self.ticked.emit()

    def beside(self, second: SecondOnCourse | None) -> None:
        """Put somebody else on the course, or nobody; both stand at their places."""
        self.second = second
        self._foresight.forget()
        if self.mode in ("idle", "driving"):
            self._begin(free=False)
        self.wake()
        self.ticked.emit()

    def _end_of_take(self) -> None:
        """A witness goes on with its last values, so that a flicker is seen; other takes start over or end."""
        if self.take is not None and self.second is not None and self.second.does == "steered":
            take = replace(self.take, second=self.second.recorded(self.take.ticks))
            self.leave()
            self.second_steered.emit(take)
            return
        if self.take is not None and self.take.world == "free":
            held = self.take.ticks + int(self.machine.character.rate * 3)
            if self._at < held:
                self._at += 1
                self._step({})
                return
        if self.again is not None and self.again.steered:
            self.drive()
        elif self.looping and self.take is not None:
            self.play(self.take, True)
        else:
            self._kept = InputLog(self.situation)
            self._set_mode("idle")

    def _begin(self, free: bool) -> None:
        self._rewound = None
        self._foresight.forget()
        self.stepper = Stepper(self.session.machine, free=free)
        self.hands.devices.controls = self.session.document.controls
        self.situation = self.stepper.first()
        if self.mode == "playing" and self.take is not None and self.take.begins is not None:
            self.situation = situation_of(self.session.machine, self.take.begins)
        self.deformed = at_start(self.machine, self.situation)
        if self.second is not None:
            self.second.put_back()
        self.last = None
        self.hands.handles.clear()
        self.marks.clear()
        self.past = StateLog()
        self._kept = InputLog()
        self._owed = 0.0
        self.ticked.emit()
        self._look_down()

    def _set_mode(self, mode: str) -> None:
        if mode != "looking":
            self._looked_at = None
        if mode != "playing":
            self.again = None
        if mode != self.mode:
            self._catch_up()
            if self.mode == "playing":
                self.second, self._of_desk = self._of_desk, None
            self.mode = mode
            self._timer.setInterval(WAKE)
            self.mode_changed.emit()

    def _renew(self) -> None:
        """The document changed: go on in the new one from the same place."""
        machine = self.session.machine
        if machine is self.machine:
            return
        if self.mode == "looking":
            self.leave()
            return
        self.go_on()
        self._catch_up()
        self.wake()
        old, before = self.machine, self.situation
        if old.symbols != machine.symbols:
            self.hands.handles.clear()
            if self.recording is not None:
                self._end_recording(machine)
        self.stepper = Stepper(machine, free=self.stepper.free)
        self.hands.devices.controls = self.session.document.controls
        self.truths = {}
        self.situation = carried(old, machine, before, self.stepper.first())
        self._came = None
        if self.second is not None:
            self.second = self._second_renewed(machine, self.second)
        self.deformed = at_start(machine, self.situation)
        self._look_down()
        if not behaves_alike(old, machine):
            # what came before would do something else now
            self._before = (old, self._kept) if self._kept.ticks else self._before
            self._kept = InputLog(self.situation)
        self.past = StateLog()
        if self.mode == "playing" and self.take is not None:
            try:
                self._inputs = inputs_of(machine, self.take)
            except LeanStepError:
                self._set_mode("idle")
