"""What can be handed over, as a list to tick, and what was chosen for a character."""

from __future__ import annotations

from typing import Any

import msgspec
from PySide6.QtCore import QRect, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QPainter
from PySide6.QtWidgets import (
    QListView,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QWidget,
)

from leanstep.core.formats.atlas import Packing
from leanstep.core.formats.handover import FORMATS
from leanstep.core.formats.handover_source import Format
from leanstep.desk.session import Session
from leanstep.desk.theme import BOLD, font, theme
from leanstep.desk.widgets.list_model import ITEM

ROW, TICK = 46, 18
"""Height of a row of the list and of the box in it, in pixels."""
USUAL = ("table", "players", "atlas")
"""What is handed over unless something else was chosen."""


class HandoverChoice(msgspec.Struct):
    """What was chosen for a character: what goes out, where to, whether after every save, and how."""

    wanted: list[str] = msgspec.field(default_factory=lambda: list(USUAL))
    folder: str = ""
    again: bool = False
    scale: int = 1
    fixes: bool = False
    trim: bool = True
    padding: int = 2
    extrude: int = 0
    power_of_two: bool = False
    rotate: bool = False

    @property
    def packing(self) -> Packing:
        """How an atlas is packed."""
        return Packing(self.trim, self.padding, self.extrude, self.power_of_two, self.rotate)


def settings_key(session: Session) -> str:
    path = session.history.path
    return f"handover/{path.absolute().as_posix().replace('/', '|')}" if path is not None else ""


def kept_for(session: Session) -> HandoverChoice:
    """What was chosen for the character that is open."""
    text = str(session.settings.value(settings_key(session), "")) if settings_key(session) else ""
    try:
        kept = msgspec.json.decode(text, type=HandoverChoice)
    except (msgspec.MsgspecError, ValueError):
        return HandoverChoice()
    kept.wanted = [key for key in kept.wanted if key in FORMATS]
    return kept


class GoodsDelegate(QStyledItemDelegate):
    """Draws one of the things that can go out: a box that is ticked, its title, and what it is for."""

    def __init__(self, owner: QWidget, wanted: Any) -> None:
        super().__init__(owner)
        self.wanted = wanted

    def sizeHint(self, option: QStyleOptionViewItem, index: object) -> QSize:
        return QSize(200, ROW)

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: object) -> None:
        one: Format = index.data(ITEM)  # type: ignore[attr-defined]
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        area = option.rect
        painter.save()
        painter.fillRect(area, theme.colour("chosen" if chosen else "leaf"))
        ink = theme.colour("on_chosen" if chosen else "ink")
        box = QRect(area.x() + 12, area.y() + (ROW - TICK) // 2, TICK, TICK)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(ink)
        painter.drawRoundedRect(box, 3, 3)
        if one.key in self.wanted():
            painter.drawLine(box.x() + 4, box.y() + 9, box.x() + 8, box.y() + 13)
            painter.drawLine(box.x() + 8, box.y() + 13, box.x() + 14, box.y() + 5)
        text = area.adjusted(42, 4, -8, -4)
        painter.setFont(font(13, BOLD))
        painter.drawText(text, Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignLeft, one.title)
        painter.setFont(font(12))
        painter.setPen(theme.colour("on_chosen" if chosen else "soft"))
        words = painter.fontMetrics().elidedText(one.purpose, Qt.TextElideMode.ElideRight, text.width())
        painter.drawText(text, Qt.AlignmentFlag.AlignBottom | Qt.AlignmentFlag.AlignLeft, words)
        painter.setPen(theme.colour("rule"))
        painter.drawLine(area.bottomLeft(), area.bottomRight())
        painter.restore()


class GoodsList(QListView):
    """The list; a click on a box or Space ticks it."""

    ticked = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self.setMouseTracking(True)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Space:
            self.ticked.emit(self.currentIndex().row())
        else:
            super().keyPressEvent(event)

    def mouseReleaseEvent(self, event: Any) -> None:
        super().mouseReleaseEvent(event)
        index = self.indexAt(event.position().toPoint())
        if index.isValid() and event.position().x() < 42:
            self.ticked.emit(index.row())
