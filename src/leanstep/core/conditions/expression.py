"""The compiled form of a condition: names looked up, durations in ticks, memories numbered.

Every engine reads this form and nothing else.  A *symbol* is anything an input can set: a parameter, a stick axis
(``stick.x``) or a button.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, fields
from fractions import Fraction
from functools import cache

NUMERIC = ("number", "whole", "bearing")
"""The kinds whose values are numbers."""

HAIR = Fraction(1, 2**30)
"""The share by which a change may go beyond its limit, because doubles are rounded."""


@dataclass(frozen=True)
class Symbol:
    """One value conditions read.

    ``kind`` is number, whole, bearing, flag, choice, pulse or button; ``owner`` game, controls, body, graph or formula.  ``given`` is
    a declared rest value, ``start`` what a graph parameter starts at; ``spacing`` the fewest ticks from one pulse to the
    next, ``step`` the most a number may change from one tick to the next (0: no limit).  A ``countdown`` goes down by one on
    every tick, after what it is given.
    """

    name: str
    kind: str
    owner: str
    low: float = 0.0
    high: float = 1.0
    choices: tuple[str, ...] = ()
    wobble: float = 0.0
    unit: str = ""
    given: float | bool | str | None = None
    start: float | bool | str | None = None
    spacing: int = 0
    step: Fraction = Fraction(0)
    standing: float | bool | str | None = None
    """What the body sets it to while it stands on a floor with nothing held; None where that is no matter of the body."""
    countdown: bool = False

    @property
    def rest(self) -> float | bool | str:
        """The declared value at rest; else 0 or the nearest value in range, false, or the first choice."""
        if self.given is not None:
            return self.given
        if self.kind in ("flag", "pulse", "button"):
            return False
        if self.kind == "choice":
            return self.choices[0]
        if self.kind == "bearing":
            return 0.0
        return min(max(0.0, self.low), self.high)

    @property
    def alone(self) -> float | bool | str:
        """The value of a character that is left alone: where the body sets it and no rest value is declared, that of a figure that
        stands on a floor."""
        if self.given is not None or self.standing is None:
            return self.rest
        return self.standing if isinstance(self.standing, bool | str) else min(max(self.standing, self.low), self.high)

    @property
    def free(self) -> bool:
        """Whether it comes from outside: a proof may give it any value."""
        return self.owner in ("game", "controls", "body")

    @property
    def first(self) -> float | bool | str:
        """The value before tick 0."""
        return self.rest if self.start is None or self.owner != "graph" else self.start

    @property
    def momentary(self) -> bool:
        """Whether a value lasts one tick only."""
        return self.kind == "pulse"

    @property
    def lasts(self) -> bool:
        """Whether a value that is set stays until another one is."""
        return not self.momentary and not self.countdown


class Expression:
    """Base of the compiled form."""


@dataclass(frozen=True)
class Constant(Expression):
    value: bool


@dataclass(frozen=True)
class IsOn(Expression):
    """A flag or pulse is true, or a button is held."""

    symbol: int


@dataclass(frozen=True)
class Pressed(Expression):
    """The button is held on this tick and was not on the tick before."""

    symbol: int


@dataclass(frozen=True)
class Released(Expression):
    symbol: int


@dataclass(frozen=True)
class Compared(Expression):
    """A comparison of two amounts."""

    operator: str
    left: Amount
    right: Amount


@dataclass(frozen=True)
class Chosen(Expression):
    """A choice has one value."""

    symbol: int
    choice: str


@dataclass(frozen=True)
class SameChoice(Expression):
    """Two choices have the same value."""

    symbol: int
    other: int


@dataclass(frozen=True)
class Stayed(Expression):
    """The stay of ``layer``'s active state compared with a count of ticks."""

    layer: int
    operator: str
    ticks: int


@dataclass(frozen=True)
class Buffered(Expression):
    """The button was pressed less than ``ticks`` ticks ago and no transition has used that press."""

    symbol: int
    ticks: int


@dataclass(frozen=True)
class SinceLeft(Expression):
    """The ticks since ``state`` of ``layer`` was last left for another state, compared with a count of ticks."""

    layer: int
    state: int
    operator: str
    ticks: int


@dataclass(frozen=True)
class ClipOver(Expression):
    """The clip of ``layer``'s active state has played to its end at least once."""

    layer: int


@dataclass(frozen=True)
class ClipAt(Expression):
    """The playhead of ``layer``'s active state, as a share of the clip's length, is at or past ``share``."""

    layer: int
    share: float


def phase_span(kind: str) -> str:
    """The name of the span that phases of a kind are."""
    return f"phase {kind}"


def span_words(name: str) -> str:
    """How a condition asks for a span, or for the phases that are one."""
    return name if " " in name else f"span {name}"


@dataclass(frozen=True)
class SpanOn(Expression):
    """A span of this name is on in some layer."""

    name: str


@dataclass(frozen=True)
class Active(Expression):
    layer: int
    state: int


@dataclass(frozen=True)
class Remembered(Expression):
    """The value, on this tick, of memory ``index``."""

    index: int


@dataclass(frozen=True)
class Every(Expression):
    operands: tuple[Expression, ...]


@dataclass(frozen=True)
class Some(Expression):
    operands: tuple[Expression, ...]


@dataclass(frozen=True)
class Inverse(Expression):
    operand: Expression


MEMORY_KINDS = (
    "for",
    "within",
)
"""The kinds of memories, in the order of their numbers."""


@dataclass(frozen=True)
class Memory:
    """``operand`` for/within the last ``ticks`` ticks (at least 1: with 0 a memory means its operand).

    It is followed by a counter of whole ticks, from 0 to ``ticks``: for ``for`` it goes up while its operand is true, for ``within``
    down from ``ticks`` once that is no longer true.
    """

    kind: str
    operand: Expression
    ticks: int

    def after(self, counter: int, operand: bool) -> int:
        """The counter after a tick on which the operand was ``operand``."""
        if self.kind == "for":
            return min(counter + 1, self.ticks) if operand else 0
        return self.ticks if operand else max(counter - 1, 0)

    def holds(self, counter: int) -> bool:
        """What the memory says with this counter."""
        return counter > 0 if self.kind == "within" else counter >= self.ticks

    @property
    def strict(self) -> bool:
        """Whether it holds on a tick when its operand does *and* the past allows it; else when either is so."""
        return self.kind != "within"

    @property
    def enough(self) -> int:
        """The counter before a tick from which on the past allows it to hold."""
        return 2 if self.kind == "within" else self.ticks - 1

    def told_apart(self, counter: int) -> int:
        """The counter as far as the ticks to come can tell."""
        if self.kind == "for":
            return min(counter, self.ticks - 1)
        return counter if counter > 1 else 0

    @property
    def tells_operand(self) -> bool:
        """Whether the counter says what the operand was on the last tick."""
        return self.kind in ("for", "within")


class Amount(Expression):
    """A numeric part of a comparison."""


@dataclass(frozen=True)
class Fixed(Amount):
    value: float


@dataclass(frozen=True)
class Value(Amount):
    symbol: int


@dataclass(frozen=True)
class Computed(Amount):
    """``operator`` is + - * / abs min max neg, turn (from one bearing to another) or bearing (a number taken modulo 360)."""

    operator: str
    operands: tuple[Amount, ...]


KNOWN = Stayed | ClipOver | ClipAt | SpanOn | Active | SinceLeft | Buffered
"""Atoms about time and states, which the situation alone decides."""

TIMED = KNOWN | Pressed | Released
"""Atoms about more than the values of a tick; what is remembered apart."""


def parts(expression: Expression) -> Iterator[Expression]:
    """``expression`` and everything below it, in the order it is written."""
    waiting = [expression]
    while waiting:
        part = waiting.pop()
        yield part
        for name in _below(part.__class__):  # type: ignore[arg-type]
            value = getattr(part, name)
            waiting.extend(value[::-1] if isinstance(value, tuple) else (value,))


def below(expression: Expression) -> Iterator[Expression]:
    """The expressions directly below one, the last first."""
    for name in _below(expression.__class__):  # type: ignore[arg-type]
        value = getattr(expression, name)
        yield from value[::-1] if isinstance(value, tuple) else (value,)


@cache
def _below(kind: type) -> tuple[str, ...]:
    """The fields of a kind of expression that hold expressions, the last first."""
    return tuple(one.name for one in fields(kind) if "Expression" in str(one.type) or "Amount" in str(one.type))[::-1]


def symbols_in(expression: Expression) -> set[int]:
    """Indices of the symbols the expression reads."""
    return {index for part in parts(expression) for index in named_by(part)}


def named_by(part: Expression) -> tuple[int, ...]:
    """Indices of the symbols a part reads itself, without what lies below it."""
    return tuple(getattr(part, name) for name in _symbols(part.__class__))  # type: ignore[arg-type]


@cache
def _symbols(kind: type) -> tuple[str, ...]:
    """The fields of a kind of expression that are symbols."""
    return tuple(one.name for one in fields(kind) if one.name in ("symbol", "other"))


def holds(operator: str, left: float, right: float) -> bool:
    """A comparison of two numbers."""
    match operator:
        case "<":
            return left < right
        case "<=":
            return left <= right
        case "=":
            return left == right
        case "!=":
            return left != right
        case ">":
            return left > right
    return left >= right
