"""Declared limits: pulses that come only so often, and numbers that change only so fast."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from fractions import Fraction

from leanstep.core.bearings import reduced, turn
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.conditions.expression import HAIR
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.situation import Setting

Row = Sequence[Symbolic] | Mapping[int, Symbolic]
"""Values of symbols, by their index."""


def first_broken(machine: Machine, settings: Iterable[Setting]) -> Setting | None:
    """The first of the values set, in the order of their ticks, that a limit forbids; None when all are as declared."""
    if not machine.limited:
        return None
    raised: dict[int, int] = {}
    now: dict[int, Symbolic] = {}
    for setting in settings:
        tick, index, value = setting
        symbol = machine.symbols[index]
        if symbol.spacing > 1 and value is True:
            if tick - raised.get(index, -symbol.spacing) < symbol.spacing:
                return setting
            raised[index] = tick
        elif symbol.step:
            if not within_a_step(machine, index, now.get(index, symbol.first), value):
                return setting
            now[index] = value
    return None


def tick_by_tick(rows: Iterable[Row], indices: Sequence[int]) -> Iterator[Setting]:
    """The values of some symbols in rows of values, one row a tick."""
    return ((tick, index, row[index]) for tick, row in enumerate(rows) for index in indices)


def within_a_step(machine: Machine, index: int, before: Symbolic, value: Symbolic) -> bool:
    """Whether a symbol may go from one value to another in a tick."""
    step = machine.symbols[index].step
    if not step or before == value:
        return True
    way = abs(Fraction(float(value)) - Fraction(float(before)))
    return (min(way, 360 - way) if machine.symbols[index].kind == "bearing" else way) <= step


def towards(machine: Machine, before: Row, row: Mapping[int, Symbolic]) -> dict[int, Symbolic]:
    """The values of a row where symbols may take them on the next tick, else one a step nearer to them."""
    return {index: _towards(machine, index, before[index], value) for index, value in row.items()}


def _towards(machine: Machine, index: int, before: Symbolic, value: Symbolic) -> Symbolic:
    if within_a_step(machine, index, before, value):
        return value
    step, start = float(machine.symbols[index].step / (1 + HAIR)), float(before)
    if machine.symbols[index].kind == "bearing":
        return reduced(start + step if turn(start, float(value)) > 0 else start - step)
    return start + step if float(value) > start else start - step
