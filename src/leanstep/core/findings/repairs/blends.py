"""Repairs of blend spaces: samples, gaps, borders, phases."""

from __future__ import annotations

from collections.abc import Iterator

import msgspec

from leanstep.core.bearings import CIRCLE, in_words
from leanstep.core.blends.space import space_of
from leanstep.core.character.blends import ANY, Sample
from leanstep.core.character.document import Character
from leanstep.core.character.edits import change
from leanstep.core.clips.families import EVERY, family_of, ring
from leanstep.core.findings.repairs.registry import Repair, blend_of, mends
from leanstep.core.findings.results import Finding
from leanstep.core.wording import counted, listed


@mends("blend.coincident", "sample.unpicked")
def _without_samples(character: Character, finding: Finding) -> Iterator[Repair]:
    """Without samples that are never picked; one stays."""
    at, blend = blend_of(character, finding)
    lost = finding.details["samples"]
    samples = [one for number, one in enumerate(blend.samples) if number not in lost] or blend.samples[:1]
    names = listed(list(dict.fromkeys(blend.samples[number].clip for number in lost)))
    what = "A sample" if len(lost) == 1 else counted(len(lost), "sample")
    sentence = f"{what} of {names} {'is' if len(lost) == 1 else 'are'} taken out of blend space {blend.name}."
    yield Repair(sentence, change(character, ("blends", at), samples=tuple(samples)))


@mends("blend.gap")
def _in_the_gap(character: Character, finding: Finding) -> Iterator[Repair]:
    """Samples in the main direction nearest to a gap, on every ring that has none there: of the family that stands on the ring,
    drawn that way or mirrored."""
    at, blend = blend_of(character, finding)
    space = space_of(blend, character.bearings)
    if space.dial is None or space.dial[1] < 0:
        return
    around, out = space.dial
    bearing = round(finding.details["at"][around] / EVERY) * EVERY % CIRCLE
    fixed = {sheet.name for sheet in character.sheets if not sheet.mirrors}
    drawn = {clip.name for clip in character.clips if clip.sheet in fixed}
    names, made = [clip.name for clip in character.clips], list[Sample]()
    for speed in sorted({place[out] for place in space.places if place[out] == place[out]}):
        there = [one for one, place in zip(blend.samples, space.places) if place[out] == speed]
        family = next((found for one in there if (found := family_of(names, one.clip))), None)
        if family is None or any(one.at[around] in (bearing, ANY) for one in there):
            continue
        allowed = not drawn & {*family.clips.values()}
        made += [one for one in ring(family.clips, 2, around, speed, allowed) if one.at[around] == bearing]
    if made:
        clips = listed([one.clip for one in made])
        sentence = f"{clips} {'stand' if len(made) > 1 else 'stands'} {in_words(bearing)} in blend space {blend.name}."
        yield Repair(sentence, change(character, ("blends", at), samples=(*blend.samples, *made)))


@mends("flicker.pick")
def _sticky(character: Character, finding: Finding) -> Iterator[Repair]:
    """Borders so sticky that a wobble does not change the pick."""
    at, blend = blend_of(character, finding)
    sentence = f"The borders of blend space {blend.name} are sticky by {finding.details['sticky']:g} rulings."
    yield Repair(sentence, change(character, ("blends", at), sticky=finding.details["sticky"]))


@mends("blend.phase")
def _in_phase(character: Character, finding: Finding) -> Iterator[Repair]:
    """Other phases, where those bring the marks of neighbours together; each follows the one before it."""
    at, blend = blend_of(character, finding)
    moved: dict[int, float] = {}
    for one, other, shift in finding.details.get("shifts", ()):
        moved.setdefault(other, moved.get(one, 0.0) + shift)
    if moved:
        phases = {number: round((blend.samples[number].phase + shift) % 1, 6) % 1 for number, shift in moved.items()}
        samples = [
            msgspec.structs.replace(one, phase=phases.get(number, one.phase))
            for number, one in enumerate(blend.samples)
        ]
        each = listed([f"{blend.samples[number].clip} at {phase:.3g}" for number, phase in phases.items()])
        begin, its = ("begins", "its") if len(phases) == 1 else ("begin", "their")
        sentence = f"In blend space {blend.name}, {each} of {its} length {begin} {its} cycle."
        yield Repair(sentence, change(character, ("blends", at), samples=tuple(samples)))
