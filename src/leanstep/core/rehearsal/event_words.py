"""What marks and spans say to the game on a tick."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from leanstep.core.character.clips import Clip, Mark
from leanstep.core.character.document import Character
from leanstep.core.clips.timing import units
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.situation import Step

Words = Mapping[str, float | bool | str]


def says_anything(character: Character) -> bool:
    """Whether any mark or span has words for the game."""
    marks = any(mark.says for clip in character.clips for mark in clip.marks)
    return marks or any(span.says for clip in character.clips for span in clip.spans)


def said(machine: Machine, step: Step) -> dict[str, Words]:
    """By the names of marks that fired and of spans that are on, what they say.

    Of marks of one name that fired together the last one counts.
    """
    found: dict[str, Words] = {}
    now = step.situation
    for mark in marks_fired(machine, step):
        if mark.says:
            found[mark.name] = mark.says
    for layer, state in enumerate(now.states):
        picture = machine.pictures[layer][state]
        if picture is not None:
            reel, playhead = picture.reels[now.picks[layer]], now.playheads[layer]
            spans = (span for span, window in zip(reel.clip.spans, reel.windows) if window in reel.on(playhead))
            found |= {span.name: span.says for span in spans if span.says}
    return found


def marks_fired(machine: Machine, step: Step) -> Iterator[Mark]:
    """The marks that fired, in order."""
    for (layer, _), (state, pick, number) in zip(step.marks, step.fired_in, strict=True):
        picture = machine.pictures[layer][state]
        assert picture is not None
        yield in_time(picture.reels[pick].clip)[number]


def in_time(clip: Clip) -> list[Mark]:
    """The marks of a clip in the order of time."""
    return sorted(clip.marks, key=lambda mark: units(mark.at))
