"""What the body can tell, taken into a character as soon as something names it."""

from __future__ import annotations

from collections.abc import Callable

from leanstep.core.body.records import TOLD
from leanstep.core.character.document import Character
from leanstep.core.character.edits import append
from leanstep.core.character.inputs import Parameter
from leanstep.core.conditions.checking import Fault
from leanstep.core.conditions.scope import Scope, scope_of


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
    return _with_told(character, text, lambda scope: scope.compile(text, layer)[1])


def with_formulas_told(character: Character) -> Character:
    """The same for what the formulas name."""
    text = " ".join(one.formula for one in character.parameters if one.owner == "formula")
    return _with_told(
        character, text, lambda scope: [fault for _, found in scope.compiled_formulas().values() for fault in found]
    )


def _with_told(character: Character, text: str, faults: Callable[[Scope], list[Fault]]) -> Character:
    offered = [name for name in tellable(character) if name in text]
    while offered:
        unknown = [one.word for one in faults(scope_of(character)) if one.id == "name.unknown" and one.word in offered]
        if not unknown:
            return character
        offered.remove(unknown[0])
        character = append(character, ("parameters",), of_body(unknown[0]))
    return character
