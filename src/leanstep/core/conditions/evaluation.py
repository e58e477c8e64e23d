"""What an expression is worth on one tick."""

from __future__ import annotations

from dataclasses import dataclass, field

from leanstep.core.bearings import reduced, turn
from leanstep.core.conditions import expression as x

Symbolic = float | bool | str
NEVER = 1 << 60
"""Ticks since something that has not happened yet."""


@dataclass
class Moment:
    """One tick as conditions see it.

    ``values`` has one value per symbol; ``held_before`` says which buttons were held on the tick before.  ``states``,
    ``stays`` (ticks), ``playheads`` and ``lengths`` (playhead units; length 0: no clip), ``loops`` (the clip repeats) and ``over``
    (one that repeats has wrapped since entry) have one entry per layer.  ``spans`` are the names of the spans that are on.
    ``ages[button]`` are the ticks since its last unused press, ``since[layer, state]`` those since the state was left; one that
    never came is missing.  ``memories`` are the memories' values on this tick, as far as they are worked out.
    """

    values: list[Symbolic]
    held_before: frozenset[int] = frozenset()
    states: list[int] = field(default_factory=list)
    stays: list[int] = field(default_factory=list)
    playheads: list[int] = field(default_factory=list)
    lengths: list[int] = field(default_factory=list)
    loops: list[bool] = field(default_factory=list)
    over: list[bool] = field(default_factory=list)
    spans: frozenset[str] = frozenset()
    ages: dict[int, int] = field(default_factory=dict)
    since: dict[tuple[int, int], int] = field(default_factory=dict)
    memories: list[bool] = field(default_factory=list)

    def is_done(self, layer: int) -> bool:
        """Whether the clip a layer shows is done: it repeats and has wrapped since entry, or stands at its length."""
        return self.over[layer] if self.loops[layer] else 0 < self.lengths[layer] <= self.playheads[layer]


def decide(expression: x.Expression, moment: Moment) -> bool:
    """Whether ``expression`` is true.  Raises :class:`TypeError` for one that is an amount."""
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
            return moment.is_done(layer)
        case x.ClipAt(layer, share):
            return is_at(moment.playheads[layer], moment.lengths[layer], share)
        case x.SpanOn(name):
            return name in moment.spans
        case x.Buffered(symbol, ticks):
            return moment.ages.get(symbol, NEVER) < ticks
        case x.SinceLeft(layer, state, operator, ticks):
            return x.holds(operator, moment.since.get((layer, state), NEVER), ticks)
        case x.Active(layer, state):
            return moment.states[layer] == state
        case x.Constant(value):
            return value
    raise TypeError(f"{type(expression).__name__} has no truth")


def amount(expression: x.Amount, moment: Moment) -> float:
    """The number an amount comes to.  A division by zero gives 0.  Raises :class:`TypeError` for what is true or false."""
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
        case "turn":
            return turn(numbers[0], numbers[1])
        case "bearing":
            return reduced(numbers[0])
    best = numbers[0]
    for number in numbers[1:]:
        if number < best if operator == "min" else number > best:
            best = number
    return best


def is_at(playhead: int, length: int, share: float) -> bool:
    """Whether a playhead is at or past a share of its clip; a state without a clip (length 0) never is."""
    return length > 0 and playhead >= share * length
