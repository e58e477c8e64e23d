"""The mirror: the character, live, beside every station, with its ways out and its controls."""

from __future__ import annotations

from PySide6.QtCore import QElapsedTimer, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from leanstep.core.conditions.evaluation import decide
from leanstep.core.conditions.grammar import ConditionError, parse
from leanstep.core.conditions.printing import reading
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.stepping import moment_of
from leanstep.desk import paint
from leanstep.desk.live import Live
from leanstep.desk.session import Session
from leanstep.desk.theme import BOLD, font, theme

SETTLED = 150
"""Milliseconds a state must last before the list follows it: a flicker does not make the list flicker."""


class Glass(QWidget):
    """The picture in the mirror: the figure on its ground line, and a short ribbon of what it did last."""

    def __init__(self, session: Session, live: Live) -> None:
        super().__init__()
        self.session, self.live = session, live
        self.setMinimumHeight(150)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Mirror")
        self.setToolTip("The character as it is now. Ctrl+Space: steer it; Esc: let go.")
        live.ticked.connect(self.update)
        live.mode_changed.connect(self.update)

    def sizeHint(self) -> QSize:
        return QSize(300, 300)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        machine, situation = self.live.machine, self.live.situation
        rows = len(machine.layers)
        area = QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5 - 15 * rows - 4)
        paint.checker(painter, area)
        found = paint.shown_frame(self.session, machine, situation)
        ground = area.bottom() - max(12.0, area.height() * 0.06)
        painter.setPen(paint.pen("edge"))
        painter.drawLine(QPointF(area.left(), ground), QPointF(area.right(), ground))
        if found is not None:
            picture, foot = found
            scale = paint.whole_scale(picture, area.width() * 1.5, ground - area.top() + 14)
            lift = 0.0 if situation.body.grounded or self.live.stepper.free else min(24.0, area.height() * 0.06)
            painter.save()
            painter.setClipRect(area)
            paint.figure(painter, picture, foot, QPointF(area.center().x(), ground - lift), scale)
            painter.restore()
        else:
            painter.setPen(theme.colour("soft"))
            painter.setFont(font(13))
            painter.drawText(area, Qt.AlignmentFlag.AlignCenter, "This state shows no picture yet.")
        driving = self.live.mode == "driving"
        painter.setPen(paint.pen("chosen" if driving else "edge", 3 if driving else 1))
        painter.drawRect(area.adjusted(1, 1, -1, -1) if driving else area)
        self._caption(painter, area)
        self._ribbons(painter, QRectF(0.5, area.bottom() + 4, self.width() - 1, 15 * rows))

    def _caption(self, painter: QPainter, area: QRectF) -> None:
        mode = self.live.mode
        if mode == "driving":
            text = "recording – Esc lets go" if self.live.recording is not None else "you steer – Esc lets go"
        elif mode == "playing" and self.live.take is not None:
            text = f"plays {self.live.take.name}, tick {min(self.live.position, self.live.take.ticks)}"
        else:
            return
        painter.setFont(font(12, BOLD))
        width = QFontMetricsF(painter.font()).horizontalAdvance(text) + 16
        box = QRectF(area.left() + 6, area.top() + 6, width, 20)
        painter.fillRect(box, theme.colour("chosen"))
        painter.setPen(theme.colour("on_chosen"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def _ribbons(self, painter: QPainter, area: QRectF) -> None:
        machine = self.live.machine
        span = int(machine.character.rate * 2)
        recent = self.live.ribbon[-span:]
        for layer in range(len(machine.layers)):
            row = QRectF(area.x(), area.y() + layer * 15, area.width(), 13)
            runs = paint.runs_of([states[layer] for states, _ in recent], [fired[layer] >= 0 for _, fired in recent])
            paint.ribbon(painter, row, machine, layer, runs, len(recent) - span, len(recent))


class WayOut(QFrame):
    """One way out as a sentence, with its truth of this moment; a click opens it for editing."""

    chosen = Signal(int, int)

    def __init__(self, layer: int, index: int, number: int, to: str, text: str, note: str) -> None:
        super().__init__()
        self.layer, self.index = layer, index
        self.true = False
        self.broken = False
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(f"Way out {number}: {to} {text}")
        self.setToolTip(f"{note}. Click to edit it.")
        row = QHBoxLayout(self)
        row.setContentsMargins(24, 4, 4, 5)
        label = QLabel(f"<b>{number}. {to}</b> {text}")
        label.setWordWrap(True)
        label.setTextFormat(Qt.TextFormat.RichText)
        row.addWidget(label)

    def show_truth(self, true: bool) -> None:
        """Show whether its condition holds now."""
        if true != self.true:
            self.true = true
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.hasFocus() or self.underMouse():
            painter.fillRect(self.rect(), theme.colour("leaf"))
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
        self.chosen.emit(self.layer, self.index)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.chosen.emit(self.layer, self.index)
        else:
            super().keyPressEvent(event)


class WaysOut(QScrollArea):
    """The ways out of the chosen state (or of the active one), in the order they are tried."""

    wanted = Signal(int, int)

    def __init__(self, session: Session, live: Live) -> None:
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
        self.rows: list[WayOut] = []
        self._shown: tuple[object, ...] = ()
        self._active: tuple[int, ...] = ()
        self._since = QElapsedTimer()
        self._since.start()
        session.changed.connect(self._rebuild)
        session.selected.connect(self._rebuild)
        live.ticked.connect(self.refresh)
        self._rebuild()

    def refresh(self) -> None:
        """Follow the active state and show what is true now."""
        if self.live.situation.states != self._active:
            self._active = self.live.situation.states
            self._since.restart()
        elif self.session.state is None and self._shown[:1] != (self._active,) and self._since.elapsed() > SETTLED:
            self._rebuild()
        truths = truths_now(self.live)
        for row in self.rows:
            row.show_truth(truths.get((row.layer, row.index), False))

    def _rebuild(self) -> None:
        machine, document = self.session.machine, self.session.document
        situation = self.live.situation
        self._shown = (situation.states, document)
        while self.column.count():
            item = self.column.takeAt(0)
            if item is not None and item.widget() is not None:
                item.widget().deleteLater()
        self.rows = []
        chosen = self.session.state
        shown: list[tuple[int, int]] = []
        if chosen is not None and chosen[1] in machine.layers[chosen[0]].states:
            shown = [(chosen[0], machine.layers[chosen[0]].states.index(chosen[1]))]
        elif self.live.machine is machine:
            shown = list(enumerate(situation.states))
        for layer, state in shown:
            table = machine.layers[layer]
            head = QLabel(f"Ways out of <b>{table.states[state]}</b>, in the order they are tried")
            head.setWordWrap(True)
            head.setContentsMargins(4, 6, 0, 4)
            self.column.addWidget(head)
            if not table.ways[state]:
                none = QLabel("None: nothing leads on from here.")
                none.setProperty("role", "soft")
                none.setContentsMargins(4, 2, 0, 6)
                self.column.addWidget(none)
            for number, way in enumerate(table.ways[state], 1):
                transition = document.layers[layer].transitions[way.index]
                row = WayOut(
                    layer,
                    way.index,
                    number,
                    transition.to,
                    in_words(transition.when),
                    owner_of(transition.source, transition.from_lane, transition.urgent),
                )
                row.broken = way.condition is None
                row.chosen.connect(self.wanted)
                self.column.addWidget(row)
                self.rows.append(row)
        self.column.addStretch(1)


class Mirror(QWidget):
    """The column on the right.  Sizes: ``pocket``, ``column``, ``stage``; ``away`` when the station is the mirror."""

    SIZES = {"pocket": 176, "column": 300, "stage": 480}
    GLASS = {"pocket": 168, "column": 270, "stage": 400}

    def __init__(self, session: Session, live: Live) -> None:
        super().__init__()
        self.session, self.live = session, live
        self.setAccessibleName("Mirror column")
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 8, 10, 8)
        column.setSpacing(6)
        head = QHBoxLayout()
        self.title = QLabel()
        self.title.setProperty("role", "title")
        head.addWidget(self.title, 1)
        self.size_button = QPushButton("◧")
        self.size_button.setFlat(True)
        self.size_button.setAccessibleName("Mirror size")
        self.size_button.setToolTip("Pocket, column or stage: how large the mirror is here (Ctrl+M)")
        head.addWidget(self.size_button)
        column.addLayout(head)
        self.glass = Glass(session, live)
        column.addWidget(self.glass)
        buttons = QHBoxLayout()
        self.drive_button = QPushButton("Steer it")
        self.drive_button.setCheckable(True)
        self.drive_button.setToolTip("Steer the character with the keys below (Ctrl+Space; Esc lets go)")
        self.drive_button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        buttons.addWidget(self.drive_button)
        self.restart_button = QPushButton("From the start")
        self.restart_button.setToolTip("Put the character back to its start")
        self.restart_button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        buttons.addWidget(self.restart_button)
        buttons.addStretch(1)
        column.addLayout(buttons)
        self.keys = QLabel()
        self.keys.setProperty("role", "soft")
        self.keys.setWordWrap(True)
        column.addWidget(self.keys)
        self.ways = WaysOut(session, live)
        column.addWidget(self.ways, 1)
        live.ticked.connect(self._title)
        live.mode_changed.connect(self._mode)
        session.changed.connect(self._keys)
        self._keys()
        self._title()

    def set_size(self, size: str) -> None:
        """Make the column pocket, column or stage wide; ``away`` hides the picture and keeps the ways out."""
        self.setFixedWidth(self.SIZES.get(size, 300))
        self.glass.setFixedHeight(self.GLASS.get(size, 270) + 15 * len(self.live.machine.layers))
        away = size == "away"
        for widget in (self.glass, self.drive_button, self.restart_button, self.size_button):
            widget.setVisible(not away)

    def _title(self) -> None:
        machine, situation = self.live.machine, self.live.situation
        names = [layer.states[state] for layer, state in zip(machine.layers, situation.states)]
        text = " · ".join(names)
        if self.title.text() != text:
            self.title.setText(text)
            self.title.setToolTip("The state each layer is in")

    def _mode(self) -> None:
        self.drive_button.setChecked(self.live.mode == "driving")

    def _keys(self) -> None:
        controls = self.session.document.controls
        parts = [
            f"{stick.name}: {'/'.join(keys[0] for keys in (stick.left, stick.right, stick.down, stick.up) if keys)}"
            for stick in controls.sticks
        ]
        parts += [f"{button.name}: {button.keys[0]}" for button in controls.buttons if button.keys]
        self.keys.setText("   ".join(parts) or "This character has no controls yet.")
        self.keys.setToolTip("The keys that steer the character")


def in_words(condition: str) -> str:
    """A condition read aloud, or what is wrong with it."""
    try:
        return reading(parse(condition))
    except ConditionError as error:
        return f"when “{condition}” – cannot be read: {error.reason}"


def owner_of(source: str, lane: str, urgent: bool) -> str:
    """Where a transition comes from, in words."""
    where = f"From {source}" if source else f"From every state of lane {lane}" if lane else "From the whole graph"
    return where + (", urgent: tried before the ordinary ones" if urgent else "")


def truths_now(live: Live) -> dict[tuple[int, int], bool]:
    """Whether each transition's condition holds in the live situation."""
    machine: Machine = live.machine
    moment = moment_of(machine, live.situation)
    return {
        (layer, way.index): way.condition is not None and decide(way.condition, moment)
        for layer, table in enumerate(machine.layers)
        for row in table.ways
        for way in row
    }
