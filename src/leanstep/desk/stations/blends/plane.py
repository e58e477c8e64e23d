"""The plane: two numbers, or two directions, one across and one up."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter

from leanstep.core.bearings import way_word
from leanstep.core.blends.coverage import place_words
from leanstep.core.blends.space import Ruled
from leanstep.core.rehearsal.drawable import Drawable
from leanstep.desk import paint
from leanstep.desk.session import Session
from leanstep.desk.stations.blends.cells import Cells
from leanstep.desk.stations.blends.view import BlendView, Standing, Values
from leanstep.desk.theme import MEDIUM, font, theme
from leanstep.desk.widgets.several import Several

MARGIN = (64.0, 84.0, 44.0, 46.0)
"""Pixels left, above, right and below the plane, for its words."""


class Plane(BlendView):
    """Samples by two numbers, with a needle."""

    def __init__(self, session: Session, several: Several) -> None:
        super().__init__(
            session,
            several,
            "Plane",
            "Drag a sample to place it, drag the needle to try values; the arrow keys move what was touched last (Shift ×10), Page "
            "up/down choose a sample, Delete removes it",
        )
        self._cells = Cells()

    @property
    def area(self) -> QRectF:
        """Where the plane is drawn."""
        left, top, right, bottom = MARGIN
        return QRectF(left, top, max(40.0, self.width() - left - right), max(40.0, self.height() - top - bottom))

    def spot(self, place: Sequence[float]) -> QPointF:
        area = self.area
        shares = [
            0.5 if math.isnan(at) else (axis.inside(at) - axis.low) / (axis.high - axis.low)
            for axis, at in zip(self.space.axes, place)
        ]
        return QPointF(area.left() + shares[0] * area.width(), area.bottom() - shares[1] * area.height())

    def values_at(self, where: QPointF) -> Values:
        area = self.area
        shares = (where.x() - area.left()) / area.width(), (area.bottom() - where.y()) / area.height()
        return tuple(
            axis.low + min(max(share, 0.0), 1.0) * (axis.high - axis.low)
            for axis, share in zip(self.space.axes, shares)
        )

    def draw_ground(self, painter: QPainter) -> None:
        area = self.area
        painter.fillRect(area, theme.colour("paper"))
        lines = self._cells.lines(self.space, int(area.width()), int(area.height()), self._under)
        if self.picked is not None:
            painter.drawImage(area.topLeft(), self._cells.tint(self.picked, int(area.width()), int(area.height())))
        painter.drawImage(area.topLeft(), lines)
        painter.setPen(paint.pen("edge", 1.5))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(area)
        self._rulings(painter)

    def standing(self, shown: Sequence[Drawable]) -> list[Standing]:
        spots = [self.spot(place) for place in self.space.places]
        found = []
        for at in sorted(range(len(spots)), key=lambda at: (spots[at].y(), at)):
            others = [math.hypot(*(spot - spots[at]).toTuple()) for spot in spots]
            room = max(18.0, min([96.0, *(away * 0.86 for away in others if away > 1)]))
            size = paint.room_of(self.session.art, shown[at])
            scale = paint.whole_scale((size[0], size[2]), room, room) if size is not None else 0.0
            found.append(Standing(at, spots[at], scale, 1.0 if at in (self.picked, self.chosen) else 0.8))
        return found

    def draw_over(self, painter: QPainter) -> None:
        assert self.blend is not None
        if self.chosen < len(self.blend.samples):
            said = f"{self.blend.samples[self.chosen].clip}, {place_words(self.space, self.space.places[self.chosen])}"
            painter.setFont(font(12, MEDIUM))
            painter.setPen(theme.colour("ink"))
            painter.drawText(QRectF(self.area.left(), 8, self.area.width(), 18), Qt.AlignmentFlag.AlignRight, said)
        self._needle(painter)

    def _under(self, x: np.ndarray, y: np.ndarray) -> tuple[Sequence[np.ndarray], np.ndarray]:
        area = self.area
        wide, high = self.space.axes
        values = [
            wide.low + x / area.width() * (wide.high - wide.low),
            high.high - y / area.height() * (high.high - high.low),
        ]
        return values, np.ones(x.shape, bool)

    def _rulings(self, painter: QPainter) -> None:
        area = self.area
        painter.setFont(font(11))
        for at, axis in enumerate(self.space.axes):
            for value in _rulings_of(axis):
                place = [self.space.axes[0].low, self.space.axes[1].low]
                place[at] = value
                spot = self.spot(place)
                said = way_word(value) if axis.round else f"{value:g}"
                painter.setPen(paint.pen("soft"))
                if at == 0:
                    painter.drawLine(spot, spot + QPointF(0, 5))
                    box = QRectF(spot.x() - 34, spot.y() + 6, 68, 15)
                    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, said)
                else:
                    painter.drawLine(spot, spot - QPointF(5, 0))
                    box = QRectF(spot.x() - 62, spot.y() - 8, 54, 16)
                    painter.drawText(box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, said)
        units = [f" in {unit}" if unit else "" for unit in self.units]
        below = QRectF(area.left(), area.bottom() + 22, area.width(), 18)
        painter.setFont(font(12))
        painter.setPen(theme.colour("soft"))
        painter.drawText(below, Qt.AlignmentFlag.AlignRight, f"{self.space.axes[0].parameter}{units[0]} →")
        above = QRectF(8, area.top() - 24, area.width(), 18)
        painter.drawText(above, Qt.AlignmentFlag.AlignLeft, f"↑ {self.space.axes[1].parameter}{units[1]}")

    def _needle(self, painter: QPainter) -> None:
        for values, colour, width in ((self.now, "mark", 1.5), (self.probe, "chosen", 2.0)):
            if values is not None:
                spot = self.spot(values)
                painter.setPen(paint.pen(colour, width))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                for side in (QPointF(1, 0), QPointF(-1, 0), QPointF(0, 1), QPointF(0, -1)):
                    painter.drawLine(spot + side * 6, spot + side * 16)
                painter.drawEllipse(spot, 2, 2)


def _rulings_of(axis: Ruled) -> list[float]:
    """The rulings of an axis, few enough to be written down."""
    count = int((axis.high - axis.low) / axis.step + 1e-9)
    every = max(1, -(-count // 12))
    return [axis.low + number * axis.step for number in range(0, count + 1, every)]
