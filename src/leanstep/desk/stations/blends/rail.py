"""The rail: a blend space with one axis, with a standing row of figures."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QPainter

from leanstep.core.blends.picking import band, borders
from leanstep.core.rehearsal.drawable import Drawable
from leanstep.desk import paint
from leanstep.desk.session import Session
from leanstep.desk.stations.blends.view import MIXED_SIZE, BlendView, Standing, Values
from leanstep.desk.theme import MEDIUM, font, theme
from leanstep.desk.widgets.several import Several


class Rail(BlendView):
    """Samples on their places, borders between picks, the needle to drag, and the value of now as a small flag."""

    def __init__(self, session: Session, several: Several) -> None:
        super().__init__(
            session,
            several,
            "Rail",
            "Drag a sample to place it, drag the needle to try values; ←/→ move what was touched last (Shift ×10), Page up/down "
            "choose a sample, Delete removes it",
        )

    def x_of(self, value: float) -> float:
        """Where a value lies on the rail."""
        axis = self.space.axes[0]
        return 60 + (value - axis.low) / (axis.high - axis.low) * (self.width() - 120)

    def value_at(self, x: float) -> float:
        """The value at a place of the rail, kept in range."""
        axis = self.space.axes[0]
        value = axis.low + (x - 60) / max(1, self.width() - 120) * (axis.high - axis.low)
        return min(max(value, axis.low), axis.high)

    @property
    def rail_y(self) -> float:
        """Height of the rail, where the figures stand."""
        return self.height() * 0.7

    def spot(self, place: Sequence[float]) -> QPointF:
        return QPointF(24.0 if math.isnan(place[0]) else self.x_of(place[0]), self.rail_y)

    def values_at(self, where: QPointF) -> Values:
        return (self.value_at(where.x()),)

    def draw_ground(self, painter: QPainter) -> None:
        self._zones(painter)
        self._axis(painter)

    def standing(self, shown: Sequence[Drawable]) -> list[Standing]:
        found = []
        for at, one in enumerate(shown):
            size = paint.room_of(self.session.art, one)
            scale = paint.whole_scale((1.0, size[1]), 2.0, self.rail_y - 40) if size is not None else 0.0
            foot = self.spot(self.space.places[at])
            found.append(Standing(at, foot, scale, 1.0 if self.picked == at else 0.5, 6.0))
        return found

    def draw_over(self, painter: QPainter) -> None:
        self._value_now(painter)
        for at in range(len(self.space.places)):
            self._words(painter, at)
        self._needle(painter)

    def _zones(self, painter: QPainter) -> None:
        """The stretch in which each sample is picked."""
        axis = self.space.axes[0]
        cuts = [axis.low, *(border for border in borders(self.space) if axis.low < border < axis.high), axis.high]
        for number, (low, high) in enumerate(itertools.pairwise(cuts)):
            left, right = self.x_of(low), self.x_of(high)
            fill = theme.colour("checker" if number % 2 else "paper")
            painter.fillRect(QRectF(left, 14, right - left, self.rail_y - 14), fill)
            if number:
                line = paint.pen("soft", 1)
                line.setStyle(Qt.PenStyle.DashLine)
                painter.setPen(line)
                painter.drawLine(QPointF(left, 14), QPointF(left, self.rail_y))
                painter.setFont(font(11))
                painter.setPen(theme.colour("soft"))
                wide = band(self.space) / 2
                said = f"border at {low:g}" + (f" ± {wide:.3g}" if wide else "")
                painter.drawText(QRectF(left + 5, 17, 150, 16), Qt.AlignmentFlag.AlignLeft, said)
                if wide:
                    start, end = self.x_of(max(axis.low, low - wide)), self.x_of(min(axis.high, low + wide))
                    painter.fillRect(
                        QRectF(start, 36, end - start, self.rail_y - 36),
                        QBrush(theme.colour("faint"), Qt.BrushStyle.BDiagPattern),
                    )

    def _axis(self, painter: QPainter) -> None:
        axis, y = self.space.axes[0], self.rail_y
        painter.setPen(paint.pen("ink", 2))
        painter.drawLine(QPointF(self.x_of(axis.low), y), QPointF(self.x_of(axis.high), y))
        painter.setFont(font(12))
        span = axis.high - axis.low
        step = next(s for s in (0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500, 1e3, 1e4, 1e9) if span / s <= 12)
        for number in range(int(span / step + 1e-9) + 1):
            # -0.2 and four steps of 0.05 are not quite 0
            value = round(axis.low + number * step, 9) + 0.0
            x = self.x_of(value)
            painter.setPen(paint.pen("soft"))
            painter.drawLine(QPointF(x, y), QPointF(x, y + 5))
            painter.setPen(theme.colour("soft"))
            painter.drawText(QRectF(x - 30, y + 7, 60, 16), Qt.AlignmentFlag.AlignCenter, f"{value:g}")
        painter.drawText(
            QRectF(self.width() - 330, self.height() - 24, 310, 18),
            Qt.AlignmentFlag.AlignRight,
            f"{axis.parameter}{' in ' + self.units[0] if self.units[0] else ''} →",
        )

    def _value_now(self, painter: QPainter) -> None:
        """The value the character has."""
        axis, y = self.space.axes[0], self.rail_y
        if self.now is None:
            return
        x = self.x_of(axis.inside(self.now[0]))
        painter.setFont(font(12))
        painter.setPen(paint.pen("mark", 2))
        # the numbers of the rail stay readable
        painter.drawLine(QPointF(x, y - 10), QPointF(x, y + 5))
        painter.drawLine(QPointF(x, y + 23), QPointF(x, y + 28))
        painter.setPen(theme.colour("mark"))
        painter.drawText(QRectF(x - 50, y + 28, 100, 16), Qt.AlignmentFlag.AlignCenter, f"now {self.now[0]:.0f}")

    def _words(self, painter: QPainter, at: int) -> None:
        """What is written below a sample."""
        assert self.blend is not None
        sample, place, y = self.blend.samples[at], self.space.places[at][0], self.rail_y
        x = self.spot((place,)).x()
        painter.setFont(font(13, MEDIUM))
        painter.setPen(theme.colour("ink"))
        painter.drawText(
            QRectF(x - 70, y + 44, 140, 18),
            Qt.AlignmentFlag.AlignCenter,
            f"{sample.clip} {'anywhere' if math.isnan(place) else f'at {place:g}'}",
        )
        share = self.shares[at] if at < len(self.shares) else 0.0
        painter.setFont(font(12))
        painter.setPen(theme.colour("soft"))
        said = f"{share:.0%} of a mix" + (", picked" if self.picked == at else "")
        painter.drawText(QRectF(x - 70, y + 61, 140, 17), Qt.AlignmentFlag.AlignCenter, said)

    def mixed_at(self) -> QPointF:
        # as far as can be from samples, borders and the needle
        stand = [self.spot(place).x() for place in self.space.places]
        stand += [self.x_of(one) + 40 for one in borders(self.space)] + [self.x_of(self.probe[0])]
        half = MIXED_SIZE.width() / 2
        middles = [half + 10 + step * (self.width() - 2 * half - 20) / 40 for step in range(41)]
        best = max(middles, key=lambda x: min(abs(x - one) for one in stand))
        return QPointF(best - half, 22)

    def _needle(self, painter: QPainter) -> None:
        x = self.x_of(self.probe[0])
        painter.setPen(paint.pen("chosen", 2))
        painter.drawLine(QPointF(x, 24), QPointF(x, self.rail_y))
        painter.setBrush(theme.colour("chosen"))
        painter.drawPolygon([QPointF(x - 7, 10), QPointF(x + 7, 10), QPointF(x, 25)])

    def sample_at(self, where: QPointF) -> int | None:
        if where.y() < self.rail_y - 12:
            return None
        near = [(abs(self.spot(place).x() - where.x()), at) for at, place in enumerate(self.space.places)]
        best = min(near, default=(math.inf, 0))
        return best[1] if best[0] < 40 else None
