"""What the search of an edited character takes over from the search before the edit.

What can happen in a place depends on the conditions tried there, on what is shown and told apart there, and on how values
are cut into regions.  An edit of one condition changes the first two in the states it is tried in, and the last everywhere;
but a condition that has not changed, or comes down to the same, holds for the same values as before, so its boxes only have
to be written in the new regions.  All of it is what the new search would find itself, down to the order.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import replace
from fractions import Fraction
from functools import cache, cached_property

from leanstep.core.proof.search.reach import Reach, first_places
from leanstep.core.proof.search.same_views import Twins
from leanstep.core.proof.states.cache import States
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.states.places import Outcome, View
from leanstep.core.proof.values.predicates import Masks
from leanstep.core.proof.values.regions import Regions

MOST_USELESS = 4
"""Of each place that is used, the situations and views that are handed down."""


def inherit(world: FreeWorld, earlier: Iterable[Reach], few: int) -> Reach | None:
    """Take over what is the same in this world from the search of some earlier ones whose world is most like it.  Returns
    that search if the same can happen here in all of its places, if by other values.  ``few``: situations and views that may be handed
    down in any case."""
    alike = (reach for reach in earlier if not _outgrown(reach, few) and _frame(reach.world) == _frame(world))
    wills = [_Will(world, reach) for reach in alike]
    best = min(wills, key=lambda will: len(will.changed | will.told_apart), default=None)
    if best is None or any(index in best.regions for index in world.paced):
        return None
    best.moments()
    best.outcomes()
    best.rows()
    best.runs()
    return best.reach.again(world) if best.unchanged else None


def _outgrown(reach: Reach, few: int) -> bool:
    """Whether most of what a search was handed down from edit to edit is of no use to it any more: then a new one begins afresh, so
    that a day of edits leaves no more behind than a few."""
    pool, used = reach.world.pool, len(reach.places)
    return len(pool.cores) + len(pool.views) > MOST_USELESS * used + few


def _frame(world: FreeWorld) -> tuple[object, ...]:
    """All of a world but its conditions and what follows from them."""
    machine = world.machine
    tables = [(table.start, table.states, table.entry, table.leave) for table in machine.layers]
    return (
        *(machine.symbols, machine.memories, machine.assumptions, machine.formulas, machine.locks, machine.window),
        *(tables, world.layers, [(type(one), one.frame()) for one in world.dimensions]),
        *(world.tracked, world.spaced, world.paced, world.limit_ignored, world.opened, world.together.open),
        *(world.past, len(world.full)),
    )


def _rewritten(before: Regions, now: Regions, symbol: int) -> list[int]:
    """For each old region of a symbol, the new ones it meets; empty when nothing has changed."""
    if before.spans[symbol] == now.spans[symbol]:
        return []
    old, new = ([one.cell(symbol, 1 << bit) for bit in range(len(one.spans[symbol]))] for one in (before, now))
    return [sum(1 << bit for bit, other in enumerate(new) if cell.near(other, Fraction(0))) for cell in old]


class _Will:
    """What goes from a search to another world.  ``changed`` are the (layer, state) with other transitions, ``rerouted``
    those in which not only their conditions are others, ``told_apart`` those in which something else matters; ``regions``
    has the new regions of each old one, for the symbols where they differ."""

    def __init__(self, world: FreeWorld, reach: Reach) -> None:
        self.world, self.reach, self.old = world, reach, reach.world
        old, tables = self.old, world.machine.layers
        regions = ((index, _rewritten(old.regions, world.regions, index)) for index in world.machine.free)
        self.regions = {index: one for index, one in regions if one}
        everywhere = [(layer, state) for layer in world.layers for state in range(len(tables[layer].states))]
        self.changed, self.rerouted = set[tuple[int, int]](), set[tuple[int, int]]()
        for layer, state in everywhere:
            ways, before = tables[layer].ways[state], old.machine.layers[layer].ways[state]
            if ways != before:
                self.changed.add((layer, state))
                if [replace(way, condition=None) for way in ways] != [replace(way, condition=None) for way in before]:
                    self.rerouted.add((layer, state))
        self.told_apart = {one for one in everywhere if world.layout.of(*one) != old.layout.of(*one)}
        self.same = self._where_none(self.changed | self.told_apart)
        self.leads_on = self._where_none(self.rerouted | self.told_apart)
        self._lasts = self._where_none(self.told_apart)
        self._masks: dict[tuple[int, int], int | None] = {}
        self._handed_over: set[View] = set()

    def _where_none(self, marked: set[tuple[int, int]]) -> Callable[[States], bool]:
        """Whether none of the active states is among those marked."""

        @cache
        def none(states: States) -> bool:
            return not any((layer, states[layer]) in marked for layer in self.world.layers)

        return none

    def lasts(self, states: Iterable[States]) -> bool:
        """Whether places in all of these states are what they were."""
        return not self.told_apart or all(map(self._lasts, states))

    def moments(self) -> None:
        """Hand over places, views, and what clocks and transitions make of them."""
        world, old = self.world, self.old
        world.pool = old.pool
        for core, (scene, now, made) in old.moved.items():
            if self.leads_on(core.key.states):
                if self.told_apart:
                    made = {key: one for key, one in made.items() if self._lasts(one[0].key.states)}
                world.moved[core] = scene, now, made
        world.templates |= {view: one for view, one in old.templates.items() if self.leads_on(view.states)}

    def outcomes(self) -> None:
        """Hand over what can happen in views."""
        watched_alike = self._where_none(self._rewatched)
        mine, theirs = self.world.kept, self.old.kept
        for view, outcomes in theirs.outcomes.items():
            twins = self._twins.of(view)
            if not twins:
                continue
            # which buttons are told apart after a tick depends on the states then
            if self._rewatched and not all(watched_alike(self._states_after(view, one)) for one in outcomes):
                continue
            boxes = self._all_written(theirs.boxes[view])
            masks = self._written(outcome.masks for outcome in outcomes)
            if boxes is not None and masks is not None:
                written = tuple(one.of(mask) for one, mask in zip(outcomes, masks))
                self._handed_over.update(twins)
                mine.boxes |= dict.fromkeys(twins, boxes)
                mine.outcomes |= dict.fromkeys(twins, written)

    @cached_property
    def _rewatched(self) -> set[tuple[int, int]]:
        """The (layer, state) in which the edges of other buttons are asked for."""
        now, before = self.world.layout.edges, self.old.layout.edges
        return {(at, state) for at in now for state in range(len(now[at])) if now[at][state] != before[at][state]}

    @cached_property
    def _twins(self) -> Twins:
        return Twins(self.world, self.old, self.rerouted)

    @cached_property
    def unchanged(self) -> bool:
        """Whether the same can happen in every place of the search, if by other values."""
        if self.rerouted or self.told_apart:
            return False
        world, old = self.world, self.old
        for view in first_places(self.reach):
            if self.same(view.states):
                continue
            if world.read_in(view.states) != old.read_in(view.states):
                return False
            now, before = world.outcomes(view), old.outcomes(view)
            if len(now) != len(before) or not all(one.brings(other) for one, other in zip(now, before)):
                return False
        return True

    def rows(self) -> None:
        """Hand over what follows places."""
        mine, theirs = self.world.kept, self.old.kept
        if self.unchanged:
            mine.rows = {place: theirs.rows[place] for place in self.reach.places}
            return
        for place, row in theirs.rows.items():
            handed_over = self.same(row.view.states) and row.view in mine.outcomes
            if handed_over and self.lasts(after.states for after in row.afters):
                mine.rows[place] = row

    def runs(self) -> None:
        """Hand over what happens while values stay."""
        mine, theirs = self.world.kept, self.old.kept
        for (view, layer), fires in theirs.fires.items():
            twins = self._twins.of(view)
            boxes = self._all_written(fires.values()) if twins else None
            if boxes is not None:
                mine.fires |= {(twin, layer): dict(zip(fires, boxes)) for twin in twins}
        for (view, layer, rivals), pairs in theirs.rivals.items():
            twins = self._twins.of(view)
            row = self._written(pairs.values()) if twins else None
            if row is not None:
                mine.rivals |= {(twin, layer, rivals): dict(zip(pairs, row)) for twin in twins}
        for (view, masks), position in theirs.rests.items():
            # positions are those of the outcomes there were
            twins = tuple(twin for twin in self._twins.of(view) if twin in self._handed_over)
            values = self._written([masks]) if twins else None
            if values is not None:
                mine.rests |= {(twin, values[0]): position for twin in twins}
        for at, (stays, passed) in theirs.stays.items():
            if all(map(self.same, passed)) and self.lasts(stay.after.states for stay in stays):
                written = self._written(stay.box for stay in stays)
                if written is not None:
                    mine.stays[at] = [stay.of(box) for stay, box in zip(stays, written)], passed

    def _states_after(self, view: View, outcome: Outcome) -> States:
        states = list(view.states)
        for layer in self.world.layers:
            if outcome.fired[layer] >= 0:
                states[layer] = self.world.machine.layers[layer].ways[states[layer]][outcome.fired[layer]].target
        return tuple(states)

    def _all_written(self, rows: Iterable[Iterable[Masks]]) -> list[list[Masks]] | None:
        found = []
        for row in rows:
            written = self._written(row)
            if written is None:
                return None
            found.append(written)
        return found

    def _written(self, boxes: Iterable[Masks]) -> list[Masks] | None:
        """Boxes in the new regions; None when they are cut where nothing is cut any more."""
        if not self.regions:
            return list(boxes)
        found = []
        for box in boxes:
            for symbol in self.regions:
                mask = self._mask(symbol, box[symbol])
                if mask is None:
                    return None
                if mask != box[symbol]:
                    box = (*box[:symbol], mask, *box[symbol + 1 :])
            found.append(box)
        return found

    def _mask(self, symbol: int, mask: int) -> int | None:
        key = symbol, mask
        if key not in self._masks:
            regions = self.regions[symbol]
            inside = outside = 0
            for bit, new in enumerate(regions):
                if mask >> bit & 1:
                    inside |= new
                else:
                    outside |= new
            self._masks[key] = None if inside & outside else inside
        return self._masks[key]
