"""The film: cels whose widths are their durations, standing on the ground line, under one playhead."""

from __future__ import annotations

import math

from PySide6.QtCore import QPoint, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QKeySequence, QMouseEvent, QPainter, QRegion, QResizeEvent
from PySide6.QtWidgets import QSizePolicy

from leanstep.core.character.clips import Clip
from leanstep.core.clips.timing import TICK, timing
from leanstep.core.rehearsal.drawable import of_cel, of_cel_number
from leanstep.desk import paint
from leanstep.desk.session import Session
from leanstep.desk.stations.clips.event_choice import LABELS, RIGHT
from leanstep.desk.theme import theme
from leanstep.desk.widgets.lanes import RULER, Block, Lane, Lanes
from leanstep.desk.widgets.several import Several

SLOT, LEAST_SLOT = 44.0, 6.0
"""Pixels that a picture has at most, and from which it can be told from its neighbours."""
BAND = 30.0
STEPS = tuple((float(ticks), "{tick:g}") for ticks in (1, 5, 10, 20, 50, 100, 500, 1000, 10_000, 100_000))


class Film(Lanes):
    """Click chooses a cel, with Ctrl or Shift several; dragging an edge changes how long one is shown, dragging the ruler moves
    the playhead.  ``chosen`` is the cel chosen last; ``longer``, ``moved`` (by one place) and ``removed`` are about all of them."""

    chose = Signal(int)
    stretched = Signal(int, float)
    longer = Signal(float)
    moved = Signal(int)
    removed = Signal()
    scrubbed = Signal(int)
    widened = Signal(int)
    left, right = LABELS, RIGHT

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.clip: Clip | None = None
        self._chosen = Several()
        self._drag: tuple[str, int, float, float] | None = None
        session.art.changed.connect(self.renew)
        self.setMinimumHeight(120)
        self.setMaximumHeight(190)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Film")
        self.setToolTip(
            "Widths are durations. Click: choose, with Ctrl or Shift several; drag an edge: longer or shorter; ←/→: choose, "
            "Shift+←/→: move, Ctrl+Shift+←/→: choose more, Ctrl+A: all, +/−: one tick more or less, Delete: take out"
        )

    def sizeHint(self) -> QSize:
        return QSize(600, 160)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.widened.emit(self.width())

    def show_clip(self, clip: Clip | None) -> None:
        """Show a clip."""
        self.clip = clip
        self._chosen.keep_within(len(clip.cels) if clip else 0)
        self.first, self.last = 0.0, max(1.0, sum(cel.ticks for cel in clip.cels)) if clip else 1.0
        self.renew()

    def show_time(self, playhead: int) -> None:
        """Move the playhead to where a clip's playhead (1/65536 tick) is on the film."""
        self.show_playhead(-1.0 if self.clip is None else place_on_film(self.clip, playhead))

    def cels(self) -> Lane:
        """The cels as a lane."""
        blocks, at, several = [], 0.0, self._chosen.all
        for number, cel in enumerate(self.clip.cels if self.clip else ()):
            texts = (f"frame {cel.frame} · {cel.ticks:g}", f"{cel.frame} · {cel.ticks:g}", f"{cel.frame}")
            chosen = number in several
            fill, ink = ("chosen", "on_chosen") if chosen else ("checker", "ink")
            blocks.append(Block(at, at + cel.ticks, texts, fill, ink))
            at += cel.ticks
        return Lane(self._times, BAND, "", tuple(blocks))

    def band(self, cel: int) -> QRectF:
        """Where a cel's time is drawn."""
        lane = self.cels()
        return self.box_of(lane, lane.blocks[cel])

    def kept_clear(self) -> tuple[float, float]:
        return (self._times, self._times + BAND)

    @property
    def _times(self) -> float:
        """How far down the times of the cels lie."""
        return self.height() - BAND - RULER

    def draw(self, painter: QPainter) -> None:
        if self.clip is None or not self.clip.cels:
            painter.setPen(theme.colour("soft"))
            text = "No cels yet: choose frames in Sheets, or add one here." if self.clip else "Make a clip first."
            painter.drawText(QRectF(self.rect()), Qt.AlignmentFlag.AlignCenter, text)
            return
        ground = self._times - 14.0
        painter.setPen(paint.pen("ink"))
        painter.drawLine(QPointF(self.left, ground), QPointF(self.width() - self.right, ground))
        self._pictures(painter, ground)
        self.draw_lane(painter, self.cels())
        self._way_back(painter)
        self.draw_ruler(painter, STEPS)

    def draw_over(self, painter: QPainter, where: QRegion) -> None:
        if self.hasFocus():
            painter.setPen(paint.pen("chosen"))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))

    def _pictures(self, painter: QPainter, ground: float) -> None:
        """Every cel's picture above its time; where there is no room pictures move aside and hang on leader lines."""
        assert self.clip is not None
        count = len(self.clip.cels)
        slot = min(SLOT, (self.width() - self.left - self.right) / count)
        lane = self.cels()
        bands = [self.box_of(lane, block) for block in lane.blocks]
        centres = [band.center().x() for band in bands]
        places: list[float] = []
        for at, centre in enumerate(centres):
            latest = self.width() - self.right - slot / 2 - slot * (count - 1 - at)
            earliest = places[-1] + slot if places else self.left + slot / 2
            places.append(max(earliest, min(centre, latest)))
        # of very many pictures only so many are drawn that they can be told apart
        every = max(1, math.ceil(LEAST_SLOT / slot))
        for at, cel in list(enumerate(self.clip.cels))[::every]:
            painter.setPen(paint.pen("faint"))
            painter.drawLine(QPointF(places[at], ground + 1), QPointF(centres[at], bands[at].top()))
            shown = of_cel(self.clip, cel)
            room = paint.room_of(self.session.art, shown)
            if room is None and self.clip.undrawn:
                painter.setPen(paint.pen("faint", 1.2))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                paint.figureless(painter, QPointF(places[at], ground), min(40.0, ground - 10))
                continue
            if room is None:
                painter.setPen(paint.pen("error"))
                painter.drawText(QRectF(places[at] - 20, ground - 30, 40, 20), Qt.AlignmentFlag.AlignCenter, "?")
                continue
            scale = min(1.0, (ground - 6) / room[1])
            foot = QPointF(places[at], ground - paint.below(self.session.art, shown) * scale)
            shown = of_cel_number(self.session.machine, self.clip, at)
            paint.figure(painter, self.session.art, shown, foot, scale)

    def _way_back(self, painter: QPainter) -> None:
        """Where a clip that repeats from a cel goes on: a line along its lap, with a hook down into that cel."""
        assert self.clip is not None
        back = self.clip.repeat_from
        if self.clip.loop != "repeat" or not 0 < back < len(self.clip.cels):
            return
        left, right = self.band(back).left() + 3, self.band(len(self.clip.cels) - 1).right() - 2
        top = self.band(back).top() - 5
        painter.setPen(paint.pen("soft", 1.5))
        painter.drawPolyline([QPointF(right, top + 5), QPointF(right, top), QPointF(left, top), QPointF(left, top + 5)])
        painter.drawPolyline([QPointF(left - 3, top + 2), QPointF(left, top + 5), QPointF(left + 3, top + 2)])

    def _edge_at(self, where: QPointF) -> int | None:
        """The cel whose end is at a place."""
        held = self.held_at([self.cels()], where) if self.clip is not None else None
        if held is None or held[2] == "all":
            return None
        return held[1] if held[2] == "end" else held[1] - 1 if held[1] else None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self.clip is None or not self.clip.cels:
            return
        where = event.position()
        edge = self._edge_at(where)
        if edge is not None:
            self._drag = ("edge", edge, where.x(), self.clip.cels[edge].ticks)
            return
        if where.y() > self.height() - RULER:
            self._drag = ("ruler", 0, 0.0, 0.0)
            self._scrub(where)
            return
        at = self.cel_at(where.toPoint())
        if at is not None:
            self._chosen.press(at, event.modifiers())
            self._chose()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        where = event.position()
        if self._drag is None:
            over = self._edge_at(where) is not None
            self.setCursor(Qt.CursorShape.SizeHorCursor if over else Qt.CursorShape.ArrowCursor)
        elif self._drag[0] == "edge":
            ticks = self._drag[3] + (where.x() - self._drag[2]) / self.per_tick()
            self.stretched.emit(self._drag[1], max(1.0, round(ticks)))
        else:
            self._scrub(where)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._drag is not None and self._drag[0] == "edge":
            self.session.end_merge()
        self._drag = None

    def _scrub(self, where: QPointF) -> None:
        self.scrubbed.emit(int(self.tick_at(where.x()) * TICK))

    def cel_at(self, where: QPoint) -> int | None:
        """The cel at a place."""
        tick = self.tick_at(where.x())
        blocks = self.cels().blocks
        return next((at for at, block in enumerate(blocks) if block.start <= tick < block.end), None)

    @property
    def chosen(self) -> int:
        """The cel chosen last."""
        return self._chosen.last

    @property
    def all(self) -> list[int]:
        """The chosen cels in their order; none where there are none."""
        return self._chosen.all if self.clip is not None and self.clip.cels else []

    def _chose(self) -> None:
        self.chose.emit(self.chosen)
        self.renew()

    def choose(self, *cels: int) -> None:
        """Choose cels; the last of them is the one whose numbers are shown."""
        self._chosen.choose(*cels)
        self._chose()

    def choose_all(self) -> None:
        """Choose all cels."""
        if self.clip is not None and self.clip.cels:
            self.choose(*reversed(range(len(self.clip.cels))))

    def start_over(self) -> None:
        """Another clip: its first cel is the chosen one."""
        self._chosen.choose(0)

    def shift(self, by: int) -> None:
        """The chosen cels have moved by so many places."""
        self._chosen.shift(by)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if self.clip is None or not self.clip.cels:
            super().keyPressEvent(event)
            return
        at, count = self.chosen, len(self.clip.cels)
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0)
        shift, control = (
            bool(event.modifiers() & one)
            for one in (Qt.KeyboardModifier.ShiftModifier, Qt.KeyboardModifier.ControlModifier)
        )
        to = max(0, min(count - 1, at + step))
        if step and shift and control:
            self._chosen.through(to)
            self._chose()
        elif step and shift:
            self.moved.emit(step)
        elif step:
            self.choose(to)
        elif event.matches(QKeySequence.StandardKey.SelectAll):
            self.choose_all()
        elif event.key() in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.longer.emit(1.0)
        elif event.key() == Qt.Key.Key_Minus:
            self.longer.emit(-1.0)
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.removed.emit()
        else:
            super().keyPressEvent(event)


def place_on_film(clip: Clip, playhead: int) -> float:
    """Where a playhead (1/65536 tick) is among the cels laid side by side, in ticks; -1 for a clip without cels."""
    made = timing(clip)
    cel = made.cel_at(playhead)
    if cel is None:
        return -1.0
    within = made.folded(playhead)
    start = made.starts[max(i for i, start in enumerate(made.starts) if start <= within)]
    return sum(one.ticks for one in clip.cels[:cel]) + (within - start) / TICK
