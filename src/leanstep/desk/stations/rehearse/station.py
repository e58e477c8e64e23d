"""The Rehearse station."""

from __future__ import annotations

import time
from collections.abc import Iterator
from contextlib import suppress
from functools import partial
from pathlib import Path

from msgspec.structs import replace
from PySide6.QtCore import QPoint, QPointF, Qt, QTimer
from PySide6.QtGui import QAction, QShowEvent
from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QScrollArea, QVBoxLayout

from leanstep.core.character.edits import append, free_name, put
from leanstep.core.character.takes import Take
from leanstep.core.errors import LeanStepError
from leanstep.core.naming.references import Thing
from leanstep.core.rehearsal.actions import signed
from leanstep.core.rehearsal.expectation_text import expectation_words
from leanstep.core.rehearsal.expectations import unmet
from leanstep.core.rehearsal.robustness import Difference
from leanstep.core.rehearsal.second_figures import PairSteps, has_changed
from leanstep.core.rehearsal.takes import begun, rehearsing, take_from_csv, take_from_json
from leanstep.core.rehearsal.traces import Trace
from leanstep.desk.again import Again
from leanstep.desk.context import Context
from leanstep.desk.stations.rehearse.before_after import BeforeAfter
from leanstep.desk.stations.rehearse.comparison import HEIGHT, Comparison, text_of
from leanstep.desk.stations.rehearse.course import CourseView
from leanstep.desk.stations.rehearse.course_row import CourseRow
from leanstep.desk.stations.rehearse.found_table import FoundTable
from leanstep.desk.stations.rehearse.responding import Responding
from leanstep.desk.stations.rehearse.robust import Robust
from leanstep.desk.stations.rehearse.second_row import SecondRow
from leanstep.desk.stations.rehearse.sweeping import Sweeping
from leanstep.desk.stations.rehearse.take_row import TakeRow
from leanstep.desk.stations.station import Station
from leanstep.desk.widgets.basics import DropDown, NameField, button, command, fill_combo, label
from leanstep.desk.widgets.menu import Deed, Deeds, DeedsMenu
from leanstep.desk.widgets.timeline import Timeline

TAKE = "The take"
BELOW = ("How quick presses show", "A sweep of made-up takes", "Takes before and after")
"""What can stand below the course in its place."""
MOST_TICKS = 18_000
"""Ticks of a take that are laid out on the timeline: five minutes at 60 a second."""
MOST_TOLD = 3
"""Contacts of a take that are told in its sentence."""
SLICE = 0.06
"""Seconds a rehearsal may take before the window has its turn again."""


class RehearseStation(Station):
    """The course on top, takes in a bar, the timeline below."""

    def __init__(self, desk: Context) -> None:
        super().__init__(desk)
        session = desk.session
        live = self.live = desk.live
        self.trace: Trace | None = None
        self._shared_for: tuple[str, bool, bool, bool] | None = None
        """The take, and what stands beside it, for which the timeline got its height."""
        self._stale = False
        """The take has not been rehearsed since it was last changed, for nobody looks."""
        self._rest: Iterator[int] = iter(())
        self._later = QTimer(self, singleShot=True, interval=1)
        self._later.timeout.connect(self._go_on)
        self.course = CourseView(session, live, desk.starts)
        self.takes = DropDown()
        self.takes.setAccessibleName("Take")
        self.takes.setToolTip("The take on the timeline")
        self.takes.setMinimumWidth(140)
        self.takes.activated.connect(lambda index: self.choose(self.takes.itemText(index)))
        self.name = NameField("take")
        self.name.setMaximumWidth(150)
        self.name.renamed.connect(lambda name: session.rename(Thing("take", self.current), name))
        self.name.refused.connect(session.said)
        self.play_button = button("Play", "Play the take on the course (Ctrl+P)", self.play, True)
        self.drive_button = button("Steer", "Steer the character (Ctrl+Space; Esc lets go)", self._drive)
        self.record_button = button("Record", "Start over and keep what you do as a take (Ctrl+T)", self.record)
        self.keep_button = button(
            "Keep what just happened",
            "Make a take of what you steered in the last two minutes (Ctrl+Shift+K)",
            self.keep,
        )
        self.course_row = CourseRow(session)
        self.course_row.hide()
        self.course_button = button("Course", "Draw, move and name what the figure moves on", self._edit_course)
        self.course_button.setCheckable(True)
        self.second_row = SecondRow(session, live)
        self.second_row.hide()
        self.second_row.kept.connect(self._keep_second)
        self.second_row.steered.connect(self._steer_second)
        self.second_row.boxes.connect(self._show_boxes)
        self.course.second_put.connect(self.second_row.put_at)
        live.second_steered.connect(self._second_steered)
        self.second_button = button(
            "Somebody else", "Put a second figure on the course, to strike and be struck", self._meet
        )
        self.second_button.setCheckable(True)
        self.paths = DropDown()
        self.paths.setAccessibleName("Path")
        self.paths.setMaximumWidth(130)
        self.paths.setToolTip(
            "Whose path is shown on the course; its keys are dragged there, or moved with the arrow keys"
        )
        self.paths.activated.connect(
            lambda at: self.course.path.choose(self.paths.itemText(at).removeprefix("Path of "))
        )
        self.take_row = TakeRow()
        self.take_row.changed.connect(self._change_take)
        self.robust = Robust()
        self.robust.done.connect(self._tried)
        self.robust.ended.connect(self._robust_ended)
        self.destroyed.connect(self.robust.close)
        self.robust_button = button(
            "How robust",
            "Try the take at other rates, and with every change up to 3 ticks early and late",
            self._try_robust,
        )
        self.responding, self.sweeping, self.before_after = Responding(session), Sweeping(session), BeforeAfter(session)
        self.tables: tuple[FoundTable, ...] = (self.responding, self.sweeping, self.before_after)
        for one in self.tables:
            one.wanted.connect(self._play_found)
            one.keeps.connect(self._keep_found)
        self.below = DropDown()
        self.below.setAccessibleName("What stands below the course")
        self.below.setToolTip("The take on the timeline, or what playing finds out")
        for words in (TAKE, *BELOW):
            self.below.addItem(words)
        self.below.activated.connect(self._show_below)
        self.comparison = Comparison(session)
        self.comparison.wanted.connect(self._bring_log)
        self.comparison.changed.connect(self.refresh)
        self.log_button = button(
            "A game's log …",
            "Put what a game has logged under what Lean Step does with the same inputs",
            self.comparison.ask,
        )
        self.loop = QCheckBox("loop")
        self.loop.setToolTip("Play the take over and over")
        self.slow = QCheckBox("slow")
        self.slow.setToolTip("A quarter of the speed")
        self.slow.toggled.connect(lambda on: setattr(live, "slow", on))
        self.sentence = label("", "soft", wrap=True)
        self.timeline = Timeline()
        self.timeline.edited.connect(self._edited)
        self.timeline.scrubbed.connect(self.look)
        self.timeline.chose.connect(self.take_row.show_bar)
        self.take_row.valued.connect(self.timeline.set_value)
        self.take_row.wanted.connect(self.timeline.draw_row_of)
        self.menus = [DeedsMenu(self.course, self.course.deeds), DeedsMenu(self.timeline, self._take_deeds)]
        self._lay_out()
        session.editing.follow(self, self.refresh, session.changed)
        session.editing.follow(self, self._selected, session.selected)
        live.ticked.connect(self._tick)
        live.mode_changed.connect(self._mode)
        live.cut_short.connect(self._cut_short)
        self._was_recording = False
        self.refresh()

    def _lay_out(self) -> None:
        bar = QHBoxLayout()
        bar.setSpacing(7)
        for widget in (
            self.drive_button,
            self.record_button,
            self.keep_button,
            self.course_button,
            self.second_button,
            self.paths,
        ):
            bar.addWidget(widget)
        bar.addStretch(1)
        for part in (self.takes, self.play_button, self.loop, self.slow):
            bar.addWidget(part)
        second = QHBoxLayout()
        second.addWidget(self.sentence, 1)
        second.addWidget(self.log_button)
        second.addWidget(self.below)
        second.addWidget(self.robust_button)
        second.addWidget(label("Name", "soft"))
        second.addWidget(self.name)
        self.of_take = [
            button("Duplicate", "A copy of the take on the timeline (Ctrl+D)", self.duplicate),
            button("Remove the take", "Remove the take on the timeline", self.remove),
        ]
        for widget in self.of_take:
            second.addWidget(widget)
        self.scroller = QScrollArea()
        self.scroller.setWidgetResizable(True)
        self.scroller.setWidget(self.timeline)
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 10, 12, 8)
        column.setSpacing(7)
        column.addWidget(self.course, 1)
        column.addWidget(self.course_row)
        column.addWidget(self.second_row)
        column.addLayout(bar)
        column.addWidget(self.scroller)
        for table in self.tables:
            column.addWidget(table, 1)
        column.addWidget(self.comparison, 1)
        column.addWidget(self.take_row)
        column.addLayout(second)

    def commands(self) -> list[QAction]:
        """The station's own commands."""
        return [
            command(self, "Record a take", "Ctrl+T", self.record),
            command(self, "Duplicate the take, or the chosen shape", "Ctrl+D", self.duplicate),
            command(self, "Play the take", "Ctrl+P", self.play),
            command(self, "Keep what just happened as a take", "Ctrl+Shift+K", self.keep),
            command(self, "Change the course", "", self.course_button.click),
            command(self, "Somebody else on the course", "", self.second_button.click),
            command(self, "Show the course larger", "Ctrl++", lambda: self.course.zoom_by(1)),
            command(self, "Show the course smaller", "Ctrl+-", lambda: self.course.zoom_by(-1)),
            command(self, "Show the course as it fits the figure", "Ctrl+0", self.course.fit),
            command(self, "How robust is the take", "", self._try_robust),
            command(self, "Compare with a game's log", "Ctrl+Shift+G", self.comparison.ask),
            *(
                command(self, words, "", partial(self._show_below, number))
                for number, words in enumerate(("Show the take on the timeline", *BELOW))
            ),
        ]

    # --- what is shown

    @property
    def current(self) -> str:
        """The name of the take on the timeline: the chosen one, else the first; empty when there is none."""
        names, chosen = [take.name for take in self.session.document.takes], self.session.selection.thing("take")
        return chosen.name if chosen is not None and chosen.name in names else names[0] if names else ""

    @property
    def take(self) -> Take | None:
        """The take on the timeline."""
        return next((take for take in self.session.document.takes if take.name == self.current), None)

    def _index(self) -> int:
        return [take.name for take in self.session.document.takes].index(self.current)

    def choose(self, name: str) -> None:
        """Put a take on the timeline."""
        self.session.select(Thing("take", name))

    def _selected(self) -> None:
        self._show_paths()
        if self.takes.currentText() != self.current:
            self.refresh()

    def _show_paths(self) -> None:
        path = self.course.path
        shown = path.clip
        self.paths.setVisible(bool(path.clips))
        fill_combo(
            self.paths, [f"Path of {name}" for name in path.clips], f"Path of {shown.name}" if shown is not None else ""
        )
        self.course.show_path()

    def refresh(self) -> None:
        """Show the document as it is now."""
        for table in self.tables:
            table.refresh()
        self.course_row.refresh()
        self.second_row.refresh()
        self._show_paths()
        names = [take.name for take in self.session.document.takes]
        fill_combo(self.takes, names, self.current)
        self.name.show_name(self.current, lambda name: self.session.rename_fault(Thing("take", self.current), name))
        take = self.take
        self.take_row.show_take(self.session.document, take)
        self.trace = None
        self._later.stop()
        for widget in (self.takes, self.play_button, self.name, self.loop, self.robust_button, *self.of_take):
            widget.setEnabled(take is not None)
        if take is None:
            self.sentence.setText("No takes yet. Record one: steer the character, and what you press is kept.")
            self._show(None)
        elif self.isVisible():
            self._rehearse(take)
        self._stale = take is not None and not self.isVisible()

    def showEvent(self, event: QShowEvent) -> None:
        if self._stale:
            # what it is as high as is known only now
            self._shared_for = None
            self.refresh()

    def _edit_course(self) -> None:
        on = self.course_button.isChecked()
        self.course_row.setVisible(on)
        self.course.edit(self.course_row if on else None)
        self.course_row.refresh()
        self._share_height()

    def _meet(self) -> None:
        self.second_row.setVisible(self.second_button.isChecked())
        self._shared_for = None
        self._share_height()

    def _show_boxes(self, on: bool) -> None:
        self.course.second.boxes = on
        self.course.update()

    def _keep_second(self) -> None:
        """The take holds whoever is on the course, in place of whom it held."""
        take, second = self.take, self.live.second
        if take is None:
            self.session.said.emit("There is no take to hold it: record one.")
        elif second is not None:
            self._put_take(take, replace(take, second=second.recorded(0)), "holds a second figure")

    def _steer_second(self) -> None:
        """Play the take while hands steer its second figure."""
        take, second = self.take, self.live.second
        if take is not None and take.second is None and second is not None:
            self._keep_second()
            take = self.take
        if take is None or take.second is None:
            self.session.said.emit("Record a take first; then the second figure can be steered against it.")
            return
        try:
            self.live.play(take, steer_second=True)
        except LeanStepError as error:
            self.session.complained.emit(error)
        self.course.setFocus(Qt.FocusReason.OtherFocusReason)

    def _second_steered(self, made: Take) -> None:
        before = next((take for take in self.session.document.takes if take.name == made.name), None)
        if before is not None:
            self.choose(made.name)
            self._put_take(before, made, "steered the second figure of")

    def _put_take(self, before: Take, made: Take, said: str) -> None:
        at = [take.name for take in self.session.document.takes].index(before.name)
        self.session.edit(f"{said} {made.name}", lambda document: put(document, ("takes", at), made))

    def _share_height(self) -> None:
        """The timeline gets what it needs as long as the course keeps its height."""
        rows = 184 if self.course_button.isChecked() else 146
        rows += 82 if self.second_button.isChecked() else 0
        above = self.course.minimumHeight()
        if self.comparison.isVisibleTo(self):
            rows, above = rows + HEIGHT + 7, 0
        room, wanted = max(120, self.height() - above - rows), self.timeline.height() + 2
        # one take keeps its height while it is changed: rows that come and go do not move what is under the pointer
        about = (
            self.current,
            self.course_button.isChecked(),
            self.second_button.isChecked(),
            self.comparison.isVisibleTo(self),
        )
        if about == self._shared_for:
            wanted = self.scroller.height()
        self._shared_for = about if self.take is not None else None
        self.scroller.setFixedHeight(min(room, wanted))

    def resizeEvent(self, event: object) -> None:
        self._shared_for = None
        self._share_height()

    def _rehearse(self, take: Take) -> None:
        """Run the take in slices, so that a long one never holds the window up."""
        machine = self.session.machine
        try:
            self.trace = begun(machine, take)
            self._rest = rehearsing(self.trace, take, most=MOST_TICKS)
            self._go_on()
        except LeanStepError as error:
            self._rest = iter(())
            self.trace = None
            self.sentence.setText(f"This take cannot be played: {error.reason}. {error.way_out}")

    def _go_on(self) -> None:
        """One slice of the rehearsal; the next one follows when the window has had its turn."""
        take, trace = self.take, self.trace
        if take is None or trace is None:
            return
        until = time.perf_counter() + SLICE
        for _ in self._rest:
            if time.perf_counter() > until:
                if self.timeline.take is not take:
                    self._show(take)
                self.sentence.setText(f"Rehearsing: {len(trace.steps)} of {take.ticks} ticks …")
                self._later.start()
                return
        self._later.stop()
        self._say(take, trace)
        self._show(take)

    def _say(self, take: Take, trace: Trace) -> None:
        rate = self.session.document.rate
        more = f" The timeline shows the first {MOST_TICKS} ticks." if take.ticks > MOST_TICKS else ""
        end = trace.steps[-1].situation if trace.steps else trace.first
        states = ", ".join(layer.states[state] for layer, state in zip(self.session.machine.layers, end.states))
        begins = ""
        if take.begins is not None:
            begins = f" begins in {', '.join(one.state for one in take.begins.layers)}, where you were;"
        self.sentence.setText(
            f"{take.ticks} ticks, {take.ticks / rate:.1f} s;{begins} ends in {states}.{more}{self._met(take, trace)}"
        )

    def _met(self, take: Take, trace: Trace) -> str:
        """What touched in a take, and who was free first."""
        if not isinstance(trace.steps, PairSteps) or take.second is None:
            return ""
        pair, told = trace.steps.pair, []
        for contact in pair.contacts[:MOST_TOLD]:
            found = pair.measured(contact)
            plus = "" if found.advantage is None else f", {signed(found.advantage)}"
            if plus and found.computed not in (None, found.advantage):
                plus += f" where it says {signed(found.computed or 0)}: {pair.differs(found)}"
            told.append(f"{contact.told} on tick {contact.tick}{plus}")
        more = f" and {len(pair.contacts) - MOST_TOLD} more" if len(pair.contacts) > MOST_TOLD else ""
        changed = has_changed(self.session.machine, take.second)
        other = " The second figure is not what it was when the take was made." if changed else ""
        return (
            f" {'; '.join(told)[:1].upper()}{'; '.join(told)[1:]}{more}.{other}"
            if told
            else f" Nothing touches.{other}"
        )

    def _show(self, take: Take | None) -> None:
        self.course.trace = self.trace if take is not None and take.world == "body" else None
        met = []
        if take is not None and self.trace is not None and len(self.trace.steps) >= min(take.ticks, MOST_TICKS):
            missing = dict(unmet(self.trace, take))
            met = [(expectation_words([one]), missing.get(number, "")) for number, one in enumerate(take.expects)]
        game = self.comparison.states(take)
        # the game has moved the body: there is nothing to be seen on the course
        self.course.setVisible(not self.comparison.isVisibleTo(self))
        self.timeline.show_trace(self.session.machine, take, self.trace, met=met, game=game)
        self._share_height()
        self.course.update()

    def _tick(self) -> None:
        if self.live.shows_take and self.live.take is not None and self.live.take.name == self.current:
            self.timeline.show_playhead(self.live.position)

    def _mode(self) -> None:
        recording = self.live.recording is not None
        self.record_button.setText("End the take" if recording else "Record")
        self.paths.setVisible(bool(self.course.path.clips) and not recording)
        self.drive_button.setText("Let go" if self.live.mode == "driving" and not recording else "Steer")
        self.play_button.setText("Stop" if self.live.mode == "playing" else "Play")

    def look(self, tick: int) -> None:
        """Show one tick of the take."""
        if self.take is None or self.trace is None or not self.trace.steps:
            return
        self.live.look(self.take, self.trace, tick)

    # --- playing and recording

    def play(self) -> None:
        """Play the take, or stop it."""
        if self.live.mode == "playing":
            self.live.leave()
            return
        if self.take is not None:
            try:
                self.live.play(self.take, self.loop.isChecked())
            except LeanStepError as error:
                self.session.said.emit(f"{error.reason[0].upper()}{error.reason[1:]}. {error.way_out}")

    def _drive(self) -> None:
        self.live.toggle()
        self.course.setFocus(Qt.FocusReason.OtherFocusReason)

    def record(self) -> None:
        """Begin a take, or end the one that is being recorded."""
        if self.live.recording is not None:
            self._add(self.live.recorded_take(self._free_name()))
            return
        self.live.record()
        self.session.said.emit("Recording. Press “End the take” (Ctrl+T) when you are done.")
        self.course.setFocus(Qt.FocusReason.OtherFocusReason)

    def keep(self) -> None:
        """Make a take of what was steered last."""
        take = self.live.kept_take(self._free_name())
        if take is None:
            self.session.said.emit("There is nothing to keep: steer the character first.")
        else:
            self.live.leave()
            seconds = take.ticks / self.session.document.rate
            self._add(take, f"kept the last {seconds:.1f} s of steering as")

    def _bring_log(self, take: Take) -> None:
        """Make a take of what went into a game."""
        self._add(take, "made of the game's log")

    def take_files(self, paths: list[Path]) -> None:
        """Bring in takes as CSV or JSON; the first one that is a game's log is compared with."""
        machine = self.session.machine
        for path in paths:
            text = text_of(path)
            if self.comparison.is_log(text):
                self.comparison.show_log(text, path)
                return
            read = take_from_json if path.suffix.lower() == ".json" else take_from_csv
            taken = [take.name for take in self.session.document.takes]
            name = free_name(path.stem.removesuffix(".take"), taken)
            self._add(replace(read(text, path.name, machine), name=name), "brought in")

    def let_go(self) -> None:
        for table in self.tables:
            table.close_work()
        self.comparison.close_work()

    def _cut_short(self, take: Take, why: str) -> None:
        """Keep what was recorded until something else ended it."""
        self._add(replace(take, name=self._free_name()))
        self.session.said.emit(f"{why}; {self.current} has what came before. Undo takes it back.")

    def _free_name(self) -> str:
        return free_name("take", [take.name for take in self.session.document.takes])

    def _add(self, take: Take | None, said: str = "recorded") -> None:
        if take is None:
            self.session.said.emit("Nothing was recorded.")
            return
        thing = Thing("take", take.name)
        self.session.edit(
            f"{said} {take.name}",
            lambda document: append(document, ("takes",), take),
            select=lambda selection: selection.choose(thing),
        )

    def _try_robust(self) -> None:
        """Try the take otherwise, or stop that."""
        if self.robust.runs:
            self.robust.stop()
        elif self.take is not None:
            self.robust_button.setText("Stop trying")
            self.robust.start(self.session.document, self.take)

    def _show_below(self, number: int) -> None:
        """Show what playing finds out in place of the take on the timeline, or that again."""
        shown = self.tables[number - 1] if number else None
        self.below.setCurrentIndex(number)
        self.scroller.setVisible(shown is None)
        self.take_row.setVisible(shown is None and self.take is not None)
        for one in self.tables:
            one.setVisible(one is shown)
        if shown is not None:
            shown.refresh()
            shown.table.setFocus()
        if shown is self.sweeping and not self.sweeping.rows and not self.sweeping.work.busy:
            self.sweeping.start()

    def _play_found(self, take: Take) -> None:
        """Play what was found, a take of before and after beside what it did before, where it could be played then."""
        before = self.before_after.before if self.before_after.isVisible() else None
        again: Again | None = None
        if before is not None:
            with suppress(LeanStepError):
                again = Again(before, take)
        try:
            self.desk.live.play(take)
        except LeanStepError as error:
            self.session.complained.emit(error)
            return
        self.desk.live.again = again

    def _keep_found(self, take: Take) -> None:
        """Keep what was found as a take."""
        names = [one.name for one in self.session.document.takes]
        self._add(replace(take, name=free_name(take.name, names)))

    def _tried(self, done: int) -> None:
        if self.robust.runs:
            self.sentence.setText(f"Trying the take otherwise: {done} variants so far …")

    def _robust_ended(self, found: list[Difference] | str | None) -> None:
        self.robust_button.setText("How robust")
        if found is None:
            self.sentence.setText("Stopped trying.")
        elif isinstance(found, str):
            self.sentence.setText(found)
        elif found:
            more = f" {len(found) - 1} more variants differ." if len(found) > 1 else ""
            first = found[0].sentence
            self.sentence.setText(f"Not robust: {first[0].lower()}{first[1:]}.{more}")
        else:
            self.sentence.setText("Robust: it does the same at every rate, and when a hand is a little early or late.")

    # --- edits

    def _change_take(self, values: dict[str, object]) -> None:
        """Give the take other values; what it does from its new end on is left out."""
        take = self.take
        if take is not None:
            ticks = values.get("ticks", take.ticks)
            kept = tuple(one for one in take.changes if one.at < ticks)  # type: ignore[operator]
            at, made = self._index(), replace(take, changes=kept, **values)
            self.session.edit(
                f"changed take {take.name}",
                lambda document: put(document, ("takes", at), made),
                f"take {take.name} {sorted(values)}",
            )

    def _edited(self, take: Take) -> None:
        at = self._index()
        self.session.edit(f"changed take {take.name}", lambda document: put(document, ("takes", at), take))

    def duplicate(self) -> None:
        """A copy of the take on the timeline; while the course is changed, of its chosen shape."""
        if self.course_row.isVisible() and self.course_row.chosen is not None:
            self.course_row.duplicate()
        elif self.take is not None:
            self.session.duplicate(Thing("take", self.current))

    def _take_deeds(self, where: QPoint | None) -> Deeds:
        """What can be done with the take on the timeline, and with the bar at a place of it."""
        if self.take is None:
            return []
        bar = self.timeline.bar_at(QPointF(where)) if where is not None else self.timeline.chosen
        self.timeline.choose(bar)
        of_bar = [Deed("Remove the bar", self.timeline.remove_bar, "Delete"), None] if bar is not None else []
        return [
            *of_bar,
            Deed(self.play_button.text(), self.play, "Ctrl+P"),
            Deed("Rename", self.name.ask),
            Deed("Duplicate", self.duplicate, "Ctrl+D"),
            Deed("Remove the take", self.remove),
            Deed("How robust", self._try_robust),
        ]

    def remove(self) -> None:
        """Remove the take on the timeline."""
        if self.take is not None:
            self.session.remove(Thing("take", self.current))
