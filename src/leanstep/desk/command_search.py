"""The command search: every command by its name, with its shortcut."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QAction, QKeyEvent, QKeySequence
from PySide6.QtWidgets import QDialog, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget


class CommandSearch(QDialog):
    """Type a few letters, Enter does it."""

    def __init__(self, parent: QWidget, actions: list[QAction]) -> None:
        super().__init__(parent)
        self.setWindowTitle("Find a command")
        self.resize(460, 380)
        self._actions = actions
        self.line = QLineEdit()
        self.line.setPlaceholderText("What do you want to do?")
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
                item.setData(Qt.ItemDataRole.UserRole, action)
                if not action.isEnabled():
                    item.setFlags(Qt.ItemFlag.NoItemFlags)
                self.list.addItem(item)
        self.list.setCurrentRow(0)

    def _do(self, item: QListWidgetItem) -> None:
        action = item.data(Qt.ItemDataRole.UserRole)
        self.accept()
        action.trigger()

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
