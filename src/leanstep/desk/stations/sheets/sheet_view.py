"""The sheet with its cut lines: zoomed and moved, frames chosen, drawn by hand, and their feet set."""

from __future__ import annotations

import math
from typing import Literal

from PySide6.QtCore import QEvent, QPoint, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import (
    QHelpEvent,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QNativeGestureEvent,
    QPainter,
    QPaintEvent,
    QPixmap,
    QPolygonF,
    QWheelEvent,
)
from PySide6.QtWidgets import QSizePolicy, QToolTip, QWidget

from leanstep.core.errors import LeanStepError
from leanstep.core.findings.results import SEVERITIES, Finding
from leanstep.core.sheets.boxes import Box
from leanstep.core.sheets.cutting import Rect
from leanstep.desk import paint
from leanstep.desk.art import Loaded, Unfitted
from leanstep.desk.stations.sheets.rect_drag import RectDrag, edges_at
from leanstep.desk.theme import MEDIUM, font, theme
from leanstep.desk.widgets.basics import plain_tip
from leanstep.desk.widgets.zooming import wheel_steps, zoom_after

ZOOMS = (1 / 16, 1 / 8, 1 / 6, 1 / 4, 1 / 3, 1 / 2, 2 / 3, 1, 2, 3, 4, 6, 8, 12, 16, 24, 32, 48, 64)
"""Screen pixels an image pixel may be wide."""

REACH = 6.0
"""Screen pixels within which an edge or a foot is taken hold of."""

Tool = Literal["choose", "draw", "feet", "boxes", "costume", "parts"]

CURSORS = {
    "choose": Qt.CursorShape.ArrowCursor,
    "draw": Qt.CursorShape.CrossCursor,
    "feet": Qt.CursorShape.PointingHandCursor,
    "boxes": Qt.CursorShape.CrossCursor,
    "costume": Qt.CursorShape.ArrowCursor,
    "parts": Qt.CursorShape.CrossCursor,
}

FLAGS = {"error": "error", "warning": "warning", "note": "soft"}
"""Colours of the corners of frames with which something is wrong."""

COVERED = 96
"""Screen pixels of height below which a number would cover what is drawn in a cell."""

STEPS = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}


class SheetView(QWidget):
    """The image, its frames numbered.

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
        self.loaded: Loaded | LeanStepError | None = None
        self.preview: list[Rect] = []
        self._under: int | None = None
        self.problems: dict[int, list[Finding]] = {}
        self.chosen: list[int] = []
        self.image: QImage | None = None
        self.waiting = False
        self.tool: Tool = "choose"
        self._smaller: tuple[float, QPixmap] | None = None
        self._zoom: float | None = None
        self._centre = QPointF()
        self._kept: list[int] = []
        self._from: QPointF | None = None
        self._band: QRectF | None = None
        self._panned: QPoint | None = None
        self._drag: RectDrag | None = None
        self._foot: tuple[QPointF, QPointF] | None = None
        self.setMinimumHeight(160)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
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

    def show_sheet(
        self,
        loaded: Loaded | LeanStepError | None,
        preview: list[Rect],
        waiting: bool = False,
        instead: QImage | None = None,
    ) -> None:
        """Show a sheet; ``preview`` are the rectangles of a cut that is not yet made.  ``waiting``: it is being read.
        ``instead`` is a picture of the same size that is shown for it."""
        self.waiting = waiting
        if loaded is not self.loaded:
            before = self.frames
            self.loaded, self._drag = loaded, None
            if self.frames != before:
                self.chosen = []
        image = instead or (loaded.image if isinstance(loaded, Loaded | Unfitted) else None)
        if image is not self.image:
            self.image, self._smaller = image, None
        # what is cut so already is shown as it is, with feet and boxes
        self.preview = preview if preview != self.frames else []
        self.update()

    @property
    def frames(self) -> list[Rect]:
        """The rectangles of the sheet as it is cut."""
        return [frame.rect for frame in self.loaded.cut.frames] if isinstance(self.loaded, Loaded) else []

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

    # --- places

    @property
    def zoom(self) -> float:
        """Screen pixels an image pixel is wide."""
        if self._zoom is not None or self.image is None:
            return self._zoom or 1.0
        return paint.whole_scale((self.image.width(), self.image.height()), self.width() - 8, self.height() - 8)

    def fit(self) -> None:
        """Show all of the sheet."""
        self._zoom = None
        self.update()

    def zoom_to(self, zoom: float, at: QPointF | None = None) -> None:
        """Show the sheet so large, the place ``at`` of the screen (the middle when left out) staying where it is."""
        if self.image is None:
            return
        at = at or QPointF(self.width() / 2, self.height() / 2)
        fixed = self.on_image(at)
        self._zoom = min(max(zoom, ZOOMS[0]), ZOOMS[-1])
        self._centre = fixed + (QPointF(self.width() / 2, self.height() / 2) - at) * (1 / self._zoom)
        self._hold()
        self.update()

    def zoom_by(self, steps: int, at: QPointF | None = None) -> None:
        """So many steps larger."""
        zoom = zoom_after(ZOOMS, self.zoom, steps)
        if zoom != self.zoom:
            self.zoom_to(zoom, at)

    def _hold(self) -> None:
        """Keep some of the image in view."""
        assert self.image is not None
        self._centre.setX(min(max(self._centre.x(), 0.0), float(self.image.width())))
        self._centre.setY(min(max(self._centre.y(), 0.0), float(self.image.height())))

    def _corner(self) -> QPointF:
        """Where the image's top left corner is."""
        assert self.image is not None
        zoom = self.zoom
        if self._zoom is None:
            left, top = (self.width() - self.image.width() * zoom) / 2, (self.height() - self.image.height() * zoom) / 2
        else:
            left, top = self.width() / 2 - self._centre.x() * zoom, self.height() / 2 - self._centre.y() * zoom
        return QPointF(round(left), round(top))

    def on_image(self, at: QPointF) -> QPointF:
        """The place of the image at a place of the screen, in pixels."""
        return (at - self._corner()) * (1 / self.zoom)

    def box(self, rect: Rect) -> QRectF:
        """Where a rectangle is on screen."""
        zoom, corner = self.zoom, self._corner()
        return QRectF(corner.x() + rect.x * zoom, corner.y() + rect.y * zoom, rect.width * zoom, rect.height * zoom)

    def cell(self, frame: int) -> QRectF:
        """Where a frame is on screen."""
        return self.box(self.frames[frame])

    def foot_place(self, frame: int) -> QPointF:
        """Where a frame's foot is on screen."""
        assert isinstance(self.loaded, Loaded)
        one = self.loaded.cut.frames[frame]
        return self._corner() + QPointF(one.rect.x + one.foot[0], one.rect.y + one.foot[1]) * self.zoom

    def frame_at(self, at: QPointF) -> int | None:
        """The frame at a place of the view."""
        place = self.on_image(at)
        inside = (
            number
            for number, one in enumerate(self.frames)
            if one.x <= place.x() < one.x + one.width and one.y <= place.y() < one.y + one.height
        )
        return next(inside, None) if self.image is not None else None

    # --- drawing

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        if self.image is None:
            painter.setPen(theme.colour("error" if isinstance(self.loaded, LeanStepError) else "soft"))
            painter.setFont(font(14))
            text = "Reading the image …" if self.waiting else "Drop an image here, or press “Add a sheet …”."
            if isinstance(self.loaded, LeanStepError):
                text = _sentence(self.loaded, "\n")
            painter.drawText(QRectF(self.rect()), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, text)
            return
        self._picture(painter)
        self._frames(painter)
        if isinstance(self.loaded, LeanStepError):
            self._fault(painter, self.loaded)

    def _picture(self, painter: QPainter) -> None:
        assert self.image is not None
        zoom, corner = self.zoom, self._corner()
        area = QRectF(corner.x(), corner.y(), self.image.width() * zoom, self.image.height() * zoom)
        seen = area.intersected(QRectF(self.rect()))
        paint.checker(painter, seen)
        if zoom < 1:
            if self._smaller is None or self._smaller[0] != zoom:
                small = self.image.scaled(
                    area.size().toSize(),
                    Qt.AspectRatioMode.IgnoreAspectRatio,
                    Qt.TransformationMode.SmoothTransformation,
                )
                self._smaller = zoom, QPixmap.fromImage(small)
            painter.drawPixmap(corner, self._smaller[1])
        else:
            left, top = math.floor((seen.x() - corner.x()) / zoom), math.floor((seen.y() - corner.y()) / zoom)
            right = math.ceil((seen.right() - corner.x()) / zoom)
            low = math.ceil((seen.bottom() - corner.y()) / zoom)
            part = QRectF(left, top, right - left, low - top)
            place = QRectF(corner + part.topLeft() * zoom, part.size() * zoom)
            painter.drawImage(place, self.image, part)

    def _frames(self, painter: QPainter) -> None:
        previewing = bool(self.preview)
        rects = self.preview or self.frames
        painter.setFont(font(11, MEDIUM))
        metrics, chosen = painter.fontMetrics(), set() if previewing else set(self.chosen)
        line = paint.pen("chosen" if previewing else "faint", 1)
        if previewing:
            line.setStyle(Qt.PenStyle.DashLine)
        painter.setPen(line)
        seen = self._seen(rects)
        painter.drawRects([box for _, box in seen])
        for number, box in seen:
            if number in chosen:
                fill = theme.colour("chosen")
                fill.setAlpha(46)
                painter.fillRect(box, fill)
                painter.setPen(paint.pen("chosen", 2))
                painter.drawRect(box.adjusted(1, 1, -1, -1))
        room, leaf, ink = metrics.horizontalAdvance(str(len(rects))) + 11, theme.colour("leaf"), theme.colour("ink")
        painter.setPen(ink)
        for number, box in seen:
            # where not every number has room, every second, third … is shown
            # and on small cells, which it would cover, only that of the one under the pointer
            if box.height() < COVERED and number != self._under:
                continue
            if box.height() > 16 and number % math.ceil(room / max(1.0, box.width())) == 0:
                text = str(number)
                tag = QRectF(box.x() + 1, box.y() + 1, metrics.horizontalAdvance(text) + 7, 15)
                painter.fillRect(tag, leaf)
                painter.drawText(tag, Qt.AlignmentFlag.AlignCenter, text)
        if not previewing:
            self._marks(painter, seen)
        if self._drag is not None and self._drag.frame is None:
            painter.setPen(paint.pen("chosen", 2))
            painter.drawRect(self.box(self._drag.rect))
        if self._band is not None:
            painter.setPen(paint.pen("chosen", 1))
            painter.drawRect(self._band)

    def _seen(self, rects: list[Rect]) -> list[tuple[int, QRectF]]:
        """The numbers and places of the rectangles that are on screen."""
        held = self._drag if self.tool == "draw" else None
        zoom, corner = self.zoom, self._corner()
        left, top, width, height = corner.x(), corner.y(), self.width(), self.height()
        found = []
        for number, one in enumerate(rects):
            if held is not None and number == held.frame:
                one = held.rect
            x, y = left + one.x * zoom, top + one.y * zoom
            if x < width and y < height and x + one.width * zoom > 0 and y + one.height * zoom > 0:
                found.append((number, QRectF(x, y, one.width * zoom, one.height * zoom)))
        return found

    def _marks(self, painter: QPainter, seen: list[tuple[int, QRectF]]) -> None:
        """What is wrong with frames, and what belongs to the tool in hand."""
        for number, box in seen if self.problems or self.tool in ("feet", "boxes") else ():
            if number in self.problems:
                self._flag(painter, box, self.problems[number])
            if self.tool == "feet":
                self._foot_mark(painter, number)
            if self.tool == "boxes":
                self._body_box(painter, number)

    def _foot_mark(self, painter: QPainter, number: int) -> None:
        at = self.foot_place(number)
        if self._foot is not None and number in self.chosen:
            at += self._foot[1] * self.zoom
        painter.setPen(paint.pen("mark", 2))
        painter.drawLine(at + QPointF(-7, 0), at + QPointF(7, 0))
        painter.drawLine(at + QPointF(0, -7), at + QPointF(0, 3))

    def _flag(self, painter: QPainter, box: QRectF, problems: list[Finding]) -> None:
        """A corner that says that something is wrong with a frame."""
        size = min(11.0, box.width() / 3)
        corner = QPolygonF([box.topRight(), box.topRight() + QPointF(-size, 0), box.topRight() + QPointF(0, size)])
        worst = min(SEVERITIES.index(one.severity) for one in problems)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colour(FLAGS[SEVERITIES[worst]]))
        painter.drawPolygon(corner)
        painter.setBrush(Qt.BrushStyle.NoBrush)

    def body_rect(self, frame: int) -> Rect | None:
        """A frame's body box on the image, to whole pixels; None where it has none."""
        assert isinstance(self.loaded, Loaded)
        one = self.loaded.cut.frames[frame]
        if one.box is None:
            return None
        left, top = round(one.rect.x + one.foot[0] + one.box.left), round(one.rect.y + one.foot[1] - one.box.top)
        return Rect(left, top, max(1, round(one.box.width)), max(1, round(one.box.height)))

    def _body_box(self, painter: QPainter, number: int) -> None:
        rect = self.body_rect(number)
        if self._drag is not None and number == self._drag.frame:
            rect = self._drag.rect
        if rect is None:
            return
        box = self.box(rect)
        fill = theme.colour("mark")
        fill.setAlpha(34)
        painter.fillRect(box, fill)
        painter.setPen(paint.pen("mark", 2 if number in self.chosen else 1))
        painter.drawRect(box)
        self._foot_mark(painter, number)

    def _boxes_like(self, number: int, rect: Rect) -> dict[int, Box]:
        """Body boxes for the chosen frames that lie about their feet as a rectangle of the image does about a frame's foot."""
        assert isinstance(self.loaded, Loaded)
        one = self.loaded.cut.frames[number]
        left, low = rect.x - one.rect.x - one.foot[0], one.rect.y + one.foot[1] - rect.y - rect.height
        return dict.fromkeys(self.chosen or [number], Box(left, low, float(rect.width), float(rect.height)))

    def _fault(self, painter: QPainter, error: LeanStepError) -> None:
        """Why the image cannot be cut, over it."""
        painter.setFont(font(14))
        text = _sentence(error, " ")
        flags = int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap)
        room = QRectF(20, 6, self.width() - 40, 80)
        box = painter.boundingRect(room, flags, text).adjusted(-8, -4, 8, 4)
        painter.fillRect(box, theme.colour("leaf"))
        painter.setPen(theme.colour("error"))
        painter.drawText(box, flags, text)

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


def _sentence(error: LeanStepError, joint: str) -> str:
    return f"{error.reason[0].upper()}{error.reason[1:]}.{joint}{error.way_out}"
