"""The ways out of a state, listed in the order in which they are tried, with what is true now."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from html import escape

from PySide6.QtCore import QElapsedTimer, QPointF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QTextDocumentFragment
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from leanstep.core.character.edits import tried_at
from leanstep.core.naming.transitions import tried_with
from leanstep.desk import paint
from leanstep.desk.session import Session
from leanstep.desk.simulation import Simulation
from leanstep.desk.theme import theme
from leanstep.desk.widgets.basics import plain_tip
from leanstep.desk.widgets.condition import in_words
from leanstep.desk.widgets.list_model import differences

SETTLED = 150
"""Milliseconds a state must last before the list follows it: a flicker does not make the list flicker."""
MOST_SPARE = 60
"""Rows that are kept to be listed again."""
LINGERS = 150
"""Milliseconds for which a transition that was true on a single tick is shown as true."""
STIRRED = 6
"""Pixels from which on a press is a drag."""


@dataclass(frozen=True)
class Entry:
    """A row of the list: a heading (``index`` -1), or a way out with what it says."""

    text: str
    layer: int = -1
    index: int = -1
    note: str = ""
    broken: bool = False


class Heading(QLabel):
    """Whose ways out follow, or that there are none."""

    def __init__(self, entry: Entry) -> None:
        super().__init__(entry.text)
        self.setWordWrap(True)
        self.setContentsMargins(4, 6, 0, 4)


class WayOut(QFrame):
    """One way out as a sentence, with its truth when it was last tried; a click opens it for editing, dragging it up or down
    changes when it is tried (``dragged``: itself and how far down it was let go, ``nudged``: by one place)."""

    chosen = Signal(int, int)
    dragged = Signal(object, float)
    nudged = Signal(object, int)

    def __init__(self, entry: Entry) -> None:
        super().__init__()
        self.layer, self.index, self.broken = entry.layer, entry.index, entry.broken
        self.true = False
        self._pressed: float | None = None
        self._lifted: float | None = None
        self._since = QElapsedTimer()
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Way out " + QTextDocumentFragment.fromHtml(entry.text).toPlainText())
        self.setToolTip(plain_tip(f"{entry.note}. Click to edit it; drag it up or down (Alt+↑/↓) to change the order."))
        row = QHBoxLayout(self)
        row.setContentsMargins(24, 4, 4, 5)
        sentence = QLabel(entry.text)
        sentence.setWordWrap(True)
        sentence.setTextFormat(Qt.TextFormat.RichText)
        row.addWidget(sentence)

    def show_truth(self, true: bool, of_tick: bool = False) -> None:
        """Show whether its condition held when it was tried; what was true on one tick only is shown a little longer, unless it is
        that ``of_tick`` which is looked at."""
        if true:
            self._since.restart()
        elif not of_tick and self.true and self._since.elapsed() < LINGERS:
            return
        if true != self.true:
            self.true = true
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.hasFocus() or self.underMouse() or self._lifted is not None:
            painter.fillRect(self.rect(), theme.colour("leaf"))
        if self._lifted is not None:
            painter.setPen(paint.pen("chosen", 2))
            painter.drawRect(self.rect().adjusted(1, 1, -1, -1))
        painter.setPen(paint.pen("rule"))
        painter.drawLine(0, self.height() - 1, self.width(), self.height() - 1)
        middle = QPointF(11, 14)
        if self.broken:
            painter.setPen(paint.pen("error", 2))
            painter.drawLine(middle + QPointF(-4, -4), middle + QPointF(4, 4))
            painter.drawLine(middle + QPointF(-4, 4), middle + QPointF(4, -4))
            return
        painter.setPen(paint.pen("ink", 1.4))
        painter.setBrush(theme.colour("ink") if self.true else Qt.BrushStyle.NoBrush)
        painter.drawEllipse(middle, 4.5, 4.5)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._pressed = event.position().y()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._pressed is not None and abs(event.position().y() - self._pressed) > STIRRED:
            self.raise_()
            self._lifted = event.position().y() - self._pressed
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        lifted, self._lifted, self._pressed = self._lifted, None, None
        self.update()
        if lifted is None:
            self.chosen.emit(self.layer, self.index)
        else:
            self.dragged.emit(self, event.position().y())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()), 0)
        if step and event.modifiers() & Qt.KeyboardModifier.AltModifier:
            self.nudged.emit(self, step)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.chosen.emit(self.layer, self.index)
        else:
            super().keyPressEvent(event)


class WaysOut(QScrollArea):
    """The ways out of the chosen state (or of the active one), in the order they are tried."""

    wanted = Signal(int, int)

    def __init__(self, session: Session, live: Simulation) -> None:
        super().__init__()
        self.session, self.live = session, live
        self.setWidgetResizable(True)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        inner = QWidget()
        self.column = QVBoxLayout(inner)
        self.column.setContentsMargins(0, 0, 4, 0)
        self.column.setSpacing(0)
        self.setWidget(inner)
        self.column.addStretch(1)
        self.rows: list[WayOut] = []
        self._entries: list[Entry] = []
        self._spare: dict[Entry, QWidget] = {}
        self._shown: tuple[object, ...] = ()
        self._active: tuple[int, ...] = ()
        self._since = QElapsedTimer()
        self._since.start()
        session.editing.follow(self, self._renew, session.changed, session.selected)
        live.ticked.connect(self.refresh)
        live.mode_changed.connect(self._mode)
        live.watchers.append(lambda ticks, situation, truths: (situation.states, truths))
        self._renew()

    def refresh(self) -> None:
        """Follow the active state and show what is true now."""
        if self.live.tried != self._active:
            self._active = self.live.tried
            self._since.restart()
        if self._may_follow() and (self._since.elapsed() > SETTLED or self.live.mode == "looking"):
            self._renew()
        for row in self.rows:
            row.show_truth(self.live.truths.get((row.layer, row.index), False), self.live.mode == "looking")

    def _mode(self) -> None:
        """Steered or let go: the ways out of something else may be listed."""
        if self.session.state is not None and not self.session.editing.held(self):
            self._renew()

    def _may_follow(self) -> bool:
        """Whether the ways out of another state are to be listed, and nobody drags one of these."""
        other = self._follows and self._shown[:1] != (self._active,)
        if self.live.mode == "looking":
            # the button that is down holds the playhead
            return other and not self.session.editing.under_way(self)
        return other and not self.session.editing.held(self)

    @property
    def _follows(self) -> bool:
        """Whether the ways out are those of the figure: while it is steered or played, whatever is chosen."""
        return self.session.state is None or self.live.mode != "idle"

    def _renew(self) -> None:
        """List the ways out as they are now; rows that say the same stay."""
        shown = self._states()
        self._shown = (self.live.tried, self.session.document)
        self.live.watched = frozenset(shown)
        entries = [entry for layer, state in shown for entry in self._of(layer, state)]
        for first, last, start, end in differences(self._entries, entries):
            for entry in self._entries[first:last]:
                item = self.column.takeAt(first)
                if item is not None and (widget := item.widget()) is not None:
                    self._put_by(entry, widget)
            for at in range(start, end):
                self.column.insertWidget(first + at - start, self._row(entries[at]))
        self._entries = entries
        items = (self.column.itemAt(at) for at in range(len(entries)))
        self.rows = [row for item in items if item is not None and isinstance(row := item.widget(), WayOut)]

    def _put_by(self, entry: Entry, row: QWidget) -> None:
        """A row that is listed no longer waits to be listed again: making one takes longer than a tick may."""
        row.hide()
        self._spare[entry] = row
        if len(self._spare) > MOST_SPARE:
            self._spare.pop(next(iter(self._spare))).deleteLater()

    def _row(self, entry: Entry) -> QWidget:
        spare = self._spare.pop(entry, None)
        if spare is not None:
            spare.show()
            return spare
        if entry.index < 0:
            return Heading(entry)
        row = WayOut(entry)
        row.chosen.connect(self.wanted)
        row.dragged.connect(self._dropped)
        row.nudged.connect(lambda one, step: self._move(one, self.rows.index(one) + step))
        return row

    def _dropped(self, row: WayOut, y: float) -> None:
        """A way out was let go at a place: it takes that of the row there."""
        place = row.y() + y
        below = [at for at, other in enumerate(self.rows) if other.y() <= place]
        self._move(row, below[-1] if below else 0)

    def _move(self, row: WayOut, to: int) -> None:
        """Try a way out where the row ``to`` is tried; only those of one owner change places."""
        if not 0 <= to < len(self.rows) or self.rows[to] is row:
            return
        target = self.rows[to]
        transitions = self.session.document.layers[row.layer].transitions
        if target.layer != row.layer or target.index not in tried_with(transitions, row.index):
            self.session.said.emit(
                "Only transitions of one owner change places: urgent ones come first, then those of the state, of its lane, of "
                "the whole graph."
            )
            return
        layer, index, number = row.layer, row.index, target.index
        one = transitions[index]
        self.session.edit(
            f"moved {one.source or one.from_lane or 'the whole graph'} → {one.to} in the order",
            lambda document: tried_at(document, layer, index, number),
        )
        again = next((other for other in self.rows if (other.layer, other.index) == (layer, number)), None)
        if again is not None:
            again.setFocus()

    def _states(self) -> list[tuple[int, int]]:
        """The states whose ways out are listed: the chosen one, else those that are active."""
        machine, chosen = self.session.machine, self.session.state
        if not self._follows and chosen is not None and chosen[1] in machine.layers[chosen[0]].states:
            return [(chosen[0], machine.layers[chosen[0]].states.index(chosen[1]))]
        return list(enumerate(self.live.tried)) if self.live.machine is machine else []

    def _of(self, layer: int, state: int) -> Iterator[Entry]:
        table = self.session.machine.layers[layer]
        transitions = self.session.document.layers[layer].transitions
        yield Entry(f"Ways out of <b>{escape(table.states[state])}</b>, in the order they are tried")
        if not table.ways[state]:
            yield Entry("None: nothing leads on from here.")
        for number, way in enumerate(table.ways[state], 1):
            one = transitions[way.index]
            text = f"<b>{number}. {escape(one.to)}</b> {escape(in_words(self.session.document, one.when))}"
            note = owner_of(one.source, one.from_lane, one.urgent)
            yield Entry(text, layer, way.index, note, way.condition is None)


def owner_of(source: str, lane: str, urgent: bool) -> str:
    """Where a transition comes from, in words."""
    where = f"From {source}" if source else f"From every state of lane {lane}" if lane else "From the whole graph"
    return where + (", urgent: tried before the ordinary ones" if urgent else "")
