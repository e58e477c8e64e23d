"""What an axis of a blend space reads, from where to where, and how it is ruled."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QWidget

from leanstep.core.blends.space import AROUND
from leanstep.core.character.blends import Axis
from leanstep.desk.widgets.basics import DropDown, NumberField, fill_combo, label

NONE = "nothing more"
"""Stands for no second axis."""


class AxisRow(QWidget):
    """``changed`` tells which fields of the axis are to change; ``read`` that it should read something else, or nothing."""

    changed = Signal(dict)
    read = Signal(str)

    def __init__(self, second: bool) -> None:
        super().__init__()
        self.second = second
        before = "Second axis" if second else "Axis"
        self.parameter = DropDown()
        self.parameter.setAccessibleName(f"{before} parameter")
        self.parameter.setToolTip("The parameter the axis reads")
        self.parameter.activated.connect(lambda index: self.read.emit(self.parameter.itemText(index)))
        self.low = NumberField(f"{before} from", "Where the axis begins", -1e6, 1e6, whole=False)
        self.low.settled.connect(lambda value: self.changed.emit({"min": value}))
        self.high = NumberField(f"{before} to", "Where the axis ends", -1e6, 1e6, whole=False)
        self.high.settled.connect(lambda value: self.changed.emit({"max": value}))
        self.step = NumberField(
            "Second ruling" if second else "Ruling",
            "Samples are caught by it, and distances counted in it",
            0,
            1e6,
            whole=False,
        )
        self.step.setMinimumWidth(104)
        self.step.settled.connect(lambda value: self.changed.emit({"step": value or None}))
        self.words = [label("from", "soft"), label("to", "soft")]
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        self.parameter.setMinimumWidth(110)
        row.addWidget(label("and" if second else "Reads", "soft"))
        for widget in (self.parameter, self.words[0], self.low, self.words[1], self.high):
            row.addWidget(widget)
        self.ruled = label("ruled every", "soft")
        row.addWidget(self.ruled)
        row.addWidget(self.step)

    def show_axis(self, axis: Axis | None, names: list[str], is_round: bool) -> None:
        """Show an axis (None: there is none)."""
        fill_combo(
            self.parameter, [*([NONE] if self.second else []), *names], axis.parameter if axis is not None else NONE
        )
        straight = axis is not None and not is_round
        for widget in (*self.words, self.low, self.high):
            widget.setVisible(straight)
        for widget in (self.ruled, self.step):
            widget.setVisible(axis is not None)
        if axis is not None:
            self.low.show_value(axis.low)
            self.high.show_value(axis.high)
            self.step.setSpecialValueText(f"{AROUND:g}°" if is_round else "a quarter of it")
            self.step.setSuffix("°" if is_round else "")
            self.step.show_value(axis.step or 0.0)
