"""The tree a condition is parsed to: what the person wrote, names not yet looked up.

``at`` is the place of the word in the text, counted from 0; it does not take part in comparisons, so that two
conditions that mean the same text are equal wherever they stand.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, field, fields


@dataclass(frozen=True)
class Node:
    """Base of the tree."""

    at: int = field(default=0, compare=False, kw_only=True)


@dataclass(frozen=True)
class Truth(Node):
    value: bool


@dataclass(frozen=True)
class Number(Node):
    value: float


@dataclass(frozen=True)
class Duration(Node):
    """An amount of time in the unit it was written with: ``s``, ``ms`` or ``ticks``."""

    amount: float
    unit: str


@dataclass(frozen=True)
class Name(Node):
    """A parameter, a stick axis or a choice."""

    name: str


@dataclass(frozen=True)
class Edge(Node):
    """``BUTTON pressed``, ``released`` or ``held``."""

    button: str
    kind: str


@dataclass(frozen=True)
class Buffered(Node):
    """``BUTTON buffered d``: pressed within d, and that press has not been used."""

    button: str
    duration: Duration


@dataclass(frozen=True)
class Stay(Node):
    """How long the active state has been active."""


@dataclass(frozen=True)
class ClipDone(Node):
    pass


@dataclass(frozen=True)
class ClipAt(Node):
    """The playhead, as a share of the clip's length, is at or past ``share``."""

    share: float


@dataclass(frozen=True)
class SpanOn(Node):
    name: str


@dataclass(frozen=True)
class PhaseOn(Node):
    """Some layer shows a clip that stands in a phase of this kind."""

    kind: str


@dataclass(frozen=True)
class Since(Node):
    """The time since a state was last left for another; ``layer`` is empty for the condition's own.

    ``at`` and ``end`` are where the state's name begins and ends in the text.
    """

    layer: str
    state: str
    end: int = field(default=0, compare=False, kw_only=True)


@dataclass(frozen=True)
class InState(Node):
    """A layer is in a state; ``at`` and ``end`` are where their names begin and end in the text."""

    layer: str
    state: str
    end: int = field(default=0, compare=False, kw_only=True)


@dataclass(frozen=True)
class Arithmetic(Node):
    operator: str
    left: Node
    right: Node


@dataclass(frozen=True)
class Negative(Node):
    operand: Node


@dataclass(frozen=True)
class Call(Node):
    """``abs``, ``min``, ``max`` or ``turn`` of its operands."""

    function: str
    operands: tuple[Node, ...]


@dataclass(frozen=True)
class Compare(Node):
    operator: str
    left: Node
    right: Node


@dataclass(frozen=True)
class Between(Node):
    operand: Node
    low: Node
    high: Node


@dataclass(frozen=True)
class All(Node):
    operands: tuple[Node, ...]


@dataclass(frozen=True)
class Any(Node):
    operands: tuple[Node, ...]


@dataclass(frozen=True)
class Not(Node):
    operand: Node


@dataclass(frozen=True)
class Timed(Node):
    """``C for d`` or ``C within d``: ``kind`` is the word."""

    kind: str
    operand: Node
    duration: Duration


def children(node: Node) -> Iterator[Node]:
    """The nodes directly below ``node``, in reading order."""
    for part in fields(node):
        value = getattr(node, part.name)
        if isinstance(value, Node):
            yield value
        elif isinstance(value, tuple):
            yield from value


def narrower(node: Node, other: Node) -> bool:
    """Whether a condition is, as it is written, a special case of another: all that the other asks for, or something stricter, is
    among what it asks for itself."""
    asked = node.operands if isinstance(node, All) else (node,)
    wanted = other.operands if isinstance(other, All) else (other,)
    return asked != wanted and all(any(one == each or _stricter(one, each) for one in asked) for each in wanted)


def _stricter(one: Node, other: Node) -> bool:
    """Whether a comparison with a number holds only where another one does."""
    if not (isinstance(one, Compare) and isinstance(other, Compare) and one.left == other.left):
        return False
    if not (isinstance(one.right, Number) and isinstance(other.right, Number)):
        return False
    a, b = one.right.value, other.right.value
    if one.operator in (">", ">=") and other.operator in (">", ">="):
        return a > b or (a == b and other.operator == ">=")
    if one.operator in ("<", "<=") and other.operator in ("<", "<="):
        return a < b or (a == b and other.operator == "<=")
    return False


def ticks_of(duration: Duration, rate: float) -> int:
    """Whole ticks of a duration, rounded up, at least 0; ``rate`` in ticks a second.

    A duration of d seconds is ceil(d·rate − 1e-9) ticks.
    """
    if duration.unit == "ticks":
        return max(0, math.ceil(min(duration.amount, 1e15)))
    seconds = duration.amount if duration.unit == "s" else duration.amount / 1000
    return max(0, math.ceil(min(seconds * rate, 1e15) - 1e-9))
