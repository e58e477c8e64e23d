"""What has been worked out about the views and places of a world, for the next check to take over what still holds."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import NamedTuple

from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.graph.machine import CompiledTransition
from leanstep.core.proof.states.places import Outcome, Place, View
from leanstep.core.proof.values.predicates import Masks

States = tuple[int, ...]


class Stay(NamedTuple):
    """With the values ``box`` kept, ``way`` is taken after ``ticks`` ticks and leads to the place ``after``.  ``on_the_way``
    are the places passed, the one just entered included."""

    box: Masks
    way: CompiledTransition
    ticks: int
    after: Place
    on_the_way: tuple[Place, ...]

    def of(self, box: Masks) -> Stay:
        """The same stay, for other values."""
        return self if box == self.box else Stay(box, self.way, self.ticks, self.after, self.on_the_way)


class Row(NamedTuple):
    """What follows a place: per outcome the place after it, a tick later or, where nothing is done, ``leap`` ticks later; the
    marks that fire, and those that are cut off at the position of an outcome."""

    view: View
    afters: tuple[Place, ...]
    leap: int
    marks: frozenset[tuple[int, int, str]]
    missed: tuple[tuple[tuple[int, int, str], int], ...]


@dataclass
class Kept:
    """What has been worked out about views and places of a world.

    ``outcomes`` of views, each with its ``boxes``; ``fires`` by view and layer: what can fire without pulse or edge;
    ``rivals`` by view, layer and a digest of which pairs are asked about: those that can be true together, by their
    transitions' indices; ``rows`` of places; ``stays`` by layer and place just entered, with the states passed; ``rests`` by
    view and values: the position of what happens, None where that is open;
    ``permitted``: whether the assumptions allow some values from outside.
    """

    outcomes: dict[View, tuple[Outcome, ...]] = field(default_factory=dict)
    boxes: dict[View, list[list[Masks]]] = field(default_factory=dict)
    fires: dict[tuple[View, int], dict[int, list[Masks]]] = field(default_factory=dict)
    rows: dict[Place, Row] = field(default_factory=dict)
    stays: dict[tuple[int, Place], tuple[list[Stay], frozenset[States]]] = field(default_factory=dict)
    rivals: dict[tuple[View, int, bytes], dict[tuple[int, int], Masks]] = field(default_factory=dict)
    rests: dict[tuple[View, Masks], int | None] = field(default_factory=dict)
    permitted: dict[tuple[Symbolic, ...], bool] = field(default_factory=dict)
