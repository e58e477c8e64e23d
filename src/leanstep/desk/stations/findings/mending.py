"""What mends a finding: the edit in a sentence, and what the witness does before and after it."""

from __future__ import annotations

from collections.abc import Callable

import msgspec
from PySide6.QtCore import QRect, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QVBoxLayout, QWidget

from leanstep.core.character.takes import Take
from leanstep.core.errors import LeanStepError
from leanstep.core.findings.repairs.registry import Repair
from leanstep.core.findings.results import Finding
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.takes import rehearse
from leanstep.core.rehearsal.traces import Trace
from leanstep.core.wording import counted
from leanstep.desk.ribbons import ribbons
from leanstep.desk.session import Session
from leanstep.desk.theme import font, theme
from leanstep.desk.widgets.basics import button, label

ROW, LABELS = 20, 66
MOST_TICKS = 3000
AFTERWARDS = 1.5
"""Seconds for which a witness goes on, so that what a repair does is seen."""


class BeforeAfter(QWidget):
    """The ribbons of one take in two characters, one below the other on the same time axis."""

    def __init__(self) -> None:
        super().__init__()
        self.traces: list[Trace] = []
        self.layer = ""
        self.setFixedHeight(2 * ROW + 8)
        self.setAccessibleName("The witness before and after the repair")
        self.setToolTip("The states the witness goes through, as the character is and as it would be")

    def sizeHint(self) -> QSize:
        return QSize(500, 2 * ROW + 8)

    def show_traces(self, traces: list[Trace], layer: str) -> None:
        """Show traces of the layer of that name, or of the first one."""
        self.traces, self.layer = traces, layer
        self.setVisible(bool(traces))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for row, (trace, text) in enumerate(zip(self.traces, ("as it is", "mended"))):
            area = QRect(LABELS, row * (ROW + 4), self.width() - LABELS, ROW)
            painter.setPen(theme.colour("soft"))
            painter.setFont(font(12))
            flags = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
            painter.drawText(QRectF(0, area.y(), LABELS - 8, ROW), flags, text)
            names = [layer.name for layer in trace.machine.layers]
            layer = names.index(self.layer) if self.layer in names else 0
            if names:
                line = area, layer, trace.ribbon(layer)
                ribbons(painter, trace.machine, [line], 0, len(trace.steps))


class MendPanel(QFrame):
    """Shows the repair of the chosen finding, where one is known, and makes it."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.finding: Finding | None = None
        self.repair: Repair | None = None
        self.words = label("", wrap=True)
        self.ribbons = BeforeAfter()
        self.mend_button = button(
            "Mend it", "Make this change; it can be undone (Enter while the witness plays)", self.mend
        )
        self.take: Callable[[], Take | None] = lambda: None
        row = QHBoxLayout()
        row.addWidget(self.words, 1)
        row.addWidget(self.mend_button, 0, Qt.AlignmentFlag.AlignTop)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(row)
        column.addWidget(self.ribbons)
        session.checker.repaired.connect(self._came)
        session.changed.connect(self._forget)
        self.hide()

    def ask(self, finding: Finding | None, take: Callable[[], Take | None]) -> None:
        """Ask what mends a finding, of which ``take`` gives the witness as it is shown."""
        self.finding, self.repair, self.take = finding, None, take
        self.hide()
        if finding is not None:
            self.session.checker.ask_repair(finding)

    def _forget(self) -> None:
        """The document is another one: what mended the one before would undo that."""
        self.finding = self.repair = None
        self.hide()

    def _came(self, finding: Finding, repair: Repair | None) -> None:
        if finding is not self.finding or repair is None:
            return
        self.repair = repair
        others = f" It mends {counted(len(repair.also), 'other finding')}, listed below it." if repair.also else ""
        self.words.setText(f"To mend it: {repair.sentence}{others}")
        take = self.take()
        self.ribbons.show_traces(
            self._traces(take, repair) if take is not None else [], str(finding.details.get("layer", ""))
        )
        self.show()

    def _traces(self, take: Take, repair: Repair) -> list[Trace]:
        longer = int(AFTERWARDS * self.session.document.rate) if take.world == "free" else 0
        take = msgspec.structs.replace(take, ticks=take.ticks + longer)
        try:
            after = self.session.beside.wait_for("Trying the repair …", lambda: compile_character(repair.character))
            return [rehearse(machine, take, most=MOST_TICKS) for machine in (self.session.machine, after)]
        except LeanStepError:
            return []  # the take cannot be played in one of them

    def mend(self) -> None:
        """Make the change."""
        if self.repair is not None:
            self.session.mend(self.repair)
