"""Linear comparisons of several numbers: which of their outcomes go together, and with which values.

Whether a comparison holds is open as far as the regions go.  Outcomes that several of them have at once are possible if
some doubles show them, which is tried; they are impossible if no real numbers come as near to them as rounding may carry
the doubles, which is decided in exact rational numbers.  Where neither can be shown, that is said.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from fractions import Fraction

from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import Moment, Symbolic, compute, decide
from leanstep.core.graph.machine import Machine
from leanstep.core.proof.values.predicates import Masks, Split
from leanstep.core.proof.values.regions import Regions, Span
from leanstep.core.proof.values.simplex import Row, most_slack

_UNIT = Fraction(1, 2**53)
_TINY = Fraction(1, 2**1074)
LARGEST = Fraction(10**300)
"""Amounts that could come to more than this are not taken for linear: they might run over."""

_SHARES = (0.0, 2.0**-40, 2.0**-20, 2.0**-10, 0.01, 0.1, 0.25, 0.5, 0.75, 1.0)
"""How far towards the middle of the box a solution is moved until its doubles show what they should."""


@dataclass(frozen=True)
class Form:
    """An amount as a sum: what each symbol counts, and a constant.  Its double is off by at most ``error``, and neither it
    nor any step on the way exceeds ``most``; ``whole``: it and every step is a whole number."""

    weights: dict[int, Fraction]
    constant: Fraction
    error: Fraction
    most: Fraction
    whole: bool

    def combined(self, other: Form, sign: int) -> Form:
        """The sum with another form, or the difference."""
        weights = {
            key: self.weights.get(key, Fraction(0)) + sign * other.weights.get(key, Fraction(0))
            for key in {**self.weights, **other.weights}
        }
        most, whole = self.most + other.most, self.whole and other.whole
        error = self.error + other.error + _rounding(most + self.error + other.error, whole)
        return Form(weights, self.constant + sign * other.constant, error, most, whole)

    @property
    def negated(self) -> Form:
        """The form with its sign turned, which rounds nothing."""
        weights = {key: -one for key, one in self.weights.items()}
        return Form(weights, -self.constant, self.error, self.most, self.whole)

    def times(self, factor: Fraction) -> Form:
        """The product with a constant."""
        weights = {key: weight * factor for key, weight in self.weights.items()}
        most, error = self.most * abs(factor), self.error * abs(factor)
        whole = self.whole and factor.denominator == 1
        error += _rounding(most + error, whole)
        return Form(weights, self.constant * factor, error, max(most, self.most), whole)


def _rounding(size: Fraction, whole: bool) -> Fraction:
    """How far one rounding can carry a number of this size; whole numbers that are not too large stay as they are."""
    return Fraction(0) if whole and size <= 2**53 else size * _UNIT + _TINY


def form_of(machine: Machine, amount: x.Amount) -> Form | None:
    """An amount of numbers from outside as a sum; None when it is none, or could run over."""
    made: Form | None
    match amount:
        case x.Fixed(value):
            if not math.isfinite(value):
                return None
            made = Form({}, Fraction(value), Fraction(0), abs(Fraction(value)), value.is_integer())
        case x.Value(symbol):
            one = machine.symbols[symbol]
            if (
                not one.free
                or one.kind not in ("number", "whole")
                or symbol in machine.tangled
                or not math.isfinite(one.low + one.high)
            ):
                return None
            most = max(abs(Fraction(one.low)), abs(Fraction(one.high)))
            made = Form({symbol: Fraction(1)}, Fraction(0), Fraction(0), most, one.kind == "whole")
        case x.Computed(operator, operands):
            made = _computed(operator, [form_of(machine, operand) for operand in operands])
        case _:
            return None
    return made if made is not None and made.most < LARGEST else None


def _computed(operator: str, operands: Sequence[Form | None]) -> Form | None:
    forms = [operand for operand in operands if operand is not None]
    if len(forms) < len(operands):
        return None
    if operator == "neg":
        return forms[0].negated
    if operator in ("+", "-"):
        return forms[0].combined(forms[1], 1 if operator == "+" else -1)
    if operator == "*":
        left, right = sorted(forms, key=lambda one: len(one.weights))
        return right.times(left.constant) if not left.weights and not left.error else None
    if operator == "/" and not forms[1].weights and not forms[1].error:
        return forms[0].times(1 / forms[1].constant) if forms[1].constant else forms[0].times(Fraction(0))
    return None


@dataclass(frozen=True)
class Linear:
    """A comparison whose sides are sums: ``weights`` and ``constant`` of the left side less the right; ``error`` bounds how
    far the doubles of the two are off together, and sides that differ do so by no less than ``step``."""

    compared: x.Compared
    weights: dict[int, Fraction]
    constant: Fraction
    error: Fraction
    step: Fraction

    def rows(self, symbols: Sequence[int], true: bool, margin: bool) -> list[Row]:
        """What the comparison being true or not asks of the symbols' values, with ``margin`` for rounding: with it, only
        what can certainly not be is ruled out."""
        weights = [self.weights.get(symbol, Fraction(0)) for symbol in symbols]
        below = (weights, -self.constant), ([-one for one in weights], self.constant)
        operator = self.compared.operator
        if operator in ("=", "!="):
            asked = [*below] if true == (operator == "=") else []
            strict = False
        else:
            asked = [below[0 if (operator in ("<", "<=")) == true else 1]]
            strict = (operator in ("<", ">")) == true
        spare = self.error if self.error or not strict else -self.step
        return [(row, bound + (spare if margin else 0)) for row, bound in asked]

    def can_be(self, true: bool, ends: dict[int, tuple[float, float]]) -> bool:
        """Whether the comparison may come out so with each symbol between its ends, going by the ends of its sides alone:
        every step in doubles is monotone in each of its numbers."""
        (a, b), (c, d) = _between(self.compared.left, ends), _between(self.compared.right, ends)
        match self.compared.operator, true:
            case ("<", True) | (">=", False):
                return a < d
            case ("<=", True) | (">", False):
                return a <= d
            case (">", True) | ("<=", False):
                return b > c
            case (">=", True) | ("<", False):
                return b >= c
            case ("=", True) | ("!=", False):
                return a <= d and c <= b
        return not a == b == c == d


def _between(amount: x.Amount, ends: dict[int, tuple[float, float]]) -> tuple[float, float]:
    """The least and the greatest double an amount can come to."""
    match amount:
        case x.Value(symbol):
            return ends[symbol]
        case x.Computed(operator, operands):
            sides = [_between(operand, ends) for operand in operands]
            found = [compute(operator, list(numbers)) for numbers in itertools.product(*sides)]
            return min(found), max(found)
    assert isinstance(amount, x.Fixed)
    return amount.value, amount.value


def linear_of(machine: Machine, compared: x.Compared) -> Linear | None:
    """A comparison as a linear one; None when it is none."""
    left, right = form_of(machine, compared.left), form_of(machine, compared.right)
    if left is None or right is None:
        return None
    weights = {
        key: left.weights.get(key, Fraction(0)) - right.weights.get(key, Fraction(0))
        for key in {**left.weights, **right.weights}
    }
    step = Fraction(1) if left.whole and right.whole else _TINY
    return Linear(compared, weights, left.constant - right.constant, left.error + right.error, step)


@dataclass
class Together:
    """The linear comparisons of a machine: ``open`` maps the symbol that stands for one's outcome to it.

    ``unsure`` collects those whose outcomes could neither be shown nor ruled out.
    """

    machine: Machine
    spans: Sequence[Sequence[Span]]
    open: dict[int, Linear]
    unsure: dict[int, x.Compared] = field(default_factory=dict)
    _known: dict[tuple[object, ...], dict[int, float] | bool] = field(default_factory=dict)

    @classmethod
    def of(cls, machine: Machine, regions: Regions) -> Together:
        """Those of the comparisons that the regions leave open which are linear."""
        made = {symbol: linear_of(machine, compared) for compared, symbol in regions.open_comparisons.items()}
        return cls(machine, regions.spans, {symbol: one for symbol, one in made.items() if one is not None})

    @property
    def symbols(self) -> set[int]:
        """The symbols that are compared."""
        return {symbol for one in self.open.values() for symbol in one.weights}

    def outcomes(self, values: Sequence[Symbolic]) -> dict[int, int]:
        """By open symbol, the set that holds just the outcome of its comparison with these values."""
        moment = Moment(list(values))
        return {symbol: 0b10 if decide(one.compared, moment) else 0b01 for symbol, one in self.open.items()}

    def possible(self, masks: Masks) -> Split | bool:
        """Whether the comparisons' outcomes go together with the other values, or the split that is needed to tell."""
        if not self.open:
            return True
        asked = [symbol for symbol in self.open if masks[symbol] in (0b01, 0b10)]
        for symbol in sorted({index for one in asked for index in self.open[one].weights}):
            run = _first_run(masks[symbol])
            if run != masks[symbol]:
                return Split(symbol, run)
        return not asked or self._solved(masks, asked) is not False

    def values(self, masks: Masks, wanted: list[Symbolic]) -> list[Symbolic]:
        """Values near ``wanted``, which are of ``masks`` already, with the outcomes that ``masks`` ask for."""
        asked = [symbol for symbol in self.open if masks[symbol] in (0b01, 0b10)]
        if self._shows(wanted, masks, asked):
            return wanted
        point = self._solved(masks, asked)
        if isinstance(point, bool):
            return wanted
        return [point.get(index, value) for index, value in enumerate(wanted)]

    def _solved(self, masks: Masks, asked: list[int]) -> dict[int, float] | bool:
        """Values that show the outcomes asked for; False when none can, True when it cannot be told."""
        symbols = sorted({index for one in asked for index in self.open[one].weights})
        key = (tuple((one, masks[one]) for one in asked), tuple(masks[symbol] for symbol in symbols))
        if key not in self._known:
            self._known[key] = self._solve(masks, asked, symbols)
        return self._known[key]

    def _solve(self, masks: Masks, asked: list[int], symbols: list[int]) -> dict[int, float] | bool:
        ends = [self._ends(symbol, masks[symbol]) for symbol in symbols]
        if not all(self.open[one].can_be(masks[one] == 0b10, dict(zip(symbols, ends))) for one in asked):
            return False
        lows, highs = ([Fraction(end[side]) for end in ends] for side in (0, 1))

        def rows(margin: bool) -> list[Row]:
            return [row for one in asked for row in self.open[one].rows(symbols, masks[one] == 0b10, margin)]

        middle = [low / 2 + high / 2 for low, high in ends]
        target = middle
        widened = rows(True)
        if widened:
            if most_slack(widened, lows, highs)[0] < 0:
                return False
            target = [float(value) for value in most_slack(rows(False), lows, highs)[1]]
        values: list[Symbolic] = [symbol.first for symbol in self.machine.symbols]
        for share in _SHARES:
            for at, symbol in enumerate(symbols):
                value = target[at] + share * (middle[at] - target[at])
                value = float(round(value)) if self.machine.symbols[symbol].kind == "whole" else value
                values[symbol] = min(max(value, ends[at][0]), ends[at][1])
            if self._shows(values, masks, asked):
                return {symbol: float(values[symbol]) for symbol in symbols}
        self.unsure |= {one: self.open[one].compared for one in asked}
        return True

    def _shows(self, values: Sequence[Symbolic], masks: Masks, asked: list[int]) -> bool:
        moment = Moment(list(values))
        return all(decide(self.open[one].compared, moment) == (masks[one] == 0b10) for one in asked)

    def _ends(self, symbol: int, mask: int) -> tuple[float, float]:
        """The least and the greatest double of a run of regions."""
        first = self.spans[symbol][(mask & -mask).bit_length() - 1]
        last = self.spans[symbol][mask.bit_length() - 1]
        return first.least, last.most


def _first_run(mask: int) -> int:
    """The lowest regions of a set that lie side by side."""
    low = mask & -mask
    return mask & ((mask + low) ^ mask)
