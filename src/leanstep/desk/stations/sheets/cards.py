"""The ways to cut a sheet: a card each, with its numbers and a live picture of the outcome."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QFrame, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from leanstep.core.character.sheets import Cut
from leanstep.core.errors import LeanStepError
from leanstep.core.sheets.cutting import Rect, left_over, rectangles
from leanstep.core.wording import counted
from leanstep.desk import paint
from leanstep.desk.theme import MEDIUM, font, theme
from leanstep.desk.widgets.basics import NumberField, button, label


class Thumb(QWidget):
    """The first frames a cut would give."""

    def __init__(self, image: Callable[[], QImage | None]) -> None:
        super().__init__()
        self.setFixedSize(QSize(68, 42))
        self.rects: list[Rect] = []
        self.image = image

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        area = QRectF(self.rect())
        paint.checker(painter, area, 6)
        image = self.image()
        if image is None or not self.rects:
            painter.setPen(theme.colour("faint"))
            painter.drawText(area, Qt.AlignmentFlag.AlignCenter, "–")
            return
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        shown = self.rects[:2]
        for place, rect in enumerate(shown):
            box = QRectF(1 + place * 33.5, 1, 32.5, 40)
            scale = min(box.width() / rect.width, box.height() / rect.height)
            target = QRectF(0, 0, rect.width * scale, rect.height * scale)
            target.moveCenter(box.center())
            painter.drawImage(target, image, QRectF(rect.x, rect.y, rect.width, rect.height))
            painter.setPen(paint.pen("edge"))
            painter.drawRect(target)


class Card(QFrame):
    """One way to cut.  ``tried``: its outcome is to be shown on the sheet; ``meant``: the sheet is to be cut so."""

    tried = Signal()
    meant = Signal()

    def __init__(self, title: str, image: Callable[[], QImage | None], cut: Callable[[], Cut | None]) -> None:
        super().__init__()
        self.setObjectName("layout")
        self.cut = cut
        self.rects: list[Rect] = []
        self.setFixedHeight(156)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(title)
        self.setToolTip("Click to see the outcome on the sheet; Enter cuts it so")
        grid = QGridLayout(self)
        grid.setContentsMargins(10, 7, 8, 7)
        grid.setHorizontalSpacing(6)
        grid.setVerticalSpacing(2)
        self.head = label(title)
        self.head.setFont(font(14, MEDIUM))
        grid.addWidget(self.head, 0, 0)
        self.outcome = label("", "soft", wrap=True)
        self.outcome.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.outcome.setFont(font(12))
        grid.addWidget(self.outcome, 1, 0, 1, 2)
        self.thumb = Thumb(image)
        grid.addWidget(self.thumb, 0, 1, Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignRight)
        self.fields = QVBoxLayout()
        self.fields.setSpacing(2)
        self.apply = button("Cut", f"{title}: cut the sheet so", self.meant.emit)
        self.apply.setStyleSheet("padding: 3px 8px;")
        foot = QHBoxLayout()
        foot.setSpacing(5)
        foot.addLayout(self.fields)
        foot.addStretch(1)
        foot.addWidget(self.apply, alignment=Qt.AlignmentFlag.AlignBottom)
        self.foot = foot
        grid.addLayout(foot, 2, 0, 1, 2)
        grid.setColumnStretch(0, 1)
        grid.setRowStretch(1, 1)

    def add_line(self, *parts: str | QWidget) -> None:
        """A line of numbers with words between them."""
        line = QHBoxLayout()
        line.setSpacing(4)
        for part in parts:
            if isinstance(part, str):
                said = label(part, "soft")
                said.setFont(font(12))
                line.addWidget(said)
                continue
            line.addWidget(part)
            if isinstance(part, NumberField):
                part.setMinimumWidth(36)
                part.setFixedSize(40, 22)
                part.setStyleSheet("padding: 0px 3px; min-height: 18px;")
                part.settled.connect(lambda value: self.tried.emit())
        line.addStretch(1)
        self.fields.addLayout(line)

    def show_outcome(self, size: tuple[int, int] | None, now: list[Rect], waiting: str = "") -> None:
        """Say what this cut would give of a sheet of which the frames are ``now``, or why it cannot be made; ``waiting`` is said
        while it is not yet known."""
        self.rects, current = [], False
        fault, cut, text = False, self.cut() if size is not None else None, waiting or "Choose or add a sheet first."
        if cut is not None and size is not None:
            try:
                self.rects = rectangles(cut, *size)
                current = bool(self.rects) and self.rects == now
                text = self._said(cut, size, current)
            except LeanStepError as error:
                text, fault = f"{error.reason[0].upper()}{error.reason[1:]}. {error.way_out}", True
        self.outcome.setText(text)
        role = "fault" if fault else "soft"
        if self.outcome.property("role") != role:
            self.outcome.setProperty("role", role)
            self.outcome.style().unpolish(self.outcome)
            self.outcome.style().polish(self.outcome)
        self.apply.setEnabled(bool(self.rects) and not current)
        self.thumb.rects = self.rects
        self.thumb.update()
        if self.property("current") != current:  # it takes its time
            self.setProperty("current", current)
            self.style().unpolish(self)
            self.style().polish(self)

    def _said(self, cut: Cut, size: tuple[int, int], current: bool) -> str:
        """The outcome in words."""
        if not self.rects:
            return "Nothing is drawn in this image."
        first = self.rects[0]
        equal = all((one.width, one.height) == (first.width, first.height) for one in self.rects)
        text = counted(len(self.rects), "frame") + (f" of {first.width} × {first.height} pixels" if equal else "")
        over = [f"{many} px {where}" for many, where in zip(left_over(cut, *size), ("right", "below")) if many]
        text += f", {' and '.join(over)} left over" if over else ""
        return text + (", as it is cut now." if current else ".")

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.tried.emit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.apply.isEnabled():
            self.meant.emit()
        elif event.key() == Qt.Key.Key_Space:
            self.tried.emit()
        else:
            super().keyPressEvent(event)
