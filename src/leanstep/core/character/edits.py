"""Edits: pure functions from one document to the next.

A *path* leads to a part: field names and positions, for example ``("layers", 0, "states", 2)``.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, TypeVar

import msgspec

from leanstep.core.character.document import Character
from leanstep.core.character.part import Part

Path = tuple[str | int, ...]
Item = TypeVar("Item")


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


def tried_at(document: Character, layer: int, at: int, to: int) -> Character:
    """The character with a transition moved in its layer's list, which is where somebody wants it to be tried."""
    path: Path = ("layers", layer, "transitions")
    made: Character = change(move(document, (*path, at), to), (*path, to), ordered=True)
    return made


def by_number(numbered: dict[str, Item]) -> dict[str, Item]:
    """What a document has by the numbers of frames or rows, in their order."""
    return dict(sorted(numbered.items(), key=lambda item: int(item[0])))


def free_name(wanted: str, taken: list[str], joint: str = " ") -> str:
    """``wanted``, or with the first number behind it (and ``joint`` between them) that is not taken."""
    if wanted not in taken:
        return wanted
    number = 2
    while f"{wanted}{joint}{number}" in taken:
        number += 1
    return f"{wanted}{joint}{number}"


def place_state(document: Character, layer: int, name: str, lane: str, place: int) -> Character:
    """A state put into a lane so that it is the lane's ``place``-th; the order of all others stays."""
    states = list(document.layers[layer].states)
    moved = next(state for state in states if state.name == name)
    states.remove(moved)
    mates = [state for state in states if state.lane == lane]
    at = states.index(mates[place]) if place < len(mates) else (states.index(mates[-1]) + 1 if mates else len(states))
    states.insert(at, msgspec.structs.replace(moved, lane=lane))
    start = document.layers[layer].start_name
    placed: Character = change(document, ("layers", layer), states=tuple(states), start=start)
    return placed
