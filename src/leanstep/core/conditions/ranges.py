"""For which values of one parameter a condition is true, to be drawn as a bar."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import Moment, decide

GRID = 96
"""Places between the ends of a range that are looked at besides the constants of the condition."""


@dataclass(frozen=True)
class Range:
    """Values from ``low`` to ``high`` (the same: a single value), in the parameter's unit.  ``now``: the condition is true there
    with everything else as it is; else it is there once the rest of it is fulfilled."""

    low: float
    high: float
    now: bool


def read_numbers(condition: x.Expression, symbols: Sequence[x.Symbol], memories: Sequence[x.Memory]) -> list[int]:
    """The numbers, wholes and directions a condition reads, also in what it remembers, in the order of the symbols."""
    found, waiting = set[int](), [condition]
    while waiting:
        one = waiting.pop()
        found |= x.symbols_in(one)
        waiting += [memories[part.index].operand for part in x.parts(one) if isinstance(part, x.Remembered)]
    return sorted(index for index in found if symbols[index].kind in x.NUMERIC)


def ranges(
    condition: x.Expression, symbol: int, symbols: Sequence[x.Symbol], memories: Sequence[x.Memory], moment: Moment
) -> list[Range]:
    """Where a condition is true or can be, over the range of one of its numbers.  What it remembers counts as if the value had
    been kept.  Exact where the number is compared with constants; else as fine as :data:`GRID`."""
    low, high = symbols[symbol].low, symbols[symbol].high
    cuts = {low, high}
    for part in _all_parts(condition, memories):
        if isinstance(part, x.Compared) and symbol in x.symbols_in(part):
            cuts |= {one.value * sign for one in x.parts(part) if isinstance(one, x.Fixed) for sign in (1, -1)}
            if not all(isinstance(side, x.Value | x.Fixed) for side in (part.left, part.right)):
                cuts |= {low + (high - low) * step / GRID for step in range(GRID + 1)}
    places = sorted(cut for cut in cuts if low <= cut <= high)
    pieces = [(places[0], places[0])]
    for before, after in pairwise(places):
        pieces += [(before, after), (after, after)]
    changed = [index for index, memory in enumerate(memories) if symbol in x.symbols_in(memory.operand)]
    found: list[Range] = []
    last: bool | None = None
    for start, end in pieces:
        level = _level(condition, symbol, memories, changed, moment, (start + end) / 2)
        if level is not None and level == last:
            found[-1] = replace(found[-1], high=end)
        elif level is not None:
            found.append(Range(start, end, level))
        last = level
    return found


def _all_parts(condition: x.Expression, memories: Sequence[x.Memory]) -> list[x.Expression]:
    found: list[x.Expression] = []
    for part in x.parts(condition):
        found += _all_parts(memories[part.index].operand, memories) if isinstance(part, x.Remembered) else [part]
    return found


def _level(
    condition: x.Expression,
    symbol: int,
    memories: Sequence[x.Memory],
    changed: Sequence[int],
    moment: Moment,
    value: float,
) -> bool | None:
    """Whether the condition is true now at a value, or else only can be (False), or not even that (None); ``changed`` are the
    memories that read the number."""
    values = [value if index == symbol else one for index, one in enumerate(moment.values)]
    there = replace(moment, values=values, memories=list(moment.memories))
    for index in changed:
        there.memories[index] = decide(memories[index].operand, there)
    if decide(condition, there):
        return True
    return False if _can_be(condition, symbol, memories, there)[1] else None


def _can_be(expression: x.Expression, symbol: int, memories: Sequence[x.Memory], moment: Moment) -> tuple[bool, bool]:
    """Whether an expression can be false and true when all is open that does not read the symbol."""
    match expression:
        case x.Every(operands):
            pairs = [_can_be(one, symbol, memories, moment) for one in operands]
            return any(false for false, _ in pairs), all(true for _, true in pairs)
        case x.Some(operands):
            pairs = [_can_be(one, symbol, memories, moment) for one in operands]
            return all(false for false, _ in pairs), any(true for _, true in pairs)
        case x.Inverse(operand):
            false, true = _can_be(operand, symbol, memories, moment)
            return true, false
        case x.Remembered(index):
            return _can_be(memories[index].operand, symbol, memories, moment)
    if symbol not in x.symbols_in(expression) and not isinstance(expression, x.Constant):
        return True, True
    true = decide(expression, moment)
    return not true, true
