"""Reading and writing character files.

Reading never yields half a document: either a whole :class:`Character` comes back, or a :class:`LeanStepError` says
which place is wrong, why, and what to do.  Writing is atomic and canonical: fixed key order, one item a line where it
is short, defaults left out, so that a changed number is a one-line difference.
"""

from __future__ import annotations

import json
import os
from pathlib import Path
from typing import Any

import msgspec

from leanstep.core.character.annotations import fields_of
from leanstep.core.character.document import FORMAT, Character
from leanstep.core.character.part import Part, exactly
from leanstep.core.character.storage import read_bytes, write_atomically
from leanstep.core.character.validation import validate
from leanstep.core.errors import LeanStepError

LINE = 118
ALWAYS_WRITTEN = {"leanstep", "name"}


def load(path: str | os.PathLike[str]) -> Character:
    """Read the character in the file at ``path``.

    Raises
    ------
    LeanStepError : the file cannot be read, is not JSON, or breaks a rule of the format.
    """
    return parse(read_bytes(path), Path(path).name)


def parse(data: bytes, label: str = "character") -> Character:
    """Make a character of the bytes of a file; ``label`` names the file in errors.  Raises :class:`LeanStepError` as :func:`load`."""
    data = data.removeprefix(b"\xef\xbb\xbf")
    try:
        raw = msgspec.json.decode(data)
        json.loads(data, object_pairs_hook=_once_each)
    except _Twice as error:
        reason = f"the field “{error.key}” is written twice in one place"
        raise LeanStepError(label, reason, "Keep one of them.") from None
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError, ValueError) as error:
        raise LeanStepError(
            label,
            f"this is not JSON in UTF-8 ({error})",
            "Open a file that Lean Step saved, or repair it in an editor.",
        ) from None
    if not isinstance(raw, dict) or "leanstep" not in raw:
        raise LeanStepError(
            label,
            'it has no "leanstep" field, so it is no character file',
            'A character file starts with {"leanstep": 1, …}.',
        )
    version = raw["leanstep"]
    if type(version) is not int or version < 1:
        raise LeanStepError(f"{label}, leanstep", f"{version!r} is no format number", f"Write {FORMAT}.")
    if version > FORMAT:
        raise LeanStepError(
            f"{label}, leanstep", f"format {version} is newer than this program ({FORMAT})", "Use a newer Lean Step."
        )
    try:
        character = msgspec.convert(_absorb(raw, Character), Character)
    except msgspec.ValidationError as error:
        reason, _, where = str(error).partition(" - at ")
        place = where.strip("`").removeprefix("$").lstrip(".").replace("[...]", "")
        raise LeanStepError(
            f"{label}, {place or 'top'}", reason[0].lower() + reason[1:], "See docs/format.md."
        ) from None
    validate(character, label)
    return character


class _Twice(Exception):
    def __init__(self, key: str) -> None:
        self.key = key


def _once_each(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    """An object of these pairs; every key may come once."""
    made = dict(pairs)
    if len(made) < len(pairs):
        keys = [key for key, _ in pairs]
        raise _Twice(next(key for key in keys if keys.count(key) > 1))
    return made


def _absorb(raw: Any, kind: type[Part]) -> Any:
    """``raw`` with every unknown key of an object moved into that object's ``extra``."""
    if not isinstance(raw, dict):
        return raw
    known, result, strange = {field.key: field for field in fields_of(kind)}, {}, {}
    for key, value in raw.items():
        field = known.get(key)
        if field is None:
            strange[key] = value
        elif field.part is None:
            result[key] = value
        elif field.many:
            result[key] = [_absorb(item, field.part) for item in value] if isinstance(value, list) else value
        else:
            result[key] = _absorb(value, field.part)
    return {**result, "extra": strange} if strange else result


def unknown_fields(character: Character) -> list[str]:
    """Places of fields this program does not know, for example ``layers[0].states[2].colour``."""
    found: list[str] = []

    def walk(part: Part, place: str) -> None:
        found.extend(f"{place}.{key}".lstrip(".") for key in part.extra)
        for field in fields_of(type(part)):
            if field.part is not None:
                for number, one in field.parts(part):
                    walk(one, f"{place}.{field.key}" + ("" if number is None else f"[{number}]"))

    walk(character, "")
    return found


def plain(part: Any) -> Any:
    """A struct as JSON values: known fields in declared order without defaults, then the unknown ones."""
    if isinstance(part, Part):
        result: dict[str, Any] = {}
        for field in fields_of(type(part)):
            value = getattr(part, field.name)
            if field.key in ALWAYS_WRITTEN or field.required or not exactly(value, field.default):
                result[field.key] = plain(value)
        result.update(part.extra)
        return result
    if isinstance(part, tuple | list):
        return [plain(item) for item in part]
    if isinstance(part, dict):
        return {key: plain(value) for key, value in part.items()}
    if isinstance(part, float) and part.is_integer() and abs(part) < 1e15 and exactly(part, part + 0.0):
        return int(part)
    return part


def dump(character: Character) -> bytes:
    """The canonical bytes of a character."""
    return (_lay_out(plain(character), "", top=True) + "\n").encode()


def _one_line(value: Any) -> str:
    return json.dumps(value, ensure_ascii=False, allow_nan=False)


def _has_items(value: Any) -> bool:
    """Whether a list of objects lies somewhere inside: such a value gets a line for every item."""
    if isinstance(value, dict):
        return any(_has_items(item) for item in value.values())
    return isinstance(value, list) and any(isinstance(item, dict) for item in value)


def _lay_out(value: Any, indent: str, top: bool = False) -> str:
    line = _one_line(value)
    if not isinstance(value, dict | list) or not value:
        return line
    if not top and not _has_items(value) and len(indent) + len(line) <= LINE:
        return line
    inner = indent + "  "
    if isinstance(value, dict):
        rows = [f"{inner}{_one_line(key)}: {_lay_out(item, inner)}" for key, item in value.items()]
        return "{\n" + ",\n".join(rows) + f"\n{indent}}}"
    return "[\n" + ",\n".join(inner + _lay_out(item, inner) for item in value) + f"\n{indent}]"


def save(path: str | os.PathLike[str], character: Character) -> bytes:
    """Write the character to ``path`` atomically and return the bytes written."""
    data = dump(character)
    write_atomically(path, data)
    return data
