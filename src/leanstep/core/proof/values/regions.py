"""Splitting every symbol's range into regions no condition can tell the insides of apart.

A comparison of one symbol with a constant cuts its range at a double; a number then falls into points and open
intervals, each with a double that stands for it.  A comparison that cannot be cut so is *open*: its outcome is treated
as a free flag of its own, which allows more than can happen, never less.
"""

from __future__ import annotations

import itertools
import math
import struct
from collections.abc import Iterable
from dataclasses import dataclass
from fractions import Fraction
from typing import NamedTuple

from leanstep.core.bearings import CIRCLE, reduced
from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import Symbolic, compute
from leanstep.core.graph.machine import Machine
from leanstep.core.proof.reduce.inlining import is_open
from leanstep.core.proof.reduce.slices import acts_of
from leanstep.core.proof.values.rates import Cell, a_double, cells_of, limited
from leanstep.core.work import look

SMALL = 64
"""A whole number with at most this many values may be split into all of them."""


class Span(NamedTuple):
    """A region of a number: its ends, whether they belong to it, and the value that stands for it."""

    low: float
    high: float
    low_in: bool
    high_in: bool
    value: float

    @property
    def least(self) -> float:
        """The least double in it."""
        return self.low if self.low_in else math.nextafter(self.low, math.inf)

    @property
    def most(self) -> float:
        """The greatest double in it."""
        return self.high if self.high_in else math.nextafter(self.high, -math.inf)


def further_round(span: Span) -> Span:
    """The region of a bearing, a circle further on."""
    return Span(span.low + CIRCLE, span.high + CIRCLE, span.low_in, span.high_in, span.value + CIRCLE)


@dataclass(frozen=True)
class Regions:
    """``values[symbol]`` are the values that stand for that symbol's regions; the rest value stands for its own.  A symbol
    of the graph is known exactly, so it has a single nameless region.  ``spans[symbol]`` are the regions of a number.

    Symbols from ``len(machine.symbols)`` on stand for open comparisons; ``open_comparisons`` maps a comparison to its
    symbol.  ``reach[symbol][region]`` are the regions a number with a limit can be in a tick later, as a mask;
    ``limit_ignored`` are the symbols whose limit is not followed.
    """

    values: tuple[tuple[Symbolic, ...], ...]
    spans: tuple[tuple[Span, ...], ...]
    open_comparisons: dict[x.Compared, int]
    reach: dict[int, tuple[int, ...]]
    limit_ignored: tuple[int, ...]

    def cell(self, symbol: int, bit: int) -> Cell:
        """A region of a number, as a mask, in exact numbers."""
        low, high, low_in, high_in, _ = self.spans[symbol][bit.bit_length() - 1]
        return Cell(Fraction(low), Fraction(high), low_in, high_in)

    def bit_of(self, symbol: int, value: Symbolic) -> int:
        """The region a value lies in, as a mask."""
        for bit, span in enumerate(self.spans[symbol]):
            inside = span.low < float(value) < span.high
            if inside or (span.low_in and value == span.low) or (span.high_in and value == span.high):
                return 1 << bit
        known = self.values[symbol]
        return 1 << known.index(value) if value in known else 0


def regions_of(
    machine: Machine, asked: Iterable[x.Expression] | None = None, paced: bool = False, small: int = SMALL
) -> Regions:
    """The regions of every symbol of a machine that the conditions ``asked`` (None: all there are) tell apart; ``paced``: such
    that declared limits can be followed.  What has at most ``small`` values is decided value by value."""
    cuts: dict[int, set[float]] = {}
    pointwise: set[int] = set()
    open_ones: list[x.Compared] = []
    for compared in _comparisons(machine.roots if asked is None else asked):
        symbols = x.symbols_in(compared)
        outside = [symbol for symbol in symbols if machine.symbols[symbol].free]
        if not outside or is_open(machine, compared):
            continue
        alone = len(outside) == 1 and not symbols & machine.tangled
        found = _cuts_for_any(machine, compared, symbols.difference(outside), small) if alone else None
        if found is not None:
            cuts.setdefault(outside[0], set()).update(found)
        elif len(outside) == len(symbols) and all(_is_small(machine.symbols[symbol], small) for symbol in symbols):
            pointwise |= symbols
        else:
            open_ones.append(compared)
    values: list[tuple[Symbolic, ...]] = []
    spans: list[tuple[Span, ...]] = []
    reach: dict[int, tuple[int, ...]] = {}
    limit_ignored: list[int] = []
    for index, symbol in enumerate(machine.symbols):
        found_spans: tuple[Span, ...] = ()
        if not symbol.free:
            values.append((symbol.first,))
        elif symbol.kind in ("flag", "pulse", "button"):
            values.append((False, True))
        elif symbol.kind == "choice":
            values.append(symbol.choices)
        else:
            if symbol.kind == "whole":
                points = set(map(float, range(int(symbol.low), int(symbol.high) + 1))) if index in pointwise else set()
                some = cuts.get(index, set()) | points
                # what it comes to rest at, and what it has only while time stands
                ends = {symbol.low, symbol.high} if some and symbol.countdown else set()
                found_spans = _whole_regions(symbol, some | ends)
            else:
                straight = symbol.kind == "number"
                cells = cells_of(symbol, cuts.get(index, set())) if paced and straight and limited(symbol) else None
                if cells is not None:
                    found_spans, reach[index] = _paced_regions(symbol, cells)
                else:
                    found_spans = _number_regions(symbol, cuts.get(index, set()))
                    if limited(symbol):
                        limit_ignored.append(index)
            values.append(tuple(span.value for span in found_spans))
        spans.append(found_spans)
    first = len(values)
    values.extend((False, True) for _ in open_ones)
    opened = {compared: first + at for at, compared in enumerate(open_ones)}
    return Regions(tuple(values), tuple(spans), opened, reach, tuple(limit_ignored))


def _is_small(symbol: x.Symbol, small: int) -> bool:
    return symbol.kind == "whole" and symbol.high - symbol.low < small


def _comparisons(roots: Iterable[x.Expression]) -> list[x.Compared]:
    found: dict[x.Compared, None] = {}
    for root in roots:
        look()
        found |= {part: None for part in x.parts(root) if isinstance(part, x.Compared)}
    return list(found)


def _cuts_for_any(machine: Machine, compared: x.Compared, known: Iterable[int], small: int) -> set[float] | None:
    """The cuts of a comparison of one symbol from outside with ``known`` parameters of the graph, for any of their values;
    None when these are too many to go through, or the comparison is no chain of monotone steps."""
    graph = sorted(known)
    options = [_values_of(machine, symbol, small) for symbol in graph]
    if math.prod(len(some) or small + 1 for some in options) > small:
        return None
    found: set[float] = set()
    for values in itertools.product(*options):
        given = dict(zip(graph, values))
        one = x.Compared(compared.operator, _given(compared.left, given), _given(compared.right, given))
        cuts = _cuts_of(machine, one)
        if cuts is None:
            return None
        found |= cuts
    return found


def _values_of(machine: Machine, symbol: int, small: int) -> list[float]:
    """The values a number of the graph can have; none when they are not known to be few."""
    one = machine.symbols[symbol]
    if one.owner != "graph":
        return []
    if _is_small(one, small):
        return [float(value) for value in range(int(one.low), int(one.high) + 1)]
    acts = [act for at in range(len(machine.layers)) for act in acts_of(machine, at) if act.target == symbol]
    changes = [act for act in acts if act.do in ("set", "add")]
    if any(act.do == "add" for act in changes):
        return []
    return sorted({float(one.first), *(float(act.value) for act in changes)})


def _given(amount: x.Amount, values: dict[int, float]) -> x.Amount:
    """An amount with the values of some symbols put in."""
    match amount:
        case x.Value(symbol) if symbol in values:
            return x.Fixed(values[symbol])
        case x.Computed(operator, operands):
            made = tuple(_given(operand, values) for operand in operands)
            fixed = [one.value for one in made if isinstance(one, x.Fixed)]
            return x.Fixed(compute(operator, fixed)) if len(fixed) == len(made) else x.Computed(operator, made)
    return amount


def _cuts_of(machine: Machine, compared: x.Compared) -> set[float] | None:
    """The doubles at which the outcome of a one-symbol comparison changes; None when it is not a chain of monotone steps."""
    left, right = compared.left, compared.right
    if isinstance(left, x.Fixed):
        left, right = right, left
    if not isinstance(right, x.Fixed):
        return None
    if isinstance(left, x.Value):
        return {right.value}
    symbol = machine.symbols[next(iter(x.symbols_in(left)))]
    turns = _turns(left, symbol.low, symbol.high)
    if turns is None:
        return None
    ends = [symbol.low, *sorted(turn for turn in turns if symbol.low < turn < symbol.high), symbol.high]
    found = set(ends[1:-1])
    for low, high in itertools.pairwise(ends):
        for strict in (False, True):
            found.update(_flip(left, low, high, right.value, strict))
    return found


def _worth(amount: x.Amount, value: float) -> float:
    match amount:
        case x.Fixed(fixed):
            return fixed
        case x.Computed(operator, operands):
            return compute(operator, [_worth(operand, value) for operand in operands])
    return value


def _turns(amount: x.Amount, low: float, high: float) -> list[float] | None:
    """Places between which ``amount`` is monotone in its one symbol; None when that cannot be told."""
    if not isinstance(amount, x.Computed):
        return []
    moving = [operand for operand in amount.operands if x.symbols_in(operand)]
    if len(moving) != 1 or (amount.operator == "/" and moving[0] is not amount.operands[0]):
        return None
    turns = _turns(moving[0], low, high)
    if amount.operator in ("turn", "bearing"):
        return _jumps(amount, low, high) if isinstance(moving[0], x.Value) else None
    if turns is None or amount.operator != "abs":
        return turns
    ends = [low, *sorted(turns), high]
    extra = [place for a, b in itertools.pairwise(ends) for place in _flip(moving[0], a, b, 0.0, False)]
    return turns + extra


def _jumps(amount: x.Computed, low: float, high: float) -> list[float] | None:
    """The neighbouring doubles between which the way to or from a bearing jumps by a circle; None for what is no such way."""
    if amount.operator != "turn":
        return None
    fixed = next(operand.value for operand in amount.operands if isinstance(operand, x.Fixed))
    jump = reduced(fixed + CIRCLE / 2)
    near = [(max(low, jump + round - 1.0), min(high, jump + round + 1.0)) for round in (-CIRCLE, 0.0, CIRCLE)]
    return [place for start, end in near if start < end for place in _flip(amount, start, end, 0.0, False)]


def _flip(amount: x.Amount, low: float, high: float, constant: float, strict: bool) -> tuple[float, ...]:
    """The two neighbouring doubles in [low, high] between which ``amount >= constant`` (``>`` when strict) changes."""

    def above(value: float) -> bool:
        worth = _worth(amount, value)
        return worth > constant if strict else worth >= constant

    start = above(low)
    if start == above(high):
        return ()
    a, b = _rank(low), _rank(high)
    while b - a > 1:
        middle = (a + b) // 2
        if above(_unrank(middle)) == start:
            a = middle
        else:
            b = middle
    return _unrank(a), _unrank(b)


def _rank(value: float) -> int:
    """Doubles in order as integers: neighbours differ by 1."""
    bits: int = struct.unpack("<q", struct.pack("<d", value + 0.0))[0]
    return bits if bits >= 0 else -(bits & 0x7FFFFFFFFFFFFFFF)


def _unrank(rank: int) -> float:
    bits = rank if rank >= 0 else -rank - (1 << 63)
    return float(struct.unpack("<d", struct.pack("<q", bits))[0])


def _number_regions(symbol: x.Symbol, cuts: set[float]) -> tuple[Span, ...]:
    low, high = symbol.low, symbol.high
    inside = sorted(cut for cut in cuts if low <= cut <= high)
    rest = float(symbol.rest)
    if low == high:
        return (Span(low, low, True, True, low),)
    found: list[Span] = []
    at, closed = low, True  # the next interval starts at ``at``, which belongs to it when closed
    for cut in inside:
        between = a_double(at, cut, closed, False, rest)
        if between is not None:
            found.append(Span(at, cut, closed, False, between))
        found.append(Span(cut, cut, True, True, cut))
        at, closed = cut, False
    last = a_double(at, high, closed, True, rest)
    if last is not None:
        found.append(Span(at, high, closed, True, last))
    return tuple(found)


def _paced_regions(symbol: x.Symbol, cells: list[Cell]) -> tuple[tuple[Span, ...], tuple[int, ...]]:
    """The cells that hold a double, and from each those within a step."""
    spans, kept = [], []
    for cell in cells:
        ends = cell.doubles()
        value = a_double(*ends, float(symbol.rest))
        if value is not None:
            spans.append(Span(*ends, value))
            kept.append(cell)
    masks, first, last = [], 0, 0
    for cell in kept:
        while not cell.near(kept[first], symbol.step):
            first += 1
        while last + 1 < len(kept) and cell.near(kept[last + 1], symbol.step):
            last += 1
        masks.append((2 << last) - (1 << first))
    return tuple(spans), tuple(masks)


def _whole_regions(symbol: x.Symbol, cuts: set[float]) -> tuple[Span, ...]:
    low, high, rest = int(symbol.low), int(symbol.high), int(symbol.rest)
    starts = {low}
    for cut in cuts:
        if low <= cut <= high:
            starts.update({math.ceil(cut), math.floor(cut) + 1})
    edges = [*sorted(start for start in starts if start <= high), high + 1]
    found = []
    for first, after in itertools.pairwise(edges):
        value = rest if first <= rest < after else min((first, after - 1), key=abs)
        found.append(Span(float(first), float(after - 1), True, True, float(value)))
    return tuple(found)
