"""Edits of ways of moving: what is played instead of what, and when."""

from __future__ import annotations

import re

from leanstep.core.character import stand_in_edits as stand_ins
from leanstep.core.character.alternates import Instead
from leanstep.core.character.document import Character
from leanstep.core.character.edits import free_name
from leanstep.core.character.stand_in_edits import WAYS


def moved_instead(character: Character, by: str, clip: str, alternate: str = "") -> Character:
    """A clip stands in for another, in a way of moving of this name or (empty) in one that is called as the clip."""
    name = alternate or free_name(by, [one.name for one in character.alternates])
    return stand_ins.instead(character, WAYS, Instead(clip=clip, by=by), name)


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
