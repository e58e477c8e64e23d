"""Edits of ways of moving: what is played instead of what, and when."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable

from msgspec.structs import replace

from leanstep.core.character.alternates import Alternate, Instead
from leanstep.core.character.document import Character
from leanstep.core.character.edits import free_name

Place = tuple[int, int]
"""A way of moving, and what of it stands in for a clip."""


def place_of(character: Character, clip: str) -> Place | None:
    """Where a clip stands in for another; None where it does not."""
    pairs = ((at, part) for at, one in enumerate(character.alternates) for part in enumerate(one.clips))
    return next(((at, place) for at, (place, part) in pairs if part.by == clip), None)


def moved_instead(character: Character, by: str, clip: str, alternate: str = "") -> Character:
    """A clip stands in for another, in a way of moving of this name or (empty) in one that is called as the clip."""
    there = [one.name for one in character.alternates]
    name, made = alternate or free_name(by, there), Instead(clip=clip, by=by)
    alternates = []
    for one in (*character.alternates, *(() if name in there else (Alternate(name=name),))):
        if one.name == name:
            one = replace(one, clips=(*(part for part in one.clips if part.clip != clip), made))
        alternates.append(one)
    kept = _keeping(alternates, lambda part: part is made or part.by != by)
    return replace(character, alternates=kept)


def without_place(character: Character, by: str) -> Character:
    """The character in which a clip stands in for none; a way of moving that has nothing left is gone."""
    return replace(character, alternates=_keeping(character.alternates, lambda part: part.by != by))


def _keeping(alternates: Iterable[Alternate], keeps: Callable[[Instead], bool]) -> tuple[Alternate, ...]:
    made = ((one, tuple(filter(keeps, one.clips))) for one in alternates)
    return tuple(replace(one, clips=kept) for one, kept in made if kept or not one.clips)


def clips_shown(character: Character) -> list[str]:
    """The clips that states show, by themselves or in blend spaces, in the order of the document."""
    blends = {blend.name: [sample.clip for sample in blend.samples] for blend in character.blends}
    states = [state for layer in character.layers for state in layer.states]
    shown = {state.clip for state in states} | {clip for state in states for clip in blends.get(state.blend, ())}
    return [clip.name for clip in character.clips if clip.name in shown]


def lacking(character: Character, at: int) -> list[str]:
    """The clips that states show and a way of moving has nothing for."""
    known = {part.clip for part in character.alternates[at].clips}
    return [clip for clip in clips_shown(character) if clip not in known]


def by_names(character: Character, at: int) -> dict[str, str]:
    """Clips by which others that a way of moving lacks could be moved: of the same name but for a word that begins as the way is
    called (``limp walk`` or ``walk limping`` for ``walk``)."""
    way = _words(character.alternates[at].name)[:1]
    found = dict[str, str]()
    for clip in lacking(character, at):
        wanted = _words(clip)
        for other in character.clips:
            more = _words(other.name)
            for word in wanted:
                if word in more:
                    more.remove(word)
            same = len(more) == 1 and len(_words(other.name)) == len(wanted) + 1
            if same and way and (more[0].startswith(way[0]) or way[0].startswith(more[0])):
                found.setdefault(clip, other.name)
    return found


def _words(name: str) -> list[str]:
    return re.findall(r"[^\W_]+", name.lower())
