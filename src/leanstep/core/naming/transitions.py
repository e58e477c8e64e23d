"""Transitions have no name of their own; what names one is where it leads from and to."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace

from leanstep.core.character.document import Character
from leanstep.core.character.graph import Transition
from leanstep.core.naming.references import Thing


@dataclass(frozen=True)
class TransitionName:
    """The ``nth`` transition of a layer from a state (or from a lane, or from the whole graph) to another state."""

    layer: str
    source: str
    from_lane: str
    to: str
    nth: int = 0
    kind: str = "transition"


def tried_with(transitions: Sequence[Transition], at: int) -> list[int]:
    """The places of the transitions whose order with the one at ``at`` decides: those of one owner that are as urgent."""

    def owner(one: Transition) -> tuple[str, str, bool]:
        return one.source, one.from_lane, one.urgent

    return [number for number, one in enumerate(transitions) if owner(one) == owner(transitions[at])]


def name_of(document: Character, layer: int, index: int) -> TransitionName:
    """What names the transition at ``index`` of a layer."""
    return names_of(document, layer)[index]


def names_of(document: Character, layer: int) -> list[TransitionName]:
    """What names every transition of a layer, in one go."""
    seen: Counter[tuple[str, str, str]] = Counter()
    found = []
    for one in document.layers[layer].transitions:
        ends = (one.source, one.from_lane, one.to)
        found.append(TransitionName(document.layers[layer].name, *ends, seen[ends]))
        seen[ends] += 1
    return found


def find(document: Character, name: TransitionName) -> tuple[int, int] | None:
    """Layer and place of a transition; None when there is none of that name."""
    for at, layer in enumerate(document.layers):
        if layer.name == name.layer:
            same = [
                index
                for index, one in enumerate(layer.transitions)
                if (one.source, one.from_lane, one.to) == (name.source, name.from_lane, name.to)
            ]
            return (at, same[name.nth]) if name.nth < len(same) else None
    return None


def renamed(name: TransitionName, thing: Thing, new: str) -> TransitionName:
    """What names the transition once ``thing`` is called ``new``."""
    if thing == Thing("layer", name.layer):
        return replace(name, layer=new)
    if thing.within != name.layer:
        return name
    if thing.kind == "lane" and thing.name == name.from_lane:
        return replace(name, from_lane=new)
    if thing.kind == "state":
        source = new if thing.name == name.source else name.source
        return replace(name, source=source, to=new if thing.name == name.to else name.to)
    return name
