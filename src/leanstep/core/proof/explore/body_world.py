"""A search of the body world: what can be shown with nothing but the controls and the game's parameters.

Situations are sorted into cells by the states that are active and, roughly, by where the body is.  The search goes on
from the cells it has gone on from least, with inputs kept for a while, and keeps the first situation of every new cell.
It is the same for the same seed.  What it finds comes with a take; what it does not find is not proved impossible.
"""

from __future__ import annotations

import random
from collections.abc import Sequence
from dataclasses import dataclass, field

from leanstep.core.character.takes import Take
from leanstep.core.conditions import expression as x
from leanstep.core.conditions.closures import truth
from leanstep.core.conditions.evaluation import Moment, Symbolic, decide
from leanstep.core.defaults import TICKS
from leanstep.core.graph.costumes import only_worn
from leanstep.core.graph.machine import CompiledTransition, Machine
from leanstep.core.proof.explore.archive import Archive, Inputs, Key, Stop, way_to
from leanstep.core.proof.reduce.slices import read_by
from leanstep.core.proof.values.regions import regions_of
from leanstep.core.rehearsal.limits import first_broken, tick_by_tick, towards, within_a_step
from leanstep.core.rehearsal.situation import Glimpse
from leanstep.core.rehearsal.step_trace import gathered
from leanstep.core.rehearsal.takes import recorded
from leanstep.core.rehearsal.traces import player_of
from leanstep.core.work import DEFAULT, Work

CELL = 24.0
"""Width and height of a cell, in units."""

LENGTHS = (1, 2, 4, 8, 16, 32, 64)
"""Ticks for which inputs are kept."""

MOST_SHRUNK = 6_000
"""Ticks that may be replayed to shrink one take."""


@dataclass
class Found:
    """What a search has shown.

    ``states`` and ``transitions`` map (layer, state) and (layer, transition index) to the inputs, tick by tick, after
    which the state is active or the transition has been taken; ``ticks`` were played; ``complete``: nothing was left to
    find.
    """

    states: dict[tuple[int, int], list[Inputs]] = field(default_factory=dict)
    transitions: dict[tuple[int, int], list[Inputs]] = field(default_factory=dict)
    passed: set[tuple[int, int]] = field(default_factory=set)
    """The (layer, state) that were left within the flicker window while all inputs were kept."""
    ticks: int = 0
    complete: bool = False
    barred: int = -1
    """The assumption that the body breaks on its first tick whatever is done; below 0 when there is none."""


MOST_BARRED = 300
"""Tries after which it is believed that the body breaks an assumption on its first tick whatever is done."""
NEVER_BARRED = -2
"""Some first tick is allowed, or it is a limit that forbids it."""


class BodyWorld:
    """Searches the body world of a machine."""

    def __init__(self, machine: Machine, seed: int = 1) -> None:
        self.machine = machine
        self.pick = random.Random(seed)
        self.player = player_of(machine, free=False)
        self.assumed = [truth(assumption) for assumption in machine.assumptions]
        self.bound = bool(self.assumed or machine.limited)
        """Whether anything forbids values a body or hands could have."""
        self.urgent: set[tuple[int, int]] = set()
        self.sources: dict[tuple[int, int], list[int]] = {}
        self.targets: dict[tuple[int, int], int] = {}
        self.asked: dict[tuple[int, int], set[int]] = {}
        self.of_body: dict[tuple[int, int], list[x.Expression]] = {}
        for layer, table in enumerate(machine.layers):
            for state, row in enumerate(table.ways):
                for way in row:
                    self.sources.setdefault((layer, way.index), []).append(state)
                    self.targets[layer, way.index] = way.target
                    if way.urgent:
                        self.urgent.add((layer, way.index))
                    self.asked[layer, way.index] = read_by(machine, [way])
                    self.of_body[layer, way.index] = _of_body(machine, way)
        values = regions_of(machine).values
        course = machine.character.course
        across = [course.start[0], *(edge for shape in course.shapes for edge in (shape.x, shape.x + shape.width))]
        up = [course.start[1], *(edge for shape in course.shapes for edge in (shape.y, shape.y + shape.height))]
        self.ends = [(min(edges) - 4 * CELL, max(edges) + 4 * CELL) for edges in (across, up)]
        self.choices: dict[int, Sequence[Symbolic]] = {}
        idle = machine.derived | only_worn(machine)
        for index in machine.free:
            symbol = machine.symbols[index]
            if index in idle:
                continue
            if symbol.owner == "controls" and symbol.kind == "number":
                self.choices[index] = [symbol.low, symbol.rest, symbol.high] * len(values[index]) + list(values[index])
            elif symbol.owner != "body":
                self.choices[index] = values[index]

    def search(
        self,
        states: set[tuple[int, int]],
        transitions: set[tuple[int, int]],
        ticks: int = TICKS,
        limits: Work = DEFAULT,
    ) -> Found:
        """Look for all of these, for so many ticks at most."""
        found = Found()
        first = self.player.start()
        for layer, state in enumerate(first.states):
            found.states[layer, state] = []
        archive = Archive()
        archive.add(self._cell(first), self._place(first, 2 * CELL), Stop(first, -1, (), ()))
        while found.ticks < ticks:
            limits.at(found.ticks)
            if found.barred >= 0 and found.ticks >= MOST_BARRED:
                return found
            if states <= found.states.keys() and transitions <= found.transitions.keys():
                found.complete = True
                break
            lost = states - found.states.keys()
            ways = sorted(
                way
                for way in self.sources
                if (way in transitions or (way[0], self.targets[way]) in lost) and way not in found.transitions
            )
            way = self.pick.choice(ways) if ways and self.pick.random() < 0.6 else None
            self._go_on(self._next(archive, way), archive, found, self.asked[way] if way else set())
        return found

    def _next(self, archive: Archive, way: tuple[int, int] | None) -> int:
        """A stop to go on from: with a ``way`` out in mind one of its states, else one in the place gone on from least; of
        a few the one gone on from least."""
        group: list[int] = []
        if way is not None:
            group = archive.by_state.get((way[0], self.pick.choice(self.sources[way])), [])
        if not group:
            key = min(archive.groups, key=lambda key: (archive.visits[key], -len(archive.groups[key])))
            archive.visits[key] += 1
            group = archive.groups[key]
        some = group if way is not None else [group[self.pick.randrange(len(group))] for _ in range(6)]

        def worn(number: int) -> float:
            return archive.chosen[number] / 4 - (self._near(archive, number, way) if way is not None else 0)

        number = min(some, key=worn)
        archive.chosen[number] += 1
        return number

    def _near(self, archive: Archive, number: int, way: tuple[int, int]) -> int:
        """How many of the things a way asks of the body are so at a stop."""
        known = archive.near.get((number, way))
        if known is None:
            moment = Moment(list(archive.stops[number].seen.values))
            known = archive.near[number, way] = sum(decide(one, moment) for one in self.of_body[way])
        return known

    def _go_on(
        self,
        number: int,
        archive: Archive,
        found: Found,
        asked: set[int],
    ) -> None:
        stop = archive.stops[number]
        raised = dict(stop.raised)
        plan = self._plan(stop.seen, raised, asked)
        before, states, entered = stop.seen.values, stop.seen.states, dict[int, int]()
        for at, now in enumerate(self.player.go_on(stop.seen, plan)):
            found.ticks += 1
            if not self._allowed(before, now.values):
                if len(archive.stops) == 1 and now.tick == 1 and found.barred != NEVER_BARRED:
                    found.barred = self._broken(now.values)
                return
            before, found.barred = now.values, NEVER_BARRED
            for layer, way in enumerate(now.fired):
                if way >= 0:
                    quick = at - entered.get(layer, -self.machine.window) < self.machine.window
                    if quick and (layer, way) not in self.urgent and states[layer] != now.states[layer]:
                        found.passed.add((layer, states[layer]))
                    entered[layer] = at
            states = now.states
            kept, played = plan[at], plan[: at + 1]
            raised |= {index: now.tick for index in kept if kept[index] and self.machine.symbols[index].momentary}
            self._note(now, number, archive.stops, played, found)
            key = self._cell(now)
            if key not in archive.cells:
                made = Stop(now, number, tuple(played), tuple(sorted(raised.items())))
                archive.add(key, self._place(now, 2 * CELL), made)

    def _plan(self, seen: Glimpse, raised: dict[int, int], asked: set[int]) -> list[Inputs]:
        """Inputs for the next ticks: something changes, of what is ``asked`` for most, then all is kept for a while."""
        changed: Inputs = {}
        some = {index for index in self.choices if self.pick.random() < 1.2 / len(self.choices)}
        for index in [index for index in self.choices if index in some or index in asked]:
            symbol = self.machine.symbols[index]
            if symbol.momentary:
                due = seen.tick + 1 - raised.get(index, -symbol.spacing) >= symbol.spacing
                if due and self.pick.random() < 0.4:
                    changed[index] = True
            elif self.pick.random() < 0.8:
                changed[index] = self.pick.choice(self.choices[index])
        length = self.pick.choice(LENGTHS)
        kept = {index: value for index, value in changed.items() if self.machine.symbols[index].lasts}
        plan, now = [changed, *[kept] * (length - 1)], list(seen.values)
        for at, row in enumerate(plan) if any(self.machine.symbols[index].step for index in kept) else ():
            plan[at] = towards(self.machine, now, row)
            for index, value in plan[at].items():
                now[index] = value
        return plan

    def _allowed(self, before: Sequence[Symbolic], values: Sequence[Symbolic]) -> bool:
        """Whether the assumptions allow these values, and limits this change."""
        if not self.bound:
            return True
        moment = Moment(list(values))
        return all(holds(moment) for holds in self.assumed) and all(
            within_a_step(self.machine, index, before[index], values[index]) for index in self.machine.limited
        )

    def _broken(self, values: Sequence[Symbolic]) -> int:
        """The first assumption these values break."""
        moment = Moment(list(values))
        return next((number for number, holds in enumerate(self.assumed) if not holds(moment)), NEVER_BARRED)

    def _place(self, now: Glimpse, size: float) -> tuple[int, int]:
        """The square of the course the body is in; what lies far outside the course is all one."""
        (left, right), (bottom, top) = self.ends
        x, y = min(max(now.body.x, left), right), min(max(now.body.y, bottom), top)
        return int(x // size), int(y // size)

    def _cell(self, now: Glimpse) -> Key:
        body = now.body
        rising = 0 if body.grounded or body.climbing else 1 if body.vy > 0 else -1
        stays = tuple(min(stay, 40) // 8 for stay in now.stays)
        return (now.states, stays, *self._place(now, CELL), rising, int(abs(body.vx) // 60))

    def _note(self, now: Glimpse, number: int, stops: list[Stop], played: list[Inputs], found: Found) -> None:
        new_states = [key for key in enumerate(now.states) if key not in found.states]
        new_ways = [key for key in enumerate(now.fired) if key[1] >= 0 and key not in found.transitions]
        if new_states or new_ways:
            inputs = [*way_to(stops, number), *played]
            found.states.update(dict.fromkeys(new_states, inputs))
            found.transitions.update(dict.fromkeys(new_ways, inputs))

    def take(self, inputs: list[Inputs], goal: tuple[str, int, int]) -> Take:
        """A take of these inputs, shrunk: first fewer ticks, then fewer changes, as long as it still ends as it should.

        ``goal`` is ("state", layer, state) or ("transition", layer, index).
        """
        rows = self.whole(inputs)
        work = 0
        for size in (64, 32, 16, 8, 4, 2, 1):
            at = 0
            while at < len(rows) and work < MOST_SHRUNK:
                trial = rows[:at] + rows[at + size :]
                work += len(trial)
                end = self._ends(trial, goal)
                if end is not None:
                    rows = trial[:end]
                else:
                    at += size
        for tick in range(len(rows) - 1, -1, -1):
            for index in self.choices:
                if index not in rows[tick] or work >= MOST_SHRUNK:
                    continue
                symbol, later = self.machine.symbols[index], tick
                before = rows[tick - 1][index] if tick and symbol.lasts else symbol.rest
                if not symbol.countdown and rows[tick][index] == before:
                    continue
                trial = [dict(row) for row in rows]
                if symbol.countdown:
                    del trial[tick][index]
                    later = len(rows)
                while later < len(rows) and rows[later][index] == rows[tick][index]:
                    trial[later][index] = before
                    later += 1
                work += len(trial)
                end = self._ends(trial, goal)
                if end is not None:
                    rows = trial[:end]
                    break
        return recorded(self.machine, "found", rows, "body")

    def whole(self, inputs: list[Inputs]) -> list[Inputs]:
        """Every value of every tick."""
        rows: list[Inputs] = []
        symbols = self.machine.symbols
        now: Inputs = {index: symbols[index].rest for index in self.choices if not symbols[index].countdown}
        pulses: Inputs = {index: False for index in self.choices if symbols[index].momentary}
        for changed in inputs:
            rows.append({**now, **pulses, **changed})
            now |= {index: value for index, value in changed.items() if not symbols[index].countdown}
        return rows

    def may_be(self, rows: list[Inputs]) -> bool:
        """Whether assumptions and limits allow these inputs, tick by tick."""
        return self._ends(rows, None) is not None

    def _ends(self, rows: list[Inputs], goal: tuple[str, int, int] | None) -> int | None:
        """After how many ticks a take shows the goal (None: all have been played); None when it does not, or breaks an assumption
        before."""
        kind, layer, wanted = goal or ("", 0, 0)
        start = self.player.start()
        if kind == "state" and start.states[layer] == wanted:
            return 0
        limited = [index for index in self.machine.limited if index in self.choices]
        broken = first_broken(self.machine, tick_by_tick(rows, limited))
        rows, whole = rows if broken is None else rows[: broken[0]], broken is None
        if not self.bound:
            # nothing is to be looked at on the way
            trace = self.player.play(gathered(self.machine, rows), len(rows))
            seen = trace.states(layer) if kind == "state" else trace.taken(layer)
            found = (tick for tick, one in enumerate(seen, 1) if one == wanted)
            return next(found, None) if goal else len(rows)
        before = start.values
        for now in self.player.go_on(start, rows):
            if not self._allowed(before, now.values):
                return None
            before = now.values
            if goal and (now.states if kind == "state" else now.fired)[layer] == wanted:
                return now.tick
        return len(rows) if goal is None and whole else None


def _of_body(machine: Machine, way: CompiledTransition) -> list[x.Expression]:
    """What a way's condition asks of the body, as far as it is asked for outright."""
    condition = way.condition
    every = condition.operands if isinstance(condition, x.Every) else () if condition is None else (condition,)
    plain = (x.IsOn, x.Compared, x.Chosen, x.Inverse)
    return [
        one
        for one in every
        if isinstance(one, plain)
        and all(isinstance(part, (*plain, x.Amount)) for part in x.parts(one))
        and any(machine.symbols[symbol].owner == "body" for symbol in x.symbols_in(one))
    ]
