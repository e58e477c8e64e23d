"""The rows of a take over time: control bars, curves with their thresholds, and the ribbon."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPolygonF, QRegion

from leanstep.core.character.takes import Take
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.pair_traces import PairTrace
from leanstep.core.rehearsal.second_figures import PairSteps
from leanstep.core.rehearsal.traces import Run, Trace
from leanstep.desk import paint
from leanstep.desk.ribbons import flickers
from leanstep.desk.theme import font, theme
from leanstep.desk.widgets.input_bars import Bar, bars_of
from leanstep.desk.widgets.lanes import Block, Lane, Lanes

LABELS = 92.0
CONTROL, CURVE, RIBBON = 17.0, 38.0, 17.0


@dataclass
class Line:
    """One row: a control's bars, a curve, or the stays of a lane of states."""

    kind: str
    index: int
    lane: int
    top: float
    height: float


class TakeLanes(Lanes):
    """The rows of a take, as they are drawn; who shows a take says which there are."""

    left = LABELS

    def __init__(self) -> None:
        super().__init__()
        self.machine: Machine | None = None
        self.take: Take | None = None
        self.trace: Trace | None = None
        self.events: list[tuple[int, int, str]] = []
        self._runs: list[list[Run]] = []
        self._lines: list[Line] = []
        self._thresholds: dict[int, list[float]] = {}
        self._trial: Take | None = None
        self._total = 1
        self.chosen: tuple[str, int] | None = None
        self.met: list[tuple[str, str]] = []
        self.game: list[Sequence[int] | None] = []

    def draw(self, painter: QPainter) -> None:
        if self.machine is None or self.take is None or self.trace is None:
            painter.setPen(theme.colour("soft"))
            painter.drawText(
                QRectF(self.rect()), Qt.AlignmentFlag.AlignCenter, "Record a take, and it is laid out here."
            )
            return
        for line in self._lines:
            if line.kind == "ribbon":
                self.draw_lane(painter, self._ribbon(line))
            elif line.kind == "game":
                self.draw_lane(painter, self._game(line))
            elif line.kind == "other":
                self.draw_lane(painter, self._other(line))
            elif line.kind == "contacts":
                self._contacts(painter, line)
            elif line.kind == "curve":
                self._curve(painter, line)
            elif line.kind == "events":
                self._events(painter, line)
            elif line.kind == "expectation":
                self.draw_lane(painter, self._expectation(line))
            elif self._trial is None:
                self.draw_lane(painter, self._control(line))
        rate = self.machine.character.rate
        short = [(ticks, "{tick:g}") for ticks in (1, 2, 5) if ticks < 0.2 * rate]
        seconds = (0.25, 0.5, 1, 2, 5, 10, 30, 60, 300, 1800, 3600)
        self.draw_ruler(painter, [*short, *((one * rate, "{second:g} s") for one in seconds)], rate)

    def draw_over(self, painter: QPainter, where: QRegion) -> None:
        """Bars that are being dragged."""
        for line in self._lines if self._trial is not None else ():
            if line.kind == "control":
                self.draw_lane(painter, self._control(line))

    def _control(self, line: Line) -> Lane:
        """The bars of a control as a lane."""
        assert self.machine is not None
        name = self.machine.symbols[line.index].name
        colours = [
            ("chosen", "on_chosen") if self.chosen == (name, at) else ("edge", "ink")
            for at in range(len(self._bars(line)))
        ]
        blocks = tuple(
            Block(bar.start, bar.end, (_value_text(bar.value),), *colour, round=True)
            for bar, colour in zip(self._bars(line), colours)
        )
        return Lane(line.top, line.height, name, blocks, line=True)

    def _expectation(self, line: Line) -> Lane:
        """One of the take's expectations: whether it is met, or what is missing."""
        words, missing = self.met[line.index]
        text, fill, ink = (f"✗ {missing}", "leaf", "error") if missing else (f"✓ {words}", "met", "ink")
        block = Block(0, self._total, (text, words, "✗" if missing else "✓"), fill, ink, centred=False)
        return Lane(line.top, line.height, "expected", (block,))

    def _ribbon(self, line: Line) -> Lane:
        """The stays in a lane of states."""
        assert self.machine is not None
        machine, table = self.machine, self.machine.character.layers[line.index]
        names = machine.layers[line.index].states
        runs = self._runs[line.index]
        blocks = tuple(
            Block(
                run.start,
                run.end,
                (names[run.state],),
                paint.fill_of(machine, line.index, run.state),
                hatched=flickers(runs, number, machine.window),
                centred=False,
            )
            for number, run in enumerate(runs)
            if paint.lane_of(machine, line.index, run.state)[0] == line.lane
        )
        return Lane(line.top, line.height, table.lane_names[line.lane] or table.name, blocks)

    def _game(self, line: Line) -> Lane:
        """The states a game was in; where that is not what Lean Step does, with an outline and in red."""
        assert self.machine is not None and self.trace is not None
        theirs, ours = self.game[line.index] or (), self.trace.states(line.index)
        names = self.machine.layers[line.index].states
        blocks, begin = [], 0
        for tick in range(1, len(theirs) + 1):
            same = tick < len(theirs) and theirs[tick] == theirs[begin]
            if same and (theirs[tick] == ours[tick]) == (theirs[begin] == ours[begin]):
                continue
            state, differs = theirs[begin], begin < len(ours) and theirs[begin] != ours[begin]
            fill = "leaf" if differs else paint.fill_of(self.machine, line.index, state)
            blocks.append(
                Block(begin, tick, (names[state],), fill, "error" if differs else "ink", round=differs, centred=False)
            )
            begin = tick
        return Lane(line.top, line.height, "the game", tuple(blocks))

    @property
    def _pair(self) -> PairTrace | None:
        """Both figures, where the take has a second one."""
        steps = self.trace.steps if self.trace is not None else None
        return steps.pair if isinstance(steps, PairSteps) else None

    def _other(self, line: Line) -> Lane:
        """The stays of the second figure in a layer."""
        assert self._pair is not None
        trace = self._pair.traces[1]
        names = trace.machine.layers[line.index].states
        blocks = tuple(
            Block(
                run.start,
                run.end,
                (names[run.state],),
                paint.fill_of(trace.machine, line.index, run.state),
                centred=False,
            )
            for run in trace.ribbon(line.index)
        )
        return Lane(line.top, line.height, "the other", blocks)

    def _contacts(self, painter: QPainter, line: Line) -> None:
        """What touches, in words, with a line through both ribbons."""
        assert self._pair is not None
        told = [(one.tick, one.told, one.short) for one in self._pair.contacts]
        self._named(painter, line, "contact", told, "error")
        ribbons = [one for one in self._lines if one.kind in ("ribbon", "other")]
        painter.setPen(paint.pen("error", 1.6))
        for tick, *_ in told:
            x = self.x_of(tick + 0.5)
            if LABELS <= x <= self.width() - self.right:
                for one in ribbons:
                    painter.drawLine(QPointF(x, one.top), QPointF(x, one.top + one.height))

    def _events(self, painter: QPainter, line: Line) -> None:
        """The marks that fire, with their names where there is room."""
        self._named(painter, line, "events", [(tick, name, "") for tick, _, name in self.events], "mark")

    def _named(
        self, painter: QPainter, line: Line, title: str, told: Sequence[tuple[int, str, str]], colour: str
    ) -> None:
        """Instants as small diamonds, each with its name where there is room before the next, or with a shorter one."""
        self.draw_lane(painter, Lane(line.top, line.height, title, line=True))
        painter.setFont(font(11))
        metrics, free = painter.fontMetrics(), 0.0
        middle = line.top + line.height / 2
        for number, (tick, name, short) in enumerate(told):
            x = self.x_of(tick + 0.5)
            if not LABELS <= x <= self.width() - self.right:
                continue
            painter.setPen(paint.pen(colour))
            painter.setBrush(theme.colour(colour))
            points = [QPointF(x, middle - 4), QPointF(x + 4, middle), QPointF(x, middle + 4), QPointF(x - 4, middle)]
            painter.drawPolygon(QPolygonF(points))
            after = self.x_of(told[number + 1][0] + 0.5) - 6 if short and number + 1 < len(told) else math.inf
            if short and x + 12 + metrics.horizontalAdvance(name) > after:
                name = short
            if x - 4 > free:
                width = metrics.horizontalAdvance(name)
                painter.fillRect(QRectF(x + 6, line.top + 1, width + 4, line.height - 2), theme.colour("leaf"))
                painter.setPen(theme.colour(colour))
                painter.drawText(QPointF(x + 8, middle + 4), name)
                free = x + 12 + width
        painter.setBrush(Qt.BrushStyle.NoBrush)

    def _bars(self, line: Line) -> list[Bar]:
        take = self._trial or self.take
        assert self.machine is not None and take is not None
        return bars_of(take, self.machine.symbols[line.index])

    def _curve(self, painter: QPainter, line: Line) -> None:
        assert self.machine is not None and self.trace is not None
        symbol = self.machine.symbols[line.index]
        self.draw_lane(painter, Lane(line.top, line.height, symbol.name))
        values = self.trace.curve(line.index)
        lines = self._thresholds.get(line.index, [])
        low = min([*values, *lines, 0.0])
        high = max([*values, *lines, 1e-9])
        span = max(high - low, 1e-9)

        def y_of(value: float) -> float:
            return line.top + line.height - 3 - (value - low) / span * (line.height - 6)

        painter.save()
        painter.setClipRect(QRectF(LABELS, line.top, self.width() - LABELS - 10, line.height))
        painter.fillRect(QRectF(LABELS, line.top, self.width() - LABELS - 10, line.height), theme.colour("paper"))
        dashes = paint.pen("mark", 1)
        dashes.setStyle(Qt.PenStyle.DashLine)
        painter.setFont(font(11))
        taken: list[float] = []
        for threshold in sorted(lines, reverse=True):
            y = y_of(threshold)
            painter.setPen(dashes)
            painter.drawLine(QPointF(LABELS, y), QPointF(self.width() - 10, y))
            if all(abs(y - other) > 12 for other in taken):
                taken.append(y)
                painter.setPen(theme.colour("mark"))
                top = min(max(line.top - 1, y - 13), line.top + line.height - 14)
                text = f"{threshold:g}"
                tag = QRectF(0, top, painter.fontMetrics().horizontalAdvance(text) + 6, 14)
                tag.moveRight(self.width() - 14)
                painter.fillRect(tag, theme.colour("paper"))
                painter.drawText(tag, Qt.AlignmentFlag.AlignCenter, text)
        painter.setPen(paint.pen("ink", 1.6))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(
            QPolygonF([QPointF(self.x_of(tick + 0.5), y_of(value)) for tick, value in enumerate(values)])
        )
        painter.restore()


def _value_text(value: float | bool | str) -> str:
    """What is written on a bar."""
    return "" if isinstance(value, bool) else f"{value:g}" if isinstance(value, float) else str(value)
