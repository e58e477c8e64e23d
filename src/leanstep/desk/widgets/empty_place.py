"""What stands where there is nothing yet: what goes there, a small drawing of it, and the next step as one button."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from leanstep.desk import paint
from leanstep.desk.theme import theme
from leanstep.desk.widgets.basics import button, label

WIDE = 460
"""Pixels that a line of the sentence takes."""
Drawing = Callable[[QPainter, QRectF], None]


class EmptyPlace(QWidget):
    """A drawing, a sentence, and a button; perhaps a second one for who begins elsewhere."""

    def __init__(
        self,
        drawing: Drawing,
        words: str,
        text: str,
        tip: str,
        work: Callable[[], object],
        other: QWidget | None = None,
    ) -> None:
        super().__init__()
        self.words = label(words, wrap=True)
        self.words.setAlignment(Qt.AlignmentFlag.AlignHCenter)
        self.words.setFixedWidth(WIDE)
        self.button = button(text, tip, work, main=True)
        column = QVBoxLayout(self)
        column.setSpacing(14)
        column.addStretch(2)
        for part in (_Picture(drawing), self.words, self.button, *([other] if other is not None else [])):
            # centred by room at both sides: what is aligned gets no height for its lines
            row = QHBoxLayout()
            row.addStretch(1)
            row.addWidget(part)
            row.addStretch(1)
            column.addLayout(row)
        column.addStretch(3)


class _Picture(QWidget):
    def __init__(self, drawing: Drawing) -> None:
        super().__init__()
        self.drawing = drawing
        self.setFixedSize(QSize(300, 130))

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.drawing(painter, QRectF(self.rect()).adjusted(4, 4, -4, -4))


def _figure(painter: QPainter, foot: QPointF, high: float, lean: float = 0.0) -> None:
    """A small standing figure in ink."""
    painter.setPen(paint.pen("soft", 2))
    hip, neck = foot + QPointF(lean / 2, -high * 0.4), foot + QPointF(lean, -high * 0.75)
    painter.drawLine(hip, neck)
    for step in (-high * 0.13, high * 0.13):
        painter.drawLine(hip, foot + QPointF(step, 0))
        painter.drawLine(neck, hip + QPointF(step * 1.3, -high * 0.06))
    painter.drawEllipse(neck + QPointF(0, -high * 0.11), high * 0.1, high * 0.1)


def sheet_drawing(painter: QPainter, area: QRectF) -> None:
    """Figures in a grid."""
    wide, high = area.width() / 4, area.height() / 2
    painter.fillRect(area, theme.colour("leaf"))
    for row in range(2):
        for column in range(4):
            painter.setPen(paint.pen("edge"))
            cell = QRectF(area.x() + column * wide, area.y() + row * high, wide, high)
            painter.drawRect(cell)
            _figure(painter, QPointF(cell.center().x(), cell.bottom() - 8), high * 0.75, 3.0 * (column - 1.5))


def film_drawing(painter: QPainter, area: QRectF) -> None:
    """Cels of different widths on a ground line, with a playhead."""
    ground, x = area.bottom() - 34, area.x()
    painter.setPen(paint.pen("ink"))
    painter.drawLine(QPointF(area.x(), ground), QPointF(area.right(), ground))
    for number, share in enumerate((0.2, 0.14, 0.3, 0.16, 0.2)):
        wide = share * area.width()
        _figure(painter, QPointF(x + wide / 2, ground), 66, 4.0 * (number - 2))
        painter.setPen(paint.pen("edge"))
        painter.drawRect(QRectF(x, ground + 8, wide, 20))
        x += wide
    painter.setPen(paint.pen("mark", 2))
    painter.drawLine(
        QPointF(area.x() + area.width() * 0.42, area.y()), QPointF(area.x() + area.width() * 0.42, area.bottom())
    )


def rail_drawing(painter: QPainter, area: QRectF) -> None:
    """Figures along a rail, slow to fast."""
    rail = area.bottom() - 22
    painter.setPen(paint.pen("ink"))
    painter.drawLine(QPointF(area.x(), rail), QPointF(area.right(), rail))
    for share, lean in ((0.1, 0.0), (0.45, 6.0), (0.85, 14.0)):
        x = area.x() + share * area.width()
        _figure(painter, QPointF(x, rail - 6), 76, lean)
        painter.setPen(paint.pen("mark", 2))
        painter.drawLine(QPointF(x, rail - 4), QPointF(x, rail + 6))
