"""States and transitions that are copied, also into another character, with what they lack there.

What is copied is a text: JSON with the number of this form under ``leanstep-copy``, and ``states`` and ``transitions`` as in
the character file.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import msgspec

from leanstep.core.character.document import Character
from leanstep.core.character.edits import Path, change, free_name
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.core.errors import LeanStepError
from leanstep.core.naming.references import Thing, references, things
from leanstep.core.wording import listed

FORM = 1
"""The number under ``leanstep-copy``."""
WORDS = {"blend": "blend space", "unknown": ""}
OWNED = ("mark", "lock", "pin")
"""Kinds of names that mean something wherever they stand."""


class _Copy(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True, rename={"form": "leanstep-copy"}):
    form: int
    states: tuple[State, ...] = ()
    transitions: tuple[Transition, ...] = ()


@dataclass(frozen=True)
class Pasted:
    """A document with what was pasted: the names of the new states, the places of the new transitions in the layer's list, and
    what they name that is not there, in words."""

    document: Character
    states: tuple[str, ...]
    transitions: tuple[int, ...]
    lacking: tuple[str, ...]

    @property
    def sentence(self) -> str:
        """What is lacking; empty when nothing is."""
        return f"Lacking here: {listed(list(self.lacking))}." if self.lacking else ""


def copied_states(layer: Layer, names: Sequence[str]) -> str:
    """States with the transitions that lead out of them."""
    states = tuple(state for state in layer.states if state.name in names)
    ways = tuple(one for one in layer.transitions if one.source in names)
    return _written(_Copy(form=FORM, states=states, transitions=ways))


def copied_transitions(transitions: Sequence[Transition]) -> str:
    """Transitions alone."""
    return _written(_Copy(form=FORM, transitions=tuple(transitions)))


def _written(copy: _Copy) -> str:
    return msgspec.json.format(msgspec.json.encode(copy), indent=1).decode()


def holds_copy(text: str) -> bool:
    """Whether a text is something that was copied here."""
    return '"leanstep-copy"' in text[:200]


def pasted(document: Character, layer: int, text: str, source: str = "") -> Pasted:
    """The document with what a text holds put into a layer.

    New states have free names; a way to a state that came with them leads to its copy.  Ways to states that the layer does not
    have are left out.  Transitions that come alone lead from ``source`` if that is given.  Raises :class:`LeanStepError` when
    the text is nothing that was copied here.
    """
    try:
        copy = msgspec.json.decode(text, type=_Copy)
    except (msgspec.MsgspecError, UnicodeError) as error:
        raise LeanStepError(
            "Nothing was pasted", f"the clipboard holds no states or transitions ({error})", "Copy some in Graph first."
        ) from None
    table = document.layers[layer]
    taken = [state.name for state in table.states]
    names: dict[str, str] = {}
    for state in copy.states:
        names[state.name] = free_name(state.name, [*taken, *names.values()])
    known = {*taken, *names.values()}
    ways, left = [], []
    for way in copy.transitions:
        begin = source if source and not copy.states and way.source else names.get(way.source, way.source)
        end = names.get(way.to, way.to)
        if end in known and begin in {*known, ""}:
            ways.append(msgspec.structs.replace(way, source=begin, to=end))
        else:
            left.append(f"state {end if end not in known else begin}")
    states = tuple(msgspec.structs.replace(state, name=names[state.name]) for state in copy.states)
    made = change(document, ("layers", layer), states=(*table.states, *states), transitions=(*table.transitions, *ways))
    first_state, first_way = len(table.states), len(table.transitions)

    def is_new(path: Path) -> bool:
        numbers: dict[Any, int] = {"states": first_state, "transitions": first_way}
        return len(path) > 3 and path[:2] == ("layers", layer) and path[3] >= numbers.get(path[2], 1 << 30)  # type: ignore[operator]

    there = {*things(document), *(Thing("state", name, table.name) for name in names.values())}
    lanes = {Thing("lane", lane, table.name) for lane in table.lane_names}
    missing = [
        thing
        for place in references(made)
        if is_new(place.path)
        for thing in place.things
        if thing.kind not in OWNED and thing not in there and not (thing.kind == "lane" and place.defines)
    ]
    missing += [Thing("lane", way.from_lane, table.name) for way in ways if way.from_lane]
    words = [f"{WORDS.get(one.kind, one.kind)} {one.name}".strip() for one in missing if one not in lanes]
    return Pasted(
        made,
        tuple(names.values()),
        tuple(range(first_way, first_way + len(ways))),
        tuple(dict.fromkeys([*left, *words])),
    )
