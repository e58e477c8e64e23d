"""The opaque ground of a sheet: made transparent with a tolerance that is tried first, hole by hole."""

from __future__ import annotations

import msgspec
from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QWidget

from leanstep.core.character.sheets import Ground
from leanstep.desk.widgets.basics import Slider, button, label


class GroundBar(QWidget):
    """``tried``: a ground is to be shown as cleared; ``meant``: the sheet's ground is to be this (None: none)."""

    tried = Signal(object)
    meant = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self.ground: Ground | None = None
        self.now: Ground | None = None
        self.holes: list[tuple[int, int]] = []
        self.words = label("")
        self.swatch = label("    ")
        self.swatch.setObjectName("swatch")
        self.tolerance = Slider()
        self.tolerance.setRange(0, 96)
        self.tolerance.setFixedWidth(120)
        self.tolerance.setAccessibleName("Tolerance")
        self.tolerance.setToolTip("How much a pixel may differ from the ground's colour and still be ground")
        self.tolerance.valueChanged.connect(lambda value: self._try())
        self.number = label("", "soft")
        self.clear = button(
            "Make it transparent", "Clear the ground from the borders inwards; the file stays as it is", self._mean
        )
        self.hole = button(
            "Clear a hole",
            "Clear the largest place of the ground's colour that the drawings enclose",
            lambda: self._clear_holes(1),
        )
        self.holes_all = button(
            "Clear all holes",
            "Clear every place of the ground's colour that the drawings enclose",
            lambda: self._clear_holes(None),
        )
        self.back = button("Put it back", "Show the image with its ground again", lambda: self.meant.emit(None))
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        parts: list[QWidget] = [self.words, self.swatch, label("tolerance", "soft"), self.tolerance, self.number]
        # a button that has nothing to do stays where it is: another one in its place would be pressed instead
        for part in [*parts, self.clear, self.back, self.hole, self.holes_all]:
            row.addWidget(part)
        row.addStretch(1)

    def show_ground(self, now: Ground | None, found: Ground | None, holes: list[tuple[int, int]]) -> None:
        """Show the sheet's ground as it is ``now``, or the one that was ``found``; hidden where there is neither."""
        self.now, self.holes = now, holes
        shown = now or found
        self.setVisible(shown is not None)
        if shown is None:
            self.ground = None
            return
        if self.ground is None or self.ground.colour != shown.colour or now is not None:
            self.ground = shown
            self.tolerance.blockSignals(True)
            self.tolerance.setValue(shown.tolerance)
            self.tolerance.blockSignals(False)
        self.words.setText("The ground is cleared:" if now is not None else "The ground is opaque:")
        self.swatch.setStyleSheet(f"background: {shown.colour};")
        self.swatch.setToolTip(shown.colour)
        self._show()

    def _show(self) -> None:
        assert self.ground is not None
        self.number.setText(str(self.ground.tolerance))
        self.clear.setEnabled(self.now is None or self.now.tolerance != self.ground.tolerance)
        self.clear.setText("Make it transparent" if self.now is None else "Use this tolerance")
        self.back.setEnabled(self.now is not None)
        for one in (self.hole, self.holes_all):
            one.setVisible(self.now is not None)
            one.setEnabled(bool(self.holes))
        self.hole.setText(f"Clear a hole ({len(self.holes)})" if self.holes else "Clear a hole")

    def _try(self) -> None:
        if self.ground is not None:
            self.ground = msgspec.structs.replace(self.ground, tolerance=self.tolerance.value())
            self._show()
            self.tried.emit(self.ground)

    def _mean(self) -> None:
        self.meant.emit(self.ground)

    def _clear_holes(self, count: int | None) -> None:
        """Clear so many of the holes (None: all), the largest first."""
        if self.now is not None and self.holes:
            self.meant.emit(msgspec.structs.replace(self.now, holes=(*self.now.holes, *self.holes[:count])))
