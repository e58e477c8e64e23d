"""The witness as still pictures: what is on screen, tick by tick."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from leanstep.core.rehearsal.drawable import of_situation
from leanstep.core.rehearsal.traces import Trace
from leanstep.desk import paint
from leanstep.desk.session import Session
from leanstep.desk.theme import font, theme

STEP = 58.0


class Stills(QWidget):
    """Figures on one ground line, at the ticks on which a state is entered, and between them as many as fit."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.trace: Trace | None = None
        self.setFixedHeight(168)
        self.setAccessibleName("Witness in pictures")
        self.setToolTip("What is on screen, tick by tick")

    def sizeHint(self) -> QSize:
        return QSize(500, 168)

    def show_trace(self, trace: Trace | None) -> None:
        """Show a trace."""
        self.trace = trace
        self.update()

    def ticks(self) -> list[int]:
        """The ticks that are shown."""
        if self.trace is None:
            return []
        total, room = len(self.trace.steps), max(1, int(self.width() // STEP))
        changes = sorted(
            {run.start for layer in range(len(self.trace.machine.layers)) for run in self.trace.ribbon(layer)}
        )
        if len(changes) >= room or total <= room:
            return (changes if len(changes) >= room else list(range(total)))[:room]
        spread = {round(place * (total - 1) / (room - len(changes))) for place in range(room - len(changes) + 1)}
        return sorted({*changes, *spread})[:room]

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("leaf"))
        if self.trace is None:
            return
        ground = self.height() - 40.0
        painter.setPen(paint.pen("ink"))
        painter.drawLine(QPointF(0, ground), QPointF(self.width(), ground))
        machine = self.trace.machine
        for place, tick in enumerate(self.ticks()):
            situation = self.trace.steps[tick].situation
            x = STEP * (place + 0.5)
            shown = of_situation(machine, situation, self.trace.deformed(tick))
            room = paint.room_of(self.session.art, shown)
            if room is not None:
                scale = min(1.0, (ground - 6) / max(1.0, room[2]))
                paint.figure(painter, self.session.art, shown, QPointF(x, ground), scale)
            elif machine.layers:
                painter.setPen(paint.pen("faint", 1.2))
                painter.setBrush(paint.fill_of(machine, 0, situation.states[0]))
                paint.figureless(painter, QPointF(x, ground), min(64.0, ground - 12))
            name = machine.layers[0].states[situation.states[0]] if machine.layers else ""
            painter.setFont(font(12))
            painter.setPen(theme.colour("ink"))
            box = QRectF(x - STEP / 2 + 1, ground + 3, STEP - 2, 16)
            painter.drawText(
                box,
                Qt.AlignmentFlag.AlignCenter,
                painter.fontMetrics().elidedText(name, Qt.TextElideMode.ElideRight, int(STEP - 2)),
            )
            painter.setFont(font(11))
            painter.setPen(theme.colour("soft"))
            painter.drawText(box.translated(0, 16), Qt.AlignmentFlag.AlignCenter, f"tick {tick}")
