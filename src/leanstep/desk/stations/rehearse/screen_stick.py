"""A stick on the screen, pushed with the mouse while the character is steered."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QSize, Qt
from PySide6.QtGui import QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from leanstep.desk import paint
from leanstep.desk.simulation import Simulation
from leanstep.desk.theme import theme

SIZE, REACH, KNOB = 96, 38.0, 15.0
"""Pixels of the whole, how far the knob goes, and how large it is."""


class ScreenStick(QWidget):
    """Pushes the stick the body obeys; let go, it stands in the middle again."""

    def __init__(self, live: Simulation) -> None:
        super().__init__()
        self.live = live
        self.pushed = QPointF(0, 0)
        self.setFixedSize(SIZE, SIZE)
        self.setAccessibleName("On-screen stick")
        self.setToolTip("Push it with the mouse to steer")
        self.setCursor(Qt.CursorShape.OpenHandCursor)
        live.mode_changed.connect(self._mode)
        self._mode()

    def sizeHint(self) -> QSize:
        return QSize(SIZE, SIZE)

    def _mode(self) -> None:
        self._push(QPointF(0, 0))
        self.setVisible(self.live.mode == "driving")

    def _push(self, where: QPointF) -> None:
        """Push it as far as a point from its middle, in shares of its reach."""
        length = math.hypot(where.x(), where.y())
        self.pushed = QPointF(where.x() / length, where.y() / length) if length > 1 else where
        self.live.hands.push(self.live.machine.character.body.stick, self.pushed.x(), -self.pushed.y())
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        middle = QPointF(SIZE / 2, SIZE / 2)
        ground = theme.colour("leaf")
        ground.setAlpha(220)
        painter.setPen(paint.pen("edge", 1.5))
        painter.setBrush(ground)
        painter.drawEllipse(middle, REACH + 6, REACH + 6)
        painter.setPen(paint.pen("rule"))
        for side in (QPointF(1, 0), QPointF(0, 1)):
            painter.drawLine(middle - side * REACH, middle + side * REACH)
        painter.setPen(paint.pen("ink", 1.5))
        painter.setBrush(theme.colour("chosen"))
        painter.drawEllipse(middle + self.pushed * REACH, KNOB, KNOB)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.mouseMoveEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        off = event.position() - QPointF(SIZE / 2, SIZE / 2)
        self._push(QPointF(off.x() / REACH, off.y() / REACH))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._push(QPointF(0, 0))
