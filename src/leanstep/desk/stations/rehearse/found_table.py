"""A table of what playing has found, in place of the take on the timeline: its rows are played and kept."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QTableWidgetItem, QVBoxLayout, QWidget

from leanstep.core.character.takes import Take
from leanstep.core.graph.machine import Machine
from leanstep.desk.background import Background
from leanstep.desk.session import Session
from leanstep.desk.theme import theme
from leanstep.desk.widgets.basics import button, label
from leanstep.desk.widgets.plain_table import plain_table


@dataclass(frozen=True)
class Row:
    """What stands in the columns, and the take that shows it; ``late`` is a column that stands out, and ``tip`` says why."""

    texts: tuple[str, ...]
    take: Take
    late: int = -1
    tip: str = ""


class FoundTable(QWidget):
    """``wanted``: the take of a row is to be played; ``keeps``: it is to be kept.  What is found is worked out in ``work``."""

    wanted = Signal(object)
    keeps = Signal(object)

    def __init__(self, session: Session, name: str, columns: Mapping[str, tuple[int, str]]) -> None:
        """``columns`` have their width (0: what is left) and a tip."""
        super().__init__()
        self.session = session
        self.rows: list[Row] = []
        self.before: Machine | None = None
        """What a row was compared with, if it was."""
        self.words = label("", "soft", wrap=True)
        self.table = plain_table(name, columns)
        self.table.itemActivated.connect(lambda item: self.wanted.emit(self.rows[item.row()].take))
        self.keep = button("Keep it", "Keep the take of the chosen row", self._keep)
        self.top = QHBoxLayout()
        self.top.addWidget(self.words, 1)
        self.top.addWidget(self.keep)
        column_of = QVBoxLayout(self)
        column_of.setContentsMargins(0, 0, 0, 0)
        column_of.addLayout(self.top)
        column_of.addWidget(self.table, 1)
        self.work = Background()
        self.work.told.connect(lambda says: self.words.setText(says) if says else None)
        self.work.failed.connect(session.complained)
        self.hide()

    def refresh(self) -> None:
        """Show what is so of the document as it is now, if anybody looks."""

    def fill(self, rows: Sequence[Row], words: str) -> None:
        """Show other rows, and a sentence above them."""
        self.rows = list(rows)
        self.table.setRowCount(len(rows))
        for number, row in enumerate(rows):
            for column, text in enumerate(row.texts):
                item = QTableWidgetItem(text)
                if column == row.late:
                    item.setForeground(theme.colour("error"))
                    item.setToolTip(row.tip)
                self.table.setItem(number, column, item)
        self.keep.setEnabled(bool(rows))
        self.words.setText(words)

    def _keep(self) -> None:
        if 0 <= self.table.currentRow() < len(self.rows):
            self.keeps.emit(self.rows[self.table.currentRow()].take)
        else:
            self.session.said.emit("Choose a row first.")

    def close_work(self) -> None:
        """The window closes."""
        self.work.close()
