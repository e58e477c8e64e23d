"""Which states layers were in lately, and which transitions they took."""

from __future__ import annotations

from collections import deque
from collections.abc import Sequence

from leanstep.core.rehearsal.traces import Run

MOST = 1024
"""Stays of a layer, and transitions of all, that are remembered."""


class StateLog:
    """Tick after tick, ``ticks`` in all, as the stays of every layer; what is far back is forgotten."""

    def __init__(self) -> None:
        self.ticks = 0
        self._began: list[deque[tuple[int, int]]] = []
        self._taken: deque[tuple[int, int, int]] = deque(maxlen=MOST)

    def add(self, states: Sequence[int], fired: Sequence[int]) -> None:
        """One more tick: the state of every layer after it, and the transition it took (-1: none)."""
        if not self._began:
            self._began = [deque(maxlen=MOST) for _ in states]
        for layer, (began, state, way) in enumerate(zip(self._began, states, fired, strict=True)):
            if way >= 0:
                self._taken.append((self.ticks, layer, way))
            if way >= 0 or not began or began[-1][0] != state:
                began.append((state, self.ticks))
        self.ticks += 1

    @property
    def still(self) -> int:
        """Ticks since a transition was last taken."""
        return self.ticks - 1 - self._taken[-1][0] if self._taken else self.ticks

    def runs(self, layer: int, first: int) -> list[Run]:
        """The stays of a layer from tick ``first`` on; a transition begins a new one, also to the same state."""
        found, end = list[Run](), self.ticks
        for state, start in reversed(self._began[layer] if self._began else ()):
            found.append(Run(state, max(start, first), end))
            end = start
            if start <= first:
                break
        return found[::-1]

    def taken(self, first: int) -> set[tuple[int, int]]:
        """The transitions that were taken from tick ``first`` on, with their layers."""
        found = set[tuple[int, int]]()
        for tick, layer, way in reversed(self._taken):
            if tick < first:
                break
            found.add((layer, way))
        return found
