"""Thin bars under a condition: for which values of each number it is true, with the value of this moment."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from leanstep.core.bearings import way_word
from leanstep.core.conditions.evaluation import Moment
from leanstep.core.conditions.expression import Expression
from leanstep.core.conditions.ranges import ranges, read_numbers
from leanstep.core.rehearsal.stepping import moment_of
from leanstep.desk import paint
from leanstep.desk.simulation import Simulation
from leanstep.desk.theme import font, theme
from leanstep.desk.widgets.basics import plain_tip

MOST = 4
"""Bars that have room beside each other."""
GAP = 16.0
RING = 11
"""Pixels from the middle of the ring of a direction to its arcs."""


class TruthBars(QWidget):
    """One bar for each number the condition reads, over that number's range: dark where the condition is true with everything
    else as it is now, light where it is once the rest of it is fulfilled."""

    def __init__(self, live: Simulation) -> None:
        super().__init__()
        self.live = live
        self.condition: Expression | None = None
        self.numbers: list[int] = []
        self._seen: object = None
        self.setFixedHeight(16)
        self.setAccessibleName("For which values the condition is true")
        live.ticked.connect(self._look)
        live.watchers.append(lambda ticks, situation, truths: situation.values if self.isVisible() else None)

    def sizeHint(self) -> QSize:
        return QSize(400, 16)

    def show_condition(self, condition: Expression | None) -> None:
        """Show a condition of the live character's machine; None: there is none that can be read."""
        machine = self.live.machine
        self.condition = condition
        self.numbers = read_numbers(condition, machine.symbols, machine.memories)[:MOST] if condition else []
        self.setVisible(bool(self.numbers))
        round_one = any(machine.symbols[number].kind == "bearing" for number in self.numbers)
        self.setFixedHeight(RING * 2 + 10 if round_one else 16)
        self.setToolTip(
            plain_tip(
                "Dark: true now at these values. Light: true once the rest of the condition is fulfilled. The line is the "
                "value of this moment."
            )
        )
        self.update()

    def _look(self) -> None:
        seen = self.live.situation.values
        if self.isVisible() and seen != self._seen:
            self._seen = seen
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        machine = self.live.machine
        if self.condition is None or any(number >= len(machine.symbols) for number in self.numbers):
            return
        painter = QPainter(self)
        painter.setFont(font(11))
        words = QFontMetricsF(painter.font())
        moment = moment_of(machine, self.live.situation)
        each = (self.width() + GAP) / max(1, len(self.numbers))
        for place, number in enumerate(self.numbers):
            symbol = machine.symbols[number]
            value = float(moment.values[number])
            if symbol.kind == "bearing":
                self._ring(painter, number, place * each, moment)
                continue
            low, high = f"{symbol.low:g}", f"{symbol.high:g}"
            texts = (f"{symbol.name} {value:.4g}", low, high)
            widths = [words.horizontalAdvance(texts[0]), words.horizontalAdvance(low), words.horizontalAdvance(high)]
            left = place * each
            name = QRectF(left, 0, max(widths[0], words.horizontalAdvance(f"{symbol.name} -000.0")), self.height())
            painter.setPen(theme.colour("soft"))
            painter.drawText(name, texts[0])
            bar = QRectF(name.right() + widths[1] + 8, 5, 0, 7)
            bar.setRight(left + each - GAP - widths[2] - 4)
            painter.drawText(QPointF(bar.left() - widths[1] - 4, 12), low)
            painter.drawText(QPointF(bar.right() + 4, 12), high)
            if bar.width() < 8 or symbol.high <= symbol.low:
                continue
            painter.fillRect(bar, theme.colour("rule"))
            per = bar.width() / (symbol.high - symbol.low)
            for one in ranges(self.condition, number, machine.symbols, machine.memories, moment):
                area = QRectF(bar.left() + (one.low - symbol.low) * per, bar.top(), (one.high - one.low) * per, 7)
                # a single value is still to be seen
                area.setWidth(max(2.0, area.width()))
                colour = theme.colour("chosen")
                colour.setAlpha(255 if one.now else 90)
                painter.fillRect(area.intersected(bar), colour)
            at = bar.left() + (value - symbol.low) * per
            painter.setPen(paint.pen("ink", 2))
            painter.drawLine(QPointF(at, 1), QPointF(at, 15))

    def _ring(self, painter: QPainter, number: int, left: float, moment: Moment) -> None:
        """A direction: where on its circle the condition is true, and where it points now."""
        machine, symbol = self.live.machine, self.live.machine.symbols[number]
        value, middle = float(moment.values[number]), self.height() / 2 + 2
        said = f"{symbol.name} {value:.0f}° {way_word(value)}"
        wide = QFontMetricsF(painter.font()).horizontalAdvance(said)
        painter.setPen(theme.colour("soft"))
        painter.drawText(QPointF(left, middle + 4), said)
        centre = QPointF(left + wide + 12 + RING, middle)
        assert self.condition is not None
        paint.rose(painter, centre, RING - 3, value)
        area = QRectF(centre.x() - RING, centre.y() - RING, 2 * RING, 2 * RING)
        for one in ranges(self.condition, number, machine.symbols, machine.memories, moment):
            colour = theme.colour("chosen")
            colour.setAlpha(255 if one.now else 90)
            painter.setPen(QPen(colour, 3.5, c=Qt.PenCapStyle.FlatCap))
            # Qt counts sixteenths of degrees from the right, anticlockwise
            painter.drawArc(area, round((90 - one.high) * 16), max(48, round((one.high - one.low) * 16)))
