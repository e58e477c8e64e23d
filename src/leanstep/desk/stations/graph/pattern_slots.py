"""What can show a slot of a pattern: moving figures, and frames in words."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from PySide6.QtCore import QPointF, QSize
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import (
    QWidget,
)

from leanstep.core.character.clips import Clip
from leanstep.core.clips.timing import TICK, timing
from leanstep.core.patterns.slots import Fill, Row, part_of
from leanstep.core.rehearsal.drawable import NOTHING, Drawable, of_cel
from leanstep.desk import paint
from leanstep.desk.art import Art
from leanstep.desk.theme import theme

STEP = 3
"""Ticks that figures go on at a time."""
NOTHING_YET = "nothing yet"
FIGURE = QSize(72, 72)


class Figure(QWidget):
    """A clip that plays over and over; a plain shape while it has no drawings."""

    def __init__(self, art: Art, name: str) -> None:
        super().__init__()
        self.art, self.clip, self.ticks = art, Clip(name=name), 0
        self.setFixedSize(FIGURE)
        self.setAccessibleName(f"What {name} shows")

    def show_clip(self, clip: Clip) -> None:
        """Play another clip."""
        self.clip, self.ticks = clip, 0
        self.update()

    def drawable(self) -> Drawable:
        """What is shown now."""
        if not self.clip.cels:
            return NOTHING
        made = timing(self.clip)
        at = made.cel_at(self.ticks * TICK % made.length)
        return NOTHING if at is None else of_cel(self.clip, self.clip.cels[at])

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("leaf"))
        ground = self.height() - 8.0
        painter.setPen(paint.pen("edge"))
        painter.drawLine(QPointF(0, ground), QPointF(self.width(), ground))
        shown, foot = self.drawable(), QPointF(self.width() / 2, ground)
        room = paint.room_of(self.art, shown)
        if room is None:
            painter.setPen(paint.pen("faint", 1.2))
            paint.figureless(painter, foot, 44)
            return
        scale = paint.whole_scale((room[0], max(1.0, room[2])), self.width() - 4, ground - 4)
        paint.figure(painter, self.art, shown, foot, min(scale, 2.0))


def frames_in_words(fill: Fill) -> str:
    if fill.clip or not fill.frames:
        return fill.clip or NOTHING_YET
    return f"{fill.sheet}, {numbers_in_words(fill.frames)}"


def row_choices(slot: str, row: Row) -> Iterator[tuple[str, Fill]]:
    """A row as what shows a slot: the whole of it, and its part where it shows several things in one go."""
    part = part_of(slot, row.frames)
    if part is not None and part != row.frames:
        yield f"{row.sheet}, {numbers_in_words(part)}", Fill(sheet=row.sheet, frames=part)
    yield f"{row.sheet}, {numbers_in_words(row.frames)}", Fill(sheet=row.sheet, frames=row.frames)


def numbers_in_words(frames: Sequence[int]) -> str:
    return f"frame {frames[0]}" if len(frames) == 1 else f"frames {frames[0]} to {frames[-1]}"
