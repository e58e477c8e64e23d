"""A take over time, under one playhead and the hand."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from PySide6.QtCore import QPointF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QWheelEvent
from PySide6.QtWidgets import QSizePolicy

from leanstep.core.character.takes import Take
from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.conditions.expression import Symbol
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.traces import Trace
from leanstep.desk import paint
from leanstep.desk.widgets.input_bars import Bar, bars_of, first_value, stepped_value, with_bars
from leanstep.desk.widgets.take_lanes import CONTROL, CURVE, LABELS, RIBBON, Line, TakeLanes


class Timeline(TakeLanes):
    """``edited`` tells a take with a changed bar; ``scrubbed`` the tick the playhead is dragged to; ``chose`` the symbol and value
    of the bar that is chosen, None when none is."""

    edited = Signal(object)
    scrubbed = Signal(int)
    chose = Signal(object)

    def __init__(self, editable: bool = True) -> None:
        super().__init__()
        self.editable = editable
        self.curves: list[int] = []
        self._drag: tuple[str, int, int, int] | None = None
        self.also: set[str] = set()
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Maximum)
        self.setAccessibleName("Timeline")
        tip = "Drag below the bars to move the playhead; the wheel zooms"
        if editable:
            tip += (
                "; drag a bar or its ends to change it, drag on an empty row to press (a stick's upper half is up or right), "
                "↑/↓: another value, Delete or double-click: remove the bar"
            )
        self.setToolTip(tip)

    def sizeHint(self) -> QSize:
        return QSize(600, int(self._lines[-1].top + self._lines[-1].height + 22) if self._lines else 120)

    def show_trace(
        self,
        machine: Machine,
        take: Take | None,
        trace: Trace | None,
        all_controls: bool = True,
        met: Sequence[tuple[str, str]] = (),
        game: Sequence[Sequence[int] | None] = (),
    ) -> None:
        """Show a take and what it did; ``met`` are its expectations in words, each with what is missing (empty: it is met);
        ``game`` are the states a game was in, layer by layer, with the same inputs."""
        if take is None or self.take is None or take.name != self.take.name:
            self.choose(None)
            self.also = set()
        self.met, self.game = list(met), list(game)
        changed = take is None or self.take is None or take.name != self.take.name or take.ticks != self.take.ticks
        self.machine, self.take, self.trace = machine, take, trace
        self._trial = None
        self._runs = [trace.ribbon(layer) for layer in range(len(machine.layers))] if trace else []
        whole = self.first == 0 and self.last >= self._total
        self._total = max(1, len(trace.steps) if trace else 1)
        if changed or whole:
            self.first, self.last = 0, self._total
        self._thresholds = thresholds(machine)
        used = {name for change in take.changes for name in change.set} if take else set()
        controls = [
            index
            for index, symbol in enumerate(machine.symbols)
            if symbol.name in used | self.also
            or (all_controls and symbol.owner == "controls" and index not in machine.derived)
        ]
        moving = set(trace.moving(range(len(machine.symbols)))) if trace else set()
        candidates = [index for index in self._thresholds if index in moving and index not in controls]
        self.curves = candidates[:2]
        self._lines = []
        top = 6.0
        for number in range(len(self.met)):
            self._lines.append(Line("expectation", number, 0, top, RIBBON))
            top += RIBBON + 2
        for index in controls:
            self._lines.append(Line("control", index, 0, top, CONTROL))
            top += CONTROL + 2
        top += 4
        for index in self.curves:
            self._lines.append(Line("curve", index, 0, top, CURVE))
            top += CURVE + 4
        for layer, table in enumerate(machine.character.layers):
            for lane in range(len(table.lane_names)):
                if any(
                    paint.lane_of(machine, layer, run.state)[0] == lane for run in (self._runs[layer] if trace else [])
                ):
                    self._lines.append(Line("ribbon", layer, lane, top, RIBBON))
                    top += RIBBON + 1
            if layer < len(self.game) and self.game[layer] is not None:
                self._lines.append(Line("game", layer, 0, top, RIBBON))
                top += RIBBON + 1
            top += 3
        if self._pair is not None:
            for layer in range(len(self._pair.figures[1].machine.layers)):
                self._lines.append(Line("other", layer, 0, top, RIBBON))
                top += RIBBON + 1
            if self._pair.contacts:
                self._lines.append(Line("contacts", 0, 0, top, RIBBON))
                top += RIBBON + 1
            top += 3
        self.events = trace.marks() if trace else []
        if self.events:
            self._lines.append(Line("events", 0, 0, top, RIBBON))
            top += RIBBON + 3
        self.setFixedHeight(int(top + 20) if trace else 120)
        self.updateGeometry()
        self.renew()

    # --- hands

    def _bar_at(self, where: QPointF) -> tuple[Line, int, str] | None:
        """The bar at a place, and which part of it: its start, its end or all of it."""
        lines = [line for line in self._lines if line.kind == "control"]
        held = self.held_at([self._control(line) for line in lines], where)
        return None if held is None else (lines[held[0]], held[1], held[2])

    def bar_at(self, where: QPointF) -> tuple[str, int] | None:
        """The bar at a place: its symbol's name and its number."""
        found = self._bar_at(where) if self.editable and self.take is not None else None
        return (self.machine.symbols[found[0].index].name, found[1]) if found and self.machine is not None else None

    def _tick_at(self, where: QPointF) -> int:
        return round(self.tick_at(where.x()))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self.take is None or self.machine is None or event.position().x() < LABELS:
            return
        where = event.position()
        tick = self._tick_at(where)
        line = next(
            (one for one in self._lines if one.kind == "control" and one.top <= where.y() <= one.top + one.height), None
        )
        if not self.editable or line is None:
            self._drag = ("playhead", 0, 0, 0)
            self.scrubbed.emit(tick)
            return
        found = self._bar_at(where)
        symbol = self.machine.symbols[line.index]
        if found is not None:
            self._drag = (found[2], self._lines.index(found[0]), found[1], tick)
            self.choose((symbol.name, found[1]))
        else:
            bars = self._bars(line)
            made = Bar(tick, tick + 1, first_value(symbol, where.y() < line.top + line.height / 2))
            self._trial = with_bars(self.take, symbol, [*bars, made])
            number = self._bars(line).index(made) if made in self._bars(line) else 0
            self._drag = ("end", self._lines.index(line), number, tick)
            self.choose((symbol.name, number))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        where = event.position()
        if self._drag is None:
            found = (
                self._bar_at(where) if self.editable and self.take is not None and self.machine is not None else None
            )
            ends = found is not None and found[2] != "all"
            self.setCursor(Qt.CursorShape.SizeHorCursor if ends else Qt.CursorShape.ArrowCursor)
            return
        kind, row, number, pressed = self._drag
        tick = self._tick_at(where)
        if kind == "playhead":
            self.scrubbed.emit(tick)
            return
        assert self.machine is not None and self.take is not None
        line = self._lines[row]
        symbol = self.machine.symbols[line.index]
        start = self.take if self._trial is None or number < len(bars_of(self.take, symbol)) else self._trial
        bars = bars_of(start, symbol)
        if number >= len(bars):
            return
        bar = bars[number]
        moved = {
            "start": Bar(min(tick, bar.end - 1), bar.end, bar.value),
            "end": Bar(bar.start, max(tick, bar.start + 1), bar.value),
            "all": Bar(max(0, bar.start + tick - pressed), bar.end + tick - pressed, bar.value),
        }[kind]
        if self._trial is None:
            self._paper = None
        self._trial = with_bars(start, symbol, [*bars[:number], moved, *bars[number + 1 :]])
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._drag = None
        if self._trial is not None:
            trial, self._trial = self._trial, None
            self.renew()
            self.edited.emit(trial)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        found = self.bar_at(event.position())
        if found is not None:
            self.choose(found)
            self.remove_bar()

    # --- the chosen bar

    def choose(self, chosen: tuple[str, int] | None) -> None:
        """Choose a bar, by its symbol's name and its number; None: no bar."""
        self.chosen = chosen
        found = self._chosen_bar()
        self.chose.emit((found[0], found[1][found[2]].value) if found is not None else None)
        self.renew()

    def _chosen_bar(self) -> tuple[Symbol, list[Bar], int] | None:
        """The chosen bar's symbol, the bars of that, and its number."""
        take, machine = self._trial or self.take, self.machine
        if self.chosen is None or take is None or machine is None or self.chosen[0] not in machine.index:
            return None
        symbol = machine.symbols[machine.index[self.chosen[0]]]
        bars = bars_of(take, symbol)
        return (symbol, bars, self.chosen[1]) if self.chosen[1] < len(bars) else None

    def set_value(self, value: Symbolic) -> None:
        """Give the chosen bar another value."""
        found = self._chosen_bar()
        if found is not None and self.take is not None and value != found[1][found[2]].value:
            symbol, bars, number = found
            changed = replace(bars[number], value=value)
            made = with_bars(self.take, symbol, [*bars[:number], changed, *bars[number + 1 :]])
            self.edited.emit(made)
            after = bars_of(made, symbol)
            at = next((at for at, bar in enumerate(after) if bar.start <= changed.start < bar.end), None)
            self.choose((symbol.name, at) if at is not None else None)

    def remove_bar(self) -> None:
        """Take the chosen bar out."""
        found = self._chosen_bar()
        if found is not None and self.take is not None:
            symbol, bars, number = found
            self.edited.emit(with_bars(self.take, symbol, bars[:number] + bars[number + 1 :]))
            self.choose(None)

    def draw_row_of(self, name: str) -> None:
        """Have a row for a value the take does not set yet."""
        self.also.add(name)
        if self.machine is not None:
            self.show_trace(self.machine, self.take, self.trace, met=self.met)

    def wheelEvent(self, event: QWheelEvent) -> None:
        if self.trace is None:
            return
        total = max(1, len(self.trace.steps))
        middle = self._tick_at(event.position())
        factor = 0.8 if event.angleDelta().y() > 0 else 1.25
        span = min(total, max(12, int((self.last - self.first) * factor)))
        share = (middle - self.first) / max(1, self.last - self.first)
        self.first = max(0, min(total - span, int(middle - share * span)))
        self.last = self.first + span
        self.renew()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(key, 0)
        found = self._chosen_bar() if self.editable else None
        if found is not None and key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            symbol, bars, number = found
            self.set_value(stepped_value(symbol, bars[number].value, 1 if key == Qt.Key.Key_Up else -1))
        elif found is not None and key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.remove_bar()
        elif step and self.trace is not None:
            if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
                step *= 10
            self.scrubbed.emit(max(0, min(len(self.trace.steps) - 1, int(self.playhead) + step)))
        else:
            super().keyPressEvent(event)


def thresholds(machine: Machine) -> dict[int, list[float]]:
    """The constants that conditions compare each number with, most compared first."""
    found: dict[int, set[float]] = {}
    for layer in machine.layers:
        for row in layer.ways:
            for way in row:
                for part in x.parts(way.condition) if way.condition else ():
                    if (
                        isinstance(part, x.Compared)
                        and isinstance(part.left, x.Value)
                        and isinstance(part.right, x.Fixed)
                    ):
                        found.setdefault(part.left.symbol, set()).add(part.right.value)
    return {symbol: sorted(values) for symbol, values in sorted(found.items(), key=lambda one: (-len(one[1]), one[0]))}
