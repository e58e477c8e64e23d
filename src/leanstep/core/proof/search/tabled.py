"""What can be reached in a world for a single question, by tables: many places for little, of which only those are made that the
answer needs."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from leanstep.core.conditions.evaluation import NEVER
from leanstep.core.proof.search.reach import Reach
from leanstep.core.proof.search.table_arrays import POSITION, Found
from leanstep.core.proof.search.table_kernels import ALL, FOUND, STUCK, entries, go_on, hashed_again
from leanstep.core.proof.search.tables import MOST_TRUST, Tables, with_room
from leanstep.core.proof.states.free_world import TooWide
from leanstep.core.proof.states.places import View
from leanstep.core.work import Reason, Work

AT_ONCE, ASKED = 8_192, 64
"""Places that are gone on from before it is looked whether to stop, and kinds of them that are asked about together."""

WIDEST = 10_000
"""Outcomes of a view that are looked at."""

MOST_ENTRIES = 1 << 17
"""Ways into a state that are looked at."""

COUNTED, LEVELS = 128, 8
"""Places that only count on as others did, and ticks on which any do, that are as much work as one place about which something is
learnt."""


class TabledSearch:
    """A search of a world that can go on where it stopped: nearest first, or, if it ``trusts``, those first that are come to by
    trusting in as little of what is open as possible; then it pauses each time when it has to trust in more, where ways into a state
    are looked for."""

    def __init__(self, tables: Tables, trusts: bool = False) -> None:
        self.tables, self._trust_first = tables, 0 if trusts else ALL
        self._begins, self.paused = [0], False
        self._rows = np.zeros((256, tables.width), np.int64)
        self._cases, self._parent, self._position = (np.full(256, -1, np.int32) for _ in range(3))
        self._slots, self._first = np.full(512, -1, np.int32), np.full(16, -1)
        self._count = np.ones(1, np.int64)
        self._rows[0] = tables.row_of(tables.world.first())
        self._done, self._level, self._learnt, self._levels = 0, 1, 0, 0
        hashed_again(self._found(), self._slots)
        self._ended: tuple[Reason, str] | None = None
        if tables.world.completed(tables.world.full) is None:
            self._ended = Reason.ASSUMPTIONS, "the assumptions can never all hold"

    @property
    def places(self) -> int:
        """How many places there are by now."""
        return int(self._count[0])

    @property
    def effort(self) -> int:
        """What the search has taken, in places about which something was learnt."""
        return self._learnt + self._done // COUNTED + self._levels // LEVELS

    def run(
        self,
        work: Work,
        until: Callable[[View], bool] | None = None,
        into: tuple[int, int] | None = None,
        since: int = 0,
    ) -> Reach:
        """Go on until a view is come to, everything was visited, or the work's budget of :attr:`effort` is spent.  Of the places come
        to it has those that lead to the first with such a view, and those from which the state (layer, state) is come ``into``, in
        ways that were not there when so many places were (``since``)."""
        wanted = np.zeros(0, np.bool_)

        def judged() -> np.ndarray:
            """Which views are wanted, of all there are by now."""
            nonlocal wanted
            new = self.tables.views[len(wanted) :]
            wanted = np.append(wanted, [until is not None and until(view) for view in new]).astype(np.bool_)
            self._first = with_room(self._first, len(wanted), -1)
            return wanted

        flags = judged()
        come_to = self._first[: len(flags)][flags]
        met = int(min(come_to[come_to >= 0], default=-1))
        if self.paused and met < 0:
            self._trust(judged)
        self.paused = False
        while met < 0 and not self.complete and not self.paused and self._ended is None and self.effort < work.budget:
            work.at(self.effort)
            if self._done < self._count[0]:
                met = self._go_on(judged)
            elif into is not None:
                self.paused = True
            else:
                self._trust(judged)
        return self._reach(met, into, since)

    @property
    def complete(self) -> bool:
        """Whether everything that can be reached was come to."""
        last = self._begins[-1 - MOST_TRUST :]
        return self._done == self._count[0] and (
            self._trust_first == ALL or (last[0] == self._done and len(last) > MOST_TRUST)
        )

    def _go_on(self, judged: Callable[[], np.ndarray]) -> int:
        """Go on from some places that are equally near; the place with a wanted view if there is one, else -1."""
        if self._done == self._level:
            self._level, self._levels = int(self._count[0]), self._levels + 1
        end = min(self._level, self._done + AT_ONCE)
        met = self._by(self._trust_first, np.arange(self._done, end), judged)
        if met < 0:
            self._done = end
        return met

    def _trust(self, judged: Callable[[], np.ndarray]) -> None:
        """Go on from the places that are come to by trusting in less, so that they are come to that trust in one thing more."""
        begins = [*self._begins, self._done]
        for more in range(1, min(len(self._begins), MOST_TRUST) + 1):
            self._by(more, np.arange(begins[-1 - more], begins[-more]), judged)
        self._begins, self._level = begins, self._done

    def _by(self, trust: int, todo: np.ndarray, judged: Callable[[], np.ndarray]) -> int:
        """Go on from places by some outcomes."""
        while len(todo):
            again, asked = np.empty(len(todo), np.int64), np.empty((ASKED, 4), np.int64)
            wanted = judged()
            step = go_on(self.tables.facts(), self._found(), todo, wanted, trust, again, asked)
            done, missed, cases, how, number = step
            if how == FOUND:
                return number
            if how == STUCK:
                self._ended = Reason.ASSUMPTIONS, "a situation has no next tick that the assumptions allow"
                break
            if not self._learn(asked[:cases, 0].tolist()):
                break
            if done < len(todo) and cases < ASKED:
                self._grow()
            todo = np.concatenate([again[:missed], todo[done:]])
        return -1

    def _learn(self, some: list[int]) -> bool:
        """Find out what follows some places; whether that is possible."""
        self.tables.world.widest = WIDEST
        try:
            for place in some:
                self.tables.learn(self._rows[place])
                self._learnt += 1
        except TooWide:
            self._ended = Reason.BUDGET, f"more than {WIDEST} things can happen on a tick"
        finally:
            self.tables.world.widest = NEVER
        return self._ended is None

    def _found(self) -> Found:
        return Found(self._rows, self._cases, self._parent, self._position, self._slots, self._first, self._count)

    def _grow(self) -> None:
        """Make room for more places."""
        room = 2 * len(self._parent)
        self._rows, self._cases, self._parent, self._position = (
            with_room(one, room, -1) for one in (self._rows, self._cases, self._parent, self._position)
        )
        self._slots = np.full(2 * room, -1, np.int32)
        hashed_again(self._found(), self._slots)

    def _entries(self, into: tuple[int, int], since: int) -> list[tuple[int, int, int]] | None:
        """The ways into a state, each as place, position and place after, of those after which the same follows until a stay is no
        longer short only the nearest; None if there are too many."""
        layer, state = into
        tables, facts = self.tables, self.tables.facts()
        enters, within = np.zeros(len(facts.ways), np.bool_), np.zeros(len(facts.begin), np.bool_)
        for case, view in enumerate(tables.views[number] for number in tables.cases):
            row = tables.world.machine.layers[layer].ways[view.states[layer]]
            fired = (outcome.fired[layer] for outcome in tables.world.outcomes(view))
            some = slice(facts.begin[case], facts.begin[case + 1])
            into_it = [at >= 0 and row[at].target == state != view.states[layer] for at in fired]
            enters[some] = np.array(into_it, np.bool_)[facts.ways[some, POSITION]]
            within[case] = any(into_it)
        done, found = np.zeros((4 * MOST_ENTRIES, 2), np.int64), np.empty((MOST_ENTRIES, 3), np.int64)
        kins, slots = np.empty((MOST_ENTRIES, tables.width), np.int64), np.full(4 * MOST_ENTRIES, -1, np.int32)
        whole, count = entries(facts, self._found(), since, within, enters, tables.alike, kins, slots, done, found)
        return [(place, position, after) for place, position, after in found[:count].tolist()] if whole else None

    def _reach(self, met: int, into: tuple[int, int] | None, since: int) -> Reach:
        """What was come to, as far as it was asked for."""
        world = self.tables.world
        reach = Reach(world)
        if self._ended is not None:
            reach.abort(*self._ended)
        elif met >= 0:
            reach.abort(Reason.PAST, "what was looked for was found")
        elif not self.complete:
            reach.abort(Reason.BUDGET, "the budget of a single question was used up")
        elif world.wild:
            reach.abort(Reason.INEXACT, f"this cannot be decided exactly: {', '.join(world.wild)}")
        ways = [] if into is None else self._entries(into, since)
        if ways is None:
            reach.abort(Reason.BUDGET, f"more than {MOST_ENTRIES} ways into a state")
            ways = []
        numbers = {-1: -1}
        for number in sorted(
            self._with_all_before({0, met, *(way[0] for way in ways), *(way[2] for way in ways)} - {-1})
        ):
            place, parent = self.tables.place_of(self._rows[number]), numbers[int(self._parent[number])]
            numbers[number] = reach.numbers[place] = len(reach.places)
            reach.places.append(place)
            reach.views.append(world.move(place).view)
            reach.successors.append([])
            reach.parents.append((parent, int(self._position[number]) if parent >= 0 else -1, int(parent >= 0)))
            reach.depths.append(reach.depths[parent] + 1 if parent >= 0 else 0)
        for before, position, after in ways:
            row = reach.successors[numbers[before]]
            row += [None] * (len(world.outcomes(reach.views[numbers[before]])) - len(row))  # type: ignore[list-item]
            row[position] = numbers[after]
        return reach

    def _with_all_before(self, some: set[int]) -> set[int]:
        """Places with all those on the way to them."""
        found, parent = set[int](), self._parent
        for number in some:
            while number >= 0 and number not in found:
                found.add(number)
                number = int(parent[number])
        return found
