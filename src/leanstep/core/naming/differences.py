"""What differs between two versions of a character, in words."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any

from leanstep.core.character.document import Character
from leanstep.core.character.files import plain
from leanstep.core.character.part import Part, exactly
from leanstep.core.naming.transitions import names_of
from leanstep.core.naming.wording import described

_LISTS = (
    ("parameters", "parameter"),
    ("sheets", "sheet"),
    ("clips", "clip"),
    ("blends", "blend space"),
    ("costumes", "costume"),
    ("accessories", "accessory"),
    ("alternates", "way of moving"),
    ("squashes", "squash"),
    ("leans", "lean"),
    ("takes", "take"),
)


def differences(before: Character, after: Character) -> list[str]:
    """Every difference as a clause, in the order of the document; empty when the two are the same."""
    return list(_differences(before, after))


def _differences(before: Character, after: Character) -> Iterator[str]:
    for field in ("name", "rate", "flicker_window"):
        old, new = getattr(before, field), getattr(after, field)
        if old != new:
            yield f"{field.replace('_', ' ')} is {_said(new)} instead of {_said(old)}"
    for field, what in _LISTS:
        yield from _parts(what, getattr(before, field), getattr(after, field))
    for what in ("buttons", "sticks"):
        yield from _parts(what[:-1], getattr(before.controls, what), getattr(after.controls, what))
    if before.assumptions != after.assumptions:
        yield "the assumptions differ"
    yield from _layers(before, after)
    for field in ("body", "course"):
        yield from _fields(f"the {field}", getattr(before, field), getattr(after, field))


def _layers(before: Character, after: Character) -> Iterator[str]:
    old, new = ({layer.name: at for at, layer in enumerate(one.layers)} for one in (before, after))
    yield from _gone_and_come("layer", list(old), list(new))
    for name in (name for name in old if name in new):
        one, other = before.layers[old[name]], after.layers[new[name]]
        if one != other:
            yield from _parts("state", one.states, other.states)
            yield from _transitions(before, after, old[name], new[name])
            if (one.start_name, one.lane_names) != (other.start_name, other.lane_names):
                yield f"layer {name} starts elsewhere or has other lanes"


def _transitions(before: Character, after: Character, old: int, new: int) -> Iterator[str]:
    one, other = ({name: at for at, name in enumerate(names_of(*layer))} for layer in ((before, old), (after, new)))
    for name, at in one.items():
        if name not in other:
            yield f"the transition {described(before.layers[old].transitions[at])} is gone"
    for name, at in other.items():
        there = after.layers[new].transitions[at]
        if name not in one:
            yield f"there is a new transition {described(there)}"
        elif before.layers[old].transitions[one[name]] != there:
            yield from _fields(f"the transition {described(there)}", before.layers[old].transitions[one[name]], there)
    if [name for name in one if name in other] != [name for name in other if name in one]:
        yield f"transitions of layer {after.layers[new].name} are tried in another order"


def _parts(what: str, before: Sequence[Any], after: Sequence[Any]) -> Iterator[str]:
    old, new = ({one.name: one for one in parts} for parts in (before, after))
    yield from _gone_and_come(what, list(old), list(new))
    for name in new:
        if name in old and old[name] != new[name]:
            yield from _fields(f"{what} {name}", old[name], new[name])
    if [name for name in old if name in new] != [name for name in new if name in old]:
        yield f"the {what}s stand in another order"


def _gone_and_come(what: str, before: list[str], after: list[str]) -> Iterator[str]:
    yield from (f"{what} {name} is gone" for name in before if name not in after)
    yield from (f"there is a new {what} {name}" for name in after if name not in before)


def _fields(where: str, before: Part, after: Part) -> Iterator[str]:
    """The fields of a part that differ; short values are said."""
    for field in before.__struct_fields__:
        old, new = getattr(before, field), getattr(after, field)
        if exactly(old, new):
            continue
        name = {"source": "from", "from_lane": "lane"}.get(field, field).replace("_", " ")
        if all(isinstance(one, str | int | float | bool | None) for one in (old, new)):
            yield f"{where}: {name} is {_said(new)} instead of {_said(old)}"
        else:
            yield f"{where}: {name} differ" if name.endswith("s") else f"{where}: {name} differs"


def _said(value: object) -> str:
    if isinstance(value, bool):
        return "on" if value else "off"
    if value is None or value == "":
        return "not given"
    return f"“{value}”" if isinstance(value, str) else f"{plain(value)}"
