"""The route: the stations as words on a path across the top, and what is handed on from one to the next."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QToolTip, QWidget

from leanstep.desk import paint
from leanstep.desk.session import Session
from leanstep.desk.stations.registry import STATIONS, mending
from leanstep.desk.stations.station import Specification
from leanstep.desk.theme import BOLD, font, theme


class StationBar(QWidget):
    """A stop for every station on a path.  ``went`` tells the name of the station a person goes to."""

    went = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.current = STATIONS[0].name
        self.counts = [""] * len(STATIONS)
        self.faults = [0] * len(STATIONS)
        self.setFixedHeight(58)
        self.setMinimumWidth(640)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Route: " + ", ".join(one.name for one in STATIONS))

    def sizeHint(self) -> QSize:
        return QSize(820, 58)

    def show_state(self, session: Session) -> None:
        """Show what each station hands on, and where something needs attention."""
        self.counts = [one.handed_on(session) for one in STATIONS]
        errors = [one for one in session.report.findings if one.severity == "error"] if session.report else []
        self.faults = [sum(one.judges or mending(error.subject) is one for error in errors) for one in STATIONS]
        self.update()

    def stop(self, number: int) -> QRectF:
        """Where a stop is."""
        width = self.width() / len(STATIONS)
        return QRectF(number * width, 0, width, self.height())

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        y = 20.0
        path = QPainterPath(QPointF(self.stop(0).center().x(), y))
        for number in range(len(STATIONS) - 1):
            a, b = self.stop(number).center().x(), self.stop(number + 1).center().x()
            rise = 7 if number % 2 else -7
            path.cubicTo(QPointF(a + (b - a) / 3, y + rise), QPointF(b - (b - a) / 3, y + rise), QPointF(b, y))
        track = paint.pen("edge", 2)
        track.setDashPattern([1, 3])
        painter.setPen(track)
        painter.drawPath(path)
        for number, one in enumerate(STATIONS):
            self._stop(painter, number, one, y)
        if self.hasFocus():
            painter.setPen(paint.pen("chosen"))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(self.stop(self._current()).adjusted(4, 2, -4, -2), 4, 4)

    def _stop(self, painter: QPainter, number: int, station: Specification, y: float) -> None:
        name, here = station.name, station.name == self.current
        painter.setFont(font(15, BOLD if here else font().weight(), serif=True))
        width = painter.fontMetrics().horizontalAdvance(name) + 22
        centre = self.stop(number).center().x()
        box = QRectF(centre - width / 2, y - 13, width, 26)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colour("chosen" if here else "paper"))
        painter.drawRoundedRect(box, 13, 13)
        painter.setPen(theme.colour("on_chosen" if here else "ink"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, name)
        painter.setFont(font(12))
        text = self.counts[number]
        fault = self.faults[number]
        below = QRectF(centre - 80, y + 15, 160, 18)
        painter.setPen(theme.colour("soft"))
        if fault and not station.judges:
            text = f"{text}, {fault} to mend"
        if fault:
            painter.setPen(theme.colour("error"))
        painter.drawText(below, Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignVCenter, text)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.went.emit(STATIONS[self._at(event.position())].name)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        number = self._at(event.position())
        station = STATIONS[number]
        QToolTip.showText(
            event.globalPosition().toPoint(), f"{station.name}: {station.purpose} (Ctrl+{number + 1})", self
        )

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
        else:
            self.went.emit(STATIONS[(self._current() + step) % len(STATIONS)].name)

    def _current(self) -> int:
        return next(number for number, one in enumerate(STATIONS) if one.name == self.current)

    def _at(self, where: QPointF) -> int:
        return max(0, min(len(STATIONS) - 1, int(where.x() // (self.width() / len(STATIONS)))))
