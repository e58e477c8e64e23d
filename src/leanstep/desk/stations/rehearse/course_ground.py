"""The shapes of a course, as they are drawn: kept in squares, so that a course that scrolls by is not drawn again on every tick."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from functools import partial

from PySide6.QtCore import QPointF, QRect, QRectF, Qt
from PySide6.QtGui import QPainter, QPolygonF

from leanstep.core.character.body import Shape
from leanstep.desk import paint
from leanstep.desk.kept_pictures import KeptPictures
from leanstep.desk.session import Session
from leanstep.desk.stations.rehearse.camera import Camera
from leanstep.desk.theme import font, theme

SIDE = 256
"""Pixels along a side of the squares that are kept."""
EDGE = 24.0
"""Pixels that edges and names of shapes reach over their boxes."""
ORDER = ("zone", "ladder", "slope", "floor")
"""What is drawn before what."""


class CourseGround:
    """Draws shapes; ``session``: the document whose shapes they are."""

    def __init__(self, session: Session) -> None:
        self._pictures = KeptPictures(session)

    def draw(
        self, painter: QPainter, shapes: Sequence[Shape], camera: Camera, exposed: QRectF, kept: bool = True
    ) -> None:
        """Draw the shapes of the document where they are ``exposed``; not ``kept``: as they are while a hand changes them."""
        exact = camera.place(0.0, 0.0)
        if not kept:
            painter.translate(exact)
            _draw(shapes, camera.scale, exposed.translated(-exact), painter)
            painter.translate(-exact)
            return
        corner = exact.toPoint()
        seen = exposed.translated(-QPointF(corner))
        across = range(math.floor(seen.left() / SIDE), math.ceil(seen.right() / SIDE))
        down = range(math.floor(seen.top() / SIDE), math.ceil(seen.bottom() / SIDE))
        painter.translate(corner)
        for at in itertools.product(across, down):
            square = QRect(at[0] * SIDE, at[1] * SIDE, SIDE, SIDE)
            draw = partial(_draw, shapes, camera.scale, QRectF(square))
            self._pictures.put(painter, (at, camera.scale), square, draw, "leaf")
        painter.translate(-corner)


def _draw(shapes: Sequence[Shape], scale: float, seen: QRectF, painter: QPainter) -> None:
    """Draw shapes about the corner of the course, as far as they are seen."""
    for shape in sorted(shapes, key=lambda one: ORDER.index(one.kind)):
        top = -(shape.y + shape.height) * scale
        box = QRectF(shape.x * scale, top, shape.width * scale, shape.height * scale)
        if box.adjusted(-EDGE, -EDGE, EDGE, EDGE).intersects(seen):
            draw_shape(painter, shape, box, seen)


def draw_shape(painter: QPainter, shape: Shape, box: QRectF, exposed: QRectF) -> None:
    """A shape of the course in its box, as far as it is ``exposed``."""
    if shape.kind == "floor":
        paint.hatched(painter, box, exposed)
        painter.setPen(paint.pen("edge"))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(box)
        painter.setPen(paint.pen("ink", 1.6))
        painter.drawLine(box.topLeft(), box.topRight())
    elif shape.kind == "slope":
        low, high = (box.bottomLeft(), box.topRight()) if shape.rises == "right" else (box.bottomRight(), box.topLeft())
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colour("checker"))
        painter.drawPolygon(QPolygonF([low, high, QPointF(high.x(), low.y())]))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(paint.pen("ink", 1.6))
        painter.drawLine(low, high)
    elif shape.kind == "ladder":
        painter.setPen(paint.pen("soft", 2))
        for x in (box.left() + 3, box.right() - 3):
            painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()))
        y = box.bottom() - 8
        while y > box.top():
            painter.drawLine(QPointF(box.left() + 3, y), QPointF(box.right() - 3, y))
            y -= 12
    else:
        dashes = paint.pen("mark", 1.2)
        dashes.setStyle(Qt.PenStyle.DashLine)
        painter.setPen(dashes)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(box)
        painter.setFont(font(12))
        painter.setPen(theme.colour("mark"))
        painter.drawText(
            box.adjusted(-20, -17, 20, 0), Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop, shape.name
        )
