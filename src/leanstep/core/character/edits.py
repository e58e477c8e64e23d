"""Edits: pure functions from one document to the next.

A *path* leads to a part: field names and positions, for example ``("layers", 0, "states", 2)``.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import msgspec

from leanstep.core.character.model import Character, Layer, Part
from leanstep.core.character.validation import reference

Path = tuple[str | int, ...]


@dataclass(frozen=True)
class Edit:
    """A named change; ``name`` completes the sentence "Undo …"."""

    name: str
    apply: Callable[[Character], Character]


def part_at(document: Any, path: Path) -> Any:
    """What a path leads to."""
    for step in path:
        document = document[step] if isinstance(step, int) else getattr(document, step)
    return document


def put(document: Any, path: Path, value: Any) -> Any:
    """The document with ``value`` where the path leads."""
    if not path:
        return value
    step, rest = path[0], path[1:]
    if isinstance(step, int):
        return (*document[:step], put(document[step], rest, value), *document[step + 1 :])
    return msgspec.structs.replace(document, **{step: put(getattr(document, step), rest, value)})


def change(document: Any, path: Path, **values: Any) -> Any:
    """The document with some fields of the part at ``path`` set."""
    return put(document, path, msgspec.structs.replace(part_at(document, path), **values))


def insert(document: Any, path: Path, at: int, part: Part) -> Any:
    """The document with ``part`` put into the list at ``path``."""
    parts = part_at(document, path)
    return put(document, path, (*parts[:at], part, *parts[at:]))


def append(document: Any, path: Path, part: Part) -> Any:
    """The document with ``part`` at the end of the list at ``path``."""
    return insert(document, path, len(part_at(document, path)), part)


def remove(document: Any, path: Path) -> Any:
    """The document without the list item the path leads to."""
    *before, at = path
    assert isinstance(at, int)
    parts = part_at(document, tuple(before))
    return put(document, tuple(before), (*parts[:at], *parts[at + 1 :]))


def move(document: Any, path: Path, to: int) -> Any:
    """The document with a list item moved to position ``to`` of its list."""
    *before, at = path
    assert isinstance(at, int)
    items = list(part_at(document, tuple(before)))
    items.insert(to, items.pop(at))
    return put(document, tuple(before), tuple(items))


def free_name(wanted: str, taken: list[str]) -> str:
    """``wanted``, or with the first number behind it that is not taken."""
    if wanted not in taken:
        return wanted
    number = 2
    while f"{wanted} {number}" in taken:
        number += 1
    return f"{wanted} {number}"


def rename_state(document: Character, layer: int, state: int, name: str) -> Character:
    """A state renamed everywhere: in transitions, as the start, and in conditions that ask for it."""
    table: Layer = document.layers[layer]
    old = table.states[state].name
    document = change(document, ("layers", layer, "states", state), name=name)
    for at, transition in enumerate(table.transitions):
        values = {key: name for key in ("source", "to") if getattr(transition, key) == old}
        if values:
            document = change(document, ("layers", layer, "transitions", at), **values)
    if table.start == old:
        document = change(document, ("layers", layer), start=name)
    return _conditions_renamed(document, table.name, old, name)


def _conditions_renamed(document: Character, layer_name: str, old: str, name: str) -> Character:
    """Every ``in LAYER.STATE`` that names a state, plain or in quotes, with its new name."""
    plain, quoted = re.escape(f"{layer_name}.{old}"), re.escape(f'"{layer_name}"."{old}"')
    pattern = re.compile(rf"\bin\s+(?:{plain}(?![\w-])|{quoted})")
    new = f"in {reference(layer_name, name)}"
    return _conditions_rewritten(document, lambda text: pattern.sub(lambda match: new, text))


def _conditions_rewritten(document: Character, rewrite: Callable[[str], str]) -> Character:
    """Every transition's condition as ``rewrite`` makes it; those it leaves alone stay the same object."""
    for at, layer in enumerate(document.layers):
        for number, transition in enumerate(layer.transitions):
            text = rewrite(transition.when)
            if text != transition.when:
                document = change(document, ("layers", at, "transitions", number), when=text)
    return document


def _states_show(document: Character, kind: str, old: str, name: str) -> Character:
    """States that show the clip or blend space (``kind``) ``old`` show ``name`` instead."""
    for at, layer in enumerate(document.layers):
        for number, state in enumerate(layer.states):
            if getattr(state, kind) == old:
                document = change(document, ("layers", at, "states", number), **{kind: name})
    return document


def remove_state(document: Character, layer: int, state: int) -> Character:
    """A state removed together with the transitions from and to it; the start moves on to the first state left."""
    table: Layer = document.layers[layer]
    name = table.states[state].name
    kept = tuple(one for one in table.transitions if name not in (one.source, one.to))
    states = (*table.states[:state], *table.states[state + 1 :])
    start = table.start if table.start != name else (states[0].name if states else "")
    return change(document, ("layers", layer), states=states, transitions=kept, start=start)


def rename_clip(document: Character, clip: int, name: str) -> Character:
    """A clip renamed everywhere: in states and blend spaces."""
    old = document.clips[clip].name
    document = change(document, ("clips", clip), name=name)
    document = _states_show(document, "clip", old, name)
    for at, blend in enumerate(document.blends):
        for number, sample in enumerate(blend.samples):
            if sample.clip == old:
                document = change(document, ("blends", at, "samples", number), clip=name)
    return document


def rename_parameter(document: Character, parameter: int, name: str) -> Character:
    """A parameter renamed everywhere: in conditions, assumptions, blend spaces, zones and takes."""
    old = document.parameters[parameter].name
    word = re.compile(rf"(?<![\w.]){re.escape(old)}(?![\w.])")
    document = change(document, ("parameters", parameter), name=name)
    document = put(document, ("assumptions",), tuple(word.sub(name, text) for text in document.assumptions))
    document = _conditions_rewritten(document, lambda text: word.sub(name, text))
    for at, blend in enumerate(document.blends):
        for number, axis in enumerate(blend.axes):
            if axis.parameter == old:
                document = change(document, ("blends", at, "axes", number), parameter=name)
    for at, shape in enumerate(document.course.shapes):
        if shape.kind == "zone" and shape.name == old:
            document = change(document, ("course", "shapes", at), name=name)
    for at, take in enumerate(document.takes):
        for number, one in enumerate(take.changes):
            if old in one.set:
                values = {name if key == old else key: value for key, value in one.set.items()}
                document = change(document, ("takes", at, "changes", number), set=values)
    return document


def place_state(document: Character, layer: int, name: str, lane: str, place: int) -> Character:
    """A state put into a lane so that it is the lane's ``place``-th; the order of all others stays."""
    states = list(document.layers[layer].states)
    moved = next(state for state in states if state.name == name)
    states.remove(moved)
    mates = [state for state in states if state.lane == lane]
    at = states.index(mates[place]) if place < len(mates) else (states.index(mates[-1]) + 1 if mates else len(states))
    states.insert(at, msgspec.structs.replace(moved, lane=lane))
    start = document.layers[layer].start_name
    return change(document, ("layers", layer), states=tuple(states), start=start)


def rename_sheet(document: Character, sheet: int, name: str) -> Character:
    """A sheet renamed everywhere: in the clips that are cut from it."""
    old = document.sheets[sheet].name
    document = change(document, ("sheets", sheet), name=name)
    for at, clip in enumerate(document.clips):
        if clip.sheet == old:
            document = change(document, ("clips", at), sheet=name)
    return document


def rename_blend(document: Character, blend: int, name: str) -> Character:
    """A blend space renamed everywhere: in the states that show it."""
    old = document.blends[blend].name
    document = change(document, ("blends", blend), name=name)
    return _states_show(document, "blend", old, name)
