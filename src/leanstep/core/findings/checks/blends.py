"""Faults of blend spaces that their numbers alone show."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise

from leanstep.core.blends.picking import pick
from leanstep.core.character.model import BlendSpace, Clip
from leanstep.core.clips.timing import TICK, timing, units
from leanstep.core.findings.model import Evidence, Finding, check, written

LENGTHS = 1 / 5
"""By what share of the longer one the lengths of clips that follow each other may differ."""
SHARES = 1 / 10
"""By what share of a pass a mark of both may come earlier or later."""


@check
def samples(evidence: Evidence) -> Iterator[Finding]:
    """Samples on one place, samples that no value picks, and mirrored ones of art that must not be."""
    machine = evidence.machine
    for blend in evidence.character.blends:
        index = machine.index.get(blend.axes[0].parameter, -1)
        if index < 0 or machine.symbols[index].kind not in ("number", "whole"):
            continue  # what it reads is a finding of its own
        first: dict[tuple[float, ...], int] = {}
        for number, sample in enumerate(blend.samples):
            subject = {"blend": blend.name, "sample": number}
            before = first.setdefault(sample.at, number)
            if before != number:
                yield written(
                    "blend.coincident",
                    "note",
                    subject,
                    f"In blend space {blend.name}, {blend.samples[before].clip} and {sample.clip} lie on one place, "
                    f"{sample.at[0]:g}: the first of them is picked.",
                    "Move one of them, or take it out.",
                )
            elif not _can_be_picked(blend, number, machine.symbols[index].low, machine.symbols[index].high):
                yield written(
                    "sample.unpicked",
                    "note",
                    subject,
                    f"In blend space {blend.name}, {sample.clip} at {sample.at[0]:g} is never picked: no value that "
                    f"{blend.axes[0].parameter} can have is nearest to it.",
                    "Move it to where its values are, widen the axis or the parameter, or take it out.",
                )
        yield from _mirrored(evidence, blend)
        yield from _out_of_phase(evidence, blend)


def _out_of_phase(evidence: Evidence, blend: BlendSpace) -> Iterator[Finding]:
    """Neighbours on the rail, of which one can follow the other, whose cycles do not go together."""
    clips = {clip.name: clip for clip in evidence.character.clips}
    order = sorted(range(len(blend.samples)), key=lambda number: blend.samples[number].at)
    for one, other in pairwise(order):
        first, second = (clips.get(blend.samples[number].clip) for number in (one, other))
        if first is None or second is None or "repeat" not in (first.loop, second.loop):
            continue
        reason, shift = _apart(first, second, blend.samples[other].phase - blend.samples[one].phase)
        if reason:
            yield written(
                "blend.phase",
                "note",
                {"blend": blend.name, "sample": other, **({"phase": shift} if shift is not None else {})},
                f"In blend space {blend.name}, {first.name} and {second.name} are not in phase: {reason}.",
                "When the pick changes in mid-step, the foot jumps."
                if shift is not None
                else "When the pick changes, the rhythm of the steps changes at once.",
            )


def _apart(first: Clip, second: Clip, phase: float) -> tuple[str, float | None]:
    """How two clips differ that follow each other, in words (empty: they go together), and by how much more the second one's
    phase would have to differ from the first one's (None: that cures nothing)."""
    lengths = timing(first).length, timing(second).length
    if max(lengths) - min(lengths) > max(lengths) * LENGTHS:
        ticks = " and ".join(f"{length / TICK:g}" for length in lengths)
        return f"they last {ticks} ticks", None
    for mark in first.marks:
        share = units(mark.at) / lengths[0] + phase
        ways = [(units(one.at) / lengths[1] - share + 0.5) % 1 - 0.5 for one in second.marks if one.name == mark.name]
        if ways and min(map(abs, ways)) > SHARES:
            return f"{mark.name} comes {min(map(abs, ways)):.0%} of a pass apart", min(ways, key=abs)
    return "", None


def _can_be_picked(blend: BlendSpace, number: int, low: float, high: float) -> bool:
    """Whether some value of a parameter from ``low`` to ``high`` picks a sample.  Of the values it can have, that which lies
    closest to a sample's place is the best one for it: going on, no other sample falls behind."""
    axis = blend.axes[0]
    low, high = min(max(low, axis.min), axis.max), min(max(high, axis.min), axis.max)
    return pick(blend, min(max(blend.samples[number].at[0], low), high)) == number


def _mirrored(evidence: Evidence, blend: BlendSpace) -> Iterator[Finding]:
    character = evidence.character
    clips = {clip.name: clip for clip in character.clips}
    fixed = {sheet.name for sheet in character.sheets if not sheet.mirrors}
    for number, sample in enumerate(blend.samples):
        clip = clips.get(sample.clip) if sample.mirrored else None
        named = sorted({clip.sheet_of(cel) for cel in clip.cels} & fixed) if clip is not None else []
        if named:
            yield written(
                "blend.mirrored",
                "note",
                {"blend": blend.name, "sample": number},
                f"In blend space {blend.name}, {sample.clip} is mirrored, but sheet {named[0]} has drawings of its own for both "
                "ways.",
                "What is carried on one side would change hands. Use a clip that is drawn that way.",
            )
