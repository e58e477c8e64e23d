"""Takes through a search that had to leave the past open: inputs are kept until what should happen does.

Where memories are too many to follow, the search allows more than can happen; what it does not find is still impossible, but
what it finds has to be played.  A memory that should hold comes to hold when its operand is kept, so patience often helps.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import partial

from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.graph.machine import CompiledTransition, Machine
from leanstep.core.proof.search.reach import Reach
from leanstep.core.proof.witness.guided import Guided, where_taken
from leanstep.core.proof.witness.plans import Plan, Plans, Rows
from leanstep.core.proof.witness.shrinking import pushed, settings_for
from leanstep.core.rehearsal.limits import first_broken, tick_by_tick
from leanstep.core.rehearsal.situation import Glimpse
from leanstep.core.work import Work


@dataclass
class Played:
    """What has been played: (layer, state) and (layer, transition index), with the values of every tick until then; and by
    layer how it was.  ``guided`` is for what is asked with only that followed on which it turns."""

    guided: Guided
    states: dict[tuple[int, int], Rows] = field(default_factory=dict)
    transitions: dict[tuple[int, int], Rows] = field(default_factory=dict)
    stages: dict[int, Stage] = field(default_factory=dict)


def played(reach: Reach, layers: tuple[int, ...], limits: Callable[[], Work] = Work) -> Played:
    """Play the states and transitions of ``layers`` that a search found, each from the first situation its state was played
    to, within the limits of the check that is under way."""
    found = Played(Guided(reach, limits))
    for layer in layers:
        stage = found.stages[layer] = Stage(reach, layer, found, lambda: limits().at(len(reach.places)))
        stage.play()
    return found


class Stage(Plans):
    """Plays one layer.  ``taken`` has the first situation after each transition, ``edges`` the
    pairs of states between which one was taken; what was played until then is in ``found``."""

    def __init__(self, reach: Reach, layer: int, found: Played, going_on: Callable[[], None]) -> None:
        super().__init__(reach, layer, going_on)
        self.found = found
        self.taken: dict[int, Glimpse] = {}
        self.edges: set[tuple[int, int]] = set()
        self.queue: deque[Glimpse] = deque()
        self.held: dict[tuple[int, int], Plan | None] = {}
        self.looked: set[tuple[int, int]] = set()
        self.asked: set[tuple[int, int]] = set()

    def play(self) -> None:
        """Play whatever can be played from the start."""
        self._note(self.reach.player.start(), [])
        while self.queue or self._look_again() or self._ask():
            seen = self.queue.popleft()
            state = seen.states[self.layer]
            for way in self.reach.machine.layers[self.layer].ways[state]:
                some = self.boxes.get(state, {}).get(way.index)
                if some and not self._has_played(way):
                    any(
                        self._shows_from(state, way.index, state, [(row, self.most)])
                        for row in self._tried(way, some, seen.values)
                    )
        self.left = self.allowed

    def _note(self, now: Glimpse, rows: Rows) -> None:
        state = now.states[self.layer]
        if state not in self.seen:
            self.found.states[self.layer, state] = rows
            self.seen[state] = now
            self.queue.append(now)

    def _has_played(self, way: CompiledTransition) -> bool:
        """Whether a transition has been played."""
        return (self.layer, way.index) in self.found.transitions

    def _look_again(self) -> bool:
        """Look for takes with transitions that were not played yet, those to new states first; whether one leads there."""
        table = self.reach.machine.layers[self.layer]
        for known in (False, True):
            for state in self.seen if not self.spent else ():
                for position, way in enumerate(table.ways[state]):
                    boxes, key = self.boxes.get(state, {}).get(way.index), (state, way.index)
                    if not boxes or key in self.looked or self._has_played(way):
                        continue
                    if (way.target in self.seen) == known:
                        self.looked.add(key)
                        plans = self.plans(state, position, boxes)
                        if any(self._shows_from(state, way.index, *plan) for plan in plans) and self.queue:
                            return True
        return False

    def _ask(self) -> bool:
        """Ask for each transition that was not played yet whether it can be taken; whether one leads to a new state."""
        for state, some in sorted(self.boxes.items()):
            for way in self.reach.machine.layers[self.layer].ways[state]:
                if not some.get(way.index) or self._has_played(way) or (state, way.index) in self.asked:
                    continue
                self.asked.add((state, way.index))
                if not self._shows_timed(state, way.index) and self.rules_out(state, way.index):
                    some[way.index] = []
                if self.queue:
                    return True
        return False

    def _shows_timed(self, state: int, index: int) -> bool:
        """Whether a transition is taken from a state on a tick on which memories come to be so that it can."""
        plans = self.led_to(state, partial(where_taken, self.layer, state, index)) if state in self.seen else ()
        return any(self._shows_after(state, index, *plan) for plan in plans)

    def _shows_after(self, state: int, index: int, source: int, plan: Plan) -> bool:
        """Whether a plan that begins in another state, and goes through more, ends with a transition from this one."""
        seen = self.seen[source]
        changes, rows = self.laid_out(seen, plan)
        *_, before, now = seen, *self.reach.player.go_on(seen, changes)
        whole = self.until(seen) + rows
        taken = before.states[self.layer] == state and now.fired[self.layer] == index
        if taken and as_declared(self.reach.machine, whole):
            self._note_taken(before, now, whole)
            return True
        return False

    def rules_out(self, state: int, index: int) -> bool:
        """Ask whether a transition can be taken from a state, and play what shows it; whether it cannot."""
        answer = self.found.guided.taken(self.layer, state, index)
        if answer.witness is not None:
            self._follow(answer.rows)
        return answer.ruled_out

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


def as_declared(machine: Machine, rows: Rows) -> bool:
    """Whether values keep to the declared limits."""
    return first_broken(machine, tick_by_tick(rows, machine.limited)) is None
