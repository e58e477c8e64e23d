"""The line in which is written what an event or a state does: completed sentence by sentence, read when it is meant."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFocusEvent

from leanstep.core.errors import LeanStepError
from leanstep.desk.widgets.completed_line import CompletedLine


class EffectsLine(CompletedLine):
    """``written`` tells what was read of the text when it is meant: after Enter or when the line is left.  ``refused`` tells why
    a text cannot be read; it stays as it is, to be put right.  ``read`` reads a text, or raises :class:`LeanStepError`."""

    goes_on = True
    written = Signal(object)
    refused = Signal(str)

    def __init__(self, name: str, tip: str, hint: str, read: Callable[[str], Any]) -> None:
        super().__init__()
        self.read = read
        self._shown = ""
        self._about: object = None
        self.setAccessibleName(name)
        self.setToolTip(tip)
        self.setPlaceholderText(hint)
        self._completer.setFilterMode(Qt.MatchFlag.MatchContains)
        self.editingFinished.connect(self._finish)

    def show_words(self, text: str, phrases: list[str], about: object) -> None:
        """Show what is done by something (``about`` tells it from others); ``phrases`` are offered for completion.  What could not be
        read stays, to be put right, while it is about the same."""
        self.offer(phrases)
        if self._shown != text or about != self._about:
            self._shown, self._about = text, about
            self.setText(text)

    def start(self) -> int:
        """Where the sentence under the cursor begins."""
        before = self.text()[: self.cursorPosition()]
        start = before.rfind(";") + 1
        return start + len(before[start:]) - len(before[start:].lstrip())

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        # the next field gets the focus, too, where the one that had it goes away: no list comes up then
        if not self.text() and event.reason() != Qt.FocusReason.TabFocusReason:
            self._complete(0)

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
