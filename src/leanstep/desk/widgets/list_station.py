"""What stations with a list of named parts have in common: choosing, renaming, removing, and being pointed at."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QItemSelectionModel, QModelIndex
from PySide6.QtWidgets import QHBoxLayout, QListView, QStackedWidget, QVBoxLayout, QWidget

from leanstep.core.character.edits import append
from leanstep.core.naming.places import Thing
from leanstep.desk.desk import Desk
from leanstep.desk.stations.station import Station
from leanstep.desk.widgets.basics import NameField, button
from leanstep.desk.widgets.empty_place import EmptyPlace
from leanstep.desk.widgets.list_model import ListModel


class ListStation(Station):
    """A station over one list of the document: ``field`` is its name there, ``what`` one of its parts in words, ``kind`` the
    kind of thing one is.  A subclass lays itself out and has :meth:`show_part`."""

    field = ""
    what = ""
    kind = ""

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._shown = ""
        self.model = ListModel(lambda part: str(part.name), spoken=lambda part: f"{self.what} {part.name}")
        self.list = QListView()
        self.list.setModel(self.model)
        self.list.setFixedWidth(160)
        self.list.setUniformItemSizes(True)
        self.list.selectionModel().currentChanged.connect(self._row_chosen)
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
        for maker in makers:
            column.addWidget(maker)
        column.addWidget(button("Remove", f"Remove the chosen {self.what}", self.remove))
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
    def index(self) -> int:
        """The chosen part's place in the document."""
        return self.names.index(self.current)

    def refresh(self) -> None:
        """Show the document as it is now."""
        current = self.current
        if current != self._shown:
            self._shown = current
            self.chosen_anew()
        model = self.list.selectionModel()
        model.blockSignals(True)
        self.model.show(getattr(self.session.document, self.field))
        model.setCurrentIndex(
            self.model.index(self.model.row_of(current)), QItemSelectionModel.SelectionFlag.ClearAndSelect
        )
        model.blockSignals(False)
        self.list.viewport().update()
        self.pages.setCurrentIndex(0 if current else 1)
        self.name.setEnabled(bool(current))
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
        if self.current != self._shown:
            self.refresh()

    def _row_chosen(self, now: QModelIndex, before: QModelIndex) -> None:
        if now.isValid():
            self.choose(str(now.data()))

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

    def remove(self) -> None:
        """Remove the chosen part."""
        if self.part is not None:
            self.session.remove(self.thing)
