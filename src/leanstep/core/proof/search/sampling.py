"""What certainly can happen, where there is too much to follow it all: some situations of each kind are followed, with every clock.

Where memories and ages are left open, a search allows more than can happen.  This one allows less: of the situations that look alike
on a tick, with the same states active and the same conditions on time being true, it goes on only from those in which some clock shows
less or more than in all before.  Kinds it has come to least go first, and of these what is nearest.  What it finds comes with the
values that lead there; what it does not find is not impossible.
"""

from __future__ import annotations

from heapq import heappop, heappush
from typing import NamedTuple

from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import NEVER
from leanstep.core.deadline import look
from leanstep.core.proof.reduce.slices import Slice
from leanstep.core.proof.states.concrete import Rows, values_along
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.states.places import Core, CoreKey, Outcome, Past, Place, View
from leanstep.core.proof.values.predicates import Masks

MOST_SAMPLED, MOST_CLOCKS = 3_000, 500_000
"""Situations that are gone on from, and memories that are counted on for it, each once in each outcome."""

MOST_ALIKE = 40
"""Sets of values with which a transition is taken that are told apart."""

MOST_KEPT, MOST_WAITED = 4, 400
"""Sets of values that are kept from the first situation of a kind, and for how many ticks."""


class _Step(NamedTuple):
    """How a place was come to: the number of the one before (-1: none), what happened there for so many ``ticks``, and the ticks
    since the start."""

    before: int
    outcome: Outcome | None
    depth: int
    ticks: int = 1


_Kind = tuple[int, tuple[int, ...]]
"""The number of a kind, and what its clocks show."""


class Sampling:
    """A search of a slice of which every memory and every age is followed.

    ``fired`` has for each (layer, state, way's index) and the values with which it was taken, pulses and presses aside, where it first
    was: a place and the outcome there.  ``views`` has the first place of each view.
    """

    def __init__(self, part: Slice) -> None:
        self.world = FreeWorld(part, paced=False)
        timed = [one for one in part.expressions if isinstance(one, x.SinceLeft | x.Buffered)]
        self.timed = list(dict.fromkeys(timed))
        self.lasting = [index for index in self.world.machine.free if not self.world.machine.symbols[index].momentary]
        self.fired: dict[tuple[int, int, int], dict[Masks, tuple[int, Outcome]]] = {}
        self.views: dict[View, int] = {}
        self.seen: set[Place] = set()
        self.places: list[Place] = []
        self.kinds: list[tuple[int, int]] = []
        self._numbers: dict[tuple[object, ...], int] = {}
        self._of_core: dict[Core, _Kind] = {}
        self._of_past: dict[Past, _Kind] = {}
        self.steps: list[_Step] = []
        self.reached: dict[tuple[int, int], tuple[list[int], list[int]]] = {}
        self.times: dict[tuple[int, int], int] = {}
        self.waiting: list[tuple[int, int, int]] = []
        self.left, self.clocks = MOST_SAMPLED, MOST_CLOCKS
        self._lead(self.world.first(), _Step(-1, None, 0))

    def go_on(self, most: int = MOST_SAMPLED) -> bool:
        """Go on from so many more places; whether there are others still."""
        most = min(most, self.left)
        self.left -= most
        while self.waiting and most > 0 and self.clocks > 0:
            _, depth, number = heappop(self.waiting)
            look()
            most -= 1
            self._expand(number, depth)
        return bool(self.waiting) and self.left > 0 and self.clocks > 0

    def _expand(self, number: int, depth: int) -> None:
        place = self.places[number]
        moved = self.world.move(place)
        self.views.setdefault(moved.view, number)
        outcomes = self.world.outcomes(moved.view)
        self.clocks -= len(outcomes) * len(self.world.tracked)
        for outcome, after in zip(outcomes, self.world.afters(place, moved, outcomes, set())):
            for layer, position in enumerate(outcome.fired):
                if position >= 0:
                    state = place.states[layer]
                    way = self.world.machine.layers[layer].ways[state][position]
                    some = self.fired.setdefault((layer, state, way.index), {})
                    if len(some) < MOST_ALIKE:
                        some.setdefault(tuple([outcome.masks[at] for at in self.lasting]), (number, outcome))
            self._lead(after, _Step(number, outcome, depth + 1))
        if self.times[self.kinds[number]] == 1:
            for outcome in [one for one in outcomes if one.idle][:MOST_KEPT]:
                self._wait(number, depth, outcome)

    def rows(self, number: int, *more: Masks) -> Rows:
        """Values that lead to a place, tick by tick, and then are these."""
        return values_along(self.world, [*(outcome.masks for outcome in self._path(number)), *more])

    def _wait(self, number: int, depth: int, outcome: Outcome) -> None:
        """Keep the values of an outcome in which no transition is taken, until nothing changes any more: what is come to just before
        and just after a condition on time changes is gone on from."""
        place, steps = self.places[number], list[Place]()
        while len(steps) < MOST_WAITED:
            moved = self.world.move(place)
            if outcome not in self.world.outcomes(moved.view):
                break
            after = self.world.afters(place, moved, (outcome,), set())[0]
            if after is place:
                break
            steps.append(after)
            place = after
        kinds = [self._kind(one)[0] for one in steps]
        for at, (one, kind) in enumerate(zip(steps, kinds)):
            if kinds[at - 1 : at] != [kind] or kinds[at + 1 : at + 2] != [kind]:
                self._lead(one, _Step(number, outcome, depth + at + 1, at + 1))

    def _lead(self, place: Place, step: _Step) -> None:
        """Note a place that is new, to go on from if it shows something new of its kind."""
        if place in self.seen:
            return
        self.seen.add(place)
        kind, clocks = self._kind(place)
        known = self.reached.get(kind)
        if known is None:
            self.reached[kind] = list(clocks), list(clocks)
        else:
            least, most = known
            news = [at for at, clock in enumerate(clocks) if clock < least[at] or clock > most[at]]
            if not news:
                return
            for at in news:
                least[at], most[at] = min(least[at], clocks[at]), max(most[at], clocks[at])
        number = len(self.places)
        self.places.append(place)
        self.kinds.append(kind)
        self.steps.append(step)
        self.times[kind] = self.times.get(kind, 0) + 1
        heappush(self.waiting, (self.times[kind], step.depth, number))

    def _kind(self, place: Place) -> tuple[tuple[int, int], tuple[int, ...]]:
        """What situations have in common that look alike on a tick, and what their clocks show."""
        here, before = self._of_core.get(place.core), self._of_past.get(place.past)
        if here is None:
            here = self._of_core[place.core] = self._core_kind(place.core.key)
        if before is None:
            before = self._of_past[place.past] = self._past_kind(place.past)
        return (here[0], before[0]), here[1] + before[1]

    def _core_kind(self, key: CoreKey) -> _Kind:
        """Stays count by what they let come true, ages and times since leavings by whether a condition on them is true."""
        world, ages = self.world, dict(key.ages)
        since = {(layer, state): ticks for layer, state, ticks in key.since}
        stays = tuple(world.layout.stay_class(at, key.states[at], key.stays[at]) for at in world.layers)
        true, clocks = [], [*key.stays]
        for one in self.timed:
            if isinstance(one, x.SinceLeft):
                clock = since.get((one.layer, one.state), NEVER)
                true.append(x.holds(one.operator, clock, one.ticks))
            else:
                clock = ages.get(one.symbol, NEVER)
                true.append(clock < one.ticks)
            clocks.append(clock)
        return self._numbered((key._replace(stays=stays, ages=(), since=()), tuple(true))), tuple(clocks)

    def _past_kind(self, past: Past) -> _Kind:
        """Counters count by whether they are at what their memory waits for."""
        ready = tuple([counter >= enough for counter, enough in zip(past.counters, self.world.enough)])
        return self._numbered((past.held, past.waits, past.near, ready)), past.counters

    def _numbered(self, kind: tuple[object, ...]) -> int:
        return self._numbers.setdefault(kind, len(self._numbers))

    def _path(self, number: int) -> list[Outcome]:
        """The outcomes, tick by tick, that lead to a place."""
        found: list[Outcome] = []
        while self.steps[number].outcome is not None:
            found += [self.steps[number].outcome] * self.steps[number].ticks  # type: ignore[list-item]
            number = self.steps[number].before
        return found[::-1]
