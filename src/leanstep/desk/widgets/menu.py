"""The menu under the right button: what can be done with what is under the pointer."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from PySide6.QtCore import QEvent, QObject, QPoint, Qt
from PySide6.QtGui import QContextMenuEvent, QMouseEvent
from PySide6.QtWidgets import QAbstractScrollArea, QMenu, QWidget

from leanstep.core.naming.references import Thing
from leanstep.desk.session import Session

PRESSES = (QEvent.Type.MouseButtonPress, QEvent.Type.MouseButtonRelease, QEvent.Type.MouseButtonDblClick)


@dataclass(frozen=True)
class MenuEntry:
    """One entry: what it is called, what it does, the keys that do the same, and whether it can be done now; ``within``: the
    entries it opens instead."""

    name: str
    do: Callable[[], object] = lambda: None
    keys: str = ""
    possible: bool = True
    within: tuple[MenuEntry, ...] = ()


MenuEntries = Sequence[MenuEntry | None]
"""Entries in order; None is a line between them."""


class ContextMenu(QObject):
    """Opens the menu of a view under the right button and on the menu key.  ``entries`` gets the place of the press (None: by the
    key), chooses what is there, and says what can be done with it; the view itself sees nothing of the right button."""

    def __init__(self, view: QWidget, entries: Callable[[QPoint | None], MenuEntries]) -> None:
        super().__init__(view)
        self._view, self._entries = view, entries
        self.menu: QMenu | None = None
        self._seen = view.viewport() if isinstance(view, QAbstractScrollArea) else view
        for one in dict.fromkeys((view, self._seen)):
            one.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if isinstance(event, QContextMenuEvent):
            if event.reason() == QContextMenuEvent.Reason.Keyboard:
                self.open(None)
            elif watched is self._seen:
                self.open(event.pos())
            return True
        if isinstance(event, QMouseEvent) and event.type() in PRESSES:
            return event.button() == Qt.MouseButton.RightButton
        return False

    def open(self, where: QPoint | None) -> None:
        """Open the menu at a place of the view; nothing opens where there is nothing to do."""
        self._view.setFocus(Qt.FocusReason.MouseFocusReason)
        entries = self._entries(where)
        if not any(entries):
            return
        if self.menu is not None:
            self.menu.deleteLater()
        self.menu = QMenu(self._view)
        self.menu.setAccessibleName("What can be done")
        _fill(self.menu, entries)
        self.menu.popup(self._seen.mapToGlobal(where if where is not None else self._seen.rect().center()))


def _fill(menu: QMenu, entries: MenuEntries) -> None:
    for one in entries:
        if one is None:
            menu.addSeparator()
        elif one.within:
            inner = menu.addMenu(one.name.replace("&", "&&"))
            inner.setEnabled(one.possible)
            _fill(inner, one.within)
        else:
            # the keys are written, not bound: the view or the window has them already
            text = f"{one.name.replace('&', '&&')}\t{one.keys}" if one.keys else one.name.replace("&", "&&")
            action = menu.addAction(text)
            action.triggered.connect(lambda checked=False, do=one.do: do())
            action.setEnabled(one.possible)


def thing_entries(session: Session, rename: Callable[[], object], *things: Thing) -> list[MenuEntry | None]:
    """What can be done with whatever has a name; ``rename`` asks for another one."""
    return [
        MenuEntry("Rename", rename),
        MenuEntry("Duplicate", lambda: session.duplicate(*things)),
        MenuEntry("Remove", lambda: session.remove(*things)),
    ]
