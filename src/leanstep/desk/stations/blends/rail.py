"""The rail: a blend space with one axis, with a standing row of figures."""

from __future__ import annotations

import itertools

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QBrush, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from leanstep.core.blends.picking import band, borders, weights
from leanstep.core.character.model import BlendSpace
from leanstep.core.clips.timing import TICK
from leanstep.core.rehearsal.drawable import NOTHING, Drawable, at_share
from leanstep.desk import paint
from leanstep.desk.session import Session
from leanstep.desk.theme import MEDIUM, font, theme

CATCH = 6.0
"""Pixels within which a ruling catches a sample."""


class Rail(QWidget):
    """Samples on their places, borders between picks, the probe to drag, and the value of now as a small flag."""

    chose = Signal(int)
    dragged = Signal(int, float)
    probed = Signal(float)
    removed = Signal(int)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.blend: BlendSpace | None = None
        self.unit = ""
        self.chosen = 0
        self.probe = 0.0
        self.picked: int | None = None
        self.now: float | None = None
        self.phase = 0
        self._drag = ""
        self._seen: tuple[object, ...] = ()
        self.setMinimumHeight(250)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Rail")
        self.setToolTip(
            "Drag a sample to place it (←/→ nudge, Shift ×10, Delete removes); drag the needle to try values"
        )

    def look(self) -> None:
        """Draw again if a figure or the value of now has changed."""
        seen = (self.now, self.probe, self._figures())
        if seen != self._seen:
            self._seen = seen
            self.update()

    def _figures(self) -> tuple[Drawable, ...]:
        """What stands at every sample now."""
        clips = {clip.name: clip for clip in self.session.document.clips}
        samples = self.blend.samples if self.blend is not None else ()
        return tuple(
            at_share(clips[one.clip], self.phase / TICK, one.mirrored) if one.clip in clips else NOTHING
            for one in samples
        )

    def x_of(self, value: float) -> float:
        """Where a value lies on the rail."""
        assert self.blend is not None
        axis = self.blend.axes[0]
        return 60 + (value - axis.min) / (axis.max - axis.min) * (self.width() - 120)

    def value_at(self, x: float) -> float:
        """The value at a place of the rail, kept in range."""
        assert self.blend is not None
        axis = self.blend.axes[0]
        value = axis.min + (x - 60) / max(1, self.width() - 120) * (axis.max - axis.min)
        return min(max(value, axis.min), axis.max)

    @property
    def rail_y(self) -> float:
        """Height of the rail, where the figures stand."""
        return self.height() * 0.7

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        area = QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5)
        painter.fillRect(area, theme.colour("leaf"))
        painter.setPen(paint.pen("edge"))
        painter.drawRect(area)
        if self.blend is None:
            painter.setPen(theme.colour("soft"))
            painter.drawText(area, Qt.AlignmentFlag.AlignCenter, "No blend space yet: make one with “New blend space”.")
            return
        self._zones(painter)
        self._axis(painter)
        for at, shown in enumerate(self._figures()):
            self._sample(painter, at, shown)
        self._needle(painter)

    def _zones(self, painter: QPainter) -> None:
        """The stretch in which each sample is picked."""
        assert self.blend is not None
        axis = self.blend.axes[0]
        cuts = [axis.min, *(border for border in borders(self.blend) if axis.min < border < axis.max), axis.max]
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
                wide = band(self.blend) / 2
                said = f"border at {low:g}" + (f" ± {wide:.3g}" if wide else "")
                painter.drawText(QRectF(left + 5, 17, 150, 16), Qt.AlignmentFlag.AlignLeft, said)
                if wide:
                    start, end = self.x_of(max(axis.min, low - wide)), self.x_of(min(axis.max, low + wide))
                    painter.fillRect(
                        QRectF(start, 36, end - start, self.rail_y - 36),
                        QBrush(theme.colour("faint"), Qt.BrushStyle.BDiagPattern),
                    )

    def _axis(self, painter: QPainter) -> None:
        assert self.blend is not None
        axis, y = self.blend.axes[0], self.rail_y
        painter.setPen(paint.pen("ink", 2))
        painter.drawLine(QPointF(self.x_of(axis.min), y), QPointF(self.x_of(axis.max), y))
        painter.setFont(font(12))
        span = axis.max - axis.min
        step = next(s for s in (0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500, 1e3, 1e4, 1e9) if span / s <= 12)
        value = axis.min
        while value <= axis.max + 1e-9:
            x = self.x_of(value)
            painter.setPen(paint.pen("soft"))
            painter.drawLine(QPointF(x, y), QPointF(x, y + 5))
            painter.setPen(theme.colour("soft"))
            painter.drawText(QRectF(x - 30, y + 7, 60, 16), Qt.AlignmentFlag.AlignCenter, f"{value:g}")
            value += step
        painter.drawText(
            QRectF(self.width() - 330, self.height() - 24, 310, 18),
            Qt.AlignmentFlag.AlignRight,
            f"{axis.parameter}{' in ' + self.unit if self.unit else ''} →",
        )
        if self.now is not None:
            x = self.x_of(min(max(self.now, axis.min), axis.max))
            painter.setPen(paint.pen("mark", 2))
            painter.drawLine(QPointF(x, y - 4), QPointF(x, y + 26))
            painter.setPen(theme.colour("mark"))
            painter.drawText(QRectF(x - 50, y + 26, 100, 16), Qt.AlignmentFlag.AlignCenter, f"now {self.now:.0f}")

    def _sample(self, painter: QPainter, at: int, shown: Drawable) -> None:
        assert self.blend is not None
        sample = self.blend.samples[at]
        x, y = self.x_of(sample.at[0]), self.rail_y
        picked = self.picked == at
        size = paint.room_of(self.session.art, shown)
        if size is not None:
            scale = paint.whole_scale((1.0, size[1]), 2.0, y - 40)
            paint.figure(painter, self.session.art, shown, QPointF(x, y), scale, 1.0 if picked else 0.5)
        chosen = at == self.chosen
        painter.setPen(paint.pen("ink", 1.5))
        painter.setBrush(theme.colour("chosen" if chosen else "leaf"))
        painter.drawEllipse(QPointF(x, y), 7, 7)
        painter.setFont(font(13, MEDIUM))
        painter.setPen(theme.colour("ink"))
        painter.drawText(
            QRectF(x - 70, y + 44, 140, 18), Qt.AlignmentFlag.AlignCenter, f"{sample.clip} at {sample.at[0]:g}"
        )
        share = weights(self.blend, self.probe)[at]
        painter.setFont(font(12))
        painter.setPen(theme.colour("soft"))
        said = f"{share:.0%} of a mix" + (", picked" if picked else "")
        painter.drawText(QRectF(x - 70, y + 61, 140, 17), Qt.AlignmentFlag.AlignCenter, said)

    def _needle(self, painter: QPainter) -> None:
        x = self.x_of(self.probe)
        painter.setPen(paint.pen("chosen", 2))
        painter.drawLine(QPointF(x, 24), QPointF(x, self.rail_y))
        painter.setBrush(theme.colour("chosen"))
        painter.drawPolygon([QPointF(x - 7, 10), QPointF(x + 7, 10), QPointF(x, 25)])

    def _sample_at(self, where: QPointF) -> int | None:
        if self.blend is None or where.y() < self.rail_y - 12:
            return None
        near = [
            (abs(self.x_of(sample.at[0]) - where.x()), at)
            for at, sample in enumerate(self.blend.samples)
            if abs(self.x_of(sample.at[0]) - where.x()) < 40
        ]
        return min(near)[1] if near else None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self.blend is None:
            return
        sample = self._sample_at(event.position())
        if sample is not None:
            self._drag = "sample"
            self.chosen = sample
            self.chose.emit(sample)
        else:
            self._drag = "probe"
            self.probed.emit(self.value_at(event.position().x()))
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self.blend is None or not self._drag:
            return
        value = self.value_at(event.position().x())
        if self._drag == "sample":
            self.dragged.emit(self.chosen, self._caught(value))
        else:
            self.probed.emit(value)

    def _caught(self, value: float) -> float:
        """A place for a sample: on a ruling that is near, else a round number."""
        assert self.blend is not None
        axis = self.blend.axes[0]
        ruling = axis.min + round((value - axis.min) / axis.ruling) * axis.ruling
        if abs(self.x_of(ruling) - self.x_of(value)) <= CATCH:
            return float(ruling)
        return float(round(value, 0 if abs(value) >= 10 else 1))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._drag == "sample":
            self.session.history.end_merge()
        self._drag = ""

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1.0, Qt.Key.Key_Right: 1.0}.get(Qt.Key(event.key()), 0.0)
        if self.blend is None or not self.blend.samples:
            super().keyPressEvent(event)
        elif step:
            if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
                step *= 10
            self.dragged.emit(self.chosen, self.blend.samples[self.chosen].at[0] + step)
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.removed.emit(self.chosen)
        else:
            super().keyPressEvent(event)
