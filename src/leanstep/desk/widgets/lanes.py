"""Lanes over one time axis: blocks with ends to drag, a ruler and a playhead.  The film and the timeline are made of it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPaintEvent, QPixmap, QRegion, QResizeEvent
from PySide6.QtWidgets import QWidget

from leanstep.desk import paint
from leanstep.desk.theme import font, theme

GRIP = 5.0
"""Pixels around the end of a block that take hold of it."""
RULER = 16.0
"""Height of the ruler, in pixels."""


@dataclass(frozen=True)
class Block:
    """A stretch of time, in ticks.  The longest of ``texts`` for which there is room is written on it; ``round``: with an
    outline and round corners; ``hatched``: as part of a flicker; ``edge``: a line marks its beginning."""

    start: float
    end: float
    texts: tuple[str, ...] = ()
    fill: str | QColor = "edge"
    ink: str = "ink"
    round: bool = False
    hatched: bool = False
    centred: bool = True


@dataclass(frozen=True)
class Lane:
    """One row: where it lies, what is written before it, and its blocks."""

    top: float
    height: float
    name: str = ""
    blocks: tuple[Block, ...] = ()
    line: bool = False


class Lanes(QWidget):
    """A time axis from tick ``first`` to ``last`` between two margins.

    Everything but the playhead is drawn once and kept until :meth:`renew`; moving the playhead draws two thin strips again.
    """

    left, right = 10.0, 10.0

    def __init__(self) -> None:
        super().__init__()
        self.first, self.last = 0.0, 1.0
        self.playhead = -1.0
        self._paper: QPixmap | None = None
        self._dressed: object = None
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)

    # --- the axis

    def per_tick(self) -> float:
        """Pixels a tick takes."""
        return (self.width() - self.left - self.right) / max(1e-9, self.last - self.first)

    def x_of(self, tick: float) -> float:
        """Where a tick begins."""
        return self.left + (tick - self.first) * self.per_tick()

    def tick_at(self, x: float) -> float:
        """The time at a place, in ticks; never before 0."""
        return max(0.0, self.first + (x - self.left) / max(1e-9, self.per_tick()))

    def box_of(self, lane: Lane, block: Block) -> QRectF:
        """Where a block is drawn."""
        left, right = self.x_of(block.start), self.x_of(block.end)
        return QRectF(left, lane.top, max(1.0, right - left), lane.height)

    # --- what is shown

    def renew(self) -> None:
        """Draw everything again."""
        self._paper = None
        self.update()

    def show_playhead(self, tick: float) -> None:
        """Move the playhead."""
        if tick != self.playhead:
            for place in (self.playhead, tick):
                self.update(int(self.x_of(place)) - 6, 0, 13, self.height())
            self.playhead = tick

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._paper = None

    def paintEvent(self, event: QPaintEvent) -> None:
        ratio = self.devicePixelRatioF()
        if self._paper is None or self._dressed != (theme.night, ratio):
            self._dressed = theme.night, ratio
            self._paper = paint.blank(self.size(), ratio, "leaf")
            with QPainter(self._paper) as painter:
                painter.setRenderHint(QPainter.RenderHint.Antialiasing)
                self.draw(painter)
        painter = QPainter(self)
        painter.drawPixmap(0, 0, self._paper)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._playhead(painter)
        self.draw_over(painter, event.region())

    def draw(self, painter: QPainter) -> None:
        """Draw everything but the playhead; a subclass does."""

    def draw_over(self, painter: QPainter, where: QRegion) -> None:
        """Draw what lies over the playhead, where it is to be drawn again."""

    def kept_clear(self) -> tuple[float, float]:
        """From where to where down the widget the playhead is left out, so that what is written there can be read."""
        return (5.0, self.height() - 6.0) if self.height() <= 2 * RULER else (0.0, 0.0)

    def _playhead(self, painter: QPainter) -> None:
        if not self.first <= self.playhead <= self.last:
            return
        place, (top, bottom) = round(self.x_of(self.playhead)), self.kept_clear()
        ink = theme.colour("ink")
        if bottom > top:
            painter.fillRect(place - 1, 2, 2, int(top) - 2, ink)
            for step in range(3):
                painter.fillRect(place - step - 1, int(bottom) + 2 * step, 2 * step + 2, 2, ink)
        else:
            painter.fillRect(place - 1, 2, 2, self.height() - int(RULER), ink)

    def draw_lane(self, painter: QPainter, lane: Lane) -> None:
        """Draw a row of blocks and its name."""
        if lane.name:
            painter.setPen(theme.colour("soft"))
            painter.setFont(font(12))
            box = QRectF(4, lane.top, self.left - 12, lane.height)
            name = painter.fontMetrics().elidedText(lane.name, Qt.TextElideMode.ElideRight, int(box.width()))
            painter.drawText(box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, name)
        if lane.line:
            middle = lane.top + lane.height / 2
            painter.setPen(paint.pen("rule"))
            painter.drawLine(QPointF(self.left, middle), QPointF(self.width() - self.right, middle))
        painter.save()
        painter.setClipRect(
            QRectF(self.left - 1, lane.top - 1, self.width() - self.left - self.right + 2, lane.height + 2)
        )
        for block in lane.blocks:
            self._block(painter, lane, block)
        painter.restore()

    def _block(self, painter: QPainter, lane: Lane, block: Block) -> None:
        box = self.box_of(lane, block)
        if box.right() < self.left or box.left() > self.width() - self.right:
            return
        fill = theme.colour(block.fill) if isinstance(block.fill, str) else block.fill
        if block.round:
            painter.setPen(paint.pen("ink"))
            painter.setBrush(fill)
            box = box.adjusted(0, 1, max(0.0, 3.0 - box.width()), -1)
            painter.drawRoundedRect(box, 3, 3)
        else:
            painter.fillRect(box, fill)
            if block.hatched:
                painter.fillRect(box, QBrush(theme.colour("error"), Qt.BrushStyle.BDiagPattern))
            painter.setPen(paint.pen("soft"))
            painter.drawLine(box.topLeft(), box.bottomLeft())
        painter.setFont(font(11))
        metrics = painter.fontMetrics()
        text = next((one for one in block.texts if one and metrics.horizontalAdvance(one) + 6 < box.width()), "")
        if text:
            painter.setPen(theme.colour(block.ink))
            across = Qt.AlignmentFlag.AlignHCenter if block.centred else Qt.AlignmentFlag.AlignLeft
            inset = box if block.centred else box.adjusted(4, 0, 0, 0)
            painter.drawText(inset, across | Qt.AlignmentFlag.AlignVCenter, text)

    def draw_ruler(self, painter: QPainter, steps: Iterable[tuple[float, str]], rate: float = 1.0) -> None:
        """Draw the ruler: ``steps`` are the ticks from one line to the next, with a pattern for what is written at a ``tick``
        or ``second`` (at ``rate`` ticks a second); the first for which there is room."""
        y = self.height() - RULER
        painter.setFont(font(11))
        per_tick = self.per_tick() or 1.0
        step, pattern = next(((ticks, text) for ticks, text in steps if ticks * per_tick > 40), (self.last, "{tick:g}"))
        for number in range(int(self.first // step), int(self.last // step) + 1) if step else ():
            at = number * step
            place = self.x_of(at)
            if place >= self.left - 1:
                painter.setPen(paint.pen("faint"))
                painter.drawLine(QPointF(place, y), QPointF(place, y + 4))
                if place < self.width() - 34:
                    painter.setPen(theme.colour("soft"))
                    text = pattern.format(tick=at, second=at / rate)
                    painter.drawText(QRectF(place + 3, y, 60, 14), Qt.AlignmentFlag.AlignLeft, text)

    # --- hands

    def held_at(self, lanes: Sequence[Lane], where: QPointF) -> tuple[int, int, str] | None:
        """The lane and block at a place, and which part of it: ``start``, ``end`` or ``all``."""
        for row, lane in enumerate(lanes):
            if not lane.top <= where.y() <= lane.top + lane.height:
                continue
            for number, block in enumerate(lane.blocks):
                left, right = self.x_of(block.start), self.x_of(block.end)
                if abs(where.x() - right) <= GRIP:
                    return row, number, "end"
                if abs(where.x() - left) <= GRIP and right - left > 2 * GRIP:
                    return row, number, "start"
                if left <= where.x() <= right:
                    return row, number, "all"
        return None
