"""Frames side by side, standing on one ground line."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QImage, QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from leanstep.core.rehearsal.drawable import Drawable, of_frame
from leanstep.desk import paint
from leanstep.desk.session import Session
from leanstep.desk.theme import font, theme

STEP = 58.0


COMPARISONS = (("Frames alone", ""), ("Over the one before", "onion"), ("Differences", "difference"))
"""How frames are compared with the one before, in words."""

GHOST = 0.3
"""How much of the one before is seen."""


class Strip(QWidget):
    """The frames side by side with their feet on one ground line: a wandering foot is seen at once."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.sheet = ""
        self.frames: list[int] = []
        self.comparison = ""
        self.boxes = False
        self.setFixedHeight(112)
        self.setAccessibleName("Frames on the ground line")
        self.setToolTip("The frames in order, feet on one line")

    def sizeHint(self) -> QSize:
        return QSize(600, 112)

    def show_frames(self, sheet: str, frames: list[int]) -> None:
        """Show some frames of a sheet."""
        self.sheet, self.frames = sheet, frames
        self.setFixedWidth(max(300, int(STEP * len(frames)) + 8))
        self.update()

    def show_boxes(self, shown: bool) -> None:
        """Show the frames' body boxes, or not."""
        self.boxes = shown
        self.update()

    def compare_by(self, comparison: str) -> None:
        """Show frames alone, over the one before (``onion``), or what differs from it (``difference``; equal pixels are
        black)."""
        self.comparison = comparison
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("leaf"))
        ground = self.height() - 22.0
        painter.setPen(paint.pen("ink", 1))
        painter.drawLine(QPointF(0, ground), QPointF(self.width(), ground))
        painter.setFont(font(11))
        drawn = [(frame, of_frame(self.sheet, frame)) for frame in self.frames]
        rooms = [(frame, shown, room) for frame, shown in drawn if (room := paint.room_of(self.session.art, shown))]
        if not rooms:
            return
        tallest = max(room[1] for _, _, room in rooms)
        scale = min(1.0, (ground - 4) / tallest) if tallest > ground - 4 else float(int((ground - 4) / tallest))
        for place, (frame, shown, _) in enumerate(rooms):
            x = STEP * (place + 0.5)
            before = rooms[place - 1][1] if place and self.comparison else None
            if before is not None and self.comparison == "onion":
                paint.figure(painter, self.session.art, before, QPointF(x, ground), scale, GHOST)
            if before is not None and self.comparison == "difference":
                painter.drawImage(QPointF(x - STEP / 2, 0), self._difference(before, shown, scale, ground))
            else:
                paint.figure(painter, self.session.art, shown, QPointF(x, ground), scale)
            if self.boxes:
                paint.body_box(painter, self.session.art.box(shown.pieces[0]), QPointF(x, ground), scale)
            painter.setPen(theme.colour("soft"))
            painter.drawText(QRectF(x - STEP / 2, ground + 3, STEP, 16), Qt.AlignmentFlag.AlignCenter, str(frame))

    def _difference(self, before: Drawable, shown: Drawable, scale: float, ground: float) -> QImage:
        """What differs between two frames that stand on the same foot."""
        image = QImage(int(STEP), self.height(), QImage.Format.Format_ARGB32_Premultiplied)
        image.fill(Qt.GlobalColor.transparent)
        with QPainter(image) as painter:
            foot = QPointF(STEP / 2, ground)
            paint.figure(painter, self.session.art, shown, foot, scale)
            painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Difference)
            paint.figure(painter, self.session.art, before, foot, scale)
        return image
