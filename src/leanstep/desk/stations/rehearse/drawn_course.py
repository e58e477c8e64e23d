"""The course with the figure on it, as it is drawn."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import QPointF, QRect, QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from leanstep.core.body.previews import jump_arc, setting_off
from leanstep.core.character.body import Shape
from leanstep.core.rehearsal.drawable import Drawable
from leanstep.core.rehearsal.situation import Situation
from leanstep.core.rehearsal.traces import Trace
from leanstep.desk import paint
from leanstep.desk.again import Again
from leanstep.desk.session import Session
from leanstep.desk.simulation import Simulation
from leanstep.desk.stations.rehearse.camera import Camera, ZoomBar
from leanstep.desk.stations.rehearse.course_ground import CourseGround, draw_shape
from leanstep.desk.stations.rehearse.course_path import CoursePath
from leanstep.desk.stations.rehearse.course_row import START, CourseRow, Held
from leanstep.desk.stations.rehearse.second_view import SecondView
from leanstep.desk.theme import theme

Place = Callable[[float, float], QPointF]
"""Where a place of the course is on screen."""
TALLEST = 18.0
"""Units up to which a wall is drawn tall that is seen from above."""
PAVING = 32.0
"""Units between the lines on the ground seen from above, where it is not gone by cells."""
GHOST = 0.35
"""How much of the figure is seen as it was before an edit."""


class DrawnCourse(QWidget):
    """The stage without hands: whole multiples of the art, the camera follows the figure.  The path of the take on the timeline
    is a row of dots, one a tick."""

    def __init__(self, session: Session, live: Simulation) -> None:
        super().__init__()
        self.session, self.live = session, live
        self.path = CoursePath(session, live)
        self.second = SecondView(session, live)
        self.trace: Trace | None = None
        self._went: tuple[Trace, int, QPolygonF] | None = None
        """The path of a trace, as far as it went."""
        self.camera = Camera()
        self._ground = CourseGround(session)
        self.zooms = ZoomBar()
        self.zooms.setParent(self)
        self.number = ""
        self.row: CourseRow | None = None
        self._held: Held | None = None
        self._trial: Shape | None = None
        self._seen: tuple[object, ...] = ()
        self._stood: tuple[Drawable, QPointF, float] | None = None
        """The figure as it was drawn, where its foot was, and how much it was enlarged."""
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setMinimumHeight(280)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def _aim(self) -> None:
        body, above = self.live.situation.body, self.session.document.body.model == "above"
        figure = max(self.session.art.figure_height(), 1.0)
        height = figure if self.session.document.clips else self.session.document.body.height
        floors = [shape for shape in self.session.document.course.shapes if shape.kind == "floor"]
        self.camera.aim(self.size(), height, (body.x, body.y), floors, above)
        self.zooms.show_zoom(self.camera)

    def show_boxes(self, on: bool) -> None:
        """Show the boxes of both figures, or not."""
        self.second.boxes = on
        self.update()

    def _ghost(self, painter: QPainter, again: Again, scale: float, above: bool) -> None:
        """What the figure did before an edit, pale."""
        body = again.situation(self.live.position).body
        foot = self.place(body.x, body.y + (body.lift if above else 0.0))
        drawable = again.drawable(self.live.position)
        if not drawable.pieces or not paint.figure(painter, self.session.art, drawable, foot, scale, GHOST):
            painter.setPen(paint.pen("faint", 1.2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            paint.figureless(painter, foot, self.session.document.body.height * scale)

    def _tick(self) -> None:
        """Draw again if the figure, its place or what is said of it has changed."""
        if not self.isVisible():
            return
        seen = (*self._drawn(self.live.situation, 0), self.second.seen(self.trace))
        if seen != self._seen or self.live.again is not None:
            alone = self.live.mode == "idle" and self.path.clip is None and not self.number
            before, stays = self._stood, alone and seen[1:] == self._seen[1:]
            self._seen = seen
            if before is not None and stays:
                self.update(self._area_of(before).united(self._area_of(self._stands())))
            else:
                self.update()

    def _drawn(self, situation: Situation, ticks: int) -> tuple[object, ...]:
        """The figure and where it is, so many ticks ahead."""
        body = situation.body
        return self.live.figure(ticks), body.x, body.y, body.lift, body.facing

    def _stands(self) -> tuple[Drawable, QPointF, float]:
        """The figure, where its foot is on screen, and how much it is enlarged."""
        body, above = self.live.situation.body, self.session.document.body.model == "above"
        return self.live.figure(), self.place(body.x, body.y + (body.lift if above else 0.0)), self.camera.scale

    def _area_of(self, stands: tuple[Drawable, QPointF, float]) -> QRect:
        """What a figure is drawn on."""
        return paint.area_of(self.session.art, *stands)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        exposed = QRectF(event.rect())
        painter.fillRect(exposed, theme.colour("leaf"))
        situation = self.live.situation
        self._aim()
        scale, place = self.camera.scale, self.place
        above = self.session.document.body.model == "above"
        if above:
            self._paving(painter)
        shapes: Sequence[Shape] = self.session.document.course.shapes
        if not shapes and not above:
            shapes = (Shape(kind="floor", x=-1e5, y=-100, width=2e5, height=100),)
        if self.row is not None:
            shapes = self._edited(shapes)
        ground = [one for one in shapes if not (above and one.kind == "floor")]
        self._ground.draw(painter, ground, self.camera, exposed, kept=self.row is None and not above)
        # seen from above what stands farther back is drawn first
        walls = sorted((one for one in shapes if above and one.kind == "floor"), key=lambda one: -one.y)
        for wall in walls:
            if wall.y >= situation.body.y:
                self._wall(painter, wall, scale, exposed)
        self._path(painter)
        if self.row is None:
            self.path.draw(painter, place, situation, scale)
        if self.number:
            self._preview(painter, place, situation)
        if self.live.again is not None:
            self._ghost(painter, self.live.again, scale, above)
        self._stood = shown, foot, _ = self._stands()
        if above:
            self._shadow(painter, place(situation.body.x, situation.body.y), scale)
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
        self.second.draw(painter, place, scale, situation, self.trace)
        for wall in walls:
            if wall.y < situation.body.y:
                self._wall(painter, wall, scale, exposed)
        if self.row is not None:
            self._marked(painter)
        else:
            self.path.draw_keys(painter, place, situation)
        self._frame(painter, situation)

    def _paving(self, painter: QPainter) -> None:
        """Lines on the ground seen from above, so that it is seen to move: those of the cells where it is gone by cells."""
        body = self.session.document.body
        step = body.cell if body.ways == "square" else PAVING
        painter.setPen(paint.pen("rule"))
        low = self.camera.on_course(QPointF(0, self.height()))
        high = self.camera.on_course(QPointF(self.width(), 0))
        if (high.x() - low.x()) / step > self.width() / 6:
            return
        for number in range(int(low.x() // step), int(high.x() // step) + 1):
            x = self.place(number * step, 0).x()
            painter.drawLine(QPointF(x, 0), QPointF(x, self.height()))
        for number in range(int(low.y() // step), int(high.y() // step) + 1):
            y = self.place(0, number * step).y()
            painter.drawLine(QPointF(0, y), QPointF(self.width(), y))

    def _wall(self, painter: QPainter, wall: Shape, scale: float, exposed: QRectF) -> None:
        """A wall seen from above: its front, and its top as far above the ground as it is tall."""
        corner = self.place(wall.x, wall.y + wall.height)
        area = QRectF(corner.x(), corner.y(), wall.width * scale, wall.height * scale)
        tall = min(TALLEST if wall.tall is None else wall.tall, TALLEST) * scale
        front = QRectF(area.left(), area.bottom() - tall, area.width(), tall)
        painter.fillRect(front, theme.colour("edge"))
        draw_shape(painter, wall, area.translated(0, -tall), exposed)
        painter.setPen(paint.pen("ink", 1.2))
        painter.drawRect(front)

    def _shadow(self, painter: QPainter, foot: QPointF, scale: float) -> None:
        """Where the figure stands, or would if it had not jumped."""
        body, shade = self.session.document.body, theme.colour("ink")
        shade.setAlpha(50)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(shade)
        painter.drawEllipse(foot, body.width * scale / 2, body.depth * scale / 2)
        painter.setBrush(Qt.BrushStyle.NoBrush)

    def place(self, x: float, y: float) -> QPointF:
        """Where a place of the course is on screen."""
        return self.camera.place(x, y)

    def _edited(self, shapes: Sequence[Shape]) -> list[Shape]:
        """The shapes with the one that is being dragged as it is now."""
        made = list(shapes)
        if self._trial is not None and self._held is not None:
            if 0 <= self._held.shape < len(made):
                made[self._held.shape] = self._trial
            elif self._held.shape == len(made):
                made.append(self._trial)
        return made

    def _marked(self, painter: QPainter) -> None:
        """The start, and the chosen shape."""
        assert self.row is not None
        course = self.session.document.course
        x, y = course.start
        if self._held is not None and self._held.shape == START and self._trial is not None:
            x, y = self._trial.x, self._trial.y
        foot = self.place(x, y)
        painter.setPen(paint.pen("chosen", 2))
        painter.drawLine(foot, foot + QPointF(0, -26))
        painter.setBrush(theme.colour("chosen"))
        painter.drawPolygon(QPolygonF([foot + QPointF(0, -26), foot + QPointF(14, -20), foot + QPointF(0, -14)]))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        shapes = self._edited(course.shapes)
        if self.row.chosen is not None and 0 <= self.row.chosen < len(shapes):
            one, scale = shapes[self.row.chosen], self.camera.scale
            corner = self.place(one.x, one.y + one.height)
            painter.drawRect(QRectF(corner.x(), corner.y(), one.width * scale, one.height * scale))

    def _preview(self, painter: QPainter, place: Place, situation: Situation) -> None:
        """The jump from a run, held and let go, and the way to full speed, to scale from where the figure stands."""
        body, rate = self.session.document.body, self.session.document.rate
        if body.model == "above":
            return
        x, y, way = situation.body.x, situation.body.y, situation.body.facing
        off = setting_off(body, True, rate).distance
        painter.setPen(paint.pen("chosen", 3))
        painter.drawLine(place(x, y - 4), place(x + way * off, y - 4))
        for held, width in ((False, 1.2), (True, 2.2)):
            arc = [place(x + way * (off + dx), y + dy) for dx, dy in jump_arc(body, body.run_speed, rate, held)]
            painter.setPen(paint.pen("chosen", width))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPolyline(QPolygonF(arc))
        shade = theme.colour("chosen")
        shade.setAlpha(40)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(shade)
        scale = self.camera.scale
        arc = [place(x + way * (off + dx), y + dy) for dx, dy in jump_arc(body, body.run_speed, rate)]
        for foot in arc[:: max(1, len(arc) // 8)]:
            painter.drawRoundedRect(
                QRectF(
                    foot.x() - body.width * scale / 2,
                    foot.y() - body.height * scale,
                    body.width * scale,
                    body.height * scale,
                ),
                4,
                4,
            )
        painter.setBrush(Qt.BrushStyle.NoBrush)

    def _path(self, painter: QPainter) -> None:
        if self.trace is None or self.trace.machine is not self.session.machine or self.live.stepper.free:
            return
        ticks = len(self.trace.steps)
        # a long take is rehearsed in slices: its trace grows
        if self._went is None or self._went[0] is not self.trace or self._went[1] != ticks:
            bodies = [step.situation.body for step in self.trace.steps]
            # where it stands there is one dot
            places = dict.fromkeys((round(body.x), round(body.y) + 2) for body in bodies)
            self._went = self.trace, ticks, QPolygonF([QPointF(*at) for at in places])
        dots = paint.pen("faint", 2)
        dots.setCosmetic(True)
        # round ones take ten times as long
        dots.setCapStyle(Qt.PenCapStyle.SquareCap)
        painter.save()
        painter.translate(self.place(0, 0))
        painter.scale(self.camera.scale, -self.camera.scale)
        painter.setPen(dots)
        painter.drawPoints(self._went[2])
        painter.restore()

    def _frame(self, painter: QPainter, situation: Situation) -> None:
        mode = self.live.mode
        recording = self.live.recording is not None and mode == "driving"
        said = {
            "driving": "recording: steer, then press “End the take” or Esc"
            if recording
            else "you steer – Esc lets go, Backspace goes back",
            "playing": f"plays {self.live.take.name}" if self.live.take else "",
            "looking": f"tick {self.live.position} – steer, and it goes on from here",
        }.get(mode, "")
        if mode in ("driving", "playing"):
            area = QRectF(self.rect()).adjusted(1, 1, -2, -2)
            paint.frame(painter, area, "error" if recording else "chosen", 3)
        if said:
            fill = "error" if recording else "chosen"
            paint.plate(painter, QPointF(8, 8), said, self.width() - 16.0, fill, "on_chosen")
