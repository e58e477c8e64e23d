"""What stations with a list of named parts have in common: choosing, renaming, removing, and being pointed at."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QItemSelection, QItemSelectionModel, QPoint
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QAbstractItemView, QHBoxLayout, QListView, QStackedWidget, QVBoxLayout, QWidget

from leanstep.core.character.document import Character
from leanstep.core.character.edits import append, change
from leanstep.core.naming.references import Thing
from leanstep.core.wording import counted
from leanstep.desk.context import Context
from leanstep.desk.stations.station import Station
from leanstep.desk.widgets.basics import NameField, button, command, label
from leanstep.desk.widgets.empty_place import EmptyPlace
from leanstep.desk.widgets.list_model import ListModel
from leanstep.desk.widgets.menu import ContextMenu, MenuEntries, thing_entries

UPDATE = QItemSelectionModel.SelectionFlag


class ListStation(Station):
    """A station over one list of the document: ``field`` is its name there, ``what`` one of its parts in words, ``kind`` the
    kind of thing one is.  A subclass lays itself out and has :meth:`show_part`."""

    field = ""
    what = ""
    kind = ""

    def __init__(self, desk: Context) -> None:
        super().__init__(desk)
        self._shown = ""
        self.model = ListModel(lambda part: str(part.name), spoken=lambda part: f"{self.what} {part.name}")
        self.list = QListView()
        self.list.setModel(self.model)
        self.list.setFixedWidth(160)
        self.list.setUniformItemSizes(True)
        self.list.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.list.setToolTip("Ctrl and Shift choose several: what is set is set for all of them")
        self.list.selectionModel().selectionChanged.connect(self._rows_chosen)
        self.menu = ContextMenu(self.list, self._entries_at)
        self.several = label("", "soft", wrap=True)
        self.several.setFixedWidth(160)
        self.name = NameField(self.what)
        self.name.setMaximumWidth(180)
        self.name.renamed.connect(lambda name: self.session.rename(self.thing, name))
        self.name.refused.connect(self.session.said)

    def follow(self) -> None:
        """Redraw with the document and the selection from now on."""
        self.session.editing.follow(self, self.refresh, self.session.changed)
        self.session.editing.follow(self, self._selected, self.session.selected)
        self.refresh()

    def list_column(self, *makers: QWidget) -> QVBoxLayout:
        """The column on the left: the list and the buttons below it."""
        column = QVBoxLayout()
        column.addWidget(self.list, 1)
        column.addWidget(self.several)
        for maker in makers:
            column.addWidget(maker)
        self.of_part = [
            button("Duplicate", f"A copy of the chosen {self.what} (Ctrl+D)", self.duplicate),
            button("Remove", f"Remove the chosen {self.what}", self.remove),
        ]
        for one in self.of_part:
            column.addWidget(one)
        return column

    def beside_list(self, column: QVBoxLayout, middle: QVBoxLayout, empty: EmptyPlace) -> None:
        """The list's column on the left, everything else beside it; ``empty`` where there are no parts yet."""
        middle.setSpacing(8)
        middle.setContentsMargins(0, 0, 0, 0)
        inside = QWidget()
        inside.setLayout(middle)
        self.pages = QStackedWidget()
        self.pages.addWidget(inside)
        self.pages.addWidget(empty)
        whole = QHBoxLayout(self)
        whole.setContentsMargins(12, 10, 12, 10)
        whole.setSpacing(12)
        whole.addLayout(column)
        whole.addWidget(self.pages, 1)

    # --- what is shown

    @property
    def names(self) -> list[str]:
        """The names in the list."""
        return [part.name for part in getattr(self.session.document, self.field)]

    @property
    def current(self) -> str:
        """The name of the chosen part, the first one where none was chosen; empty when there is none."""
        names, chosen = self.names, self.session.selection.thing(self.kind)
        return chosen.name if chosen is not None and chosen.name in names else names[0] if names else ""

    @property
    def part(self) -> Any:
        """The chosen part; None when there is none."""
        current = self.current
        return next((part for part in getattr(self.session.document, self.field) if part.name == current), None)

    @property
    def thing(self) -> Thing:
        """The chosen part, as everything that uses it knows it."""
        return Thing(self.kind, self.current)

    @property
    def chosen(self) -> list[Thing]:
        """All chosen parts in the list's order."""
        names = {one.name for one in self.session.selection.things(self.kind)} | {self.current}
        return [Thing(self.kind, name) for name in self.names if name in names]

    @property
    def chosen_words(self) -> str:
        """The chosen part by its name, several by how many there are."""
        several = len(self.chosen)
        return counted(several, self.what) if several > 1 else self.current

    @property
    def index(self) -> int:
        """The chosen part's place in the document."""
        return self.names.index(self.current)

    def refresh(self) -> None:
        """Show the document as it is now."""
        current = self.current
        if current != self._shown:
            self._shown = current
            self.chosen_anew()
        model, chosen = self.list.selectionModel(), self.chosen
        model.blockSignals(True)
        self.model.show(getattr(self.session.document, self.field))
        model.setCurrentIndex(self.model.index(self.model.row_of(current)), UPDATE.ClearAndSelect)
        for one in chosen:
            model.select(self.model.index(self.model.row_of(one.name)), UPDATE.Select)
        model.blockSignals(False)
        self.list.viewport().update()
        self.several.setVisible(len(chosen) > 1)
        self.several.setText(f"{counted(len(chosen), self.what)}: what is set is set for all.")
        self.pages.setCurrentIndex(0 if current else 1)
        for widget in (self.name, *self.of_part):
            widget.setEnabled(bool(current))
        self.name.show_name(current, lambda name: self.session.rename_fault(self.thing, name))
        self.show_part(self.part)

    def show_part(self, part: Any) -> None:
        """Show the chosen part (None: there is none)."""
        raise AssertionError("a station shows its parts")

    def choose(self, name: str) -> None:
        """Choose a part."""
        if name != self.current:
            self.session.select(Thing(self.kind, name))

    def chosen_anew(self) -> None:
        """Another part was chosen: forget what belonged to the one before."""

    def _selected(self) -> None:
        rows = {index.row() for index in self.list.selectionModel().selectedIndexes()}
        if self.current != self._shown or rows != {self.model.row_of(one.name) for one in self.chosen}:
            self.refresh()

    def _rows_chosen(self, now: QItemSelection, before: QItemSelection) -> None:
        rows = self.list.selectionModel()
        names = [str(index.data()) for index in rows.selectedIndexes()]
        if not names:
            self.refresh()  # one part is always chosen
            return
        at = str(rows.currentIndex().data())
        # the one chosen last is the one that is shown
        shown = at if at in names else self.current if self.current in names else names[-1]
        self.session.select(*(Thing(self.kind, name) for name in names if name != shown), Thing(self.kind, shown))

    def commands(self) -> list[QAction]:
        return [command(self, f"Duplicate the {self.what}", "Ctrl+D", self.duplicate)]

    def _entries_at(self, where: QPoint | None) -> MenuEntries:
        """What can be done with the part at a place of the list."""
        index = self.list.indexAt(where) if where is not None else self.list.currentIndex()
        if index.isValid() and str(index.data()) not in {one.name for one in self.chosen}:
            self.choose(str(index.data()))
        return self.menu_entries() if index.isValid() else []

    def menu_entries(self) -> MenuEntries:
        """What can be done with the chosen parts; a subclass knows more."""
        return thing_entries(self.session, self.ask_name, *self.chosen)

    # --- edits

    def make(self, said: str, part: Any) -> None:
        """Put a new part behind the others and choose it."""
        thing = Thing(self.kind, part.name)
        self.session.edit(
            said,
            lambda document: append(document, (self.field,), part),
            select=lambda selection: selection.choose(thing),
        )

    def ask_name(self) -> None:
        """Take what is typed next as the name of the chosen part."""
        self.name.ask()

    def set_all(self, said: str, merge: str = "", **values: Any) -> None:
        """Set fields of all chosen parts; ``said`` is followed by what they are called."""
        chosen = {one.name for one in self.chosen}
        places = [at for at, name in enumerate(self.names) if name in chosen]

        def changed(document: Character) -> Character:
            for at in places:
                document = change(document, (self.field, at), **values)
            return document

        self.session.edit(f"{said} {self.chosen_words}", changed, f"{merge} {places}" if merge else "")

    def duplicate(self) -> None:
        """Copies of the chosen parts, behind them."""
        if self.part is not None:
            self.session.duplicate(*self.chosen)

    def remove(self) -> None:
        """Remove the chosen parts."""
        if self.part is not None:
            self.session.remove(*self.chosen)
