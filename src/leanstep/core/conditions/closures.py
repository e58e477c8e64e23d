"""Conditions as functions: what :func:`~leanstep.core.conditions.evaluation.decide` says, without looking at the tree again.

Making one costs less than evaluating the condition a few times.
"""

from __future__ import annotations

import operator
from collections.abc import Callable

from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import NEVER, Moment, amount, compute, decide

Truth = Callable[[Moment], bool]
Count = Callable[[Moment], float]

_COMPARE: dict[str, Callable[[float, float], bool]] = {
    "<": operator.lt,
    "<=": operator.le,
    "=": operator.eq,
    "!=": operator.ne,
    ">": operator.gt,
    ">=": operator.ge,
}


def truth(expression: x.Expression) -> Truth:
    """The condition as a function of the moment."""
    match expression:
        case x.Constant(value):
            return lambda moment: value
        case x.IsOn(symbol):
            return lambda moment: bool(moment.values[symbol])
        case x.Compared(sign, x.Value(symbol), x.Fixed(constant)):
            compare = _COMPARE[sign]
            return lambda moment: compare(moment.values[symbol], constant)  # type: ignore[arg-type]
        case x.Compared(sign, left, right):
            compare, one, other = _COMPARE[sign], _count(left), _count(right)
            return lambda moment: compare(one(moment), other(moment))
        case x.Every(operands):
            return _every(tuple(truth(operand) for operand in operands))
        case x.Some(operands):
            return _some(tuple(truth(operand) for operand in operands))
        case x.Inverse(operand):
            inner = truth(operand)
            return lambda moment: not inner(moment)
        case x.Stayed(layer, sign, ticks):
            compare = _COMPARE[sign]
            return lambda moment: compare(moment.stays[layer], ticks)
        case x.Remembered(index):
            return lambda moment: moment.memories[index]
        case x.Pressed(symbol):
            return lambda moment: bool(moment.values[symbol]) and symbol not in moment.held_before
        case x.Released(symbol):
            return lambda moment: symbol in moment.held_before and not moment.values[symbol]
        case x.Chosen(symbol, choice):
            return lambda moment: moment.values[symbol] == choice
        case x.ClipOver(layer):
            return lambda moment: moment.is_done(layer)
        case x.Active(layer, state):
            return lambda moment: moment.states[layer] == state
        case x.Buffered(symbol, ticks):
            return lambda moment: moment.ages.get(symbol, NEVER) < ticks
    return lambda moment: decide(expression, moment)


def _every(operands: tuple[Truth, ...]) -> Truth:
    if len(operands) == 2:
        first, second = operands
        return lambda moment: first(moment) and second(moment)

    def every(moment: Moment) -> bool:
        return all(operand(moment) for operand in operands)

    return every


def _some(operands: tuple[Truth, ...]) -> Truth:
    if len(operands) == 2:
        first, second = operands
        return lambda moment: first(moment) or second(moment)

    def some(moment: Moment) -> bool:
        return any(operand(moment) for operand in operands)

    return some


def _count(expression: x.Amount) -> Count:
    match expression:
        case x.Fixed(constant):
            return lambda moment: constant
        case x.Value(symbol):
            return lambda moment: float(moment.values[symbol])
        case x.Computed("abs", (inner,)):
            count = _count(inner)
            return lambda moment: abs(count(moment))
        case x.Computed(sign, operands):
            counts = tuple(_count(operand) for operand in operands)
            return lambda moment: compute(sign, [count(moment) for count in counts])
    return lambda moment: amount(expression, moment)
