"""The graph as a table: from where to where, when, which is tried first, and how often the takes take it."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from typing import Any

from PySide6.QtCore import (
    QAbstractTableModel,
    QItemSelection,
    QItemSelectionModel,
    QModelIndex,
    QPersistentModelIndex,
    QSortFilterProxyModel,
    Qt,
    QTimer,
    Signal,
)
from PySide6.QtGui import QColor, QShowEvent
from PySide6.QtWidgets import QAbstractItemView, QHBoxLayout, QHeaderView, QLineEdit, QTableView, QVBoxLayout, QWidget

from leanstep.core.character.document import Character
from leanstep.core.character.edits import change
from leanstep.core.findings.feasible import leave_out_impossible
from leanstep.core.naming.told import with_told
from leanstep.core.naming.transitions import name_of
from leanstep.core.naming.wording import described
from leanstep.core.proof.explore.covering import MOST_TICKS, Rest, takes_for_the_rest
from leanstep.core.rehearsal.coverage import Coverage, coverage
from leanstep.core.wording import counted, some
from leanstep.desk.background import Background
from leanstep.desk.session import Session
from leanstep.desk.simulation import Simulation
from leanstep.desk.theme import theme
from leanstep.desk.widgets.basics import button, label, plain_tip
from leanstep.desk.widgets.condition import in_words

COLUMNS = ("From", "To", "When", "Read aloud", "Tried", "Taken", "Steered", "Decided")
FROM, TO, WHEN, ALOUD, TRIED, TAKEN, STEERED, DECIDED = range(len(COLUMNS))
TIPS = {
    TRIED: "Its place in the order in which the ways out of its state are tried, counted over all states it leads from",
    TAKEN: "How often the takes of this character take it",
    STEERED: "How often it was taken while you steered, since this file was opened",
    DECIDED: "Of the parts of its condition, each both true and false, how many have decided on some tick of a take",
}
SEEN_AFTER = 40
"""Milliseconds after which new rows have been drawn."""
MOST_SAID = 2
"""Transitions that are named where they are left out."""
Index = QModelIndex | QPersistentModelIndex
UPDATE = QItemSelectionModel.SelectionFlag


@dataclass(frozen=True)
class Row:
    """One transition: its layer and place, and what stands in its columns."""

    layer: int
    index: int
    texts: tuple[str, str, str, str]
    tried: int


class TransitionsModel(QAbstractTableModel):
    """All transitions of the document; what the takes cover is None until it is known."""

    written = Signal(int, int, str)

    def __init__(self) -> None:
        super().__init__()
        self.rows: list[Row] = []
        self.covered: Coverage | None = None
        self.counts: Counter[tuple[int, int]] = Counter()
        self.steered: Counter[tuple[int, int]] = Counter()
        self._parts: dict[tuple[int, int], list[tuple[str, bool, bool]]] = {}

    def show(self, rows: list[Row]) -> None:
        """Show other transitions."""
        self.beginResetModel()
        self.rows = rows
        self.endResetModel()

    def show_covered(self, covered: Coverage | None) -> None:
        """Say how often they are taken, and what of their conditions has decided."""
        self.covered = covered
        self.counts = covered.transitions if covered is not None else Counter()
        # cells are asked for whenever they are drawn
        self._parts = {key: covered.parts(key) for key in covered.conditions} if covered is not None else {}
        if self.rows:
            self.dataChanged.emit(self.index(0, TAKEN), self.index(len(self.rows) - 1, DECIDED))

    def show_steered(self, steered: Counter[tuple[int, int]]) -> None:
        """Say how often they were taken by who steered."""
        if steered != self.steered:
            self.steered = steered
            if self.rows:
                self.dataChanged.emit(self.index(0, STEERED), self.index(len(self.rows) - 1, STEERED))

    def _decided(self, row: Row) -> list[tuple[str, bool, bool]]:
        """The parts of a condition, and whether each has decided while true and while false."""
        return self._parts.get((row.layer, row.index), [])

    def rowCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self.rows)

    def columnCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(COLUMNS)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.DisplayRole:
            return COLUMNS[section]
        return TIPS.get(section) if role == Qt.ItemDataRole.ToolTipRole else None

    def flags(self, index: Index) -> Qt.ItemFlag:
        editable = Qt.ItemFlag.ItemIsEditable if index.column() == WHEN else Qt.ItemFlag.NoItemFlags
        return super().flags(index) | editable

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        row, column = self.rows[index.row()], index.column()
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.EditRole):
            if column == TRIED:
                return row.tried
            if column == TAKEN:
                return "…" if self.covered is None else self.counts[row.layer, row.index]
            if column == STEERED:
                return self.steered[row.layer, row.index]
            if column == DECIDED:
                parts = [one for _, *each in self._decided(row) for one in each]
                return "…" if self.covered is None else f"{sum(parts)} of {len(parts)}"
            return row.texts[column]
        if role == Qt.ItemDataRole.BackgroundRole and column in (TAKEN, STEERED):
            return _heat(self.counts if column == TAKEN else self.steered, (row.layer, row.index))
        never = self.covered is not None and not self.counts[row.layer, row.index]
        if role == Qt.ItemDataRole.ForegroundRole and column == TAKEN and never:
            return theme.colour("error")
        if role == Qt.ItemDataRole.ToolTipRole and column in (WHEN, ALOUD):
            return plain_tip(row.texts[ALOUD])
        if role == Qt.ItemDataRole.ToolTipRole and column == DECIDED:
            told = [
                f"{words}: {'has' if true else 'has not'} decided while true, {'has' if false else 'has not'} while false"
                for words, true, false in self._decided(row)
            ]
            return plain_tip("\n".join(told)) or None
        return None

    def setData(self, index: Index, value: Any, role: int = Qt.ItemDataRole.EditRole) -> bool:
        row = self.rows[index.row()]
        if role != Qt.ItemDataRole.EditRole or str(value).strip() == row.texts[WHEN]:
            return False
        self.written.emit(row.layer, row.index, str(value).strip())
        return True


def _heat(counts: Counter[tuple[int, int]], place: tuple[int, int]) -> QColor | None:
    """A colour that is stronger the more often something was taken."""
    if not counts[place]:
        return None
    heat = theme.colour("chosen")
    heat.setAlpha(round(110 * counts[place] / max(counts.values())))
    return heat


class TransitionTable(QWidget):
    """Sorted by a click on a column, filtered by words (those of names, too: “grounded” leaves what reads it), edited in place; what
    is chosen here is chosen on the page.  ``counted``: it is known what the takes of the document cover."""

    counted = Signal(object, object)

    def __init__(self, session: Session, live: Simulation) -> None:
        super().__init__()
        self.session, self.live = session, live
        self.model = TransitionsModel()
        self.model.written.connect(self._write)
        self.sorted = QSortFilterProxyModel()
        self.sorted.setSourceModel(self.model)
        self.sorted.setFilterCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        self.sorted.setFilterKeyColumn(-1)
        self.words = QLineEdit()
        self.words.setAccessibleName("Filter the transitions")
        self.words.setToolTip(
            "Only transitions in which these letters stand: a state, a parameter, a word of a condition"
        )
        self.words.setPlaceholderText("Who reads …? For example: grounded")
        self.words.textChanged.connect(self.sorted.setFilterFixedString)
        self.table = QTableView()
        self.table.setAccessibleName("Transitions")
        self.table.setModel(self.sorted)
        self.table.setSortingEnabled(True)
        self.table.horizontalHeader().setSortIndicator(-1, Qt.SortOrder.AscendingOrder)
        self.table.verticalHeader().hide()
        self.table.verticalHeader().setDefaultSectionSize(26)
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.table.setEditTriggers(
            QAbstractItemView.EditTrigger.DoubleClicked | QAbstractItemView.EditTrigger.EditKeyPressed
        )
        self.table.selectionModel().selectionChanged.connect(self._chosen)
        head = self.table.horizontalHeader()
        for column, wide in (
            (FROM, 130),
            (TO, 90),
            (WHEN, 220),
            (TRIED, 54),
            (TAKEN, 58),
            (STEERED, 66),
            (DECIDED, 72),
        ):
            self.table.setColumnWidth(column, wide)
        head.setSectionResizeMode(ALOUD, QHeaderView.ResizeMode.Stretch)
        head.setStretchLastSection(False)
        head.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        self._first_seen = QTimer(self, interval=SEEN_AFTER, singleShot=True)
        self._first_seen.timeout.connect(self._count)
        self.counting = Background()
        self.counting.ended.connect(self._counted)
        self.destroyed.connect(self.counting.close)
        self.sentence = label("", "soft")
        self.rest_button = button(
            "Takes for the rest",
            "Find takes, by playing, for the states and transitions that no take comes to, and for parts of conditions that have not"
            " decided; they are added in one step",
            self.make_takes,
        )
        self.most_ticks = MOST_TICKS
        """Ticks that are played to find takes."""
        self.finding = Background()
        self.finding.ended.connect(self._made)
        self.finding.told.connect(
            lambda said: self.rest_button.setText("Stop looking" if said else "Takes for the rest")
        )
        self.destroyed.connect(self.finding.close)
        head_row = QHBoxLayout()
        head_row.addWidget(self.words, 1)
        head_row.addWidget(self.sentence)
        head_row.addWidget(self.rest_button)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(12, 0, 12, 0)
        whole.addLayout(head_row)
        whole.addWidget(self.table, 1)
        self.setFocusProxy(self.table)
        live.ticked.connect(self._steered)
        self._counted_steered = -1
        """Transitions taken while somebody steered, as far as they are shown."""
        self._for: Character | None = None
        self._asked_for: Character | None = None
        """The document in which takes are looked for."""

    def refresh(self) -> None:
        """Show the document as it is now, if anybody looks."""
        document = self.session.document
        if not self.isVisible():
            return
        if self._for is not document:
            self._for = document
            self.model.show(list(_rows(self.session)))
            self.model.show_covered(None)
            self._counted_steered = -1
            self._steered()
            self._first_seen.start()
        self._show_chosen()

    def _steered(self) -> None:
        """Show what was taken while somebody steered, if that is more than is shown."""
        steered, document = self.live.steered, self._for
        if not self.isVisible() or document is None or steered.counts.total() == self._counted_steered:
            return
        self._counted_steered = steered.counts.total()
        taken = {(row.layer, row.index): steered.of(document, row.layer, row.index) for row in self.model.rows}
        self.model.show_steered(Counter({place: times for place, times in taken.items() if times}))

    def _count(self) -> None:
        """Work out what the takes cover, now that the rows are seen: both at once would be slower for who looks."""
        machine, takes = self.session.machine, self.session.document.takes
        self.counting.start(lambda: coverage(machine, takes), "Counting transitions …")

    def close_work(self) -> None:
        """The window closes."""
        self._first_seen.stop()
        self.counting.close()
        self.finding.close()

    def _counted(self, covered: Coverage) -> None:
        self._leave_out(covered)
        self.model.show_covered(covered)
        if self._for is not None:
            self.counted.emit(self._for, covered)
        done, whole = covered.counted["transitions"]
        self.sentence.setText(f"The takes take {done} of {whole} transitions; {covered.percent:.0f} % is covered.")

    def _leave_out(self, covered: Coverage) -> None:
        """What the last check has proved impossible need not be covered; one of another document proves nothing."""
        session = self.session
        if session.report is not None and not session.checker.checking and not session.checker.stopped:
            leave_out_impossible(covered, session.report)

    def make_takes(self) -> None:
        """Find takes for what is left out, or stop that."""
        if self.finding.busy:
            self.finding.stop()
            self.session.said.emit("Stopped looking for takes; nothing was added.")
            return
        machine, takes, most = self.session.machine, self.session.document.takes, self.most_ticks
        known = self.model.covered if self._for is self.session.document else None
        if known is not None:
            self._leave_out(known)

        def found() -> Rest:
            return takes_for_the_rest(known if known is not None else coverage(machine, takes), most)

        self._asked_for = self.session.document
        self.finding.start(found, "Looking for takes …")

    def _made(self, rest: Rest) -> None:
        """Takes were found: they are added, if the character is still the one they were looked for in."""
        if self.session.document is not self._asked_for:
            self.session.said.emit("The character was changed while takes were looked for; nothing was added.")
            return
        left = f" Left: {some(list(rest.left), MOST_SAID)}." if rest.left else ""
        if not rest.takes:
            all_there = "The takes come to every state and take every transition."
            self.session.said.emit(f"No takes were found.{left}" if left else all_there)
            return
        said = f"added {counted(len(rest.takes), 'take')} for what was left out"
        self.session.edit(said, lambda document: change(document, (), takes=(*document.takes, *rest.takes)))
        self.session.said.emit(f"{said[0].upper()}{said[1:]}.{left}")

    def showEvent(self, event: QShowEvent) -> None:
        self.refresh()

    def _show_chosen(self) -> None:
        """Choose here what is chosen on the page."""
        wanted = set(self.session.transitions)
        rows = self.table.selectionModel()
        chosen = [at for at, row in enumerate(self.model.rows) if (row.layer, row.index) in wanted]
        if {self.sorted.mapToSource(index).row() for index in rows.selectedRows()} == set(chosen):
            return
        rows.blockSignals(True)
        rows.clearSelection()
        for at in chosen:
            index = self.sorted.mapFromSource(self.model.index(at, 0))
            rows.select(index, UPDATE.Select | UPDATE.Rows)
        if chosen:
            self.table.scrollTo(self.sorted.mapFromSource(self.model.index(chosen[-1], 0)))
        rows.blockSignals(False)
        self.table.viewport().update()

    def _chosen(self, now: QItemSelection, before: QItemSelection) -> None:
        rows = [
            self.model.rows[self.sorted.mapToSource(index).row()]
            for index in self.table.selectionModel().selectedRows()
        ]
        if rows:
            self.session.select(*(name_of(self.session.document, row.layer, row.index) for row in rows))

    def _write(self, layer: int, index: int, text: str) -> None:
        """A condition was written in its row."""
        way = self.session.document.layers[layer].transitions[index]
        self.session.edit(
            f"changed the condition of {described(way)}",
            lambda document: change(
                with_told(document, text, layer), ("layers", layer, "transitions", index), when=text
            ),
        )


def _rows(session: Session) -> list[Row]:
    document, found = session.document, []
    for layer, table in enumerate(session.machine.layers):
        tried: dict[int, int] = {}
        for row in table.ways:
            for place, way in enumerate(row, 1):
                tried[way.index] = min(tried.get(way.index, place), place)
        for index, one in enumerate(document.layers[layer].transitions):
            source = one.source or (f"lane {one.from_lane}" if one.from_lane else "the whole graph")
            if len(document.layers) > 1:
                source = f"{source} ({table.name})"
            texts = (source, one.to, one.when, in_words(document, one.when))
            found.append(Row(layer, index, texts, tried.get(index, 0)))
    return found
