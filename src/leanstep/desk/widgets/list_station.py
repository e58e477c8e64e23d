"""What stations with a list of named parts have in common: choosing, renaming, removing, and being pointed at."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from leanstep.core.naming.places import Thing
from leanstep.desk.session import Session
from leanstep.desk.widgets.basics import NameField, button


class ListStation(QWidget):
    """A station over one list of the document: ``field`` is its name there, ``what`` one of its parts in words, ``kind`` the
    word findings use.  A subclass lays itself out and has :meth:`show_part`."""

    wants = Signal(int)
    field = ""
    what = ""
    kind = ""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.current = ""
        self.list = QListWidget()
        self.list.setFixedWidth(160)
        self.list.currentItemChanged.connect(self._item_chosen)
        self.name = NameField(self.what)
        self.name.setMaximumWidth(180)
        self.name.renamed.connect(self._rename)
        self.name.refused.connect(session.said)

    def follow(self) -> None:
        """Redraw with the document from now on."""
        self.session.changed.connect(self.refresh)
        self.session.opened.connect(self._opened)
        self.session.pointed.connect(self._pointed)
        self.refresh()

    def list_column(self, *makers: QWidget) -> QVBoxLayout:
        """The column on the left: the list and the buttons below it."""
        column = QVBoxLayout()
        column.addWidget(self.list, 1)
        for maker in makers:
            column.addWidget(maker)
        column.addWidget(button("Remove", f"Remove the chosen {self.what}", self.remove))
        return column

    def beside_list(self, column: QVBoxLayout, middle: QVBoxLayout) -> None:
        """The list's column on the left, everything else beside it."""
        middle.setSpacing(8)
        whole = QHBoxLayout(self)
        whole.setContentsMargins(12, 10, 12, 10)
        whole.setSpacing(12)
        whole.addLayout(column)
        whole.addLayout(middle, 1)

    # --- what is shown

    @property
    def names(self) -> list[str]:
        """The names in the list."""
        return [part.name for part in getattr(self.session.document, self.field)]

    @property
    def part(self) -> Any:
        """The chosen part; None when there is none."""
        return next((part for part in getattr(self.session.document, self.field) if part.name == self.current), None)

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
        names = self.names
        if self.current not in names:
            self.current = names[0] if names else ""
        self.list.blockSignals(True)
        self.list.clear()
        self.list.addItems(names)
        if self.current:
            self.list.setCurrentRow(names.index(self.current))
        self.list.blockSignals(False)
        self.name.setEnabled(bool(self.current))
        self.name.show_name(self.current, lambda name: self.session.rename_fault(self.thing, name))
        self.show_part(self.part)

    def show_part(self, part: Any) -> None:
        """Show the chosen part (None: there is none)."""
        raise AssertionError("a station shows its parts")

    def choose(self, name: str) -> None:
        """Choose a part."""
        if name != self.current:
            self.current = name
            self.chosen_anew()
            self.refresh()

    def chosen_anew(self) -> None:
        """Another part was chosen: forget what belonged to the one before."""

    def _item_chosen(self, item: QListWidgetItem | None) -> None:
        if item is not None:
            self.choose(item.text())

    def _opened(self) -> None:
        self.current = ""
        self.chosen_anew()
        self.refresh()

    def _pointed(self, kind: str, name: str) -> None:
        if kind == self.kind:
            self.choose(name)

    # --- edits

    def remove(self) -> None:
        """Remove the chosen part."""
        if self.part is not None:
            self.session.remove(self.thing)

    def _rename(self, name: str) -> None:
        thing, self.current = self.thing, name
        self.session.rename(thing, name)
