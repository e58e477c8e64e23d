"""The keys of the parts of a cut-out over time: a row a part, a peg a key."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter
from PySide6.QtWidgets import QSizePolicy

from leanstep.core.character.cut_outs import CutOut
from leanstep.desk import paint
from leanstep.desk.stations.clips.event_choice import LABELS, RIGHT
from leanstep.desk.theme import font, theme
from leanstep.desk.widgets.lanes import Lane, Lanes

HIGH = 18.0
"""Height of a part's row, in pixels."""
REACH = 7.0
"""Pixels within which a peg is taken hold of."""


class PartLane(Lanes):
    """``chose``: a part, and the tick of a key (below 0: none); ``moved``: the key of a part from one tick to another; ``dropped``: a
    drag is over; ``wanted``: a key of a part at a tick; ``removal``: of the key of the chosen part that lies at the moment shown."""

    chose = Signal(str, float)
    moved = Signal(str, float, float)
    dropped = Signal()
    wanted = Signal(str, float)
    removal = Signal()
    left, right = LABELS, RIGHT

    def __init__(self) -> None:
        super().__init__()
        self.names: list[str] = []
        self.keys: dict[str, list[float]] = {}
        self.chosen, self.at = "", 0.0
        self._held: tuple[str, float] | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Keys of parts")
        self.setToolTip(
            "A row is a part, a peg a key. Click: choose; drag: move in time; double-click: a key there; ←/→: the key before, after, "
            "↑/↓: another part, Shift+←/→: a tick earlier or later, Delete: take out"
        )

    def sizeHint(self) -> QSize:
        return QSize(600, int(HIGH * len(self.names)) + 4)

    def show_keys(self, cut_out: CutOut, names: list[str], chosen: str, at: float) -> None:
        """Show the keys of parts; ``at`` is the tick of the moment that is shown."""
        self.names, self.chosen, self.at = names, chosen, at
        self.first, self.last = 0.0, float(cut_out.ticks)
        self.keys = {track.part: [key.at for key in track.keys] for track in cut_out.tracks}
        for reach in cut_out.reaches:
            self.keys[reach.part] = sorted({*self.keys.get(reach.part, ()), *(key.at for key in reach.keys)})
        self.setFixedHeight(self.sizeHint().height())
        self.renew()

    def peg(self, name: str, at: float) -> QPointF:
        """Where the peg of a part's key is."""
        return QPointF(self.x_of(at), 2 + HIGH * (self.names.index(name) + 0.5))

    def row_of(self, name: str) -> float | None:
        """Where the middle of a part's row is; None where there is none."""
        return 2 + HIGH * (self.names.index(name) + 0.5) if name in self.names else None

    def draw(self, painter: QPainter) -> None:
        for row, name in enumerate(self.names):
            lane = Lane(2 + HIGH * row, HIGH, name, line=True)
            if name == self.chosen:
                fill = theme.colour("chosen")
                fill.setAlpha(40)
                painter.fillRect(QRectF(0, lane.top, self.width(), HIGH), fill)
            self.draw_lane(painter, lane)
        painter.setFont(font(11))
        for name in self.names:
            for at in self.keys.get(name, ()):
                if at <= self.last:
                    here = name == self.chosen and at == self.at
                    painter.setPen(paint.pen("chosen" if here else "ink", 2 if here else 1))
                    painter.setBrush(theme.colour("chosen" if name == self.chosen else "leaf"))
                    painter.drawEllipse(self.peg(name, at), 4.5, 4.5)

    # --- hands

    def _row_at(self, where: QPointF) -> str:
        row = int((where.y() - 2) // HIGH)
        return self.names[row] if 0 <= row < len(self.names) else ""

    def _key_at(self, where: QPointF) -> tuple[str, float] | None:
        name = self._row_at(where)
        near = min(self.keys.get(name, ()), key=lambda at: abs(self.x_of(at) - where.x()), default=None)
        return (name, near) if near is not None and abs(self.x_of(near) - where.x()) <= REACH else None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._held = self._key_at(event.position())
        name = self._row_at(event.position())
        if name:
            self.chose.emit(name, self._held[1] if self._held is not None else -1.0)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._held is None or not event.buttons():
            return
        name, before = self._held
        tick = min(float(round(self.tick_at(event.position().x()))), self.last)
        if tick != before:
            self._held = name, tick
            self.moved.emit(name, before, tick)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._held is not None:
            self._held = None
            self.dropped.emit()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        name = self._row_at(event.position())
        if name and self._key_at(event.position()) is None:
            self.wanted.emit(name, min(float(round(self.tick_at(event.position().x()))), self.last))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key, keys = Qt.Key(event.key()), sorted(self.keys.get(self.chosen, ()))
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(key, 0)
        rows = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(key, 0)
        if step and event.modifiers() & Qt.KeyboardModifier.ShiftModifier and self.at in keys:
            self.moved.emit(self.chosen, self.at, min(max(0.0, self.at + step), self.last))
            self.dropped.emit()
        elif step and keys:
            beyond = [at for at in keys if (at - self.at) * step > 0]
            if beyond:
                self.chose.emit(self.chosen, beyond[0] if step > 0 else beyond[-1])
        elif rows and self.chosen in self.names:
            at = min(max(0, self.names.index(self.chosen) + rows), len(self.names) - 1)
            self.chose.emit(self.names[at], -1.0)
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.removal.emit()
        else:
            super().keyPressEvent(event)
