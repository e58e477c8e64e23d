"""What a field of the document means beyond its type, said beside it in ``Annotated``: what it names, its bounds, and it in words.

Renaming, removing, "who uses this?", the rules of a document, its schema and the reference of the format all follow from these.
A plain text among the annotations of a field says what it is.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from functools import cache, reduce
from operator import or_
from types import NoneType, UnionType
from typing import Annotated, Any, Literal, Union, get_args, get_origin, get_type_hints

import msgspec

from leanstep.core.character.part import Part

Gone = Literal["field", "item", "part", "stays"]
"""What goes with a thing that is removed: the ``field`` that names it is emptied, the ``item`` of a list it lies in is taken out, or
the ``part`` it belongs to; or it ``stays``, to be mended by hand."""
SYMBOL = "symbol"
"""The kind of whatever conditions can read: a parameter, a button, a part of a stick."""


@dataclass(frozen=True)
class Names:
    """The name of something of a ``kind``; where several kinds are possible, the field ``by`` says which (``of``), and for all other
    values it is ``kind``, or no name.

    A state or a lane belongs to the layer its part names, else to the one it lies in, else to the first.  An empty name is none
    where the field may be left out, but where ``empty`` says so.
    """

    kind: str = ""
    gone: Gone = "field"
    by: str = ""
    of: Mapping[str, str] = field(default_factory=dict, hash=False)
    empty: bool = False
    defines = False

    def kind_in(self, part: Part) -> str:
        """The kind of what it names in a part; empty when it names nothing."""
        return self.of.get(getattr(part, self.by), self.kind) if self.by else self.kind


@dataclass(frozen=True)
class Defines(Names):
    """The name something has from here."""

    gone: Gone = "item"
    defines = True


@dataclass(frozen=True)
class ChoiceOf:
    """A value that may be a choice of the parameter that another field names."""

    parameter: str
    gone: Gone = "field"


@dataclass(frozen=True)
class Settings:
    """Values by the name of what they set."""


@dataclass(frozen=True)
class OwnNames:
    """The names in the parts it holds are those of this document only where the field ``by`` has the value ``of``."""

    by: str
    of: str

    def hold_in(self, part: Part) -> bool:
        """Whether they are, in a part."""
        return bool(getattr(part, self.by) == self.of)


@dataclass(frozen=True)
class Condition:
    """A text in the language of conditions, where the field ``by`` has the value ``of``."""

    by: str = ""
    of: str = ""

    def holds_in(self, part: Part) -> bool:
        """Whether it is read at all in a part."""
        return not self.by or getattr(part, self.by) == self.of


@dataclass(frozen=True)
class Within:
    """A number, or every number of several, from ``low`` to ``high``, in a ``unit``; without the ends where they are ``open_low`` or
    ``open_high``."""

    low: float = -float("inf")
    high: float = float("inf")
    unit: str = ""
    open_low: bool = False
    open_high: bool = False

    def holds(self, value: float) -> bool:
        """Whether a number is in it."""
        above = value > self.low if self.open_low else value >= self.low
        return above and (value < self.high if self.open_high else value <= self.high)

    @property
    def words(self) -> str:
        """The bounds in words: ``from 0 to 10 seconds``."""
        unit = f" {self.unit}" if self.unit else ""
        low = f"above {_figure(self.low)}" if self.open_low else f"from {_figure(self.low)}"
        if self.high == float("inf"):
            return f"{low}{unit}" if self.open_low else f"{low} on{unit}"
        return f"{low} to {'below ' if self.open_high else ''}{_figure(self.high)}{unit}"


def _figure(number: float) -> str:
    """A number as people write it: 1 000 000."""
    return f"{number:,.0f}".replace(",", " ") if 1e4 <= abs(number) < 1e9 else f"{number:g}"


@dataclass(frozen=True)
class Numbers:
    """So many numbers (or none, where the field may be left out) from ``low`` to ``high``, ``like`` so; the last two are a ``size``,
    above 0.  Of several, in a list or by number, each."""

    count: int
    like: str
    low: float = -float("inf")
    high: float = float("inf")
    size: bool = False

    def holds(self, values: tuple[float, ...]) -> bool:
        """Whether it is so many, and they may be so."""
        inside = all(self.low <= value <= self.high for value in values)
        return len(values) == self.count and inside and not (self.size and min(values[-2:]) <= 0)


@dataclass(frozen=True)
class ByNumber:
    """The keys are numbers, of ``what``, from 0."""

    what: str


@dataclass(frozen=True)
class Field:
    """A field of a part: its name here and in a file, its type, its default (``msgspec.NODEFAULT`` where it must be written), what it
    is in words, and its other annotations.  ``part``: the struct it holds, or holds ``many`` of."""

    name: str
    key: str
    type: Any
    default: Any
    about: str
    notes: tuple[Any, ...]
    part: type[Part] | None
    many: bool

    @property
    def required(self) -> bool:
        """Whether it must be written."""
        return self.default is msgspec.NODEFAULT

    def note(self, kind: type[Any]) -> Any:
        """Its annotation of a kind, or None."""
        return next((one for one in self.notes if isinstance(one, kind)), None)

    def parts(self, owner: Part) -> Iterator[tuple[int | None, Any]]:
        """The parts it holds, with their number where there may be several."""
        value = getattr(owner, self.name)
        if self.many:
            yield from enumerate(value)
        elif value is not None:
            yield None, value


@cache
def fields_of(kind: type[Part]) -> tuple[Field, ...]:
    """The fields of a part, in the order in which they are written, but for ``extra``."""
    hints = get_type_hints(kind, include_extras=True)
    return tuple(_field(one, hints[one.name]) for one in msgspec.structs.fields(kind) if one.name != "extra")


def _field(info: msgspec.structs.FieldInfo, hint: Any) -> Field:
    default = info.default if info.default_factory is msgspec.NODEFAULT else info.default_factory()
    plain, notes = _split(hint)
    inner, many = plain, False
    if get_origin(plain) is tuple:
        inner, many = get_args(plain)[0], True
    if get_origin(inner) in (Union, UnionType):
        inner = next((one for one in get_args(inner) if one is not NoneType), inner)
    part = inner if isinstance(inner, type) and issubclass(inner, Part) else None
    about = " ".join(one for one in notes if isinstance(one, str))
    notes = tuple(one for one in notes if not isinstance(one, str))
    return Field(info.name, info.encode_name, plain, default, about, notes, part, many and part is not None)


def _split(hint: Any) -> tuple[Any, tuple[Any, ...]]:
    """A type and its annotations, those of what may be None among them."""
    if get_origin(hint) is Annotated:
        plain, *notes = get_args(hint)
        inner, more = _split(plain)
        return inner, (*more, *notes)
    if get_origin(hint) in (Union, UnionType):
        split = [_split(one) for one in get_args(hint)]
        plain = reduce(or_, (one for one, _ in split))
        return plain, tuple(note for _, notes in split for note in notes)
    return hint, ()
