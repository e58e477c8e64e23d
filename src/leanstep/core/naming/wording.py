"""Where a name stands, in words."""

from __future__ import annotations

from typing import Any

from leanstep.core.character.document import Character
from leanstep.core.character.edits import part_at
from leanstep.core.character.graph import Transition
from leanstep.core.naming.references import Reference


def described(transition: Transition) -> str:
    """A transition in words: where from and where to."""
    if transition.source:
        source = transition.source
    elif transition.from_lane:
        source = f"every state of lane {transition.from_lane}"
    else:
        source = "the whole graph"
    return f"{source} → {transition.to}"


def place_in_words(document: Character, place: Reference) -> str:
    """Where a name stands: "the condition of idle → walk", "entering idle", "take walk-and-jump"."""
    match place.path:
        case ("parameters", int(at), "formula"):
            return f"the formula of {document.parameters[at].name}"
        case ("parameters", int(at), *_):
            return f"parameter {document.parameters[at].name}"
        case ("assumptions", int(at)):
            return f"assumption {at + 1}"
        case ("layers", int(layer), "transitions", int(at), *rest):
            way = described(document.layers[layer].transitions[at])
            return f"the condition of {way}" if rest == ["when"] else f"the transition {way}"
        case ("layers", int(layer), "states", int(at), field, *_):
            state = document.layers[layer].states[at].name
            words = {"expects": "the expectation of", "on_entry": "entering", "on_leave": "leaving"}
            return f"{words.get(str(field), 'state')} {state}"
        case ("layers", int(layer), *_):
            return f"layer {document.layers[layer].name}"
        case ("clips", int(at), "marks" | "spans" as kind, int(), *_):
            event: Any = part_at(document, place.path[:4])
            return f"{kind[:-1]} {event.name} of clip {document.clips[at].name}"
        case ("sheets", int(at), *_):
            return f"sheet {document.sheets[at].name}"
        case ("clips", int(at), *_):
            return f"clip {document.clips[at].name}"
        case ("accessories", int(at), *rest):
            name = document.accessories[at].name
            return f"what shows accessory {name}" if rest == ["shown"] else f"accessory {name}"
        case ("costumes", int(at), *_):
            return f"costume {document.costumes[at].name}"
        case ("alternates", int(at), *_):
            return f"way of moving {document.alternates[at].name}"
        case ("blends", int(at), *_):
            return f"blend space {document.blends[at].name}"
        case ("takes", int(at), *_):
            return f"take {document.takes[at].name}"
        case ("course", *_):
            return f"zone {place.things[-1].name} of the course"
        case ("body", *_):
            return "the body"
    return f"{place.things[-1].kind} {place.things[-1].name}"
