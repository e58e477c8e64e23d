"""The search: every command by its name, with its shortcut, and every named thing and finding, to go there."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QAction, QKeyEvent, QKeySequence
from PySide6.QtWidgets import QDialog, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

MOST = 200
"""Entries that are listed at most."""


@dataclass(frozen=True)
class Goal:
    """Somewhere to go: what it is, what it is called, and what goes there."""

    kind: str
    name: str
    go: Callable[[], object]


class CommandSearch(QDialog):
    """Type a few letters, Enter does it.  Commands are listed at once, ``goals`` once something is typed, those that begin with
    it first."""

    def __init__(self, parent: QWidget, actions: list[QAction], goals: Sequence[Goal] = ()) -> None:
        super().__init__(parent)
        self.setWindowTitle("Find a command or a thing")
        self.resize(460, 380)
        self._actions, self._goals = actions, goals
        self.line = QLineEdit()
        self.line.setPlaceholderText("What do you want to do, or where to go?")
        self.line.setAccessibleName("Find a command")
        self.line.textChanged.connect(self._fill)
        self.line.installEventFilter(self)
        self.list = QListWidget()
        self.list.setAccessibleName("Commands")
        self.list.itemActivated.connect(self._do)
        column = QVBoxLayout(self)
        column.addWidget(self.line)
        column.addWidget(self.list)
        self._fill("")

    def _fill(self, text: str) -> None:
        self.list.clear()
        words = text.lower().split()
        for action in self._actions:
            name = action.text().replace("&", "")
            if all(word in name.lower() for word in words):
                keys = action.shortcut().toString(QKeySequence.SequenceFormat.NativeText)
                item = QListWidgetItem(f"{name}    {keys}" if keys else name)
                item.setData(Qt.ItemDataRole.UserRole, action.trigger)
                if not action.isEnabled():
                    item.setFlags(Qt.ItemFlag.NoItemFlags)
                self.list.addItem(item)
        found = [one for one in self._goals if all(word in f"{one.kind} {one.name}".lower() for word in words)]
        found.sort(key=lambda one: not one.name.lower().startswith(text.strip().lower()))
        named = bool(found) and found[0].name.lower().startswith(text.strip().lower())
        for place, one in enumerate(found[:MOST] if words else ()):
            item = QListWidgetItem(f"{one.kind} {one.name}")
            item.setData(Qt.ItemDataRole.UserRole, one.go)
            # what is called so is meant before what only mentions it
            self.list.insertItem(place if named else self.list.count(), item)
        self.list.setCurrentRow(0)

    def _do(self, item: QListWidgetItem) -> None:
        do = item.data(Qt.ItemDataRole.UserRole)
        self.accept()
        do()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
                step = 1 if event.key() == Qt.Key.Key_Down else -1
                self.list.setCurrentRow(max(0, min(self.list.count() - 1, self.list.currentRow() + step)))
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.list.currentItem() is not None:
                self._do(self.list.currentItem())
                return True
        return super().eventFilter(watched, event)
