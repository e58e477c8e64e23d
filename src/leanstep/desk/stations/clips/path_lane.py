"""What a clip travels and where its feet stand, over the film's time: pegs for the keys of its path, bars for contacts."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPolygonF
from PySide6.QtWidgets import QSizePolicy

from leanstep.core.character.clips import Clip
from leanstep.core.clips.timing import units
from leanstep.core.clips.travel import at, laid
from leanstep.desk import paint
from leanstep.desk.stations.clips.event_choice import LABELS, RIGHT
from leanstep.desk.theme import font, theme
from leanstep.desk.widgets.lanes import Block, Lane, Lanes

PEGS, FEET = 44.0, 22.0
"""Height of the path's row and of the row of contacts, in pixels."""
REACH = 8.0
"""Pixels within which a peg is taken hold of."""


class PathLane(Lanes):
    """``chose``: a key of the path or a contact, as (``key`` or ``contact``, its place); ``moved``: it is to be at other ticks, as
    (kind, place, start, end); ``wanted``: a key is to be made at a tick; ``removal``: of what is chosen."""

    chose = Signal(str, int)
    moved = Signal(str, int, float, float)
    dropped = Signal()
    wanted = Signal(float)
    removal = Signal()
    left, right = LABELS, RIGHT

    def __init__(self) -> None:
        super().__init__()
        self.clip: Clip | None = None
        self.chosen = ("key", 0)
        self._held: tuple[str, int, str, float] | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Path and feet")
        self.setToolTip(
            "A peg is a key of the path, a bar a foot on the ground. Click: choose; drag: move in time; double-click: a key there; "
            "←/→: choose, Shift+←/→: a tick earlier or later, Delete: take out"
        )

    def sizeHint(self) -> QSize:
        return QSize(600, int(self._high()))

    def _high(self) -> float:
        clip = self.clip
        if clip is None:
            return 0.0
        return (PEGS if clip.travel is not None else 0.0) + (FEET if clip.contacts else 0.0) + 2

    def show_clip(self, clip: Clip | None, first: float, last: float) -> None:
        """Show a clip over the film's time."""
        self.clip, self.first, self.last = clip, first, last
        self.setVisible(clip is not None and (clip.travel is not None or bool(clip.contacts)))
        kind, number = self.chosen
        count = 0 if clip is None else self._count(clip, kind)
        if not count and clip is not None:
            kind = "contact" if kind == "key" else "key"
            count = self._count(clip, kind)
        self.chosen = kind, max(0, min(number, count - 1))
        self.setFixedHeight(int(self._high()) or 1)
        self.renew()

    @staticmethod
    def _count(clip: Clip, kind: str) -> int:
        if kind == "contact":
            return len(clip.contacts)
        return len(clip.travel.keys) if clip.travel is not None else 0

    def peg(self, number: int) -> QPointF:
        """Where the head of a key's peg is."""
        assert self.clip is not None and self.clip.travel is not None
        return QPointF(self.x_of(self.clip.travel.keys[number].at), 8.0)

    def feet(self) -> Lane:
        """The contacts as a lane."""
        top = PEGS if self.clip is not None and self.clip.travel is not None else 0.0
        blocks = []
        for number, one in enumerate(self.clip.contacts if self.clip else ()):
            chosen = self.chosen == ("contact", number)
            fill, ink = ("chosen", "on_chosen") if chosen else ("checker", "ink")
            texts = (f"foot {one.x:g} → {one.to:g}", f"{one.x:g} → {one.to:g}")
            blocks.append(Block(one.start, one.end, texts, fill, ink, round=True))
        return Lane(top + 2, FEET - 4, "feet", tuple(blocks))

    def draw(self, painter: QPainter) -> None:
        clip = self.clip
        if clip is None:
            return
        if clip.travel is not None:
            self._path(painter, clip)
        if clip.contacts:
            self.draw_lane(painter, self.feet())

    def _path(self, painter: QPainter, clip: Clip) -> None:
        """How high the path is over time, with a peg for every key."""
        assert clip.travel is not None
        self.draw_lane(painter, Lane(0, PEGS - 20, "path"))
        painter.setFont(font(10))
        painter.setPen(theme.colour("soft"))
        painter.drawText(QRectF(0, 19, self.left - 8, 14), Qt.AlignmentFlag.AlignRight, "— ahead  ┄ up")
        rows = laid(clip.travel)
        ground, steps = PEGS - 6, 120
        ticks = [self.first + (self.last - self.first) * step / steps for step in range(steps + 1)]
        far = [at(rows, units(tick)) for tick in ticks]
        most = max((max(abs(x), abs(y)) for x, y in far), default=1.0) or 1.0
        for which, style in ((0, Qt.PenStyle.SolidLine), (1, Qt.PenStyle.DashLine)):
            if any(place[which] for place in far):
                line = [QPointF(self.x_of(tick), ground - place[which] / most * 18) for tick, place in zip(ticks, far)]
                pen = paint.pen("soft", 1.4)
                pen.setStyle(style)
                painter.setPen(pen)
                painter.drawPolyline(QPolygonF(line))
        painter.setFont(font(11))
        written = -1e9
        for number, key in enumerate(clip.travel.keys):
            head, chosen = self.peg(number), self.chosen == ("key", number)
            painter.setPen(paint.pen("ink", 2 if chosen else 1))
            painter.drawLine(head, QPointF(head.x(), ground))
            painter.setBrush(theme.colour("chosen" if chosen else "leaf"))
            painter.drawEllipse(head, 4.5, 4.5)
            text = f"{key.x:g}, {key.y:g}"
            width = painter.fontMetrics().horizontalAdvance(text)
            left = head.x() + 7 if head.x() + width + 10 < self.width() else head.x() - width - 8
            if left > written:
                painter.setPen(theme.colour("ink"))
                painter.drawText(QRectF(left, 1, width + 4, 14), Qt.AlignmentFlag.AlignLeft, text)
                written = left + width + 6

    # --- hands

    def _at(self, where: QPointF) -> tuple[str, int, str] | None:
        """What is at a place, and which part of it."""
        clip = self.clip
        if clip is None:
            return None
        if clip.travel is not None and where.y() < PEGS:
            near = [(abs(self.peg(at).x() - where.x()), at) for at in range(len(clip.travel.keys))]
            away, number = min(near, default=(1e9, 0))
            return ("key", number, "all") if away <= REACH else None
        held = self.held_at([self.feet()], where)
        return None if held is None else ("contact", held[1], held[2])

    def mousePressEvent(self, event: QMouseEvent) -> None:
        found = self._at(event.position())
        if found is not None:
            kind, number, part = found
            self.choose(kind, number)
            self._held = kind, number, part, self.tick_at(event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._held is None or self.clip is None:
            return
        kind, number, part, began = self._held
        tick = self.tick_at(event.position().x())
        if kind == "key":
            self.moved.emit(kind, number, round(tick), 0.0)
            return
        one, by = self.clip.contacts[number], round(tick - began)
        if part == "start":
            self.moved.emit(kind, number, round(tick), one.end)
        elif part == "end":
            self.moved.emit(kind, number, one.start, round(tick))
        elif by:
            self._held = kind, number, part, began + by
            self.moved.emit(kind, number, one.start + by, one.end + by)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._held is not None:
            self._held = None
            self.dropped.emit()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        if self.clip is not None and self.clip.travel is not None and event.position().y() < PEGS:
            self._held = None
            self.wanted.emit(round(self.tick_at(event.position().x())))

    def choose(self, kind: str, number: int) -> None:
        """Choose a key or a contact."""
        self.chosen = kind, number
        self.renew()
        self.chose.emit(kind, number)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        clip, (kind, number) = self.clip, self.chosen
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0)
        if clip is None or not self._count(clip, kind):
            super().keyPressEvent(event)
        elif step and event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            if kind == "key" and clip.travel is not None:
                self.moved.emit(kind, number, clip.travel.keys[number].at + step, 0.0)
            else:
                one = clip.contacts[number]
                self.moved.emit(kind, number, one.start + step, one.end + step)
            self.dropped.emit()
        elif step:
            self.choose(kind, max(0, min(self._count(clip, kind) - 1, number + step)))
        elif event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            other = "contact" if kind == "key" else "key"
            if self._count(clip, other):
                self.choose(other, 0)
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.removal.emit()
        else:
            super().keyPressEvent(event)
