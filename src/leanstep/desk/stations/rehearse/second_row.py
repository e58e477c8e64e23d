"""Who else is on the course, where, and what it does."""

from __future__ import annotations

import os
from pathlib import Path

from msgspec.structs import replace
from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QCheckBox, QFileDialog, QHBoxLayout, QVBoxLayout, QWidget

from leanstep.core.character.takes import SecondFigure
from leanstep.core.errors import LeanStepError
from leanstep.core.rehearsal.actions import signed
from leanstep.core.rehearsal.pair_traces import Measured
from leanstep.desk.second_figure import SecondOnCourse
from leanstep.desk.session import Session
from leanstep.desk.simulation import Simulation
from leanstep.desk.widgets.basics import NumberField, button, choice_of, fill_combo, label

NOBODY, FILE = "nobody", "file"
WHO = {NOBODY: "nobody else", "straw man": "the straw man", "itself": "the same again", FILE: "a character file …"}
AS_WRITTEN, STEERED = "as written", "is steered"
FARTHEST = 1e6


class SecondRow(QWidget):
    """Puts somebody on the course; ``kept``: the take is to hold it, ``steered``: hands are to steer it while the take plays."""

    kept = Signal()
    steered = Signal()
    boxes = Signal(bool)

    def __init__(self, session: Session, live: Simulation) -> None:
        super().__init__()
        self.session, self.live = session, live
        self.who = choice_of("Who else is there", "Somebody to strike, and to be struck by", WHO)
        self.who.activated.connect(lambda at: self._choose(self.who.itemData(at)))
        self.does = choice_of("What the second figure does", "What it does while you steer", {})
        self.does.setMinimumWidth(104)
        self.does.activated.connect(lambda at: self._do(self.does.itemText(at)))
        self.across = NumberField(
            "Place of the second figure", "Where it stands, in units", -FARTHEST, FARTHEST, whole=False
        )
        self.across.setPrefix("at ")
        self.across.setMinimumWidth(72)
        self.across.settled.connect(lambda value: self._set(x=value))
        self.up = NumberField(
            "Height of the second figure", "How high it stands, in units", -FARTHEST, FARTHEST, whole=False
        )
        self.up.setPrefix("up ")
        self.up.setMinimumWidth(60)
        self.up.settled.connect(lambda value: self._set(y=value))
        self.facing = choice_of(
            "Where the second figure looks", "At first", {"left": "looks left", "right": "looks right"}
        )
        self.facing.activated.connect(lambda at: self._set(facing=self.facing.itemData(at)))
        self.back_button = button("Put back", "Both to where they stood at first (Ctrl+R)", live.restart)
        self.keep_button = button(
            "Keep in the take", "The take on the timeline holds the second figure from now on", self.kept.emit
        )
        self.steer_button = button(
            "Steer it",
            "Play the take, and steer the second figure against it; what it does is kept in the take",
            self.steered.emit,
        )
        self.show_boxes = QCheckBox("boxes")
        self.show_boxes.setToolTip("Draw what hits and what can be hit of both")
        self.show_boxes.setChecked(True)
        self.show_boxes.toggled.connect(self.boxes)
        self.said = label("", "soft", wrap=True)
        # room for two contacts, so that nothing moves when they are told
        self.said.setMinimumHeight(2 * self.said.fontMetrics().lineSpacing() + 2)
        self.said.setAlignment(Qt.AlignmentFlag.AlignTop)
        self._told = ""
        row = QHBoxLayout()
        row.setSpacing(7)
        parts = (
            self.does,
            self.across,
            self.up,
            self.facing,
            self.back_button,
            self.keep_button,
            self.steer_button,
            self.show_boxes,
        )
        row.addWidget(label("Also there", "soft"))
        row.addWidget(self.who)
        for part in parts:
            row.addWidget(part)
        row.addStretch(1)
        self._of_second = parts
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addLayout(row)
        column.addWidget(self.said)
        live.measured.connect(self._tell)
        live.mode_changed.connect(self.refresh)
        self.refresh()

    @property
    def second(self) -> SecondOnCourse | None:
        """Whoever is there."""
        return self.live.second

    def refresh(self) -> None:
        """Show who is there now."""
        second = self.second
        for part in self._of_second:
            part.setVisible(second is not None)
        self.who.setCurrentIndex(self.who.findData(second.written.who if second is not None else NOBODY))
        self.who.setEnabled(self.live.mode != "playing")
        if second is None:
            self.said.setText("Put somebody on the course to practise strikes on; boxes then touch.")
            return
        machine = second.figure.machine
        playing = self.live.mode == "playing"
        ways = ["stands", *(["guards"] if "braced" in machine.index else [])]
        ways += ["walks in"] if machine.steered_by["stick_x"] >= 0 else []
        ways += [f"take {take.name}" for take in machine.character.takes if take.world == "body"]
        told = {"written": AS_WRITTEN, "steered": STEERED}.get(second.does)
        fill_combo(self.does, [told] if told else ways, told or second.does)
        for part in (self.does, self.across, self.up, self.facing, self.keep_button, self.steer_button):
            part.setEnabled(not playing)
        self.across.show_value(second.written.x)
        self.up.show_value(second.written.y)
        self.facing.setCurrentIndex(self.facing.findData(second.written.facing))
        if not second.contacts:
            self._told = ""
            self.said.setText(self._wanting(second))

    def _wanting(self, second: SecondOnCourse) -> str:
        """What is missing for anything to touch, in a sentence; empty where nothing is."""
        character = self.session.document
        if not any(box.kind == "strike" for clip in character.clips for box in clip.boxes):
            return "No clip has a box that hits: draw one in Clips, with “Boxes”."
        if character.contact is None:
            return "It is not told when it is hit: say what contact raises, under Body."
        name = "The straw man" if second.written.who == "straw man" else second.figure.machine.character.name
        return f"{name} is there. Strike it."

    def _choose(self, who: str) -> None:
        if who == NOBODY:
            self._put(None)
            return
        body = self.live.situation.body
        written = SecondFigure(who=who, x=round(body.x + 2 * self.session.document.body.width), y=round(body.y))  # type: ignore[arg-type]
        if who == FILE:
            path, _ = QFileDialog.getOpenFileName(
                self, "A second figure", str(self.session.folder), "Characters (*.leanstep)"
            )
            if not path:
                self.refresh()
                return
            written = replace(written, file=Path(os.path.relpath(path, self.session.folder)).as_posix())
        self._put(written)

    def _put(self, written: SecondFigure | None, does: str = "stands") -> None:
        """Somebody else stands there, or nobody."""
        try:
            made = SecondOnCourse(self.session.machine, written, does) if written is not None else None
        except LeanStepError as error:
            self.session.complained.emit(error)
        else:
            self.live.beside(made)
        self.refresh()

    def put_at(self, x: float, y: float) -> None:
        """Let whoever is there stand at a place, in units."""
        self._set(x=x, y=y)

    def _set(self, **values: object) -> None:
        if self.second is not None:
            self._put(replace(self.second.written, **values), self.second.does)

    def _do(self, does: str) -> None:
        if self.second is not None:
            self._put(self.second.written, does)

    def _tell(self, measured: Measured, because: str) -> None:
        """Say who was free first."""
        second, touch = self.second, measured.contact.touch
        if second is None or measured.advantage is None:
            return
        words = f"{measured.contact.told}, {signed(measured.advantage)} as it was played"
        words = f"{words[0].upper()}{words[1:]}"
        if because and measured.computed is not None:
            words += f"; {touch.clip} says {signed(measured.computed)}. {because[0].upper()}{because[1:]}"
        words = f"{words}." if because else f"{words}, as {touch.clip} says."
        self.said.setText(f"{self._told}\n{words}" if self._told else words)
        self._told = words
