"""Takes through a search that had to leave the past open: inputs are kept until what should happen does.

Where memories are too many to follow, the search allows more than can happen; what it does not find is still impossible, but
what it finds has to be played.  A memory that should hold comes to hold when its operand is kept, so patience often helps.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from itertools import chain, islice, product, takewhile
from typing import TypeVar

from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.graph.machine import CompiledTransition, Machine
from leanstep.core.proof.alone import alone, hint, light
from leanstep.core.proof.places import View
from leanstep.core.proof.quiet import TRIES, Quiet, Row, Wanted
from leanstep.core.proof.regional import Masks
from leanstep.core.proof.sampling import Sampling
from leanstep.core.proof.search import Reach, first_places
from leanstep.core.proof.thinning import pushed, settings_for
from leanstep.core.rehearsal.limits import first_broken, tick_by_tick, towards
from leanstep.core.rehearsal.situation import Glimpse

MOST_LONG = 3
"""Sets of values that are tried in each state before others."""

MOST_TRIED = 300
"""Takes that are tried for one question, of a kind."""

MOST_WAITED, MOST_EACH = 2_000, 20
"""Takes that are tried for one layer, and more for each of its transitions: to show these, and as many to show all else."""

MOST_RAMP = 2_000
"""Ticks for which values are led to where they should be."""

SOME = 100
"""Situations that are looked at before it is seen whether they are enough."""

MOST_PATIENCE = 2_000
"""Ticks for which values are kept."""

_T = TypeVar("_T")

Rows = list[Row]
Plan = list[tuple[Row, int]]
"""Values, each with the ticks for which they are kept."""


@dataclass
class Played:
    """What has been played: (layer, state) and (layer, transition index), with the values of every tick until then; and by
    layer how it was.  ``sampling`` are the situations that were looked at for it, as long as they are needed."""

    states: dict[tuple[int, int], Rows] = field(default_factory=dict)
    transitions: dict[tuple[int, int], Rows] = field(default_factory=dict)
    stages: dict[int, Stage] = field(default_factory=dict)
    sampling: Sampling | None = None


def played(reach: Reach, layers: tuple[int, ...], late: Callable[[], bool] = lambda: False) -> Played:
    """Play the states and transitions of ``layers`` that a search found, each from the first situation its state was played
    to; ``late`` tells whether there is no more time."""
    found = Played()
    for layer in layers:
        stage = found.stages[layer] = Stage(reach, layer, found, late)
        stage.play()
    return found


class Stage:
    """Plays one layer.  ``seen`` has the first situation of each state, ``taken`` that after each transition, ``edges`` the
    pairs of states between which one was taken; what was played until then is in ``found``.  ``cut``: there was no more
    time."""

    def __init__(self, reach: Reach, layer: int, found: Played, late: Callable[[], bool]) -> None:
        self.reach, self.layer, self.found, self.late = reach, layer, found, late
        self.cut = False
        self.most = _patience(reach)
        self.pulses = [index for index in reach.machine.free if reach.machine.symbols[index].momentary]
        self.seen: dict[int, Glimpse] = {}
        self.taken: dict[int, Glimpse] = {}
        self.edges: set[tuple[int, int]] = set()
        self.queue: deque[Glimpse] = deque()
        self.quiet = Quiet(reach, layer)
        self.boxes = _boxes(reach, layer, chain.from_iterable(self.quiet.views.values()))
        self.held: dict[tuple[int, int], Plan | None] = {}
        self.looked: set[tuple[int, int, bool]] = set()
        self.sampled = False
        self.left = self.allowed = MOST_WAITED + MOST_EACH * reach.machine.layers[layer].count

    def play(self) -> None:
        """Play whatever can be played from the start."""
        self._note(self.reach.player.start(), [])
        while self.queue or self._look_again(False) or self._sample() or self._look_again(True):
            seen = self.queue.popleft()
            state = seen.states[self.layer]
            for way in self.reach.machine.layers[self.layer].ways[state]:
                some = self.boxes.get(state, {}).get(way.index)
                if some and not self._has_played(state, way):
                    any(
                        self._shows_from(state, way.index, state, [(row, self.most)])
                        for row in self._tried(way, some, seen.values)
                    )
        self.left = self.allowed

    @property
    def spent(self) -> bool:
        """Whether no more takes may be tried."""
        return self.left < 0 or self.cut

    def _note(self, now: Glimpse, rows: Rows) -> None:
        state = now.states[self.layer]
        if state not in self.seen:
            self.found.states[self.layer, state] = rows
            self.seen[state] = now
            self.queue.append(now)

    def _has_played(self, state: int, way: CompiledTransition) -> bool:
        """Whether a transition has been played, and some that leads from this state where it does."""
        return (self.layer, way.index) in self.found.transitions and (state, way.target) in self.edges

    def _look_again(self, harder: bool) -> bool:
        """Look for takes with transitions that were not played yet, those to new states first; whether one leads there."""
        table = self.reach.machine.layers[self.layer]
        for known in (False, True):
            for state in self.seen if not self.spent else ():
                for position, way in enumerate(table.ways[state]):
                    boxes, key = self.boxes.get(state, {}).get(way.index), (state, way.index, harder)
                    if not boxes or key in self.looked or self._has_played(state, way):
                        continue
                    if (way.target in self.seen) == known:
                        self.looked.add(key)
                        plans = (
                            self._look_closer(state, position, boxes) if harder else self.plans(state, position, boxes)
                        )
                        if any(self._shows_from(state, way.index, *plan) for plan in plans) and self.queue:
                            return True
        return False

    @property
    def sampling(self) -> Sampling:
        """Some situations, followed with every clock; the same for all layers."""
        if self.found.sampling is None:
            self.found.sampling = Sampling(self.reach.world.slice)
        return self.found.sampling

    def _sample(self) -> bool:
        """Look at some situations for transitions that were not played yet; whether some lead to new states."""
        if self.sampled:
            return False
        self.sampled = True
        ways = self.reach.machine.layers[self.layer].ways
        left = {(state, index) for state, some in self.boxes.items() for index, boxes in some.items() if boxes}
        left -= {(state, way.index) for state, row in enumerate(ways) for way in row if self._has_played(state, way)}
        more = bool(left)
        while more and left and not self.late():
            more = self.sampling.go_on(SOME)
            found = sorted(key for key in left if (self.layer, *key) in self.sampling.fired)
            for key in found:
                number, outcome = next(iter(self.sampling.fired[self.layer, *key].values()))
                self._follow(self.sampling.rows(number, outcome.masks))
            left -= {*found}
        return bool(self.queue)

    def sampled_into(self, state: int) -> Iterator[tuple[Glimpse, Rows]]:
        """How a state is entered in the situations looked at, with the values until then."""
        while self.sampling.go_on(SOME) and not self.late():
            pass
        ways = self.reach.machine.layers[self.layer].ways
        into = {(self.layer, at, way.index) for at, row in enumerate(ways) for way in row if way.target == state}
        for key in sorted(into & self.sampling.fired.keys()):
            for number, outcome in self.sampling.fired[key].values():
                played = [*self.played_through(self.sampling.rows(number, outcome.masks))]
                if played and played[-1][0].states[self.layer] == state and played[-1][0].fired[self.layer] == key[2]:
                    yield played[-1]

    def _follow(self, rows: Sequence[list[Symbolic]]) -> None:
        """Play values from the start, and note every transition that is taken."""
        before = self.reach.player.start()
        for now, whole in self.played_through(rows):
            if now.fired[self.layer] >= 0:
                self._note_taken(before, now, whole[: now.tick])
            before = now

    def played_through(self, rows: Sequence[list[Symbolic]]) -> Iterator[tuple[Glimpse, Rows]]:
        """What there is after each tick of values that keep to the declared limits, with all these values."""
        machine, player = self.reach.machine, self.reach.player
        rows = pushed(self.reach, list(rows))
        whole = [dict(enumerate(row)) for row in rows]
        if as_declared(machine, whole):
            settings = [dict(some) for some in settings_for(machine, rows)]
            for now in player.go_on(player.start(), settings):
                yield now, whole

    def _look_closer(self, state: int, position: int, boxes: list[Masks]) -> Iterator[tuple[int, Plan]]:
        """Plans for a transition as a look at its state alone suggests them, and others; none if that rules it out."""
        index = self.reach.machine.layers[self.layer].ways[state][position].index
        if not light(self.reach, self.layer, state):
            yield from self.plans(state, position, boxes, harder=True)
        near = alone(self.reach, self.layer, state)
        if near is None or (self.layer, index) not in near.fired:
            return
        for view, place in first_places(near).items():
            if view.states[self.layer] == state:
                for outcome in near.world.outcomes(view):
                    if outcome.fired[self.layer] == position:
                        box, _, also = hint(self.reach, near, place, outcome.masks)
                        yield from self.plans(state, position, [box], also=also)
                        yield from self.plans(state, position, [box], harder=True, also=also)
        yield from self.plans(state, position, boxes, harder=True)

    def _shows_from(self, state: int, index: int, source: int, plan: Plan) -> bool:
        """Whether a plan that begins in another state, or in this, leads to a transition from this one."""
        seen = self.seen[source]
        changes, rows = self.laid_out(seen, plan)
        begin = self.until(seen)
        if source != state:
            now = self.reach.player.until(self.layer, seen, changes)
            done = now.tick - seen.tick
            seen, begin, changes, rows = now, begin + rows[:done], changes[done:], rows[done:]
        return bool(changes) and seen.states[self.layer] == state and self._shows(seen, begin, index, changes, rows)

    def plans(
        self, state: int, position: int, boxes: list[Masks], ticks: int = 0, harder: bool = False, also: Wanted = ()
    ) -> Iterator[tuple[int, Plan]]:
        """States to begin in and values to keep one after the other, the last of them out of boxes and in a state, for some
        ticks (0: as long as it makes sense): at once, or after waiting there for the way at ``position``; ``harder``: after
        waiting longer, or after coming there in another way.  What memories ``also`` remember should be so by then."""
        ticks = ticks or self.most
        if harder:
            yield from ((state, plan) for plan in self._waited(state, position, boxes, ticks, True, also))
            for stay, long in product((False, True), (False, True)):
                yield from islice(self._arriving(state, position, boxes, ticks, stay, long, also), MOST_TRIED)
            return
        way = self.reach.machine.layers[self.layer].ways[state][position]
        for row in self._tried(way, boxes, self.seen[state].values):
            yield state, [(row, ticks)]
        yield from ((state, plan) for plan in self._waited(state, position, boxes, ticks, False, also))

    def _tried(self, way: CompiledTransition, boxes: list[Masks], before: Sequence[Symbolic]) -> list[Row]:
        """Values of boxes; where presses are not followed, also with the buttons pressed whose presses a way asks for."""
        rows = list(self.quiet.rows(boxes, before))
        if self.reach.world.clocked or way.condition is None:
            return rows
        pressed = {part.symbol: True for part in x.parts(way.condition) if isinstance(part, x.Buffered)}
        return [*rows, *(row | pressed for row in rows if pressed)]

    def _waited(
        self, state: int, position: int, boxes: list[Masks], ticks: int, long: bool, also: Wanted
    ) -> Iterator[Plan]:
        """Values of boxes, kept for some ticks, after others on which the search saw nothing happen have been kept for as long
        as it can make sense to wait for the way at ``position``; ``long``: with more time before that."""
        settled, turns = self._waits(state, position, also)
        before = self.seen[state].values
        rows = [
            (row, [*self.quiet.wanted(state, box), *also]) for box in boxes for row in self.quiet.rows([box], before)
        ]
        waits = [("settled", settled), *(("some", ticks) for ticks in turns)]
        some = in_turn(
            self._after_quiet(state, wanted, row, past, wait, settled if long else 0)
            for (row, wanted), (past, wait) in product(rows, waits)
        )
        for plan in takewhile(lambda _: not self.spent, islice(some, MOST_TRIED)):
            yield [*plan[:-1], (plan[-1][0], ticks)]

    def _after_quiet(self, state: int, wanted: Wanted, row: Row, past: str, wait: int, before: int) -> Iterator[Plan]:
        """A row after quiet ones, kept for some ticks; with other quiet ones ``before`` for as many, unless it is 0."""
        for quiet in self.quiet.near(state, wanted, row, past, wait + before):
            yield from ([*begin, (quiet, wait), (row, 1)] for begin in self.calmed(state, quiet, before))

    def calmed(self, state: int, row: Row, ticks: int) -> list[Plan]:
        """A few ways to stay in a state for some ticks whatever the past, those nearest to a row first; of one for no ticks
        there is nothing to keep."""
        near = islice(self.quiet.near(state, (), row, "any", self.most), MOST_LONG) if ticks else ()
        return [[(first, ticks)] for first in near] if ticks else [[]]

    def _arriving(
        self, state: int, position: int, boxes: list[Masks], ticks: int, stay: bool, long: bool, also: Wanted
    ) -> Iterator[tuple[int, Plan]]:
        """From which state to come to another with memories as boxes have them, so that their values can be kept there at once;
        or, with ``stay``, after waiting there for the way at ``position``.  ``long``: with more time before coming."""
        table = self.reach.machine.layers[self.layer]
        waits = self._waits(state, position, also)[1] if stay else []
        return in_turn(
            self._by(source, at, (state, box, ticks), [*self.quiet.wanted(state, box), *also], waits, long)
            for box, source in product(boxes, [other for other in self.seen if other != state])
            for at, way in enumerate(table.ways[source])
            if way.target == state and (waits or not stay)
        )

    def _by(
        self, source: int, position: int, to: tuple[int, Masks, int], wanted: Wanted, waits: list[int], long: bool
    ) -> Iterator[tuple[int, Plan]]:
        """The same by a certain way, ``to`` a state and values of a box to be kept there for some ticks, after one of ``waits``
        if there are any."""
        state, box, ticks = to
        index = self.reach.machine.layers[self.layer].ways[source][position].index
        parts = [self.quiet.narrowed(part, wanted)[1] for part in self.boxes.get(source, {}).get(index, [])]
        for plan in self._waited(source, position, parts, 1, long, wanted):
            for row in self.quiet.rows([box], list(plan[-1][0].values())):
                if not waits:
                    yield source, [*plan, (row, ticks)]
                for wait in waits:
                    for quiet in islice(self.quiet.near(state, wanted, row, "some", wait), MOST_LONG):
                        yield source, [*plan, (quiet, wait), (row, ticks)]

    def stays(self, state: int, ticks: int) -> Plan | None:
        """What keeps a state active for so many ticks from its first situation on, if that was found."""
        if (state, ticks) not in self.held:
            self.held[state, ticks] = self._can_stay(self.seen[state], ticks) if state in self.seen else None
        return self.held[state, ticks]

    def _can_stay(self, seen: Glimpse, ticks: int) -> Plan | None:
        if not ticks:
            return []
        for past in ("settled", "some"):
            for row in self.quiet.near(seen.states[self.layer], (), dict(enumerate(seen.values)), past, ticks):
                changes, rows = self.laid_out(seen, [(row, ticks)])
                quiet = self.reach.player.until(self.layer, seen, changes).fired[self.layer] < 0
                if quiet and as_declared(self.reach.machine, self.until(seen) + rows):
                    return [(row, ticks)]
        return None

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

    def _shows(
        self, seen: Glimpse, begin: Rows, index: int, changes: Sequence[Mapping[int, Symbolic]], rows: Rows
    ) -> bool:
        """Whether a transition is the next to be taken after a situation, ``begin`` being the values until then, with these
        changes, which make these values; it is noted then."""
        now = self.reach.player.until(self.layer, seen, changes)
        whole = begin + rows[: now.tick - seen.tick]
        if now.fired[self.layer] != index or not as_declared(self.reach.machine, whole):
            return False
        self._note_taken(seen, now, whole)
        return True

    def _note_taken(self, before: Glimpse, now: Glimpse, rows: Rows) -> None:
        """Note a transition that has been taken, with the values until then."""
        way = now.fired[self.layer]
        self.found.transitions.setdefault((self.layer, way), rows)
        self.taken.setdefault(way, now)
        self.edges.add((before.states[self.layer], now.states[self.layer]))
        self._note(now, rows)

    def until(self, seen: Glimpse) -> Rows:
        """The values of every tick until the first situation of a state."""
        return self.found.states[self.layer, seen.states[self.layer]]

    def laid_out(self, seen: Glimpse, plan: Plan) -> tuple[list[Mapping[int, Symbolic]], Rows]:
        """What changes tick by tick when a plan is followed from a situation, and the values of every tick."""
        self.left -= 1
        if self.left % 64 == 0:
            self.cut = self.cut or self.late()
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


def as_declared(machine: Machine, rows: Rows) -> bool:
    """Whether values keep to the declared limits."""
    return first_broken(machine, tick_by_tick(rows, machine.limited)) is None


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
