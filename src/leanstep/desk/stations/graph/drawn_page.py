"""The graph on paper: lanes as rows, states as standing figures, transitions as arcs."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QPointF, QRect, QRectF, QSize, Qt
from PySide6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPixmap, QResizeEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from leanstep.core.character.document import Character
from leanstep.core.character.graph import Layer
from leanstep.core.findings.results import Finding
from leanstep.core.naming.targets import Subject
from leanstep.core.rehearsal.coverage import Coverage
from leanstep.core.rehearsal.drawable import NOTHING, Drawable, of_state
from leanstep.core.rehearsal.situation import Situation
from leanstep.desk import paint
from leanstep.desk.foresight import Truths
from leanstep.desk.kept_pictures import KeptPictures
from leanstep.desk.session import Session
from leanstep.desk.simulation import Simulation
from leanstep.desk.stations.graph.arcs import arch, rounded
from leanstep.desk.stations.graph.layout import LONG_NAME, MARGIN, NAME, Arc, Page, Slot, lay_out, lines_of
from leanstep.desk.theme import BOLD, MEDIUM, font, theme

RECENT = 20
"""Ticks for which a transition that was taken stands out."""


class DrawnPage(QWidget):
    """The page without hands: only what has changed is drawn again."""

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
        self._covered: tuple[Character, Coverage] | None = None
        self._paper: QPixmap | None = None
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self._paper_key: tuple[object, ...] = ()
        self._pictures = KeptPictures(session)
        self._moving: dict[tuple[int, str], Drawable] = {}
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
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
        """Draw again what has changed: figures that move when their cel does, the paper when anything on it does."""
        if not self.isVisible():
            return
        if self._key() != self._paper_key:
            self.update()
            return
        for name, shown in self.moving().items():
            if self._moving.get(name) != shown and name in self.page.slots:
                self.update(self._place_of(self.page.slots[name]))

    def _seen_after(self, ticks: int, situation: Situation, truths: Truths) -> object:
        """The figures that move, after so many ticks."""
        if not self.isVisible():
            return None
        moving = [self._drawable(name, self.live.ticks + ticks, situation) for name in self._moves()]
        return moving, self.live.past.still + ticks >= RECENT

    def _moves(self) -> list[tuple[int, str]]:
        """The figures that move: the active ones, the chosen one, and the one under the pointer."""
        live = self.live.machine.layers
        active = [(at, live[at].states[state]) for at, state in enumerate(self.live.situation.states)]
        wanted = dict.fromkeys([*active, *self.session.states, self.hovered])
        return [one for one in wanted if one is not None and one in self.page.slots]

    def moving(self) -> dict[tuple[int, str], Drawable]:
        """The figures that move as they are drawn now, by layer and state."""
        return {name: self._drawable(name, self.live.ticks, self.live.situation) for name in self._moves()}

    def _drawable(self, name: tuple[int, str], ticks: int, situation: Situation) -> Drawable:
        """A state's figure after so many ticks: where the character is in it, as it is seen in the mirror."""
        machine, (layer, state) = self.session.machine, name
        if layer >= len(machine.layers) or state not in machine.layers[layer].states:
            return NOTHING  # the page is about to be laid out anew
        at, live = machine.layers[layer].states.index(state), self.live
        if live.machine is machine and situation.states[layer] == at:
            return of_state(machine, layer, at, situation.stays[layer], live.deformed)
        return of_state(machine, layer, at, ticks)

    def _key(self) -> tuple[object, ...]:
        """All that decides how the paper looks, besides the document."""
        chosen = (tuple(self.session.states), tuple(self.session.transitions), self.hovered, id(self.lit))
        drawn = (self.visibleRegion().boundingRect().getRect(), theme.night, self.devicePixelRatioF())
        known = id(self.session.report), id(self.covered)
        return (*chosen, tuple(self._moves()), frozenset(self._fired()), *known, *drawn)

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
        self._moving = self.moving()
        for name, shown in self._moving.items():
            slot = self.page.slots[name]
            place = self._place_of(slot)
            if event.region().intersects(place):
                looks = self._paper_key, *name, place.getRect(), shown
                self._pictures.put(painter, looks, place, partial(self._figure, slot, True), ground="")

    def _drawn_paper(self, area: QRect) -> QPixmap:
        """The part of the page that is seen, without the figures that move."""
        paper = paint.blank(area.size(), self.devicePixelRatioF(), "leaf")
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
                    self._figure(slot, False, painter)
            for arc in ordered:
                self._count(painter, arc)
        return paper

    def _fired(self) -> set[tuple[int, int]]:
        live = self.live
        if live.last is None or live.machine is not self.session.machine:
            return set()
        return live.past.taken(live.past.ticks - RECENT)

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

    def _figure(self, slot: Slot, moves: bool, painter: QPainter) -> None:
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
        shown = self._drawable((slot.layer, slot.name), self.live.ticks if moves else 0, self.live.situation)
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
        """All that belongs to a figure, with room for what sticks out: some are wider and higher than most."""
        return self.box_of(slot).adjusted(-24 - slot.size, -6 - slot.size / 2, 24 + slot.size, 6).toAlignedRect()
