"""What a search found: the places that can be reached, the way there, and what has been worked out about them."""

from __future__ import annotations

from array import array
from collections import defaultdict
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import cached_property, wraps
from typing import Any, Concatenate, ParamSpec, TypeVar, cast

from leanstep.core.graph.machine import Machine
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.states.places import Outcome, Place, View
from leanstep.core.rehearsal.traces import Player, player_of
from leanstep.core.work import MOST_TICKS, Reason, TooLong

_O = TypeVar("_O")
_T = TypeVar("_T")
_P = ParamSpec("_P")


@dataclass
class Reach:
    """The reachable places of a slice.

    ``successors[i]`` has, for every outcome of place i's view, the place it leads to a tick later; those on which nothing is
    done lead on after ``leaps[i]`` ticks where there are more.
    ``parents[i]`` is the place before, the outcome's position (-1 for the first place) and the ticks; ``depths[i]`` the
    fewest ticks.  ``entered[layer, state]`` is the nearest place in which a state is active, ``fired`` the (layer,
    transition index) that can be taken, ``edges[layer]`` the pairs of states between which one can.  ``complete``: nothing
    was left out; else ``aborted`` says why, and ``reason`` of
    which kind that is.  ``stuck`` is a place after which the assumptions allow no tick, or -1.
    ``marks`` are the (layer, state, name) that fire, ``missed`` those a transition can cut off, with the nearest (place,
    outcome) in which it does; marks that decide nothing are not among them unless they fire on entry.  ``kept`` is what has
    been worked out :func:`once`, ``shape`` what has been :func:`once_for_all`.
    """

    world: FreeWorld
    places: list[Place] = field(default_factory=list)
    views: list[View] = field(default_factory=list)
    successors: list[list[int]] = field(default_factory=list)
    leaps: dict[int, int] = field(default_factory=dict)
    parents: list[tuple[int, int, int]] = field(default_factory=list)
    depths: array[int] = field(default_factory=lambda: array("l"))
    numbers: dict[Place, int] = field(default_factory=dict)
    entered: dict[tuple[int, int], int] = field(default_factory=dict)
    fired: set[tuple[int, int]] = field(default_factory=set)
    edges: dict[int, set[tuple[int, int]]] = field(default_factory=lambda: defaultdict(set))
    marks: set[tuple[int, int, str]] = field(default_factory=set)
    missed: dict[tuple[int, int, str], tuple[int, int]] = field(default_factory=dict)
    complete: bool = True
    aborted: str = ""
    reason: Reason | None = None
    stuck: int = -1
    kept: dict[tuple[object, ...], Any] = field(default_factory=dict)
    shape: dict[tuple[object, ...], Any] = field(default_factory=dict)

    @property
    def machine(self) -> Machine:
        return self.world.machine

    def abort(self, reason: Reason, words: str) -> None:
        """Say that something was left out, and why."""
        self.complete, self.reason, self.aborted = False, reason, words

    @cached_property
    def player(self) -> Player:
        """What plays the takes that show what was found."""
        return player_of(self.world.slice.machine, free=True)

    def again(self, world: FreeWorld) -> Reach:
        """The same search of a world in which the same can happen."""
        return replace(self, world=world, kept={})

    def path(self, place: int) -> list[Outcome]:
        """The outcomes, tick by tick, that lead to a place; raises :class:`TooLong` where they are too many to be replayed."""
        if self.depths[place] > MOST_TICKS:
            raise TooLong(self.depths[place])
        found: list[Outcome] = []
        while self.parents[place][0] >= 0:
            parent, position, ticks = self.parents[place]
            found += [self.world.outcomes(self.views[parent])[position]] * ticks
            place = parent
        return found[::-1]


def once(work: Callable[Concatenate[Reach, _P], _T]) -> Callable[Concatenate[Reach, _P], _T]:
    """What is worked out about a search, or a layer of it, worked out once."""
    return kept_where(work, lambda reach: reach.kept)


def once_for_all(work: Callable[Concatenate[Reach, _P], _T]) -> Callable[Concatenate[Reach, _P], _T]:
    """The same of what only depends on what can happen, not on the values that bring it about."""
    return kept_where(work, lambda reach: reach.shape)


def kept_where(
    work: Callable[Concatenate[_O, _P], _T], where: Callable[[_O], dict[tuple[object, ...], Any]]
) -> Callable[Concatenate[_O, _P], _T]:
    """The same work, with what it makes of a thing and its arguments kept where that thing keeps it."""

    @wraps(work)
    def kept(owner: _O, *args: _P.args, **named: _P.kwargs) -> _T:
        known, key = where(owner), (work, *args, *named.items())
        if key not in known:
            known[key] = work(owner, *args, **named)
        found: _T = known[key]
        return found

    return cast("Callable[Concatenate[_O, _P], _T]", kept)


@once_for_all
def nearest_first(reach: Reach) -> list[int]:
    """The places' numbers in the order of their depths."""
    return sorted(range(len(reach.places)), key=reach.depths.__getitem__)


@once_for_all
def first_places(reach: Reach) -> dict[View, int]:
    """Every view with the nearest place that has it."""
    views: dict[View, int] = {}
    for number in nearest_first(reach):
        views.setdefault(reach.views[number], number)
    return views


@once_for_all
def ways_in(reach: Reach, layer: int) -> list[tuple[int, int, int]]:
    """(place, position, place after) of every outcome that enters a state of a layer."""
    entering = {
        view: [at for at, outcome in enumerate(reach.world.outcomes(view)) if outcome.fired[layer] >= 0]
        for view in dict.fromkeys(reach.views)
    }
    return [
        (number, position, row[position])
        for number, row in enumerate(reach.successors)
        if row
        for position in entering[reach.views[number]]
        if row[position] is not None
    ]
