"""Lists that change by differences: rows that stay keep their place, their focus and their scroll position."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Sequence
from difflib import SequenceMatcher
from typing import Any

from PySide6.QtCore import QAbstractListModel, QModelIndex, QPersistentModelIndex, Qt

ITEM = Qt.ItemDataRole.UserRole
"""The role under which a row's item itself is kept."""
Index = QModelIndex | QPersistentModelIndex


def differences(before: Sequence[Hashable], after: Sequence[Hashable]) -> list[tuple[int, int, int, int]]:
    """Where two lists differ, from the end to the beginning: instead of before[first:last] there is after[start:end]."""
    codes = SequenceMatcher(None, before, after, False).get_opcodes()
    return [places for what, *places in reversed(codes) if what != "equal"]  # type: ignore[misc]


class ListModel(QAbstractListModel):
    """Rows over items: ``text`` says what stands in a row, ``key`` what makes two items the same row, ``spoken`` what a
    screen reader says of it (the text unless given)."""

    def __init__(
        self,
        text: Callable[[Any], str] = str,
        key: Callable[[Any], Hashable] | None = None,
        spoken: Callable[[Any], str] | None = None,
    ) -> None:
        super().__init__()
        self._text, self._key, self._spoken = text, key or text, spoken or text
        self.items: list[Any] = []

    def rowCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self.items)

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if not index.isValid() or index.row() >= len(self.items):
            return None
        item = self.items[index.row()]
        if role == Qt.ItemDataRole.DisplayRole:
            return self._text(item)
        if role == Qt.ItemDataRole.AccessibleTextRole:
            return self._spoken(item)
        return item if role == ITEM else None

    def row_of(self, key: Hashable) -> int:
        """The row with a key; -1 when there is none."""
        return next((row for row, item in enumerate(self.items) if self._key(item) == key), -1)

    def show(self, items: Sequence[Any]) -> None:
        """Show these items: rows come and go where the lists differ, and rows whose item is another one are drawn again."""
        before, after = [self._key(one) for one in self.items], [self._key(one) for one in items]
        for first, last, start, end in differences(before, after):
            if last > first:
                self.beginRemoveRows(QModelIndex(), first, last - 1)
                del self.items[first:last]
                self.endRemoveRows()
            if end > start:
                self.beginInsertRows(QModelIndex(), first, first + end - start - 1)
                self.items[first:first] = items[start:end]
                self.endInsertRows()
        for row, item in enumerate(items):
            if self.items[row] is not item and self.items[row] != item:
                self.items[row] = item
                self.dataChanged.emit(self.index(row), self.index(row))
