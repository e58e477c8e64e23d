"""The line in which is written what an event or a state does: completed sentence by sentence, read when it is meant."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QStringListModel, Qt, Signal
from PySide6.QtGui import QFocusEvent, QKeyEvent
from PySide6.QtWidgets import QAbstractItemView, QCompleter, QLineEdit

from leanstep.core.errors import LeanStepError


class DeedsLine(QLineEdit):
    """``written`` tells what was read of the text when it is meant: after Enter or when the line is left.  ``refused`` tells why
    a text cannot be read; it stays as it is, to be put right.  ``read`` reads a text, or raises :class:`LeanStepError`."""

    written = Signal(object)
    refused = Signal(str)

    def __init__(self, name: str, tip: str, hint: str, read: Callable[[str], Any]) -> None:
        super().__init__()
        self.read = read
        self._shown = ""
        self.setAccessibleName(name)
        self.setToolTip(tip)
        self.setPlaceholderText(hint)
        self._model = QStringListModel()
        self._completer = QCompleter(self._model, self)
        self._completer.setWidget(self)
        self._completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        self._completer.setFilterMode(Qt.MatchFlag.MatchContains)
        self._completer.activated.connect(self._insert)
        self.textEdited.connect(self._complete)
        self.editingFinished.connect(self._finish)

    def show_words(self, text: str, phrases: list[str]) -> None:
        """Show what is done; ``phrases`` are offered for completion."""
        self._model.setStringList(phrases)
        if self._shown != text or not self.hasFocus():
            self._shown = text
            self.setText(text)

    @property
    def _popup(self) -> QAbstractItemView:
        popup = self._completer.popup()
        assert popup is not None
        return popup

    def _start(self) -> int:
        """Where the sentence under the cursor begins."""
        before = self.text()[: self.cursorPosition()]
        start = before.rfind(";") + 1
        return start + len(before[start:]) - len(before[start:].lstrip())

    def _complete(self, text: str) -> None:
        sentence = self.text()[self._start() : self.cursorPosition()]
        self._completer.setCompletionPrefix(sentence)
        exact = self._completer.completionCount() == 1 and self._completer.currentCompletion() == sentence
        if self._completer.completionCount() and not exact:
            self._completer.complete()
        else:
            self._popup.hide()

    def _insert(self, phrase: str) -> None:
        at, text = self.cursorPosition(), self.text()
        before = text[: self._start()] + phrase
        self.setText(before + text[at:])
        self.setCursorPosition(len(before))

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        if not self.text():
            self._complete("")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        popup = self._popup
        keys = (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Tab, Qt.Key.Key_Escape)
        if popup.isVisible() and event.key() in keys:
            chosen = event.key() != Qt.Key.Key_Escape and popup.currentIndex().isValid()
            if chosen:
                self._insert(str(popup.currentIndex().data()))
            popup.hide()
            if chosen or event.key() == Qt.Key.Key_Escape:
                return
        super().keyPressEvent(event)

    def _finish(self) -> None:
        text = self.text()
        if text == self._shown or self._popup.isVisible():
            return
        try:
            found = self.read(text)
        except LeanStepError as error:
            self.refused.emit(f"{error.reason[0].upper()}{error.reason[1:]}. {error.way_out}")
            return
        self._shown = text
        self.written.emit(found)
