"""The route: the six stations as words on a path across the top, and what is handed on from one to the next."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QToolTip, QWidget

from leanstep.core.character.model import Character
from leanstep.core.findings.report import Report
from leanstep.core.wording import counted
from leanstep.desk import paint
from leanstep.desk.theme import BOLD, font, theme

STATIONS = ("Sheets", "Clips", "Blends", "Graph", "Rehearse", "Findings")
_PURPOSE = (
    "Cut images into frames",
    "String frames into clips",
    "Arrange clips by speed",
    "Arrange states and say when one gives way to another",
    "Steer the character, record takes and replay them",
    "Read what is wrong, and see it happen",
)
_SUBJECTS = (("sheet",), ("clip",), ("blend",), ("state", "states", "transition", "assumption"), ("take",))


class Route(QWidget):
    """Six stops on a path.  ``went`` tells the number of the stop a person goes to."""

    went = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self.current = 0
        self.counts: list[str] = [""] * 6
        self.faults: list[int] = [0] * 6
        self.setFixedHeight(58)
        self.setMinimumWidth(640)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Route: " + ", ".join(STATIONS))

    def sizeHint(self) -> QSize:
        return QSize(820, 58)

    def show_state(self, character: Character, report: Report | None, stopped: bool) -> None:
        """Show what each station hands on, and where something needs attention."""
        states = sum(len(layer.states) for layer in character.layers)
        self.counts = [
            _count(len(character.sheets), "sheet"),
            _count(len(character.clips), "clip"),
            _count(len(character.blends), "space"),
            _count(states, "state"),
            _count(len(character.takes), "take"),
            _verdict(report) if report else "not checked" if stopped else "checking …",
        ]
        self.faults = [0] * 6
        for finding in report.findings if report else ():
            if finding.severity == "error":
                for station, kinds in enumerate(_SUBJECTS):
                    if any(kind in finding.subject for kind in kinds):
                        self.faults[station] += 1
                        break
                self.faults[5] += 1
        self.update()

    def stop(self, number: int) -> QRectF:
        """Where a stop is."""
        width = self.width() / 6
        return QRectF(number * width, 0, width, self.height())

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        y = 20.0
        path = QPainterPath(QPointF(self.stop(0).center().x(), y))
        for number in range(5):
            a, b = self.stop(number).center().x(), self.stop(number + 1).center().x()
            rise = 7 if number % 2 else -7
            path.cubicTo(QPointF(a + (b - a) / 3, y + rise), QPointF(b - (b - a) / 3, y + rise), QPointF(b, y))
        track = paint.pen("edge", 2)
        track.setDashPattern([1, 3])
        painter.setPen(track)
        painter.drawPath(path)
        for number, name in enumerate(STATIONS):
            self._stop(painter, number, name, y)
        if self.hasFocus():
            painter.setPen(paint.pen("chosen"))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(self.stop(self.current).adjusted(4, 2, -4, -2), 4, 4)

    def _stop(self, painter: QPainter, number: int, name: str, y: float) -> None:
        here = number == self.current
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
        if fault and number < 5:
            text = f"{text}, {fault} to mend"
        if fault:
            painter.setPen(theme.colour("error"))
        painter.drawText(below, Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignVCenter, text)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.went.emit(self._at(event.position()))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        number = self._at(event.position())
        QToolTip.showText(
            event.globalPosition().toPoint(), f"{STATIONS[number]}: {_PURPOSE[number]} (Ctrl+{number + 1})", self
        )

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
        else:
            self.went.emit((self.current + step) % 6)

    def _at(self, where: QPointF) -> int:
        return max(0, min(5, int(where.x() // (self.width() / 6))))


def _count(number: int, noun: str) -> str:
    return f"no {noun} yet" if not number else counted(number, noun)


def _verdict(report: Report) -> str:
    errors, warnings = report.count("error"), report.count("warning")
    if errors:
        return _count(errors, "error")
    return _count(warnings, "warning") if warnings else "all sound"
