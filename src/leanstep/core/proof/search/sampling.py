"""What certainly can happen, where there is too much to follow it all: some situations of each kind are followed.

Of the situations that look alike on a tick, with the same states active and the same conditions on time being true, this goes on only
from those in which some clock shows less or more than in all before.  Kinds it has come to least go first, and of these what is
nearest.  What it finds comes with the outcomes that lead there; what it does not find is not impossible.
"""

from __future__ import annotations

from heapq import heappop, heappush

from leanstep.core.proof.search.reach import Reach
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.states.places import Core, CoreKey, Past, Place
from leanstep.core.work import Reason, Work, look

MOST_CLOCKS = 500_000
"""Memories that are counted on, each once in each outcome."""

MOST_KEPT, MOST_WAITED = 4, 400
"""Sets of values that are kept from the first situation of a kind, and for how many ticks."""

_Kind = tuple[int, tuple[int, ...]]
"""The number of a kind, and what its clocks show."""


class Sampling:
    """A search that goes on from some situations of each kind, ``done`` so far; of the others only those are noted in which a
    transition was taken just before.  What it has come to is ``reach``, and may be looked at whenever it pauses."""

    def __init__(self, world: FreeWorld) -> None:
        self.world, self.reach = world, Reach(world)
        self.reach.abort(Reason.PAST, "only some situations of each kind were followed")
        self.kinds: dict[int, tuple[int, int]] = {}
        self._numbers: dict[tuple[object, ...], int] = {}
        self._of_core: dict[Core, _Kind] = {}
        self._of_past: dict[Past, _Kind] = {}
        self.reached: dict[tuple[int, int], tuple[list[int], list[int]]] = {}
        self.times: dict[tuple[int, int], int] = {}
        self.waiting: list[tuple[int, int, int]] = []
        self.clocks, self.done = MOST_CLOCKS, 0
        self._dull: set[Place] = set()
        self._lead(world.first(), (-1, -1, 0), 0, False)

    @property
    def over(self) -> bool:
        """Whether there is nothing left to go on from."""
        return not self.waiting or self.clocks <= 0

    def run(self, limits: Work) -> None:
        """Go on until the limits are reached, counted from the beginning."""
        # what was worked out of less is not all there is any more
        self.reach.kept.clear()
        self.reach.shape.clear()
        while not self.over and self.done < limits.budget:
            look()
            if self.done % 16 == 0:
                limits.at(self.done)
            self.done += 1
            _, depth, number = heappop(self.waiting)
            self._expand(number, depth)

    def _expand(self, number: int, depth: int) -> None:
        world, place = self.world, self.reach.places[number]
        moved = world.move(place)
        outcomes = world.outcomes(moved.view)
        self.clocks -= len(outcomes) * len(world.tracked)
        row = []
        for position, (outcome, after) in enumerate(zip(outcomes, world.afters(place, moved, outcomes, set()))):
            row.append(self._lead(after, (number, position, 1), depth + 1, not outcome.idle))
        self.reach.successors[number] = row  # type: ignore[assignment]
        if self.times[self.kinds[number]] == 1:
            for position in [at for at, one in enumerate(outcomes) if one.idle][:MOST_KEPT]:
                self._wait(number, depth, position)

    def _wait(self, number: int, depth: int, position: int) -> None:
        """Keep the values of an outcome in which no transition is taken, until nothing changes any more: what is come to just before
        and just after a condition on time changes is gone on from."""
        place, steps = self.reach.places[number], list[Place]()
        outcome = self.world.outcomes(self.reach.views[number])[position]
        while len(steps) < MOST_WAITED:
            moved = self.world.move(place)
            if outcome not in self.world.outcomes(moved.view):
                break
            after = self.world.after(place, moved, outcome)
            if after is place:
                break
            steps.append(after)
            place = after
        kinds = [self._kind(one)[0] for one in steps]
        for at, (one, kind) in enumerate(zip(steps, kinds)):
            if kinds[at - 1 : at] != [kind] or kinds[at + 1 : at + 2] != [kind]:
                self._lead(one, (number, position, at + 1), depth + at + 1, False)

    def _lead(self, place: Place, parent: tuple[int, int, int], depth: int, noted: bool) -> int | None:
        """Note a place that is new, to go on from if it shows something new of its kind; its number if it is ``noted`` in any case, or
        known."""
        reach = self.reach
        if place in reach.numbers:
            return reach.numbers[place]
        if not noted and place in self._dull:
            return None
        kind, clocks = self._kind(place)
        least, most = self.reached.setdefault(kind, ([*clocks], [*clocks]))
        news = [at for at, clock in enumerate(clocks) if clock < least[at] or clock > most[at]]
        novel = bool(news) or kind not in self.times
        if not novel and not noted:
            # bounds only widen
            self._dull.add(place)
            return None
        number = reach.numbers[place] = len(reach.places)
        reach.places.append(place)
        reach.views.append(self.world.move(place).view)
        reach.successors.append([])
        reach.parents.append(parent)
        reach.depths.append(depth)
        if novel:
            for at in news:
                least[at], most[at] = min(least[at], clocks[at]), max(most[at], clocks[at])
            self.kinds[number] = kind
            self.times[kind] = self.times.get(kind, 0) + 1
            heappush(self.waiting, (self.times[kind], depth, number))
        return number

    def _kind(self, place: Place) -> tuple[tuple[int, int], tuple[int, ...]]:
        """What situations have in common that look alike on a tick, and what their clocks show."""
        here, before = self._of_core.get(place.core), self._of_past.get(place.past)
        if here is None:
            here = self._of_core[place.core] = self._core_kind(place.core.key)
        if before is None:
            before = self._of_past[place.past] = self._past_kind(place.past)
        return (here[0], before[0]), here[1] + before[1]

    def _core_kind(self, key: CoreKey) -> _Kind:
        """Stays count by what they let come true."""
        world = self.world
        stays = tuple([world.layout.stay_class(at, key.states[at], key.stays[at]) for at in world.layers])
        alike = [one.alike(part) for one, part in zip(world.dimensions, key.parts)]
        clocks = tuple([clock for _, of_one in alike for clock in of_one])
        return self._numbered((key.states, stays, tuple([kind for kind, _ in alike]))), (*key.stays, *clocks)

    def _past_kind(self, past: Past) -> _Kind:
        """Counters count by whether they are at what their memory waits for."""
        ready = tuple([counter >= enough for counter, enough in zip(past.counters, self.world.enough)])
        return self._numbered((past.held, past.waits, past.near, ready)), past.counters

    def _numbered(self, kind: tuple[object, ...]) -> int:
        return self._numbers.setdefault(kind, len(self._numbers))
