"""What the body can tell, taken into a character as soon as something names it."""

from __future__ import annotations

from leanstep.core.body.records import TOLD
from leanstep.core.character.edits import append
from leanstep.core.character.model import Character, Parameter
from leanstep.core.conditions.checking import scope_of


def of_body(name: str) -> Parameter:
    """A parameter the body sets, with the range it has in usual figures."""
    if name == "speed":
        return Parameter(name=name, owner="body", min=0.0, max=400.0, unit="units/s")
    if name == "rise":
        return Parameter(name=name, owner="body", min=-600.0, max=400.0, unit="units/s")
    if name in ("ahead", "ledge"):
        return Parameter(name=name, owner="body", min=0.0, max=200.0, unit="units")
    return Parameter(name=name, kind="bearing" if name in ("heading", "facing") else "flag", owner="body")


def tellable(character: Character) -> list[str]:
    """What the body could tell of itself and of named zones, and does not yet."""
    zones = [shape.name for shape in character.course.shapes if shape.kind == "zone" and shape.name]
    controls = character.controls
    known = {one.name for one in character.parameters}
    known |= {one.name for one in controls.buttons} | {one.name for one in controls.sticks}
    return [name for name in dict.fromkeys((*TOLD, *zones)) if name not in known]


def with_told(character: Character, text: str, layer: int = 0) -> Character:
    """The character with what a condition names, the body can tell, and the character does not have yet."""
    offered = [name for name in tellable(character) if name in text]
    while offered:
        _, faults = scope_of(character).compile(text, layer)
        word = next((one.word for one in faults if one.id == "name.unknown" and one.word in offered), None)
        if word is None:
            return character
        offered.remove(word)
        character = append(character, ("parameters",), of_body(word))
    return character
