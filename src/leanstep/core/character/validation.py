"""Rules a document must keep to be opened at all.

What a person could be half way through (a condition that names something unknown, a missing image) is not here: such a
character opens, and the fault is a finding.  Bounds, counts and names follow from what fields say of themselves
(:mod:`leanstep.core.character.annotations`); here is what several fields must be together.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from functools import cache, partial
from typing import Any

from leanstep.core.character.annotations import ByNumber, Defines, Field, Numbers, Within, fields_of
from leanstep.core.character.document import Character
from leanstep.core.character.names import IN_CONDITIONS, name_fault
from leanstep.core.character.part import Part
from leanstep.core.character.validation_together import TOGETHER, Fault
from leanstep.core.errors import LeanStepError

KINDS = {"BlendSpace": "blend space"}
"""Parts that are not called as their struct is."""


def validate(character: Character, label: str) -> None:
    """Raise :class:`LeanStepError` for the first rule the document breaks."""
    check(character, label, character)


def check(part: Part, label: str, document: Character) -> None:
    """Raise :class:`LeanStepError` for the first rule a part of a document breaks; ``label`` says which part it is."""
    for trail, (where, reason, way_out) in _faults(part, (), document):
        place = [label, *(_in_words(*step) for step in trail), where]
        raise LeanStepError(", ".join(one for one in place if one), reason, way_out)


Trail = tuple[tuple[Part, str, int | None], ...]
"""The parts that lead to one, each with the field and the number it has there."""


def _faults(part: Part, trail: Trail, document: Character) -> Iterator[tuple[Trail, Fault]]:
    """The rules a part breaks, and those in it."""
    for field, rules in _rules(type(part)):
        value = getattr(part, field.name)
        for rule in rules:
            for where, *said in rule(value, field.key):
                yield trail, (where, said[0], said[1])
        if field.part is not None:
            if field.many:
                yield from ((trail, fault) for fault in _unique(field, value, document))
            for number, one in field.parts(part):
                yield from _faults(one, (*trail, (one, field.key, number)), document)
    for together in TOGETHER.get(type(part), ()):
        yield from ((trail, fault) for fault in together(part, document))


def _in_words(part: Part, key: str, number: int | None) -> str:
    """A part in words: ``clip 'walk'``, ``cel 3``, ``body``."""
    if number is None:
        return key
    kind = KINDS.get(type(part).__name__, type(part).__name__.lower())
    named = any(isinstance(note, Defines) for field in fields_of(type(part)) for note in field.notes)
    return f"{kind} {part.name!r}" if named and isinstance(part.name, str) else f"{kind} {number}"  # type: ignore[attr-defined]


Rule = Callable[[Any, str], Iterator[Fault]]


@cache
def _rules(kind: type[Part]) -> tuple[tuple[Field, tuple[Rule, ...]], ...]:
    """The fields of a part that have rules, or parts of their own."""
    found = []
    for field in fields_of(kind):
        rules: list[Rule] = [_finite] if _may_be_float(field) else []
        rules += [partial(_bounded, one) for one in field.notes if isinstance(one, Within)]
        rules += [partial(_counted, one, field.default == ()) for one in field.notes if isinstance(one, Numbers)]
        rules += [partial(_numbered, one) for one in field.notes if isinstance(one, ByNumber)]
        if rules or field.part is not None:
            found.append((field, tuple(rules)))
    return tuple(found)


def _may_be_float(field: Field) -> bool:
    return field.part is None and "float" in str(field.type)


def _each(value: Any, place: str) -> Iterator[tuple[Any, str]]:
    """A value, or every value of several, with where it is."""
    if isinstance(value, tuple):
        for number, one in enumerate(value):
            yield from _each(one, f"{place}[{number}]")
    elif isinstance(value, dict):
        for key, one in value.items():
            yield from _each(one, f"{place}.{key}")
    elif value is not None:
        yield value, place


def _finite(value: Any, place: str) -> Iterator[Fault]:
    if isinstance(value, float) and math.isfinite(value):
        return
    for one, where in _each(value, place):
        if isinstance(one, float) and not math.isfinite(one):
            yield where, "the number is not finite", "Write an ordinary number."


def _bounded(bounds: Within, value: Any, place: str) -> Iterator[Fault]:
    for one, where in _each(value, place):
        if not isinstance(one, str) and not bounds.holds(one):
            yield where, f"{one:g} is out of range", f"Write a number {bounds.words}."


def _counted(numbers: Numbers, optional: bool, value: Any, place: str) -> Iterator[Fault]:
    several = (
        value.values() if isinstance(value, dict) else value if value and isinstance(value[0], tuple) else (value,)
    )
    for one in several:
        if not (numbers.holds(one) or (optional and not one)):
            yield place, f"it cannot be {list(one)}", f"Write {numbers.like}."


def _numbered(keys: ByNumber, value: Any, place: str) -> Iterator[Fault]:
    for key in value:
        if not key.isdigit():
            yield place, f"{key!r} is no number", f"Write numbers of {keys.what}, from 0."


def _defines(field: Field) -> Defines | None:
    """What the parts of a field define by their names."""
    assert field.part is not None
    return next((f.note(Defines) for f in fields_of(field.part) if f.name == "name"), None)


def _unique(field: Field, parts: tuple[Any, ...], document: Character) -> Iterator[Fault]:
    """Names must be fit, and no two may be the same; marks may share one at different times."""
    defines = _defines(field)
    if defines is None:
        return
    seen: set[object] = {one.name for one in document.parameters} if defines.kind in ("button", "stick") else set()
    seen |= {one.name for one in document.controls.buttons} if defines.kind == "stick" else set()
    for part in parts:
        if fault := name_fault(part.name, defines.kind in IN_CONDITIONS):
            yield field.key, fault, "Rename it."
        key = (part.name, part.at) if defines.kind == "mark" else part.name
        if key in seen:
            when = f" at {part.at:g}" if defines.kind == "mark" else ""
            yield (
                field.key,
                f"two of them are called {part.name!r}{when}",
                f"{'Move' if when else 'Rename'} one of them.",
            )
        seen.add(key)
