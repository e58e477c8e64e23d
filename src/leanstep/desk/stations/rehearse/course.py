"""The course with the figure on it."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from leanstep.core.character.model import Shape
from leanstep.core.rehearsal.drawable import of_situation
from leanstep.core.rehearsal.situation import Situation
from leanstep.core.rehearsal.traces import Trace
from leanstep.desk import paint
from leanstep.desk.live import Live
from leanstep.desk.session import Session
from leanstep.desk.theme import BOLD, font, theme

OVERHEAD = 150.0
"""Units above the foot that stay in view."""


class CourseView(QWidget):
    """The stage: whole multiples of the art, the camera follows the figure.  ``moment`` shows a tick of a trace instead
    of the live character; the path of the trace is a thin line."""

    def __init__(self, session: Session, live: Live) -> None:
        super().__init__()
        self.session, self.live = session, live
        self.moment: Situation | None = None
        self.trace: Trace | None = None
        self.camera = 0.0
        self._seen: tuple[object, ...] = ()
        self.setMinimumHeight(280)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Course")
        self.setToolTip("The character on its course. Ctrl+Space: steer it; Esc: let go.")
        live.ticked.connect(self._tick)
        live.watchers.append(
            lambda ticks, situation, truths: self._drawn(self.moment or situation) if self.isVisible() else None
        )
        live.mode_changed.connect(self.update)

    def sizeHint(self) -> QSize:
        return QSize(900, 340)

    def _tick(self) -> None:
        """Draw again if the figure, its place or what is said of it has changed."""
        if not self.isVisible():
            return
        seen = self._drawn(self.moment or self.live.situation)
        if seen != self._seen:
            self._seen = seen
            self.update()

    def _drawn(self, situation: Situation) -> tuple[object, ...]:
        """The figure and where it is."""
        return of_situation(self.live.machine, situation), situation.body.x, situation.body.y

    def _scale(self) -> float:
        return float(max(1, int(self.height() / 300)))

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("leaf"))
        situation = self.moment or self.live.situation
        scale = self._scale()
        self._aim(situation.body.x, scale)
        ground = self.height() - 58.0
        lift = max(0.0, situation.body.y + OVERHEAD - ground / scale)

        def place(x: float, y: float) -> QPointF:
            return QPointF((x - self.camera) * scale, ground - (y - lift) * scale)

        shapes = self.session.document.course.shapes or (Shape(kind="floor", x=-1e5, y=-100, width=2e5, height=100),)
        for kind in ("zone", "ladder", "floor"):
            for shape in shapes:
                if shape.kind == kind:
                    corner = place(shape.x, shape.y + shape.height)
                    self._shape(
                        painter, shape, QRectF(corner.x(), corner.y(), shape.width * scale, shape.height * scale)
                    )
        self._path(painter, place)
        shown = of_situation(self.live.machine, situation)
        foot = place(situation.body.x, situation.body.y)
        if not shown.pieces or not paint.figure(painter, self.session.art, shown, foot, scale):
            body = self.session.document.body
            painter.setPen(paint.pen("ink", 1.5))
            painter.setBrush(theme.colour("checker"))
            box = QRectF(
                foot.x() - body.width * scale / 2,
                foot.y() - body.height * scale,
                body.width * scale,
                body.height * scale,
            )
            painter.drawRoundedRect(box, 6, 6)
        self._frame(painter, situation)

    def _aim(self, x: float, scale: float) -> None:
        """The camera keeps the figure in the middle half and does not look beyond the course."""
        width = self.width() / scale
        self.camera = min(max(self.camera, x - width * 0.66), x - width * 0.34)
        shapes = [shape for shape in self.session.document.course.shapes if shape.kind == "floor"]
        if shapes:
            left = min(shape.x for shape in shapes)
            right = max(shape.x + shape.width for shape in shapes)
            if right - left <= width:
                self.camera = (left + right - width) / 2
            else:
                self.camera = min(max(self.camera, left), right - width)

    def _shape(self, painter: QPainter, shape: Shape, box: QRectF) -> None:
        if shape.kind == "floor":
            painter.fillRect(box, theme.colour("checker"))
            painter.save()
            painter.setClipRect(box)
            painter.setPen(paint.pen("rule"))
            for offset in range(int(-box.height()), int(box.width()), 12):
                painter.drawLine(
                    QPointF(box.x() + offset, box.bottom()), QPointF(box.x() + offset + box.height(), box.top())
                )
            painter.restore()
            painter.setPen(paint.pen("edge"))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(box)
            painter.setPen(paint.pen("ink", 1.6))
            painter.drawLine(box.topLeft(), box.topRight())
        elif shape.kind == "ladder":
            painter.setPen(paint.pen("soft", 2))
            for x in (box.left() + 3, box.right() - 3):
                painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()))
            y = box.bottom() - 8
            while y > box.top():
                painter.drawLine(QPointF(box.left() + 3, y), QPointF(box.right() - 3, y))
                y -= 12
        else:
            dashes = paint.pen("mark", 1.2)
            dashes.setStyle(Qt.PenStyle.DashLine)
            painter.setPen(dashes)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(box)
            painter.setFont(font(12))
            painter.setPen(theme.colour("mark"))
            painter.drawText(
                box.adjusted(-20, -17, 20, 0), Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop, shape.name
            )

    def _path(self, painter: QPainter, place: object) -> None:
        if self.trace is None or self.trace.machine is not self.session.machine or self.live.stepper.free:
            return
        dots = paint.pen("faint", 1.4)
        dots.setStyle(Qt.PenStyle.DotLine)
        painter.setPen(dots)
        before = None
        for step in self.trace.steps[::3]:
            point = place(step.situation.body.x, step.situation.body.y + 2)  # type: ignore[operator]
            if before is not None:
                painter.drawLine(before, point)
            before = point

    def _frame(self, painter: QPainter, situation: Situation) -> None:
        mode = self.live.mode if self.moment is None else "looking"
        recording = self.live.recording is not None and mode == "driving"
        said = {
            "driving": "recording: steer, then press “End the take” or Esc" if recording else "you steer – Esc lets go",
            "playing": f"plays {self.live.take.name}" if self.live.take else "",
            "looking": f"tick {situation.tick - 1}",
        }.get(mode, "")
        if mode in ("driving", "playing"):
            painter.setPen(paint.pen("error" if recording else "chosen", 3))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(self.rect()).adjusted(1.5, 1.5, -1.5, -1.5))
        if said:
            painter.setFont(font(13, BOLD))
            width = painter.fontMetrics().horizontalAdvance(said) + 18
            box = QRectF(8, 8, width, 22)
            painter.fillRect(box, theme.colour("error" if recording else "chosen"))
            painter.setPen(theme.colour("on_chosen"))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, said)
