"""What costumes and ways of moving have in common: what stands in for what, and the choice by which it does."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Literal

from msgspec.structs import replace

from leanstep.core.character.alternates import Alternate, Instead
from leanstep.core.character.costumes import Costume, StandIn
from leanstep.core.character.document import Character
from leanstep.core.character.edits import Path, append, change, free_name, put
from leanstep.core.character.inputs import Parameter
from leanstep.core.character.names import name_fault

Place = tuple[int, int]
"""A costume or a way of moving, and what of it stands in for something."""
Field = Literal["costumes", "alternates"]


@dataclass(frozen=True)
class Kind:
    """Where the document has it, the field with what stands in there, and the one of that which names what it stands in for."""

    field: Field
    parts: Literal["sheets", "clips"]
    of: Literal["sheet", "clip"]
    made: type[Costume] | type[Alternate]


COSTUMES = Kind("costumes", "sheets", "sheet", Costume)
WAYS = Kind("alternates", "clips", "clip", Alternate)


def place_of(character: Character, kind: Kind, by: str) -> Place | None:
    """Where a sheet or a clip stands in for another; None where it does not."""
    pairs = ((at, part) for at, one in enumerate(_all(character, kind)) for part in enumerate(getattr(one, kind.parts)))
    return next(((at, place) for at, (place, part) in pairs if part.by == by), None)


def instead(character: Character, kind: Kind, made: StandIn | Instead, name: str) -> Character:
    """The character in which something stands in for another in a costume or a way of moving of this name, and nowhere else."""
    there, of = _all(character, kind), getattr(made, kind.of)
    ones = []
    for one in (*there, *(() if name in [one.name for one in there] else (kind.made(name=name),))):
        parts = getattr(one, kind.parts)
        kept = tuple(part for part in parts if part.by != made.by)
        if one.name == name:
            kept = (*(part for part in kept if getattr(part, kind.of) != of), made)
        if kept or not parts:
            ones.append(replace(one, **{kind.parts: kept}))
    return replace(character, **{kind.field: tuple(ones)})


def without_place(character: Character, kind: Kind, by: str) -> Character:
    """The character in which a sheet or a clip stands in for none; what has nothing left is gone."""
    kept = []
    for one in _all(character, kind):
        parts = tuple(part for part in getattr(one, kind.parts) if part.by != by)
        if parts or not getattr(one, kind.parts):
            kept.append(replace(one, **{kind.parts: parts}))
    return replace(character, **{kind.field: tuple(kept)})


def _all(character: Character, kind: Kind) -> tuple[Costume | Alternate, ...]:
    found: tuple[Costume | Alternate, ...] = getattr(character, kind.field)
    return found


def by_new_choice(character: Character, at: int, field: Field = "costumes") -> Character:
    """A costume (or a way of moving) is chosen by a choice: by that by which others are, or by a new one, which begins with none."""
    parts: tuple[Costume | Alternate, ...] = getattr(character, field)
    names = [_word(one.name, field) for one in parts]
    shared = next((one.parameter for one in parts if one.parameter), "")
    known = {one.name: place for place, one in enumerate(character.parameters) if one.kind == "choice"}
    if shared in known:
        place, parameter = known[shared], character.parameters[known[shared]]
        value = free_name(names[at], list(parameter.choices), "_")
        parameter = replace(parameter, choices=(*parameter.choices, value))
        return _chosen_by(put(character, ("parameters", place), parameter), (field, at), shared, value)
    taken = [one.name for one in character.parameters] + [one.name for one in character.controls.buttons]
    wanted, none = ("wears", "plain") if field == "costumes" else ("moves", "usual")
    name = free_name(wanted, [*taken, *(one.name for one in character.controls.sticks)], "_")
    made = Parameter(name=name, kind="choice", choices=(free_name(none, names, "_"), names[at]))
    return _chosen_by(append(character, ("parameters",), made), (field, at), name, names[at])


def _chosen_by(character: Character, path: Path, parameter: str, value: str) -> Character:
    made: Character = change(character, path, parameter=parameter, value=value)
    return made


def _word(name: str, field: str) -> str:
    """A name as it can stand in a condition."""
    word = re.sub(r"\W+", "_", name, flags=re.ASCII).strip("_") or field.removesuffix("s")
    return word if name_fault(word) is None else f"in_{word}"
