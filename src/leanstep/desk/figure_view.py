"""The mirror: the character, live, beside every station, with its ways out and its controls."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QPointF, QRect, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QButtonGroup, QGridLayout, QHBoxLayout, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from leanstep.core.rehearsal.drawable import Drawable
from leanstep.core.rehearsal.situation import Situation
from leanstep.desk import paint
from leanstep.desk.body_panel import BodyPanel
from leanstep.desk.foresight import Truths
from leanstep.desk.kept_pictures import KeptPictures
from leanstep.desk.moves_row import MovesRow
from leanstep.desk.parameters.panel import NamesPanel
from leanstep.desk.ribbons import ribbons
from leanstep.desk.session import Session
from leanstep.desk.shape_panel import ShapePanel
from leanstep.desk.simulation import Simulation
from leanstep.desk.theme import font, theme
from leanstep.desk.ways_out import WaysOut
from leanstep.desk.wears_row import WearsRow
from leanstep.desk.why_not import WhyNot
from leanstep.desk.widgets.basics import button, label

RIBBON = 2.0
"""Seconds of what the character did last that the mirror's ribbon shows."""
ROW = 15
"""Height of a row of the mirror's ribbon."""
SOON, PACE = 3, 6
"""Ticks after which a ribbon is drawn again together with the figure, and by itself."""
MOMENT = 0.25
"""Seconds for which a mark that fired is named."""


class Glass(QWidget):
    """The picture in the mirror: the figure on its ground line, and a short ribbon of what it did last.  It is drawn again only
    when something in it has changed."""

    def __init__(self, session: Session, live: Simulation) -> None:
        super().__init__()
        self.session, self.live = session, live
        self._seen: tuple[object, ...] = ()
        self._hung = live.past, 0
        """Which past the ribbon last showed, and up to which of its ticks."""
        self._pictures = KeptPictures(session)
        # nothing below it shines through, so it need not be drawn either
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setMinimumHeight(150)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Mirror")
        self.setToolTip("The character as it is now. Ctrl+Space: steer it; Esc: let go.")
        live.ticked.connect(self._look)
        live.watchers.append(self._seen_after)
        live.mode_changed.connect(self.update)
        session.art.changed.connect(self.update)
        session.changed.connect(self.update)

    def _look(self) -> None:
        """Draw again if the figure, its caption or its ribbon is another one; a ribbon that moves, at its pace."""
        if not self.isVisible():
            return
        shown, laps = self._seen_after(0, self.live.situation, {}) or (None, None)
        seen = (shown, (self._caption_text(), self._marks_text()))
        other = seen != self._seen
        if other:
            self._seen = seen
            self.update(0, 0, self.width(), self._below())
        if self._ribbon_moves(laps, other):
            self._hung = self.live.past, self.live.past.ticks
            self.update(self.rect().adjusted(0, self._below(), 0, 0))

    def _ribbon_moves(self, laps: int | None, other: bool) -> bool:
        """Whether the ribbon is to be drawn again: sooner where another figure (``other``) is drawn anyway; one that is all of one
        state (no ``laps``) moves by its marks."""
        live, waited = self.live, self._waited
        if self._hung[0] is not live.past or (laps is None and live.past.still - waited <= self._span):
            return True
        if laps is not None:
            return laps > 0 or (other and waited >= SOON)
        return waited >= PACE and bool(live.marks) and live.marks[-1][0] > live.ticks - self._span

    def _below(self) -> int:
        """How far down the ribbons lie, below the figure."""
        return self.height() - ROW * len(self.live.machine.layers)

    def _seen_after(
        self, ticks: int, situation: Situation, truths: Truths
    ) -> tuple[tuple[Drawable, bool], int | None] | None:
        """What is drawn after so many ticks: the figure and whether it stands, and for how many times its pace the ribbon has hung;
        None for a ribbon that is all of one state, which does not seem to move."""
        if not self.isVisible():
            return None
        live = self.live
        shown = live.figure(ticks), situation.body.grounded
        return shown, None if self._rests(ticks) else (self._waited + ticks) // PACE

    @property
    def _waited(self) -> int:
        """Ticks since the ribbon was last drawn."""
        return self.live.past.ticks - self._hung[1]

    @property
    def _span(self) -> int:
        """Ticks that the ribbon shows."""
        return int(self.live.machine.character.rate * RIBBON)

    def _rests(self, ticks: int = 0) -> bool:
        """Whether the ribbon is all of one state after so many ticks."""
        return self.live.past.still + ticks > self._span

    def _lifted(self) -> bool:
        return not (self.live.situation.body.grounded or self.live.stepper.free)

    def sizeHint(self) -> QSize:
        return QSize(300, 300)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        below = self._below()
        if event.rect().top() < below:
            self._picture(painter, self.live.figure(), QRect(0, 0, self.width(), below))
            if self.live.mode != "driving":
                self._caption(painter)
            if marks := self._marks_text():
                paint.plate(painter, QPointF(6, below - 32), marks, self._most, "mark", "leaf")
        if event.rect().bottom() >= below:
            self._ribbons(painter, below)

    def _picture(self, painter: QPainter, shown: Drawable, room: QRect) -> None:
        """The figure on its ground line, and that it is steered."""
        driving, lifted = self.live.mode == "driving", self._lifted()

        def draw(on: QPainter) -> None:
            area = QRectF(room).adjusted(0.5, 0.5, -0.5, -4.5)
            ground = area.bottom() - max(12.0, area.height() * 0.06)
            paint.checker(on, area)
            on.fillRect(QRectF(area.left(), ground - 0.5, area.width(), 1), theme.colour("edge"))
            self._figure(on, area, shown, ground, min(24.0, area.height() * 0.06) if lifted else 0.0)
            paint.frame(on, area, "chosen" if driving else "edge", 3 if driving else 1)
            if driving:
                self._caption(on)

        self._pictures.put(painter, (shown, driving and self._caption_text(), lifted), room, draw)

    def _figure(self, painter: QPainter, area: QRectF, shown: Drawable, ground: float, lift: float) -> None:
        """The figure as large as there is room for, ``lift`` above the ground, or why nothing is seen of it."""
        art = self.session.art
        room = paint.room_of(art, shown)
        if room is None:
            painter.setPen(theme.colour("soft"))
            painter.setFont(font(13))
            painter.drawText(area, Qt.AlignmentFlag.AlignCenter, self._why_empty(shown))
            return
        # cells may be wider than what is drawn in them, and figures than their cells are to one side
        wide = max(room[0] / 1.5, *(art.width(one.sheet) for one in shown.pieces if not one.to), 1.0)
        scale = paint.whole_scale((wide, room[1]), area.width(), ground - area.top() + 14)
        foot = QPointF(area.center().x(), ground - lift - paint.below(art, shown) * scale)
        painter.save()
        painter.setClipRect(area)
        paint.figure(painter, art, shown, foot, scale)
        painter.restore()

    def _why_empty(self, shown: Drawable) -> str:
        """Why there is nothing to be seen of a figure."""
        if not shown.pieces:
            return "This state shows no picture yet."
        reading = any(self.session.art.sheet(one.sheet) is None for one in shown.pieces)
        return "Reading the image …" if reading else "This frame is not on its sheet, or the image is missing."

    def _caption(self, painter: QPainter) -> None:
        if caption := self._caption_text():
            paint.plate(painter, QPointF(6, 6), caption, self._most, "chosen", "on_chosen")

    @property
    def _most(self) -> float:
        """How wide what is written may be."""
        return self.width() - 12.0

    def _caption_text(self) -> str:
        mode = self.live.mode
        if mode == "driving":
            return "recording – Esc lets go" if self.live.recording is not None else "you steer – Esc lets go"
        if mode == "playing" and self.live.take is not None:
            return f"plays {self.live.take.name}, tick {min(self.live.position, self.live.take.ticks)}"
        if mode == "looking" and self.live.take is not None:
            return f"tick {self.live.position} of {self.live.take.name or 'the witness'} – Esc lets go"
        return ""

    def _marks_text(self) -> str:
        """The marks that fired a moment ago, while the character is steered or played."""
        live = self.live
        if live.mode == "idle":
            return ""
        since = live.ticks - round(MOMENT * live.machine.character.rate)
        return ", ".join(dict.fromkeys(name for tick, _, name in live.marks if tick > since))

    def _ribbons(self, painter: QPainter, below: int) -> None:
        """What each layer was in lately, a row each, and the marks that fired."""
        live, span = self.live, self._span
        area = QRect(0, below, self.width(), self.height() - below)
        rows = [QRect(0, below + at * ROW, self.width(), ROW - 1) for at in range(len(live.machine.layers))]
        first, last = live.past.ticks - span, live.past.ticks

        def draw(on: QPainter) -> None:
            on.fillRect(area, theme.colour("paper"))
            lines = [(row, layer, live.past.runs(layer, first)) for layer, row in enumerate(rows)]
            ribbons(on, live.machine, lines, first, last)

        if self._rests():
            # all of one state: it looks the same however long that lasts
            self._pictures.put(painter, ("rests", live.situation.states), area, draw)
        else:
            draw(painter)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(paint.pen("mark"))
        for tick, layer, _ in reversed(live.marks):
            x = self.width() - (live.ticks - tick + 0.5) * self.width() / span
            if x <= 0:
                break
            above = rows[layer].top()
            painter.drawLine(QPointF(x, above + 1), QPointF(x, above + ROW - 3))
            painter.drawEllipse(QPointF(x, above + 3), 1.5, 1.5)


class FigureView(QWidget):
    """The column on the right.  Sizes: ``pocket``, ``column``, ``stage``; ``away`` when the station is the mirror."""

    SIZES = {"pocket": 176, "column": 300, "stage": 480}
    GLASS = {"pocket": 168, "column": 270, "stage": 400}

    def __init__(self, session: Session, live: Simulation) -> None:
        super().__init__()
        self.session, self.live = session, live
        self.setAccessibleName("Mirror column")
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 8, 10, 8)
        column.setSpacing(6)
        head = QHBoxLayout()
        self.title = label("", "title")
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
        self.wears = WearsRow(session)
        column.addWidget(self.wears)
        self.moves = MovesRow(session, live)
        column.addWidget(self.moves)
        self.keys = label("", "soft", wrap=True)
        column.addWidget(self.keys)
        self.ways = WaysOut(session, live)
        self.why_not = WhyNot(session, live)
        self.names = NamesPanel(session, live)
        self.names.hide()
        self.body = BodyPanel(session)
        self.body.hide()
        self.shape = ShapePanel(session, live)
        self.shape.hide()
        self._tabs = tabs = QGridLayout()
        tabs.setHorizontalSpacing(3)
        tabs.setVerticalSpacing(3)
        group = QButtonGroup(self)
        self.tabs: dict[str, QPushButton] = {}
        for text, tip in (
            ("Ways out", "The ways out of the chosen or the active state"),
            ("Parameters", "Parameters with their values of this moment, controls and assumptions (Ctrl+Shift+P)"),
            ("Body", "How the body moves (Ctrl+Shift+B)"),
            ("Shape", "How the figure is squashed and leans (Ctrl+Shift+L)"),
        ):
            tab = button(text, tip, partial(self.show_tab, text))
            tab.setCheckable(True)
            tab.setProperty("tab", True)
            tab.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            group.addButton(tab)
            self.tabs[text] = tab
        self.tabs["Ways out"].setChecked(True)
        column.addLayout(tabs)
        column.addWidget(self.why_not)
        column.addWidget(self.ways, 1)
        column.addWidget(self.names, 1)
        column.addWidget(self.body, 1)
        column.addWidget(self.shape, 1)
        live.ticked.connect(self._title)
        live.mode_changed.connect(self._mode)
        session.changed.connect(self._keys)
        self._keys()
        self._title()

    def show_tab(self, text: str) -> None:
        """Show the ways out, the parameters, the body, or squash and lean."""
        self.tabs[text].setChecked(True)
        self.why_not.setVisible(text == "Ways out")
        self.ways.setVisible(text == "Ways out")
        self.names.setVisible(text == "Parameters")
        self.body.setVisible(text == "Body")
        self.shape.setVisible(text == "Shape")

    def set_size(self, size: str) -> None:
        """Make the column pocket, column or stage wide; ``away`` hides the picture and keeps the ways out."""
        self.setFixedWidth(self.SIZES.get(size, 300))
        self.glass.setFixedHeight(self.GLASS.get(size, 270) + ROW * len(self.live.machine.layers))
        self.restart_button.setText("To start" if size == "pocket" else "From the start")
        across = 2 if size == "pocket" else len(self.tabs)
        for at, tab in enumerate(self.tabs.values()):
            self._tabs.addWidget(tab, at // across, at % across)
        self._tabs.setColumnStretch(len(self.tabs), 1)
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
