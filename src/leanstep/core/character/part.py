"""The base of everything in a document."""

from __future__ import annotations

import math
from typing import Any

import msgspec


class Part(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """Base of everything in a document."""

    extra: dict[str, Any] = {}


class Valued(Part, frozen=True, kw_only=True):
    """A part with values of several kinds, in which 1 and true are not the same."""

    def __eq__(self, other: object) -> bool:
        if msgspec.Struct.__eq__(self, other) is not True:
            return False
        return all(exactly(getattr(self, name), getattr(other, name)) for name in self.__struct_fields__)

    def __hash__(self) -> int:
        return msgspec.Struct.__hash__(self)


def exactly(one: Any, other: Any) -> bool:
    """Whether two values that are equal are also of the same kind: 1 is not true, and 0 not minus 0."""
    if isinstance(one, bool | int | float):
        return isinstance(one, bool) == isinstance(other, bool) and one == other and _sign(one) == _sign(other)
    if isinstance(one, dict) and isinstance(other, dict):
        return one.keys() == other.keys() and all(exactly(value, other[key]) for key, value in one.items())
    if isinstance(one, tuple) and isinstance(other, tuple):
        return len(one) == len(other) and all(map(exactly, one, other))
    return bool(one == other)


def _sign(number: float) -> float:
    return math.copysign(1.0, number)
