"""The large picture with the boxes of the action on it: drawn, moved and sized by hand."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter

from leanstep.core.character.action_boxes import Rect, boxes_on, placed, unplaced
from leanstep.core.character.clips import BoxKind, Cel
from leanstep.desk import paint
from leanstep.desk.session import Session
from leanstep.desk.stations.clips.preview import Preview
from leanstep.desk.theme import font, theme

GRIP = 6.0
"""Pixels about an edge that take hold of it."""
MOVED = 3.0
"""Pixels after which a press is a drag."""
STEPS = {
    Qt.Key.Key_Left: (-1.0, 0.0),
    Qt.Key.Key_Right: (1.0, 0.0),
    Qt.Key.Key_Up: (0.0, 1.0),
    Qt.Key.Key_Down: (0.0, -1.0),
}
WORDS: dict[BoxKind, str] = {"strike": "hits", "vulnerable": "can be hit", "guard": "guards"}
"""What boxes do, behind their names."""


@dataclass
class _Drag:
    """What is dragged: the edges (of ``left``, ``bottom``, ``right``, ``top``) of a box, or (-1) a new one is drawn out."""

    at: int
    edges: frozenset[str]
    pressed: QPointF
    begun: Rect
    moved: bool = False


class BoxedPreview(Preview):
    """``drew``: a new box (where, in pixels of the image); ``changed``: a box (its place) lies elsewhere on the cel; ``picked``
    another one; ``dropped``: a drag is over; ``removal`` of the chosen one; ``held``: time is to stand."""

    drew = Signal(object)
    changed = Signal(int, object)
    picked = Signal(int)
    dropped = Signal()
    removal = Signal()
    held = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.editing = False
        self.box_chosen = -1
        self.new_kind: BoxKind = "strike"
        self._drag: _Drag | None = None
        self._new: QRectF | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)

    def edit(self, on: bool) -> None:
        """Whether hands change boxes."""
        self.editing, self._drag, self._new = on, None, None
        self.setToolTip(
            "Drag over an empty place: a new box; drag a box, or an edge of it. Arrows move by a pixel, Shift ten, Alt sizes it; "
            "Page Up and Page Down choose, Insert makes one, Delete takes it off this cel"
            if on
            else "Plays at true speed"
        )
        self.update()

    # --- where things are

    def _shown_cel(self) -> tuple[int, Cel] | None:
        """The cel that is shown, with its number; None where no box can be drawn on it."""
        at = self._seen()
        return None if at is None or self.clip is None else (at, self.clip.cels[at])

    def _measure(self, cel: Cel) -> tuple[QPointF, float, tuple[float, float]]:
        """Where the foot of a cel stands, how much it is enlarged, and the scale of its sheet."""
        assert self.clip is not None
        area, ground = self._area()
        scale = self._scale(area, ground, cel) or 1.0
        return self._place(area, ground, cel, scale), scale, self.session.art.scale(self.clip.sheet_of(cel))

    def on_screen(self, rect: Rect, cel: Cel) -> QRectF:
        """Where a box of a cel is drawn."""
        foot, scale, by = self._measure(cel)
        wide = rect[0] * by[0], rect[1] * by[1], rect[2] * by[0], rect[3] * by[1]
        left, bottom, width, height = (value * scale for value in placed(wide, cel))
        return QRectF(foot.x() + left, foot.y() - bottom - height, width, height)

    def in_image(self, box: QRectF, cel: Cel) -> Rect:
        """The box of a cel, in whole pixels of its image, from where it is drawn."""
        foot, scale, by = self._measure(cel)
        box = box.normalized()
        shown = (box.left() - foot.x(), foot.y() - box.bottom(), box.width(), box.height())
        left, bottom, width, height = unplaced(
            (shown[0] / scale, shown[1] / scale, shown[2] / scale, shown[3] / scale), cel
        )
        return (
            float(round(left / by[0])),
            float(round(bottom / by[1])),
            max(1.0, float(round(width / by[0]))),
            max(1.0, float(round(height / by[1]))),
        )

    # --- drawing

    def draw_over(self, painter: QPainter, at: int) -> None:
        super().draw_over(painter, at)
        clip, (area, _) = self.clip, self._area()
        if clip is None:
            return
        count = len(clip.cels)
        for step in (-1, 1) if self.onion and count > 1 else ():
            other = (at + step) % count
            for number, rect in boxes_on(clip, other):
                painter.setOpacity(0.35)
                paint.action_box(painter, clip.boxes[number].kind, self.on_screen(rect, clip.cels[other]))
        painter.setOpacity(1.0)
        for number, rect in boxes_on(clip, at):
            paint.action_box(painter, clip.boxes[number].kind, self.on_screen(rect, clip.cels[at]))
            if self.editing and number == self.box_chosen:
                self._handles(painter, self.on_screen(rect, clip.cels[at]))
        self._legend(painter, area, at)
        if self._new is not None:
            painter.setPen(paint.pen("chosen", 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self._new)

    def _legend(self, painter: QPainter, area: QRectF, at: int) -> None:
        """What each box on a cel is, in a corner where it covers no figure."""
        assert self.clip is not None
        painter.setFont(font(12))
        for line, (number, _) in enumerate(boxes_on(self.clip, at)):
            one, top = self.clip.boxes[number], area.top() + 6 + line * 18
            text = f"{one.name} {WORDS[one.kind]}"
            wide = painter.fontMetrics().horizontalAdvance(text) + 34.0
            painter.fillRect(QRectF(area.left() + 4, top, wide, 18), theme.colour("leaf"))
            paint.action_box(painter, one.kind, QRectF(area.left() + 8, top + 3, 18, 12))
            painter.setPen(theme.colour("ink"))
            where = QRectF(area.left() + 32, top, wide, 18)
            painter.drawText(where, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, text)
            if self.editing and number == self.box_chosen:
                painter.setPen(paint.pen("chosen", 1.5))
                painter.drawRect(QRectF(area.left() + 4, top, wide, 18))

    def _handles(self, painter: QPainter, box: QRectF) -> None:
        painter.setPen(paint.pen("chosen", 1))
        painter.setBrush(theme.colour("leaf"))
        middle = box.center()
        for x in (box.left(), middle.x(), box.right()):
            for y in (box.top(), middle.y(), box.bottom()):
                if (x, y) != (middle.x(), middle.y()):
                    painter.drawRect(QRectF(x - 3, y - 3, 6, 6))
        painter.setBrush(Qt.BrushStyle.NoBrush)

    # --- hands

    def box_at(self, where: QPointF) -> tuple[int, frozenset[str]] | None:
        """The box at a place, and which of its edges; all four of them for the middle."""
        shown = self._shown_cel()
        if shown is None or self.clip is None:
            return None
        at, cel = shown
        there = [(number, self.on_screen(rect, cel)) for number, rect in boxes_on(self.clip, at)]
        for number, box in there:
            if number == self.box_chosen and box.adjusted(-GRIP, -GRIP, GRIP, GRIP).contains(where):
                edges = self._edges_at(box, where)
                if edges:
                    return number, edges
        for number, box in reversed(there):
            if box.contains(where):
                return number, frozenset(("left", "bottom", "right", "top"))
        return None

    @staticmethod
    def _edges_at(box: QRectF, where: QPointF) -> frozenset[str]:
        far = {
            "left": abs(where.x() - box.left()),
            "right": abs(where.x() - box.right()),
            "top": abs(where.y() - box.top()),
            "bottom": abs(where.y() - box.bottom()),
        }
        # of a narrow box only the nearer of two edges
        across, down = min(("left", "right"), key=far.__getitem__), min(("top", "bottom"), key=far.__getitem__)
        return frozenset(edge for edge in (across, down) if far[edge] <= GRIP)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        shown = self._shown_cel()
        if not self.editing or shown is None or self.clip is None or event.button() != Qt.MouseButton.LeftButton:
            super().mousePressEvent(event)
            return
        self.held.emit()
        held = self.box_at(event.position())
        self.picked.emit(held[0] if held is not None else -1)
        if held is None:
            self._drag = _Drag(-1, frozenset(), event.position(), (0.0, 0.0, 1.0, 1.0))
        else:
            self._drag = _Drag(held[0], held[1], event.position(), dict(boxes_on(self.clip, shown[0]))[held[0]])

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        where, drag, shown = event.position(), self._drag, self._shown_cel()
        if not self.editing or shown is None:
            super().mouseMoveEvent(event)
            return
        if drag is None:
            held = self.box_at(where)
            sizes = held is not None and len(held[1]) < 4
            self.setCursor(Qt.CursorShape.SizeAllCursor if sizes else Qt.CursorShape.ArrowCursor)
            return
        drag.moved = drag.moved or (where - drag.pressed).manhattanLength() > MOVED
        if not drag.moved:
            return
        if drag.at < 0:
            self._new = QRectF(drag.pressed, where).normalized()
            self.update()
            return
        cel, by = shown[1], where - drag.pressed
        box = self.on_screen(drag.begun, cel)
        if "left" in drag.edges:
            box.setLeft(box.left() + by.x())
        if "right" in drag.edges:
            box.setRight(box.right() + by.x())
        if "top" in drag.edges:
            box.setTop(box.top() + by.y())
        if "bottom" in drag.edges:
            box.setBottom(box.bottom() + by.y())
        self.changed.emit(drag.at, self.in_image(box, cel))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        drag, self._drag = self._drag, None
        new, self._new = self._new, None
        shown = self._shown_cel()
        if drag is None or shown is None:
            return
        if drag.at >= 0 and drag.moved:
            self.dropped.emit()
        elif new is not None:
            self.drew.emit(self.in_image(new, shown[1]))
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        shown = self._shown_cel()
        if not self.editing or shown is None or self.clip is None:
            super().keyPressEvent(event)
            return
        there, key, keys = dict(boxes_on(self.clip, shown[0])), Qt.Key(event.key()), event.modifiers()
        if key in STEPS and self.box_chosen in there:
            by = 10 if keys & Qt.KeyboardModifier.ShiftModifier else 1
            across, up = (value * by for value in STEPS[key])
            left, bottom, width, height = there[self.box_chosen]
            if keys & Qt.KeyboardModifier.AltModifier:
                made = (left, bottom, max(1.0, width + across), max(1.0, height + up))
            else:
                made = (left + across, bottom + up, width, height)
            self.held.emit()
            self.changed.emit(self.box_chosen, made)
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown) and there:
            order, step = list(there), 1 if key == Qt.Key.Key_PageDown else -1
            before = order.index(self.box_chosen) if self.box_chosen in there else -1 if step > 0 else 0
            self.picked.emit(order[(before + step) % len(order)])
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and self.box_chosen in there:
            self.removal.emit()
        elif key == Qt.Key.Key_Insert:
            self.held.emit()
            self.drew.emit(None)
        else:
            super().keyPressEvent(event)
