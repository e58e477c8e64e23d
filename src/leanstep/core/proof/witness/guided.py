"""Single questions about a search that left what came before open, answered with only that followed on which they turn.

What the search shows is played: the nearest, and what trusts in as little of what is open as possible.  Where that cannot be played
as the search has it, of what the transition remembers that comes true, or does not, against its word something that was otherwise is
followed from then on, and the question is asked again: until nothing shows it any more, so that it is ruled out; until a take shows
it, the shortest if it is the nearest; or until there is too much to follow.  This is abstraction refined by counterexamples
(E. Clarke, O. Grumberg, S. Jha, Y. Lu, H. Veith, 2003).
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Iterator
from dataclasses import replace
from functools import partial
from itertools import islice
from math import prod
from operator import and_, itemgetter
from typing import Generic, NamedTuple, TypeVar

from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import Symbolic, decide
from leanstep.core.graph.machine import Machine
from leanstep.core.proof.reduce.observables import AgeKey
from leanstep.core.proof.search.reach import Reach, first_places
from leanstep.core.proof.search.tabled import TabledSearch
from leanstep.core.proof.search.tables import Tables
from leanstep.core.proof.states.concrete import Rows, chosen
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.states.places import Outcome, View
from leanstep.core.proof.values.predicates import Masks, Split
from leanstep.core.proof.witness import building
from leanstep.core.proof.witness.plans import Where
from leanstep.core.proof.witness.shrinking import Aim, Witness, replayed, witness_of
from leanstep.core.rehearsal.situation import Situation
from leanstep.core.rehearsal.step_trace import given
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.work import Reason, TooLong, Work

_T = TypeVar("_T")
Until = Callable[[FreeWorld, View], bool]

NEAREST = 200
"""Views of which it is found out what follows, to find something nearer than what trusts in least."""

MOST_CHOICES = 30
"""Sets of values that are tried to bring one outcome about."""


class Followed(NamedTuple):
    """The memories, and what has ages, that a search follows."""

    memories: frozenset[int] = frozenset()
    ages: frozenset[AgeKey] = frozenset()

    def and_also(self, other: Followed) -> Followed:
        """This and the other."""
        return Followed(self.memories | other.memories, self.ages | other.ages)

    def has(self, other: Followed) -> bool:
        """Whether the other is all in this."""
        return self.and_also(other) == self


_NOTHING = Followed()


class _Look(NamedTuple):
    """Where what is looked for can be found: in the first view of some, or where a state (layer, state) is come into."""

    until: Until | None
    into: tuple[int, int] | None


class Answer(NamedTuple, Generic[_T]):
    """Whether something is ``ruled_out``; or else what was ``found``, the take that shows it (None: undecided), and its values."""

    ruled_out: bool
    found: _T | None = None
    witness: Witness | None = None
    rows: Rows = []


class Guided:
    """Questions about a search in which nothing but what came before is open.  ``left`` is the effort that searches may still take
    within the ``limits`` of the check that is under way."""

    def __init__(self, reach: Reach, limits: Callable[[], Work]) -> None:
        self.reach, self.limits = reach, limits
        self.left = limits().effort.asked[1]
        self._taken: dict[tuple[int, int, int], Answer[tuple[int, Masks]]] = {}
        self.let_go()

    def taken(self, layer: int, state: int, index: int) -> Answer[tuple[int, Masks]]:
        """Whether a transition can be taken from a state."""
        key = layer, state, index
        if key not in self._taken:
            where, make = partial(where_taken, *key), partial(building.taking, layer=layer, index=index)
            self._taken[key] = self.on_tick(where, make, self.memories_of(layer, [state], {index}))
        return self._taken[key]

    def on_tick(
        self, where: Where, make: Callable[[Reach, int, Masks], Aim], followed: Followed
    ) -> Answer[tuple[int, Masks]]:
        """Whether something can happen on a tick; ``where`` has the values for it in a view, and ``make`` says what a take to a place
        and one tick beyond has to show then; ``followed`` as for :meth:`ask`."""

        def find(reach: Reach) -> tuple[int, Masks] | None:
            some = ((place, where(reach.world, view)) for view, place in first_places(reach).items())
            return next(((place, masks) for place, masks in some if masks is not None), None)

        return self.ask(
            find,
            lambda reach, found: make(reach, *found),
            lambda world, view: where(world, view) is not None,
            followed=followed,
        )

    def ask(
        self,
        find: Callable[[Reach], _T | None],
        make: Callable[[Reach, _T], Aim],
        until: Until | None = None,
        into: tuple[int, int] | None = None,
        followed: Followed = _NOTHING,
    ) -> Answer[_T]:
        """Whether there is what ``find`` looks for; ``make`` says what a take has to show then.  ``until`` tells the views in which
        it can be found, or it is found where a state (layer, state) is come ``into``; so much is ``followed`` from the beginning."""
        look, found = _Look(until, into), None
        while True:
            missing = list[Followed]()
            for trusts in (False, True):
                reach, come_to = self._come_to(find, look, followed, trusts)
                if come_to is None and reach.complete:
                    return Answer(True, found)
                if come_to is not None:
                    found = come_to
                    answer, missed = _tried(reach, found, make)
                    if answer.witness is not None:
                        return answer
                    missing += [] if missed is None or followed.has(missed) else [followed.and_also(missed)]
            if not missing:
                return Answer(False, found)
            followed = min(missing, key=self._size)

    def let_go(self) -> None:
        """Forget all that only helped to find things out."""
        self._tables = dict[Followed, Tables | None]()
        self._searches = dict[tuple[Followed, bool], TabledSearch]()

    def memories_of(self, layer: int, states: Iterable[int], only: Collection[int] | None = None) -> Followed:
        """The memories that the transitions from states ask for, or ``only`` those with these indices."""
        rows = self.reach.machine.layers[layer].ways
        ways = (way for state in states for way in rows[state] if only is None or way.index in only)
        return Followed(_remembered(self.reach.world.slice.machine, *(way.condition for way in ways)).memories)

    def _come_to(
        self, find: Callable[[Reach], _T | None], look: _Look, followed: Followed, trusts: bool
    ) -> tuple[Reach, _T | None]:
        """What is looked for with so much followed: the nearest, if little is enough to find it, or what ``trusts`` in as little of
        what is open as possible; and the search that has come to it."""
        most = self.limits().effort.asked[0] if trusts else NEAREST
        since = 0
        while True:
            reach = self._search(followed, look, most, trusts, since)
            found = find(reach) if trusts or reach.complete or look.until is not None else None
            search = self._searches.get((followed, trusts))
            if found is not None or search is None or not search.paused:
                return reach, found
            since = search.places

    def _search(self, followed: Followed, look: _Look, most: int, trusts: bool, since: int) -> Reach:
        """What can be reached with so much followed: all, if that is not too much, or what is nearest until a view is come to; with
        ``trusts`` those first that trust least in what is open.  Ways into a state only as far as they were not there when so many
        places were (``since``)."""
        if followed == _NOTHING and self.reach.complete and not trusts:
            return self.reach
        search = self._searches.get((followed, trusts))
        if search is None:
            tables = self._tables_of(followed)
            if tables is None:
                reach = Reach(self.reach.world)
                reach.abort(
                    Reason.BUDGET, "too much is remembered, or for too long, to follow it for a single question"
                )
                return reach
            search = self._searches[followed, trusts] = TabledSearch(tables, trusts)
        before, limits = search.effort, self.limits()
        work = replace(limits.after(len(self.reach.places)), budget=min(most, before + max(self.left, 0)))
        reach = search.run(
            work, None if look.until is None else partial(look.until, search.tables.world), look.into, since
        )
        self.left -= search.effort - before
        return reach

    def _size(self, followed: Followed) -> int:
        """In how many ways so much can have come before."""
        machine = self.reach.world.slice.machine
        ages = dict[AgeKey, int]([*machine.buffers, *machine.clocks])
        ticks = [machine.memories[index].ticks for index in followed.memories] + [ages[key] for key in followed.ages]
        return prod(one + 1 for one in ticks)

    def _tables_of(self, followed: Followed) -> Tables | None:
        """The tables of a world in which so much is followed; None where that cannot be."""
        if followed not in self._tables:
            world, part = self.reach.world, self.reach.world.slice
            if followed != _NOTHING:
                world = FreeWorld(part, followed.memories, False, followed.ages)
            self._tables[followed] = Tables.of(world)
        return self._tables[followed]


def _tried(reach: Reach, found: _T, make: Callable[[Reach, _T], Aim]) -> tuple[Answer[_T], Followed | None]:
    """What a search found, with the take that shows it; or what would have to be followed so that it does not seem so."""
    try:
        aim = make(reach, found)
    except TooLong:
        return Answer(False, found), None
    rows, missed = _played(reach, aim)
    if missed is not None:
        return Answer(False, found), missed
    witness = witness_of(reach, replace(aim, rows=rows))
    if witness.replays:
        return Answer(False, found, witness, rows), None
    return Answer(False, found), _remembered(reach.machine, aim.surprise(replayed(reach, rows)))


def where_taken(layer: int, state: int, index: int, world: FreeWorld, view: View) -> Masks | None:
    """Values with which a transition is taken from a state in a view."""
    if view.states[layer] != state:
        return None
    position = world.machine.layers[layer].position(state, index)
    return next((one.masks for one in world.outcomes(view) if one.fired[layer] == position), None)


def _played(reach: Reach, aim: Aim) -> tuple[Rows, Followed | None]:
    """Values that lead along a path, chosen tick by tick so that what is open turns out as the path has it.  Where there are none,
    those until then, and what the transition remembers that came true, or did not, against the path's word."""
    world, machine, player = reach.world, reach.world.slice.machine, reach.player
    place, now, rows = world.first(), player.start(), Rows()
    before: list[Symbolic] = [symbol.first for symbol in machine.symbols]
    for tick, masks in enumerate(aim.path):
        moved = world.move(place)
        outcome = world.tick(moved.view, masks)
        if isinstance(outcome, Split):
            # whatever happens from here on happens with all of these values
            for one in aim.path[tick:]:
                before = chosen(world, _pressing(world, one) or one, before)
                rows.append(before)
            break
        missed: Followed | None = None
        fixed = tick >= len(aim.path) - aim.fixed
        for box, row in _choices(world, moved.view, outcome, masks if fixed else world.full, before):
            changes = given(machine, before, row, False)
            after = next(iter(player.go_on(now, [changes])))
            surprise = _surprise(world, place.states, outcome, after.fired)
            if surprise is None:
                break
            if missed is None:
                situation = player.situation(now)
                missed = _mistaken(world, situation, changes, box, *surprise) or _remembered(machine, surprise[1])
        else:
            return rows, missed or _NOTHING
        rows.append(row)
        now, before = after, row
        place = world.after(place, moved, outcome)
    return rows, None


def _surprise(
    world: FreeWorld, states: tuple[int, ...], outcome: Outcome, fired: tuple[int, ...]
) -> tuple[int, x.Expression | None] | None:
    """The layer and condition, of those tried in these states, that was the first not to be as an outcome has it, by what was
    taken."""
    for at in world.layers:
        ways = world.machine.layers[at].ways[states[at]]
        thought = ways[outcome.fired[at]].index if outcome.fired[at] >= 0 else -1
        if fired[at] != thought:
            return at, next(way.condition for way in ways if way.index in (fired[at], thought))
    return None


def _mistaken(
    world: FreeWorld,
    before: Situation,
    changes: dict[int, Symbolic],
    box: Masks,
    layer: int,
    condition: x.Expression | None,
) -> Followed | None:
    """What a condition remembers for the shortest time, of all that is not followed and was otherwise than a box has it; None if
    there is nothing."""
    machine = world.slice.machine
    now = Stepper(machine, free=True).when_tried(before, changes, layer)
    asked = world.asked.get((layer, now.states[layer]), {})
    found = list[tuple[int, Followed]]()
    for part in x.parts(condition) if condition is not None else ():
        if isinstance(part, x.Remembered) and part.index in asked:
            memory = machine.memories[part.index]
            if not box[asked[part.index]] & _bit(before.counters[part.index] >= memory.enough):
                found.append((memory.ticks, Followed(frozenset({part.index}))))
        elif isinstance(part, x.Buffered | x.SinceLeft) and (symbol := world.opened.get(part)) is not None:
            key = part.symbol if isinstance(part, x.Buffered) else (part.layer, part.state)
            found += [] if box[symbol] & _bit(decide(part, now)) else [(part.ticks, Followed(ages=frozenset({key})))]
    return min(found, key=itemgetter(0))[1] if found else None


def _bit(value: bool) -> int:
    """A value as a set of values."""
    return 0b10 if value else 0b01


def _choices(
    world: FreeWorld, view: View, outcome: Outcome, masks: Masks, before: list[Symbolic]
) -> Iterator[tuple[Masks, list[Symbolic]]]:
    """Boxes out of masks that bring an outcome about, with values of them, those first for which least of what is open has to turn out
    one way."""
    position = next(at for at, one in enumerate(world.outcomes(view)) if one.brings(outcome))
    count, boxes = len(world.machine.symbols), list[tuple[int, Masks]]()
    for box in world.boxes(view, position):
        part = (*map(and_, box[:count], masks), *box[count:])
        if all(part):
            boxes.append((sum(map(int.__ne__, box[count:], world.full[count:])), part))
    for _, part in islice(sorted(boxes, key=itemgetter(0)), MOST_CHOICES):
        for allowed in (_pressing(world, part), world.completed(part)):
            if allowed is not None:
                yield part, chosen(world, allowed, before)


def _pressing(world: FreeWorld, masks: Masks) -> Masks | None:
    """The part of masks in which the buttons are down whose presses are not followed and should be remembered; None where there are
    no such buttons, or that is not allowed."""
    down = world.presses(masks)
    part = tuple([mask & 0b10 if at in down else mask for at, mask in enumerate(masks)])
    return world.completed(part) if down and all(part) else None


def _remembered(machine: Machine, *conditions: x.Expression | None) -> Followed:
    """The memories and ages that conditions ask for, and those that these memories ask for."""
    memories, ages = set[int](), set[AgeKey]()
    roots = [condition for condition in conditions if condition is not None]
    while roots:
        for part in x.parts(roots.pop()):
            if isinstance(part, x.Remembered) and part.index not in memories:
                memories.add(part.index)
                roots.append(machine.memories[part.index].operand)
            elif isinstance(part, x.Buffered):
                ages.add(part.symbol)
            elif isinstance(part, x.SinceLeft):
                ages.add((part.layer, part.state))
    return Followed(frozenset(memories), frozenset(ages))
