"""From what the frames of a sheet are drawn, and how exactly."""

from __future__ import annotations

from collections.abc import Sequence

import msgspec
from PySide6.QtCore import Signal
from PySide6.QtWidgets import QCheckBox, QWidget

from leanstep.core.character.cut_outs import CutOut
from leanstep.core.character.sheets import Sheet
from leanstep.desk.widgets.basics import fill_combo, label, lay_in_lines, name_choice

OWN = "these parts"
ITSELF = "nothing else"


class DrawnRow(QWidget):
    """``meant``: what is drawn otherwise (the cut-out, and what was done in words)."""

    meant = Signal(object, str)

    def __init__(self) -> None:
        super().__init__()
        self._cut_out = CutOut()
        self.of = name_choice(
            "Drawn from",
            "The sheet whose parts are moved",
            lambda name: self._mean("drawn from another sheet", of=name),
        )
        self.like = name_choice(
            "Drawn like",
            "Another sheet whose parts, times and keys are taken over",
            lambda name: self._mean("drawn like another sheet", like="" if name == ITSELF else name),
        )
        self.pictures = name_choice(
            "Pictures from",
            "A sheet of the same layout whose frames are the pictures of the parts",
            lambda name: self._mean("with other pictures", pictures="" if name == OWN else name),
        )
        self.smooth = self._flag("smooth", "Smooth edges", "Pixels are mixed where parts are turned", "smooth")
        self.whole = self._flag("whole pixels", "On whole pixels", "Parts lie on whole pixels", "whole_pixels")
        self._own: tuple[QWidget, ...] = (label("Drawn from the parts of", "soft"), self.of, self.smooth, self.whole)
        lines = (
            self._own,
            (label("It moves like", "soft"), self.like, label("and its pictures are those of", "soft"), self.pictures),
        )
        lay_in_lines(self, lines)

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
        """Show how a sheet is drawn, if it is."""
        if sheet.cut_out is None:
            return
        one = self._cut_out = sheet.cut_out
        for part in self._own:
            part.setVisible(not one.like)
        fill_combo(self.of, [each.name for each in sheets if each.parts], one.of)
        others = [each.name for each in sheets if each.cut_out and not each.cut_out.like and each.name != sheet.name]
        fill_combo(self.like, [ITSELF, *others], one.like or ITSELF)
        fill_combo(self.pictures, [OWN, *(each.name for each in sheets if each.cut_out is None)], one.pictures or OWN)
        self.smooth.setChecked(one.smooth)
        self.whole.setChecked(one.whole_pixels)
        for choice in (self.of, self.like, self.pictures):
            choice.updateGeometry()
