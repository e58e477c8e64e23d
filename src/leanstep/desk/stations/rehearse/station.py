"""The Rehearse station."""

from __future__ import annotations

import time
from collections.abc import Iterator
from functools import partial
from pathlib import Path

from msgspec.structs import replace
from PySide6.QtCore import QPoint, QPointF, QTimer
from PySide6.QtGui import QAction, QShowEvent
from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QScrollArea, QVBoxLayout

from leanstep.core.character.edits import free_name
from leanstep.core.character.takes import Take
from leanstep.core.errors import LeanStepError
from leanstep.core.naming.references import Thing
from leanstep.core.rehearsal.expectation_text import expectation_words
from leanstep.core.rehearsal.expectations import unmet
from leanstep.core.rehearsal.takes import begun, rehearsing, take_from_csv, take_from_json
from leanstep.desk.context import Context
from leanstep.desk.stations.rehearse.before_after import BeforeAfter
from leanstep.desk.stations.rehearse.chosen_take import ChosenTake
from leanstep.desk.stations.rehearse.comparison import HEIGHT, Comparison, text_of
from leanstep.desk.stations.rehearse.course_row import CourseRow
from leanstep.desk.stations.rehearse.found_table import FoundTable
from leanstep.desk.stations.rehearse.responding import Responding
from leanstep.desk.stations.rehearse.robust import RobustButton
from leanstep.desk.stations.rehearse.second_row import SecondRow
from leanstep.desk.stations.rehearse.sweeping import Sweeping
from leanstep.desk.stations.rehearse.take_row import TakeRow
from leanstep.desk.stations.rehearse.take_sentence import take_sentence
from leanstep.desk.widgets.basics import DropDown, NameField, button, command, fill_combo, label
from leanstep.desk.widgets.menu import ContextMenu, MenuEntries, MenuEntry
from leanstep.desk.widgets.timeline import Timeline

TAKE = "The take"
BELOW = ("How quick presses show", "A sweep of made-up takes", "Takes before and after")
"""What can stand below the course in its place."""
MOST_TICKS = 18_000
"""Ticks of a take that are laid out on the timeline: five minutes at 60 a second."""
SLICE = 0.06
"""Seconds a rehearsal may take before the window has its turn again."""


class RehearseStation(ChosenTake):
    """The course on top, takes in a bar, the timeline below."""

    def __init__(self, desk: Context) -> None:
        super().__init__(desk)
        session = desk.session
        live = self.live
        self._shared_for: tuple[str, bool, bool, bool] | None = None
        """The take, and what stands beside it, for which the timeline got its height."""
        self._stale = False
        """The take has not been rehearsed since it was last changed, for nobody looks."""
        self._rest: Iterator[int] = iter(())
        self._later = QTimer(self, singleShot=True, interval=1)
        self._later.timeout.connect(self._go_on)
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
        self.second_row.kept.connect(self.keep_second)
        self.second_row.steered.connect(self.steer_second)
        self.second_row.boxes.connect(self.course.show_boxes)
        self.course.second_put.connect(self.second_row.put_at)
        live.second_steered.connect(self.second_steered)
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
        self.sentence = label("", "soft", wrap=True)
        self.robust_button = RobustButton(lambda: (session.document, self.take))
        self.robust_button.said.connect(self.sentence.setText)
        self.responding, self.sweeping, self.before_after = Responding(session), Sweeping(session), BeforeAfter(session)
        self.tables: tuple[FoundTable, ...] = (self.responding, self.sweeping, self.before_after)
        for one in self.tables:
            one.wanted.connect(partial(self.play_found, one))
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
        self.slow = QCheckBox("slow")
        self.slow.setToolTip("A quarter of the speed")
        self.slow.toggled.connect(lambda on: setattr(live, "slow", on))
        self.timeline = Timeline()
        self.timeline.edited.connect(self._edited)
        self.timeline.scrubbed.connect(self.look)
        self.timeline.chose.connect(self.take_row.show_bar)
        self.take_row.valued.connect(self.timeline.set_value)
        self.take_row.wanted.connect(self.timeline.draw_row_of)
        self.menus = [
            ContextMenu(self.course, self.course.menu_entries),
            ContextMenu(self.timeline, self._take_entries),
        ]
        self._lay_out()
        session.editing.follow(self, self.refresh, session.changed)
        session.editing.follow(self, self._selected, session.selected)
        live.ticked.connect(self._tick)
        live.mode_changed.connect(self._mode)
        live.cut_short.connect(self._cut_short)
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
        self.of_take = [
            button("Duplicate", "A copy of the take on the timeline (Ctrl+D)", self.duplicate),
            button("Remove the take", "Remove the take on the timeline", self.remove),
        ]
        named = (label("Name", "soft"), self.name, *self.of_take)
        for one in (self.log_button, self.below, self.robust_button, *named):
            second.addWidget(one)
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
            command(self, "How robust is the take", "", self.robust_button.try_or_stop),
            command(self, "Compare with a game's log", "Ctrl+Shift+G", self.comparison.ask),
            *(
                command(self, words, "", partial(self._show_below, number))
                for number, words in enumerate(("Show the take on the timeline", *BELOW))
            ),
        ]

    # --- what is shown

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
        self.sentence.setText(take_sentence(take, trace, MOST_TICKS))
        self._show(take)

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

    # --- playing and recording

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
        self.robust_button.work.close()

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

    def duplicate(self) -> None:
        """A copy of the take on the timeline; while the course is changed, of its chosen shape."""
        if self.course_row.isVisible() and self.course_row.chosen is not None:
            self.course_row.duplicate()
        elif self.take is not None:
            self.session.duplicate(Thing("take", self.current))

    def _take_entries(self, where: QPoint | None) -> MenuEntries:
        """What can be done with the take on the timeline, and with the bar at a place of it."""
        if self.take is None:
            return []
        bar = self.timeline.bar_at(QPointF(where)) if where is not None else self.timeline.chosen
        self.timeline.choose(bar)
        of_bar = [MenuEntry("Remove the bar", self.timeline.remove_bar, "Delete"), None] if bar is not None else []
        return [
            *of_bar,
            MenuEntry(self.play_button.text(), self.play, "Ctrl+P"),
            MenuEntry("Rename", self.name.ask),
            MenuEntry("Duplicate", self.duplicate, "Ctrl+D"),
            MenuEntry("Remove the take", self.remove),
            MenuEntry("How robust", self.robust_button.try_or_stop),
        ]
