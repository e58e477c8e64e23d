"""What was pressed between two ticks: every change waits for the tick it belongs to, so that no press is lost."""

from __future__ import annotations

from collections import deque

MOST_LATE = 3
"""Changes of one button that may be late at most: two taps within one tick both count, but what is pressed faster than ticks come
for long is not played back for long."""
TOGETHER = 0.002
"""Seconds: a button that goes down as soon after it came up is repeated by the machine, not by a hand."""


class Presses:
    """Changes of buttons (or keys) in the order they came, with their times in seconds.

    On a tick a button changes at most once; what came later before the same tick waits for the next one.  So a button that goes
    down and up between two ticks is down for one tick.
    """

    def __init__(self) -> None:
        self._waiting: dict[str, deque[tuple[float, bool]]] = {}
        self._down: dict[str, bool] = {}

    def put(self, at: float, button: str, down: bool) -> None:
        """A button went down or up.  What changes nothing, as a key that is repeated, is no change."""
        waiting = self._waiting.setdefault(button, deque())
        latest = waiting[-1][1] if waiting else self._down.get(button, False)
        if latest == down:
            return
        if down and waiting and at - waiting[-1][0] < TOGETHER:
            waiting.pop()
            return
        waiting.append((at, down))

    @property
    def waiting(self) -> bool:
        """Whether a change waits for its tick."""
        return any(self._waiting.values())

    def take(self, until: float) -> list[tuple[str, bool]]:
        """The changes that belong to a tick which ends at a time: of every button the first one that is due."""
        due: list[tuple[float, str, bool]] = []
        for button, waiting in self._waiting.items():
            if not waiting or waiting[0][0] > until:
                continue
            at, down = waiting.popleft()
            due.append((at, button, down))
            self._down[button] = down
            late = sum(when <= until for when, _ in waiting)
            for _ in range(0, late - MOST_LATE, 2):
                waiting.popleft()
                waiting.popleft()
        return [(button, down) for _, button, down in sorted(due, key=lambda one: one[0])]

    def forget(self, prefix: str) -> None:
        """Buttons whose names begin so are let go of."""
        for known in (self._waiting, self._down):
            for button in [one for one in known if one.startswith(prefix)]:
                del known[button]

    def clear(self) -> None:
        """Everything is let go of, and nothing waits."""
        self._waiting.clear()
        self._down.clear()
