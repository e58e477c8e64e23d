"""How the frames of a cut-out are drawn: from what, how long, how exactly."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import msgspec
from PySide6.QtCore import Signal
from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QWidget

from leanstep.core.character.cut_outs import CutOut
from leanstep.core.character.instants import LATEST
from leanstep.core.character.sheets import Sheet
from leanstep.desk.widgets.basics import DropDown, NumberField, fill_combo, label

OWN = "their own sheet"
ITSELF = "its own keys"


class CutOutRow(QWidget):
    """``meant``: what is drawn otherwise (the cut-out, and what was done in words)."""

    meant = Signal(object, str)

    def __init__(self) -> None:
        super().__init__()
        self._cut_out = CutOut()
        self.of = self._choice(
            "Drawn from",
            "The sheet whose parts are moved",
            lambda name: self._mean("drawn from another sheet", of=name),
        )
        self.like = self._choice(
            "Drawn like",
            "Another sheet whose parts, times and keys are taken over",
            lambda name: self._mean("drawn like another sheet", like="" if name == ITSELF else name),
        )
        self.pictures = self._choice(
            "Pictures from",
            "A sheet of the same layout whose frames are the pictures of the parts",
            lambda name: self._mean("with other pictures", pictures="" if name == OWN else name),
        )
        self.ticks = NumberField("Length of the motion", "How long it lasts", 1, LATEST, "ticks")
        self.every = NumberField("Ticks of a frame", "How long each frame lasts", 1, LATEST, "ticks each")
        self.ticks.settled.connect(lambda value: self._mean("of another length", ticks=int(value)))
        self.every.settled.connect(lambda value: self._mean("in frames of another length", every=int(value)))
        self.ticks.setMinimumWidth(82)
        self.every.setMinimumWidth(96)
        self.repeats = self._flag("repeats", "Motion repeats", "After the last key it goes on to the first", "repeats")
        self.smooth = self._flag("smooth", "Smooth edges", "Pixels are mixed where parts are turned", "smooth")
        self.whole = self._flag("whole pixels", "On whole pixels", "Parts lie on whole pixels", "whole_pixels")
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(6)
        self._own: tuple[QWidget, ...] = (
            label("Parts of", "soft"),
            self.of,
            self.ticks,
            self.every,
            self.repeats,
            self.smooth,
            self.whole,
        )
        for part in (*self._own, label("like", "soft"), self.like, label("pictures of", "soft"), self.pictures):
            row.addWidget(part)
        row.addStretch(1)

    def _choice(self, name: str, tip: str, chosen: Callable[[str], None]) -> DropDown:
        made = DropDown()
        made.setAccessibleName(name)
        made.setToolTip(tip)
        made.activated.connect(lambda at: chosen(made.itemText(at)))
        return made

    def _flag(self, text: str, name: str, tip: str, field: str) -> QCheckBox:
        made = QCheckBox(text)
        made.setAccessibleName(name)
        made.setToolTip(tip)
        made.clicked.connect(lambda on: self._mean(f"{text} changed", **{field: on}))
        return made

    def _mean(self, said: str, **values: object) -> None:
        made = msgspec.structs.replace(self._cut_out, **values)
        if made != self._cut_out:
            self.meant.emit(made, said)

    def show_cut_out(self, sheet: Sheet, sheets: Sequence[Sheet]) -> None:
        """Show how a sheet is drawn."""
        assert sheet.cut_out is not None
        one = self._cut_out = sheet.cut_out
        for part in self._own:
            part.setVisible(not one.like)
        fill_combo(self.of, [each.name for each in sheets if each.parts], one.of)
        others = [each.name for each in sheets if each.cut_out and not each.cut_out.like and each.name != sheet.name]
        fill_combo(self.like, [ITSELF, *others], one.like or ITSELF)
        fill_combo(self.pictures, [OWN, *(each.name for each in sheets if each.cut_out is None)], one.pictures or OWN)
        self.ticks.show_value(one.ticks)
        self.every.show_value(one.every)
        self.repeats.setChecked(one.repeats)
        self.smooth.setChecked(one.smooth)
        self.whole.setChecked(one.whole_pixels)
        for choice in (self.of, self.like, self.pictures):
            choice.updateGeometry()
