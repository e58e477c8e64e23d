"""The parts of a condition: what stands between its *and*, *or* and *not*, and what it comes to by the truth of these."""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Sequence

from leanstep.core.conditions import expression as x
from leanstep.core.conditions import tree
from leanstep.core.conditions.printing import reading, text_of

Shape = int | tuple[str, tuple["Shape", ...]]
"""A condition of which only the structure counts: the number of a part, or ``and``, ``or``, ``not`` over others."""
Part = tuple[tree.Node, x.Expression]
"""A part as it is written, and compiled."""

MOST_SETS = 64
"""Sets of parts that are kept while the smallest are looked for."""


def parts_of(node: tree.Node, compiled: x.Expression) -> tuple[Shape, list[Part]]:
    """The structure of a condition and its parts, in the order in which they are written."""
    parts: list[Part] = []
    return _shape(node, compiled, parts), parts


def _shape(node: tree.Node, compiled: x.Expression, parts: list[Part]) -> Shape:
    match node, compiled:
        case (tree.All(written), x.Every(meant)) if len(written) == len(meant):
            return "and", tuple(_shape(one, other, parts) for one, other in zip(written, meant))
        case (tree.Any(written), x.Some(meant)) if len(written) == len(meant):
            return "or", tuple(_shape(one, other, parts) for one, other in zip(written, meant))
        case (tree.Not(tree.All() | tree.Any() as inner), x.Inverse(other)):
            return "not", (_shape(inner, other, parts),)
    parts.append((node, compiled))
    return len(parts) - 1


def read_aloud(node: tree.Node) -> str:
    """A part in words."""
    return reading(node).removeprefix("when ") or text_of(node)


def worth(shape: Shape, values: Sequence[bool]) -> bool:
    """What a condition comes to by the truth of its parts."""
    if isinstance(shape, int):
        return values[shape]
    kind, inner = shape
    if kind == "not":
        return not worth(inner[0], values)
    each = (worth(one, values) for one in inner)
    return all(each) if kind == "and" else any(each)


def deciding(shape: Shape, values: Sequence[bool]) -> list[int]:
    """The parts on which a condition hangs: those of which each alone, were it otherwise, would turn it."""
    now = worth(shape, values)
    turned = ([value != (at == other) for other, value in enumerate(values)] for at in range(len(values)))
    return [at for at, one in enumerate(turned) if worth(shape, one) != now]


def fewest(shape: Shape, values: Sequence[bool]) -> list[tuple[int, ...]]:
    """The smallest sets of parts whose change makes a condition true, in the order in which they are written."""
    sets = _changes(shape, values, True)
    least = min(map(len, sets), default=0)
    return [tuple(sorted(one)) for one in sets if len(one) == least and one]


def _changes(shape: Shape, values: Sequence[bool], wanted: bool) -> list[frozenset[int]]:
    """Sets of parts whose change gives a condition the wanted value."""
    if isinstance(shape, int):
        return [frozenset() if values[shape] == wanted else frozenset({shape})]
    kind, inner = shape
    if kind == "not":
        return _changes(inner[0], values, not wanted)
    each = [_changes(one, values, wanted) for one in inner]
    if (kind == "and") != wanted:
        return _smallest(itertools.chain.from_iterable(each))
    found = [frozenset[int]()]
    for some in each:
        found = _smallest(one | other for one in found for other in some)
    return found


def _smallest(sets: Iterable[frozenset[int]]) -> list[frozenset[int]]:
    return sorted(dict.fromkeys(sets), key=len)[:MOST_SETS]
