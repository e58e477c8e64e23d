"""Everything that can be reached in the free world, nearest first."""

from __future__ import annotations

from collections import defaultdict
from heapq import heappop, heappush
from itertools import product

from leanstep.core.conditions.evaluation import NEVER
from leanstep.core.proof.search.reach import Reach, nearest_first
from leanstep.core.proof.states.cache import Row
from leanstep.core.proof.states.free_world import FreeWorld, TooWide
from leanstep.core.proof.states.places import Core, CoreKey, Moved, Outcome, Place, View
from leanstep.core.work import DEFAULT, Reason, Work, look

WIDE = 1_000
"""Outcomes of a view that are looked at whatever the budget."""


def explore(world: FreeWorld, limits: Work = DEFAULT) -> Reach:
    """Visit every place reachable in the free world, nearest first.

    Waiting is not enumerated: where nothing but a stay goes on, the search jumps to the next stay that can make a
    difference.
    """
    reach = Reach(world)
    search = _Search(reach)
    search.lead(world.first(), (-1, -1, 0), 0)
    reach.marks |= world.first_marks
    if world.completed(world.full) is None:
        reach.views[0] = world.move(reach.places[0]).view
        reach.abort(Reason.ASSUMPTIONS, "the assumptions can never all hold")
        reach.stuck = 0
        _note_entered(reach)
        return reach
    world.widest = max(limits.budget, WIDE)
    try:
        search.run(limits)
    except TooWide:
        reach.abort(Reason.BUDGET, f"more than {world.widest} things can happen on a tick")
    finally:
        world.widest = NEVER
    look()
    _note_passed(reach)
    if not reach.complete:
        _drop_unvisited(reach)
    if world.wild and reach.complete:
        reach.abort(Reason.INEXACT, f"this cannot be decided exactly: {', '.join(world.wild)}")
    _note_entered(reach)
    return reach


class _Search:
    """Visits places in the order of their depths; ``waiting`` are those still to visit, by depth, and ``coming`` the depths at
    which there are any: those between are jumped over."""

    def __init__(self, reach: Reach) -> None:
        self.reach = reach
        self.waiting: dict[int, list[int]] = defaultdict(list)
        self.coming: list[int] = []
        self.seen: set[View] = set()

    def run(self, limits: Work) -> None:
        """Visit everything the limits allow."""
        reach, done = self.reach, 0
        while self.coming:
            depth = heappop(self.coming)
            for number in self.waiting.pop(depth, ()):
                if reach.depths[number] < depth or reach.successors[number]:
                    continue
                if done % 16 == 0:
                    limits.at(done)
                if done >= limits.budget or len(reach.places) > limits.budget:
                    reach.abort(Reason.BUDGET, f"the budget of {limits.budget} situations was used up")
                    return
                done += 1
                self._expand(number, depth)
                view = reach.views[number]
                if view not in self.seen:
                    self.seen.add(view)
                    _note_fired(reach, view)
            if not reach.complete:
                return

    def _expand(self, number: int, depth: int) -> None:
        reach, place = self.reach, self.reach.places[number]
        row = reach.world.kept.rows.get(place)
        if row is None:
            row = reach.world.kept.rows[place] = _row(reach.world, place)
        reach.views[number] = row.view
        if not row.afters:
            reach.abort(Reason.ASSUMPTIONS, "a situation has no next tick that the assumptions allow")
            reach.stuck = number
            return
        reach.marks |= row.marks
        for mark, position in row.missed:
            reach.missed.setdefault(mark, (number, position))
        if row.leap > 1:
            reach.leaps[number] = row.leap
        depths, found = reach.depths, list(map(reach.numbers.get, row.afters))
        # what is known can only be nearer than it was thought to be where a leap has led to it
        for position, known in enumerate(found) if reach.leaps or None in found else ():
            if known is None or depth + 1 < depths[known]:
                ticks = row.leap if row.leap > 1 and reach.world.outcomes(row.view)[position].idle else 1
                found[position] = self.lead(row.afters[position], (number, position, ticks), depth + ticks)
        reach.successors[number] = found  # type: ignore[assignment]

    def lead(self, place: Place, parent: tuple[int, int, int], depth: int) -> int:
        """Note a way to a place if that is new, or nearer than was known; its number."""
        reach = self.reach
        known = reach.numbers.get(place)
        if known is None:
            known = reach.numbers[place] = len(reach.places)
            reach.places.append(place)
            reach.views.append(None)  # type: ignore[arg-type]
            reach.successors.append([])
            reach.parents.append(parent)
            reach.depths.append(depth)
        elif depth < reach.depths[known]:
            reach.parents[known] = parent
            reach.depths[known] = depth
        else:
            return known
        if depth not in self.waiting:
            heappush(self.coming, depth)
        self.waiting[depth].append(known)
        return known


def _row(world: FreeWorld, place: Place) -> Row:
    """What follows a place."""
    moved = world.move(place)
    outcomes = world.outcomes(moved.view)
    marks: set[tuple[int, int, str]] = set()
    afters = world.afters(place, moved, outcomes, marks)
    missed = _marks(world, place, moved, outcomes, marks) if world.cued and outcomes else []
    leap = _leap(world, place, moved, outcomes, afters) if outcomes else 1
    if leap > 1:
        later = _later(world, place, leap)
        afters = [later if outcome.idle else after for outcome, after in zip(outcomes, afters)]
    return Row(moved.view, tuple(afters), leap, frozenset(marks), tuple(missed))


def _note_passed(reach: Reach) -> None:
    """Give places that a leap passed over, and that something else leads to as well, the depth at which it passed them.

    What follows from them is no nearer for that: it follows from where the leap began as well.
    """
    if not reach.leaps:
        return
    at = reach.world.layers[0]
    alike: dict[CoreKey, list[tuple[int, Core]]] = defaultdict(list)
    for key, core in reach.world.pool.cores.items():
        alike[_with_stay(key, at, 0)].append((key.stays[at], core))
    for number, leap in sorted(reach.leaps.items()):
        place = reach.places[number]
        idle = [position for position, outcome in enumerate(reach.world.outcomes(reach.views[number])) if outcome.idle]
        here = place.core.key.stays[at]
        # of all the ticks passed over only those matter on which there is a place
        passed = sorted((stay - here, core) for stay, core in alike[_with_stay(place.core.key, at, 0)])
        for position, (ticks, core) in product(idle, passed):
            other = reach.numbers.get(core.after(place.past)) if 1 <= ticks < leap else None
            depth = reach.depths[number] + ticks
            if other is not None and depth < reach.depths[other]:
                reach.depths[other], reach.parents[other] = depth, (number, position, ticks)


def _marks(
    world: FreeWorld, place: Place, moved: Moved, outcomes: tuple[Outcome, ...], marks: set[tuple[int, int, str]]
) -> list[tuple[tuple[int, int, str], int]]:
    """Add the marks that fire on the tick after a place; those a transition cuts off on it, each with the position of the
    outcome that does; but for marks that decide nothing."""
    states = place.states
    asked = [at for at in world.layers if world.layout.heads[at][states[at]]]
    marks |= {(at, states[at], name) for at, name in moved.now.marks if at in asked}
    missed = []
    for at in asked:
        position = next((position for position, outcome in enumerate(outcomes) if outcome.fired[at] >= 0), None)
        if position is not None:
            missed += [((at, states[at], name), position) for name in _still_to_come(world, at, states[at], moved)]
    return missed


def _still_to_come(world: FreeWorld, layer: int, state: int, moved: Moved) -> list[str]:
    """The marks of a state's clip that have not fired since it was entered."""
    picture = world.machine.pictures[layer][state]
    if picture is None or not picture.followed or moved.now.over[layer]:
        return []
    reel = picture.common
    return [cue.name for cue in reel.cues if moved.now.playheads[layer] < cue.at <= reel.timing.length]


def _later(world: FreeWorld, place: Place, ticks: int) -> Place:
    """A place of a slice of one layer, so many ticks later."""
    return world.pool.core(_later_key(world, place, ticks)).after(place.past)


def _later_key(world: FreeWorld, place: Place, ticks: int) -> CoreKey:
    at, key = world.layers[0], place.core.key
    return _with_stay(key, at, key.stays[at] + ticks)


def _with_stay(key: CoreKey, layer: int, stay: int) -> CoreKey:
    return key._replace(stays=(*key.stays[:layer], stay, *key.stays[layer + 1 :]))


def _leap(world: FreeWorld, place: Place, moved: Moved, outcomes: tuple[Outcome, ...], afters: list[Place]) -> int:
    """For how many ticks nothing goes on but the stay of a slice's only layer, with nothing to tell one from the next."""
    if len(world.layers) != 1:
        return 1
    at = world.layers[0]
    stay, cap = place.stays[at], world.layout.caps[at][place.states[at]]
    if stay >= cap:
        return 1
    onward = _later(world, place, 1)
    if any(outcome.idle and after != onward for outcome, after in zip(outcomes, afters)):
        return 1
    known = moved.view.stays[at]
    later = next((one for one in world.layout.thresholds[at][place.states[at]] if one > known), None)
    return max(1, (cap if later is None else later - 1) - stay)


def _note_fired(reach: Reach, view: View) -> None:
    for firing in {outcome.fired for outcome in reach.world.outcomes(view)}:
        for layer, fired in enumerate(firing):
            if fired >= 0:
                way = reach.machine.layers[layer].ways[view.states[layer]][fired]
                reach.fired.add((layer, way.index))
                reach.edges[layer].add((view.states[layer], way.target))


def _note_entered(reach: Reach) -> None:
    nearest: dict[tuple[int, ...], int] = {}
    for number in nearest_first(reach):
        nearest.setdefault(reach.places[number].states, number)
    for states, number in nearest.items():
        for layer in reach.world.layers:
            reach.entered.setdefault((layer, states[layer]), number)


def _drop_unvisited(reach: Reach) -> None:
    """Keep what was visited consistent: places that were only seen get a view and lead nowhere."""
    for number, view in enumerate(reach.views):
        if view is None:
            reach.views[number] = reach.world.move(reach.places[number]).view
