"""From what a finding is about to the thing of the document that is meant."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from leanstep.core.character.document import Character
from leanstep.core.character.edits import Path
from leanstep.core.naming.references import Thing
from leanstep.core.naming.transitions import TransitionName, name_of


@dataclass(frozen=True)
class Subject:
    """What a finding is about, in names: of a layer a state, several or a transition (by its number); or a sheet, a take, an
    assumption (by its number) …  What it is not about is empty."""

    layer: str = ""
    state: str = ""
    states: tuple[str, ...] = ()
    transition: int | None = None
    sheet: str = ""
    clip: str = ""
    blend: str = ""
    take: str = ""
    parameter: str = ""
    costume: str = ""
    accessory: str = ""
    alternate: str = ""
    squash: str = ""
    lean: str = ""
    lock: str = ""
    mark: str = ""
    pin: str = ""
    part: str = ""
    span: str = ""
    button: str = ""
    contact: str = ""
    assumption: int | None = None
    assumptions: tuple[int, ...] = ()
    field: str = ""

    @classmethod
    def of(cls, details: Mapping[str, Any]) -> Subject:
        """What the details of a finding are about."""
        named: dict[str, Any] = {name: details[name] for name in cls.__dataclass_fields__ if name in details}
        named |= {name: tuple(one) for name, one in named.items() if isinstance(one, list)}
        return cls(**named)

    def has(self, name: str) -> bool:
        """Whether it is about anything of this kind."""
        return getattr(self, name) not in ("", (), None)

    @property
    def all_states(self) -> tuple[str, ...]:
        """The states it is about."""
        return self.states or ((self.state,) if self.state else ())

    @property
    def thing(self) -> Thing | None:
        """The thing of the document it is about, where that is none of a layer."""
        kinds = ("sheet", "clip", "blend", "costume", "accessory", "alternate", "squash", "lean", "take", "parameter")
        return next((Thing(kind, getattr(self, kind)) for kind in kinds if self.has(kind)), None)


def place_of(document: Character, subject: Subject) -> Thing | TransitionName | None:
    """What is chosen to mend a finding with this subject; None when it stands where no name leads (an assumption, a field)."""
    layers = [layer.name for layer in document.layers]
    if subject.layer in layers:
        layer = layers.index(subject.layer)
        if subject.transition is not None:
            return name_of(document, layer, subject.transition)
        known = [state.name for state in document.layers[layer].states]
        return Thing("state", next((one for one in subject.all_states[:1] if one in known), known[0]), subject.layer)
    return _locking(document, subject.lock) if subject.lock else subject.thing


def chosen_at(document: Character, path: Path) -> Thing | TransitionName | None:
    """What is chosen to see a place of the document; None where no name leads."""
    match path:
        case ("parameters", int(at), *_):
            return Thing("parameter", document.parameters[at].name)
        case ("layers", int(layer), "transitions", int(at), *_):
            return name_of(document, layer, at)
        case ("layers", int(layer), "states", int(at), *_):
            return Thing("state", document.layers[layer].states[at].name, document.layers[layer].name)
        case ("sheets" | "clips" | "blends" | "takes" as field, int(at), *_):
            return Thing(field[:-1], getattr(document, field)[at].name)
        case ("costumes", int(at), *_):
            return Thing("costume", document.costumes[at].name)
        case ("accessories", int(at), *_):
            return Thing("accessory", document.accessories[at].name)
        case ("alternates", int(at), *_):
            return Thing("alternate", document.alternates[at].name)
        case ("squashes", int(at), *_):
            return Thing("squash", document.squashes[at].name)
        case ("leans", int(at), *_):
            return Thing("lean", document.leans[at].name)
    return None


_KINDS = (
    *("sheet", "clip", "blend", "take", "parameter", "costume", "squash", "lean", "lock", "mark", "span"),
    *("accessory", "pin", "alternate", "part"),
    *("button", "contact", "assumption", "field"),
)
"""Kinds of subjects that are named with their kind, in this order."""
_WITH_KIND = tuple(f"{kind} " for kind in _KINDS)


def about(document: Character, subject: Subject) -> str:
    """What a finding with this subject is about, by names, so that it is known again after other changes."""
    parts = []
    if subject.layer:
        layers = [layer.name for layer in document.layers]
        where = subject.layer
        if subject.transition is not None and where in layers:
            name = name_of(document, layers.index(where), subject.transition)
            source = name.source or (f"lane {name.from_lane}" if name.from_lane else "the whole graph")
            parts.append(f"{where}, {source} → {name.to}{f' ({name.nth + 1})' if name.nth else ''}")
        else:
            parts.append(", ".join([where, *subject.all_states]))
    parts += [f"{kind} {getattr(subject, kind)}" for kind in _KINDS if subject.has(kind)]
    return ", ".join(parts) or "the character"


def renamed_about(text: str, thing: Thing, name: str) -> str:
    """What :func:`about` says of the same once ``thing`` is called ``name``."""
    parts = text.split(", ")
    if thing.kind == "layer":
        return ", ".join([name if parts[0] == thing.name else parts[0], *parts[1:]])
    if thing.kind in ("state", "lane"):
        if parts[0] != thing.within:
            return text
        count = next((at for at, one in enumerate(parts[1:]) if one.startswith(_WITH_KIND)), len(parts) - 1)
        of_layer = [_renamed_part(one, thing, name) for one in parts[1 : count + 1]]
        # several states stand in the order of their names
        several = len(of_layer) > 1 and parts[1 : count + 1] == sorted(parts[1 : count + 1])
        return ", ".join([parts[0], *(sorted(of_layer) if several else of_layer), *parts[count + 1 :]])
    return ", ".join(f"{thing.kind} {name}" if one == f"{thing.kind} {thing.name}" else one for one in parts)


def _renamed_part(part: str, thing: Thing, name: str) -> str:
    """A state, or a transition as it is written between two."""
    old, new = (thing.name, name) if thing.kind == "state" else (f"lane {thing.name}", f"lane {name}")
    source, arrow, rest = part.partition(" → ")
    if not arrow:
        return new if part == old and thing.kind == "state" else part
    to, bracket, nth = rest.partition(" (")
    to = new if to == old and thing.kind == "state" else to
    return f"{new if source == old else source}{arrow}{to}{bracket}{nth}"


def _locking(document: Character, lock: str) -> Thing | None:
    """The first state or clip whose effects lock movement under a name."""
    for layer in document.layers:
        for state in layer.states:
            if any(one.do == "lock" and one.name == lock for one in (*state.on_entry, *state.on_leave)):
                return Thing("state", state.name, layer.name)
    for clip in document.clips:
        if any(one.do == "lock" and one.name == lock for mark in clip.marks for one in mark.effects):
            return Thing("clip", clip.name)
    return None
