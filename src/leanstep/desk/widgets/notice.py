"""Something a person should know and may decide, above the station, without stopping them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

from PySide6.QtWidgets import QFrame, QHBoxLayout, QWidget

from leanstep.desk.widgets.basics import button, label


@dataclass(frozen=True)
class Choice:
    """A way to answer: what stands on the button, what it is for, and what it does."""

    text: str
    tip: str
    act: Callable[[], object]


@dataclass(frozen=True)
class Notice:
    """What is said, and the ways to answer.  A new notice about the same ``about`` takes the place of the older one."""

    about: str
    text: str
    choices: tuple[Choice, ...]


class NoticeBar(QFrame):
    """Shows one notice after another, the oldest first; every answer takes its notice away."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("notice")
        self.waiting: list[Notice] = []
        self.text = label("", wrap=True)
        self.text.setAccessibleName("Notice")
        self.buttons: list[QWidget] = []
        self.row = QHBoxLayout(self)
        self.row.setContentsMargins(14, 6, 10, 6)
        self.row.addWidget(self.text, 1)
        self.hide()

    def put(self, notice: Notice) -> None:
        """Say something as soon as it is its turn."""
        places = [at for at, one in enumerate(self.waiting) if one.about == notice.about]
        if places:
            self.waiting[places[0]] = notice
        else:
            self.waiting.append(notice)
        self._show()

    def take_away(self, about: str) -> None:
        """It does not matter any more."""
        self.waiting = [one for one in self.waiting if one.about != about]
        self._show()

    def _show(self) -> None:
        for one in self.buttons:
            self.row.removeWidget(one)
            one.hide()
            one.deleteLater()
        self.buttons = []
        self.setVisible(bool(self.waiting))
        if not self.waiting:
            return
        notice = self.waiting[0]
        self.text.setText(notice.text)
        for choice in notice.choices:
            made = button(choice.text, choice.tip, partial(self._answer, notice, choice))
            self.row.addWidget(made)
            self.buttons.append(made)

    def _answer(self, notice: Notice, choice: Choice) -> None:
        self.waiting = [one for one in self.waiting if one is not notice]
        self._show()
        choice.act()
