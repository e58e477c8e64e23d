"""From a sheet to a figure that is steered: which rows stand and walk, and whether it walks forwards."""

from __future__ import annotations

from PySide6.QtCore import QPointF, Qt, QTimer, Signal
from PySide6.QtGui import QHideEvent, QKeyEvent, QPainter, QPaintEvent, QShowEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QVBoxLayout, QWidget

from leanstep.core.rehearsal.drawable import of_frame
from leanstep.desk import paint
from leanstep.desk.art import Art
from leanstep.desk.theme import theme
from leanstep.desk.widgets.basics import DropDown, button, label

STEP = 100
"""Milliseconds a frame is shown."""
STRIDE = 9.0
"""Pixels the figure goes on with every frame."""


class March(QWidget):
    """A figure that walks to the right, over and over."""

    def __init__(self, art: Art) -> None:
        super().__init__()
        self.art = art
        self.sheet, self.frames, self.mirrored = "", list[int](), False
        self.step = 0
        self.timer = QTimer(self, interval=STEP)
        self.timer.timeout.connect(self._go_on)
        self.setMinimumSize(240, 96)
        self.setAccessibleName("The figure, walking to the right")

    def showEvent(self, event: QShowEvent) -> None:
        self.timer.start()

    def hideEvent(self, event: QHideEvent) -> None:
        self.timer.stop()

    def _go_on(self) -> None:
        self.step += 1
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.colour("leaf"))
        ground = self.height() - 12.0
        painter.setPen(paint.pen("ink", 1))
        painter.drawLine(QPointF(0, ground), QPointF(self.width(), ground))
        if not self.frames:
            return
        drawable = of_frame(self.sheet, self.frames[self.step % len(self.frames)], self.mirrored)
        room = paint.room_of(self.art, drawable)
        if room is not None:
            scale = paint.whole_scale((1.0, max(1.0, room[2])), self.width(), ground - 2)
            x = (self.step * STRIDE) % (self.width() + 40) - 20
            paint.figure(painter, self.art, drawable, QPointF(x, ground), min(scale, 3.0))


class WalkPanel(QFrame):
    """``meant``: rows (idle, walk) make a figure that is steered, drawn facing ``right`` or ``left``; ``asks``: it is shown or
    hidden."""

    meant = Signal(int, int, str)
    asks = Signal(bool)

    def __init__(self, art: Art) -> None:
        super().__init__()
        self.setObjectName("question")
        self.rows: list[list[int]] = []
        self.facing = "right"
        self.words = label("It has rows for standing and walking: is that right, and does it walk forwards?", wrap=True)
        self.idle, self.walk = DropDown(), DropDown()
        for box, name in ((self.idle, "Row that stands"), (self.walk, "Row that walks")):
            box.setAccessibleName(name)
            box.setToolTip(f"{name}; guessed from how much its frames move")
            box.activated.connect(lambda at: self._show())
        self.march = March(art)
        self.steer = button(
            "It walks forwards: steer it", "Make a figure of it and steer it (Enter)", self._mean, main=True
        )
        self.turn = button("It walks backwards: turn it", "Its drawings face the other way", self._turn)
        self.later = button("Not now", "Only cut the sheet", self.hide)
        rows = QHBoxLayout()
        for text, box in (("stands", self.idle), ("walks", self.walk)):
            rows.addWidget(label(text, "soft"))
            rows.addWidget(box, 1)
        buttons = QHBoxLayout()
        for one in (self.steer, self.turn, self.later):
            buttons.addWidget(one)
        side = QVBoxLayout()
        side.addWidget(self.words)
        side.addLayout(rows)
        side.addLayout(buttons)
        whole = QHBoxLayout(self)
        whole.setContentsMargins(10, 6, 8, 6)
        whole.addLayout(side, 3)
        whole.addWidget(self.march, 2)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.hide()

    def ask(self, sheet: str, rows: list[list[int]], idle: int, walk: int, facing: str) -> None:
        """Ask about the rows of a sheet, with a guess."""
        self.rows, self.facing, self.march.sheet = rows, facing, sheet
        for box, guess in ((self.idle, idle), (self.walk, walk)):
            box.clear()
            box.addItems([f"Row {n + 1}: frames {row[0]} to {row[-1]}" for n, row in enumerate(rows)])
            box.setCurrentIndex(guess)
        self._show()
        self.show()
        self.setFocus()

    def _show(self) -> None:
        self.march.frames = self.rows[self.walk.currentIndex()]
        self.march.mirrored = self.facing == "left"
        self.march.update()

    def _turn(self) -> None:
        self.facing = "left" if self.facing == "right" else "right"
        self._show()
        self.setFocus()

    def _mean(self) -> None:
        self.hide()
        self.meant.emit(self.idle.currentIndex(), self.walk.currentIndex(), self.facing)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._mean()
        elif event.key() == Qt.Key.Key_Escape:
            self.hide()
        else:
            super().keyPressEvent(event)

    def setVisible(self, visible: bool) -> None:
        super().setVisible(visible)
        self.asks.emit(visible)
