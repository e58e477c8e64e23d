"""Edits of what contact raises on a figure."""

from __future__ import annotations

from msgspec.structs import replace

from leanstep.core.character.contact import ContactRules, can_raise
from leanstep.core.character.document import Character
from leanstep.core.character.edits import free_name
from leanstep.core.character.inputs import Parameter

LONGEST_STUN = 600.0
"""What a stun that is made counts down from at most, in ticks."""


def fitting(character: Character, what: str) -> list[str]:
    """The names of the parameters that contact can set for one of the things it raises."""
    return [one.name for one in character.parameters if can_raise(what, one.owner, one.kind, one.countdown)]


def declared(character: Character) -> Character:
    """The character with a pulse for being hit, one for guarding and a countdown for the stun, which contact raises; what fits and is
    there is used."""
    parameters, made = list(character.parameters), ContactRules()
    for what, name in (("hit", "hit"), ("guarded", "guarded"), ("stun", "stun")):
        there = [one for one in fitting(character, what) if one == name]
        if not there:
            taken = [one.name for one in parameters] + [one.name for one in character.controls.buttons]
            taken += [one.name for one in character.controls.sticks]
            there = [free_name(name, taken)]
            parameters.append(
                Parameter(name=there[0], kind="whole", max=LONGEST_STUN, countdown=True)
                if what == "stun"
                else Parameter(name=there[0], kind="pulse")
            )
        made = replace(made, **{what: there[0]})
    return replace(character, parameters=tuple(parameters), contact=made)


def with_rule(character: Character, what: str, value: str) -> Character:
    """The character with another rule of contact; without any, it has none."""
    made = replace(character.contact or ContactRules(), **{what: value})
    return replace(character, contact=None if made == ContactRules() else made)
