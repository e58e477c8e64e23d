"""The phases of a clip under the film, on the same time axis: one band of startup, active and recovery."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QBrush, QKeyEvent, QMouseEvent, QPainter, QRegion
from PySide6.QtWidgets import QSizePolicy

from leanstep.core.character.clips import Clip
from leanstep.core.clips.events import caught
from leanstep.core.clips.phases import Stretch, shown_phases
from leanstep.core.clips.timing import TICK
from leanstep.desk import paint
from leanstep.desk.stations.clips.event_choice import CATCH, GRIP, LABELS, RIGHT
from leanstep.desk.theme import font, theme
from leanstep.desk.widgets.lanes import Lanes

HIGH = 22
"""Height of the band, in pixels."""
MOVED = 3.0
"""Pixels after which a press is a drag."""
PATTERNS = {"startup": Qt.BrushStyle.FDiagPattern, "recovery": Qt.BrushStyle.Dense6Pattern}
EMPTY = "drag here over the ticks on which this can hit"


@dataclass
class _Drag:
    """What is dragged: one end or ``all`` of a written phase, or (-1) a new one is drawn out from ``tick``."""

    written: int
    part: str
    pressed: float
    tick: float
    to: float


class PhaseBand(Lanes):
    """``chose``: another stretch is chosen; ``made``: an active phase from tick to tick; ``moved``: a written phase (its place) is to
    lie from tick to tick; ``removal``: of the chosen one."""

    chose = Signal()
    made = Signal(float, float)
    moved = Signal(int, float, float)
    dropped = Signal()
    removal = Signal()
    left, right = LABELS, RIGHT

    def __init__(self) -> None:
        super().__init__()
        self._film = 0
        self.clip: Clip | None = None
        self.stretches: list[Stretch] = []
        self.chosen = -1
        self._drag: _Drag | None = None
        self.setFixedHeight(HIGH)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Phases")
        self.setToolTip(
            "When the action starts up, can hit, and recovers. Drag over an empty place: it can hit there; drag an end, or all of it; "
            "edges of cels and whole ticks catch, Alt lets go. ←/→ move by a tick, Alt+←/→ the end; Insert: it can hit from the "
            "playhead on; Delete"
        )

    def sizeHint(self) -> QSize:
        return QSize(600, HIGH)

    # --- what is shown

    def stand_below(self, film: int) -> None:
        """Let ticks stand below those of a film of that width."""
        self._film = film
        self.right = RIGHT - max(0, film - self.width())
        self.renew()

    def show_clip(self, clip: Clip | None, first: float, last: float) -> None:
        """Show a clip's phases from one tick to another; the chosen one stays chosen where it is still there."""
        before = self.stretch
        if clip is None or self.clip is None or clip.name != self.clip.name:
            before = None
        self.clip, self.first, self.last, self._drag = clip, first, last, None
        self.stretches = shown_phases(clip) if clip is not None else []
        self.chosen = -1
        if before is not None:
            kind = before.written < 0

            def far(at: int) -> tuple[int, bool]:
                one = self.stretches[at]
                return abs(one.start - before.start), (one.written < 0) != kind

            self.chosen = min(range(len(self.stretches)), key=far, default=-1)
        self.renew()

    @property
    def stretch(self) -> Stretch | None:
        """The chosen stretch."""
        return self.stretches[self.chosen] if 0 <= self.chosen < len(self.stretches) else None

    def choose(self, at: int) -> None:
        """Choose a stretch (-1: none)."""
        self.chosen = at
        self.chose.emit()
        self.renew()

    def box(self, one: Stretch) -> QRectF:
        """Where a stretch is drawn."""
        start, end = self.x_of(one.start / TICK), self.x_of(one.end / TICK)
        return QRectF(start, 2, max(2.0, end - start), HIGH - 4)

    # --- drawing

    def draw(self, painter: QPainter) -> None:
        painter.setFont(font(12))
        painter.setPen(theme.colour("ink" if self.stretches else "soft"))
        flags = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        painter.drawText(QRectF(2, 0, self.left - 10, HIGH), flags, "phases")
        painter.setPen(paint.pen("rule"))
        painter.drawLine(QPointF(self.left, HIGH / 2), QPointF(self.width() - self.right, HIGH / 2))
        if not self.stretches and self.clip is not None:
            painter.setFont(font(12))
            painter.setPen(theme.colour("soft"))
            box = QRectF(self.left + 4, 0, self.width() - self.left - self.right, HIGH)
            width = painter.fontMetrics().horizontalAdvance(EMPTY) + 8
            painter.fillRect(QRectF(box.left() - 2, 2, width, HIGH - 4), theme.colour("leaf"))
            painter.drawText(box, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, EMPTY)
        for one in self.stretches:
            self._stretch(painter, one)

    def _stretch(self, painter: QPainter, one: Stretch) -> None:
        box, active = self.box(one), one.kind == "active"
        painter.fillRect(box, theme.colour("ink" if active else "leaf"))
        if not active:
            painter.fillRect(box, QBrush(theme.colour("edge"), PATTERNS[one.kind]))
        painter.setPen(paint.pen("ink" if active or one.written >= 0 else "faint"))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(box.adjusted(0.5, 0.5, -0.5, -0.5))
        painter.setFont(font(12))
        metrics, ticks = painter.fontMetrics(), f"{(one.end - one.start) / TICK:.4g}"
        again = ", again" if one.again else ""
        words = (f"{one.kind} {ticks}{again}", f"{one.kind} {ticks}", ticks)
        text = next((text for text in words if metrics.horizontalAdvance(text) + 8 < box.width()), "")
        if text:
            if not active:
                wide = metrics.horizontalAdvance(text) + 6
                painter.fillRect(QRectF(box.center().x() - wide / 2, 3.5, wide, HIGH - 7), theme.colour("leaf"))
            painter.setPen(theme.colour("leaf" if active else "ink"))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def draw_over(self, painter: QPainter, where: QRegion) -> None:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if self.stretch is not None:
            box = self.box(self.stretch)
            painter.setPen(paint.pen("chosen", 2))
            painter.drawRect(box.adjusted(-1, -1, 1, 1))
            painter.setPen(paint.pen("leaf", 1.5))
            painter.drawRect(box.adjusted(1.5, 1.5, -1.5, -1.5))
        drag = self._drag
        if drag is not None and drag.written < 0 and drag.to != drag.tick:
            low, high = sorted((drag.tick, drag.to))
            painter.setPen(paint.pen("ink", 2))
            painter.drawRect(QRectF(self.x_of(low), 2, self.x_of(high) - self.x_of(low), HIGH - 4))
        if self.hasFocus():
            painter.setPen(paint.pen("chosen"))
            painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))

    # --- hands

    def held(self, where: QPointF) -> tuple[int, str] | None:
        """The stretch at a place, and which part of it; only what is written has ends."""
        for at, one in enumerate(self.stretches):
            box = self.box(one)
            if one.written >= 0:
                if abs(where.x() - box.right()) <= GRIP:
                    return at, "end"
                if abs(where.x() - box.left()) <= GRIP and box.width() > 2 * GRIP:
                    return at, "start"
        for at, one in enumerate(self.stretches):
            if self.box(one).left() <= where.x() <= self.box(one).right():
                return at, "all"
        return None

    def _catch(self, x: float, keys: Qt.KeyboardModifier) -> float:
        tick = self.tick_at(x)
        if self.clip is None or keys & Qt.KeyboardModifier.AltModifier:
            return round(tick * 4) / 4
        return caught(tick, self.clip, CATCH / max(1e-9, self.per_tick()))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        where = event.position()
        if self.clip is None or event.button() != Qt.MouseButton.LeftButton or where.x() < self.left - GRIP:
            return
        held, tick = self.held(where), self._catch(where.x(), event.modifiers())
        self.choose(held[0] if held is not None else -1)
        written = self.stretches[held[0]].written if held is not None else -1
        part = held[1] if held is not None and written >= 0 else "new"
        self._drag = _Drag(written, part, where.x(), tick, tick)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        where, drag = event.position(), self._drag
        if drag is None:
            held = self.held(where)
            ends = held is not None and held[1] != "all"
            self.setCursor(Qt.CursorShape.SizeHorCursor if ends else Qt.CursorShape.ArrowCursor)
        elif abs(where.x() - drag.pressed) > MOVED or drag.to != drag.tick:
            drag.to = self._catch(where.x(), event.modifiers())
            if drag.written >= 0:
                self._shift(drag)
            self.update()

    def _shift(self, drag: _Drag) -> None:
        """Take a written phase, or one end of it, along; the drag goes on from what comes of it."""
        assert self.clip is not None
        one, by = self.clip.phases[drag.written], drag.to - drag.tick
        if not by:
            return
        start = drag.to if drag.part == "start" else one.start + by if drag.part == "all" else one.start
        end = drag.to if drag.part == "end" else one.end + by if drag.part == "all" else one.end
        if start >= 0 and start < end:
            self.moved.emit(drag.written, start, end)
            self._drag = _Drag(drag.written, drag.part, drag.pressed, drag.to, drag.to)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        drag, self._drag = self._drag, None
        if drag is None:
            return
        if drag.written >= 0:
            self.dropped.emit()
        elif drag.to != drag.tick:
            self.made.emit(*sorted((drag.tick, drag.to)))
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1.0, Qt.Key.Key_Right: 1.0}.get(Qt.Key(event.key()), 0.0)
        keys, one = event.modifiers(), self.stretch
        if step and one is not None and one.written >= 0 and self.clip is not None:
            phase, step = self.clip.phases[one.written], step * (5 if keys & Qt.KeyboardModifier.ShiftModifier else 1)
            start = phase.start + (0 if keys & Qt.KeyboardModifier.AltModifier else step)
            if 0 <= start < phase.end + step:
                self.moved.emit(one.written, start, phase.end + step)
        elif event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and self.stretches:
            on = 1 if event.key() == Qt.Key.Key_Down else -1
            self.choose((self.chosen + on) % len(self.stretches))
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.removal.emit()
        elif event.key() == Qt.Key.Key_Insert:
            start = float(round(max(0.0, self.playhead)))
            self.made.emit(start, start + 2.0)
        else:
            super().keyPressEvent(event)
