"""Where a search by playing goes on from: the first sight of every cell."""

from __future__ import annotations

from dataclasses import dataclass, field

from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.rehearsal.situation import Glimpse

Inputs = dict[int, Symbolic]
Key = tuple[object, ...]


@dataclass(frozen=True)
class Stop:
    """The first sight of a cell, and the inputs, tick by tick, that lead to it from the one before."""

    seen: Glimpse
    before: int
    inputs: tuple[Inputs, ...]
    raised: tuple[tuple[int, int], ...]


@dataclass
class Archive:
    """The stops so far, one per cell, in groups of about the same place."""

    stops: list[Stop] = field(default_factory=list)
    chosen: list[int] = field(default_factory=list)
    cells: set[Key] = field(default_factory=set)
    groups: dict[tuple[int, int], list[int]] = field(default_factory=dict)
    visits: dict[tuple[int, int], int] = field(default_factory=dict)
    by_state: dict[tuple[int, int], list[int]] = field(default_factory=dict)
    near: dict[tuple[int, tuple[int, int]], int] = field(default_factory=dict)

    def add(self, cell: Key, place: tuple[int, int], stop: Stop) -> None:
        """Keep the first stop of a new cell, in a place."""
        self.cells.add(cell)
        self.groups.setdefault(place, []).append(len(self.stops))
        self.visits.setdefault(place, 0)
        for layer, state in enumerate(stop.seen.states):
            self.by_state.setdefault((layer, state), []).append(len(self.stops))
        self.stops.append(stop)
        self.chosen.append(0)


def way_to(stops: list[Stop], number: int) -> list[Inputs]:
    """The inputs from the start to a stop."""
    parts: list[tuple[Inputs, ...]] = []
    while number >= 0:
        parts.append(stops[number].inputs)
        number = stops[number].before
    return [row for part in reversed(parts) for row in part]
