"""Giving things other names, everywhere at once, so that nothing means anything else than before."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from msgspec.structs import replace

from leanstep.core.body.records import TOLD
from leanstep.core.character.document import Character
from leanstep.core.character.edits import change, part_at, put
from leanstep.core.character.names import IN_CONDITIONS, SYMBOLS, name_fault
from leanstep.core.errors import LeanStepError
from leanstep.core.naming.references import Reference, Thing, references, things
from leanstep.core.naming.targets import renamed_about
from leanstep.core.naming.wording import place_in_words


def rename(document: Character, thing: Thing, name: str) -> Character:
    """The document with a thing renamed wherever it is named.  Conditions that cannot be read stay as they are.

    Raises
    ------
    LeanStepError : the name cannot be used, is taken, or would be taken for something else somewhere.
    """
    if name == thing.name:
        return document
    fault = rename_fault(document, thing, name)
    if fault is not None:
        raise LeanStepError(f"{thing.kind} {thing.name!r}", fault, f"It is still called {thing.name}.")
    return _renamed(document, thing, name)


def rename_fault(document: Character, thing: Thing, name: str) -> str | None:
    """Why a thing cannot have another name, as a clause; None when it can."""
    fault = name_fault(name, thing.kind in IN_CONDITIONS)
    if fault is not None or name == thing.name:
        return fault
    rivals = SYMBOLS if thing.kind in SYMBOLS else (thing.kind,)
    for other in things(document):
        if other.kind in rivals and other.within == thing.within and other.name == name:
            return f"there is already a {other.kind} called {name}"
    bodily = [one.name for one in document.parameters if one.owner == "body" and one.name in TOLD]
    if thing.kind == "parameter" and thing.name in bodily:
        return f"the body sets it under the name {thing.name}"
    return _taken_for_another(document, thing, name)


def _taken_for_another(document: Character, thing: Thing, name: str) -> str | None:
    """Where something would mean another thing once ``thing`` is called ``name``, as a clause; None when nothing would."""
    after = list(references(_renamed(document, thing, name)))
    for before, now in zip(references(document), after, strict=True):
        wanted = tuple(called(one, thing, name) for one in before.things)
        if now.things != wanted and before.things[-1].kind != "unknown":
            return (
                f"{place_in_words(document, before)} would take it for the {now.things[-1].kind} {now.things[-1].name}"
            )
    return None


def called(one: Thing, thing: Thing, name: str) -> Thing:
    """A thing as it is known once ``thing`` is called ``name``."""
    if one == thing:
        return Thing(one.kind, name, one.within)
    owner = {"layer": ("state", "lane"), "parameter": ("choice",)}.get(thing.kind, ())
    return Thing(one.kind, one.name, name) if one.kind in owner and one.within == thing.name else one


def _renamed(document: Character, thing: Thing, name: str) -> Character:
    return renamed(document, {thing: name})


def renamed(document: Character, names: Mapping[Thing, str]) -> Character:
    """The document with things renamed all at once, whatever that makes of it; nothing is looked at."""
    concerned = [place for place in references(document) if any(thing in names for thing in place.things)]
    texts: dict[tuple[str | int, ...], list[Reference]] = {}
    settings: dict[tuple[str | int, ...], list[Reference]] = {}
    for place in concerned:
        if place.start >= 0:
            texts.setdefault(place.path, []).append(place)
        elif place.part:
            settings.setdefault(place.path, []).append(place)
        else:
            document = put(document, place.path, _written(place, names))
    for path, found in texts.items():
        document = put(document, path, spliced(part_at(document, path), found, lambda one: _written(one, names)))
    for path, found in settings.items():
        keys = {one.key: _written(one, names) for one in found if one.part == "key"}
        values = {one.key: _written(one, names) for one in found if one.part == "value"}
        old = part_at(document, path).set
        document = change(
            document, path, set={keys.get(key, key): values.get(key, value) for key, value in old.items()}
        )
    muted = document.muted
    for thing, name in names.items():
        muted = tuple(replace(one, about=renamed_about(one.about, thing, name)) for one in muted)
    return change(document, (), muted=muted) if muted != document.muted else document


def _written(place: Reference, names: Mapping[Thing, str]) -> str:
    """What stands at a place once things are called otherwise."""
    return place.write(*(names.get(one, one.name) for one in place.things))


def spliced(text: str, found: list[Reference], written: Callable[[Reference], str]) -> str:
    """A condition with some of its names replaced where they stand; everything between them stays as it was written."""
    made, last = "", 0
    for place in found:
        word = written(place)
        made += text[last : place.start]
        made += " " * (_sticks(made[-1:]) and _sticks(word[:1])) + word
        made += " " * (_sticks(word[-1:]) and _sticks(text[place.end : place.end + 1]))
        last = place.end
    return made + text[last:]


def _sticks(letter: str) -> bool:
    """Whether a letter would grow together with another one beside it."""
    return letter.isalnum() or letter == "_"
