"""All actions of the character beside each other, in place of the large picture: people balance by looking at all of them at once."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QHBoxLayout, QTableWidgetItem, QVBoxLayout, QWidget

from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.actions import actions, actions_csv
from leanstep.desk.session import Session
from leanstep.desk.theme import theme
from leanstep.desk.widgets.basics import button, choice_of, label
from leanstep.desk.widgets.plain_table import plain_table

COLUMNS = {
    "clip": (-1, "Return goes to the clip"),
    "shown by": (0, "The states that show it"),
    "starts in": (80, "Ticks from its entry to the first on which it can hit"),
    "active": (68, "Ticks on which it can hit"),
    "recovers": (84, "Ticks from the last of them to the first on which no phase is on"),
    "on hit": (66, "By how many ticks it is free before whom it hits, on its first active tick"),
    "on guard": (80, "The same for one that guards"),
    "let go": (64, "Ticks from its entry to the first on which some control, or the graph by itself, leaves it"),
    "hit then": (72, "By how many ticks it is free before whom it hits, if it is left then"),
    "guard then": (98, "The same for one that guards"),
}
"""What stands over the columns, in the order of :data:`leanstep.core.rehearsal.actions.HEADINGS`, its width and what it means."""


class ActionTable(QWidget):
    """``wanted``: a clip is to be seen."""

    wanted = Signal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.machine: Machine | None = None
        self.table = plain_table("All actions", COLUMNS)
        head = self.table.horizontalHeader()
        head.setSortIndicator(-1, Qt.SortOrder.AscendingOrder)
        head.setSortIndicatorClearable(True)
        self.table.setSortingEnabled(True)
        self.table.itemActivated.connect(self._go)
        self.words = label("", "soft", wrap=True)
        top = QHBoxLayout()
        top.addWidget(self.words, 1)
        self.sorted_by = choice_of(
            "Sorted by", "The column by which the table is sorted", {one: f"by {one}" for one in COLUMNS}
        )
        self.sorted_by.setMinimumWidth(150)
        self.sorted_by.setCurrentIndex(-1)
        self.sorted_by.setPlaceholderText("as the clips are")
        self.sorted_by.activated.connect(lambda at: self.table.sortItems(at))
        top.addWidget(self.sorted_by)
        self.copy_button = button("Copy as CSV", "Put the table on the clipboard", self._copy)
        top.addWidget(self.copy_button)
        column_of = QVBoxLayout(self)
        column_of.setContentsMargins(0, 0, 0, 0)
        column_of.addLayout(top)
        column_of.addWidget(self.table, 1)

    def fill(self, machine: Machine) -> None:
        """Show the actions of a character."""
        self.machine = machine
        rows = [one.row(machine) for one in actions(machine)]
        self.words.setText(
            "A click on a heading sorts. Advantages are those of the first active tick; above 0 this one is free first."
            if rows
            else "No clip has an active phase yet: drag over the band under the film."
        )
        self.table.setSortingEnabled(False)
        self.table.setRowCount(len(rows))
        for number, row in enumerate(rows):
            for column, cell in enumerate(row):
                item = QTableWidgetItem()
                if cell is not None:
                    # numbers sort as numbers
                    item.setData(Qt.ItemDataRole.DisplayRole, cell)
                if isinstance(cell, int):
                    item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                    if cell < 0:
                        item.setForeground(theme.colour("error"))
                self.table.setItem(number, column, item)
        self.table.setSortingEnabled(True)

    def _go(self, item: QTableWidgetItem) -> None:
        name = self.table.item(item.row(), 0)
        if name is not None:
            self.wanted.emit(name.text())

    def _copy(self) -> None:
        if self.machine is not None:
            QGuiApplication.clipboard().setText(actions_csv(self.machine))
            self.session.said.emit("Copied the table of all actions as CSV.")
