"""What an expression is worth: true, false, or not yet known.

One function serves the single tick (every symbol has a value, the answer is never unknown) and the proof (some symbols
are still open; then :attr:`Moment.missing` names one whose value would help).
"""

from __future__ import annotations

from dataclasses import dataclass, field

from leanstep.core.conditions import expression as x

Symbolic = float | bool | str


@dataclass
class Moment:
    """One tick as conditions see it.

    ``values`` has one value per symbol (None: open); ``held_before`` says which buttons were held on the tick before;
    ``states`` and ``stays`` (ticks) have one entry per layer; ``clip_ticks[layer][state]`` is the number of ticks after
    which that state's clip has played to its end (None: it has none); ``memories`` are the memories' values on this
    tick.  ``open_comparisons`` maps a comparison's number to the symbol that stands for its outcome.
    """

    values: list[Symbolic | None]
    held_before: frozenset[int]
    states: list[int]
    stays: list[int]
    clip_ticks: tuple[tuple[int | None, ...], ...]
    memories: list[bool | None] = field(default_factory=list)
    open_comparisons: dict[int, int] = field(default_factory=dict)
    missing: int = -1


def decide(expression: x.Expression, moment: Moment) -> bool | None:
    """Three-valued truth of ``expression``; None when symbol ``moment.missing`` is needed."""
    match expression:
        case x.IsOn(symbol):
            return _flag(symbol, moment)
        case x.Compared():
            return _compared(expression, moment)
        case x.Every(operands):
            return _joined(operands, moment, False)
        case x.Some(operands):
            return _joined(operands, moment, True)
        case x.Inverse(operand):
            result = decide(operand, moment)
            return None if result is None else not result
        case x.Stayed(layer, operator, ticks):
            return x.holds(operator, moment.stays[layer], ticks)
        case x.Remembered(index):
            return moment.memories[index]
        case x.Pressed(symbol):
            return False if symbol in moment.held_before else _flag(symbol, moment)
        case x.Released(symbol):
            if symbol not in moment.held_before:
                return False
            held = _flag(symbol, moment)
            return None if held is None else not held
        case x.Chosen(symbol, choice):
            value = _value(symbol, moment)
            return None if value is None else value == choice
        case x.SameChoice(symbol, other):
            first, second = _value(symbol, moment), _value(other, moment)
            return None if first is None or second is None else first == second
        case x.ClipOver(layer):
            length = moment.clip_ticks[layer][moment.states[layer]]
            return length is not None and moment.stays[layer] >= length
        case x.Active(layer, state):
            return moment.states[layer] == state
        case x.Constant(value):
            return value
    raise TypeError(f"{type(expression).__name__} has no truth")


def _joined(operands: tuple[x.Expression, ...], moment: Moment, deciding: bool) -> bool | None:
    unknown = -1
    for operand in operands:
        result = decide(operand, moment)
        if result is deciding:
            return deciding
        if result is None and unknown < 0:
            unknown = moment.missing
    if unknown < 0:
        return not deciding
    moment.missing = unknown
    return None


def _value(symbol: int, moment: Moment) -> Symbolic | None:
    value = moment.values[symbol]
    if value is None:
        moment.missing = symbol
    return value


def _flag(symbol: int, moment: Moment) -> bool | None:
    value = moment.values[symbol]
    if value is None:
        moment.missing = symbol
        return None
    return bool(value)


def _compared(expression: x.Compared, moment: Moment) -> bool | None:
    stand_in = moment.open_comparisons.get(expression.number)
    if stand_in is not None:
        return _flag(stand_in, moment)
    left = amount(expression.left, moment)
    if left is None:
        return None
    right = amount(expression.right, moment)
    return None if right is None else x.holds(expression.operator, left, right)


def amount(expression: x.Amount, moment: Moment) -> float | None:
    """The number an amount comes to; None when a symbol is open.  A division by zero gives 0."""
    match expression:
        case x.Value(symbol):
            value = _value(symbol, moment)
            return None if value is None else float(value)
        case x.Fixed(value):
            return value
        case x.Computed(operator, operands):
            numbers = []
            for operand in operands:
                number = amount(operand, moment)
                if number is None:
                    return None
                numbers.append(number)
            return compute(operator, numbers)
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
