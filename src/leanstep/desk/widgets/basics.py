"""Small widgets every station uses."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from html import escape

from PySide6.QtCore import QEvent, QObject, QPointF, QSize, Signal
from PySide6.QtGui import QAction, QIcon, QKeySequence, QMouseEvent, Qt, QWheelEvent
from PySide6.QtWidgets import (
    QApplication,
    QComboBox,
    QDoubleSpinBox,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QMessageBox,
    QPushButton,
    QScrollArea,
    QSlider,
    QVBoxLayout,
    QWidget,
)

from leanstep.core.character.names import name_fault


def plain_tip(text: str) -> str:
    """A tooltip with text of the document in it: shown letter by letter, never as markup."""
    return f"<qt>{escape(text)}</qt>".replace("\n", "<br>") if Qt.mightBeRichText(text) else text


ARROW = 62
"""Pixels beside the text of a drop-down list."""
NARROWEST, WIDEST = 66, 236


class DropDown(QComboBox):
    """A drop-down list that the wheel passes over: it chooses only where it is open.  It is as wide as what it shows."""

    def __init__(self) -> None:
        super().__init__()
        self.currentTextChanged.connect(lambda text: self.updateGeometry())

    def sizeHint(self) -> QSize:
        return self.minimumSizeHint()

    def minimumSizeHint(self) -> QSize:
        wide = self.fontMetrics().horizontalAdvance(self.currentText()) + ARROW
        return QSize(max(NARROWEST, min(WIDEST, wide)), super().minimumSizeHint().height())

    def wheelEvent(self, event: QWheelEvent) -> None:
        event.ignore()


class Slider(QSlider):
    """A slider that lies; the wheel passes over it."""

    def __init__(self) -> None:
        super().__init__(Qt.Orientation.Horizontal)

    def wheelEvent(self, event: QWheelEvent) -> None:
        event.ignore()


def button(text: str, tip: str, pressed: Callable[[], object], main: bool = False) -> QPushButton:
    """A push button with a tooltip that says what it is for."""
    made = QPushButton(text)
    made.setToolTip(tip)
    made.setProperty("main", main)
    made.clicked.connect(lambda checked=False: pressed())
    return made


def label(text: str = "", role: str = "", wrap: bool = False) -> QLabel:
    """A label of plain text; ``role`` is ``title``, ``count`` (a title with figures), ``soft`` or ``fault``."""
    made = QLabel(text)
    made.setTextFormat(Qt.TextFormat.PlainText)
    if role:
        made.setProperty("role", role)
    made.setWordWrap(wrap)
    return made


class ChoiceRow(QWidget):
    """A choice after a ``word``; ``chosen`` gets the place of what somebody chose."""

    def __init__(self, word: str, name: str, tip: str, chosen: Callable[[int], object]) -> None:
        super().__init__()
        self.choice = DropDown()
        self.choice.setAccessibleName(name)
        self.choice.setToolTip(tip)
        self.choice.activated.connect(chosen)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(label(word, "soft"))
        row.addWidget(self.choice, 1)


def command(owner: QWidget, name: str, keys: str, function: Callable[[], object]) -> QAction:
    """A command of a station, with its shortcut."""
    action = QAction(name, owner)
    if keys:
        action.setShortcut(QKeySequence(keys))
    action.triggered.connect(lambda checked=False: function())
    return action


class NumberField(QDoubleSpinBox):
    """A number that is typed, nudged (Shift ×10, Alt ÷10) or dragged sideways; shows its unit.  The wheel passes over it.

    ``settled`` tells a new value once it is meant: after typing, a nudge, or a drag.
    """

    settled = Signal(float)

    def __init__(self, name: str, tip: str, low: float, high: float, unit: str = "", whole: bool = True) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.setToolTip(f"{tip}. Type, nudge with the arrow keys (Shift ×10, Alt ÷10), or drag sideways.")
        self.setRange(low, high)
        self.setDecimals(0 if whole else 3)
        self.setSuffix(f" {unit}" if unit else "")
        self.setKeyboardTracking(False)
        self.setButtonSymbols(QDoubleSpinBox.ButtonSymbols.NoButtons)
        self.setMinimumWidth(54)
        self._from: tuple[QPointF, float] | None = None
        self._quiet = False
        self.valueChanged.connect(lambda value: None if self._quiet else self.settled.emit(value))
        self.lineEdit().installEventFilter(self)

    def show_value(self, value: float) -> None:
        """Show a value without telling anyone."""
        self._quiet = True
        self.setValue(value)
        self._quiet = False

    def textFromValue(self, value: float) -> str:
        return f"{value:.{self.decimals()}f}".rstrip("0").rstrip(".") if self.decimals() else f"{value:.0f}"

    def wheelEvent(self, event: QWheelEvent) -> None:
        event.ignore()

    def stepBy(self, steps: int) -> None:
        keys = QApplication.keyboardModifiers()
        factor = 10.0 if keys & Qt.KeyboardModifier.ShiftModifier else 1.0
        if keys & Qt.KeyboardModifier.AltModifier and self.decimals():
            factor = 0.1
        self.setValue(self.value() + steps * factor * self.singleStep())

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if isinstance(event, QMouseEvent):
            if event.type() == QEvent.Type.MouseButtonPress:
                self._from = (event.globalPosition(), self.value())
            elif event.type() == QEvent.Type.MouseMove and self._from is not None:
                moved = event.globalPosition().x() - self._from[0].x()
                if abs(moved) > 4:
                    self.setValue(self._from[1] + int(moved / 5) * self.singleStep())
                    return True
            elif event.type() == QEvent.Type.MouseButtonRelease:
                self._from = None
        return super().eventFilter(watched, event)


class NameField(QLineEdit):
    """A name that is told (``renamed``) only when it can be used; otherwise says why not and goes back."""

    renamed = Signal(str)
    refused = Signal(str)

    def __init__(self, what: str) -> None:
        super().__init__()
        self.setAccessibleName(f"Name of the {what}")
        self.setToolTip(f"The name of the {what}; Enter renames it everywhere")
        self.shown = ""
        self._fault: Callable[[str], str | None] = name_fault
        self.editingFinished.connect(self._finish)

    def show_name(self, name: str, fault: Callable[[str], str | None]) -> None:
        """Show a name; ``fault`` says why another one cannot be used (None: it can)."""
        self.shown, self._fault = name, fault
        if self.text() != name:
            self.setText(name)

    def ask(self) -> None:
        """Take what is typed next as the name: of something new, which has a free one until then."""
        self.setFocus(Qt.FocusReason.OtherFocusReason)
        self.selectAll()

    def _finish(self) -> None:
        name = self.text().strip()
        if name == self.shown:
            return
        fault = self._fault(name)
        if fault is None:
            self.shown = name
            self.renamed.emit(name)
        else:
            self.setText(self.shown)
            self.refused.emit(f"Not renamed: {fault}. It is still called {self.shown}.")


def paper_box(
    parent: QWidget,
    title: str,
    text: str,
    more: str = "",
    choices: QMessageBox.StandardButton = QMessageBox.StandardButton.Ok,
) -> QMessageBox:
    """A box with plain text in the look of the desk, without the icons of the system."""
    box = QMessageBox(parent)
    box.setWindowTitle(title)
    box.setTextFormat(Qt.TextFormat.PlainText)
    box.setText(text)
    box.setInformativeText(more)
    box.setStandardButtons(choices)
    for one in box.buttons():
        one.setIcon(QIcon())
    return box


def choice_of(name: str, tip: str, entries: Mapping[str, str] | Mapping[bool, str]) -> QComboBox:
    """A drop-down list of values in words."""
    made = DropDown()
    made.setAccessibleName(name)
    made.setToolTip(tip)
    for value, text in entries.items():
        made.addItem(text, value)
    return made


def name_choice(name: str, tip: str, chosen: Callable[[str], object]) -> QComboBox:
    """A drop-down list of names, which tells the one that is chosen."""
    made = DropDown()
    made.setAccessibleName(name)
    made.setToolTip(tip)
    made.activated.connect(lambda at: chosen(made.itemText(at)))
    return made


def lay_in_lines(owner: QWidget, lines: Iterable[Sequence[QWidget]], wide: QWidget | None = None) -> QVBoxLayout:
    """Put widgets into lines below each other, from the left; what is ``wide`` takes the rest of its line."""
    column = QVBoxLayout(owner)
    column.setContentsMargins(0, 0, 0, 0)
    column.setSpacing(4)
    for parts in lines:
        row = QHBoxLayout()
        row.setSpacing(6)
        for part in parts:
            row.addWidget(part, int(part is wide))
        if wide not in parts:
            row.addStretch(1)
        column.addLayout(row)
    return column


def replace_inner(area: QScrollArea, inner: QWidget) -> None:
    """Put another widget into a scroll area, which stays where it is scrolled to."""
    place, before = area.verticalScrollBar().value(), area.takeWidget()
    if before is not None:
        before.deleteLater()  # something in it may be what asked for this
    area.setWidget(inner)
    layout = inner.layout()
    if layout is not None and before is not None:
        layout.activate()
        inner.resize(area.viewport().width(), max(inner.sizeHint().height(), area.viewport().height()))
        area.verticalScrollBar().setRange(0, max(0, inner.height() - area.viewport().height()))
        area.verticalScrollBar().setValue(place)


def fill_combo(box: QComboBox, names: list[str], current: str) -> None:
    """Names into a drop-down list; a current one that does not exist any more is kept at the end."""
    box.blockSignals(True)
    box.clear()
    box.addItems(names if current in names or not current else [*names, current])
    box.setCurrentText(current)
    box.blockSignals(False)
