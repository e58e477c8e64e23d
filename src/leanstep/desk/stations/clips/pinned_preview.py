"""The large picture with the pin points of the clip on it: made, moved and turned by hand."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter

from leanstep.core.character.clips import Cel
from leanstep.core.character.pin_edits import Spot, as_drawn, as_shown, spot_at
from leanstep.desk import paint
from leanstep.desk.session import Session
from leanstep.desk.stations.clips.boxed_preview import MOVED, STEPS, BoxedPreview
from leanstep.desk.theme import font, theme

CAUGHT = 11.0
"""Pixels about a pin point or the end of its arm that take hold of it."""
TURN = 5.0
"""Degrees by which a key turns a pin point; with Shift held a fifth of them."""
FAINT = 0.45


@dataclass
class _Held:
    """A pin point that is dragged, by its ``tip`` or its ring, from where it lies on the screen."""

    at: int
    tip: bool
    pressed: QPointF
    begun: QPointF
    moved: bool = False


class PinnedPreview(BoxedPreview):
    """``pin_made``: a new pin point is to lie there (None: where the figure usually is); ``pin_changed``: one (its place) lies or
    points elsewhere on the cel; ``pin_picked`` another one; ``pin_dropped``: a drag is over; ``pin_off``: the chosen one's key on this
    cel."""

    pin_made = Signal(object)
    pin_changed = Signal(int, object)
    pin_picked = Signal(int)
    pin_dropped = Signal()
    pin_off = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.pinning = False
        self.pin_chosen = -1
        self.guesses: Mapping[int, Spot] = {}
        self._held_pin: _Held | None = None

    def edit_pins(self, on: bool) -> None:
        """Whether hands change pin points."""
        self.pinning = self.every = on
        self._held_pin, self.guesses = None, {}
        self.setToolTip(
            "Click an empty place: a new pin point; drag its ring to move it, the end of its arm to turn it. Arrows move by a pixel, "
            "Shift ten; Alt with left and right turns; Page Up and Page Down choose, Insert makes one, Delete its key off"
            if on
            else "Plays at true speed"
        )
        self.update()

    # --- where things are

    def place_of(self, spot: Spot, cel: Cel) -> QPointF:
        """Where a pin point of a cel is on the screen."""
        foot, scale, by = self._measure(cel)
        shown = as_shown(spot, cel)
        return QPointF(foot.x() + shown.x * by[0] * scale, foot.y() - shown.y * by[1] * scale)

    def spot_there(self, where: QPointF, cel: Cel, like: Spot) -> Spot:
        """The pin point of a cel, on whole pixels of its image, that is seen at a place; it points as another one does."""
        foot, scale, by = self._measure(cel)
        x, y = (where.x() - foot.x()) / scale / by[0], (foot.y() - where.y()) / scale / by[1]
        shown = replace(as_shown(like, cel), x=float(round(x)), y=float(round(y)))
        return as_drawn(shown, cel)

    def tip_of(self, spot: Spot, cel: Cel) -> QPointF:
        """Where the end of its arm is on the screen."""
        return paint.pin_tip(self.place_of(spot, cel), as_shown(spot, cel).angle)

    # --- drawing

    def draw_over(self, painter: QPainter, at: int) -> None:
        super().draw_over(painter, at)
        clip, (area, _) = self.clip, self._area()
        if clip is None or not self.pinning:
            return
        for step in (-1, 1) if self.onion and len(clip.cels) > 1 else ():
            other = (at + step) % len(clip.cels)
            for pin in clip.pins:
                self._draw(painter, spot_at(pin, other), clip.cels[other], False, FAINT)
        for number, pin in enumerate(clip.pins):
            self._draw(painter, spot_at(pin, at), clip.cels[at], number == self.pin_chosen)
        if at in self.guesses:
            self._draw(painter, self.guesses[at], clip.cels[at], True, FAINT)
        painter.setFont(font(12))
        for line, pin in enumerate(clip.pins):
            top = area.top() + 6 + line * 18
            wide = painter.fontMetrics().horizontalAdvance(pin.name) + 30.0
            painter.fillRect(QRectF(area.left() + 4, top, wide, 18), theme.colour("leaf"))
            painter.setPen(paint.pen("chosen" if line == self.pin_chosen else "ink", 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(QPointF(area.left() + 15, top + 9), 5, 5)
            painter.setPen(theme.colour("ink"))
            where = QRectF(area.left() + 27, top, wide, 18)
            painter.drawText(where, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, pin.name)

    def _draw(self, painter: QPainter, spot: Spot, cel: Cel, chosen: bool, opacity: float = 1.0) -> None:
        paint.pin(painter, self.place_of(spot, cel), as_shown(spot, cel).angle, chosen, opacity)

    # --- hands

    def pin_at(self, where: QPointF) -> tuple[int, bool] | None:
        """The pin point at a place, the chosen one first, and whether it is held by the end of its arm."""
        shown = self._shown_cel()
        if shown is None or self.clip is None:
            return None
        at, cel = shown
        order = sorted(range(len(self.clip.pins)), key=lambda one: one != self.pin_chosen)
        for tip in (True, False):
            for number in order:
                spot = spot_at(self.clip.pins[number], at)
                place = self.tip_of(spot, cel) if tip else self.place_of(spot, cel)
                if math.hypot(where.x() - place.x(), where.y() - place.y()) <= (CAUGHT - 3 if tip else CAUGHT):
                    return number, tip
        return None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        shown = self._shown_cel()
        if not self.pinning or shown is None or self.clip is None or event.button() != Qt.MouseButton.LeftButton:
            super().mousePressEvent(event)
            return
        self.held.emit()
        where, found = event.position(), self.pin_at(event.position())
        if found is None:
            self._held_pin = None
            self.pin_made.emit(self.spot_there(where, shown[1], as_drawn(Spot(0.0, 0.0), shown[1])))
            return
        number, tip = found
        self.pin_picked.emit(number)
        self._held_pin = _Held(number, tip, where, self.place_of(spot_at(self.clip.pins[number], shown[0]), shown[1]))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        where, held, shown = event.position(), self._held_pin, self._shown_cel()
        if not self.pinning or shown is None or self.clip is None:
            super().mouseMoveEvent(event)
            return
        if held is None:
            found = self.pin_at(where)
            over = Qt.CursorShape.ArrowCursor if found is None else Qt.CursorShape.SizeAllCursor
            self.setCursor(Qt.CursorShape.CrossCursor if found is not None and found[1] else over)
            return
        held.moved = held.moved or (where - held.pressed).manhattanLength() > MOVED
        if not held.moved or held.at >= len(self.clip.pins):
            return
        at, cel = shown
        spot = spot_at(self.clip.pins[held.at], at)
        if held.tip:
            angle = math.degrees(math.atan2(where.x() - held.begun.x(), held.begun.y() - where.y()))
            if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
                angle = round(angle / 15.0) * 15.0
            self.pin_changed.emit(held.at, as_drawn(replace(as_shown(spot, cel), angle=round(angle) % 360.0), cel))
        else:
            self.pin_changed.emit(held.at, self.spot_there(held.begun + where - held.pressed, cel, spot))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        held, self._held_pin = self._held_pin, None
        if not self.pinning:
            super().mouseReleaseEvent(event)
        elif held is not None and held.moved:
            self.pin_dropped.emit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        shown = self._shown_cel()
        if not self.pinning or shown is None or self.clip is None:
            super().keyPressEvent(event)
            return
        (at, cel), count, key = shown, len(self.clip.pins), Qt.Key(event.key())
        keys, chosen = event.modifiers(), 0 <= self.pin_chosen < count
        if key in STEPS and chosen:
            fast = bool(keys & Qt.KeyboardModifier.ShiftModifier)
            across, up = STEPS[key]
            spot = as_shown(spot_at(self.clip.pins[self.pin_chosen], at), cel)
            if keys & Qt.KeyboardModifier.AltModifier:
                moved = replace(spot, angle=(spot.angle + (across or -up) * (TURN / 5 if fast else TURN)) % 360.0)
            else:
                by = 10.0 if fast else 1.0
                moved = replace(spot, x=spot.x + across * by, y=spot.y + up * by)
            self.held.emit()
            self.pin_changed.emit(self.pin_chosen, as_drawn(moved, cel))
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown) and count:
            step = 1 if key == Qt.Key.Key_PageDown else -1
            self.pin_picked.emit((self.pin_chosen + step) % count if chosen else 0 if step > 0 else count - 1)
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and chosen:
            self.pin_off.emit()
        elif key == Qt.Key.Key_Insert:
            self.held.emit()
            self.pin_made.emit(None)
        else:
            super().keyPressEvent(event)
