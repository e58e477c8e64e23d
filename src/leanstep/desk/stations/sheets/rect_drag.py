"""A frame's rectangle under the hand: moved, or pulled at its edges, and caught by others."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from PySide6.QtCore import QPointF, QRectF

from leanstep.core.sheets.cutting import Rect

Edges = tuple[bool, bool, bool, bool]
"""Which of left, top, right and bottom move."""

WHOLE: Edges = (True, True, True, True)


def edges_at(box: QRectF, at: QPointF, reach: float) -> Edges | None:
    """The edges of a rectangle that are held at a place: all of them inside it; None where it is not held."""
    if not box.adjusted(-reach, -reach, reach, reach).contains(at):
        return None
    reach = min(reach, box.width() / 4, box.height() / 4)
    held = (
        abs(at.x() - box.left()) <= reach,
        abs(at.y() - box.top()) <= reach,
        abs(at.x() - box.right()) <= reach,
        abs(at.y() - box.bottom()) <= reach,
    )
    if any(held):
        return held
    return WHOLE if box.contains(at) else None


@dataclass
class RectDrag:
    """The rectangle of ``frame`` (None: a new one) while it is dragged from ``start``, a place of the image."""

    frame: int | None
    before: Rect
    edges: Edges
    start: QPointF
    rect: Rect = field(init=False)

    def __post_init__(self) -> None:
        self.rect = self.before

    @property
    def moved(self) -> bool:
        """Whether it is another rectangle by now."""
        return self.rect != self.before

    def move(self, at: QPointF, size: tuple[int, int], others: Sequence[Rect], reach: int) -> None:
        """Follow the hand to a place of an image of ``size``, caught by edges of ``others`` that are within ``reach``
        pixels."""
        was = self.before
        sides = [was.x, was.y, was.x + was.width, was.y + was.height]
        by = (round(at.x() - self.start.x()), round(at.y() - self.start.y()))
        for axis in (0, 1):
            catches = [edge for one in others for edge in _edges(one, axis)] + [0, size[axis]]
            moving = [side for side in (axis, axis + 2) if self.edges[side]]
            step = by[axis] + min(
                (
                    catch - sides[side] - by[axis]
                    for side in moving
                    for catch in catches
                    if abs(catch - sides[side] - by[axis]) <= reach
                ),
                key=abs,
                default=0,
            )
            if len(moving) == 2:
                step = min(max(step, -sides[axis]), size[axis] - sides[axis + 2])
            for side in moving:
                sides[side] += step
        x0, x1 = sorted((min(max(sides[0], 0), size[0]), min(max(sides[2], 0), size[0])))
        y0, y1 = sorted((min(max(sides[1], 0), size[1]), min(max(sides[3], 0), size[1])))
        x0, y0 = min(x0, size[0] - 1), min(y0, size[1] - 1)
        self.rect = Rect(x0, y0, max(1, x1 - x0), max(1, y1 - y0))


def _edges(rect: Rect, axis: int) -> tuple[int, int]:
    return (rect.x, rect.x + rect.width) if axis == 0 else (rect.y, rect.y + rect.height)
