"""What is said of a take besides its bars: its length, its world, a note, and what it expects."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QVBoxLayout, QWidget

from leanstep.core.character.model import Character, Take
from leanstep.core.character.validation import LONGEST_TAKE
from leanstep.core.rehearsal.expectations import unmet
from leanstep.core.rehearsal.expected_words import expectation_words, phrases, read_expectations
from leanstep.core.rehearsal.traces import Trace
from leanstep.desk.names.fields import MeantLine
from leanstep.desk.widgets.basics import NumberField, label
from leanstep.desk.widgets.deeds_line import DeedsLine

WORLDS = {"body": "the body moves by its rules", "free": "the take says everything"}


class TakeRow(QWidget):
    """``changed``: the take has these other values."""

    changed = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self.ticks = NumberField(
            "Length of the take",
            "How long it lasts; longer goes on with what holds at its end",
            0,
            LONGEST_TAKE,
            "ticks",
        )
        self.ticks.setMinimumWidth(92)
        self.ticks.settled.connect(lambda value: self.changed.emit({"ticks": int(value)}))
        self.world = QComboBox()
        self.world.setAccessibleName("World of the take")
        self.world.setToolTip("Whether the body moves by itself, or the take says what it would have set, too")
        for key, text in WORLDS.items():
            self.world.addItem(text, key)
        self.world.activated.connect(lambda at: self.changed.emit({"world": self.world.itemData(at)}))
        self.note = MeantLine("Note on the take", "A note for people; kept in the file", "note")
        self.note.meant.connect(lambda text: self.changed.emit({"note": text}))
        tip = "What should come of it: enter light within 3 s; never enter hurt; end in idle; mark step fires 2 times"
        self.expects = DeedsLine("What the take expects", tip, "nothing; for example: end in idle", read_expectations)
        self.expects.written.connect(lambda expects: self.changed.emit({"expects": expects}))
        self.expects.refused.connect(self._refuse)
        self.verdict = label("", "soft", wrap=True)
        first = QHBoxLayout()
        first.setSpacing(7)
        first.addWidget(label("Lasts", "soft"))
        first.addWidget(self.ticks)
        first.addWidget(self.world)
        first.addWidget(label("expects", "soft"))
        first.addWidget(self.expects, 2)
        first.addWidget(self.note, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(3)
        column.addLayout(first)
        column.addWidget(self.verdict)

    def show_take(self, character: Character, take: Take | None) -> None:
        """Show a take; hidden where there is none."""
        self.setVisible(take is not None)
        self.verdict.hide()
        if take is not None:
            self.ticks.show_value(take.ticks)
            self.world.setCurrentIndex(self.world.findData(take.world))
            self.note.show_text(take.note)
            self.expects.show_words(expectation_words(take.expects), phrases(character))

    def show_verdict(self, take: Take, trace: Trace) -> None:
        """Say which expectations are met, and what is missing of the others."""
        if not take.expects:
            self.verdict.hide()
            return
        missed = dict(unmet(trace, take))
        words = [f"Not met: {reason}." for reason in missed.values()]
        fine = len(take.expects) - len(missed)
        self._say(" ".join(words) or ("It is met." if fine == 1 else f"All {fine} are met."), bool(missed))

    def _refuse(self, sentence: str) -> None:
        self._say(sentence, True)

    def _say(self, sentence: str, fault: bool) -> None:
        self.verdict.setText(sentence)
        self.verdict.setProperty("role", "fault" if fault else "soft")
        self.verdict.style().unpolish(self.verdict)
        self.verdict.style().polish(self.verdict)
        self.verdict.show()
