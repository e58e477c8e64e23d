"""Values with which a state is not left, for takes that wait there."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import islice, product
from operator import and_, itemgetter

from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.proof.search.reach import Reach
from leanstep.core.proof.states.concrete import chosen, permitted
from leanstep.core.proof.states.places import View
from leanstep.core.proof.values.predicates import Masks

TRIES = 12
"""Sets of values that are tried for each question."""

MOST_QUIET = 60
"""Boxes of values with which is waited in one state."""

Row = dict[int, Symbolic]
"""The value of every symbol."""

Wanted = Sequence[tuple[int, bool]]
"""Memories, each with whether what it remembers should hold."""


class Quiet:
    """What a search that left the past open says of staying in the states of a layer.  ``views`` are its views by state."""

    def __init__(self, reach: Reach, layer: int) -> None:
        self.reach, self.layer = reach, layer
        self.views: dict[int, list[View]] = {}
        for view in dict.fromkeys(reach.views):
            self.views.setdefault(view.states[layer], []).append(view)
        self._known: dict[tuple[int, str, int], list[Masks]] = {}

    def near(self, state: int, wanted: Wanted, row: Row, past: str, ticks: int) -> Iterator[Row]:
        """Values on which the search saw nothing happen in a state for so many ticks, with a ``past`` as in boxes; those
        first that let memories remember what is wanted, and then those nearest to a row."""
        key = state, past, self.reach.world.layout.stay_class(self.layer, state, ticks)
        if key not in self._known:
            self._known[key] = self.boxes(*key)
        bits = [(index, self.reach.world.regions.bit_of(index, row[index])) for index in self.reach.machine.free]
        found = []
        for box in self._known[key]:
            missing, part = self.narrowed(box, wanted)
            found.append((missing, sum(not bit & part[index] for index, bit in bits), part))
        near = [part for *_, part in sorted(found, key=itemgetter(0, 1))]
        return islice(self.rows(near, list(row.values())), TRIES)

    def boxes(self, state: int, past: str, stay: int) -> list[Masks]:
        """Boxes of values on which the search saw nothing happen up to a stay: with ``some`` past, once memories have
        ``settled``, or with ``any``."""
        world = self.reach.world
        asked = sorted(set(world.asked.get((self.layer, state), {}).values()))
        found = [world.full]
        for boxes in self._idle(state, stay):
            if past == "settled":
                some = [[box for box in boxes if all(box[symbol] & world.past[symbol] for symbol in asked)]]
            else:
                kinds = product(asked, (0b01, 0b10)) if past == "any" else ()
                some = [boxes, *([box for box in boxes if box[symbol] & bit] for symbol, bit in kinds)]
            both = found
            for row in some:
                opened = dict.fromkeys(map(world.opened_past, row))
                pairs = (tuple(map(and_, one, other)) for one, other in product(both, opened))
                both = list(islice(dict.fromkeys(box for box in pairs if all(box)), MOST_QUIET))
            found = both or found
        return found

    def _idle(self, state: int, stay: int) -> list[list[Masks]]:
        """The boxes on which the search saw nothing happen in a state, for every stay up to one that makes a difference."""
        by_stay: dict[int, list[Masks]] = {}
        for view in self.views.get(state, ()):
            some = by_stay.setdefault(view.stays[self.layer], [])
            for position, outcome in enumerate(self.reach.world.outcomes(view)):
                some += self.reach.world.boxes(view, position) if outcome.fired[self.layer] < 0 else ()
        return [by_stay[one] for one in sorted(by_stay) if one <= stay]

    def rows(self, boxes: list[Masks], before: Sequence[Symbolic]) -> Iterator[Row]:
        """Values out of boxes, near those before, that the assumptions allow."""
        for masks in boxes:
            row = dict(enumerate(chosen(self.reach.world, masks, list(before))))
            if permitted(self.reach.world, row):
                yield row

    def wanted(self, state: int, box: Masks) -> Wanted:
        """What memories a state reads must remember for the past to be as a box has it."""
        asked = self.reach.world.asked.get((self.layer, state), {}).items()
        return [(index, box[symbol] == 0b10) for index, symbol in asked if box[symbol] != 0b11]

    def narrowed(self, box: Masks, wanted: Wanted) -> tuple[int, Masks]:
        """A part of a box with which what memories remember is as wanted, and for how many it cannot be."""
        missing = 0
        for index, holds in wanted:
            part = self.reach.world.narrowed(box, index, holds)
            missing += part is None
            box = part or box
        return missing, box
