"""The sheet under the hand: frames chosen, drawn, and their feet and boxes set."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPoint, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent, QNativeGestureEvent, QWheelEvent
from PySide6.QtWidgets import QToolTip

from leanstep.core.sheets.boxes import Box
from leanstep.core.sheets.cutting import Rect
from leanstep.desk.art import Loaded
from leanstep.desk.stations.sheets.drawn_sheet import DrawnSheet, Tool
from leanstep.desk.stations.sheets.rect_drag import RectDrag, edges_at
from leanstep.desk.widgets.basics import plain_tip
from leanstep.desk.widgets.zooming import wheel_steps

REACH = 6.0
"""Screen pixels within which an edge or a foot is taken hold of."""


CURSORS = {
    "choose": Qt.CursorShape.ArrowCursor,
    "draw": Qt.CursorShape.CrossCursor,
    "feet": Qt.CursorShape.PointingHandCursor,
    "boxes": Qt.CursorShape.CrossCursor,
    "costume": Qt.CursorShape.ArrowCursor,
    "parts": Qt.CursorShape.CrossCursor,
}


STEPS = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}


class SheetView(DrawnSheet):
    """The image, its frames numbered, under the hand.

    ``chose``: other frames are chosen; ``drawn``: a rectangle was drawn; ``reshaped``: a frame has another rectangle;
    ``stepped``: feet of the chosen frames are to be moved, by pixels; ``removal``: the chosen frames are to be removed; ``boxed``:
    frames have other body boxes, by number.
    """

    chose = Signal()
    drawn = Signal(object)
    reshaped = Signal(int, object)
    stepped = Signal(float, float)
    boxed = Signal(object)
    removal = Signal()

    def __init__(self) -> None:
        super().__init__()
        self._kept: list[int] = []
        self._from: QPointF | None = None
        self._panned: QPoint | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Sheet")
        self.use("choose")

    def use(self, tool: Tool) -> None:
        """Take another tool in hand."""
        self.tool, self._drag, self._band, self._foot = tool, None, None, None
        self.setCursor(CURSORS[tool])
        self.setToolTip(
            {
                "choose": "Drag over frames to choose them, with Shift to add; a double click takes the row",
                "draw": "Drag to draw a frame, drag a frame or its edges to change it; arrow keys nudge, with Alt resize",
                "feet": "Drag a foot to move those of all chosen frames; arrow keys nudge",
                "boxes": "Drag a body box or its edges, of all chosen frames; drag in a frame without one to draw it; arrow keys "
                "nudge, with Alt resize",
                "costume": "Choose a frame to say which one of the other sheet it is shown for",
                "parts": "Drag around a part of the figure; drag a ring to say where it turns, arrow keys nudge it; Page Up and Page "
                "Down choose a part, Shift chooses frames.\nBy keyboard: Return takes a cross in hand, arrow keys move it, Space sets "
                "a corner, Backspace takes it back, Return ends the outline",
            }[tool]
            + ".\nThe wheel zooms, the middle button moves the sheet."
        )
        self.update()

    def choose(self, frames: list[int]) -> None:
        """Choose some frames."""
        if frames != self.chosen:
            self.chosen = frames
            self.chose.emit()
        self.update()

    def reveal(self, frames: list[int]) -> None:
        """Choose some frames and bring the first into view."""
        self.choose([number for number in frames if number < len(self.frames)])
        if self.chosen and not self.cell(self.chosen[0]).intersects(QRectF(self.rect())):
            first = self.frames[self.chosen[0]]
            self.zoom_to(self.zoom)
            self._centre = QPointF(first.x + first.width / 2, first.y + first.height / 2)
            self.update()

    def _boxes_like(self, number: int, rect: Rect) -> dict[int, Box]:
        """Body boxes for the chosen frames that lie about their feet as a rectangle of the image does about a frame's foot."""
        assert isinstance(self.loaded, Loaded)
        one = self.loaded.cut.frames[number]
        left, low = rect.x - one.rect.x - one.foot[0], one.rect.y + one.foot[1] - rect.y - rect.height
        return dict.fromkeys(self.chosen or [number], Box(left, low, float(rect.width), float(rect.height)))

    # --- hands

    def wheelEvent(self, event: QWheelEvent) -> None:
        steps = wheel_steps(event)
        if event.modifiers() & (Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.AltModifier):
            delta = event.angleDelta()
            self._pan(QPointF((delta.x() or delta.y()) / 2, 0))
        elif steps:
            self.zoom_by(steps, event.position())
        event.accept()

    def event(self, event: QEvent) -> bool:
        if isinstance(event, QNativeGestureEvent) and event.gestureType() == Qt.NativeGestureType.ZoomNativeGesture:
            self.zoom_to(self.zoom * (1 + event.value()), event.position())
            return True
        if isinstance(event, QHelpEvent):
            frame = self.frame_at(QPointF(event.pos()))
            problems = self.problems.get(-1 if frame is None else frame)
            if problems:
                QToolTip.showText(event.globalPos(), plain_tip("\n".join(one.sentence for one in problems)), self)
                return True
        return super().event(event)

    def _pan(self, by: QPointF) -> None:
        if self.image is not None:
            self.zoom_to(self.zoom)
            self._centre -= by * (1 / self.zoom)
            self._hold()
            self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        if event.button() == Qt.MouseButton.MiddleButton:
            self._panned = at.toPoint()
            return
        if event.button() != Qt.MouseButton.LeftButton or self.image is None:
            return
        adds = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        frame = self.frame_at(at)
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier and frame is not None:
            rest = [number for number in self.chosen if number != frame]
            self.choose(rest if frame in self.chosen else [*rest, frame])
            return
        if self.tool == "draw" and not adds:
            self._take_hold(at)
        elif not adds and {"feet": self._hold_foot, "boxes": self._hold_box}.get(self.tool, _never)(at):
            return
        else:
            self._from, self._kept = at, self.chosen if adds else []
            self.choose(_joined(self._kept, [] if frame is None else [frame]))

    def _hold_foot(self, at: QPointF) -> bool:
        near = [
            number
            for number in range(len(self.frames))
            if (self.foot_place(number) - at).manhattanLength() <= 2 * REACH
        ]
        if not near:
            return False
        if near[0] not in self.chosen:
            self.choose([near[0]])
        self._foot = at, QPointF()
        return True

    def _hold_box(self, at: QPointF) -> bool:
        """Begin to change the body box under the hand, or to draw one in a frame that has none."""
        if not isinstance(self.loaded, Loaded):
            return False
        inside = self.frame_at(at)
        for number in [*self.chosen, *range(len(self.frames))]:
            rect = self.body_rect(number)
            edges = edges_at(self.box(rect), at, REACH) if rect is not None else None
            if rect is not None and edges is not None:
                break
        else:
            if inside is None or self.body_rect(inside) is not None:
                return False
            number, place = inside, self.on_image(at)
            rect, edges = Rect(round(place.x()), round(place.y()), 0, 0), (False, False, True, True)
        if number not in self.chosen:
            self.choose([number])
        self._drag = RectDrag(number, rect, edges, self.on_image(at))
        return True

    def _take_hold(self, at: QPointF) -> None:
        """Begin to draw a frame, or to change the one under the hand."""
        for number in [*self.chosen, *range(len(self.frames))]:
            edges = edges_at(self.box(self.frames[number]), at, REACH)
            if edges is not None:
                self.choose([number])
                self._drag = RectDrag(number, self.frames[number], edges, self.on_image(at))
                return
        self.choose([])
        place = self.on_image(at)
        start = Rect(round(place.x()), round(place.y()), 0, 0)
        self._drag = RectDrag(None, start, (False, False, True, True), place)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        if self._panned is not None:
            self._pan(QPointF(at.toPoint() - self._panned))
            self._panned = at.toPoint()
        elif self._drag is not None and self.image is not None:
            others = [rect for number, rect in enumerate(self.frames) if number != self._drag.frame]
            if self.tool == "boxes":
                others = [self.frames[self._drag.frame]] if self._drag.frame is not None else []
            self._drag.move(
                self.on_image(at), (self.image.width(), self.image.height()), others, max(1, round(REACH / self.zoom))
            )
            self.update()
        elif self._foot is not None:
            moved = (at - self._foot[0]) * (1 / self.zoom)
            self._foot = self._foot[0], QPointF(round(moved.x() * 2) / 2, round(moved.y()))
            self.update()
        elif self._from is None:
            self._hover(self.frame_at(at))
        elif event.buttons():
            self._band = QRectF(self._from, at).normalized().adjusted(-0.5, -0.5, 0.5, 0.5)
            inside = [number for number, rect in enumerate(self.frames) if self.box(rect).intersects(self._band)]
            self.choose(_joined(self._kept, inside))

    def leaveEvent(self, event: QEvent) -> None:
        self._hover(None)

    def _hover(self, number: int | None) -> None:
        if number != self._under:
            self._under = number
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        drag, foot = self._drag, self._foot
        self._from = self._band = self._panned = self._drag = self._foot = None
        self.update()
        if foot is not None and not foot[1].isNull():
            self.stepped.emit(foot[1].x(), foot[1].y())
        if drag is None or not drag.moved:
            return
        if drag.frame is not None and self.tool == "boxes":
            self.boxed.emit(self._boxes_like(drag.frame, drag.rect))
        elif drag.frame is not None:
            self.reshaped.emit(drag.frame, drag.rect)
        elif drag.rect.width > 1 and drag.rect.height > 1:
            self.drawn.emit(drag.rect)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key, by = event.key(), STEPS.get(Qt.Key(event.key()))
        if key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.zoom_by(1)
        elif key == Qt.Key.Key_Minus:
            self.zoom_by(-1)
        elif key == Qt.Key.Key_0:
            self.fit()
        elif key == Qt.Key.Key_1:
            self.zoom_to(1)
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and self.chosen and self.tool == "draw":
            self.removal.emit()
        elif by is not None and self.frames:
            self._step(by, event.modifiers())
        else:
            super().keyPressEvent(event)

    def _step(self, by: tuple[int, int], keys: Qt.KeyboardModifier) -> None:
        """An arrow key: another frame is chosen, or the chosen ones or their feet are nudged."""
        far = 10 if keys & Qt.KeyboardModifier.ShiftModifier else 1
        if self.tool == "draw" and len(self.chosen) == 1 and self.image is not None:
            frame = self.chosen[0]
            edges = (False, False, True, True) if keys & Qt.KeyboardModifier.AltModifier else (True, True, True, True)
            drag = RectDrag(frame, self.frames[frame], edges, QPointF())
            drag.move(QPointF(by[0] * far, by[1] * far), (self.image.width(), self.image.height()), [], 0)
            self.reshaped.emit(frame, drag.rect)
        elif self.tool == "boxes" and isinstance(self.loaded, Loaded) and self.chosen:
            boxes = {number: self.loaded.cut.frames[number].box for number in self.chosen}
            grows = bool(keys & Qt.KeyboardModifier.AltModifier)
            moved = {number: _nudged(box, by, far, grows) for number, box in boxes.items() if box is not None}
            if moved:
                self.boxed.emit(moved)
        elif self.tool == "feet" and self.chosen:
            self.stepped.emit(by[0] * far, by[1] * far)
        else:
            last = self.chosen[-1] if self.chosen else -1
            number = self._beside(last, by) if self.chosen else 0
            self.choose(_joined(self.chosen if far > 1 else [], [number]))

    def _beside(self, frame: int, by: tuple[int, int]) -> int:
        """The nearest frame in a direction; the same where there is none."""
        here = self.frames[frame]

        def away(one: Rect) -> tuple[int, int]:
            across, down = one.x - here.x, one.y - here.y
            return (across * by[0] + down * by[1], abs(across * by[1]) + abs(down * by[0]))

        ahead = [(away(one), number) for number, one in enumerate(self.frames) if away(one)[0] > 0]
        return min(ahead, key=lambda one: (one[0][0] + 3 * one[0][1], one[1]))[1] if ahead else frame


def _never(at: QPointF) -> bool:
    """What a tool without anything to hold holds."""
    return False


def _nudged(box: Box, by: tuple[int, int], far: int, grows: bool) -> Box:
    """A body box moved by an arrow key, or its right and upper edges."""
    across, up = by[0] * far, -by[1] * far
    if grows:
        return Box(box.left, box.bottom, max(1.0, box.width + across), max(1.0, box.height + up))
    return Box(box.left + across, box.bottom + up, box.width, box.height)


def _joined(kept: list[int], more: list[int]) -> list[int]:
    return [*kept, *(number for number in more if number not in kept)]
