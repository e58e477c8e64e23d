"""The rows of a table that say how a figure is drawn: squashes and leans, and what begins them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

from leanstep.core.character.clips import Effect
from leanstep.core.character.deforming import REMEMBERED
from leanstep.core.character.graph import State, Transition
from leanstep.core.graph.machine import Machine
from leanstep.core.tick.codes import HELD_LEAN, HELD_SQUASH, LEANED, LET_GO, SQUASHED
from leanstep.core.tick.columns import Columns


class ShapeRows:
    """Writes down what changes the drawing of a character; what names no squash or lean there is changes nothing."""

    def __init__(self, machine: Machine) -> None:
        self.character = machine.character
        self._squashes = {one.name: at for at, one in enumerate(self.character.squashes)}
        # the first row is upright
        self._leans = {"": 0} | {one.name: at + 1 for at, one in enumerate(self.character.leans)}

    def squashes(self) -> Iterator[Columns.Squash]:
        """The squashes, in their order."""
        rate = self.character.rate
        for one in self.character.squashes:
            yield Columns.Squash(
                one.high,
                one.wide,
                one.over * rate,
                one.hold * rate if one.hold is not None else None,
                one.back * rate,
                one.every * rate,
                one.by_fall,
                REMEMBERED * rate,
                one.whole_pixels,
            )

    def leans(self) -> Iterator[Columns.Lean]:
        """Upright, and the leans in their order; nothing where there is none."""
        if not self.character.leans:
            return
        signed, dt = self.character.body.model == "side", 1.0 / self.character.rate
        yield Columns.Lean(0.0, 0.0, 0.0, _share(dt, REMEMBERED), dt, signed)
        for one in self.character.leans:
            turning = 0.0 if signed else one.turning
            yield Columns.Lean(one.speeding, turning, one.most, _share(dt, one.smooth), dt, signed)

    def of_state(self, state: State) -> Iterator[Columns.Shape]:
        """What begins with a state."""
        yield from self.of_effects(state.on_entry)
        if state.squash in self._squashes:
            yield Columns.Shape(HELD_SQUASH, self._squashes[state.squash])
        if state.lean and self.character.leans:
            yield Columns.Shape(HELD_LEAN, self._leans.get(state.lean, 0))

    def of_way(self, way: Transition) -> Iterator[Columns.Shape]:
        """What begins with a transition."""
        named = (("squash", way.squash), ("lean", way.lean))
        yield from self._begun((kind, name) for kind, name in named if name)

    def of_effects(self, effects: Sequence[Effect]) -> Iterator[Columns.Shape]:
        """What effects begin, or end where they name nothing."""
        yield from self._begun((one.do, one.name) for one in effects)

    def _begun(self, named: Iterable[tuple[str, str]]) -> Iterator[Columns.Shape]:
        for kind, name in named:
            if kind == "lean" and self.character.leans:
                yield Columns.Shape(LEANED, self._leans.get(name, 0))
            elif kind == "squash" and not name and self._squashes:
                yield Columns.Shape(LET_GO, 0)
            elif kind == "squash" and name in self._squashes:
                yield Columns.Shape(SQUASHED, self._squashes[name])


def _share(dt: float, smooth: float) -> float:
    """The share of the way that is gone in a tick."""
    return min(dt / smooth, 1.0) if smooth > 0 else 1.0
