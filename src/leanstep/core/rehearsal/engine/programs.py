"""Conditions and amounts as instructions.

An instruction tests something and goes on at ``yes`` or ``no``, or puts a number on the stack and goes on at ``yes``.  A
condition ends at TRUE or FALSE, an amount at TRUE with one number on the stack.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import NEVER
from leanstep.core.rehearsal.engine.records import Instruction

TRUE, FALSE = -1, -2

(CONSTANT, ON, PRESSED, RELEASED, COMPARED, CHOSEN, SAME, STAYED, BUFFERED, SINCE, OVER, AT, SPAN, ACTIVE, MEMORY) = (
    range(15)
)
PUSH_VALUE, PUSH_FIXED, COMPUTE, COMPARE_STACK = range(15, 19)
PLUS, MINUS, TIMES, OVER_BY, ABSOLUTE, NEGATIVE, LEAST, MOST, TURN, BEARING = range(10)

LESS, EQUAL, GREATER, NEITHER = 1, 2, 4, 8
"""How two numbers may stand to each other; NEITHER where one is no number."""

SIGNS = {
    "<": LESS,
    "<=": LESS | EQUAL,
    "=": EQUAL,
    "!=": LESS | GREATER | NEITHER,
    ">": GREATER,
    ">=": GREATER | EQUAL,
}
_SUMS = {
    "+": PLUS,
    "-": MINUS,
    "*": TIMES,
    "/": OVER_BY,
    "abs": ABSOLUTE,
    "neg": NEGATIVE,
    "min": LEAST,
    "max": MOST,
    "turn": TURN,
    "bearing": BEARING,
}


@dataclass
class Programs:
    """Writes programs, one instruction at a time, each before those that lead to it.

    ``put`` writes an instruction down and ``number`` a real number, both say where.  ``choices``, ``spans``, ``buffers`` and
    ``clocks`` number what is named; a press or a leaving that is not remembered counts as never.  ``depth`` is the most
    numbers that lie on the stack at once.
    """

    put: Callable[[tuple[int, ...]], int]
    number: Callable[[float], int]
    choices: Callable[[str], int]
    spans: Callable[[str], int]
    buffers: dict[int, int]
    clocks: dict[tuple[int, int], int]
    depth: int = 1

    def condition(self, expression: x.Expression, yes: int = TRUE, no: int = FALSE) -> int:
        """Where a condition's program begins, that goes on at ``yes`` or ``no``."""
        match expression:
            case x.Every(operands):
                for operand in reversed(operands):
                    yes = self.condition(operand, yes, no)
                return yes
            case x.Some(operands):
                for operand in reversed(operands):
                    no = self.condition(operand, yes, no)
                return no
            case x.Inverse(operand):
                return self.condition(operand, no, yes)
            case x.Compared(sign, x.Value(symbol), x.Fixed(value)):
                return self._add(COMPARED, symbol, SIGNS[sign], value=value, yes=yes, no=no)
            case x.Compared(sign, left, right):
                at = self._add(COMPARE_STACK, 0, SIGNS[sign], yes=yes, no=no)
                return self.amount(left, self.amount(right, at, 1), 0)
        op, a, b, c, value = self._atom(expression)
        return self._add(op, a, b, c, value, yes, no)

    def _atom(self, expression: x.Expression) -> tuple[int, int, int, int, float]:
        match expression:
            case x.Constant(value):
                return CONSTANT, int(value), 0, 0, 0.0
            case x.IsOn(symbol):
                return ON, symbol, 0, 0, 0.0
            case x.Pressed(symbol):
                return PRESSED, symbol, 0, 0, 0.0
            case x.Released(symbol):
                return RELEASED, symbol, 0, 0, 0.0
            case x.Chosen(symbol, choice):
                return CHOSEN, symbol, 0, 0, float(self.choices(choice))
            case x.SameChoice(symbol, other):
                return SAME, symbol, other, 0, 0.0
            case x.Stayed(layer, sign, ticks):
                return STAYED, layer, SIGNS[sign], ticks, 0.0
            case x.Buffered(symbol) if symbol not in self.buffers:
                return CONSTANT, False, 0, 0, 0.0
            case x.Buffered(symbol, ticks):
                return BUFFERED, self.buffers[symbol], 0, ticks, 0.0
            case x.SinceLeft(layer, state, sign, ticks) if (layer, state) not in self.clocks:
                return CONSTANT, x.holds(sign, NEVER, ticks), 0, 0, 0.0
            case x.SinceLeft(layer, state, sign, ticks):
                return SINCE, self.clocks[layer, state], SIGNS[sign], ticks, 0.0
            case x.ClipOver(layer):
                return OVER, layer, 0, 0, 0.0
            case x.ClipAt(layer, share):
                return AT, layer, 0, 0, share
            case x.SpanOn(name):
                return SPAN, self.spans(name), 0, 0, 0.0
            case x.Active(layer, state):
                return ACTIVE, layer, state, 0, 0.0
            case x.Remembered(index):
                return MEMORY, index, 0, 0, 0.0
        raise TypeError(f"{type(expression).__name__} has no truth")

    def amount(self, expression: x.Expression, then: int = TRUE, below: int = 0) -> int:
        """Where the program of an amount begins that goes on at ``then``; ``below`` numbers already lie on the stack.
        Raises :class:`TypeError` for what is true or false."""
        self.depth = max(self.depth, below + 1)
        match expression:
            case x.Value(symbol):
                return self._add(PUSH_VALUE, symbol, yes=then)
            case x.Fixed(value):
                return self._add(PUSH_FIXED, value=value, yes=then)
            case x.Computed(sign, operands):
                then = self._add(COMPUTE, _SUMS[sign], len(operands), yes=then)
                for at in range(len(operands) - 1, -1, -1):
                    then = self.amount(operands[at], then, below + at)
                return then
        raise TypeError(f"{type(expression).__name__} is no amount")

    def _add(
        self, op: int, a: int = 0, b: int = 0, c: int = 0, value: float = 0.0, yes: int = TRUE, no: int = FALSE
    ) -> int:
        return self.put(Instruction(op, a, b, c, self.number(value), yes, no))
