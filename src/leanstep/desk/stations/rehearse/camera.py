"""Which part of the course is on screen, and how large."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QSize, Signal
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from leanstep.core.character.body import Shape
from leanstep.desk.widgets.basics import button
from leanstep.desk.widgets.zooming import zoom_after

ZOOMS = (0.25, 0.5, 1.0, 2.0, 3.0, 4.0, 6.0, 8.0)
"""Screen pixels a unit takes."""
BELOW = 58.0
"""Pixels below the ground of a figure seen from the side."""
OVERHEAD = 150.0
"""Units above the foot that stay in view, as far as there is room."""
SHARE = 0.16
"""The share of the height that a figure takes at least, in whole multiples, where nobody has zoomed."""


class Camera:
    """Follows the figure, at the zoom that fits it until another one is chosen (``zoom``; None: what fits); ``pan`` is what was
    moved by hand since, in units."""

    def __init__(self) -> None:
        self.zoom: float | None = None
        self.pan = QPointF()
        self._fits = 1.0
        self._left = self._low = 0.0
        self._size = QSize(1, 1)

    @property
    def scale(self) -> float:
        """Screen pixels a unit takes."""
        return self.zoom or self._fits

    def aim(
        self, size: QSize, figure: float, at: tuple[float, float], floors: Sequence[Shape], above: bool = False
    ) -> None:
        """Look at a figure so high, at a place: it stays in the middle half, and nothing beyond the floors is seen."""
        self._size, (x, y) = size, at
        self._fits = fitting(size.height(), figure)
        ground, width = (size.height() - BELOW) / self.scale, size.width() / self.scale
        self._left = min(max(self._left, x - width * 0.66), x - width * 0.34)
        if floors:
            left = min(shape.x for shape in floors)
            right = max(shape.x + shape.width for shape in floors)
            within = min(max(self._left, left), right - width)
            self._left = (left + right - width) / 2 if right - left <= width else within
        self._low = y - ground / 2 if above else max(0.0, y + min(OVERHEAD, 0.7 * ground) - ground)

    def zoom_by(self, steps: int, at: QPointF | None = None) -> None:
        """So many steps larger, what is at a place of the screen staying there (left out: the figure staying in sight)."""
        before = self.on_course(at) if at is not None else None
        self.zoom = zoom_after(ZOOMS, self.scale, steps)
        if at is not None and before is not None:
            self.pan += before - self.on_course(at)

    def move(self, by: QPointF) -> None:
        """What is seen moves by so many pixels of the screen."""
        self.pan += QPointF(-by.x(), by.y()) * (1 / self.scale)

    def follow(self) -> None:
        """Follow the figure again."""
        self.pan = QPointF()

    def fit(self) -> None:
        """Follow the figure at the zoom that fits it."""
        self.zoom = None
        self.follow()

    def place(self, x: float, y: float) -> QPointF:
        """Where a place of the course is on screen."""
        left, low = self._left + self.pan.x(), self._low + self.pan.y()
        return QPointF((x - left) * self.scale, self._size.height() - BELOW - (y - low) * self.scale)

    def on_course(self, at: QPointF) -> QPointF:
        """The place of the course at a place of the screen."""
        left, low = self._left + self.pan.x(), self._low + self.pan.y()
        return QPointF(at.x() / self.scale + left, (self._size.height() - BELOW - at.y()) / self.scale + low)


def fitting(height: float, figure: float) -> float:
    """The zoom for a figure so many units high on so many pixels: a whole multiple from which on it takes its share; half where
    it would fill the screen."""
    if figure > 0.6 * height:
        return ZOOMS[1]
    return float(min(6, max(1, int(height / 300), round(SHARE * height / max(1.0, figure)))))


class ZoomBar(QWidget):
    """Smaller, as it fits, larger."""

    stepped = Signal(int)
    fitted = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.fit: QPushButton = button("fits", "As it fits the figure, and follow it again (Ctrl+0)", self.fitted.emit)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(3)
        for made in (
            button("−", "Smaller (Ctrl+-), as with the wheel", lambda: self.stepped.emit(-1)),
            self.fit,
            button("+", "Larger (Ctrl++), as with the wheel", lambda: self.stepped.emit(1)),
        ):
            made.setProperty("small", True)
            row.addWidget(made)

    def show_zoom(self, camera: Camera) -> None:
        """Say which zoom it is."""
        text = f"{camera.scale:g}×"
        if self.fit.text() != text:
            self.fit.setText(text)
            self.adjustSize()
