"""Arcs between figures: how they are drawn, and how far a place is from one."""

from __future__ import annotations

import itertools

from PySide6.QtCore import QPointF
from PySide6.QtGui import QPainterPath

BEND = 7.0


def arch(points: list[tuple[float, float]]) -> QPainterPath:
    """A smooth arch over (or under) four points: feet and crest."""
    (x0, y0), (_, crest), (x1, _), (_, y1) = points
    reach = min(18.0, abs(x1 - x0) * 0.3) * (1 if x1 >= x0 else -1)
    path = QPainterPath(QPointF(x0, y0))
    path.cubicTo(QPointF(x0, (y0 + crest) / 2), QPointF(x0 + reach * 0.3, crest), QPointF(x0 + reach, crest))
    path.lineTo(QPointF(x1 - reach, crest))
    path.cubicTo(QPointF(x1 - reach * 0.3, crest), QPointF(x1, (y1 + crest) / 2), QPointF(x1, y1))
    return path


def rounded(points: list[tuple[float, float]]) -> QPainterPath:
    """A bent line with round corners."""
    path = QPainterPath(QPointF(*points[0]))
    for before, here, after in zip(points, points[1:], points[2:]):
        a, b, c = QPointF(*before), QPointF(*here), QPointF(*after)
        path.lineTo(b + _toward(b, a))
        path.quadTo(b, b + _toward(b, c))
    path.lineTo(QPointF(*points[-1]))
    return path


def _toward(start: QPointF, end: QPointF) -> QPointF:
    delta = end - start
    length = (delta.x() ** 2 + delta.y() ** 2) ** 0.5
    return delta * (min(BEND, length / 2) / length) if length else delta


def distance(points: list[tuple[float, float]], where: QPointF) -> float:
    """Distance from a place to a bent line."""
    best = 1e9
    for (x0, y0), (x1, y1) in itertools.pairwise(points):
        dx, dy = x1 - x0, y1 - y0
        length = dx * dx + dy * dy
        share = max(0.0, min(1.0, ((where.x() - x0) * dx + (where.y() - y0) * dy) / length)) if length else 0.0
        px, py = x0 + share * dx - where.x(), y0 + share * dy - where.y()
        best = min(best, (px * px + py * py) ** 0.5)
    return best
