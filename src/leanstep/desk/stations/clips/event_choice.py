"""Marks and spans under the film, on the same time axis: one row per name."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import (
    QHelpEvent,
    QKeyEvent,
    QKeySequence,
    QMouseEvent,
    QPainter,
    QPolygonF,
    QRegion,
    QResizeEvent,
)
from PySide6.QtWidgets import QSizePolicy, QToolTip

from leanstep.core.character.clips import Clip, Mark, Span
from leanstep.core.clips.events import caught
from leanstep.core.graph.effect_text import mark_words, span_words
from leanstep.desk import paint
from leanstep.desk.theme import font, theme
from leanstep.desk.widgets.basics import plain_tip
from leanstep.desk.widgets.lanes import Lanes

ROW = 21.0
LABELS = 84.0
RIGHT = 22.0
"""The margin right of film and events, in which a scroll bar has room."""
CATCH = 6.0
"""Pixels within which an edge of a cel catches an event."""
GRIP = 5.0
LIT = 220
"""Milliseconds for which a mark that fired stands out."""

Kind = Literal["mark", "span"]


@dataclass(frozen=True)
class Event:
    """A mark or span of the clip, by its place in the clip's list."""

    kind: Kind
    at: int


@dataclass
class _Drag:
    """What is dragged: ``part`` is ``all``, ``start`` or ``end``; ``new``: a new event of this name is drawn out."""

    part: str
    pressed: float
    tick: float
    new: tuple[Kind, str] | None = None
    by: float = 0.0


class Events(Lanes):
    """``chose``: other events are chosen; ``moved``: the chosen ones are to be moved by ticks, or (``start``, ``end``) one end of
    a span; ``made``: a new event (kind, name or empty, from, to); ``removal``, ``copied``, ``cut``, ``pasted`` (at a tick)."""

    chose = Signal()
    moved = Signal(str, float)
    made = Signal(str, str, float, float)
    removal = Signal()
    copied = Signal()
    pasted = Signal(float)
    left = LABELS

    def __init__(self) -> None:
        super().__init__()
        self._film = 0
        self.clip: Clip | None = None
        self.chosen: list[Event] = []
        self._drag: _Drag | None = None
        self._lit: list[Mark] = []
        self._dark = QTimer(self, singleShot=True, interval=LIT)
        self._dark.timeout.connect(self._out)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Events")
        self.setToolTip(
            "Marks and spans. Click an empty place: a mark; drag: a span. Drag to move, an end to lengthen; edges of cels and "
            "whole ticks catch, Alt lets go. Ctrl adds to the choice; arrow keys nudge; Ctrl+C, X, V; Delete"
        )

    def sizeHint(self) -> QSize:
        return QSize(600, int(self.minimumHeight()))

    # --- what is shown

    def stand_below(self, film: int) -> None:
        """Let ticks stand below those of a film of that width, also where a scroll bar takes from the width."""
        self._film = film
        self.right = RIGHT - max(0, film - self.width())
        self.renew()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.stand_below(self._film)

    @property
    def names(self) -> list[tuple[Kind, str]]:
        """The rows: marks, then spans, in the order in which they come."""
        if self.clip is None:
            return []
        marks: list[tuple[Kind, str]] = [("mark", one.name) for one in self.clip.marks]
        return list(dict.fromkeys([*marks, *(("span", one.name) for one in self.clip.spans)]))

    def show_clip(self, clip: Clip | None, first: float, last: float) -> None:
        """Show a clip's events from one tick to another."""
        if clip is None or self.clip is None or clip.name != self.clip.name:
            self.chosen = []
        self.clip, self._drag = clip, None
        counts = {"mark": len(clip.marks), "span": len(clip.spans)} if clip is not None else {"mark": 0, "span": 0}
        self.chosen = [one for one in self.chosen if one.at < counts[one.kind]]
        self.first, self.last = first, last
        self.setFixedHeight(int(ROW * (len(self.names) + 1) + 4))
        self.renew()

    def choose(self, events: list[Event]) -> None:
        """Choose some events."""
        self.chosen = events
        self.chose.emit()
        self.renew()

    def show_playhead(self, tick: float) -> None:
        """Move the playhead; marks it passes stand out for a moment."""
        if self.clip is not None and 0 <= self.playhead < tick < self.playhead + 30:
            passed = [mark for mark in self.clip.marks if self.playhead < mark.at <= tick]
            if passed:
                self._lit = passed
                self._dark.start()
                self.update()
        super().show_playhead(tick)

    def _out(self) -> None:
        self._lit = []
        self.update()

    def event_of(self, one: Event) -> Mark | Span:
        """The mark or span."""
        assert self.clip is not None
        return self.clip.marks[one.at] if one.kind == "mark" else self.clip.spans[one.at]

    def _events(self, row: int) -> list[Event]:
        assert self.clip is not None
        kind, name = self.names[row]
        parts: tuple[Mark | Span, ...] = self.clip.marks if kind == "mark" else self.clip.spans
        return [Event(kind, at) for at, one in enumerate(parts) if one.name == name]

    def times(self, one: Event) -> tuple[float, float]:
        """From when to when an event lasts, as it is dragged."""
        found = self.event_of(one)
        start, end = (found.at, found.at) if isinstance(found, Mark) else (found.start, found.end)
        if self._drag is not None and self._drag.new is None and one in self.chosen:
            start += self._drag.by if self._drag.part in ("all", "start") else 0.0
            end += self._drag.by if self._drag.part in ("all", "end") else 0.0
        return start, end

    def place(self, one: Event) -> QRectF:
        """Where an event is drawn."""
        found = self.event_of(one)
        row = self.names.index((one.kind, found.name))
        start, end = self.times(one)
        top = 2 + row * ROW
        if one.kind == "mark":
            return QRectF(self.x_of(start) - 6, top + 3, 12, ROW - 6)
        return QRectF(self.x_of(start), top + 3, max(3.0, self.x_of(end) - self.x_of(start)), ROW - 6)

    # --- drawing

    def draw(self, painter: QPainter) -> None:
        rows = self.names
        painter.setFont(font(12))
        for number in range(len(rows) + 1):
            top = 2 + number * ROW
            painter.setPen(paint.pen("rule"))
            painter.drawLine(QPointF(self.left, top + ROW / 2), QPointF(self.width() - self.right, top + ROW / 2))
            text = rows[number][1] if number < len(rows) else "new event"
            painter.setPen(theme.colour("ink" if number < len(rows) else "soft"))
            box = QRectF(2, top, self.left - 10, ROW)
            text = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(box.width()))
            painter.drawText(box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, text)
        if self.clip is not None:
            painter.setPen(paint.pen("rule"))
            for edge in self._edges():
                painter.drawLine(QPointF(self.x_of(edge), 2), QPointF(self.x_of(edge), 2 + len(rows) * ROW))

    def _edges(self) -> list[float]:
        at, found = 0.0, []
        for cel in self.clip.cels if self.clip is not None else ():
            at += cel.ticks
            found.append(at)
        return found

    def draw_over(self, painter: QPainter, where: QRegion) -> None:
        for row in range(len(self.names)):
            for one in self._events(row):
                if where.intersects(self.place(one).adjusted(-4, -4, 4, 4).toAlignedRect()):
                    self._event(painter, one)
        if self._drag is not None and self._drag.new is not None:
            row = next((at for at, one in enumerate(self.names) if one == self._drag.new), len(self.names))
            start, end = sorted((self._drag.tick, self._drag.tick + self._drag.by))
            box = QRectF(self.x_of(start), 5 + row * ROW, max(3.0, self.x_of(end) - self.x_of(start)), ROW - 6)
            painter.setPen(paint.pen("mark", 1))
            painter.drawRect(box)
        if self.hasFocus():
            painter.setPen(paint.pen("chosen"))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))

    def _event(self, painter: QPainter, one: Event) -> None:
        box, found = self.place(one), self.event_of(one)
        fill = theme.colour("mark")
        if isinstance(found, Span):
            soft = theme.colour("mark")
            soft.setAlpha(70)
            painter.setBrush(soft)
            painter.setPen(paint.pen("mark", 1))
            painter.drawRoundedRect(box, 3, 3)
            painter.setFont(font(11))
            words = span_words(found)
            text = painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, int(box.width() - 8))
            painter.setPen(theme.colour("ink"))
            if len(text) > 2:
                flags = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
                painter.drawText(box.adjusted(4, 0, -2, 0), flags, text)
        else:
            lit = found in self._lit
            middle, half = box.center(), 7.5 if lit else 5.5
            shape = [QPointF(0, -half), QPointF(half, 0), QPointF(0, half), QPointF(-half, 0)]
            painter.setPen(paint.pen("ink" if lit else "mark", 1.5))
            painter.setBrush(fill if found.effects or found.says or lit else theme.colour("leaf"))
            painter.drawPolygon(QPolygonF([middle + point for point in shape]))
        if one in self.chosen:
            painter.setPen(paint.pen("chosen", 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(box.adjusted(-2, -2, 2, 2), 4, 4)
        painter.setBrush(Qt.BrushStyle.NoBrush)

    # --- hands

    def held(self, where: QPointF) -> tuple[Event, str] | None:
        """The event at a place, and which part of it."""
        for row in range(len(self.names)):
            for one in reversed(self._events(row)):
                box = self.place(one)
                if not box.adjusted(-GRIP, -2, GRIP, 2).contains(where):
                    continue
                if one.kind == "span" and abs(where.x() - box.right()) <= GRIP:
                    return one, "end"
                if one.kind == "span" and abs(where.x() - box.left()) <= GRIP and box.width() > 2 * GRIP:
                    return one, "start"
                if box.contains(where):
                    return one, "all"
        return None

    def _catch(self, tick: float, keys: Qt.KeyboardModifier) -> float:
        if self.clip is None or keys & Qt.KeyboardModifier.AltModifier:
            return max(0.0, round(tick * 4) / 4)
        return caught(tick, self.clip, CATCH / max(1e-9, self.per_tick()))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        where = event.position()
        if self.clip is None or event.button() != Qt.MouseButton.LeftButton:
            return
        held = self.held(where)
        if held is not None:
            one, part = held
            if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
                self.choose([*self.chosen, one] if one not in self.chosen else [x for x in self.chosen if x != one])
                return
            if one not in self.chosen or part != "all":
                self.choose([one])
            start, end = self.times(one)
            self._drag = _Drag(part, where.x(), end if part == "end" else start)
            return
        row = int((where.y() - 2) // ROW)
        if where.x() >= self.left - 2 and 0 <= row <= len(self.names):
            new = self.names[row] if row < len(self.names) else ("mark", "")
            self._drag = _Drag("new", where.x(), self._catch(self.tick_at(where.x()), event.modifiers()), new)
            self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        where = event.position()
        if self._drag is None:
            held = self.held(where) if self.clip is not None else None
            ends = held is not None and held[1] != "all"
            self.setCursor(Qt.CursorShape.SizeHorCursor if ends else Qt.CursorShape.ArrowCursor)
            return
        self._follow(self._drag, where.x(), event.modifiers())
        self.update()

    def _follow(self, drag: _Drag, x: float, keys: Qt.KeyboardModifier) -> None:
        tick = drag.tick + (x - drag.pressed) / max(1e-9, self.per_tick())
        drag.by = self._catch(tick, keys) - drag.tick if abs(x - drag.pressed) > 3 else 0.0

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        drag, self._drag = self._drag, None
        self.update()
        if drag is None:
            return
        self._follow(drag, event.position().x(), event.modifiers())
        if drag.new is not None:
            kind, name = drag.new
            start, end = sorted((drag.tick, drag.tick + drag.by))
            if not name:
                kind = "span" if end > start else "mark"
            if kind == "span" and end <= start:
                end = start + max(1.0, round((self.last - self.first) / 8))
            self.made.emit(kind, name, start, end)
        elif drag.by:
            self.moved.emit(drag.part, drag.by)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1.0, Qt.Key.Key_Right: 1.0}.get(Qt.Key(event.key()), 0.0)
        if step and self.chosen:
            keys = event.modifiers()
            if keys & Qt.KeyboardModifier.AltModifier:
                self.moved.emit("end", step)
            else:
                self.moved.emit("all", step * (5 if keys & Qt.KeyboardModifier.ShiftModifier else 1))
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and self.chosen:
            self.removal.emit()
        elif event.matches(QKeySequence.StandardKey.Copy):
            self.copied.emit()
        elif event.matches(QKeySequence.StandardKey.Cut):
            self.copied.emit()
            self.removal.emit()
        elif event.matches(QKeySequence.StandardKey.Paste):
            self.pasted.emit(max(0.0, self.playhead))
        elif event.matches(QKeySequence.StandardKey.SelectAll):
            self.choose([one for row in range(len(self.names)) for one in self._events(row)])
        elif event.key() == Qt.Key.Key_Insert:
            self.made.emit("mark", "", max(0.0, float(round(self.playhead))), 0.0)
        else:
            super().keyPressEvent(event)

    def event(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent) and self.clip is not None:
            held = self.held(QPointF(event.pos()))
            if held is not None:
                found = self.event_of(held[0])
                words = mark_words(found) if isinstance(found, Mark) else span_words(found)
                QToolTip.showText(
                    event.globalPos(), plain_tip(f"{found.name}: {words or 'does nothing by itself'}"), self
                )
                return True
        return super().event(event)
