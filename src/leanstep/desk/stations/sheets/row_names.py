"""Asks what the clips of a sheet's rows are called: every row with its picture and the name it would get."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from PySide6.QtCore import Qt
from PySide6.QtGui import QImage, QPixmap
from PySide6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from leanstep.core.bearings import WAYS, way_word
from leanstep.core.clips.families import EVERY, SENSES, directions
from leanstep.core.errors import LeanStepError
from leanstep.core.sheets.naming import names_from, usual_pattern
from leanstep.core.wording import counted
from leanstep.desk.widgets.basics import DropDown, label

SIDE = 48
"""Pixels of a row's picture at most."""
AS_WRITTEN = "as written"


class RowNames(QDialog):
    """``names`` are those of the rows, as far as they can be had."""

    def __init__(self, parent: QWidget, action: str, pictures: Sequence[QImage], taken: Collection[str]) -> None:
        super().__init__(parent)
        self.taken = taken
        self.names: list[str] = []
        self.setWindowTitle("A clip a row")
        self.line = QLineEdit(usual_pattern(action, len(pictures)))
        self.line.setAccessibleName("Names of the clips")
        self.line.setToolTip("What the figure does, and a word for each row, with commas: walk down, left, right, up")
        self.line.textChanged.connect(self._show)
        self.first, self.sense = DropDown(), DropDown()
        self.first.addItems([AS_WRITTEN, *WAYS])
        self.first.setAccessibleName("Direction of the first row")
        self.first.setToolTip("Which way the first row looks; the others turn on from there")
        self.sense.addItems(SENSES)
        self.sense.setAccessibleName("How the rows turn")
        self.sense.setToolTip("Which way round the rows go on")
        for box in (self.first, self.sense):
            box.activated.connect(lambda at: self._turn())
        self.rows = [label("") for _ in pictures]
        self.fault = label("", "fault", wrap=True)
        self.buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
        self.buttons.accepted.connect(self.accept)
        self.buttons.rejected.connect(self.reject)
        self._lay_out(pictures)
        self.line.selectAll()
        self._show()

    def _lay_out(self, pictures: Sequence[QImage]) -> None:
        turns = QHBoxLayout()
        turns.addWidget(label("The first row looks", "soft"))
        turns.addWidget(self.first)
        turns.addWidget(label("and they turn", "soft"))
        turns.addWidget(self.sense)
        turns.addStretch(1)
        inner = QWidget()
        grid = QGridLayout(inner)
        grid.setColumnStretch(1, 1)
        for number, (picture, name) in enumerate(zip(pictures, self.rows)):
            shown = label("")
            size = picture.size().scaled(SIDE, SIDE, Qt.AspectRatioMode.KeepAspectRatio)
            shown.setPixmap(QPixmap.fromImage(picture.scaled(size)))
            grid.addWidget(shown, number, 0)
            grid.addWidget(name, number, 1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(inner)
        column = QVBoxLayout(self)
        column.addWidget(
            label(f"What does the figure do in {counted(len(pictures), 'row')}? A word for each, with commas.")
        )
        column.addWidget(self.line)
        if len(pictures) > 1:
            column.addLayout(turns)
        column.addWidget(scroll, 1)
        column.addWidget(self.fault)
        column.addWidget(self.buttons)
        self.resize(460, min(640, 220 + (SIDE + 10) * len(pictures)))

    def _turn(self) -> None:
        """Write the words of rows that look this way and turn so."""
        way = self.first.currentText()
        if way == AS_WRITTEN:
            return
        count = len(self.rows)
        action = self.names[0].split(" ")[0] if not self.fault.text() else "walk"
        step = 8 // count if count in (2, 4) else 1
        found = directions(8, EVERY * WAYS.index(way), self.sense.currentText() == SENSES[0])[::step]
        words = [way_word(found[at % len(found)]) for at in range(count)]
        self.line.setText(f"{action} {', '.join(words)}")

    def _show(self) -> None:
        """Say what every row would be called, or what is wrong."""
        fault = ""
        try:
            self.names = names_from(self.line.text(), len(self.rows))
        except LeanStepError as error:
            self.names = []
            fault = f"{error.reason[0].upper()}{error.reason[1:]}. {error.way_out}"
        double = [name for name in self.names if name in self.taken]
        if double:
            fault = f"There is already a clip called {double[0]}."
        for at, row in enumerate(self.rows):
            row.setText(self.names[at] if at < len(self.names) else "")
        self.fault.setText(fault)
        self.buttons.button(QDialogButtonBox.StandardButton.Ok).setEnabled(not fault)


def ask_names(parent: QWidget, action: str, pictures: Sequence[QImage], taken: Collection[str]) -> list[str]:
    """The names of the rows; none when it was called off."""
    asked = RowNames(parent, action, pictures, taken)
    return asked.names if asked.exec() == QDialog.DialogCode.Accepted else []
