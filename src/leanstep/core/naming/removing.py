"""Taking things out together with what cannot stand without them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import msgspec

from leanstep.core.character.annotations import fields_of
from leanstep.core.character.document import Character
from leanstep.core.character.edits import Path, change, part_at, put, remove
from leanstep.core.character.inputs import Stick
from leanstep.core.character.names import SYMBOLS
from leanstep.core.character.part import Part
from leanstep.core.naming.references import Reference, Thing, references
from leanstep.core.naming.wording import place_in_words
from leanstep.core.wording import some

MOST_LISTED = 4
"""Places a sentence names before it only counts the rest."""


@dataclass(frozen=True)
class _Loss:
    """What goes with a name: a list ``item``, the content of a ``field``, or one ``setting`` of a take."""

    what: Literal["item", "field", "setting"]
    path: Path
    key: str = ""


def without(document: Character, thing: Thing) -> Character:
    """The document without a thing.  What only makes sense with it goes too: a state's transitions and expectations, effects
    on a parameter and what takes set, samples of a clip.  Texts of conditions stay, and what they name is unknown then."""
    losses = [loss for place in references(document) if thing in place.things and (loss := _loss(place)) is not None]
    for loss in losses:
        if loss.what == "setting":
            kept = {key: value for key, value in part_at(document, loss.path).set.items() if key != loss.key}
            document = change(document, loss.path, set=kept)
        elif loss.what == "field":
            owner: Part = part_at(document, loss.path[:-1])
            empty = next(one.default for one in fields_of(type(owner)) if one.name == loss.path[-1])
            document = put(document, loss.path, empty)
    items = {loss.path for loss in losses if loss.what == "item"}
    items |= {loss.path for loss in losses if loss.what == "setting" and not part_at(document, loss.path).set}
    for path in sorted(items, key=_order, reverse=True):
        document = remove(document, path)
    return document


def without_part(document: Character, at: int, name: str) -> Character:
    """The document without a part of sheet number ``at``; what hung on it hangs on what it hung on.  Its keys go, too, unless another
    sheet has a part of that name."""
    sheet = document.sheets[at]
    parent = next((part.parent for part in sheet.parts if part.name == name), "")
    parts = tuple(
        msgspec.structs.replace(
            part,
            parent=parent if part.parent == name else part.parent,
            behind="" if part.behind == name else part.behind,
        )
        for part in sheet.parts
        if part.name != name
    )
    document = change(document, ("sheets", at), parts=parts)
    shared = any(part.name == name for one in document.sheets for part in one.parts)
    return document if shared else without(document, Thing("part", name))


def left_naming(after: Character, thing: Thing) -> str:
    """What removing a thing has left to be mended in the document without it, as a sentence; empty when nothing."""
    axes = Stick(name=thing.name).values if thing.kind == "stick" else ()
    lost = {thing, *(Thing("unknown", name) for name in (thing.name, *axes) if thing.kind in SYMBOLS)}
    left = [place for place in references(after) if not place.defines and lost & {*place.things}]
    words = list(dict.fromkeys(place_in_words(after, place) for place in left))
    return f"{thing.name} is still named by {some(words, MOST_LISTED)}." if words else ""


def _loss(place: Reference) -> _Loss | None:
    """What goes with a name at a place; None when it stays, to be mended."""
    path = place.path
    if place.start >= 0 or place.gone == "stays":
        return None
    if place.part:
        return _Loss("setting", path, place.key)
    if place.gone == "item":
        last = max(at for at, step in enumerate(path) if isinstance(step, int))
        return _Loss("item", path[: last + 1])
    return _Loss("field", path[:-1] if place.gone == "part" else path)


def _order(path: Path) -> list[tuple[int, str]]:
    """A key after which items of one list stand in its order, each before what lies inside it."""
    return [(step, "") if isinstance(step, int) else (-1, step) for step in path]
