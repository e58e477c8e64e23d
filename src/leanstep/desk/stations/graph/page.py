"""The graph on paper: lanes as rows, states as standing figures, transitions as arcs."""

from __future__ import annotations

import itertools
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRect, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QFontMetricsF,
    QKeyEvent,
    QKeySequence,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPixmap,
    QResizeEvent,
)
from PySide6.QtWidgets import QSizePolicy, QWidget

from leanstep.core.character.document import Character
from leanstep.core.character.graph import Layer
from leanstep.core.findings.results import Finding
from leanstep.core.naming.references import Thing
from leanstep.core.naming.targets import Subject
from leanstep.core.naming.transitions import name_of
from leanstep.core.rehearsal.coverage import Coverage
from leanstep.core.rehearsal.drawable import NOTHING, Drawable, of_state
from leanstep.core.rehearsal.situation import Situation
from leanstep.desk import paint
from leanstep.desk.foresight import Truths
from leanstep.desk.session import Session
from leanstep.desk.simulation import Simulation
from leanstep.desk.stations.graph.layout import (
    LANE,
    LONG_NAME,
    MARGIN,
    NAME,
    WHOLE,
    Arc,
    Page,
    Row,
    Slot,
    lay_out,
    lines_of,
)
from leanstep.desk.theme import BOLD, MEDIUM, font, theme
from leanstep.desk.widgets.basics import plain_tip
from leanstep.desk.widgets.condition import in_words

BEND = 7.0
RECENT = 20
"""Ticks for which a transition that was taken stands out."""


CONTROL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier
STIRRED = 8
"""Pixels from which on a press is a drag."""


@dataclass(frozen=True)
class Join:
    """A transition that is being drawn: the layer, and the kind and name of what it comes from."""

    layer: int
    kind: str
    name: str


class GraphPage(QWidget):
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
        super().__init__()
        self.session, self.live = session, live
        self.page: Page = lay_out(session.document, 800)
        self.hovered: tuple[int, str] | None = None
        self._height = 1.0
        self._chosen: tuple[frozenset[tuple[int, int]], frozenset[tuple[int, str]]] = frozenset(), frozenset()
        """The chosen transitions and states."""
        self._for = 400.0
        self._laid: tuple[tuple[Layer, ...], float, float] | None = None
        """What the page is laid out for: the layers, the width and the height."""
        self.lit: Arc | None = None
        self._drag: Slot | None = None
        self._join: Join | None = None
        self._at = QPointF()
        self._pressed = QPointF()
        self._covered: tuple[Character, Coverage] | None = None
        self._paper: QPixmap | None = None
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self._paper_key: tuple[object, ...] = ()
        self._moving: dict[tuple[int, str], Drawable] = {}
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Graph")
        live.ticked.connect(self._tick)
        live.watchers.append(self._seen_after)

    def refresh(self, room: float | None = None) -> None:
        """Lay the document out again, for so much height (left out: for as much as before)."""
        width = max(560.0, float(self.width()))
        self._for = self._for if room is None else room
        wanted = self.session.document.layers, width, self._for
        if self._laid is None or wanted[1:] != self._laid[1:] or wanted[0] is not self._laid[0]:
            self.page, self._laid = lay_out(self.session.document, width, self._for), wanted
        self.lit = None
        self.setMinimumHeight(int(self.page.height))
        self._paper = None
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(800, int(self.page.height))

    def resizeEvent(self, event: QResizeEvent) -> None:
        if event.size().width() != event.oldSize().width():
            self.refresh()

    def _tick(self) -> None:
        """Draw again what has changed: figures that move when their cel does, the paper when anything on it does; while it is
        steered, on every other tick."""
        if not self.isVisible() or (self.live.mode in ("driving", "playing") and self.live.ticks % 2):
            return
        if self._key() != self._paper_key:
            self.update()
            return
        for name, shown in self._now_moving().items():
            if self._moving.get(name) != shown and name in self.page.slots:
                self.update(self._place_of(self.page.slots[name]))

    def _seen_after(self, ticks: int, situation: Situation, truths: Truths) -> object:
        """The figures that move, after so many ticks."""
        if not self.isVisible():
            return None
        moving = [self._drawable(name, self.live.ticks + ticks) for name in self._moves()]
        return moving, self.live.still + ticks >= RECENT

    def _moves(self) -> list[tuple[int, str]]:
        """The figures that move: the active ones, the chosen one, and the one under the pointer."""
        live = self.live.machine.layers
        active = [(at, live[at].states[state]) for at, state in enumerate(self.live.situation.states)]
        wanted = dict.fromkeys([*active, *self.session.states, self.hovered])
        return [one for one in wanted if one is not None and one in self.page.slots]

    def _now_moving(self) -> dict[tuple[int, str], Drawable]:
        return {name: self._drawable(name, self.live.ticks) for name in self._moves()}

    def _drawable(self, name: tuple[int, str], ticks: int) -> Drawable:
        machine, (layer, state) = self.session.machine, name
        if layer >= len(machine.layers) or state not in machine.layers[layer].states:
            return NOTHING  # the page is about to be laid out anew
        at, live = machine.layers[layer].states.index(state), self.live
        active = live.machine is machine and live.situation.states[layer] == at
        return of_state(machine, layer, at, ticks, live.deformed if active else None)

    def _key(self) -> tuple[object, ...]:
        """All that decides how the paper looks, besides the document."""
        chosen = (tuple(self.session.states), tuple(self.session.transitions), self.hovered, id(self.lit))
        drawn = (self.visibleRegion().boundingRect(), theme.night, self.devicePixelRatioF())
        known = id(self.session.report), id(self.covered)
        return (*chosen, tuple(self._moves()), frozenset(self._fired()), *known, *drawn)

    # --- drawing

    def paintEvent(self, event: QPaintEvent) -> None:
        # all figures of a character are drawn at one scale
        self._height = self.session.art.figure_height()
        self._chosen = frozenset(self.session.transitions), frozenset(self.session.states)
        key, area = self._key(), self.visibleRegion().boundingRect()
        if area.isEmpty():
            area = self.rect()
        if self._paper is None or key != self._paper_key:
            self._paper, self._paper_key = self._drawn_paper(area), key
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.drawPixmap(area.topLeft(), self._paper)
        self._moving = self._now_moving()
        for name in self._moving:
            slot = self.page.slots[name]
            if event.region().intersects(self._place_of(slot)):
                self._figure(painter, slot, True)
        if self._join is not None and (self._at - self._pressed).manhattanLength() > STIRRED:
            painter.setPen(paint.pen("chosen", 2))
            painter.drawLine(self._pressed, self._at)
            over = self.slot_at(self._at)
            if over is not None and over.layer == self._join.layer:
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRoundedRect(self.box_of(over), 8, 8)

    def _drawn_paper(self, area: QRect) -> QPixmap:
        """The part of the page that is seen, without the figures that move."""
        ratio = self.devicePixelRatioF()
        paper = QPixmap(area.size() * ratio)
        paper.setDevicePixelRatio(ratio)
        paper.fill(theme.colour("leaf"))
        with QPainter(paper) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.translate(-area.topLeft())
            self._rows(painter)
            fired = self._fired()
            ordered = sorted(self.page.arcs, key=lambda arc: self._weight(arc, fired))
            for arc in ordered:
                self._arc(painter, arc, self._weight(arc, fired))
            moving = self._moves()
            for name, slot in self.page.slots.items():
                if name not in moving:
                    self._figure(painter, slot, False)
            for arc in ordered:
                self._count(painter, arc)
        return paper

    def _fired(self) -> set[tuple[int, int]]:
        last = self.live.last
        if last is None or self.live.machine is not self.session.machine:
            return set()
        if self.live.still >= RECENT:
            return set()
        recent = self.live.ribbon[-RECENT:]
        return {(layer, fired[layer]) for _, fired in recent for layer in range(len(fired)) if fired[layer] >= 0}

    def _weight(self, arc: Arc, fired: set[tuple[int, int]]) -> int:
        """0: quiet, 1: leads to the chosen state, 2: fired just now, 3: chosen or leads out of the chosen state."""
        ways, states = self._chosen
        if ways:
            if any((arc.layer, number) in ways for number in arc.transitions):
                return 3
        elif arc.kind == "state" and (arc.layer, arc.source) in states:
            return 3
        elif (arc.layer, arc.target) in states:
            return 1
        if arc is self.lit:
            return 3
        if any((arc.layer, number) in fired for number in arc.transitions):
            return 2
        if self.hovered == (arc.layer, arc.source) and arc.kind == "state":
            return 2
        return 0

    def _rows(self, painter: QPainter) -> None:
        layers = self.session.document.layers
        for row in self.page.rows:
            lane = layers[row.layer].lane_names.index(row.lane)
            hue = theme.hue(lane)
            if row.first:
                several = len(layers) > 1
                painter.setPen(hue)
                painter.setFont(font(15, MEDIUM, serif=True))
                box = QRectF(44, row.ground - 34, MARGIN - 60, 20)
                painter.drawText(
                    box, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignBottom, row.lane or "(no lane)"
                )
                if several and (
                    row is self.page.rows[0] or row.layer != self.page.rows[self.page.rows.index(row) - 1].layer
                ):
                    painter.setPen(theme.colour("soft"))
                    painter.setFont(font(11))
                    painter.drawText(
                        QRectF(44, row.ground - 14, 80, 15), Qt.AlignmentFlag.AlignLeft, layers[row.layer].name
                    )
            painter.setPen(paint.pen("rule", 1))
            painter.drawLine(QPointF(MARGIN - 4, row.ground), QPointF(self.width() - 40, row.ground))
            ground = paint.pen("ink", 1)
            ground.setColor(hue)
            painter.setPen(ground)
            painter.drawLine(QPointF(44, row.ground), QPointF(MARGIN - 4, row.ground))
        painter.setFont(font(12))
        painter.setPen(theme.colour("soft"))
        for at in range(len(layers)):
            painter.drawText(self._whole(at), Qt.AlignmentFlag.AlignLeft, "whole graph")

    def _figure(self, painter: QPainter, slot: Slot, moves: bool) -> None:
        machine = self.session.machine
        table = self.session.document.layers[slot.layer]
        state = next(one for one in table.states if one.name == slot.name)
        chosen = (slot.layer, slot.name) in self._chosen[1]
        index = machine.layers[slot.layer].states.index(slot.name)
        live = self.live.machine
        active = (
            slot.layer < len(live.layers)
            and slot.name in live.layers[slot.layer].states
            and live.layers[slot.layer].states[self.live.situation.states[slot.layer]] == slot.name
        )
        shown = self._drawable((slot.layer, slot.name), self.live.ticks if moves else 0)
        room = paint.room_of(self.session.art, shown)
        if room is not None:
            scale = slot.size / self._height
            foot = QPointF(slot.x, slot.ground)
            paint.figure(painter, self.session.art, shown, foot, scale, 1.0 if moves else 0.92)
        else:
            painter.setPen(paint.pen("faint", 1.2))
            painter.setBrush(paint.fill_of(machine, slot.layer, index))
            paint.figureless(painter, QPointF(slot.x, slot.ground), slot.size)
        weight = BOLD if active or chosen else MEDIUM
        painter.setFont(font(13, weight))
        lines = [slot.name]
        if painter.fontMetrics().horizontalAdvance(slot.name) + 14 > self._room(slot) - 10:
            painter.setFont(font(11, weight))
            lines = self.name_lines(slot, QFontMetricsF(painter.font()))
        width = max(painter.fontMetrics().horizontalAdvance(line) for line in lines) + (14 if len(lines) == 1 else 8)
        box = QRectF(slot.x - width / 2, slot.ground + 2, width, (NAME if len(lines) == 1 else LONG_NAME) - 1)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colour("chosen") if chosen else paint.fill_of(machine, slot.layer, index))
        painter.drawRoundedRect(box, 8, 8)
        if self.lit is not None and slot.layer == self.lit.layer and slot.name in (self.lit.source, self.lit.target):
            painter.setPen(paint.pen("chosen", 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(box.adjusted(-1, -1, 1, 1), 9, 9)
        if active:
            painter.setPen(paint.pen("ink", 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(box.adjusted(-1, -1, 1, 1), 9, 9)
        painter.setPen(theme.colour("on_chosen" if chosen else "ink"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, "\n".join(lines))
        self._signs(painter, slot, box, state.ending, table.start_name == slot.name)
        if chosen and len(self._chosen[1]) == 1:
            painter.setPen(paint.pen("chosen", 1.5))
            painter.setBrush(theme.colour("leaf"))
            painter.drawEllipse(self._knob(slot), 6, 6)
            painter.drawText(
                QRectF(self._knob(slot).x() - 6, self._knob(slot).y() - 8, 12, 15), Qt.AlignmentFlag.AlignCenter, "+"
            )

    def name_lines(self, slot: Slot, metrics: QFontMetricsF) -> list[str]:
        """A name on two lines that keep within their figure's place; ends that differ stay."""
        room = self._room(slot) - 18
        cut = (Qt.TextElideMode.ElideRight, Qt.TextElideMode.ElideLeft)
        return [metrics.elidedText(line, how, room) for line, how in zip(lines_of(slot.name), cut)]

    def _signs(self, painter: QPainter, slot: Slot, box: QRectF, ending: bool, start: bool) -> None:
        """A pennant marks the start, a double bar an ending, a red mark what has an error."""
        painter.setPen(paint.pen("ink", 1.4))
        if start:
            x, y = box.left() - 8, box.center().y()
            painter.setBrush(theme.colour("ink"))
            painter.drawPolygon([QPointF(x - 4, y - 5), QPointF(x + 4, y), QPointF(x - 4, y + 5)])
        if ending:
            for x in (box.right() + 4, box.right() + 8):
                painter.drawLine(QPointF(x, box.top() + 3), QPointF(x, box.bottom() - 3))
        if any(self._concerns(finding.subject, slot) for finding in self._errors()):
            centre = QPointF(slot.x + slot.size * 0.42, slot.top + 6)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.colour("error"))
            painter.drawEllipse(centre, 7, 7)
            painter.setPen(theme.colour("leaf"))
            painter.setFont(font(11, BOLD))
            painter.drawText(QRectF(centre.x() - 7, centre.y() - 8, 14, 15), Qt.AlignmentFlag.AlignCenter, "!")

    def _errors(self) -> list[Finding]:
        report = self.session.report
        return [finding for finding in report.findings if finding.severity == "error"] if report else []

    def _concerns(self, subject: Subject, slot: Slot) -> bool:
        return subject.layer == self.session.document.layers[slot.layer].name and slot.name in subject.all_states

    @property
    def covered(self) -> Coverage | None:
        """What the takes of the document as it is now cover; None where that is not known."""
        return self._covered[1] if self._covered is not None and self._covered[0] is self.session.document else None

    def show_covered(self, document: Character, covered: Coverage) -> None:
        """Show which transitions of a document no take takes."""
        self._covered = document, covered
        self.update()

    def _never_taken(self, arc: Arc) -> bool:
        """Whether no take takes any transition of an arc that could be taken."""
        covered = self.covered
        if covered is None:
            return False
        ways = {(arc.layer, number) for number in arc.transitions} - covered.impossible_ways
        return bool(ways) and not ways & set(covered.transitions)

    def _arc(self, painter: QPainter, arc: Arc, weight: int) -> None:
        if len(arc.points) < 2:
            return
        made = paint.pen(("faint", "soft", "ink", "chosen")[weight], (1.0, 1.4, 1.6, 2.2)[weight])
        if self._never_taken(arc):
            made.setStyle(Qt.PenStyle.DashLine)
        painter.setPen(made)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(arch(arc.points) if self._inside(arc) else rounded(arc.points))
        made.setStyle(Qt.PenStyle.SolidLine)
        painter.setPen(made)
        (x0, y0), (x1, y1) = arc.points[-2], arc.points[-1]
        paint.arrow(painter, QPointF(x1, y1), x1 - x0, y1 - y0, 6.0 if weight < 3 else 8.0)
        if arc.kind != "state":
            painter.setBrush(made.color())
            painter.drawEllipse(QPointF(*arc.points[0]), 3, 3)

    def _inside(self, arc: Arc) -> bool:
        """Whether an arc stays within its row."""
        slots = self.page.slots
        return arc.kind == "state" and slots[arc.layer, arc.source].row == slots[arc.layer, arc.target].row

    def _count(self, painter: QPainter, arc: Arc) -> None:
        if len(arc.transitions) < 2:
            return
        (x0, y0), (x1, y1) = arc.points[1], arc.points[2]
        centre = QPointF((x0 + x1) / 2, (y0 + y1) / 2)
        painter.setPen(paint.pen("soft"))
        painter.setBrush(theme.colour("leaf"))
        painter.drawEllipse(centre, 8, 8)
        painter.setFont(font(11))
        painter.setPen(theme.colour("ink"))
        painter.drawText(
            QRectF(centre.x() - 8, centre.y() - 8, 16, 16), Qt.AlignmentFlag.AlignCenter, str(len(arc.transitions))
        )

    # --- hands

    def _knob(self, slot: Slot) -> QPointF:
        return QPointF(slot.x + slot.size / 2 + 4, slot.ground - slot.size / 2)

    def _room(self, slot: Slot) -> float:
        """How wide a figure's name may be: up to half-way to its neighbours, on both sides alike."""
        others = [abs(other.x - slot.x) for other in self.page.rows[slot.row].slots if other is not slot]
        return min([*others, 2 * (slot.x - MARGIN / 2), 2 * (self.width() - slot.x)])

    def _whole(self, layer: int) -> QRectF:
        """Where “whole graph” stands of a layer."""
        first = next((row for row in self.page.rows if row.layer == layer), None)
        return QRectF(6, first.top - 14, 110, 15) if first is not None else QRectF()

    def box_of(self, slot: Slot) -> QRectF:
        """Where a figure and its name are."""
        half = max(slot.size / 2, 30.0)
        return QRectF(slot.x - half, slot.top, 2 * half, slot.bottom - slot.top)

    def _place_of(self, slot: Slot) -> QRect:
        """All that belongs to a figure, with room for what sticks out."""
        return self.box_of(slot).adjusted(-24, -6, 24, 6).toAlignedRect()

    def slot_at(self, where: QPointF) -> Slot | None:
        """The figure at a place."""
        return next((slot for slot in self.page.slots.values() if self.box_of(slot).contains(where)), None)

    def arc_at(self, where: QPointF) -> Arc | None:
        """The arc nearest to a place, within 6 pixels."""
        near = [(_distance(arc.points, where), number) for number, arc in enumerate(self.page.arcs) if arc.points]
        distance, number = min(near, default=(99.0, 0))
        return self.page.arcs[number] if distance < 6 else None

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


def _distance(points: list[tuple[float, float]], where: QPointF) -> float:
    """Distance from a place to a bent line."""
    best = 1e9
    for (x0, y0), (x1, y1) in itertools.pairwise(points):
        dx, dy = x1 - x0, y1 - y0
        length = dx * dx + dy * dy
        share = max(0.0, min(1.0, ((where.x() - x0) * dx + (where.y() - y0) * dy) / length)) if length else 0.0
        px, py = x0 + share * dx - where.x(), y0 + share * dy - where.y()
        best = min(best, (px * px + py * py) ** 0.5)
    return best
