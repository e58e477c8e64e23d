"""The large picture with the parts of a cut-out on it: chosen, turned and moved by hand."""

from __future__ import annotations

import math
from collections.abc import Hashable
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPolygonF

from leanstep.core.character.clips import Cel
from leanstep.core.character.cut_outs import CutOut
from leanstep.core.character.pin_edits import Spot, as_drawn
from leanstep.core.cut_outs.loading import Figure
from leanstep.core.cut_outs.skeleton import Placed, Point, placed, poses_at
from leanstep.desk import paint
from leanstep.desk.session import Session
from leanstep.desk.stations.clips.boxed_preview import MOVED, STEPS
from leanstep.desk.stations.clips.pinned_preview import PinnedPreview
from leanstep.desk.theme import theme

TURN = 1.0
"""Degrees by which a key turns a part; with Shift held ten times as many."""
LEAST = 4.0
"""Pixels from its joint within which a pointer does not say how a part is turned."""


@dataclass
class _HeldPart:
    """A part that is dragged: turned about its joint, or moved; ``begun`` is where the pointer was last.  ``scale`` and ``foot``: how
    large the figure is shown, and where."""

    name: str
    moves: bool
    scale: float
    foot: QPointF
    pressed: QPointF
    begun: QPointF
    moved: bool = False


class PartedPreview(PinnedPreview):
    """``part_picked`` another part; ``part_turned``: the chosen one by so many degrees clockwise more, as its parent sees it;
    ``part_moved``: by so many pixels to the right and up, as its parent sees it; ``part_aimed``: the chosen one reaches for a place
    so far from where it did; ``part_dropped``: a drag is over; ``part_off``: its key on this cel is to go."""

    part_picked = Signal(str)
    part_turned = Signal(float)
    part_moved = Signal(float, float)
    part_aimed = Signal(float, float)
    part_dropped = Signal()
    part_off = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.parting = False
        self.part_chosen = ""
        self.of_parts: tuple[Figure, CutOut] | None = None
        self._held_part: _HeldPart | None = None

    def edit_parts(self, on: bool) -> None:
        """Whether hands change parts."""
        self.parting, self._held_part = on, None
        self.setToolTip(
            "Drag a part to turn it, with Shift to move it: that sets a key. Arrows move by a pixel, Shift ten; Alt with left and "
            "right turns; Page Up and Page Down choose, Delete takes its key off"
            if on
            else "Plays at true speed"
        )
        self.update()

    # --- where things are

    def fixed_by(self) -> Hashable:
        held = self._held_part
        return (held.scale, held.foot.toTuple()) if held is not None else None

    def _scale(self, area: QRectF, ground: float, cel: Cel) -> float | None:
        # while a part is dragged the frames grow and shrink, and the picture stays where it is
        return self._held_part.scale if self._held_part is not None else super()._scale(area, ground, cel)

    def _place(self, area: QRectF, ground: float, cel: Cel, scale: float) -> QPointF:
        return self._held_part.foot if self._held_part is not None else super()._place(area, ground, cel, scale)

    @property
    def moment(self) -> float | None:
        """The tick of the cut-out at which the cel that is shown is drawn; None where it is none of its frames."""
        shown = self._shown_cel()
        if shown is None or self.of_parts is None:
            return None
        cut_out, frame = self.of_parts[1], shown[1].frame
        return float(frame * cut_out.every) if frame < cut_out.count else None

    def lying(self) -> dict[str, Placed]:
        """How the parts lie on the cel that is shown."""
        at = self.moment
        if at is None or self.of_parts is None:
            return {}
        figure, cut_out = self.of_parts
        found = placed(figure.bones, poses_at(figure.bones, cut_out, at))
        return {part.name: one for part, one in zip(figure.bones.parts, found)}

    def on_figure(self, where: QPointF, cel: Cel) -> Point:
        """The place of the figure, in pixels from its foot, that is seen at a place of the screen."""
        foot, scale, by = self._measure(cel)
        spot = as_drawn(
            Spot((where.x() - foot.x()) / scale / by[0], (foot.y() - where.y()) / scale / by[1]),
            cel,
        )
        return spot.x, spot.y

    def part_at(self, where: QPointF) -> str:
        """The part that is seen at a place, the foremost; empty where there is none."""
        shown, lying = self._shown_cel(), self.lying()
        if shown is None or self.of_parts is None or not lying:
            return ""
        figure = self.of_parts[0]
        point = self.on_figure(where, shown[1])
        for at in reversed(figure.bones.drawn):
            name, picture, joint = figure.bones.parts[at].name, figure.pictures[at], figure.bones.joints[at]
            u, v = lying[name].taken_back(*point)
            x, y = math.floor(u + joint[0] - picture.x), math.floor(joint[1] - v - picture.y)
            height, width = picture.pixels.shape[:2]
            if 0 <= x < width and 0 <= y < height and picture.pixels[y, x, 3]:
                return name
        return ""

    def joint_place(self, name: str) -> QPointF | None:
        """Where a part's joint is on the screen."""
        shown, lying = self._shown_cel(), self.lying()
        if shown is None or name not in lying:
            return None
        return self.place_of(Spot(lying[name].x, lying[name].y), shown[1])

    # --- drawing

    def draw_over(self, painter: QPainter, at: int) -> None:
        super().draw_over(painter, at)
        shown, lying = self._shown_cel(), self.lying()
        if not self.parting or shown is None or self.of_parts is None:
            return
        figure = self.of_parts[0]
        for number, part in enumerate(figure.bones.parts):
            if part.name not in lying:
                continue
            picture, joint, one = figure.pictures[number], figure.bones.joints[number], lying[part.name]
            if part.name == self.part_chosen and picture.pixels.size:
                height, width = picture.pixels.shape[:2]
                sides = [(x, y) for x, y in ((0, 0), (width, 0), (width, height), (0, height))]
                corners = [one.carried(picture.x + x - joint[0], joint[1] - picture.y - y) for x, y in sides]
                painter.setPen(paint.pen("chosen", 1.5))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawPolygon(QPolygonF([self.place_of(Spot(x, y), shown[1]) for x, y in corners]))
            place = self.place_of(Spot(one.x, one.y), shown[1])
            chosen = part.name == self.part_chosen
            painter.setPen(paint.pen("chosen" if chosen else "ink", 2))
            painter.setBrush(theme.colour("leaf"))
            painter.drawEllipse(place, 4.0 if chosen else 2.5, 4.0 if chosen else 2.5)

    # --- hands

    def mousePressEvent(self, event: QMouseEvent) -> None:
        shown = self._shown_cel()
        if not self.parting or shown is None or event.button() != Qt.MouseButton.LeftButton:
            super().mousePressEvent(event)
            return
        self.held.emit()
        where = event.position()
        name = self.part_at(where)
        self.part_picked.emit(name)
        moves = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        foot, scale, _ = self._measure(shown[1])
        self._held_part = _HeldPart(name, moves, scale, foot, where, where) if name else None

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        where, held, shown = event.position(), self._held_part, self._shown_cel()
        if not self.parting or shown is None:
            super().mouseMoveEvent(event)
            return
        if held is None:
            self.setCursor(Qt.CursorShape.SizeAllCursor if self.part_at(where) else Qt.CursorShape.ArrowCursor)
            return
        held.moved = held.moved or (where - held.pressed).manhattanLength() > MOVED
        if held.moved and held.name == self.part_chosen:
            self._drag_part(held, where, shown[1])

    def _drag_part(self, held: _HeldPart, where: QPointF, cel: Cel) -> None:
        before, now = self.on_figure(held.begun, cel), self.on_figure(where, cel)
        held.begun = where
        if self._reaches(held.name):
            self.part_aimed.emit(now[0] - before[0], now[1] - before[1])
            return
        space = self._space_of(held.name)
        first, second = space.taken_back(*before), space.taken_back(*now)
        if held.moves:
            self.part_moved.emit(second[0] - first[0], second[1] - first[1])
            return
        joint = space.taken_back(*self._joint_of(held.name))
        ways = [(x - joint[0], y - joint[1]) for x, y in (first, second)]
        if min(math.hypot(*way) for way in ways) * self._measure(cel)[1] >= LEAST:
            (ax, ay), (bx, by) = ways
            self.part_turned.emit(math.degrees(math.atan2(bx * ay - by * ax, ax * bx + ay * by)))

    def _reaches(self, name: str) -> bool:
        return self.of_parts is not None and any(one.part == name for one in self.of_parts[1].reaches)

    def _joint_of(self, name: str) -> Point:
        one = self.lying()[name]
        return one.x, one.y

    def _space_of(self, name: str) -> Placed:
        """How what a part hangs on lies."""
        assert self.of_parts is not None
        bones = self.of_parts[0].bones
        parent = bones.parents[bones.number(name)]
        return self.lying()[bones.parts[parent].name] if parent >= 0 else Placed()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        held, self._held_part = self._held_part, None
        if not self.parting:
            super().mouseReleaseEvent(event)
        elif held is not None and held.moved:
            self.part_dropped.emit()
            self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        names = [part.name for part in self.of_parts[0].bones.parts] if self.of_parts is not None else []
        key, keys = Qt.Key(event.key()), event.modifiers()
        if not self.parting or self.moment is None:
            super().keyPressEvent(event)
            return
        fast = bool(keys & Qt.KeyboardModifier.ShiftModifier)
        if key in STEPS and self.part_chosen in names:
            across, up = STEPS[key]
            by = 10.0 if fast else 1.0
            self.held.emit()
            if keys & Qt.KeyboardModifier.AltModifier:
                self.part_turned.emit((across or -up) * TURN * by)
            elif self._reaches(self.part_chosen):
                self.part_aimed.emit(across * by, up * by)
            else:
                self.part_moved.emit(across * by, up * by)
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown) and names:
            step = 1 if key == Qt.Key.Key_PageDown else -1
            at = names.index(self.part_chosen) + step if self.part_chosen in names else 0 if step > 0 else -1
            self.part_picked.emit(names[at % len(names)])
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and self.part_chosen in names:
            self.part_off.emit()
        else:
            super().keyPressEvent(event)
