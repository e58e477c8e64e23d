"""Values that are kept one after the other until something happens, as the search suggests them."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from itertools import chain, islice, product, takewhile
from typing import TypeVar

from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.graph.machine import CompiledTransition, Machine
from leanstep.core.proof.search.reach import Reach
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.states.places import View
from leanstep.core.proof.values.predicates import Masks
from leanstep.core.proof.witness.waiting import TRIES, Quiet, Row, Wanted
from leanstep.core.proof.witness.walks import Walks
from leanstep.core.rehearsal.limits import towards
from leanstep.core.rehearsal.situation import Glimpse

MOST_LONG = 3
"""Sets of values that are tried in each state before others."""
MOST_TRIED = 300
"""Takes that are tried for one question, of a kind."""
MOST_WAITED, MOST_EACH = 2_000, 20
"""Takes that are tried for one layer, and more for each of its transitions: to show these, and as many to show all else."""
MOST_RAMP = 2_000
"""Ticks for which values are led to where they should be."""
MOST_PATIENCE = 2_000
"""Ticks for which values are kept."""
_T = TypeVar("_T")
Rows = list[Row]
Where = Callable[[FreeWorld, View], Masks | None]
"""Values with which something happens in a view; None where it does not."""
Plan = list[tuple[Row, int]]
"""Values, each with the ticks for which they are kept."""


class Plans:
    """Plans for one layer of a search: values kept one after the other, so that what should happen can.

    ``seen`` has the first situation of each state, ``boxes`` by state and transition index a few sets of values with which the search
    saw it taken; ``going_on`` raises where the work is over.
    """

    def __init__(self, reach: Reach, layer: int, going_on: Callable[[], None]) -> None:
        self.reach, self.layer, self.going_on = reach, layer, going_on
        self.most = _patience(reach)
        self.pulses = [index for index in reach.machine.free if reach.machine.symbols[index].momentary]
        self.seen: dict[int, Glimpse] = {}
        self.quiet = Quiet(reach, layer)
        self.walks = Walks(reach, layer, self.quiet)
        self.boxes = _boxes(reach, layer, chain.from_iterable(self.quiet.views.values()))
        self.left = self.allowed = MOST_WAITED + MOST_EACH * reach.machine.layers[layer].count

    @property
    def spent(self) -> bool:
        """Whether no more takes may be tried."""
        return self.left < 0

    def plans(
        self, state: int, position: int, boxes: list[Masks], ticks: int = 0, also: Wanted = ()
    ) -> Iterator[tuple[int, Plan]]:
        """States to begin in and values to keep one after the other, the last of them out of boxes and in a state, for some
        ticks (0: as long as it makes sense): at once, or after waiting there for the way at ``position``.  What memories ``also``
        remember should be so by then."""
        ticks = ticks or self.most
        way = self.reach.machine.layers[self.layer].ways[state][position]
        for row in self._tried(way, boxes, self.seen[state].values):
            yield state, [(row, ticks)]
        yield from ((state, plan) for plan in self._waited(state, position, boxes, ticks, also))

    def _tried(self, way: CompiledTransition, boxes: list[Masks], before: Sequence[Symbolic]) -> list[Row]:
        """Values of boxes; where presses are not followed, also with the buttons pressed whose presses a way asks for."""
        rows = list(self.quiet.rows(boxes, before))
        if self.reach.world.clocked or way.condition is None:
            return rows
        pressed = {part.symbol: True for part in x.parts(way.condition) if isinstance(part, x.Buffered)}
        return [*rows, *(row | pressed for row in rows if pressed)]

    def _waited(self, state: int, position: int, boxes: list[Masks], ticks: int, also: Wanted) -> Iterator[Plan]:
        """Values of boxes, kept for some ticks, after others on which the search saw nothing happen have been kept for as long
        as it can make sense to wait for the way at ``position``."""
        settled, turns = self._waits(state, position, also)
        before = self.seen[state].values
        rows = [
            (row, [*self.quiet.wanted(state, box), *also]) for box in boxes for row in self.quiet.rows([box], before)
        ]
        waits = [("settled", settled), *(("some", ticks) for ticks in turns)]
        some = in_turn(
            self._after_quiet(state, wanted, row, past, (wait, ticks))
            for (row, wanted), (past, wait) in product(rows, waits)
        )
        yield from takewhile(lambda _: not self.spent, islice(some, MOST_TRIED))

    def _after_quiet(self, state: int, wanted: Wanted, row: Row, past: str, ticks: tuple[int, int]) -> Iterator[Plan]:
        """Quiet values and then a row, each kept for so many ticks."""
        for quiet in self.quiet.near(state, wanted, row, past, ticks[0]):
            yield [(quiet, ticks[0]), (row, ticks[1])]

    def led_to(self, state: int, where: Where) -> Iterator[tuple[int, Plan]]:
        """States to begin in and plans on whose last tick it is in a state as it has to be for what happens there ``where`` values are
        so: after waiting in it, or at once after a walk to it."""
        yield from ((state, plan) for plan in self._timed(state, where))
        views = (view for view in self.quiet.views[state] if not view.stays[self.layer])
        boxes = (where(self.reach.world, view) for view in views)
        yield from chain.from_iterable(self._walked(state, box) for box in boxes if box is not None)

    def _timed(self, state: int, where: Where) -> Iterator[Plan]:
        """Values ``where`` something happens in a state on a last tick, and until then others on which the search saw nothing
        happen, each kept so that what memories remember comes to be on that tick as it has to be, and no earlier: at once, or once
        they remember nothing more."""
        world, memories = self.reach.world, self.reach.machine.memories
        asked = world.asked.get((self.layer, state), {})
        leads = (0, max((memories[index].ticks for index in asked), default=0))
        for view in self.quiet.views[state]:
            box = where(world, view)
            wanted = dict(self.quiet.wanted(state, box)) if box is not None else {}
            if box is None or not wanted:
                continue
            turns = {memories[index].ticks for index in wanted}
            begin = max(turns) + 1
            pressed = dict.fromkeys(world.presses(box), True)
            for lead in leads:
                ends = sorted({max(view.stays[self.layer], begin + lead), begin, *turns}, reverse=True)
                if world.layout.stay_class(self.layer, state, ends[0]) != view.stays[self.layer]:
                    continue
                for turned, row in product((False, True), self.quiet.rows([box], self.seen[state].values)):
                    plan = Plan()
                    for left, then in zip(ends, [*ends[1:], 1]):
                        due = self._due(left, wanted, turned) if left <= begin else {}
                        others = () if turned and due else [(index, False) for index in asked if index not in due]
                        near = self.quiet.near(state, [*due.items(), *others], row, "some", ends[0] - then)
                        plan += [(one, left - then) for one in islice(near, 1)]
                    yield [*plan, (row | pressed, 1)]

    def _due(self, left: int, wanted: Mapping[int, bool], turned: bool) -> dict[int, bool]:
        """Whether what memories remember should hold so many ticks before the last for them to say then what is ``wanted``, and not
        before; ``turned``: those that should not remember on the last tick do until then."""
        memories = self.reach.machine.memories
        return {
            index: holds if memories[index].ticks >= left else turned and not (holds or memories[index].strict)
            for index, holds in wanted.items()
        }

    def _walked(self, state: int, box: Masks) -> Iterator[tuple[int, Plan]]:
        """States to begin in and values that lead from there to a state, and then those of a box on its first tick; on the way that is
        remembered which has to be for these."""
        memories = self.reach.machine.memories
        wanted = self.quiet.wanted(state, box)
        always = [(index, holds) for index, holds in wanted if holds == memories[index].strict]
        once = [one for one in wanted if one not in always]
        ticks = max((memories[index].ticks for index, _ in always), default=2) - 1
        pressed = dict.fromkeys(self.reach.world.presses(box), True)
        for source, walk in self.walks.to(state, always, ticks, self.seen) if wanted else [(state, [])]:
            plan, before = Plan(), self.seen[source].values
            for masks in (*self._with_once(walk, once), box):
                for row in islice(self.quiet.rows([masks], before), 1):
                    plan.append((row, 1))
                    before = tuple(row.values())
            yield source, [*plan[:-1], *((row | pressed, 1) for row, _ in plan[-1:])]

    def _with_once(self, walk: list[Masks], once: Wanted) -> list[Masks]:
        """A walk on which what memories remember is also ``once`` as wanted, as late as can be."""
        for at in reversed(range(len(walk))):
            missing, part = self.quiet.narrowed(walk[at], once)
            if not missing:
                return [*walk[:at], part, *walk[at + 1 :]]
        return walk

    def calmed(self, state: int, row: Row, ticks: int) -> list[Plan]:
        """A few ways to stay in a state for some ticks whatever the past, those nearest to a row first; of one for no ticks
        there is nothing to keep."""
        near = islice(self.quiet.near(state, (), row, "any", self.most), MOST_LONG) if ticks else ()
        return [[(first, ticks)] for first in near] if ticks else [[]]

    def _waits(self, state: int, position: int, also: Wanted) -> tuple[int, list[int]]:
        """For how many ticks it can make sense to wait for a way and for memories, and for those tried before it not to be
        taken; and for how many so that none of them comes true just yet."""
        machine, layout = self.reach.machine, self.reach.world.layout
        conditions = (way.condition for way in machine.layers[self.layer].ways[state][: position + 1])
        parts = [part for one in conditions if one is not None for part in x.parts(one)]
        memories = sorted(
            {part.index for part in parts if isinstance(part, x.Remembered)} | {index for index, _ in also}
        )
        counters = self.reach.player.counters(self.seen[state])
        longest = max([*(machine.memories[index].ticks for index in memories), layout.caps[self.layer][state]]) + 1
        turns = [machine.memories[index].ticks - done - 1 for index in memories for done in (counters[index], 0)]
        turns += [ticks - 1 for ticks in layout.thresholds[self.layer][state]]
        return min(longest, MOST_PATIENCE), sorted(
            {ticks for ticks in turns if 0 < ticks <= MOST_PATIENCE}, reverse=True
        )

    def laid_out(self, seen: Glimpse, plan: Plan) -> tuple[list[Mapping[int, Symbolic]], Rows]:
        """What changes tick by tick when a plan is followed from a situation, and the values of every tick."""
        self.left -= 1
        if self.left % 64 == 0:
            self.going_on()
        changes, rows, values = list[Mapping[int, Symbolic]](), Rows(), seen.values
        for row, ticks in plan:
            gradual = _gradual(self.reach.machine, values, row)
            again: dict[int, Symbolic] = {index: True for index in self.pulses if row[index]}
            # a countdown stays what it is if it is given again and again
            machine = self.reach.machine
            held = {at: min(float(row[at]) + 1, machine.symbols[at].high) for at in machine.countdowns if row[at]}
            changes += [*({**one, **held} for one in gradual), *[again | held] * (ticks - 1)]
            rows += [*gradual, *[row] * (ticks - 1)]
            values = tuple(row.values())
        return changes, rows


def in_turn(sources: Iterable[Iterable[_T]]) -> Iterator[_T]:
    """One of each, then a second of each, and so on."""
    waiting = deque(map(iter, sources))
    while waiting:
        source = waiting.popleft()
        for one in islice(source, 1):
            yield one
            waiting.append(source)


def _gradual(machine: Machine, before: Sequence[Symbolic], row: Row) -> Rows:
    """The values of ``row``, reached as fast as declared limits let them be."""
    slow = [index for index in machine.limited if machine.symbols[index].step]
    if not slow:
        return [row]
    now, found = dict(enumerate(before)), Rows()
    while not found or (any(now[index] != row[index] for index in slow) and len(found) < MOST_RAMP):
        now = towards(machine, now, row)
        found.append(now)
    return found


def _boxes(reach: Reach, layer: int, views: Iterable[View]) -> dict[int, dict[int, list[Masks]]]:
    """By state and transition index, a few sets of values with which the search saw it taken."""
    taken: dict[int, dict[int, list[Masks]]] = {}
    for view in views:
        state = view.states[layer]
        for position, outcome in enumerate(reach.world.outcomes(view)):
            if outcome.fired[layer] >= 0:
                way = reach.machine.layers[layer].ways[state][outcome.fired[layer]]
                some = taken.setdefault(state, {}).setdefault(way.index, [])
                some += reach.world.boxes(view, position)[: TRIES - len(some)]
    return taken


def _patience(reach: Reach) -> int:
    """After how many ticks of the same values nothing new can come."""
    longest = max((memory.ticks for memory in reach.machine.memories), default=0)
    stays = max((cap for row in reach.world.layout.caps.values() for cap in row), default=0)
    shown = (picture for layer in reach.world.layers for picture in reach.machine.pictures[layer])
    strange = (picture for picture in shown if picture is not None and not picture.followed)
    laps = max((2 * reel.timing.ticks for picture in strange for reel in picture.reels), default=0)
    whole = reach.world.slice.machine
    ages = 0 if reach.world.clocked else max((ticks for _, ticks in (*whole.buffers, *whole.clocks)), default=0)
    return min(longest + stays + laps + ages + 2, MOST_PATIENCE)
