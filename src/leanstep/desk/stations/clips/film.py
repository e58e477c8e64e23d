"""The film: cels whose widths are their durations, standing on the ground line, under one playhead."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from leanstep.core.character.model import Clip
from leanstep.core.clips.timing import TICK, timing
from leanstep.core.rehearsal.drawable import of_cel
from leanstep.desk import paint
from leanstep.desk.session import Session
from leanstep.desk.theme import font, theme

SLOT = 44.0
BAND = 30.0
GRIP = 5.0


class Film(QWidget):
    """Click chooses a cel, dragging an edge changes how long it is shown, dragging the ruler moves the playhead."""

    chose = Signal(int)
    stretched = Signal(int, float)
    moved = Signal(int, int)
    removed = Signal(int)
    scrubbed = Signal(int)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.clip: Clip | None = None
        self.chosen = 0
        self.playhead = 0
        self._drag: tuple[str, int, float, float] | None = None
        self.setMinimumHeight(150)
        self.setMaximumHeight(230)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Film")
        self.setToolTip(
            "Widths are durations. Click: choose; drag an edge: longer or shorter; ←/→: choose, Shift+←/→: move, "
            "+/−: one tick more or less, Delete: take out"
        )

    def sizeHint(self) -> QSize:
        return QSize(600, 190)

    def show_clip(self, clip: Clip | None) -> None:
        """Show a clip."""
        self.clip = clip
        self.chosen = max(0, min(self.chosen, len(clip.cels) - 1)) if clip else 0
        self.update()

    def show_playhead(self, playhead: int) -> None:
        """Move the playhead (1/65536 tick)."""
        self.playhead = playhead
        self.update()

    def _per_tick(self) -> float:
        assert self.clip is not None
        total = sum(cel.ticks for cel in self.clip.cels)
        return (self.width() - 20) / max(total, 1.0)

    def _edges(self) -> list[float]:
        """x of every cel's left edge, and of the film's end."""
        edges = [10.0]
        for cel in self.clip.cels if self.clip else ():
            edges.append(edges[-1] + cel.ticks * self._per_tick())
        return edges

    def band(self, cel: int) -> QRectF:
        """Where a cel's time is drawn."""
        edges = self._edges()
        return QRectF(edges[cel], self.height() - BAND - 16, edges[cel + 1] - edges[cel], BAND)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("leaf"))
        if self.clip is None or not self.clip.cels:
            painter.setPen(theme.colour("soft"))
            text = "No cels yet: choose frames in Sheets, or add one here." if self.clip else "Make a clip first."
            painter.drawText(QRectF(self.rect()), Qt.AlignmentFlag.AlignCenter, text)
            return
        ground = self.height() - BAND - 16 - 14.0
        painter.setPen(paint.pen("ink"))
        painter.drawLine(QPointF(10, ground), QPointF(self.width() - 10, ground))
        self._pictures(painter, ground)
        self._bands(painter)
        self._ruler(painter)
        self._names(painter)
        if self.hasFocus():
            painter.setPen(paint.pen("chosen"))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))

    def _pictures(self, painter: QPainter, ground: float) -> None:
        """Every cel's picture above its time; where there is no room pictures move aside and hang on leader lines."""
        assert self.clip is not None
        count = len(self.clip.cels)
        slot = min(SLOT, (self.width() - 20) / count)
        centres = [self.band(at).center().x() for at in range(count)]
        places: list[float] = []
        for at, centre in enumerate(centres):
            latest = self.width() - 10 - slot / 2 - slot * (count - 1 - at)
            earliest = places[-1] + slot if places else 10 + slot / 2
            places.append(max(earliest, min(centre, latest)))
        for at, cel in enumerate(self.clip.cels):
            painter.setPen(paint.pen("faint"))
            painter.drawLine(QPointF(places[at], ground + 1), QPointF(centres[at], self.band(at).top()))
            shown = of_cel(self.clip, cel)
            room = paint.room_of(self.session.art, shown)
            if room is None:
                painter.setPen(paint.pen("error"))
                painter.drawText(QRectF(places[at] - 20, ground - 30, 40, 20), Qt.AlignmentFlag.AlignCenter, "?")
                continue
            scale = min(1.0, (ground - 6) / room[1])
            paint.figure(painter, self.session.art, shown, QPointF(places[at], ground), scale)

    def _bands(self, painter: QPainter) -> None:
        assert self.clip is not None
        for at in range(len(self.clip.cels)):
            box = self.band(at)
            painter.fillRect(box, self._paper(at))
            painter.setPen(paint.pen("leaf" if at == self.chosen else "edge"))
            painter.drawLine(box.topRight(), box.bottomRight())

    def _paper(self, at: int) -> QColor:
        """What a cel's name is written on."""
        return theme.colour("chosen" if at == self.chosen else "checker")

    def _names(self, painter: QPainter) -> None:
        """Every cel's name, as long as there is room, with the playhead behind it."""
        assert self.clip is not None
        painter.setFont(font(11))
        for at, cel in enumerate(self.clip.cels):
            box = self.band(at)
            texts = (f"frame {cel.frame} · {cel.ticks:g}", f"{cel.frame} · {cel.ticks:g}", f"{cel.frame}")
            for text in texts:
                width = painter.fontMetrics().horizontalAdvance(text)
                if width < box.width() - 4:
                    written = QRectF(0, 0, width + 4, painter.fontMetrics().height())
                    written.moveCenter(box.center())
                    painter.fillRect(written, self._paper(at))
                    painter.setPen(theme.colour("on_chosen" if at == self.chosen else "ink"))
                    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)
                    break

    def _ruler(self, painter: QPainter) -> None:
        assert self.clip is not None
        y = self.height() - 15.0
        painter.setFont(font(11))
        per_tick = self._per_tick()
        step = next(step for step in (1, 5, 10, 20, 50, 100, 500, 1000, 10000) if step * per_tick > 34 or step == 10000)
        total = int(sum(cel.ticks for cel in self.clip.cels))
        for tick in range(0, total + 1, step):
            x = 10 + tick * per_tick
            painter.setPen(paint.pen("faint"))
            painter.drawLine(QPointF(x, y), QPointF(x, y + 3))
            if x < self.width() - 30:
                painter.setPen(theme.colour("soft"))
                painter.drawText(QRectF(x + 3, y, 60, 14), Qt.AlignmentFlag.AlignLeft, f"{tick}")
        made = timing(self.clip)
        cel = made.cel_at(self.playhead)
        if cel is not None:
            within = self.playhead % made.length if made.repeats else min(self.playhead, made.length)
            place = made.starts[max(i for i, start in enumerate(made.starts) if start <= within)]
            x = self._edges()[cel] + (within - place) / TICK * per_tick
            painter.setPen(paint.pen("ink", 2))
            painter.drawLine(QPointF(x, 4), QPointF(x, self.height() - 14))

    def _edge_at(self, where: QPointF) -> int | None:
        if self.clip is None or where.y() < self.height() - BAND - 18:
            return None
        edges = self._edges()
        return next((at for at in range(len(self.clip.cels)) if abs(edges[at + 1] - where.x()) <= GRIP), None)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self.clip is None or not self.clip.cels:
            return
        where = event.position()
        edge = self._edge_at(where)
        if edge is not None:
            self._drag = ("edge", edge, where.x(), self.clip.cels[edge].ticks)
            return
        if where.y() > self.height() - 16:
            self._drag = ("ruler", 0, 0.0, 0.0)
            self._scrub(where)
            return
        edges = self._edges()
        for at in range(len(self.clip.cels)):
            if edges[at] <= where.x() < edges[at + 1]:
                self.choose(at)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        where = event.position()
        if self._drag is None:
            over = self._edge_at(where) is not None
            self.setCursor(Qt.CursorShape.SizeHorCursor if over else Qt.CursorShape.ArrowCursor)
        elif self._drag[0] == "edge":
            ticks = self._drag[3] + (where.x() - self._drag[2]) / self._per_tick()
            self.stretched.emit(self._drag[1], max(1.0, round(ticks)))
        else:
            self._scrub(where)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._drag is not None and self._drag[0] == "edge":
            self.session.history.end_merge()
        self._drag = None

    def _scrub(self, where: QPointF) -> None:
        self.scrubbed.emit(max(0, int((where.x() - 10) / self._per_tick() * TICK)))

    def choose(self, cel: int) -> None:
        """Choose a cel."""
        self.chosen = cel
        self.chose.emit(cel)
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if self.clip is None or not self.clip.cels:
            super().keyPressEvent(event)
            return
        at, count = self.chosen, len(self.clip.cels)
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0)
        if step and event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            if 0 <= at + step < count:
                self.chosen = at + step
                self.moved.emit(at, at + step)
        elif step:
            self.choose(max(0, min(count - 1, at + step)))
        elif event.key() in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.stretched.emit(at, self.clip.cels[at].ticks + 1)
        elif event.key() == Qt.Key.Key_Minus:
            self.stretched.emit(at, max(1.0, self.clip.cels[at].ticks - 1))
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.removed.emit(at)
        else:
            super().keyPressEvent(event)
