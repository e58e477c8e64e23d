"""How soon presses show, as a table: every button in every state that the takes come to."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem, QVBoxLayout, QWidget

from leanstep.core.character.model import Character
from leanstep.core.conditions.tree import Duration, ticks_of
from leanstep.core.rehearsal.responsiveness import TICKS, Response, in_words, responses
from leanstep.core.rehearsal.takes import rehearse
from leanstep.desk.background import Background
from leanstep.desk.session import Session
from leanstep.desk.theme import theme
from leanstep.desk.widgets.basics import label

COLUMNS = ("Button", "In state", "Shows after", "Steers again", "Nothing happens", "Mostly because")
TIPS = {
    2: "Ticks from the press to the first other picture than without it, best to worst; 1 is the tick of the press",
    3: "Ticks from the press until the stick is obeyed",
    4: f"Presses that showed nothing within {TICKS} ticks, of those that were tried",
}
BUTTON, STATE, SHOWS, STEERS, NOTHING, WHY = range(len(COLUMNS))


class Responding(QWidget):
    """``wanted``: the take of a row is to be played: its slowest press, or one that shows nothing."""

    wanted = Signal(object)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.found: list[Response] = []
        self.words = label("", "soft", wrap=True)
        self.table = QTableWidget(0, len(COLUMNS))
        self.table.setAccessibleName("How soon presses show")
        for column, name in enumerate(COLUMNS):
            heading = QTableWidgetItem(name)
            heading.setToolTip(TIPS.get(column, ""))
            self.table.setHorizontalHeaderItem(column, heading)
        self.table.verticalHeader().hide()
        self.table.verticalHeader().setDefaultSectionSize(26)
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.table.itemActivated.connect(lambda item: self.wanted.emit(self.found[self._row(item)].worst))
        head = self.table.horizontalHeader()
        for column, wide in ((BUTTON, 80), (STATE, 110), (SHOWS, 130), (STEERS, 130), (NOTHING, 120)):
            self.table.setColumnWidth(column, wide)
        head.setSectionResizeMode(WHY, QHeaderView.ResizeMode.Stretch)
        column_of = QVBoxLayout(self)
        column_of.setContentsMargins(0, 0, 0, 0)
        column_of.addWidget(self.words)
        column_of.addWidget(self.table, 1)
        self.work = Background()
        self.work.told.connect(lambda says: self.words.setText(says) if says else None)
        self.work.ended.connect(self._show)
        self.work.failed.connect(session.complained)
        self._for: Character | None = None
        self.hide()

    def refresh(self) -> None:
        """Try the presses of the document as it is now, if anybody looks."""
        document, machine = self.session.document, self.session.machine
        if not self.isVisible() or self._for is document:
            return
        self._for = document
        takes = [take for take in document.takes if take.world == "body"]
        if not takes or not document.controls.buttons:
            self._show([])
            return

        def work() -> list[Response]:
            return list(responses(machine, {take.name: rehearse(machine, take) for take in takes}))

        self.work.start(work, "Pressing every button in every state …")

    def _show(self, found: list[Response]) -> None:
        """Show what was found: what shows first, slowest first, then what shows nothing."""
        self.found = sorted(found, key=lambda one: (one.button, not one.pictures, -one.late, one.state))
        buttons = {one.name: one for one in self.session.document.controls.buttons}
        rate = self.session.document.rate
        self.table.setRowCount(len(self.found))
        for row, one in enumerate(self.found):
            texts = (
                one.button,
                one.state,
                in_words(one.pictures),
                in_words(one.steering),
                f"{one.eaten} of {one.tries}" if one.eaten else "",
                one.why,
            )
            within = buttons[one.button].within if one.button in buttons else 0.0
            for column, text in enumerate(texts):
                item = QTableWidgetItem(text)
                item.setData(Qt.ItemDataRole.UserRole, row)
                if column == SHOWS and within and one.late > ticks_of(Duration(within, "s"), rate):
                    item.setForeground(theme.colour("error"))
                    item.setToolTip(f"{within:g} s are allowed")
                self.table.setItem(row, column, item)
        self.words.setText(
            "In ticks, 1 is that of the press. Enter plays the slowest press of a row."
            if found
            else "No take steers a body here: keep one, and every button is tried in every state it comes to."
        )

    def _row(self, item: QTableWidgetItem) -> int:
        return int(item.data(Qt.ItemDataRole.UserRole))

    def close_work(self) -> None:
        """The window closes."""
        self.work.close()
