"""Copies of what has a name, with free names, behind what they are copies of."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import msgspec

from leanstep.core.character.document import Character
from leanstep.core.character.edits import Path, change, free_name, insert, part_at, put
from leanstep.core.character.names import SYMBOLS
from leanstep.core.naming.copying import copied_states, pasted
from leanstep.core.naming.references import Thing, references, things

PRESSED = ("keys", "pad", "left", "right", "up", "down")
"""What presses a control; a copy has none of it, for one press would mean both."""
OCCURRING = ("mark", "span", "lock", "pin")
"""Kinds of what is one thing wherever it stands."""


def doubled(document: Character, chosen: Sequence[Thing]) -> tuple[Character, tuple[Thing, ...]]:
    """The document with copies of things of one kind, and what the copies are called.

    States keep their ways out, a lane all that stands in it with what leads out of it; a way from a state to one that is copied
    with it leads to the copy.  The copy of a control has no keys, and that of what the body sets is the game's.

    Raises
    ------
    ValueError : one stands nowhere in the document, or is one thing wherever it stands (a mark, a span, a lock, a pin point).
    """
    made: list[Thing] = []
    if chosen[0].kind == "state":
        for layer in dict.fromkeys(thing.within for thing in chosen):
            names = [thing.name for thing in chosen if thing.within == layer]
            document, copies = _states(document, layer, names)
            made += [Thing("state", name, layer) for name in copies]
        return document, tuple(made)
    for thing in chosen:
        document, copy = (_lane if thing.kind == "lane" else _part)(document, thing)
        made.append(copy)
    return document, tuple(made)


def _part(document: Character, thing: Thing) -> tuple[Character, Thing]:
    path = next((place.path for place in references(document) if place.defines and place.things[-1] == thing), None)
    if path is None or thing.kind in OCCURRING:
        raise ValueError(thing)
    name = _free(document, thing)
    copied = Thing(thing.kind, name, thing.within)
    if thing.kind == "choice":
        *parent, at = path
        choices = part_at(document, tuple(parent))
        after = int(at) + 1
        return put(document, tuple(parent), (*choices[:after], name, *choices[after:])), copied
    *parent, at, _ = path
    part, values = part_at(document, path[:-1]), dict[str, Any](name=name)
    if thing.kind in ("button", "stick"):
        values |= {field: type(getattr(part, field))() for field in PRESSED if hasattr(part, field)}
    if thing.kind == "parameter" and part.owner == "body":
        values["owner"] = "game"
    return insert(document, tuple(parent), int(at) + 1, msgspec.structs.replace(part, **values)), copied


def _states(document: Character, layer: str, names: Sequence[str]) -> tuple[Character, tuple[str, ...]]:
    """The document with copies of some states of a layer, each behind its own, and the names of the copies."""
    at = next(number for number, one in enumerate(document.layers) if one.name == layer)
    before = document.layers[at]
    wanted = [state.name for state in before.states if state.name in names]
    if len(wanted) < len(set(names)):
        raise ValueError(names)
    made = pasted(document, at, copied_states(before, wanted))
    named = dict(zip(wanted, made.states))
    copies = {state.name: state for state in made.document.layers[at].states}
    ordered = [
        one for state in before.states for one in (state, *([copies[named[state.name]]] if state.name in named else []))
    ]
    document = change(made.document, ("layers", at), states=tuple(ordered), start=before.start_name)
    return document, made.states


def _lane(document: Character, thing: Thing) -> tuple[Character, Thing]:
    at = next(number for number, one in enumerate(document.layers) if one.name == thing.within)
    layer = document.layers[at]
    name = free_name(thing.name, list(layer.lane_names))
    inside = [state.name for state in layer.states if state.lane == thing.name]
    if thing.name not in layer.lane_names:
        raise ValueError(thing)
    made, copies = _states(document, layer.name, inside)
    table = made.layers[at]
    rest = [state for state in table.states if state.name not in copies]
    moved = [msgspec.structs.replace(state, lane=name) for state in table.states if state.name in copies]
    ways = tuple(
        msgspec.structs.replace(way, from_lane=name) for way in layer.transitions if way.from_lane == thing.name
    )
    lanes = list(table.lane_names)
    lanes.insert(lanes.index(thing.name) + 1, name)
    path: Path = ("layers", at)
    states, ways = (*rest, *moved), (*table.transitions, *ways)
    return change(made, path, states=states, transitions=ways, lanes=tuple(lanes)), Thing("lane", name, layer.name)


def _free(document: Character, thing: Thing) -> str:
    """A name for the copy of a thing: free among those it must differ from, and one that conditions can read where they do."""
    kinds = SYMBOLS if thing.kind in SYMBOLS else (thing.kind,)
    taken = [one.name for one in things(document) if one.kind in kinds and one.within == thing.within]
    return free_name(thing.name, taken, "_" if thing.kind in (*SYMBOLS, "choice", "layer") else " ")
