"""What a person is doing in a part of the window is left alone until it is done: typing, a menu that is open, a drag."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress

from PySide6.QtCore import QEvent, QObject, Qt, QTimer, QTimerEvent, SignalInstance
from PySide6.QtGui import QFocusEvent, QKeyEvent, QKeySequence, QPaintEvent
from PySide6.QtWidgets import QAbstractSpinBox, QApplication, QComboBox, QLineEdit, QWidget

UNDONE = (QKeySequence.StandardKey.Undo, QKeySequence.StandardKey.Redo)
ENTER = (Qt.Key.Key_Return, Qt.Key.Key_Enter)
LOOKS = 40
"""Milliseconds between two looks at whether what parts wait for is over."""


def line_of(widget: QWidget | None) -> QLineEdit | None:
    """The line in which a widget is typed; None where nothing is typed."""
    if isinstance(widget, QComboBox | QAbstractSpinBox):
        return widget.lineEdit()
    return widget if isinstance(widget, QLineEdit) else None


class Editing(QObject):
    """Knows what is being typed, held or chosen from, and lets the parts of the window show something new only where that does
    not disturb it.  What is typed is meant once its line is left, and before anything else is done (:meth:`finish`)."""

    def __init__(self) -> None:
        super().__init__()
        self._field: QWidget | None = None
        self._typed = False
        self._waiting: dict[QWidget, dict[Callable[[], object], None]] = {}
        self._timer = QTimer(self, interval=LOOKS)
        self._timer.timeout.connect(self._look)
        self._app = QApplication.instance()
        if isinstance(self._app, QApplication):
            self._app.focusChanged.connect(self._focus)

    # --- what is under way

    @property
    def line(self) -> QLineEdit | None:
        """The line that has the focus."""
        return line_of(self._field)

    @property
    def typing(self) -> bool:
        """Whether something is typed that has not been meant yet."""
        line = self.line
        return line is not None and (self._typed or line.isModified()) and not line.isReadOnly()

    def under_way(self, part: QWidget) -> bool:
        """Whether something is being written in a part, or chosen from a menu of it."""

        def inside(widget: QWidget | None) -> bool:
            while widget is not None and widget is not part:
                widget = widget.parentWidget()
            return widget is not None

        return (self.typing and inside(self._field)) or inside(QApplication.activePopupWidget())

    # --- showing

    def follow(
        self,
        part: QWidget,
        show: Callable[[], object],
        *signals: SignalInstance,
        unasked: tuple[SignalInstance, ...] = (),
    ) -> None:
        """Let a part show something new whenever one of the signals comes, and not while something is being done in it.  What
        comes ``unasked``, from work that goes on behind the window, waits for the end of every drag, too; what a drag does itself
        is shown meanwhile."""
        for signal in signals:
            signal.connect(lambda *_: self._show(part, show, self.under_way(part)))
        for signal in unasked:
            signal.connect(lambda *_: self._show(part, show, self.held(part)))

    def held(self, part: QWidget) -> bool:
        """Whether what comes unasked would disturb a part now: something is done in it, or a drag goes on."""
        return self.under_way(part) or QApplication.mouseButtons() != Qt.MouseButton.NoButton

    def _show(self, part: QWidget, show: Callable[[], object], later: bool) -> None:
        if later:
            self._waiting.setdefault(part, {})[show] = None
            self._timer.start()
            return
        self._waiting.get(part, {}).pop(show, None)
        show()

    def _look(self) -> None:
        for part in [one for one in self._waiting if not self.held(one)]:
            for show in self._waiting.pop(part):
                show()
        if not self._waiting:
            self._timer.stop()

    def forget(self) -> None:
        """The window closes: nothing is shown any more."""
        self._waiting.clear()
        self._timer.stop()
        if isinstance(self._app, QApplication):
            self._app.focusChanged.disconnect(self._focus)
            self._app.removeEventFilter(self)

    # --- typing

    def finish(self) -> None:
        """What is being typed is meant: something else is done now."""
        field = self._field
        if field is None or not self.typing:
            return
        self._meant()
        if isinstance(field, QAbstractSpinBox):
            field.interpretText()
        self._finishing(field).emit()

    def _finishing(self, field: QWidget) -> SignalInstance:
        told = field if isinstance(field, QAbstractSpinBox) else line_of(field)
        assert told is not None
        return told.editingFinished

    def _focus(self, before: QWidget | None, now: QWidget | None) -> None:
        app = self._app
        assert isinstance(app, QApplication)
        if now is None and before is self._field and QApplication.activeWindow() is None:
            return  # another program is looked at
        if self._field is not None:
            with suppress(RuntimeError):  # it may be gone
                self._finishing(self._field).disconnect(self._finished)
                self.line.textEdited.disconnect(self._edited)  # type: ignore[union-attr]
                self._field.destroyed.disconnect(self._gone)
            app.removeEventFilter(self)
        line = line_of(now)
        self._field, self._typed = now if line is not None else None, False
        if self._field is not None and line is not None:
            line.textEdited.connect(self._edited)
            # after those who take what was typed
            self._finishing(self._field).connect(self._finished)
            self._field.destroyed.connect(self._gone)
            app.installEventFilter(self)
        self._look()

    def _meant(self) -> None:
        """What is typed is about to be told to those who take it; what they do with it is shown."""
        line, self._typed = self.line, False
        if line is not None:
            line.setModified(False)

    def _edited(self) -> None:
        self._typed = True  # lines of numbers do not know it themselves

    def _finished(self) -> None:
        self._meant()
        self._look()

    def _gone(self) -> None:
        if self._field is not None and self.sender() is self._field:
            self._field = None

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """While a line has the focus."""
        field = self._field
        if field is None or isinstance(event, QPaintEvent | QTimerEvent):
            return False
        if watched is field:
            if isinstance(event, QKeyEvent):
                return self._pressed(event)
            if isinstance(event, QFocusEvent) and event.type() == QEvent.Type.FocusOut and self.typing:
                return self._left(event)
        elif self.typing:
            pressed = event.type() == QEvent.Type.MouseButtonPress and isinstance(watched, QWidget)
            elsewhere = isinstance(watched, QWidget) and not field.isAncestorOf(watched)
            # what does not take the focus ends the typing all the same
            if event.type() == QEvent.Type.Shortcut or (
                pressed and elsewhere and QApplication.activePopupWidget() is None
            ):
                self.finish()
        return False

    def _pressed(self, event: QKeyEvent) -> bool:
        if event.type() == QEvent.Type.ShortcutOverride and not self.typing:
            # where nothing is written that the line could take back, the last step is meant
            undone = any(event.matches(one) for one in UNDONE)
            if undone:
                event.ignore()
            return undone
        if event.type() == QEvent.Type.KeyPress and event.key() in ENTER:
            self._meant()
        return False

    def _left(self, event: QFocusEvent) -> bool:
        if event.reason() == Qt.FocusReason.ActiveWindowFocusReason:
            # another program is looked at: what is half written stays so
            return True
        if event.reason() != Qt.FocusReason.PopupFocusReason:
            self._meant()
        return False
