"""The course under the hand: zoomed, moved, and its shapes changed."""

from __future__ import annotations

from msgspec.structs import replace
from PySide6.QtCore import QPoint, QPointF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QResizeEvent, QWheelEvent

from leanstep.core.character.body import Shape
from leanstep.desk.session import Session
from leanstep.desk.simulation import Simulation
from leanstep.desk.starts import Starts
from leanstep.desk.stations.rehearse.course_row import GRID, CourseRow, Held, dragged, held_at, snapped
from leanstep.desk.stations.rehearse.drawn_course import DrawnCourse
from leanstep.desk.stations.rehearse.screen_stick import ScreenStick
from leanstep.desk.widgets.menu import MenuEntries, MenuEntry
from leanstep.desk.widgets.zooming import wheel_steps


class CourseView(DrawnCourse):
    """The stage: it is moved and zoomed; shapes, the start and who stands there are dragged."""

    second_put = Signal(float, float)
    """The second figure was put at a place of the course."""

    def __init__(self, session: Session, live: Simulation, starts: Starts) -> None:
        super().__init__(session, live)
        self.starts = starts
        live.mode_changed.connect(self.update)
        self._panned: QPointF | None = None
        self.setAccessibleName("Course")
        self.setToolTip(
            "The character on its course. Ctrl+Space: steer it; Esc: let go. The wheel zooms, dragging moves what is seen."
        )
        # before the live character is told: what was looked at belongs to the file before
        session.closing.connect(self._forget)
        live.ticked.connect(self._tick)
        live.watchers.append(
            lambda ticks, situation, truths: self._drawn(situation, ticks) if self.isVisible() else None
        )
        live.mode_changed.connect(self._mode)
        self.stick = ScreenStick(live)
        self.stick.setParent(self)
        self.zooms.stepped.connect(self.zoom_by)
        self.zooms.fitted.connect(self.fit)
        session.body_shown.connect(self._show_number)

    def sizeHint(self) -> QSize:
        return QSize(900, 340)

    def resizeEvent(self, event: QResizeEvent) -> None:
        self.stick.move(self.width() - self.stick.width() - 10, self.height() - self.stick.height() - 8)
        self._aim()
        self.zooms.move(10, self.height() - self.zooms.sizeHint().height() - 8)

    def zoom_by(self, steps: int, at: QPointF | None = None) -> None:
        """Show the course so many steps larger."""
        self.camera.zoom_by(steps, at)
        self._look()

    def fit(self) -> None:
        """Show the course as it fits the figure, and follow it."""
        self.camera.fit()
        self._look()

    def _look(self) -> None:
        self._aim()
        self.update()

    def _mode(self) -> None:
        if self.live.mode in ("driving", "playing"):
            self.camera.follow()
        self.update()

    def _forget(self) -> None:
        self.camera.fit()
        self.trace, self.number = None, ""

    # --- the course under the hand

    def edit(self, row: CourseRow | None) -> None:
        """Let the course be changed by hand, what is chosen being said in a row; None: no more."""
        self.row, self._held, self._trial = row, None, None
        self._take_focus()
        self.setCursor(Qt.CursorShape.CrossCursor if row is not None else Qt.CursorShape.ArrowCursor)
        self.update()

    def _take_focus(self) -> None:
        """Keys are wanted while the course is changed, and while a path is shown."""
        wanted = self.row is not None or self.path.clip is not None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus if wanted else Qt.FocusPolicy.NoFocus)

    def show_path(self) -> None:
        """The clip whose path is shown may be another one."""
        self._take_focus()
        self.update()

    def wheelEvent(self, event: QWheelEvent) -> None:
        steps = wheel_steps(event)
        if steps:
            self.zoom_by(steps, event.position())
        event.accept()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.MiddleButton:
            self._panned = event.position()
            return
        if self.row is None:
            at = self.camera.on_course(event.position())
            if self.path.press(event.position(), self.place, self.live.situation):
                self.setFocus(Qt.FocusReason.MouseFocusReason)
                self.update()
            elif not self.second.press(at.x(), at.y()):
                self._panned = event.position()
            return
        at, course = self.camera.on_course(event.position()), self.session.document.course
        self._held = self._held_at(event.position())
        if self._held is None:
            self.row.choose(None)
            corner = Shape(
                x=snapped(at.x()), y=snapped(at.y()), width=0.0, height=0.0, kind=self.row.kind.currentData()
            )
            self._held = Held(len(course.shapes), (False, False, True, True), at, corner)
        else:
            self.row.choose(self._held.shape)
        self._trial = None
        self.update()

    def _held_at(self, where: QPointF) -> Held | None:
        """What of the course is under a place of the screen."""
        course = self.session.document.course
        return held_at(course.shapes, course.start, self.camera.on_course(where), 6.0 / self.camera.scale)

    def menu_entries(self, where: QPoint | None) -> MenuEntries:
        """What can be done with the shape at a place; without one, with the figure."""
        live, row = self.live, self.row
        if row is not None and where is not None:
            held = self._held_at(QPointF(where))
            row.choose(held.shape if held is not None else None)
        figure = [
            MenuEntry("Let go" if live.mode == "driving" else "Steer", live.toggle, "Ctrl+Space"),
            MenuEntry("Back to its start", live.restart, "Ctrl+R"),
        ]
        if where is not None:
            to = self.camera.on_course(QPointF(where))
            figure.append(MenuEntry("Put the figure here", lambda: self.starts.start_at(round(to.x()), round(to.y()))))
            if live.second is not None and live.mode in ("idle", "driving"):
                put = MenuEntry(
                    "Put the second figure here", lambda: self.second_put.emit(round(to.x()), round(to.y()))
                )
                figure.append(put)
        shape = row.menu_entries() if row is not None else []
        return [*shape, None, *figure] if shape else figure

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._panned is not None:
            self.camera.move(event.position() - self._panned)
            self._panned = event.position()
            self.update()
            return
        if self.second.holds:
            to = self.camera.on_course(event.position())
            self.second.drag(to.x(), to.y(), 6.0 / self.camera.scale)
            self.update()
        if self.path.held:
            to = self.camera.on_course(event.position())
            self.path.drag(to.x(), to.y(), self.live.situation)
            self.update()
        if self._held is not None:
            self._trial = dragged(self._held, self.camera.on_course(event.position()))
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._panned = None
        self.path.let_go()
        put = self.second.let_go()
        if put is not None:
            self.second_put.emit(*put)
        held, trial = self._held, self._trial
        self._held = self._trial = None
        self.update()
        if held is None or trial is None or self.row is None or trial == held.before:
            return
        if held.shape == len(self.session.document.course.shapes):
            if trial.width > GRID or trial.height > GRID:
                self.row.draw(trial)
        else:
            self.row.put(held.shape, trial)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if self.row is None and self.live.mode != "driving" and self.path.key_pressed(event):
            self.update()
            return
        step = {
            Qt.Key.Key_Left: (-GRID, 0.0),
            Qt.Key.Key_Right: (GRID, 0.0),
            Qt.Key.Key_Up: (0.0, GRID),
            Qt.Key.Key_Down: (0.0, -GRID),
        }.get(Qt.Key(event.key()))
        shapes = self.session.document.course.shapes
        if self.row is None or self.row.chosen is None or not 0 <= self.row.chosen < len(shapes):
            super().keyPressEvent(event)
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.row.remove()
        elif step is not None:
            one = shapes[self.row.chosen]
            if event.modifiers() & Qt.KeyboardModifier.AltModifier:
                wide, high = max(GRID, one.width + step[0]), max(GRID, one.height + step[1])
                self.row.put(self.row.chosen, replace(one, width=wide, height=high))
            else:
                self.row.put(self.row.chosen, replace(one, x=one.x + step[0], y=one.y + step[1]))
        else:
            super().keyPressEvent(event)

    def _show_number(self, name: str) -> None:
        """Draw what a number of the body does while it is looked at."""
        self.number = name
        self.update()
