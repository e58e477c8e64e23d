"""What a situation remembers: one kind of it is a dimension, and this is all that a proof asks of one."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Hashable
from typing import Any, Self

from leanstep.core.conditions import expression as x
from leanstep.core.graph.tick_state import TickState
from leanstep.core.proof.reduce.observables import Layout


class Dimension(ABC):
    """One kind of thing that situations remember, such as how old presses are.

    A place keeps its *part*: what of it the ticks to come can tell, so that two situations with equal parts read alike on every tick
    from then on.  Clocks are moved by the tick itself (:class:`~leanstep.core.graph.tick_state.TickState`), which knows nothing of
    dimensions: :meth:`restore` gives it what it needs, and :meth:`part` reads what has come of it.  Sound if a moment that was
    restored from the part of another goes on like that one, as far as parts can tell.
    """

    @classmethod
    @abstractmethod
    def of(cls, layout: Layout) -> Self | None:
        """The dimension in a slice; None where the slice has nothing of the kind."""

    @abstractmethod
    def part(self, now: TickState) -> Hashable:
        """What of a moment the ticks to come can tell, in one form only."""

    @abstractmethod
    def restore(self, part: Any, now: TickState) -> None:
        """Put a part into a moment that has nothing of the kind; those of earlier dimensions are there."""

    def seen(self, now: TickState) -> Hashable:
        """What of a moment whose clocks have gone on decides on the coming tick, but for what the moment tells by itself."""
        return None

    def decides(self, atom: x.Expression) -> bool:
        """Whether it tells if an atomic condition on the past is true."""
        return False

    def frame(self) -> Hashable:
        """What of the character its parts depend on: equal where an edit leaves them what they were."""
        return None

    @property
    def limits(self) -> tuple[int, ...]:
        """If a part is nothing but clocks, each of which runs on by one a tick, is set to 0, or does not run (``NEVER``): what each
        shows less than.  Which of these a tick does follows from what is :meth:`seen` and from what happens."""
        return ()

    def clocks(self, part: Any) -> tuple[int, ...]:
        """What the clocks of a part show; there are as many as there are :attr:`limits`."""
        return ()

    def showing(self, clocks: tuple[int, ...]) -> Hashable:
        """The part whose clocks show so much."""
        return ()

    def class_of(self, number: int, age: int) -> int:
        """Of what kind the age of a clock is: with ages of the same kind the same is seen."""
        return age
