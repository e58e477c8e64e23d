"""On which line of a character's file something stands."""

from __future__ import annotations

import json
import re
from json.decoder import scanstring  # type: ignore[attr-defined]

from leanstep.core.character.document import Character
from leanstep.core.character.edits import Path
from leanstep.core.naming.references import references
from leanstep.core.naming.targets import Subject

_SPACE = re.compile(r"[ \t\r\n]*")
_DECODER = json.JSONDecoder(strict=False)
RENAMED = {"source": "from"}
"""Fields that the file calls something else."""


def line_of(text: str, path: Path) -> int:
    """The line, from 1, at which the value at a path of the document begins; that of what holds it where the file leaves it out."""
    at = _found(text, _after_space(text, 0), path)
    return text.count("\n", 0, at) + 1


def _after_space(text: str, at: int) -> int:
    match = _SPACE.match(text, at)
    return match.end() if match is not None else at


def _found(text: str, at: int, path: Path) -> int:
    """Where a path leads to in the value that begins at a place."""
    if not path or text[at : at + 1] not in ("{", "["):
        return at
    step, inside = path[0], _after_space(text, at + 1)
    number = 0
    while text[inside : inside + 1] not in ("}", "]", ""):
        here: object = number
        begins = inside
        if text[at] == "{":
            here, inside = scanstring(text, inside + 1)
            inside = _after_space(text, _after_space(text, inside) + 1)
        if here == (RENAMED.get(step, step) if isinstance(step, str) else step):
            return _found(text, inside, path[1:]) if text[inside] in "{[" else begins
        inside = _after_space(text, _DECODER.raw_decode(text, inside)[1])
        if text[inside : inside + 1] == ",":
            inside = _after_space(text, inside + 1)
        number += 1
    return at


def path_of(character: Character, subject: Subject) -> Path:
    """Where in the document what a finding is about stands; empty for the character itself."""
    layers = [layer.name for layer in character.layers]
    if subject.layer in layers:
        layer = layers.index(subject.layer)
        if subject.transition is not None:
            return ("layers", layer, "transitions", subject.transition)
        wanted = next(iter(subject.all_states), "")
        for at, state in enumerate(character.layers[layer].states):
            if state.name == wanted:
                return ("layers", layer, "states", at)
        return ("layers", layer)
    if subject.assumption is not None:
        return ("assumptions", subject.assumption)
    if subject.thing is None:
        return ()
    return next((one.path[:-1] for one in references(character) if one.defines and one.things[-1] == subject.thing), ())
