"""What a character does next as long as hands do what they do now, worked out ahead."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable, Hashable, Iterable, Iterator
from dataclasses import dataclass
from itertools import cycle

from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.deforming import Deformed
from leanstep.core.rehearsal.drawable import Drawable, of_situation
from leanstep.core.rehearsal.laps import essence
from leanstep.core.rehearsal.situation import Situation, Step

AHEAD = 30
"""Ticks that are worked out ahead while nothing is held, to sleep until something that is seen changes."""
AT_ONCE = 6
"""Ticks that are worked out at once while hands hold the same, which takes less than working each out when it is due."""
LONGEST_LAP = 2000
"""Ticks within which it is looked whether the character does the same over and over."""
Truths = dict[tuple[int, int], bool]
"""By layer and place in its list: whether a transition was true when it was tried."""


@dataclass(slots=True)
class Coming:
    """A tick that is worked out: with which ``inputs``, what it does, what was true on it, and how the figure is deformed after
    it; ``figure`` is how it is drawn then, once that was asked."""

    inputs: dict[int, Symbolic]
    step: Step
    truths: Truths
    deformed: Deformed
    figure: Drawable | None = None

    def drawn(self, machine: Machine) -> Drawable:
        """The figure as it is drawn after the tick."""
        if self.figure is None:
            self.figure = of_situation(machine, self.step.situation, self.deformed)
        return self.figure


class Foresight:
    """The ticks ``ahead``; ``step`` works one out."""

    def __init__(self, step: Callable[[Situation, Deformed, dict[int, Symbolic]], Coming]) -> None:
        self._step = step
        self.ahead: deque[Coming] = deque()
        self._now: Situation | None = None
        """The situation that the first of them follows."""
        self._known: dict[Hashable, int] = {}
        self._past: list[Coming] = []
        self._lap: Iterator[Coming] | None = None

    def next(self, situation: Situation, inputs: dict[int, Symbolic]) -> Coming | None:
        """The tick that follows a situation with these inputs, if that is worked out; it has come then.  What was worked out for
        others is forgotten."""
        if self.ahead and (situation is not self._now or inputs != self.ahead[0].inputs):
            self.forget()
        if not self.ahead:
            return None
        coming = self.ahead.popleft()
        self._now = coming.step.situation
        return coming

    def work_out(
        self, machine: Machine, situation: Situation, deformed: Deformed, rows: Iterable[dict[int, Symbolic]]
    ) -> None:
        """Work out the ticks that follow a situation, and how the figure is drawn after each; with which inputs is known."""
        self.forget()
        self._now = situation
        for inputs in rows:
            coming = self._step(situation, deformed, inputs)
            coming.drawn(machine)
            self.ahead.append(coming)
            situation, deformed = coming.step.situation, coming.deformed

    def coming(
        self, machine: Machine, situation: Situation, deformed: Deformed, inputs: dict[int, Symbolic]
    ) -> deque[Coming]:
        """The ticks that come from a situation on with these inputs, so many as are worked out ahead."""
        if self.ahead:
            situation, deformed = self.ahead[-1].step.situation, self.ahead[-1].deformed
        else:
            self._now = situation
        while len(self.ahead) < AHEAD:
            coming = next(self._lap) if self._lap else self._new(machine, situation, deformed, inputs)
            self.ahead.append(coming)
            situation, deformed = coming.step.situation, coming.deformed
        return self.ahead

    def forget(self) -> None:
        """What was worked out does not hold any more."""
        self.ahead.clear()
        self._known.clear()
        self._past.clear()
        self._lap = None

    def _new(self, machine: Machine, situation: Situation, deformed: Deformed, inputs: dict[int, Symbolic]) -> Coming:
        """One more tick with nothing held; where all that decides what follows is as it was before, what came then comes again,
        over and over."""
        coming = self._step(situation, deformed, inputs)
        if coming.deformed.begun is not None:
            # a squash goes on by its own time
            self._known.clear()
            self._past.clear()
        elif len(self._past) < LONGEST_LAP:
            key = essence(machine, coming.step.situation), coming.deformed
            before = self._known.setdefault(key, len(self._past))
            self._past.append(coming)
            if before < len(self._past) - 1:
                self._lap = cycle(self._past[before + 1 :])
        return coming
