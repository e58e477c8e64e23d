"""Ribbons: which states layers were in, tick after tick, with short stays hatched as flicker."""

from __future__ import annotations

from collections.abc import Iterable
from functools import cache, lru_cache

from PySide6.QtCore import QRect
from PySide6.QtGui import QColor, QFontMetrics, QFontMetricsF, QPainter

from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.traces import Run
from leanstep.desk.paint import fill_of, lane_of, unsmoothed
from leanstep.desk.theme import font, theme


@cache
def capitals(size: int) -> int:
    """How high the capitals of a font of so many pixels are."""
    return QFontMetrics(font(size)).capHeight()


@lru_cache(4096)
def advance(text: str, size: int) -> float:
    """How wide a text is in a font of so many pixels."""
    return QFontMetricsF(font(size)).horizontalAdvance(text)


def ribbons(
    painter: QPainter, machine: Machine, rows: Iterable[tuple[QRect, int, list[Run]]], first: int, last: int
) -> None:
    """Runs of layers from tick ``first`` to ``last``, each across its area, on whole pixels; short stays are hatched as flicker."""
    if last <= first:
        return
    painter.setFont(font(11))
    painter.setPen(theme.colour("ink"))
    edge, paper, rise = theme.colour("edge"), theme.colour("paper"), capitals(11)
    with unsmoothed(painter):
        for area, layer, runs in rows:
            painter.fillRect(area, edge)
            start, end, top, high = area.left() + 1, area.left() + area.width() - 1, area.top() + 1, area.height() - 2
            painter.fillRect(start, top, end - start, high, paper)
            per_tick = (end - start) / (last - first)
            seen_until = start
            for number, run in enumerate(runs):
                left = max(start, start + round((run.start - first) * per_tick))
                wide = min(end, max(left + 1, start + round((run.end - first) * per_tick))) - left
                if wide <= 0:
                    continue
                painter.fillRect(left, top, wide, high, fill_of(machine, layer, run.state))
                if flickers(runs, number, machine.window):
                    painter.fillRect(left, top, wide, high, _hatch())
                if left > start:
                    painter.fillRect(left, top, 1, high, theme.hue(lane_of(machine, layer, run.state)[0]))
                name = machine.layers[layer].states[run.state]
                if wide > advance(name, 11) + 8 and left >= seen_until:
                    painter.drawText(left + 4, top + (high + rise) // 2, name)
                    seen_until = left + round(advance(name, 11))


def flickers(runs: list[Run], number: int, window: int) -> bool:
    """Whether a run is part of a flicker: as short as the window allows, and its state is left and entered again."""
    run = runs[number]
    if run.end - run.start >= window:
        return False
    near = runs[max(0, number - 2) : number + 3]
    return sum(one.state == run.state for one in near) > 1


def _hatch() -> QColor:
    colour = theme.colour("error")
    colour.setAlpha(70)
    return colour
