"""The program's picture: a step on a dotted route."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QIcon, QImage, QPainter, QPainterPath, QPen, QPixmap

from leanstep.desk.theme import DAY

ID = "org.leanstep.Desk"
"""The program's name among those of a desk."""
SIZES = (16, 22, 24, 32, 48, 64, 128, 256, 512)
"""The usual sizes, in pixels."""


def drawn(size: int, document: bool = False) -> QImage:
    """The picture as large as ``size`` pixels; as a ``document`` it is a sheet of paper with the picture on it."""
    image = QImage(size, size, QImage.Format.Format_ARGB32)
    image.fill(Qt.GlobalColor.transparent)
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.scale(size / 64, size / 64)
    painter.setPen(QPen(QColor(DAY.edge), 2))
    painter.setBrush(QColor(DAY.leaf if document else DAY.chosen))
    if document:
        sheet = QPainterPath(QPointF(10, 3))
        for x, y in ((42, 3), (54, 15), (54, 61), (10, 61), (10, 3)):
            sheet.lineTo(x, y)
        painter.drawPath(sheet)
        painter.translate(12, 16)
        painter.scale(0.62, 0.62)
    else:
        painter.drawRoundedRect(QRectF(2, 2, 60, 60), 13, 13)
    ink = QColor(DAY.ink if document else DAY.on_chosen)
    ground = QPen(QColor(DAY.warning), 4, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap)
    painter.setPen(ground)
    painter.drawLine(QPointF(12, 52), QPointF(52, 52))
    pen = QPen(ink, 6, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap, Qt.PenJoinStyle.RoundJoin)
    painter.setPen(pen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    # a figure that leans into its step: trunk, the leg behind, the leg before
    figure = QPainterPath(QPointF(40, 20))
    figure.lineTo(29, 34)
    figure.lineTo(20, 49)
    painter.drawPath(figure)
    before = QPainterPath(QPointF(29, 34))
    before.lineTo(40, 38)
    before.lineTo(42, 49)
    painter.drawPath(before)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(ink)
    painter.drawEllipse(QPointF(45, 13), 6.5, 6.5)
    painter.end()
    return image


def icon() -> QIcon:
    """The picture for windows."""
    made = QIcon()
    for size in SIZES[:7]:
        made.addPixmap(QPixmap.fromImage(drawn(size)))
    return made
