"""Names of keys as character files write them."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent, QKeySequence

_NAMED = {
    Qt.Key.Key_Shift: "Shift",
    Qt.Key.Key_Control: "Ctrl",
    Qt.Key.Key_Alt: "Alt",
    Qt.Key.Key_Space: "Space",
    Qt.Key.Key_Return: "Return",
    Qt.Key.Key_Enter: "Return",
}


def key_name(event: QKeyEvent) -> str:
    """The name of the key of an event, for example ``Left``, ``Space``, ``Z``."""
    key = Qt.Key(event.key())
    return _NAMED.get(key) or QKeySequence(key).toString(QKeySequence.SequenceFormat.PortableText)
