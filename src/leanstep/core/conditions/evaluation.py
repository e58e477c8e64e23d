"""What an expression is worth on one tick."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from leanstep.core.conditions import expression as x

Symbolic = float | bool | str


@dataclass
class Moment:
    """One tick as conditions see it.

    ``values`` has one value per symbol; ``held_before`` says which buttons were held on the tick before; ``states`` and
    ``stays`` (ticks) have one entry per layer; ``clip_ticks[layer][state]`` is the number of ticks after which that state's
    clip has played to its end (None: it has none); ``memories`` are the memories' values on this tick, as far as they are
    worked out.
    """

    values: Sequence[Symbolic]
    held_before: frozenset[int]
    states: list[int]
    stays: list[int]
    clip_ticks: tuple[tuple[int | None, ...], ...]
    memories: list[bool] = field(default_factory=list)


def decide(expression: x.Expression, moment: Moment) -> bool:
    """Whether ``expression`` is true."""
    match expression:
        case x.IsOn(symbol):
            return bool(moment.values[symbol])
        case x.Compared(operator, left, right):
            return x.holds(operator, amount(left, moment), amount(right, moment))
        case x.Every(operands):
            return all(decide(operand, moment) for operand in operands)
        case x.Some(operands):
            return any(decide(operand, moment) for operand in operands)
        case x.Inverse(operand):
            return not decide(operand, moment)
        case x.Stayed(layer, operator, ticks):
            return x.holds(operator, moment.stays[layer], ticks)
        case x.Remembered(index):
            return moment.memories[index]
        case x.Pressed(symbol):
            return bool(moment.values[symbol]) and symbol not in moment.held_before
        case x.Released(symbol):
            return symbol in moment.held_before and not moment.values[symbol]
        case x.Chosen(symbol, choice):
            return moment.values[symbol] == choice
        case x.SameChoice(symbol, other):
            return moment.values[symbol] == moment.values[other]
        case x.ClipOver(layer):
            length = moment.clip_ticks[layer][moment.states[layer]]
            return length is not None and moment.stays[layer] >= length
        case x.Active(layer, state):
            return moment.states[layer] == state
        case x.Constant(value):
            return value
    raise TypeError(f"{type(expression).__name__} has no truth")


def amount(expression: x.Amount, moment: Moment) -> float:
    """The number an amount comes to.  A division by zero gives 0."""
    match expression:
        case x.Value(symbol):
            return float(moment.values[symbol])
        case x.Fixed(value):
            return value
        case x.Computed(operator, operands):
            return compute(operator, [amount(operand, moment) for operand in operands])
    raise TypeError(f"{type(expression).__name__} is no amount")


def compute(operator: str, numbers: list[float]) -> float:
    """One arithmetic step in IEEE doubles; a division by zero gives 0."""
    match operator:
        case "+":
            return numbers[0] + numbers[1]
        case "-":
            return numbers[0] - numbers[1]
        case "*":
            return numbers[0] * numbers[1]
        case "/":
            return numbers[0] / numbers[1] if numbers[1] else 0.0
        case "abs":
            return abs(numbers[0])
        case "neg":
            return -numbers[0]
        case "min":
            return min(numbers)
    return max(numbers)
