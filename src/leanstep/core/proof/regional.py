"""Conditions over whole sets of values at once.

Every symbol stands for a set of its regions, kept as a bit mask.  An atom about one symbol is a mask too: the regions
in which it is true; so it is true, false, or undecided for the set, and an undecided one says how to split the set in
two.  The answers agree with :func:`~leanstep.core.conditions.evaluation.decide` on every value of the regions.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import Moment, decide
from leanstep.core.graph.machine import Machine
from leanstep.core.proof.regions import Regions

Masks = tuple[int, ...]


@dataclass
class Setting:
    """What conditions look at.  An undecided answer leaves in ``symbol`` and ``part`` how to split: the symbol's set into
    the part and the rest."""

    masks: list[int]
    held_before: frozenset[int]
    states: list[int]
    stays: list[int]
    memories: list[bool] = field(default_factory=list)
    symbol: int = -1
    part: int = 0


Judge = Callable[[Setting], bool | None]


class Regional:
    """Turns the conditions of a machine into judges over region sets."""

    def __init__(self, machine: Machine, regions: Regions) -> None:
        self.machine = machine
        self.regions = regions
        self.full: Masks = tuple((1 << len(values)) - 1 for values in regions.values)

    def judge(self, expression: x.Expression) -> Judge:
        """The judge of a condition."""
        match expression:
            case x.Constant(value):
                return lambda setting: value
            case x.Every(operands):
                return _joined([self.judge(operand) for operand in operands], False)
            case x.Some(operands):
                return _joined([self.judge(operand) for operand in operands], True)
            case x.Inverse(operand):
                return _inverse(self.judge(operand))
            case x.Remembered(index):
                return lambda setting: setting.memories[index]
            case x.Stayed(layer, operator, ticks):
                return lambda setting: x.holds(operator, setting.stays[layer], ticks)
            case x.ClipOver(layer):
                return _clip_over(layer, self.machine.clip_ticks[layer])
            case x.Active(layer, state):
                return lambda setting: setting.states[layer] == state
            case x.Pressed(symbol):
                on = _atom(symbol, 0b10)
                return lambda setting: False if symbol in setting.held_before else on(setting)
            case x.Released(symbol):
                off = _atom(symbol, 0b01)
                return lambda setting: off(setting) if symbol in setting.held_before else False
            case x.Compared(number=number) if number in self.regions.open_comparisons:
                return _atom(self.regions.open_comparisons[number], 0b10)
        symbols = sorted(x.symbols_in(expression))
        if not symbols:
            fixed = decide(expression, Moment([], frozenset(), [], [], ()))
            return lambda setting: fixed
        if len(symbols) == 1:
            return _atom(symbols[0], self._true_in(expression, symbols[0]))
        return self._pointwise(expression, symbols)

    def _true_in(self, expression: x.Expression, symbol: int) -> int:
        values: list[float | bool | str] = [False] * len(self.regions.values)
        mask = 0
        for bit, value in enumerate(self.regions.values[symbol]):
            values[symbol] = value
            if decide(expression, Moment(values, frozenset(), [], [], ())):
                mask |= 1 << bit
        return mask

    def _pointwise(self, expression: x.Expression, symbols: Sequence[int]) -> Judge:
        """An atom about several symbols, each of whose regions is a single value."""

        def judge(setting: Setting) -> bool | None:
            values: list[float | bool | str] = [False] * len(self.regions.values)
            for symbol in symbols:
                mask = setting.masks[symbol]
                if mask & (mask - 1):
                    setting.symbol, setting.part = symbol, mask & -mask
                    return None
                values[symbol] = self.regions.values[symbol][mask.bit_length() - 1]
            return decide(expression, Moment(values, frozenset(), [], [], ()))

        return judge


def _atom(symbol: int, true_in: int) -> Judge:
    def judge(setting: Setting) -> bool | None:
        part = setting.masks[symbol] & true_in
        if not part:
            return False
        if part == setting.masks[symbol]:
            return True
        setting.symbol, setting.part = symbol, part
        return None

    return judge


def _clip_over(layer: int, lengths: tuple[int | None, ...]) -> Judge:
    def judge(setting: Setting) -> bool | None:
        length = lengths[setting.states[layer]]
        return length is not None and setting.stays[layer] >= length

    return judge


def _inverse(operand: Judge) -> Judge:
    def judge(setting: Setting) -> bool | None:
        answer = operand(setting)
        return None if answer is None else not answer

    return judge


def _joined(operands: list[Judge], deciding: bool) -> Judge:
    def judge(setting: Setting) -> bool | None:
        undecided, symbol, part = False, -1, 0
        for operand in operands:
            answer = operand(setting)
            if answer is deciding:
                return deciding
            if answer is None and not undecided:
                undecided, symbol, part = True, setting.symbol, setting.part
        if not undecided:
            return not deciding
        setting.symbol, setting.part = symbol, part
        return None

    return judge
