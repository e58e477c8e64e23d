"""Formulas written out, so that proofs see what conditions say of values from outside.

Engines compute a formula and look its value up; a proof has no single value, so it reads the formula in its place.  Formulas
that build on each other can come to more than anybody could look through; those stay, and what they say is left open.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace

from leanstep.core.conditions import expression as x
from leanstep.core.graph.machine import CompiledTransition, Machine

MOST_PARTS = 2000
"""Parts a formula may have once it is written out."""
MOST_LEVELS = 150
"""Levels of nesting it may have then."""


def written_out(machine: Machine) -> Machine:
    """The machine with the formulas in its conditions written out, as far as they are short enough."""
    return machine.once(written_out, lambda: _written_out(machine)) if machine.formulas else machine


def _written_out(machine: Machine) -> Machine:
    known: dict[int, x.Expression] = {}
    sizes: dict[int, tuple[int, int]] = {}
    for index, formula in machine.formulas:
        sizes[index] = _size(formula, sizes)
        if sizes[index][0] <= MOST_PARTS and sizes[index][1] <= MOST_LEVELS:
            known[index] = _with(formula, known)
    return reworded(machine, lambda condition: _with(condition, known))


def reworded(machine: Machine, reword: Callable[[x.Expression], x.Expression]) -> Machine:
    """The machine with every condition in other words."""

    def way(one: CompiledTransition) -> CompiledTransition:
        return one if one.condition is None else replace(one, condition=reword(one.condition))

    layers = tuple(
        replace(layer, ways=tuple(tuple(way(one) for one in row) for row in layer.ways)) for layer in machine.layers
    )
    return replace(
        machine,
        memories=tuple(replace(one, operand=reword(one.operand)) for one in machine.memories),
        layers=layers,
        assumptions=tuple(map(reword, machine.assumptions)),
        expects=tuple(replace(one, condition=reword(one.condition)) for one in machine.expects),
    )


def is_open(machine: Machine, atom: x.Expression) -> bool:
    """Whether a proof cannot know what an atom says because it reads a formula that is not written out."""
    return any(machine.symbols[symbol].owner == "formula" for symbol in x.symbols_in(atom))


def _size(expression: x.Expression, sizes: Mapping[int, tuple[int, int]]) -> tuple[int, int]:
    """How many parts an expression has once it is written out, and how many levels."""
    parts, levels = 0, 0
    waiting = [(expression, 1)]
    while waiting:
        one, level = waiting.pop()
        more, deeper = sizes.get(one.symbol, (1, 0)) if isinstance(one, x.Value | x.IsOn) else (1, 0)
        parts, levels = parts + more, max(levels, level + deeper)
        waiting += [(below, level + 1) for below in x.below(one)]
    return parts, levels


def _with(expression: x.Expression, known: Mapping[int, x.Expression]) -> x.Expression:
    """An expression with formulas in place of the symbols they are known for; an atom that reads another one stays whole."""
    match expression:
        case x.IsOn(symbol) | x.Value(symbol) if symbol in known:
            return known[symbol]
        case x.Every(operands) | x.Some(operands):
            return type(expression)(tuple(_with(one, known) for one in operands))
        case x.Inverse(operand):
            return x.Inverse(_with(operand, known))
        case x.Compared(operator, left, right):
            return x.Compared(operator, _amount(left, known), _amount(right, known))
        case x.Computed():
            return _amount(expression, known)
    return expression


def _amount(amount: x.Amount, known: Mapping[int, x.Expression]) -> x.Amount:
    match amount:
        case x.Value(symbol) if symbol in known:
            found = known[symbol]
            assert isinstance(found, x.Amount)
            return found
        case x.Computed(operator, operands):
            return x.Computed(operator, tuple(_amount(one, known) for one in operands))
    return amount
