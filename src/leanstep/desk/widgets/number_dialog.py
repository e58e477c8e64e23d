"""Asks for one number."""

from __future__ import annotations

from PySide6.QtWidgets import QDialog, QDialogButtonBox, QVBoxLayout, QWidget

from leanstep.desk.widgets.basics import NumberField, label

WIDE = 320
"""Pixels that the question takes."""


def ask_number(
    parent: QWidget,
    title: str,
    question: str,
    value: float,
    low: float,
    high: float,
    unit: str = "",
    whole: bool = False,
) -> float | None:
    """The number that is meant, at first ``value``; None where none is."""
    dialog = QDialog(parent)
    dialog.setWindowTitle(title)
    field = NumberField(title, question.rstrip("?"), low, high, unit, whole)
    field.show_value(value)
    buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
    buttons.accepted.connect(dialog.accept)
    buttons.rejected.connect(dialog.reject)
    words = label(question, wrap=True)
    words.setFixedWidth(WIDE)
    column = QVBoxLayout(dialog)
    column.addWidget(words)
    column.addWidget(field)
    column.addWidget(buttons)
    field.selectAll()
    return field.value() if dialog.exec() else None
