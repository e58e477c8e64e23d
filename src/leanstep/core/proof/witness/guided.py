"""Single questions about a search that left what came before open, answered with only that followed on which they turn.

What the search shows is played.  Where that cannot be played as the search has it, what the transition remembers that comes true, or
does not, against its word is followed from then on, and the question is asked again: until nothing shows it any more, so that it is
ruled out; until a take shows it, which is a shortest one then; or until there is too much to follow.  This is abstraction refined by
counterexamples (E. Clarke, O. Grumberg, S. Jha, Y. Lu, H. Veith, 2003).
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator
from dataclasses import replace
from functools import partial
from itertools import islice
from operator import and_, itemgetter
from typing import Generic, NamedTuple, TypeVar

from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.graph.machine import Machine
from leanstep.core.proof.reduce.observables import AgeKey, age_turns
from leanstep.core.proof.search.reach import Reach, first_places
from leanstep.core.proof.search.reachability import explore
from leanstep.core.proof.search.sampling import Sampling
from leanstep.core.proof.states.concrete import Rows, chosen
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.states.places import Outcome, View
from leanstep.core.proof.values.predicates import Masks, Split
from leanstep.core.proof.witness import building
from leanstep.core.proof.witness.shrinking import Aim, Witness, replayed, witness_of
from leanstep.core.rehearsal.step_trace import given
from leanstep.core.work import Reason, TooLong, Work

_T = TypeVar("_T")
Until = Callable[[FreeWorld, View], bool]
Where = Callable[[FreeWorld, View], Masks | None]

SAMPLED, MANY = (400, 1_000, 3_000), 8
"""Situations that are gone on from where there are too many, each time with a look at what was found; and memories that are counted
there side by side."""

MOST_CHOICES = 30
"""Sets of values that are tried to bring one outcome about."""


class Followed(NamedTuple):
    """The memories, and what has ages, that a search follows."""

    memories: frozenset[int] = frozenset()
    ages: frozenset[AgeKey] = frozenset()

    def and_also(self, other: Followed) -> Followed:
        """This and the other."""
        return Followed(self.memories | other.memories, self.ages | other.ages)


_NOTHING = Followed()


class Answer(NamedTuple, Generic[_T]):
    """Whether something is ``ruled_out``; or else what was ``found``, the take that shows it (None: undecided), and its values."""

    ruled_out: bool
    found: _T | None = None
    witness: Witness | None = None
    rows: Rows = []


class Guided:
    """Questions about a search in which nothing but what came before is open.  ``left`` are the situations that may still be
    visited within the ``limits`` of the check that is under way."""

    def __init__(self, reach: Reach, limits: Callable[[], Work]) -> None:
        self.reach, self.limits = reach, limits
        self.left = limits().effort.asked[2]
        self._taken: dict[tuple[int, int, int], Answer[tuple[int, Masks]]] = {}
        self.let_go()

    def taken(self, layer: int, state: int, index: int) -> Answer[tuple[int, Masks]]:
        """Whether a transition can be taken from a state."""
        key = layer, state, index
        if key not in self._taken:
            where = partial(_where_taken, layer, state, index)
            self._taken[key] = self.on_tick(where, partial(building.taking, layer=layer, index=index))
        return self._taken[key]

    def on_tick(self, where: Where, make: Callable[[Reach, int, Masks], Aim]) -> Answer[tuple[int, Masks]]:
        """Whether something can happen on a tick; ``where`` has the values for it in a view, and ``make`` says what a take to a place
        and one tick beyond has to show then."""

        def find(reach: Reach) -> tuple[int, Masks] | None:
            some = ((place, where(reach.world, view)) for view, place in first_places(reach).items())
            return next(((place, masks) for place, masks in some if masks is not None), None)

        return self.ask(
            find, lambda reach, found: make(reach, *found), lambda world, view: where(world, view) is not None
        )

    def ask(
        self,
        find: Callable[[Reach], _T | None],
        make: Callable[[Reach, _T], Aim],
        until: Until | None = None,
        followed: Followed = _NOTHING,
    ) -> Answer[_T]:
        """Whether there is what ``find`` looks for; ``make`` says what a take has to show then.  ``until`` tells the views in which
        it can be found, if it is found in views; so much is ``followed`` from the beginning."""
        few, most = self.limits().effort.asked[:2]
        answer, so_far = self._refined(find, make, until, followed, few)
        if answer.ruled_out or answer.witness is not None:
            return answer
        for some in self._sampled(so_far):
            other = find(some)
            shown = None if other is None else _tried(some, other, make)[0]
            if shown is not None and shown.witness is not None:
                return shown
        return self._refined(find, make, until, followed, most)[0]

    def _refined(
        self,
        find: Callable[[Reach], _T | None],
        make: Callable[[Reach, _T], Aim],
        until: Until | None,
        followed: Followed,
        most: int,
    ) -> tuple[Answer[_T], Followed]:
        """The same by searches that come to no more than ``most`` situations each, and what was followed in the end."""
        found, reach = None, self._search(followed, until, most)
        while reach.complete or until is not None:
            nearest = find(reach)
            if nearest is None:
                return Answer(reach.complete, found), followed
            found = nearest
            answer, missed = _tried(reach, found, make)
            if answer.witness is None:
                # where the nearest cannot be played, there may be another that can
                sure = self._explored(reach.world, until, most, partial(_sure, reach.world))
                other = find(sure)
                if other is not None:
                    answer, missed = _tried(sure, other, make)
            more = followed if missed is None else followed.and_also(missed)
            if more == followed:
                return answer, followed
            followed = more
            reach = self._search(followed, until, most)
        return Answer(False, found), followed

    def _sampled(self, followed: Followed) -> Iterator[Reach]:
        """Some situations of each kind, and more as long as they are asked for: with everything followed, or with so much where that
        is too many clocks side by side."""
        part = self.reach.world.slice
        if len(part.memories) <= MANY:
            followed = Followed(part.memories, frozenset(age_turns(part)))
        sampling = self._samples.get(followed)
        if sampling is None:
            sampling = self._samples[followed] = Sampling(self._world(followed))
        else:
            yield sampling.reach
        for most in SAMPLED:
            if sampling.done < most and not sampling.over:
                sampling.run(replace(self.limits().after(len(self.reach.places)), budget=most))
                yield sampling.reach

    def let_go(self) -> None:
        """Forget all that only helped to find things out."""
        self._worlds = {_NOTHING: self.reach.world}
        self._searches = {_NOTHING: self.reach}
        self._samples = dict[Followed, Sampling]()

    def memories_of(self, layer: int, state: int) -> Followed:
        """The memories that the transitions from a state ask for."""
        ways = self.reach.machine.layers[layer].ways[state]
        asked = _remembered(self.reach.world.slice.machine, *(way.condition for way in ways))
        return Followed(asked.memories)

    def _search(self, followed: Followed, until: Until | None, most: int) -> Reach:
        """What can be reached with so much followed: all, if that is not too much, or what is nearest until a view is come to."""
        known = self._searches.get(followed)
        if known is not None and (known.complete or len(known.world.kept.rows) >= min(most, self.left)):
            return known
        reach = self._explored(self._world(followed), until, most)
        if reach.complete or reach.reason is Reason.BUDGET:
            self._searches[followed] = reach
        return reach

    def _world(self, followed: Followed) -> FreeWorld:
        if followed not in self._worlds:
            part = self.reach.world.slice
            self._worlds[followed] = FreeWorld(part, followed.memories, False, followed.ages)
        return self._worlds[followed]

    def _explored(
        self, world: FreeWorld, until: Until | None, most: int, only: Callable[[View], Collection[int]] | None = None
    ) -> Reach:
        """A search of one of the worlds, as far as there are situations left."""
        known = len(world.kept.rows)
        limits = self.limits()
        budget = min(most, known + max(self.left, 0))
        work = replace(limits.after(len(self.reach.places)), budget=budget)
        reach = explore(world, work, None if until is None else partial(until, world), only)
        self.left -= len(world.kept.rows) - known
        return reach


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


def _sure(world: FreeWorld, view: View) -> list[int]:
    """The positions of the outcomes of a view that some values bring about whatever is open."""
    count = len(world.machine.symbols)
    full = world.full[count:]
    return [
        position
        for position in range(len(world.outcomes(view)))
        if any(box[count:] == full for box in world.boxes(view, position))
    ]


def _where_taken(layer: int, state: int, index: int, world: FreeWorld, view: View) -> Masks | None:
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
        wrong: x.Expression | None = None
        fixed = tick >= len(aim.path) - aim.fixed
        for row in _choices(world, moved.view, outcome, masks if fixed else world.full, before):
            after = next(iter(player.go_on(now, [given(machine, before, row, False)])))
            surprise = _surprise(world, place.states, outcome, after.fired)
            if surprise is None:
                break
            wrong = wrong or surprise
        else:
            return rows, _remembered(machine, wrong)
        rows.append(row)
        now, before = after, row
        place = world.after(place, moved, outcome)
    return rows, None


def _surprise(
    world: FreeWorld, states: tuple[int, ...], outcome: Outcome, fired: tuple[int, ...]
) -> x.Expression | None:
    """The condition, of those tried in these states, that was the first not to be as an outcome has it, by what was taken."""
    for at in world.layers:
        ways = world.machine.layers[at].ways[states[at]]
        thought = ways[outcome.fired[at]].index if outcome.fired[at] >= 0 else -1
        if fired[at] != thought:
            return next(way.condition for way in ways if way.index in (fired[at], thought))
    return None


def _choices(
    world: FreeWorld, view: View, outcome: Outcome, masks: Masks, before: list[Symbolic]
) -> Iterator[list[Symbolic]]:
    """Values out of masks that bring an outcome about, those first for which least of what is open has to turn out one way."""
    position = next(at for at, one in enumerate(world.outcomes(view)) if one.brings(outcome))
    count, boxes = len(world.machine.symbols), list[tuple[int, Masks]]()
    for box in world.boxes(view, position):
        part = (*map(and_, box[:count], masks), *box[count:])
        if all(part):
            boxes.append((sum(map(int.__ne__, box[count:], world.full[count:])), part))
    for _, part in islice(sorted(boxes, key=itemgetter(0)), MOST_CHOICES):
        for allowed in (_pressing(world, part), world.completed(part)):
            if allowed is not None:
                yield chosen(world, allowed, before)


def _pressing(world: FreeWorld, masks: Masks) -> Masks | None:
    """The part of masks in which the buttons are down whose presses are not followed and should be remembered; None where there are
    no such buttons, or that is not allowed."""
    presses = ((atom.symbol, masks[at]) for atom, at in world.opened.items() if isinstance(atom, x.Buffered))
    down = {button for button, mask in presses if mask == 0b10}
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
