"""The sheet with the parts of a cut-out figure on it: drawn around, and their joints moved."""

from __future__ import annotations

from PySide6.QtCore import QPointF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPolygonF

from leanstep.core.character.cut_outs import CutOutPart
from leanstep.core.sheets.cutting import Rect
from leanstep.desk import paint
from leanstep.desk.art import Loaded
from leanstep.desk.stations.sheets.drawn_sheet import Tool
from leanstep.desk.stations.sheets.sheet_view import REACH, STEPS, SheetView
from leanstep.desk.theme import MEDIUM, font, theme

APART = 3.0
"""Screen pixels between the corners of an outline that is drawn."""
FEWEST = 3
CROSS = 7.0
"""Screen pixels from the middle of the cross to its ends."""
RETURN = (Qt.Key.Key_Return, Qt.Key.Key_Enter)


def _inside(point: QPointF, rect: Rect) -> QPointF:
    """A point of a frame, in pixels from its top left corner, brought onto it."""
    return QPointF(min(max(point.x(), 0.0), rect.width), min(max(point.y(), 0.0), rect.height))


class PartsView(SheetView):
    """``part_drawn``: the outline of a new part, on a frame (its number, the corners); ``part_picked``: one, by its place (-1: none);
    ``joint_moved``: its joint is elsewhere on its frame; ``joint_dropped``: a drag is over."""

    part_drawn = Signal(int, object)
    part_picked = Signal(int)
    joint_moved = Signal(float, float)
    joint_dropped = Signal()
    _cross: QPointF | None = None
    """Where the cross stands with which an outline is drawn by keyboard, in pixels of its frame."""

    def __init__(self) -> None:
        super().__init__()
        self.part_chosen = -1
        self._drawing: tuple[int, list[QPointF]] | None = None
        self._joint_held = False

    @property
    def parts(self) -> tuple[CutOutPart, ...]:
        """The parts of the sheet that is shown."""
        return self.loaded.cut.sheet.parts if isinstance(self.loaded, Loaded) else ()

    def _on_frame(self, frame: int, at: QPointF) -> tuple[float, float]:
        """A place of the screen, in pixels of a frame."""
        place, rect = self.on_image(at), self.frames[frame]
        return place.x() - rect.x, place.y() - rect.y

    def _place(self, frame: int, point: tuple[float, ...]) -> QPointF:
        """Where a point of a frame is on the screen."""
        rect = self.frames[frame]
        return self._corner() + QPointF(rect.x + point[0], rect.y + point[1]) * self.zoom

    def joint_of(self, part: CutOutPart) -> QPointF | None:
        """Where a part's joint is on the screen; None where its frame is not there."""
        if not isinstance(self.loaded, Loaded) or part.frame >= len(self.frames):
            return None
        return self._place(part.frame, part.joint or self.loaded.cut.frames[part.frame].foot)

    def part_at(self, at: QPointF) -> int:
        """The part drawn at a place, the foremost; -1 where there is none."""
        frame = self.frame_at(at)
        if frame is None:
            return -1
        x, y = self._on_frame(frame, at)
        here = [number for number, part in enumerate(self.parts) if part.frame == frame]
        for number in sorted(here, key=lambda one: (self.parts[one].order, one), reverse=True):
            outline = QPolygonF([QPointF(*corner) for corner in self.parts[number].outline])
            if not self.parts[number].outline or outline.containsPoint(QPointF(x, y), Qt.FillRule.OddEvenFill):
                return number
        return -1

    # --- drawing

    def paintEvent(self, event: object) -> None:
        super().paintEvent(event)  # type: ignore[arg-type]
        if self.tool != "parts" or self.image is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(font(11, MEDIUM))
        for number, part in enumerate(self.parts):
            joint = self.joint_of(part)
            if joint is not None:
                self._part(painter, part, joint, number == self.part_chosen)
        if self._drawing is not None and self._drawing[0] < len(self.frames):
            frame, corners = self._drawing
            painter.setPen(paint.pen("chosen", 2))
            drawn = corners if self._cross is None else [*corners, self._cross]
            painter.drawPolyline(QPolygonF([self._place(frame, (one.x(), one.y())) for one in drawn]))
            if self._cross is not None:
                at = self._place(frame, (self._cross.x(), self._cross.y()))
                painter.drawLine(at - QPointF(CROSS, 0), at + QPointF(CROSS, 0))
                painter.drawLine(at - QPointF(0, CROSS), at + QPointF(0, CROSS))
                for corner in corners:
                    painter.drawEllipse(self._place(frame, (corner.x(), corner.y())), 2.5, 2.5)

    def _part(self, painter: QPainter, part: CutOutPart, joint: QPointF, chosen: bool) -> None:
        painter.setPen(paint.pen("chosen" if chosen else "ink", 2 if chosen else 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if part.outline:
            painter.drawPolygon(QPolygonF([self._place(part.frame, corner) for corner in part.outline]))
        parent = next((one for one in self.parts if one.name == part.parent and one.frame == part.frame), None)
        other = self.joint_of(parent) if parent is not None else None
        if other is not None:
            line = paint.pen("soft", 1)
            line.setStyle(Qt.PenStyle.DashLine)
            painter.setPen(line)
            painter.drawLine(other, joint)
        painter.setPen(paint.pen("chosen" if chosen else "ink", 2))
        painter.setBrush(theme.colour("leaf"))
        painter.drawEllipse(joint, 4.5, 4.5)
        if chosen:
            wide = painter.fontMetrics().horizontalAdvance(part.name) + 8
            painter.fillRect(int(joint.x()) + 8, int(joint.y()) - 8, wide, 16, theme.colour("leaf"))
            painter.setPen(theme.colour("ink"))
            painter.drawText(QPointF(joint.x() + 12, joint.y() + 4), part.name)

    # --- hands

    def mousePressEvent(self, event: QMouseEvent) -> None:
        left = event.button() == Qt.MouseButton.LeftButton
        chooses = event.modifiers() & (Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.ControlModifier)
        if self.tool != "parts" or not left or chooses or self.image is None:
            super().mousePressEvent(event)
            return
        self._let_go()
        at = event.position()
        order = sorted(range(len(self.parts)), key=lambda one: one != self.part_chosen)
        for number in order:
            joint = self.joint_of(self.parts[number])
            if joint is not None and (joint - at).manhattanLength() <= REACH + 2:
                self.part_picked.emit(number)
                self._joint_held = True
                return
        frame = self.frame_at(at)
        if frame is not None:
            self.choose([frame])
            self._drawing = frame, [QPointF(*self._on_frame(frame, at))]

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        if self._joint_held and 0 <= self.part_chosen < len(self.parts):
            x, y = self._on_frame(self.parts[self.part_chosen].frame, at)
            self.joint_moved.emit(round(x * 2) / 2, round(y * 2) / 2)
        elif self._drawing is not None and self._cross is None:
            frame, corners = self._drawing
            x, y = self._on_frame(frame, at)
            if (QPointF(x, y) - corners[-1]).manhattanLength() * self.zoom >= APART:
                rect = self.frames[frame]
                corners.append(_inside(QPointF(x, y), rect))
                self.update()
        else:
            super().mouseMoveEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        drawing, held = self._drawing, self._joint_held
        self._joint_held = False
        if held:
            self.joint_dropped.emit()
        elif drawing is not None and self._cross is None:
            self._drawing = None
            if len(drawing[1]) >= FEWEST:
                self._drawn(*drawing)
            else:
                self.part_picked.emit(self.part_at(event.position()))
            self.update()
        else:
            super().mouseReleaseEvent(event)

    def _drawn(self, frame: int, corners: list[QPointF]) -> None:
        self.part_drawn.emit(frame, [(round(one.x(), 1), round(one.y(), 1)) for one in corners])

    def _let_go(self) -> None:
        """An outline that is drawn by keyboard is given up."""
        if self._cross is not None:
            self._drawing = self._cross = None
            self.update()

    def _draw_by(self, key: Qt.Key, far: int) -> bool:
        """A key while an outline is drawn by keyboard, or that begins one; whether it is one of those."""
        if self._cross is None or self._drawing is None:
            if key not in RETURN or len(self.chosen) != 1 or self.image is None:
                return False
            rect = self.frames[self.chosen[0]]
            self._drawing, self._cross = (self.chosen[0], []), QPointF(rect.width // 2, rect.height // 2)
            self.update()
            return True
        frame, corners = self._drawing
        if frame >= len(self.frames):
            self._let_go()
        elif key in STEPS:
            self._cross = _inside(self._cross + QPointF(*STEPS[key]) * far, self.frames[frame])
        elif key == Qt.Key.Key_Space:
            corners.append(self._cross)
        elif key == Qt.Key.Key_Backspace and corners:
            self._cross = corners.pop()
        elif key in RETURN and len(corners) >= FEWEST:
            self._let_go()
            self._drawn(frame, corners)
        elif key == Qt.Key.Key_Escape:
            self._let_go()
        elif key not in (*RETURN, Qt.Key.Key_Backspace):
            return False
        self.update()
        return True

    def use(self, tool: Tool) -> None:
        self._let_go()
        super().use(tool)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        far = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
        if self.tool == "parts" and self._draw_by(key, far):
            return
        count, at = len(self.parts), self.part_chosen
        if self.tool != "parts" or not count:
            super().keyPressEvent(event)
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown):
            step = 1 if key == Qt.Key.Key_PageDown else -1
            self.part_picked.emit((at + step) % count if at >= 0 else 0 if step > 0 else count - 1)
        elif key in STEPS and 0 <= at < count and isinstance(self.loaded, Loaded):
            part = self.parts[at]
            x, y = part.joint or self.loaded.cut.frames[part.frame].foot
            self.joint_moved.emit(x + STEPS[key][0] * far, y + STEPS[key][1] * far)
        else:
            super().keyPressEvent(event)
