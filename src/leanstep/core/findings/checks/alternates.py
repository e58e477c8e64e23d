"""Ways of moving that name what is not there, that nothing chooses, or whose clips lack what the originals have."""

from __future__ import annotations

from collections.abc import Iterator

from leanstep.core.character.alternates import Alternate, Instead
from leanstep.core.character.clips import Clip
from leanstep.core.character.document import Character
from leanstep.core.clips.timing import TICK, timing
from leanstep.core.conditions import expression as x
from leanstep.core.findings.evidence import Evidence, check, written
from leanstep.core.findings.results import Finding
from leanstep.core.findings.stand_ins import never_chosen, not_there
from leanstep.core.graph.machine import Machine
from leanstep.core.sheets.analysis import SheetAnalysis
from leanstep.core.wording import listed

ELSEWHERE = 2.0
"""Pixels from which a figure stands elsewhere."""


@check
def alternates(evidence: Evidence) -> Iterator[Finding]:
    """What is written of ways of moving, and what their clips have and lack."""
    character = evidence.character
    moved = {state.alternate for layer in character.layers for state in layer.states}
    clips = {clip.name: clip for clip in character.clips}
    for one in character.alternates:
        for clip, reason, way_out in _broken(character, one):
            sentence = f"Way of moving {one.name}: {reason}."
            yield written("alternate.broken", "error", {"alternate": one.name, "clip": clip}, sentence, way_out)
        if not one.parameter and one.name not in moved:
            sentence = f"Nothing says when {one.name} is the way of moving."
            why = "Choose a parameter and a choice for it, or name it in a state."
            yield written("alternate.unused", "note", {"alternate": one.name}, sentence, why)
        for part in one.clips:
            if part.clip in clips and part.by in clips:
                yield from _lacking(evidence.machine, one, clips[part.clip], clips[part.by])
        yield from _lengths(character, one, clips)


def _broken(character: Character, one: Alternate) -> Iterator[tuple[str, str, str]]:
    """What is wrong with a way of moving: the clip it is about, why, and the way out."""
    names, seen = [clip.name for clip in character.clips], set[str]()
    for part in one.clips:
        for name in (part.clip, part.by):
            yield from ((part.clip, *wrong) for wrong in not_there("clip", name, names))
        if part.clip == part.by:
            yield part.clip, f"clip {part.clip} stands in for itself", "Choose another one, or take it out."
        if part.clip in seen:
            yield part.clip, f"two clips stand in for {part.clip}", "Take one of them out."
        seen.add(part.clip)
    yield from (
        ("", *wrong) for wrong in never_chosen(character, one.parameter, one.value, "it is never moved so by it")
    )


def _lacking(machine: Machine, one: Alternate, own: Clip, other: Clip) -> Iterator[Finding]:
    """Marks that do something and spans that count, which a clip has and what stands in for it has not."""
    marks = list(dict.fromkeys(mark.name for mark in own.marks if mark.effects))
    asked = {part.name for root in machine.roots for part in x.parts(root) if isinstance(part, x.SpanOn)}
    spans = [span.name for span in own.spans if span.hold or span.lock or span.name in asked]
    there = {mark.name for mark in other.marks}, {span.name for span in other.spans}
    missing = [f"mark {name}" for name in marks if name not in there[0]]
    missing += [f"span {name}" for name in spans if name not in there[1]]
    if not missing:
        return
    ends = timing(other).length / TICK
    last = max(
        [mark.at for mark in own.marks if f"mark {mark.name}" in missing]
        + [span.start for span in own.spans if f"span {span.name}" in missing]
    )
    short = f", and is over after {ends:g} ticks, before tick {last:g}" if ends < last else ""
    yield written(
        "alternate.lacks",
        "warning",
        {"alternate": one.name, "clip": own.name, "by": other.name},
        f"{other.name} stands in for {own.name} and lacks its {listed(missing)}{short}.",
        "What states wait for never comes when the figure is moved so.",
    )


def _lengths(character: Character, one: Alternate, clips: dict[str, Clip]) -> Iterator[Finding]:
    """Blend spaces whose clips are of one length, and are not when they are moved so."""
    instead = {part.clip: part.by for part in one.clips if part.by in clips}
    for blend in character.blends:
        names = [sample.clip for sample in blend.samples if sample.clip in clips]
        moved = [instead.get(name, name) for name in names]
        before, after = ({timing(clips[name]).length for name in some} for some in (names, moved))
        if len(before) == 1 and len(after) > 1:
            told = [f"{name} {timing(clips[name]).length / TICK:g}" for name in dict.fromkeys(moved)]
            yield written(
                "alternate.length",
                "warning",
                {"alternate": one.name, "blend": blend.name},
                f"Moved as {one.name}, the clips of blend space {blend.name} are of several lengths: {listed(told)} ticks.",
                "When the pick changes, the rhythm of the steps changes at once.",
            )


@check
def feet_of_alternates(evidence: Evidence) -> Iterator[Finding]:
    """Clips that stand higher or lower than those they stand in for."""
    if evidence.folder is None:
        return
    clips = {clip.name: clip for clip in evidence.character.clips}
    for one in evidence.character.alternates:
        for part in one.clips:
            by = _higher(evidence, clips, part)
            if abs(by) > ELSEWHERE:
                yield written(
                    "alternate.foot",
                    "note",
                    {"alternate": one.name, "clip": part.clip, "by": part.by},
                    f"{part.by} stands {abs(by):.0f} px {'higher' if by > 0 else 'lower'} than {part.clip}, for which it stands in.",
                    "The figure jumps when it is moved so, unless that is meant.",
                )


def _higher(evidence: Evidence, clips: dict[str, Clip], part: Instead) -> float:
    """By how many units the lowest drawing of a clip stands higher than that of the one it stands in for; 0 where that is not seen."""
    lowest = []
    for name in (part.clip, part.by):
        bottoms = []
        for cel in clips[name].cels if name in clips else ():
            seen = evidence.facts.get(clips[name].sheet_of(cel))
            if isinstance(seen, SheetAnalysis) and cel.frame < len(seen.drawings):
                drawing = seen.drawings[cel.frame]
                bottoms += [drawing.bottom * seen.scale[1]] if drawing is not None else []
        if not bottoms:
            return 0.0
        lowest.append(min(bottoms))
    return lowest[1] - lowest[0]
