"""What marks and spans say to the game on a tick."""

from __future__ import annotations

from collections.abc import Mapping

from leanstep.core.character.clips import Mark
from leanstep.core.character.document import Character
from leanstep.core.clips.timing import units
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.situation import Situation, Step

Words = Mapping[str, float | bool | str]


def says_anything(character: Character) -> bool:
    """Whether any mark or span has words for the game."""
    marks = any(mark.says for clip in character.clips for mark in clip.marks)
    return marks or any(span.says for clip in character.clips for span in clip.spans)


def said(machine: Machine, before: Situation, step: Step) -> dict[str, Words]:
    """By the names of marks that fired and of spans that are on, what they say; ``before`` is the situation before the tick.

    Of marks of one name that fired together the last one counts.
    """
    found: dict[str, Words] = {}
    now = step.situation
    for layer, name in step.marks:
        mark = mark_fired(machine, before, now, layer, name)
        if mark is not None and mark.says:
            found[name] = mark.says
    for layer, state in enumerate(now.states):
        picture = machine.pictures[layer][state]
        if picture is not None:
            reel, playhead = picture.reels[now.picks[layer]], now.playheads[layer]
            spans = (span for span, window in zip(reel.clip.spans, reel.windows) if window in reel.on(playhead))
            found |= {span.name: span.says for span in spans if span.says}
    return found


def mark_fired(machine: Machine, before: Situation, now: Situation, layer: int, name: str) -> Mark | None:
    """The mark of a name that fired: one the playhead passed in the state before, else one at the start of the state entered."""
    picture = machine.pictures[layer][before.states[layer]]
    if picture is not None:
        reel = picture.reels[picture.pick(now.values, before.picks[layer])]
        marks = sorted(reel.clip.marks, key=lambda mark: units(mark.at))
        fired = reel.fired(before.playheads[layer], reel.amount(now.values))
        passed = [marks[reel.cues.index(cue)] for cue in fired if cue.name == name]
        if passed:
            return passed[-1]
    entered = machine.pictures[layer][now.states[layer]]
    marks = [] if entered is None else list(entered.reels[now.picks[layer]].clip.marks)
    return next((mark for mark in marks if mark.name == name), None)
