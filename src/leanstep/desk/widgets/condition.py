"""The line in which a condition is written: completes names, reads it aloud, and points at what is wrong."""

from __future__ import annotations

import re

from PySide6.QtCore import QStringListModel, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QAbstractItemView, QCompleter, QLineEdit

from leanstep.core.character.model import Character
from leanstep.core.character.validation import reference
from leanstep.core.conditions.checking import scope_of
from leanstep.core.conditions.grammar import ConditionError, parse
from leanstep.core.conditions.printing import reading

WORDS = (
    *("and", "or", "not", "stay", "for", "within", "between", "clip done", "clip at", "pressed", "released", "held"),
    *("buffered", "since(", "in", "span", "true", "false", "abs(", "min(", "max(", "ticks", "ms", "s"),
)
"""The words of the language, for completion."""


def judged(character: Character, layer: int, text: str) -> tuple[str, bool]:
    """What a condition says, in words, or what is wrong with it; and whether it is sound."""
    compiled, faults = scope_of(character).compile(text, layer)
    if faults:
        sentence = faults[0].sentence
        return sentence[0].upper() + sentence[1:] + ".", False
    return ("Taken " + reading(parse(text)) + ".", compiled is not None)


def in_words(condition: str) -> str:
    """A condition read aloud, or what is wrong with it."""
    try:
        return reading(parse(condition))
    except ConditionError as error:
        return f"when “{condition}” – cannot be read: {error.reason}"


class ConditionLine(QLineEdit):
    """``written`` tells the text when it is meant: after Enter or when the line is left."""

    written = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Condition")
        self.setToolTip("When this transition is taken, for example: speed > 12 and stay >= 0.1 s")
        self.setPlaceholderText("When? For example: speed > 12 and grounded")
        self._model = QStringListModel()
        self._completer = QCompleter(self._model, self)
        self._completer.setWidget(self)
        self._completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        self._completer.activated.connect(self._insert)
        self.textEdited.connect(self._complete)
        self.editingFinished.connect(lambda: self.written.emit(self.text()))

    def show_names(self, character: Character, layer: int) -> None:
        """Complete with the names of this character."""
        states = [reference(table.name, state.name) for table in character.layers for state in table.states]
        names = [symbol.name for symbol in scope_of(character).symbols]
        choices = dict.fromkeys(choice for one in character.parameters for choice in one.choices)
        spans = dict.fromkeys(span.name for clip in character.clips for span in clip.spans)
        about = [f"{word}{name}{end}" for name in states for word, end in (("in ", ""), ("since(", ")"))]
        self._model.setStringList([*names, *WORDS, *choices, *(f"span {name}" for name in spans), *about])

    @property
    def _popup(self) -> QAbstractItemView:
        popup = self._completer.popup()
        assert popup is not None
        return popup

    def _word(self) -> str:
        match = re.search(r"[\w.]+$", self.text()[: self.cursorPosition()])
        return match[0] if match else ""

    def _complete(self, text: str) -> None:
        word = self._word()
        self._completer.setCompletionPrefix(word)
        exact = self._completer.completionCount() == 1 and self._completer.currentCompletion() == word
        if len(word) >= 1 and self._completer.completionCount() and not exact:
            self._completer.complete()
        else:
            self._popup.hide()

    def _insert(self, completion: str) -> None:
        at, word = self.cursorPosition(), self._word()
        text = self.text()
        self.setText(text[: at - len(word)] + completion + text[at:])
        self.setCursorPosition(at - len(word) + len(completion))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        popup = self._popup
        if popup.isVisible() and event.key() in (
            Qt.Key.Key_Return,
            Qt.Key.Key_Enter,
            Qt.Key.Key_Tab,
            Qt.Key.Key_Escape,
        ):
            if event.key() != Qt.Key.Key_Escape and popup.currentIndex().isValid():
                self._insert(str(popup.currentIndex().data()))
            popup.hide()
            if event.key() != Qt.Key.Key_Return:
                return
        super().keyPressEvent(event)
