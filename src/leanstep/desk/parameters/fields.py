"""Fields of the names panel: numbers that may be left out, texts that are told when meant, and keys."""

from __future__ import annotations

import math

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFocusEvent, QKeyEvent, QKeySequence
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QWidget

from leanstep.core.conditions.checking import nearest
from leanstep.desk.keys import key_name


class MeantLine(QLineEdit):
    """A text that is told (``meant``) after Enter or when the line is left, if it is another one then."""

    meant = Signal(str)

    def __init__(self, name: str, tip: str, hint: str = "") -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.setToolTip(tip)
        self.setPlaceholderText(hint)
        self._shown = ""
        self.editingFinished.connect(self._finish)

    def show_text(self, text: str) -> None:
        """Show a text without telling anyone."""
        self._shown = text
        if self.text() != text:
            self.setText(text)
            self.setCursorPosition(0)

    def _finish(self) -> None:
        text = self.text().strip()
        if text != self._shown:
            self._shown = text
            self.meant.emit(text)


class OptionalNumber(MeantLine):
    """A number, or nothing; ``settled`` tells it (None: nothing), ``refused`` what is no number."""

    settled = Signal(object)
    refused = Signal(str)

    def __init__(self, name: str, tip: str, hint: str = "") -> None:
        super().__init__(name, tip, hint)
        self.meant.connect(self._read)

    def show_number(self, value: float | None) -> None:
        """Show a number."""
        self.show_text("" if value is None else f"{value:.12g}")

    def _read(self, text: str) -> None:
        try:
            value = float(text) if text else None
        except ValueError:
            value = math.nan
        if value is not None and not math.isfinite(value):
            self.refused.emit(f"{text} is no number.")
        else:
            self.settled.emit(value)


KNOWN_KEYS = sorted(
    {
        text
        for key in Qt.Key
        if (text := QKeySequence(key).toString(QKeySequence.SequenceFormat.PortableText)) and len(text) > 0
    }
    | {"Shift", "Ctrl", "Alt", "Space", "Return"}
)
"""The names of keys that there are."""


class KeysField(QWidget):
    """The keys of one control: written, or pressed after a click.  ``meant`` tells them, ``refused`` a key that does not
    exist."""

    meant = Signal(object)
    refused = Signal(str)

    def __init__(self, name: str) -> None:
        super().__init__()
        self.keys: tuple[str, ...] = ()
        self.line = MeantLine(f"Keys of {name}", "The keys that hold it, with spaces between them")
        self.line.meant.connect(self._written)
        self.press = _Press(name)
        self.press.pressed_key.connect(self._pressed)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(5)
        row.addWidget(self.line, 1)
        row.addWidget(self.press)

    def show_keys(self, keys: tuple[str, ...]) -> None:
        """Show keys."""
        self.keys = keys
        self.line.show_text(" ".join(keys))

    def _written(self, text: str) -> None:
        words = tuple(dict.fromkeys(text.split()))
        lower = {known.lower(): known for known in KNOWN_KEYS}
        for word in words:
            if word.lower() not in lower:
                close = nearest(word, KNOWN_KEYS)
                self.refused.emit(f"There is no key called {word}.{f' Did you mean {close}?' if close else ''}")
                self.show_keys(self.keys)
                return
        self.meant.emit(tuple(lower[word.lower()] for word in words))

    def _pressed(self, key: str) -> None:
        self.meant.emit(tuple(dict.fromkeys((*self.keys, key))))


class _Press(QPushButton):
    """Waits for a key after a click; Esc or going elsewhere ends that."""

    pressed_key = Signal(str)

    def __init__(self, name: str) -> None:
        super().__init__("Press …")
        self.waiting = False
        self.setToolTip(f"Press this, then the key that shall hold {name}; Ctrl, Alt and Shift alone count, too")
        self.setAccessibleName(f"Press a key for {name}")
        self.clicked.connect(lambda checked=False: self._wait(True))

    def _wait(self, on: bool) -> None:
        self.waiting = on
        self.setText("a key …" if on else "Press …")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not self.waiting:
            super().keyPressEvent(event)
            return
        self._wait(False)
        if event.key() != Qt.Key.Key_Escape:
            self.pressed_key.emit(key_name(event))

    def focusOutEvent(self, event: QFocusEvent) -> None:
        self._wait(False)
        super().focusOutEvent(event)

    def focusNextPrevChild(self, forward: bool) -> bool:
        # Tab is a key like any other while one is waited for
        return False if self.waiting else super().focusNextPrevChild(forward)
