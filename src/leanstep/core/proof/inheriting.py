"""What the search of an edited character takes over from the search before the edit.

What can happen in a place depends on the conditions tried there, on what is shown and told apart there, and on how values
are cut into regions.  An edit of one condition changes the first two in the states it is tried in, and the last everywhere;
but a condition that has not changed holds for the same values as before, so its boxes only have to be written in the new
regions.  All of it is what the new search would find itself, down to the order.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from fractions import Fraction
from typing import TYPE_CHECKING, NamedTuple

from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.proof.places import Outcome, Place, View
from leanstep.core.proof.regional import Masks
from leanstep.core.proof.regions import Regions

if TYPE_CHECKING:
    from leanstep.core.proof.free_world import FreeWorld
    from leanstep.core.proof.stays import Stay

States = tuple[int, ...]


class Row(NamedTuple):
    """What follows a place: per outcome the place and the ticks until then; the marks that fire, and those that are cut off
    at the position of an outcome."""

    view: View
    afters: tuple[tuple[Place, int], ...]
    marks: frozenset[tuple[int, int, str]]
    missed: tuple[tuple[tuple[int, int, str], int], ...]


@dataclass
class Kept:
    """What has been worked out about views and places of a world.  ``outcomes`` of views, each with its ``boxes``; ``fires``
    by view and layer: what can fire without pulse or edge; ``rows`` of places; ``stays`` by layer and place just entered,
    with the states passed; ``rests``: by place what follows it on the way to rest, and the states entered;
    ``permitted``: whether the assumptions allow some values from outside."""

    outcomes: dict[View, tuple[Outcome, ...]] = field(default_factory=dict)
    boxes: dict[View, list[list[Masks]]] = field(default_factory=dict)
    fires: dict[tuple[View, int], dict[int, list[Masks]]] = field(default_factory=dict)
    rows: dict[Place, Row] = field(default_factory=dict)
    stays: dict[tuple[int, Place], tuple[list[Stay], frozenset[States]]] = field(default_factory=dict)
    rests: dict[Place, tuple[Place, tuple[frozenset[int], ...]]] = field(default_factory=dict)
    permitted: dict[tuple[Symbolic, ...], bool] = field(default_factory=dict)


def inherit(world: FreeWorld, others: Iterable[FreeWorld]) -> None:
    """Take over what is the same in this world from the one of some others that is most like it."""
    wills = [_Will(world, other) for other in others if _frame(other) == _frame(world)]
    best = min(wills, key=lambda will: len(will.changed | will.told_apart), default=None)
    if best is not None and not any(index in best.regions for index in world.paced):
        best.moments()
        best.kept()


def _frame(world: FreeWorld) -> tuple[object, ...]:
    """All of a world but its conditions and what follows from them."""
    machine = world.machine
    tables = [(table.start, table.states, table.entry, table.leave) for table in machine.layers]
    return (
        *(machine.symbols, machine.memories, machine.assumptions, machine.formulas, machine.buffers, machine.clocks),
        *(machine.locks, machine.window, tables, [machine.pictures[layer] for layer in world.layers], world.layers),
        *(world.tracked, world.spaced, world.paced, world.hasty, world.slice.values, world.opened, world.together.open),
        *(world.past, len(world.full)),
    )


def _rewritten(before: Regions, now: Regions, symbol: int) -> list[int]:
    """For each old region of a symbol, the new ones it meets; empty when nothing has changed."""
    if before.spans[symbol] == now.spans[symbol]:
        return []
    old, new = ([one.cell(symbol, 1 << bit) for bit in range(len(one.spans[symbol]))] for one in (before, now))
    return [sum(1 << bit for bit, other in enumerate(new) if cell.near(other, Fraction(0))) for cell in old]


class _Will:
    """What goes from one world to another.  ``changed`` are the (layer, state) with other transitions, ``told_apart`` those
    in which something else matters; ``regions`` has the new regions of each old one, for the symbols where they differ."""

    def __init__(self, world: FreeWorld, old: FreeWorld) -> None:
        self.world, self.old = world, old
        regions = ((index, _rewritten(old.regions, world.regions, index)) for index in world.machine.free)
        self.regions = {index: one for index, one in regions if one}
        self.changed = {
            (layer, state)
            for layer in world.layers
            for state, ways in enumerate(world.machine.layers[layer].ways)
            if ways != old.machine.layers[layer].ways[state]
        }
        self.told_apart = {
            (layer, state)
            for layer in world.layers
            for state in range(len(world.machine.layers[layer].states))
            if world.layout.of(layer, state) != old.layout.of(layer, state)
        }
        self._same: dict[States, bool] = {}
        self._lasting: dict[States, bool] = {}
        self._masks: dict[tuple[int, int], int | None] = {}

    def same(self, states: States) -> bool:
        """Whether the same conditions are tried in these states, and the same told apart."""
        if states not in self._same:
            active = {(layer, states[layer]) for layer in self.world.layers}
            self._same[states] = not active & (self.changed | self.told_apart)
        return self._same[states]

    def lasts(self, states: Iterable[States]) -> bool:
        """Whether places in all of these states are what they were."""
        return not self.told_apart or all(map(self._lasts, states))

    def _lasts(self, states: States) -> bool:
        if states not in self._lasting:
            self._lasting[states] = not {(layer, states[layer]) for layer in self.world.layers} & self.told_apart
        return self._lasting[states]

    def moments(self) -> None:
        """Hand over places, views, and what clocks make of them."""
        world, old = self.world, self.old
        world.cores, world.scenes = old.cores, old.scenes
        for core, (scene, now, made) in old.moved.items():
            if self.same(core.key.states):
                if self.told_apart:
                    made = {key: one for key, one in made.items() if self._lasts(one[0].key.states)}
                world.moved[core] = scene, now, made
        world.templates |= {view: one for view, one in old.templates.items() if self.same(view.states)}

    def kept(self) -> None:
        """Hand over what was worked out."""
        mine, theirs = self.world.kept, self.old.kept
        for view, outcomes in theirs.outcomes.items():
            # which buttons are told apart after a tick depends on the states then
            if not self.same(view.states) or not self.lasts(self._states_after(view, one) for one in outcomes):
                continue
            boxes = self._all_written(theirs.boxes[view])
            masks = self._written(outcome.masks for outcome in outcomes)
            if boxes is not None and masks is not None:
                mine.boxes[view] = boxes
                mine.outcomes[view] = tuple(one.of(mask) for one, mask in zip(outcomes, masks))
        for key, fires in theirs.fires.items():
            boxes = self._all_written(fires.values()) if self.same(key[0].states) else None
            if boxes is not None:
                mine.fires[key] = dict(zip(fires, boxes))
        for place, row in theirs.rows.items():
            if row.view in mine.outcomes and self.lasts(after.states for after, _ in row.afters):
                mine.rows[place] = row
        for at, (stays, passed) in theirs.stays.items():
            if all(map(self.same, passed)) and self.lasts(stay.after.states for stay in stays):
                written = self._written(stay.box for stay in stays)
                if written is not None:
                    mine.stays[at] = [stay.of(box) for stay, box in zip(stays, written)], passed
        for place, rest in theirs.rests.items():
            if self.same(place.states) and self.lasts([rest[0].states]):
                mine.rests[place] = rest

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
            masks = list(box)
            for symbol in self.regions:
                mask = self._mask(symbol, masks[symbol])
                if mask is None:
                    return None
                masks[symbol] = mask
            found.append(tuple(masks))
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
