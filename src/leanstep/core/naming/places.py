"""The one visitor of names: every place of a document that gives something its name or uses one.

Renaming, "who uses this?", removing and the checks of unused things all go through :func:`places`.  A new field that
holds a name is added here, and nowhere else.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from leanstep.core.character.edits import Path
from leanstep.core.character.model import (
    STICK_PARTS,
    Beginning,
    Character,
    Clip,
    Effect,
    Layer,
    Left,
    Standing,
    State,
    Take,
    Transition,
)
from leanstep.core.character.validation import reference
from leanstep.core.conditions import tree
from leanstep.core.conditions.grammar import ConditionError, parse
from leanstep.core.conditions.printing import since_place
from leanstep.core.deadline import look

SYMBOLS = ("parameter", "button", "stick")
"""Kinds that share one space of names: what conditions can read."""
SHAPES = ("squash", "lean")
"""Kinds of what changes how the figure is drawn."""


@dataclass(frozen=True)
class Thing:
    """Something a document gives a name.

    ``kind``: parameter, choice, button, stick, sheet, clip, blend, layer, state, lane, take, mark, span, lock, squash or lean; of
    a name nothing has, ``unknown``.  ``within`` is the layer of a state or lane and the parameter of a choice.  Marks, spans and
    locks of one name are one thing, wherever they stand.
    """

    kind: str
    name: str
    within: str = ""


@dataclass(frozen=True)
class Place:
    """Where a name stands.

    ``path`` leads to the field; in a condition, formula or assumption ``start`` and ``end`` say which characters of the
    text (else -1).  ``part`` is ``key`` or ``value`` for the settings of a take's change, whose ``path`` leads to the change
    and whose ``key`` says which setting.  ``things`` are what is named, a layer before its state, and ``write`` makes of
    their names what stands there.  ``defines``: the thing has its name from here.
    """

    path: Path
    things: tuple[Thing, ...]
    write: Callable[..., str] = str
    start: int = -1
    end: int = -1
    part: str = ""
    key: str = ""
    defines: bool = False


def places(document: Character) -> Iterator[Place]:
    """Every place of the document where a name stands, in the document's order."""
    return _Visitor(document).visit()


def things(document: Character) -> list[Thing]:
    """Everything that has a name, once each."""
    return list(dict.fromkeys(place.things[-1] for place in places(document) if place.defines))


def users(document: Character, thing: Thing) -> list[Place]:
    """The places that use a thing, without those that give it its name."""
    return [place for place in places(document) if thing in place.things and not place.defines]


class _Visitor:
    """Goes through one document."""

    def __init__(self, document: Character) -> None:
        self.document = document
        self.choices = {one.name: one.choices for one in document.parameters if one.kind == "choice"}

    @cached_property
    def symbols(self) -> dict[str, tuple[Thing, Callable[..., str]]]:
        """What each name of a condition stands for, and how it is written."""
        controls = self.document.controls
        found: dict[str, tuple[Thing, Callable[..., str]]] = {}
        for stick in controls.sticks:
            for part in STICK_PARTS:
                found[f"{stick.name}.{part}"] = Thing("stick", stick.name), lambda name, part=part: f"{name}.{part}"
        found |= {one.name: (Thing("button", one.name), str) for one in controls.buttons}
        found |= {one.name: (Thing("parameter", one.name), str) for one in self.document.parameters}
        return found

    def visit(self) -> Iterator[Place]:
        document = self.document
        yield from self._parameters()
        for number, text in enumerate(document.assumptions):
            yield from self._text(("assumptions", number), text, "")
        controls: list[tuple[str, tuple[Any, ...]]] = [
            ("stick", document.controls.sticks),
            ("button", document.controls.buttons),
        ]
        for kind, parts in controls:
            for at, one in enumerate(parts):
                yield Place(("controls", f"{kind}s", at, "name"), (Thing(kind, one.name),), defines=True)
        for at, sheet in enumerate(document.sheets):
            yield Place(("sheets", at, "name"), (Thing("sheet", sheet.name),), defines=True)
        for at, clip in enumerate(document.clips):
            yield from self._clip(("clips", at), clip)
        for at, blend in enumerate(document.blends):
            path: Path = ("blends", at)
            yield Place((*path, "name"), (Thing("blend", blend.name),), defines=True)
            for number, axis in enumerate(blend.axes):
                yield self._symbol((*path, "axes", number, "parameter"), axis.parameter)
            for number, sample in enumerate(blend.samples):
                yield Place((*path, "samples", number, "clip"), (Thing("clip", sample.clip),))
        for at, layer in enumerate(document.layers):
            yield from self._layer(("layers", at), layer)
        if document.pattern is not None and document.layers:
            for at, state in enumerate(document.pattern.joins):
                yield Place(("pattern", "joins", at), (Thing("state", state, document.layers[0].name),))
        for at, squash in enumerate(document.squashes):
            yield Place(("squashes", at, "name"), (Thing("squash", squash.name),), defines=True)
        for at, lean in enumerate(document.leans):
            yield Place(("leans", at, "name"), (Thing("lean", lean.name),), defines=True)
        for name, kind in (("stick", "stick"), ("jump", "button"), ("run", "button"), ("aim_held", "button")):
            if getattr(document.body, name):
                yield Place(("body", name), (Thing(kind, getattr(document.body, name)),))
        aim = document.body.aim
        if any(one.name == aim for one in document.controls.sticks):
            yield Place(("body", "aim"), (Thing("stick", aim),))
        elif aim:
            yield self._symbol(("body", "aim"), aim)
        for at, shape in enumerate(document.course.shapes):
            if shape.kind == "zone" and shape.name:
                yield self._symbol(("course", "shapes", at, "name"), shape.name)
        for at, take in enumerate(document.takes):
            yield from self._take(("takes", at), take)

    def _parameters(self) -> Iterator[Place]:
        for at, one in enumerate(self.document.parameters):
            path: Path = ("parameters", at)
            yield Place((*path, "name"), (Thing("parameter", one.name),), defines=True)
            for number, choice in enumerate(one.choices if one.kind == "choice" else ()):
                yield Place((*path, "choices", number), (Thing("choice", choice, one.name),), defines=True)
            for field in ("rest", "start"):
                yield from self._value((*path, field), one.name, getattr(one, field))
            if one.owner == "formula":
                yield from self._text((*path, "formula"), one.formula, "")

    def _clip(self, path: Path, clip: Clip) -> Iterator[Place]:
        yield Place((*path, "name"), (Thing("clip", clip.name),), defines=True)
        if clip.sheet:
            yield Place((*path, "sheet"), (Thing("sheet", clip.sheet),))
        for at, cel in enumerate(clip.cels):
            if cel.sheet:
                yield Place((*path, "cels", at, "sheet"), (Thing("sheet", cel.sheet),))
        if clip.playback is not None:
            yield self._symbol((*path, "playback", "parameter"), clip.playback.parameter)
            if clip.playback.resting is not None and clip.playback.resting.sheet:
                yield Place((*path, "playback", "resting", "sheet"), (Thing("sheet", clip.playback.resting.sheet),))
        for at, mark in enumerate(clip.marks):
            yield Place((*path, "marks", at, "name"), (Thing("mark", mark.name),), defines=True)
            yield from self._effects((*path, "marks", at, "effects"), mark.effects)
        for at, span in enumerate(clip.spans):
            yield Place((*path, "spans", at, "name"), (Thing("span", span.name),), defines=True)
            if span.hold:
                yield self._symbol((*path, "spans", at, "hold"), span.hold)

    def _layer(self, path: Path, layer: Layer) -> Iterator[Place]:
        yield Place((*path, "name"), (Thing("layer", layer.name),), defines=True)
        if layer.start:
            yield Place((*path, "start"), (Thing("state", layer.start, layer.name),))
        for at, lane in enumerate(layer.lanes):
            yield Place((*path, "lanes", at), (Thing("lane", lane, layer.name),), defines=True)
        for at, state in enumerate(layer.states):
            yield from self._state((*path, "states", at), layer.name, state)
        for at, one in enumerate(layer.transitions):
            look()
            way: Path = (*path, "transitions", at)
            for field in ("source", "to"):
                if getattr(one, field):
                    yield Place((*way, field), (Thing("state", getattr(one, field), layer.name),))
            if one.from_lane:
                yield Place((*way, "from_lane"), (Thing("lane", one.from_lane, layer.name),))
            yield from self._shapes(way, one)
            yield from self._text((*way, "when"), one.when, layer.name)

    def _state(self, path: Path, layer: str, state: State) -> Iterator[Place]:
        yield Place((*path, "name"), (Thing("state", state.name, layer),), defines=True)
        if state.lane:
            yield Place((*path, "lane"), (Thing("lane", state.lane, layer),), defines=True)
        for kind in ("clip", "blend"):
            if getattr(state, kind):
                yield Place((*path, kind), (Thing(kind, getattr(state, kind)),))
        yield from self._shapes(path, state)
        if state.held is not None:
            yield Place((*path, "held", "sheet"), (Thing("sheet", state.held.sheet),))
        if state.expects:
            yield from self._text((*path, "expects"), state.expects, layer)
        for field in ("on_entry", "on_leave"):
            yield from self._effects((*path, field), getattr(state, field))

    def _take(self, path: Path, take: Take) -> Iterator[Place]:
        yield Place((*path, "name"), (Thing("take", take.name),), defines=True)
        for at, change in enumerate(take.changes):
            for key, value in change.set.items():
                thing, write = self.symbols.get(key, (Thing("unknown", key), str))
                here: Path = (*path, "changes", at)
                yield Place(here, (thing,), write, part="key", key=key)
                for found in self._value(here, key, value):
                    yield Place(here, found.things, part="value", key=key)
        if take.begins is not None:
            yield from self._beginning((*path, "begins"), take.begins)
        first = self.document.layers[0].name if self.document.layers else ""
        for at, expectation in enumerate(take.expects):
            place: Path = (*path, "expects", at)
            if expectation.layer:
                yield Place((*place, "layer"), (Thing("layer", expectation.layer),))
            mark = expectation.what == "mark"
            thing = (
                Thing("mark", expectation.name)
                if mark
                else Thing("state", expectation.name, expectation.layer or first)
            )
            yield Place((*place, "name"), (thing,))

    def _beginning(self, path: Path, begins: Beginning) -> Iterator[Place]:
        standing: list[tuple[str, tuple[Standing | Left, ...]]] = [("layers", begins.layers), ("left", begins.left)]
        for field, parts in standing:
            for at, one in enumerate(parts):
                here: Path = (*path, field, at)
                yield Place((*here, "layer"), (Thing("layer", one.layer),))
                yield Place((*here, "state"), (Thing("state", one.state, one.layer),))
                if isinstance(one, Standing) and one.fading:
                    yield Place((*here, "fading"), (Thing("state", one.fading, one.layer),))
        for field, given in (("values", begins.values), ("presses", begins.presses)):
            for at, each in enumerate(given):
                yield self._symbol((*path, field, at, "name"), each.name)
                yield from self._value((*path, field, at, "value"), each.name, each.value)
        for field, names in (("held", begins.held), ("raised", begins.raised)):
            for at, name in enumerate(names):
                yield self._symbol((*path, field, at), name)
        for at, name in enumerate(begins.locks):
            yield Place((*path, "locks", at), (Thing("lock", name),))

    def _shapes(self, path: Path, owner: State | Transition) -> Iterator[Place]:
        """The squash and the lean that come with something."""
        for kind in SHAPES:
            if getattr(owner, kind):
                yield Place((*path, kind), (Thing(kind, getattr(owner, kind)),))

    def _effects(self, path: Path, effects: tuple[Effect, ...]) -> Iterator[Place]:
        for at, effect in enumerate(effects):
            here: Path = (*path, at, "name")
            if effect.do in ("lock", "unlock"):
                yield Place(here, (Thing("lock", effect.name),), defines=True)
            elif effect.do in SHAPES:
                if effect.name:
                    yield Place(here, (Thing(effect.do, effect.name),))
            elif effect.do not in ("freeze", "mode", "push"):
                yield self._symbol(here, effect.name)
                yield from self._value((*path, at, "value"), effect.name, effect.value)

    def _symbol(self, path: Path, name: str) -> Place:
        thing, write = self.symbols.get(name, (Thing("unknown", name), str))
        return Place(path, (thing,), write)

    def _value(self, path: Path, parameter: str, value: object) -> Iterator[Place]:
        """A value, where it names a choice of a parameter."""
        if isinstance(value, str) and value in self.choices.get(parameter, ()):
            yield Place(path, (Thing("choice", value, parameter),))

    # --- conditions

    def _text(self, path: Path, text: str, layer: str) -> Iterator[Place]:
        """The names in a condition; one that cannot be read has none."""
        try:
            node = parse(text)
        except ConditionError:
            return
        found = sorted(self._named(node, layer), key=lambda one: one[1])
        for what, start, end, write in found:
            yield Place(path, what, write, start, end)

    def _named(self, node: tree.Node, layer: str) -> Iterator[tuple[tuple[Thing, ...], int, int, Callable[..., str]]]:
        waiting = [node]
        while waiting:
            part = waiting.pop()
            match part:
                case tree.Name(name) | tree.Edge(name) | tree.Buffered(name):
                    thing, write = self.symbols.get(name, (Thing("unknown", name), str))
                    yield (thing,), part.at, part.at + len(name), write
                case tree.SpanOn(name):
                    yield (Thing("span", name),), part.at, part.at + len(name), str
                case tree.InState(where, state, end=end):
                    yield (Thing("layer", where), Thing("state", state, where)), part.at, end, reference
                case tree.Since(where, state, end=end):
                    own = (Thing("state", state, where or layer),)
                    yield (Thing("layer", where), *own) if where else own, part.at, end, since_place
                case tree.Compare(_, left, right) if (choice := self._choice(left, right)) is not None:
                    named, word = choice
                    yield (Thing("choice", word.name, named.name),), word.at, word.at + len(word.name), str
                    waiting.append(named)
                case _:
                    waiting.extend(tree.children(part))

    def _choice(self, left: tree.Node, right: tree.Node) -> tuple[tree.Name, tree.Name] | None:
        """The parameter and the choice of a comparison with a choice; None when it is about something else."""
        pairs = ((left, right), (right, left))
        for named, word in pairs:
            if isinstance(named, tree.Name) and named.name in self.choices:
                is_choice = isinstance(word, tree.Name) and word.name in self.choices[named.name]
                return (named, word) if is_choice else None  # type: ignore[return-value]
        return None
