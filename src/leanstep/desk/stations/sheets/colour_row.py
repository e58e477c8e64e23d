"""The colours of a sheet side by side: each is exchanged for another one, which is seen before it counts."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from PySide6.QtCore import QRectF, QSize, Signal
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QAbstractButton, QColorDialog, QHBoxLayout, QSpinBox, QWidget

from leanstep.core.character.costume_edits import with_colour
from leanstep.core.character.sheets import Sheet
from leanstep.desk import paint
from leanstep.desk.widgets.basics import label

SIDE = 24
"""Pixels a swatch is wide and high."""


class Swatch(QAbstractButton):
    """A colour, and in its lower half the one it is shown as."""

    def __init__(self, was: str, to: str, share: float) -> None:
        super().__init__()
        self.was, self.to = was, to
        self.setAccessibleName(f"Colour {was}")
        shown = f", shown as {to}" if to != was else ""
        self.setToolTip(f"{was}{shown}, {share:.0%} of what is drawn. Choose another one for it.")

    def sizeHint(self) -> QSize:
        return QSize(SIDE, SIDE)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        area = QRectF(self.rect()).adjusted(1.5, 1.5, -1.5, -1.5)
        painter.fillRect(area, QColor(self.was))
        if self.to != self.was:
            painter.fillRect(area.adjusted(0, area.height() / 2, 0, 0), QColor(self.to))
        painter.setPen(
            paint.pen("chosen" if self.hasFocus() or self.underMouse() else "edge", 2 if self.hasFocus() else 1)
        )
        painter.drawRect(area)


class ColourRow(QWidget):
    """``tried``: the sheet is to be seen in these colours (None: no more), ``meant``: a colour is to be shown as another one."""

    tried = Signal(object)
    meant = Signal(str, str)

    def __init__(self) -> None:
        super().__init__()
        self.sheet: Sheet | None = None
        self.swatches: list[Swatch] = []
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(0, 0, 0, 0)
        self._row.setSpacing(3)
        self._row.addWidget(label("Colours", "soft"))

    def show_colours(self, colours: Sequence[tuple[str, float]], sheet: Sheet) -> None:
        """Show the colours of a sheet's image, with their share of it."""
        self.sheet = sheet
        shown = {one.was: one.to for one in sheet.colours}
        wanted = [(was, shown.get(was, was)) for was, _ in colours]
        if wanted == [(one.was, one.to) for one in self.swatches]:
            return
        for one in self.swatches:
            self._row.removeWidget(one)
            one.deleteLater()
        self.swatches = [Swatch(was, to, share) for (was, to), (_, share) in zip(wanted, colours)]
        for one in self.swatches:
            one.clicked.connect(partial(self._ask, one))
            self._row.addWidget(one)

    def _ask(self, swatch: Swatch, checked: bool = False) -> None:
        """Choose another colour; it is seen meanwhile."""
        sheet, was = self.sheet, swatch.was
        if sheet is None:
            return
        dialog = QColorDialog(QColor(swatch.to), self)
        dialog.setWindowTitle(f"In place of {was}")
        dialog.setOption(QColorDialog.ColorDialogOption.DontUseNativeDialog)
        for number in dialog.findChildren(QSpinBox):
            number.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
        dialog.currentColorChanged.connect(
            lambda colour: self.tried.emit(with_colour(sheet, was, colour.name()).colours)
        )
        done = dialog.exec()
        self.tried.emit(None)
        if done and dialog.currentColor().name() != swatch.to:
            self.meant.emit(was, dialog.currentColor().name())
