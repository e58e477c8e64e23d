"""The head of a parameter's row: its name and value, drawn, and how both are changed."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from leanstep.core.bearings import bearing_of, way_word
from leanstep.core.character.inputs import Parameter
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.desk import paint
from leanstep.desk.theme import BOLD, font, theme

OWNERS = {"game": "the game", "controls": "controls", "body": "the body", "graph": "the graph", "formula": "a formula"}
HEAD, ROSE = 38, 12.0


class Head(QWidget):
    """Name, who sets it, and its live value on a small line with the cuts that conditions make.  ``toggled``: it was clicked.

    The value of what the game sets is a handle: ``handled`` tells the value it is dragged to, True for a pulse.
    """

    toggled = Signal()
    handled = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self.parameter = Parameter(name="")
        self._drags = False
        self.value: Symbolic | None = None
        self.cuts: list[float] = []
        self.open = False
        self.setFixedHeight(HEAD)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setToolTip("Click to see and change everything about it")

    def sizeHint(self) -> QSize:
        return QSize(240, HEAD)

    def show_value(self, value: Symbolic | None) -> None:
        """Show its value of this moment."""
        if value != self.value:
            self.value = value
            self.update()

    def words(self) -> str:
        """The value in words."""
        if self.value is None:
            return "–"
        if isinstance(self.value, bool):
            return "on" if self.value else "off"
        if isinstance(self.value, str):
            return self.value
        if self.parameter.kind == "bearing":
            return f"{self.value:.0f}° {way_word(self.value)}"
        return f"{self.value:.4g} {self.parameter.unit}".strip()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        one, width = self.parameter, self.width()
        if self.hasFocus() or self.underMouse() or self.open:
            painter.fillRect(self.rect(), theme.colour("leaf"))
        painter.setPen(theme.colour("ink"))
        painter.setFont(font(13, BOLD if self.open else font().weight()))
        middle = Qt.AlignmentFlag.AlignVCenter
        painter.drawText(QRectF(4, 2, width * 0.6, 18), Qt.AlignmentFlag.AlignLeft | middle, one.name)
        painter.setFont(font(12))
        room = ROSE * 2 + 14 if one.kind == "bearing" else 6
        painter.drawText(
            QRectF(width * 0.3, 2, width * 0.7 - room, 18), Qt.AlignmentFlag.AlignRight | middle, self.words()
        )
        painter.setPen(theme.colour("soft"))
        painter.setFont(font(11))
        painter.drawText(
            QRectF(4, 19, width * 0.4, 15), Qt.AlignmentFlag.AlignLeft | middle, f"set by {OWNERS[one.owner]}"
        )
        if one.kind == "bearing":
            told = float(self.value) if isinstance(self.value, int | float) else None
            paint.rose(painter, self._rose(), ROSE, told, self.cuts)
        else:
            self._line(painter, self._place())
        painter.setPen(paint.pen("rule"))
        painter.drawLine(0, self.height() - 1, width, self.height() - 1)

    def _place(self) -> QRectF:
        """Where the line of its range is."""
        return QRectF(self.width() * 0.45, 27, self.width() * 0.55 - 10, 0)

    def _rose(self) -> QPointF:
        """Where the ring of a direction is."""
        return QPointF(self.width() - ROSE - 6, 20)

    @property
    def is_handle(self) -> bool:
        """Whether a person can set the value here, for the game."""
        return self.parameter.owner == "game"

    def _handle(self, where: QPointF) -> None:
        """Set the value to that at a place of the line, or of the ring."""
        one, line, x = self.parameter, self._place(), where.x()
        if one.kind == "bearing":
            off = where - self._rose()
            self.handled.emit(float(round(bearing_of(off.x(), -off.y())) % 360))
            return
        low, high = self._range()
        at = low + min(max((x - line.x()) / max(1.0, line.width()), 0.0), 1.0) * (high - low)
        if one.kind == "pulse":
            self.handled.emit(True)
        elif one.kind == "flag":
            self.handled.emit(at >= 0.5)
        elif one.kind == "choice":
            self.handled.emit(one.choices[round(at)])
        else:
            self.handled.emit(float(round(at)) if one.kind == "whole" else float(f"{at:.3g}"))

    def _line(self, painter: QPainter, line: QRectF) -> None:
        painter.setPen(paint.pen("edge", 2))
        painter.drawLine(line.topLeft(), line.topRight())
        low, high = self._range()
        span = max(high - low, 1e-9)

        def place(value: float) -> float:
            return line.left() + min(max((value - low) / span, 0.0), 1.0) * line.width()

        painter.setPen(paint.pen("mark", 1.4))
        for cut in self.cuts:
            painter.drawLine(QPointF(place(cut), line.y() - 5), QPointF(place(cut), line.y() + 5))
        at = self.value
        if isinstance(at, str):
            choices = self.parameter.choices
            at = float(choices.index(at)) if at in choices else None
        if at is not None:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.colour("ink"))
            if self.is_handle:
                painter.setPen(paint.pen("ink", 1.6))
                painter.setBrush(theme.colour("leaf"))
            painter.drawEllipse(
                QPointF(place(float(at)), line.y()), 5 if self.is_handle else 4, 5 if self.is_handle else 4
            )
            painter.setBrush(Qt.BrushStyle.NoBrush)

    def _range(self) -> tuple[float, float]:
        one = self.parameter
        if one.kind in ("flag", "pulse"):
            return 0.0, 1.0
        if one.kind == "choice":
            return 0.0, max(1.0, len(one.choices) - 1.0)
        # where nothing bounds it, the cuts and the value do
        here = [float(self.value)] if isinstance(self.value, int | float) else [0.0]
        low = min([*self.cuts, *here, 0.0]) if one.min is None and not one.countdown else one.low
        high = max([*self.cuts, *here, 1.0]) if one.max is None else one.max
        return float(low), float(high)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        where, line = event.position(), self._place()
        if self.parameter.kind == "bearing":
            near = (where - self._rose()).manhattanLength() < ROSE * 1.6
        else:
            near = where.x() > line.x() - 6 and abs(where.y() - line.y()) < 10
        self._drags = self.is_handle and near
        if self._drags:
            self._handle(where)
        else:
            self.toggled.emit()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._drags and self.parameter.kind != "pulse":
            self._handle(event.position())

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._drags = False

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.toggled.emit()
        else:
            super().keyPressEvent(event)
