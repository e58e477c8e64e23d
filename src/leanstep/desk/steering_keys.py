"""Keys that steer the character, whatever has the focus."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QApplication

from leanstep.desk.keys import key_name
from leanstep.desk.window_frame import WindowFrame

BACK = Qt.Key.Key_Backspace
"""The key that lets time run back while steering."""


class SteeringKeys(QObject):
    """Every event of the program comes by here while somebody steers: keys that steer are taken out."""

    def __init__(self, window: WindowFrame) -> None:
        super().__init__(window)
        self.window, self.session, self.live = window, window.session, window.live

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        # every event of the program comes here
        if not isinstance(event, QKeyEvent):
            if watched is self.window and event.type() == QEvent.Type.WindowDeactivate and self.live.steers:
                self.live.go_on()
                self.live.hands.let_go()
            return False
        steering = self.live.mode != "idle" and QApplication.activePopupWidget() is None
        if steering and self.window.isActiveWindow():
            if event.key() == Qt.Key.Key_Escape and event.type() == QEvent.Type.KeyPress:
                self.live.leave()
                return True
            # in a line of text keys are letters, whoever steers
            if self.live.steers and self.session.editing.line is None and self._steers(event):
                return True
        return False

    def _steers(self, event: QKeyEvent) -> bool:
        """Whether a key steers the character; one that is let go is let go whatever else is held."""
        name, kind = key_name(event), event.type()
        if not self.live.hands.devices.knows(name):
            return event.key() == BACK and self._rewinds(event)
        if kind == QEvent.Type.KeyRelease:
            if not event.isAutoRepeat():
                self.live.hands.key(name, False, self.live.hands.clocked(event.timestamp()))
            return True
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            return False
        if kind == QEvent.Type.ShortcutOverride:
            event.accept()
        elif kind == QEvent.Type.KeyPress and not event.isAutoRepeat():
            self.live.hands.key(name, True, self.live.hands.clocked(event.timestamp()))
        return True

    def _rewinds(self, event: QKeyEvent) -> bool:
        """Time runs back while the key is held."""
        if event.type() == QEvent.Type.ShortcutOverride:
            event.accept()
        elif not event.isAutoRepeat():
            (self.live.rewind if event.type() == QEvent.Type.KeyPress else self.live.go_on)()
        return True
