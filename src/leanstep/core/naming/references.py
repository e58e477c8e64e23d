"""The one visitor of names: every reference of a document, where something has its name from or is named.

Renaming, "who uses this?", removing and the checks of unused things all go through :func:`references`.  Which fields hold names, the
document's types say themselves.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from functools import cache, cached_property

from leanstep.core.character.annotations import (
    SYMBOL,
    ChoiceOf,
    Condition,
    Field,
    Gone,
    Names,
    OwnNames,
    Settings,
    fields_of,
)
from leanstep.core.character.document import Character
from leanstep.core.character.edits import Path
from leanstep.core.character.graph import Layer
from leanstep.core.character.inputs import STICK_PARTS
from leanstep.core.character.names import reference
from leanstep.core.character.part import Part
from leanstep.core.conditions import tree
from leanstep.core.conditions.grammar import ConditionError, parse
from leanstep.core.conditions.printing import since_place
from leanstep.core.work import look


@dataclass(frozen=True)
class Thing:
    """Something a document gives a name.

    ``kind``: parameter, choice, button, stick, sheet, clip, blend, layer, state, lane, take, mark, span, lock, pin,
    costume, accessory, alternate, squash or lean; of a name nothing has, ``unknown``.  ``within`` is the layer of a state or lane and
    the parameter of a choice.  Marks, spans, locks and pin points of one name are one thing, wherever they stand.
    """

    kind: str
    name: str
    within: str = ""


@dataclass(frozen=True)
class Reference:
    """Where a name stands.

    ``path`` leads to the field; in a condition, formula or assumption ``start`` and ``end`` say which characters of the
    text (else -1).  ``part`` is ``key`` or ``value`` for the settings of a take's change, whose ``path`` leads to the change
    and whose ``key`` says which setting.  ``things`` are what is named, a layer before its state, and ``write`` makes of
    their names what stands there.  ``defines``: the thing has its name from here.  ``gone``: what goes with the thing.
    """

    path: Path
    things: tuple[Thing, ...]
    write: Callable[..., str] = str
    start: int = -1
    end: int = -1
    part: str = ""
    key: str = ""
    defines: bool = False
    gone: Gone = "field"


def references(document: Character) -> Iterator[Reference]:
    """Every place of the document where a name stands, in the document's order."""
    return _Visitor(document).visit()


def things(document: Character) -> list[Thing]:
    """Everything that has a name, once each."""
    return list(dict.fromkeys(place.things[-1] for place in references(document) if place.defines))


def users(document: Character, thing: Thing) -> list[Reference]:
    """The places that use a thing, without those that give it its name."""
    return [place for place in references(document) if thing in place.things and not place.defines]


@cache
def _naming(kind: type[Part]) -> tuple[Field, ...]:
    """The fields of a part that hold names, or parts that do."""
    return tuple(
        one
        for one in fields_of(kind)
        if (one.part is not None and one.part is not kind and _naming(one.part))
        or any(isinstance(note, Names | ChoiceOf | Settings | Condition) for note in one.notes)
    )


class _Visitor:
    """Goes through one document."""

    def __init__(self, document: Character) -> None:
        self.document = document
        self.choices = {one.name: one.choices for one in document.parameters if one.kind == "choice"}
        self.first = document.layers[0].name if document.layers else ""

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

    def visit(self) -> Iterator[Reference]:
        yield from self._part((), self.document, "")

    def _part(self, path: Path, part: Part, layer: str) -> Iterator[Reference]:
        """The names in a part, which lies in a ``layer`` (empty: in none)."""
        if isinstance(part, Layer):
            layer = part.name
        for field in _naming(type(part)):
            here: Path = (*path, field.name)
            if field.part is not None:
                own = field.note(OwnNames)
                if own is not None and not own.hold_in(part):
                    continue
                look()
                for number, one in field.parts(part):
                    yield from self._part(here if number is None else (*here, number), one, layer)
                continue
            value = getattr(part, field.name)
            for note in field.notes:
                if isinstance(note, Names):
                    yield from self._named_in(field, note, part, here, layer)
                elif isinstance(note, ChoiceOf):
                    yield from self._value(here, getattr(part, note.parameter), value, note.gone)
                elif isinstance(note, Settings):
                    yield from self._settings(path, value)
                elif isinstance(note, Condition) and note.holds_in(part):
                    texts = enumerate(value) if isinstance(value, tuple) else ((None, value),)
                    for number, text in texts:
                        if text:
                            yield from self._text(here if number is None else (*here, number), text, layer)

    def _named_in(self, field: Field, note: Names, part: Part, path: Path, layer: str) -> Iterator[Reference]:
        """The names a field holds."""
        kind, value = note.kind_in(part), getattr(part, field.name)
        if not kind:
            return
        names = [(path, value)] if isinstance(value, str) else [((*path, at), one) for at, one in enumerate(value)]
        within = ""
        if kind in ("state", "lane"):
            within = getattr(part, "layer", "") or layer or self.first
        elif kind == "choice":
            within = getattr(part, "name", "")
        # a lock has its name from whatever locks under it
        defines = note.defines or (kind == "lock" and field.name == "name")
        for where, name in names:
            if not name and not field.required and not (note.empty and kind in (SYMBOL, "lock")):
                continue
            thing, write = self._thing(kind, name, within)
            yield Reference(where, (thing,), write, defines=defines, gone=note.gone)

    def _thing(self, kind: str, name: str, within: str) -> tuple[Thing, Callable[..., str]]:
        """What a name of a kind stands for, and how it is written."""
        if kind == "aim" and any(one.name == name for one in self.document.controls.sticks):
            kind = "stick"
        if kind in (SYMBOL, "aim"):
            return self.symbols.get(name, (Thing("unknown", name), str))
        return Thing(kind, name, within), str

    def _settings(self, path: Path, settings: Mapping[str, object]) -> Iterator[Reference]:
        """The names of what a change sets, and choices it sets them to."""
        for key, value in settings.items():
            thing, write = self._thing(SYMBOL, key, "")
            yield Reference(path, (thing,), write, part="key", key=key)
            for found in self._value(path, key, value):
                yield Reference(path, found.things, part="value", key=key)

    def _value(self, path: Path, parameter: str, value: object, gone: Gone = "field") -> Iterator[Reference]:
        """A value, where it names a choice of a parameter."""
        if isinstance(value, str) and value in self.choices.get(parameter, ()):
            yield Reference(path, (Thing("choice", value, parameter),), gone=gone)

    # --- conditions

    def _text(self, path: Path, text: str, layer: str) -> Iterator[Reference]:
        """The names in a condition; one that cannot be read has none."""
        try:
            node = parse(text)
        except ConditionError:
            return
        found = sorted(self._named(node, layer), key=lambda one: one[1])
        for what, start, end, write in found:
            yield Reference(path, what, write, start, end)

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
