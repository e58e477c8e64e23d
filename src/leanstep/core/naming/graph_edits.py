"""Edits of several states and transitions of a character at once."""

from __future__ import annotations

from collections.abc import Callable, Collection
from typing import Any

from leanstep.core.character.deforming import Squash
from leanstep.core.character.document import Character
from leanstep.core.character.edits import append, change, free_name, insert, remove
from leanstep.core.character.graph import State
from leanstep.core.naming.told import with_told

Places = Collection[tuple[int, int]]
"""Transitions, each as its layer and its place there."""


def with_states(
    character: Character, chosen: Collection[tuple[int, str]], made: Callable[[State], State], text: str = ""
) -> Character:
    """The character in which some states (layer, name) are what is ``made`` of them; what ``text`` names of what the body can tell is
    taken in."""
    for layer in {at for at, _ in chosen}:
        character = with_told(character, text=text, layer=layer)
        states = character.layers[layer].states
        now = tuple(made(one) if (layer, one.name) in chosen else one for one in states)
        character = change(character, ("layers", layer), states=now)
    return character


def with_transitions(character: Character, chosen: Places, values: dict[str, Any]) -> Character:
    """The character with other values of some transitions; what their conditions name of what the body can tell is taken in."""
    for layer, at in chosen:
        character = with_told(character, text=str(values.get("when", "")), layer=layer)
        character = change(character, ("layers", layer, "transitions", at), **values)
    return character


def transitions_doubled(character: Character, chosen: Places) -> tuple[Character, list[tuple[int, int]]]:
    """The character with copies of some transitions, each tried after its own, and where these are."""
    places = list[tuple[int, int]]()
    for layer, at in sorted(chosen, reverse=True):
        copied = character.layers[layer].transitions[at]
        character = insert(character, ("layers", layer, "transitions"), at + 1, copied)
        places = [(layer, at + 1), *((other, one + (other == layer)) for other, one in places)]
    return character, places


def without_transitions(character: Character, chosen: Places) -> Character:
    """The character without some transitions."""
    for layer, at in sorted(chosen, reverse=True):
        character = remove(character, ("layers", layer, "transitions", at))
    return character


def breathing(character: Character, layer: int, state: int, high: float) -> Character:
    """The character with a state that breathes: a slow stretch of what it shows to so many times its height, on whole pixels."""
    name = free_name("breath", [one.name for one in character.squashes])
    breath = Squash(name=name, high=round(high, 4), wide=1.0, over=0.0, every=2.4, whole_pixels=True)
    made: Character = change(append(character, ("squashes",), breath), ("layers", layer, "states", state), squash=name)
    return made
