"""Sets of values that may come next, that stay, and that decide what a memory remembers."""

from __future__ import annotations

import math
from functools import cached_property

from leanstep.core.conditions import expression as x
from leanstep.core.proof.states.abstraction import Moments
from leanstep.core.proof.states.dimensions import Freeze
from leanstep.core.proof.states.places import Place, View
from leanstep.core.proof.values.boxes import MOST_KEPT, Boxes
from leanstep.core.proof.values.predicates import Judge, Masks, Setting, Split


class OpenMasks(Boxes, Moments):
    """Which sets of values may come in a place.

    ``history`` are the memories whose past is not counted; ``past`` the symbols that stand for it, as they are when nothing changes
    for long, ``asked`` those that each (layer, state) reads, by memory, and ``remembered`` judges what a memory remembers;
    ``opened`` has what every open symbol stands for, ``open_past`` are these symbols.
    """

    history: frozenset[int]
    past: dict[int, int]
    asked: dict[tuple[int, int], dict[int, int]]
    remembered: dict[int, Judge]
    opened: dict[object, int]
    open_past: frozenset[int]
    _narrowed: dict[tuple[Masks, int, bool], Masks | None]

    @cached_property
    def brief(self) -> frozenset[int]:
        """The symbols whose values last a tick only, or stand for an untracked past: they may be others a tick later though
        nothing changes."""
        return self.open_past | {index for index, symbol in enumerate(self.machine.symbols) if symbol.momentary}

    @property
    def leeway(self) -> int:
        """In how many ways the numbers that change only so fast can go on, from wherever they are, in all."""
        return math.prod(sum(mask.bit_count() for mask in self.regions.reach[index]) for index in self.paced)

    def open_masks(self, view: View) -> Masks:
        """Every value that may come next: pulses that come only so often are off until their time, numbers that change only
        so fast are near where they were."""
        masks = self._near_masks(view)
        for index, may in zip(self.spaced, view.may):
            if not may:
                masks[index] = 0b01
        return tuple(masks)

    def _near_masks(self, at: Place | View) -> list[int]:
        """Every value that numbers that change only so fast let be, and that countdowns have gone down from."""
        masks = list(self.full)
        for index, mask in () if self._frozen(at) else self._counted:
            masks[index] = mask
        for index, near in zip(self.paced, at.near):
            masks[index] = self.regions.reach[index][near.bit_length() - 1]
        return masks

    @cached_property
    def _counted(self) -> list[tuple[int, int]]:
        """The regions countdowns can be in once they have gone down: not their greatest value."""
        found = (
            (index, self.full[index] & ~self.regions.bit_of(index, symbol.high)) for index, symbol in self._countdowns
        )
        return [(index, mask) for index, mask in found if mask]

    @property
    def _countdowns(self) -> list[tuple[int, x.Symbol]]:
        return [(index, self.machine.symbols[index]) for index in self.machine.countdowns]

    def _frozen(self, at: Place | View) -> bool:
        return at.scene.frozen if isinstance(at, View) else self.part_of(at, Freeze, 0) > 0

    def trust(self, masks: Masks) -> int:
        """In how much of the past that is open masks trust."""
        return sum(masks[symbol] != self.full[symbol] for symbol in self.open_past)

    def presses(self, masks: Masks) -> set[int]:
        """The buttons whose presses are not followed and have to be remembered with masks."""
        presses = ((atom.symbol, masks[at]) for atom, at in self.opened.items() if isinstance(atom, x.Buffered))
        return {button for button, mask in presses if mask == 0b10}

    def lasting(self, masks: Masks) -> Masks:
        """The part of masks that a run can keep for ever: countdowns are at 0 before long."""
        found = list(masks)
        for index, symbol in self._countdowns:
            found[index] &= self.regions.bit_of(index, symbol.low)
        return tuple(found)

    def steady_masks(self, at: Place | View) -> Masks:
        """The values a constant run may have: calm ones, with every number that changes only so fast where it was."""
        masks = list(self.calm_masks(at))
        for index, near in zip(self.paced, at.near):
            masks[index] = near
        return tuple(masks)

    def calm_masks(self, at: Place | View) -> Masks:
        """Values without pulses and edges: pulses off, every watched button as it was; an untracked past has settled."""
        masks = self._near_masks(at)
        for index, symbol in enumerate(self.machine.symbols):
            if symbol.momentary and symbol.free:
                masks[index] = 0b01
        for index in self.layout.watched(at.states):
            masks[index] = 0b10 if index in at.held else 0b01
        return self.settled(masks)

    def settled(self, masks: list[int]) -> Masks:
        """Masks with every untracked memory as it is when nothing has changed for long, and every open press long ago."""
        for symbol, mask in self.past.items():
            masks[symbol] = mask
        for atom, symbol in self.opened.items():
            if isinstance(atom, x.Buffered):
                masks[symbol] = 0b01
        return tuple(masks)

    def moved_by(self, symbol: int, states: tuple[int, ...], masks: Masks) -> list[int]:
        """What stands for the past of the memories that are read in these states and remember what is so for some values of a
        symbol, and for others not."""
        found = []
        for at in self.layers:
            for memory, past in self.asked.get((at, states[at]), {}).items():
                if symbol in x.symbols_in(self.machine.memories[memory].operand):
                    judge = self.remembered.get(memory)
                    if judge is None or judge(Setting(masks, self._unknown)) is None:
                        found.append(past)
        return found

    def opened_past(self, masks: Masks) -> Masks:
        """Masks whatever an untracked past says."""
        return tuple([self.full[symbol] if symbol in self.past else mask for symbol, mask in enumerate(masks)])

    def narrowed(self, masks: Masks, memory: int, holds: bool) -> Masks | None:
        """A part of masks with which what a memory remembers holds, or does not."""
        key = masks, memory, holds
        if key not in self._narrowed:
            if len(self._narrowed) > MOST_KEPT:
                self._narrowed.clear()
            self._narrowed[key] = self._narrow(*key)
        return self._narrowed[key]

    def _narrow(self, masks: Masks, memory: int, holds: bool) -> Masks | None:
        judge, found = self.remembered.get(memory), list[Masks]()
        if judge is None:
            return None

        def answer(masks: Masks, _: object) -> Split | bool:
            setting = Setting(masks, self._unknown)
            true = judge(setting)
            if true is None:
                return Split(setting.symbol, setting.part)
            if true is holds:
                found.append(masks)
            return bool(found)

        self.divide(masks, answer)
        return found[0] if found else None
