"""The graph under the hand: what is chosen, moved and joined on the page."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QPointF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QKeySequence, QMouseEvent, QPainter, QPaintEvent

from leanstep.core.naming.references import Thing
from leanstep.core.naming.transitions import name_of
from leanstep.desk import paint
from leanstep.desk.session import Session
from leanstep.desk.simulation import Simulation
from leanstep.desk.stations.graph.arcs import distance
from leanstep.desk.stations.graph.drawn_page import DrawnPage
from leanstep.desk.stations.graph.layout import LANE, MARGIN, WHOLE, Arc, Row, Slot
from leanstep.desk.widgets.basics import plain_tip
from leanstep.desk.widgets.condition import in_words

CONTROL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier
STIRRED = 8
"""Pixels from which on a press is a drag."""


@dataclass(frozen=True)
class Join:
    """A transition that is being drawn: the layer, and the kind and name of what it comes from."""

    layer: int
    kind: str
    name: str


class GraphPage(DrawnPage):
    """Click a figure or an arc to choose it; drag a figure to another place or lane; drag from the knob beside a chosen
    figure, from a lane's name or from “whole graph” to a figure to make a transition (``joined``: layer, kind of what it comes
    from, its name, and where it leads)."""

    moved = Signal(int, str, str, int)
    joined = Signal(int, str, str, str)
    rename_wanted = Signal()
    remove_wanted = Signal()
    copied = Signal()
    pasted = Signal()

    def __init__(self, session: Session, live: Simulation) -> None:
        super().__init__(session, live)
        self._drag: Slot | None = None
        self._join: Join | None = None
        self._at = QPointF()
        self._pressed = QPointF()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Graph")

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        self._draw_join()

    def _draw_join(self) -> None:
        """The line of a transition that is being drawn."""
        if self._join is None or (self._at - self._pressed).manhattanLength() <= STIRRED:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(paint.pen("chosen", 2))
        painter.drawLine(self._pressed, self._at)
        over = self.slot_at(self._at)
        if over is not None and over.layer == self._join.layer:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(self.box_of(over), 8, 8)

    # --- hands

    def slot_at(self, where: QPointF) -> Slot | None:
        """The figure at a place."""
        return next((slot for slot in self.page.slots.values() if self.box_of(slot).contains(where)), None)

    def arc_at(self, where: QPointF) -> Arc | None:
        """The arc nearest to a place, within 6 pixels."""
        near = [(distance(arc.points, where), number) for number, arc in enumerate(self.page.arcs) if arc.points]
        away, number = min(near, default=(99.0, 0))
        return self.page.arcs[number] if away < 6 else None

    def lane_at(self, where: QPointF) -> Row | None:
        """The row whose lane's name is at a place."""
        rows = (row for row in self.page.rows if row.first and abs(where.y() - (row.ground - 20)) < 22)
        return next(rows, None) if where.x() < MARGIN else None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        where = self._pressed = self._at = event.position()
        chosen = self.page.slots.get(self.session.state) if len(self.session.states) == 1 else None  # type: ignore[arg-type]
        if chosen is not None and (self._knob(chosen) - where).manhattanLength() < 14:
            self._join = Join(chosen.layer, "state", chosen.name)
            return
        slot, more = self.slot_at(where), bool(event.modifiers() & (CONTROL | SHIFT))
        if slot is not None and more:
            self.session.select_also(self._state(slot))
            return
        if slot is not None:
            # several that are chosen are moved together
            if (slot.layer, slot.name) not in self.session.states or self.session.transition is not None:
                self.session.select_state(slot.layer, slot.name)
            self._drag = slot
            return
        whole = next((at for at in range(len(self.session.document.layers)) if self._whole(at).contains(where)), None)
        if whole is not None:
            self._join = Join(whole, WHOLE, "")
            return
        arc = self.arc_at(where)
        if arc is None:
            self.session.clear_selection()
            row = self.lane_at(where)
            if row is not None:
                name = self.session.document.layers[row.layer].name
                self.session.select(Thing("lane", row.lane, name))
                self._join = Join(row.layer, LANE, row.lane) if row.lane else None
            return
        if more:
            for number in arc.transitions:
                self.session.select_also(name_of(self.session.document, arc.layer, number))
            return
        known = self.session.transition
        numbers = arc.transitions
        following = numbers[0]
        if known is not None and known[0] == arc.layer and known[1] in numbers:
            following = numbers[(numbers.index(known[1]) + 1) % len(numbers)]
        self.session.select_transition(arc.layer, following)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._at = event.position()
        if self._drag is not None or self._join is not None:
            self.update()
            return
        slot = self.slot_at(event.position())
        self.hovered = (slot.layer, slot.name) if slot else None
        lit = None if slot is not None else self.arc_at(event.position())
        if lit is not self.lit:
            self.lit = lit
            self.update()
        self.live.wake()
        if slot is not None:
            self.setToolTip(
                plain_tip(f"{slot.name}: click to choose (with Ctrl: several), drag to move, double-click to rename")
            )
        else:
            begins = self.lane_at(event.position()) or any(
                self._whole(at).contains(event.position()) for at in range(len(self.session.document.layers))
            )
            about = "Drag from here to a figure to make a transition from all these states" if begins else ""
            self.setToolTip(plain_tip(self._tip(self.lit)) if self.lit is not None else about)

    def _tip(self, arc: Arc) -> str:
        layer = self.session.document.layers[arc.layer]
        covered = self.covered

        def taken(number: int) -> str:
            return f"; taken {covered.transitions[arc.layer, number]} times by takes" if covered is not None else ""

        return "\n".join(
            f"{arc.source or 'whole graph'} → {arc.target}, "
            f"{in_words(self.session.document, layer.transitions[number].when)}{taken(number)}"
            for number in arc.transitions
        )

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        where = event.position()
        (slot, self._drag), (join, self._join) = (self._drag, None), (self._join, None)
        if join is not None:
            over = self.slot_at(where)
            if over is not None and over.layer == join.layer:
                self.joined.emit(join.layer, join.kind, join.name, over.name)
        elif slot is not None and (where - self._pressed).manhattanLength() > 24:
            row = min(
                (row for row in self.page.rows if row.layer == slot.layer),
                key=lambda row: abs((row.top + row.bottom) / 2 - where.y()),
            )
            place = sum(other.x < where.x() for other in row.slots if other.name != slot.name)
            before = sum(
                len(other.slots)
                for other in self.page.rows[: self.page.rows.index(row)]
                if other.layer == row.layer and other.lane == row.lane
            )
            self.moved.emit(slot.layer, slot.name, row.lane, before + place)
        elif slot is not None and len(self.session.states) > 1:
            self.session.select_state(slot.layer, slot.name)
        self.update()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        if self.slot_at(event.position()) is not None:
            self.rename_wanted.emit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = event.key()
        if event.matches(QKeySequence.StandardKey.Copy):
            self.copied.emit()
        elif event.matches(QKeySequence.StandardKey.Paste):
            self.pasted.emit()
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down):
            self._step(Qt.Key(key), event.modifiers())
        elif event.matches(QKeySequence.StandardKey.SelectAll):
            self.choose_all()
        elif key == Qt.Key.Key_F2:
            self.rename_wanted.emit()
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.remove_wanted.emit()
        elif key == Qt.Key.Key_Escape:
            self.session.clear_selection()
        else:
            super().keyPressEvent(event)

    def _state(self, slot: Slot) -> Thing:
        """The state a figure stands for."""
        return Thing("state", slot.name, self.session.document.layers[slot.layer].name)

    def choose_all(self) -> None:
        """Choose all states of the layer of the chosen one."""
        layer = self.session.state[0] if self.session.state else 0
        states = [self._state(slot) for slot in self.page.slots.values() if slot.layer == layer]
        if states:
            self.session.select(*states)

    def _step(self, key: Qt.Key, keys: Qt.KeyboardModifier) -> None:
        """Arrow keys choose the neighbour, with Ctrl beside what is chosen; with Shift they move the chosen state."""
        moving = bool(keys & SHIFT)
        slots = list(self.page.slots.values())
        chosen = self.page.slots.get(self.session.state) if self.session.state else None
        if chosen is None:
            if slots:
                self.session.select_state(slots[0].layer, slots[0].name)
            return
        row = self.page.rows[chosen.row]
        place = row.slots.index(chosen)
        side = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(key, 0)
        if side and moving:
            if 0 <= place + side < len(row.slots):
                self.moved.emit(chosen.layer, chosen.name, row.lane, place + side)
            return
        if side:
            target = row.slots[max(0, min(len(row.slots) - 1, place + side))]
        else:
            rows = [one for one in self.page.rows if one.slots]
            at = rows.index(row) + (1 if key == Qt.Key.Key_Down else -1)
            if not 0 <= at < len(rows):
                return
            target = min(rows[at].slots, key=lambda slot: abs(slot.x - chosen.x))
        if keys & CONTROL:
            rest = [one for one in self.session.selection.things("state") if one != self._state(target)]
            self.session.select(*rest, self._state(target))
        else:
            self.session.select_state(target.layer, target.name)
