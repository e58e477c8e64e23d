"""The Findings station."""

from __future__ import annotations

import msgspec
from PySide6.QtCore import QItemSelectionModel, QPoint, Qt, QTimer
from PySide6.QtGui import QAction, QKeyEvent, QShowEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QScrollArea, QSplitter, QVBoxLayout, QWidget

from leanstep.core.character.edits import append, free_name
from leanstep.core.character.takes import Take
from leanstep.core.errors import LeanStepError
from leanstep.core.findings.repairs.registry import Repair
from leanstep.core.findings.results import Finding
from leanstep.core.naming.references import Thing
from leanstep.core.naming.targets import place_of
from leanstep.core.naming.transitions import TransitionName
from leanstep.core.rehearsal.takes import rehearse
from leanstep.core.rehearsal.traces import Trace
from leanstep.core.wording import counted
from leanstep.desk.context import Context
from leanstep.desk.stations.findings.finding_list import FindingList
from leanstep.desk.stations.findings.mending import MendPanel
from leanstep.desk.stations.findings.sentences import Key, left_open, together
from leanstep.desk.stations.findings.stills import Stills
from leanstep.desk.theme import font
from leanstep.desk.widgets.basics import button, command, label
from leanstep.desk.widgets.menu import ContextMenu, MenuEntries, MenuEntry
from leanstep.desk.widgets.timeline import Timeline

_HOW_SURE = {
    "proved": "Proved: worked out for every input there could be, not merely tried.",
    "shown": "Shown by the take below.",
    "not found": "Not found by playing for a while; that is no proof.",
    "written": "It stands in the file.",
    "undecided": "Undecided: it could not be settled.",
}


QUESTIONS = ("order.decides",)
"""Kinds of findings that are no fault where what they tell is meant."""

FRESH = 30_000
"""Milliseconds for which is told what is new."""


class FindingsStation(FindingList):
    """Sentences on the left, worst first; on the right why, how sure, and the witness that plays in the mirror."""

    def __init__(self, desk: Context) -> None:
        super().__init__(desk)
        session = desk.session
        live = self.live = desk.live
        self._first_wanted = False
        self._trace: Trace | None = None
        self.summary = label("", "count")
        self.progress = label("", "soft")
        self.list.selectionModel().currentChanged.connect(lambda now, before: self._chosen())
        self.list.activated.connect(lambda index: self._enter())
        self.head = label("", wrap=True)
        self.head.setFont(font(15))
        self.why = label("", wrap=True)
        self.sure = label("", "soft", wrap=True)
        self.witness = label("", "soft", wrap=True)
        self.play_button = button("Play the witness", "See it happen in the mirror (Enter)", self.play, True)
        self.show_button = button("Show the place", "Go to where it can be mended", self.show_place)
        self.keep_button = button("Keep as a take", "Add the witness to the takes, to be replayed later", self.keep)
        self.mending = MendPanel(session)
        self.changes = label("", "soft", wrap=True)
        self.changes.hide()
        self._fading = QTimer(self, singleShot=True, interval=FRESH)
        self._fading.timeout.connect(self.changes.hide)
        self.timeline = Timeline(editable=False)
        self.timeline.setToolTip("The witness: its inputs, and what the character does; Enter plays it")
        self.timeline.scrubbed.connect(self.look)
        self._lay_out()
        self.menu = ContextMenu(self.list, self._entries_at)
        self.setFocusProxy(self.list)
        self._also: dict[Key, tuple[Key, ...]] = {}
        self._first: Key | None = None
        """The finding that is shown only because it was the first one while the check went on."""
        session.checker.repaired.connect(self._repair_came)
        session.checker.checked.connect(self._forget_groups)
        session.checker.checked.connect(self._tell_changes)
        session.editing.follow(
            self, self.refresh, session.opened, unasked=(session.checker.checked, session.checker.told)
        )
        session.wanted.connect(lambda kind: self.refresh() if kind == "finding" else None)
        session.progressed.connect(self._progress)
        self.progress.hide()
        live.ticked.connect(self._tick)
        self.refresh()

    def _lay_out(self) -> None:
        left = QWidget()
        column = QVBoxLayout(left)
        column.setContentsMargins(12, 10, 6, 10)
        column.addWidget(self.summary)
        column.addWidget(self.progress)
        column.addWidget(self.changes)
        column.addWidget(self.list, 1)
        column.addWidget(self.muted_button, 0, Qt.AlignmentFlag.AlignLeft)
        details = QFrame()
        details.setObjectName("details")
        inner = QVBoxLayout(details)
        inner.setContentsMargins(4, 6, 4, 0)
        inner.setSpacing(9)
        for widget in (self.head, self.why, self.sure, self.witness):
            inner.addWidget(widget)
        row = QHBoxLayout()
        row.addWidget(self.play_button)
        row.addWidget(self.show_button)
        row.addWidget(self.keep_button)
        row.addWidget(self.meant_button)
        row.addWidget(self.mute_button)
        row.addStretch(1)
        inner.addWidget(self.mending)
        inner.addLayout(row)
        inner.addWidget(self.reason)
        self.stills = Stills(self.session)
        inner.addWidget(self.stills)
        inner.addWidget(self.timeline)
        inner.addStretch(1)
        inside = QScrollArea()
        inside.setWidgetResizable(True)
        inside.setWidget(details)
        right = QWidget()
        box = QVBoxLayout(right)
        box.setContentsMargins(8, 10, 12, 10)
        box.addWidget(inside)
        splitter = QSplitter(Qt.Orientation.Horizontal)
        splitter.addWidget(left)
        splitter.addWidget(right)
        splitter.setSizes([430, 520])
        splitter.setChildrenCollapsible(False)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(splitter)

    def commands(self) -> list[QAction]:
        """The station's own commands."""
        return [
            command(self, "Play the witness of the chosen finding", "", self.play),
            command(self, "Mend the chosen finding", "", self.mending.mend),
            command(self, "Mute the chosen finding", "", self._ask_reason),
            command(self, "Findings: what is new and what is gone", "", self._tell_changes),
        ]

    # --- what is shown

    def greet(self) -> None:
        """Choose the first finding as soon as there is one, and let its witness run in the mirror."""
        self._first_wanted = True
        self.refresh()

    def refresh(self) -> None:
        """Show the findings of the last check."""
        rows = self._show_list()
        self._summarise()
        self._chosen()
        if self._first_wanted and rows and self.session.report is not None:
            self._first_wanted = False
            self.list.setFocus()
            self.play()

    def _show_list(self) -> int:
        """Bring the list up to date, with the same finding chosen; how many there are."""
        report, chosen = self.session.report, self.session.finding
        findings = report.findings if report else self.session.checker.early
        if chosen is not None and chosen.key == self._first:
            chosen = None
        muted = report.muted if report else ()
        self.muted_button.setVisible(bool(muted))
        self.muted_button.setText(f"{counted(len(muted), 'finding')} muted {'▾' if self.shows_muted else '▸'}")
        if self.shows_muted:
            findings = (*findings, *(finding for finding, _ in muted))
        listed = together(findings, self._also)
        rows = [one.key for one in listed]
        row = rows.index(chosen.key) if chosen and chosen.key in rows else 0
        self._first = rows[0] if rows and chosen is None and report is None else None
        model = self.list.selectionModel()
        model.blockSignals(True)
        self.model.show(listed)
        model.setCurrentIndex(self.model.index(row if rows else -1), QItemSelectionModel.SelectionFlag.ClearAndSelect)
        model.blockSignals(False)
        self.list.viewport().update()
        return len(rows)

    def _progress(self, sentence: str) -> None:
        self.progress.setText(sentence)
        self.progress.setVisible(bool(sentence))

    def _summarise(self) -> None:
        report = self.session.report
        if report is None:
            early = counted(len(self.session.checker.early), "finding")
            going = f"{early} so far; the check goes on" if self.session.checker.early else "Checking …"
            self.summary.setText("Not checked" if self.session.checker.stopped else going)
        elif not report.findings:
            self.summary.setText("Nothing found so far." if report.aborted else "All sound: nothing to mend.")
        else:
            counts = [(report.count(severity), severity) for severity in ("error", "warning", "note")]
            self.summary.setText(", ".join(counted(n, word) for n, word in counts if n))

    def _chosen(self) -> None:
        finding = self.finding
        self.session.finding = finding
        for widget in (self.play_button, self.keep_button):
            widget.setEnabled(finding is not None and finding.witness is not None)
        self.show_button.setEnabled(finding is not None)
        self.mute_button.setEnabled(finding is not None)
        self.meant_button.setVisible(
            finding is not None and finding.id in QUESTIONS and self._reason_of(finding) is None
        )
        self.mute_button.setText("Mute …" if self._reason_of(finding) is None else "Take it back")
        if finding is None or finding.key != self._asked_for:
            self.reason.hide()
        self._ask_repair()
        if finding is None:
            report = self.session.report
            sound = "Every state can be reached and left, and nothing flickers."
            self.head.setText("" if report is None else left_open(report) or sound)
            for text in (self.why, self.sure, self.witness):
                text.setText("")
            self._trace = None
            self._show_trace(None)
            return
        self.head.setText(finding.sentence)
        reason = self._reason_of(finding)
        self.why.setText(finding.why if reason is None else f"{finding.why} Muted: {reason}".strip())
        world = {"free": " In the free world, where every value may change on every tick.", "body": ""}
        sure = [_HOW_SURE.get(finding.verdict, "") + world.get(finding.world or "", "")]
        if finding.verdict == "undecided" and self.session.report is not None:
            sure.append(left_open(self.session.report))
        self.sure.setText(" ".join(sure).strip())
        take = self.shown_take
        self._trace = None
        if take is None:
            self.witness.setText("There is no take to show: what cannot happen has none.")
        else:
            ticks = finding.witness.ticks if finding.witness else 0
            shortest = finding.verdict == "proved" and finding.id != "flicker.wobble"
            self.witness.setText(
                f"The {'shortest ' if shortest else ''}witness takes {counted(ticks, 'tick')}."
                if finding.world == "free"
                else ""
            )
            try:
                self._trace = rehearse(self.session.machine, take, most=3000)
            except LeanStepError:
                self._trace = None
        self._show_trace(take if self._trace else None)

    def _show_trace(self, take: Take | None) -> None:
        self.timeline.setVisible(take is not None)
        self.stills.setVisible(take is not None)
        self.stills.show_trace(self._trace)
        self.timeline.show_trace(self.session.machine, take, self._trace, all_controls=False)

    def _ask_repair(self) -> None:
        """Ask what mends the chosen finding, while somebody looks at it."""
        wanted = self.finding if self.isVisible() and self._reason_of(self.finding) is None else None
        self.mending.ask(wanted, lambda: self.shown_take)

    def showEvent(self, event: QShowEvent) -> None:
        self._ask_repair()

    @property
    def shown_take(self) -> Take | None:
        """The witness, drawn out a little so that what follows is seen too."""
        finding = self.finding
        if finding is None or finding.witness is None:
            return None
        take = finding.witness
        if take.world == "body":
            return take
        extra = 3 * max(4, self.session.machine.window)
        return msgspec.structs.replace(take, name="the witness", ticks=take.ticks + extra)

    def _repair_came(self, finding: Finding, repair: Repair | None) -> None:
        """What one repair would mend stands together from now on."""
        if repair is not None and repair.also and finding is self.finding:
            self._also[finding.key] = repair.also
            self._show_list()

    def _forget_groups(self) -> None:
        self._also.clear()

    def _tick(self) -> None:
        if self.live.shows_take and self.live.take is not None and self.live.take == self.shown_take:
            self.timeline.show_playhead(min(self.live.position, self.live.take.ticks))

    # --- doing

    def _enter(self) -> None:
        """Play the witness; once it plays, or where there is none, mend the finding."""
        plays = self.live.mode == "playing" and self.live.take is not None and self.live.take == self.shown_take
        if self.mending.repair is not None and (plays or self.shown_take is None):
            self.mending.mend()
        else:
            self.play()

    def _tell_changes(self) -> None:
        """For half a minute, what is new since the check before, and what is gone."""
        before, now = self.session.checker.before, self.session.report
        if before is None or now is None:
            return
        # what is not found by playing comes a while after the rest of a check
        old, new = (
            {(*one.key, one.severity): one for one in report.findings if one.verdict != "not found"}
            for report in (before, now)
        )
        came = [one.sentence for key, one in new.items() if key not in old]
        gone = [one.sentence for key, one in old.items() if key not in new]
        parts = [f"Gone: {sentence}" for sentence in gone[:3]] + [f"New: {sentence}" for sentence in came[:3]]
        if len(gone) + len(came) > len(parts):
            parts.append(f"In all {len(gone)} gone and {len(came)} new.")
        if parts or self.sender() is not self.session:
            self.changes.setText("\n".join(parts) or "Nothing new since the last check, and nothing gone.")
            self.changes.show()
            self._fading.start()

    def _entries_at(self, where: QPoint | None) -> MenuEntries:
        """What can be done with the finding at a place of the list."""
        index = self.list.indexAt(where) if where is not None else self.list.currentIndex()
        if not index.isValid():
            return []
        self.list.setCurrentIndex(index)
        told = self.mute_button.text()
        return [
            MenuEntry(self.play_button.text(), self.play, "Enter", self.play_button.isEnabled()),
            MenuEntry(self.show_button.text(), self.show_place),
            MenuEntry(self.keep_button.text(), self.keep, possible=self.keep_button.isEnabled()),
            MenuEntry("Mend it", self.mending.mend, possible=self.mending.repair is not None),
            None,
            *([MenuEntry("That is meant", self.mean)] if self.meant_button.isVisibleTo(self) else []),
            MenuEntry(told, self._ask_reason),
        ]

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape and self.reason.isVisible():
            self.reason.hide()
            self.list.setFocus()
        else:
            super().keyPressEvent(event)

    # --- the witness

    def play(self) -> None:
        """Play the witness in the mirror, over and over until Esc."""
        take = self.shown_take
        if take is None:
            self.session.said.emit("This finding has no take to play.")
            return
        try:
            self.live.play(take, looping=True)
        except LeanStepError as error:
            self.session.said.emit(str(error))
            return
        self.session.said.emit("The witness plays in the mirror; Esc stops it.")

    def look(self, tick: int) -> None:
        """Show one tick of the witness."""
        if self.shown_take is not None and self._trace is not None and self._trace.steps:
            self.live.look(self.shown_take, self._trace, tick)

    def keep(self) -> None:
        """Add the witness to the character's takes."""
        finding = self.finding
        if finding is None or finding.witness is None:
            return
        name = free_name(f"witness {finding.id}", [take.name for take in self.session.document.takes])
        take = msgspec.structs.replace(finding.witness, name=name)
        self.session.edit(f"kept a witness as {name}", lambda document: append(document, ("takes",), take))

    def show_place(self) -> None:
        """Go to the station where the finding can be mended, with its subject chosen."""
        finding = self.finding
        if finding is None:
            return
        chosen = place_of(self.session.document, finding.subject)
        if chosen is None and "assumption" in finding.details:
            self.session.wanted.emit("parameter")
            self.session.said.emit("The assumptions stand below the parameters, beside the mirror.")
        elif chosen is None:
            self.session.said.emit(f"{finding.sentence} No station shows that: it stands in the file.")
        else:
            if isinstance(chosen, TransitionName) and chosen.source:
                self.session.select(Thing("state", chosen.source, chosen.layer))
            self.session.show(chosen)
            self.session.pointed.emit(finding.details)
