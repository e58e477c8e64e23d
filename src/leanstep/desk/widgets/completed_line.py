"""A line of text that is completed while it is written."""

from __future__ import annotations

from PySide6.QtCore import QStringListModel, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QAbstractItemView, QCompleter, QLineEdit


class CompletedLine(QLineEdit):
    """Offers what goes on from where :meth:`start` says, while it is written and with the arrow key down; Enter or Tab takes what
    is chosen, Esc takes nothing.

    With ``goes_on`` Enter does no more than that; else the line is meant then, too.
    """

    goes_on = False

    def __init__(self) -> None:
        super().__init__()
        self._model = QStringListModel()
        self._completer = QCompleter(self._model, self)
        self._completer.setWidget(self)
        self._completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        self._completer.activated.connect(self._insert)
        self.textEdited.connect(lambda text: self._complete(1))

    def offer(self, texts: list[str]) -> None:
        """Complete with these texts."""
        self._model.setStringList(texts)

    def start(self) -> int:
        """Where what is completed begins."""
        return 0

    @property
    def _popup(self) -> QAbstractItemView:
        popup = self._completer.popup()
        assert popup is not None
        return popup

    def _complete(self, least: int) -> None:
        """Offer texts once so many letters are written."""
        written = self.text()[self.start() : self.cursorPosition()]
        self._completer.setCompletionPrefix(written)
        exact = self._completer.completionCount() == 1 and self._completer.currentCompletion() == written
        if len(written) >= least and self._completer.completionCount() and not exact:
            self._completer.complete()
        else:
            self._popup.hide()

    def _insert(self, completion: str) -> None:
        at, text = self.cursorPosition(), self.text()
        before = text[: self.start()] + completion
        self.setText(before + text[at:])
        self.setCursorPosition(len(before))
        self.setModified(True)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        popup, escape = self._popup, event.key() == Qt.Key.Key_Escape
        keys = (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Tab, Qt.Key.Key_Escape)
        if popup.isVisible() and event.key() in keys:
            chosen = not escape and popup.currentIndex().isValid()
            if chosen:
                self._insert(str(popup.currentIndex().data()))
            popup.hide()
            if escape or event.key() == Qt.Key.Key_Tab or (chosen and self.goes_on):
                return
        if event.key() == Qt.Key.Key_Down and not popup.isVisible():
            self._complete(0)
            return
        super().keyPressEvent(event)
