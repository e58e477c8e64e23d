"""Conditions and amounts as programs of a table."""

from __future__ import annotations

from collections.abc import Sequence

from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import NEVER
from leanstep.core.graph.machine import Machine
from leanstep.core.tick.codes import OPERATORS, SIGNS, Op
from leanstep.core.tick.columns import Columns


class Numbering:
    """What programs call by numbers: ``words`` and the names of ``spans``, in the order in which they are met, the first of each
    layer's ``states``, and where the ``buffers`` of buttons and the ``clocks`` of states stand."""

    def __init__(self, machine: Machine) -> None:
        self.words: dict[str, int] = {}
        self.spans: dict[str, int] = {}
        self.states = [0]
        for layer in machine.layers:
            self.states.append(self.states[-1] + len(layer.states))
        self.buffers = {symbol: slot for slot, (symbol, _) in enumerate(machine.buffers)}
        self.clocks = {place: slot for slot, (place, _) in enumerate(machine.clocks)}

    def steps(self, one: x.Expression) -> list[Columns.Step]:
        """A condition or an amount as a postfix program, a row a step.

        Raises
        ------
        TypeError : it is neither.
        """
        match one:
            case x.Every(operands):
                return self._until(Op.SKIP_FALSE, operands, True)
            case x.Some(operands):
                return self._until(Op.SKIP_TRUE, operands, False)
            case x.Inverse(operand):
                return [*self.steps(operand), _step(Op.NOT)]
            case x.Compared(sign, left, right):
                return [*self.steps(left), *self.steps(right), _compare(sign)]
            case x.Computed(sign, operands):
                below = [step for operand in operands for step in self.steps(operand)]
                return [*below, _step(Op.COMPUTE, OPERATORS.index(sign), len(operands))]
            case x.Constant(value) | x.Fixed(value):
                return [_number(float(value))]
            case x.IsOn(symbol) | x.Value(symbol):
                return [_step(Op.PARAMETER, symbol)]
            case x.Chosen(symbol, choice):
                return [_step(Op.PARAMETER, symbol), _number(float(numbered(self.words, choice))), _compare("=")]
            case x.SameChoice(symbol, other):
                return [_step(Op.PARAMETER, symbol), _step(Op.PARAMETER, other), _compare("=")]
            case x.Pressed(symbol):
                return [_step(Op.PRESSED, symbol)]
            case x.Released(symbol):
                return [_step(Op.RELEASED, symbol)]
            case x.Stayed(layer, sign, ticks):
                return [_step(Op.STAY, layer), _number(ticks), _compare(sign)]
            case x.SinceLeft(layer, state, sign, ticks) if (layer, state) in self.clocks:
                return [_step(Op.SINCE, self.clocks[layer, state]), _number(ticks), _compare(sign)]
            case x.SinceLeft(_, _, sign, ticks):
                return [_number(float(x.holds(sign, NEVER, ticks)))]
            case x.Buffered(symbol, ticks) if symbol in self.buffers:
                return [_step(Op.BUFFERED, self.buffers[symbol], 0, ticks)]
            case x.Buffered():
                return [_number(0.0)]
            case x.ClipOver(layer):
                return [_step(Op.DONE, layer)]
            case x.ClipAt(layer, share):
                return [_step(Op.AT, layer, 0, share)]
            case x.SpanOn(name):
                return [_step(Op.SPAN, numbered(self.spans, name))]
            case x.Active(layer, state):
                return [_step(Op.STATE, layer, self.states[layer] + state)]
            case x.Remembered(index):
                return [_step(Op.MEMORY, index)]
        raise TypeError(f"{type(one).__name__} has no program")

    def _until(self, op: Op, operands: Sequence[x.Expression], empty: bool) -> list[Columns.Step]:
        """Operands one after another until one decides."""
        if not operands:
            return [_number(float(empty))]
        made = self.steps(operands[-1])
        for operand in reversed(operands[:-1]):
            made = [*self.steps(operand), _step(op, len(made)), *made]
        return made


def numbered(names: dict[str, int], name: str) -> int:
    """The number of a name, the next one where it is new."""
    return names.setdefault(name, len(names))


def _step(op: Op, a: int = 0, b: int = 0, value: float = 0.0) -> Columns.Step:
    return Columns.Step(int(op), a, b, value)


def _number(value: float) -> Columns.Step:
    return _step(Op.NUMBER, value=value)


def _compare(sign: str) -> Columns.Step:
    return _step(Op.COMPARE, SIGNS.index(sign))
