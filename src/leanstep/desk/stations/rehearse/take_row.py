"""What is said of a take besides its bars: its length, its world, a note, and what it expects."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from leanstep.core.character.document import Character
from leanstep.core.character.takes import LONGEST_TAKE, Take
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.conditions.expression import Symbol
from leanstep.core.rehearsal.expectation_text import expectation_words, phrases, read_expectations
from leanstep.desk.parameters.fields import MeantLine
from leanstep.desk.widgets.basics import DropDown, NumberField, fill_combo, label
from leanstep.desk.widgets.effects_line import EffectsLine

ALSO = "also draw …"
WORLDS = {"body": "the body moves by its rules", "free": "the take says everything"}


class TakeRow(QWidget):
    """``changed``: the take has these other values; ``valued``: the chosen bar has this other value; ``wanted``: bars of this value
    are to be drawn, too."""

    changed = Signal(object)
    valued = Signal(object)
    wanted = Signal(str)

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
        self.world = DropDown()
        self.world.setAccessibleName("World of the take")
        self.world.setToolTip("Whether the body moves by itself, or the take says what it would have set, too")
        for key, text in WORLDS.items():
            self.world.addItem(text, key)
        self.world.activated.connect(lambda at: self.changed.emit({"world": self.world.itemData(at)}))
        self.note = MeantLine("Note on the take", "A note for people; kept in the file", "note")
        self.note.meant.connect(lambda text: self.changed.emit({"note": text}))
        tip = "What should come of it: enter light within 3 s; never enter hurt; end in idle; mark step fires 2 times"
        self.expects = EffectsLine("What the take expects", tip, "nothing; for example: end in idle", read_expectations)
        self.expects.written.connect(lambda expects: self.changed.emit({"expects": expects}))
        self.expects.refused.connect(self._refuse)
        self.fault = label("", "fault", wrap=True)
        self.value = NumberField(
            "Value of the bar", "What the chosen bar is worth (↑/↓ on the timeline)", -1, 1, whole=False
        )
        self.value.setPrefix("bar: ")
        self.value.setMinimumWidth(84)
        self.value.settled.connect(lambda value: self.valued.emit(value))
        self.choice = DropDown()
        self.choice.setAccessibleName("Choice of the bar")
        self.choice.setToolTip("What the chosen bar is worth")
        self.choice.activated.connect(lambda at: self.valued.emit(self.choice.itemText(at)))
        self.also = DropDown()
        self.also.setAccessibleName("Also draw bars of")
        self.also.setToolTip("A row on the timeline for a value the game sets")
        self.also.setMinimumWidth(104)
        self.also.activated.connect(lambda at: self.wanted.emit(self.also.itemText(at)) if at else None)
        self.show_bar(None)
        first = QHBoxLayout()
        first.setSpacing(7)
        first.addWidget(label("Lasts", "soft"))
        first.addWidget(self.ticks)
        first.addWidget(self.world)
        first.addWidget(label("expects", "soft"))
        first.addWidget(self.expects, 2)
        first.addWidget(self.note, 1)
        for widget in (self.value, self.choice, self.also):
            first.addWidget(widget)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(3)
        column.addLayout(first)
        column.addWidget(self.fault)

    def show_take(self, character: Character, take: Take | None) -> None:
        """Show a take; hidden where there is none."""
        self.setVisible(take is not None)
        self.fault.hide()
        if take is not None:
            self.ticks.show_value(take.ticks)
            self.world.setCurrentIndex(self.world.findData(take.world))
            self.note.show_text(take.note)
            self.expects.show_words(expectation_words(take.expects), phrases(character), take.name)

            used = {name for change in take.changes for name in change.set}
            free = [one.name for one in character.parameters if one.owner == "game" and one.name not in used]
            fill_combo(self.also, [ALSO, *free], ALSO)
            self.also.setVisible(bool(free))

    def show_bar(self, bar: tuple[Symbol, Symbolic] | None) -> None:
        """Show what the chosen bar is worth; nothing where it is only on or off."""
        symbol, value = bar if bar is not None else (None, True)
        self.value.setVisible(isinstance(value, float))
        self.choice.setVisible(isinstance(value, str))
        if symbol is not None and isinstance(value, float):
            self.value.setRange(symbol.low, symbol.high)
            self.value.show_value(value)
        elif symbol is not None and isinstance(value, str):
            fill_combo(self.choice, list(symbol.choices), value)

    def _refuse(self, sentence: str) -> None:
        self.fault.setText(sentence)
        self.fault.show()
