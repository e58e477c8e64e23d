"""Tables that are looked at and not written in."""

from __future__ import annotations

from collections.abc import Mapping

from PySide6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem


def plain_table(name: str, columns: Mapping[str, tuple[int, str]]) -> QTableWidget:
    """A table of rows that are chosen as a whole.

    ``columns`` have their width (0: what is left; -1: that of what stands in them) and a tip.
    """
    made = QTableWidget(0, len(columns))
    made.setAccessibleName(name)
    head = made.horizontalHeader()
    for column, (words, (wide, tip)) in enumerate(columns.items()):
        heading = QTableWidgetItem(words)
        heading.setToolTip(tip)
        made.setHorizontalHeaderItem(column, heading)
        if wide > 0:
            made.setColumnWidth(column, wide)
        else:
            modes = QHeaderView.ResizeMode
            head.setSectionResizeMode(column, modes.ResizeToContents if wide else modes.Stretch)
    made.verticalHeader().hide()
    made.verticalHeader().setDefaultSectionSize(26)
    made.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
    made.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
    return made
