"""Which parts of a row are chosen, by their numbers."""

from __future__ import annotations

from PySide6.QtCore import Qt


class Several:
    """Numbers of chosen parts.  ``last`` is the one chosen last, whose values are shown; what is set is set for :attr:`all`."""

    def __init__(self) -> None:
        self.last = self._from = 0
        self._all = {0}

    @property
    def all(self) -> list[int]:
        """The chosen numbers in order."""
        return sorted(self._all)

    def choose(self, *numbers: int) -> None:
        """Choose these, the last of them as the one that is shown; one alone is where a choice with Shift begins."""
        self.last, self._all = numbers[-1], set(numbers)
        if len(numbers) == 1:
            self._from = self.last

    def add(self, number: int) -> None:
        """Choose one more, or no longer what is chosen already beside others."""
        rest = [one for one in self.all if one != number]
        self.choose(*(rest if number in self._all and rest else (*rest, number)))

    def through(self, number: int) -> None:
        """Choose all from where the choice began."""
        step = 1 if number >= self._from else -1
        self.choose(*range(self._from, number + step, step))

    def press(self, number: int, keys: Qt.KeyboardModifier) -> None:
        """One is pressed, with these keys held: with Ctrl one more is chosen, with Shift all up to it."""
        if keys & Qt.KeyboardModifier.ControlModifier:
            self.add(number)
        elif keys & Qt.KeyboardModifier.ShiftModifier:
            self.through(number)
        else:
            self.choose(number)

    def shift(self, by: int) -> None:
        """The chosen parts have moved by so many places."""
        self.last, self._from, self._all = self.last + by, self._from + by, {one + by for one in self._all}

    def keep_within(self, count: int) -> None:
        """There are only so many parts."""
        self.last, self._from = (max(0, min(one, count - 1)) for one in (self.last, self._from))
        self._all = {one for one in self._all if one < count} | {self.last}
