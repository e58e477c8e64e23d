"""Conditions in words, part by part, with the values they had."""

from __future__ import annotations

from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import Moment, Symbolic, amount, decide
from leanstep.core.conditions.printing import number_text
from leanstep.core.graph.machine import Machine
from leanstep.core.wording import counted

_SIGNS = {"<": "below", "<=": "at most", "=": "equal to", "!=": "other than", ">": "above", ">=": "at least"}


def sign_words(sign: str) -> str:
    """A comparison in words."""
    return _SIGNS[sign]


def value_words(value: Symbolic, digits: int = 6) -> str:
    """A value as people say it, a number with so many digits at most."""
    if isinstance(value, bool):
        return "on" if value else "off"
    return value if isinstance(value, str) else f"{value:.{digits}g}"


def atom_words(machine: Machine, one: x.Expression) -> str:
    """A part of a condition as it is written."""
    name = [symbol.name for symbol in machine.symbols]
    match one:
        case x.Compared(sign, left, right):
            return f"{_amount(machine, left)} {sign} {_amount(machine, right)}"
        case x.IsOn(symbol):
            return f"{name[symbol]}{' held' if machine.symbols[symbol].kind == 'button' else ''}"
        case x.Pressed(symbol):
            return f"{name[symbol]} pressed"
        case x.Released(symbol):
            return f"{name[symbol]} released"
        case x.Chosen(symbol, choice):
            return f"{name[symbol]} = {choice}"
        case x.SameChoice(symbol, other):
            return f"{name[symbol]} = {name[other]}"
        case x.Stayed(_, sign, ticks):
            return f"stay {sign} {counted(ticks, 'tick')}"
        case x.Buffered(symbol, ticks):
            return f"{name[symbol]} buffered {counted(ticks, 'tick')}"
        case x.SinceLeft(layer, state, sign, ticks):
            return f"since({machine.layers[layer].states[state]}) {sign} {counted(ticks, 'tick')}"
        case x.ClipOver():
            return "clip done"
        case x.ClipAt(_, share):
            return f"clip at {number_text(share)}"
        case x.SpanOn(span):
            return x.span_words(span)
        case x.Active(layer, state):
            return f"in {machine.layers[layer].name}.{machine.layers[layer].states[state]}"
        case x.Remembered(index):
            memory = machine.memories[index]
            inner = atom_words(machine, memory.operand)
            inner = f"({inner})" if isinstance(memory.operand, x.Every | x.Some) else inner
            return f"{inner} {memory.kind} {counted(memory.ticks, 'tick')}"
        case x.Every(operands):
            return " and ".join(_inside(machine, part, x.Some) for part in operands)
        case x.Some(operands):
            return " or ".join(atom_words(machine, part) for part in operands)
        case x.Inverse(operand):
            return f"not {_inside(machine, operand, x.Every | x.Some)}"
        case x.Constant(value):
            return "true" if value else "false"
    return "a condition"


def _inside(machine: Machine, one: x.Expression, joined: object) -> str:
    words = atom_words(machine, one)
    return f"({words})" if isinstance(one, joined) else words  # type: ignore[arg-type]


def _amount(machine: Machine, one: x.Expression) -> str:
    match one:
        case x.Value(symbol):
            return machine.symbols[symbol].name
        case x.Fixed(value):
            return number_text(value)
        case x.Computed(sign, operands):
            words = [_amount(machine, operand) for operand in operands]
            if sign == "neg":
                return f"-{words[0]}"
            if sign == "bearing":
                return words[0]
            return f" {sign} ".join(words) if sign in "+-*/" else f"{sign}({', '.join(words)})"
    return "a number"


def told(machine: Machine, one: x.Expression, moment: Moment) -> str:
    """A part with the values it had and whether it was true."""
    words, truth = atom_words(machine, one), "true" if decide(one, moment) else "false"
    match one:
        case x.Compared(_, left, right):
            values = [
                f"{_amount(machine, side)} is {amount(side, moment):.9g}"
                for side in (left, right)
                if not isinstance(side, x.Fixed)
            ]
            return f"{words}: {truth}, for {' and '.join(values)}" if values else f"{words}: {truth}"
        case x.Chosen(symbol, _):
            return f"{words}: {truth}, for {machine.symbols[symbol].name} is {value_words(moment.values[symbol])}"
        case x.Stayed(layer, _, _):
            return f"{words}: {truth}, for the stay is {counted(moment.stays[layer], 'tick')}"
        case x.Buffered(symbol, _):
            age = moment.ages.get(symbol)
            said = "there is no press to be used" if age is None else f"the press is {counted(age, 'tick')} old"
            return f"{words}: {truth}, for {said}"
        case x.ClipAt(layer, _):
            length = moment.lengths[layer]
            return f"{words}: {truth}, for it is at {moment.playheads[layer] / length if length else 0:.3g}"
    return f"{words}: {truth}"


def parts_told(machine: Machine, condition: x.Expression, moment: Moment) -> list[str]:
    """The parts of a condition that decided, each with what it was: of a joining by “and” that is false only what is false."""
    match condition:
        case x.Every(operands):
            true = decide(condition, moment)
            some = operands if true else [one for one in operands if not decide(one, moment)]
            return [line for one in some for line in parts_told(machine, one, moment)]
        case x.Some(operands):
            true = decide(condition, moment)
            some = [one for one in operands if decide(one, moment)] if true else list(operands)
            return [line for one in some for line in parts_told(machine, one, moment)]
        case x.Inverse(operand) if isinstance(operand, x.Every | x.Some):
            return parts_told(machine, operand, moment)
    return [told(machine, condition, moment)]
