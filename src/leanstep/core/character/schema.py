"""What may stand in a character file: its JSON Schema, and the reference of its fields for people."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, Literal, get_args, get_origin

import msgspec

from leanstep.core.character.annotations import ByNumber, Field, Numbers, Within, fields_of
from leanstep.core.character.document import Character
from leanstep.core.character.part import Part


def schema() -> dict[str, Any]:
    """The JSON Schema of a character file (draft 2020-12).  Unknown fields are allowed: they are kept."""
    made = msgspec.json.schema(Character)
    definitions = made["$defs"]
    for kind in parts():
        one = definitions[kind.__name__]
        one["description"] = _text(kind.__doc__ or "")
        one["properties"].pop("extra", None)
        for field in fields_of(kind):
            _describe(one["properties"][field.key], field)
    definitions["Character"]["required"] = ["leanstep"]
    return made | {"$schema": "https://json-schema.org/draft/2020-12/schema", "title": "Lean Step character"}


def parts() -> list[type[Part]]:
    """Every struct of a document, each before those it holds."""
    found: list[type[Part]] = [Character]
    for kind in found:
        found += [one.part for one in fields_of(kind) if one.part is not None and one.part not in found]
    return list(dict.fromkeys(found))


def _text(words: str) -> str:
    """Words of a docstring or of a field on one line, as Markdown."""
    return " ".join(words.replace("``", "`").split())


def _describe(made: dict[str, Any], field: Field) -> None:
    made["description"] = _text(field.about)
    for note in field.notes:
        if isinstance(note, Within):
            for number in _numbers(made):
                low = "exclusiveMinimum" if note.open_low else "minimum"
                high = "exclusiveMaximum" if note.open_high else "maximum"
                number |= {low: note.low} if note.low > -float("inf") else {}
                number |= {high: note.high} if note.high < float("inf") else {}
        if isinstance(note, Numbers):
            for items in _lists_of_numbers(made):
                items |= {"minItems": 0 if field.default == () else note.count, "maxItems": note.count}
        if isinstance(note, ByNumber):
            made["propertyNames"] = {"pattern": "^[0-9]+$"}


def _within(made: dict[str, Any]) -> Iterator[dict[str, Any]]:
    """A schema and those of what lies in it."""
    yield made
    for inner in (*made.get("anyOf", ()), made.get("items"), made.get("additionalProperties")):
        if isinstance(inner, dict):
            yield from _within(inner)


def _numbers(made: dict[str, Any]) -> list[dict[str, Any]]:
    return [one for one in _within(made) if one.get("type") in ("number", "integer")]


def _lists_of_numbers(made: dict[str, Any]) -> list[dict[str, Any]]:
    return [
        one
        for one in _within(made)
        if one.get("type") == "array" and _numbers(one.get("items", {}))[:1] == [one["items"]]
    ]


def reference() -> str:
    """Every field of a character file, a table for each part, as Markdown."""
    lines = []
    for kind in parts():
        lines += [
            f"### {kind.__name__}",
            "",
            _text(kind.__doc__ or ""),
            "",
            "| field | default | meaning |",
            "|---|---|---|",
        ]
        for field in fields_of(kind):
            lines.append(f"| `{field.key}` | {_default(field)} | {_meaning(field)} |")
        lines.append("")
    return "\n".join(lines)


def _default(field: Field) -> str:
    if field.required:
        return "must be written"
    value = field.default
    if isinstance(value, Part) or value in ((), {}, None, ""):
        return "none"
    return f"`{str(value).lower() if isinstance(value, bool) else list(value) if isinstance(value, tuple) else value}`"


def _meaning(field: Field) -> str:
    about = _text(field.about).replace("|", "\\|")
    said = [about] if about else []
    options = get_args(field.type) if get_origin(field.type) is Literal else ()
    said += [", ".join(f"`{one or '(none)'}`" for one in options)] if options else []
    said += [f"{note.words}" for note in field.notes if isinstance(note, Within) and note.words not in about]
    said += [f"numbers of {note.what} as keys" for note in field.notes if isinstance(note, ByNumber)]
    said += [note.like for note in field.notes if isinstance(note, Numbers) and note.like.split("]")[0] not in about]
    if field.part is not None:
        said.append(f"{'a list of' if field.many else 'see'} [{field.part.__name__}](#{field.part.__name__.lower()})")
    return "; ".join(said)
