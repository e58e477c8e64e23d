"""Faults of motion the drawings do not have: paths that end in the wrong place, feet that skate, squashes that stay."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence
from statistics import median

from leanstep.core.character.clips import Clip, Effect
from leanstep.core.character.document import Character
from leanstep.core.character.takes import Take
from leanstep.core.clips.strides import skating, speeds_of, stride_of
from leanstep.core.clips.timing import seconds
from leanstep.core.clips.travel import total
from leanstep.core.findings.evidence import Evidence, check, written
from leanstep.core.findings.results import Finding
from leanstep.core.rehearsal.path_checks import Journey, journeys
from leanstep.core.rehearsal.traces import Trace
from leanstep.core.sheets.analysis import SheetAnalysis

SLIDES = 0.12
"""The share of a stride by which feet may skate."""
GUESSED = 0.3
"""That share where only the drawings tell how far feet step."""
DISAGREE = 0.5
"""The share by which the travel of samples that follow each other may differ, in units a second."""
LEAST_SHOWN = 0.3
"""Seconds for which a state has to be shown walking for its speed to count."""


@check
def feet(evidence: Evidence) -> Iterator[Finding]:
    """Feet that skate: a clip is shown at another speed than its feet have."""
    character = evidence.character
    for clip in character.clips:
        # seen from above, feet step in every direction through the drawing
        spreads = _spreads(evidence, clip) if character.body.model == "side" else ()
        stride = stride_of(clip, character.rate, spreads)
        if stride is None:
            continue
        speeds = speeds_of(character, clip) or _seen(evidence, clip)
        worst = max((skating(stride, speed) for speed in speeds), key=lambda one: abs(one.share), default=None)
        if worst is None or abs(worst.share) <= (SLIDES if clip.contacts else GUESSED):
            continue
        way = "forward" if worst.share > 0 else "back"
        yield written(
            "clip.slide",
            "warning" if clip.contacts else "note",
            {"clip": clip.name, "speed": round(worst.speed, 3), "natural": round(stride.speed, 3)},
            f"In clip {clip.name} the feet skate {way} by {abs(worst.step):.1f} units a step, {abs(worst.share):.0%} of a stride: "
            f"it is shown at {worst.speed:.4g} units/s, and its feet walk {stride.speed:.4g}.",
            f"Played {worst.rate:.3g} times as fast they stand still on the ground."
            + ("" if clip.contacts else " Measured in the drawings, which is rough: key the feet to know."),
        )


def _spreads(evidence: Evidence, clip: Clip) -> Sequence[float]:
    """How far apart the feet of a clip's drawings stand; none where that is not known."""
    facts = [evidence.facts.get(clip.sheet_of(cel)) for cel in clip.cels]
    return [
        one.apart[cel.frame]
        for one, cel in zip(facts, clip.cels)
        if isinstance(one, SheetAnalysis) and cel.frame < len(one.apart)
    ]


def _seen(evidence: Evidence, clip: Clip) -> list[float]:
    """The usual speed of the body in takes while a state shows a clip by itself and the body walks."""
    found: list[float] = []
    machine = evidence.machine
    for layer, row in enumerate(machine.pictures):
        states = {
            at for at, one in enumerate(row) if one is not None and one.blend is None and one.reels[0].clip is clip
        }
        for trace in evidence.traces.values() if states else ():
            for body, state in zip(trace.bodies(), trace.states(layer)):
                if state in states and body.grounded and body.speed > 1.0 and not body.travels:
                    found.append(body.speed)
    return [median(found)] if len(found) >= LEAST_SHOWN * evidence.character.rate else []


@check
def travels(evidence: Evidence) -> Iterator[Finding]:
    """Paths that end inside a wall, below an edge, at a wall, or before their mark gives control back."""
    for take, trace in _played(evidence):
        told = set[tuple[str, str]]()
        for journey in journeys(trace):
            for finding in _ends(take, journey):
                if (finding.id, journey.clip.name) not in told:
                    told.add((finding.id, journey.clip.name))
                    yield finding


def _played(evidence: Evidence) -> Iterator[tuple[Take, Trace]]:
    for take in evidence.character.takes:
        if take.world == "body" and take.name in evidence.traces:
            yield take, evidence.traces[take.name]


def _ends(take: Take, journey: Journey) -> Iterator[Finding]:
    clip, depths = journey.clip.name, sorted(one for one in journey.inside if one)
    if depths:
        yield _journey(
            "travel.inside",
            take,
            journey,
            f"In take {take.name}, the path of clip {clip} ends {depths[0]:.3g} units inside the wall.",
            "It goes through walls. Make it shorter, or let walls stop it.",
            *sorted((journey.cure((-journey.inside[0], 0.0)), journey.cure((0.0, journey.inside[1]))), key=_change),
        )
    elif journey.lost:
        yield _journey(
            "travel.short",
            take,
            journey,
            f"In take {take.name}, clip {clip} is left on tick {journey.end}, before its mark {journey.lost} gives control back.",
            "Let the state wait for the mark, or move the mark to before it.",
        )
    elif journey.short:
        yield _journey(
            "travel.short",
            take,
            journey,
            f"In take {take.name}, the path of clip {clip} ends {journey.short:.3g} units below the edge.",
            "The figure falls back instead of standing on top. Make the path longer.",
            journey.cure((0.0, journey.short)),
        )
    elif any(journey.stopped):
        yield _journey(
            "travel.short",
            take,
            journey,
            f"In take {take.name}, the path of clip {clip} is stopped {max(journey.stopped):.3g} units before its end: something "
            "stands in the way.",
            "Make the path shorter, or let it go through walls.",
            journey.cure((-journey.stopped[0], -journey.stopped[1])),
        )


def _change(factors: tuple[float, float]) -> float:
    """How much a path is changed by being stretched so."""
    return max(abs(one - 1.0) for one in factors)


def _journey(
    kind: str,
    take: Take,
    journey: Journey,
    sentence: str,
    why: str,
    *factors: tuple[float, float],
) -> Finding:
    subject: dict[str, object] = {"clip": journey.clip.name, "take": take.name}
    cures = [[float(f"{one:.6g}") for one in pair] for pair in factors if min(pair) > 0 and pair != (1.0, 1.0)]
    if cures:
        subject["scales"] = cures
    return Finding(kind, "warning", subject, sentence, "body", "shown", take, why)


@check
def disagreeing(evidence: Evidence) -> Iterator[Finding]:
    """Samples of one blend space that travel at very different speeds."""
    clips = {clip.name: clip for clip in evidence.character.clips}
    for blend in evidence.character.blends:
        known = [clips[one.clip] for one in blend.samples if one.clip in clips]
        speeds = {clip.name: _speed(evidence.character, clip) for clip in known if clip.travel is not None}
        if not speeds:
            continue
        speeds |= {clip.name: 0.0 for clip in known if clip.travel is None}
        least, most = min(speeds, key=speeds.__getitem__), max(speeds, key=speeds.__getitem__)
        if speeds[most] - speeds[least] > DISAGREE * abs(speeds[most]):
            yield written(
                "blend.travel",
                "note",
                {"blend": blend.name, "clips": [least, most]},
                f"In blend space {blend.name}, {most} travels {speeds[most]:.4g} units/s and {least} {speeds[least]:.4g}: the figure "
                "jerks when the pick changes.",
                "Give both a path of like speed, or take the paths out and let the body walk.",
            )


def _speed(character: Character, clip: Clip) -> float:
    ahead, up = total(clip)
    return math.hypot(ahead, up) / seconds(clip, character.rate)


@check
def squashes(evidence: Evidence) -> Iterator[Finding]:
    """Squashes that a mark or a transition began and that nothing ends."""
    lasting = {one.name for one in evidence.character.squashes if one.hold is None and not one.every}
    begun = lasting & {effect.name for effect in _effects(evidence.character) if effect.do == "squash"}
    begun |= lasting & {way.squash for layer in evidence.character.layers for way in layer.transitions if way.squash}
    for take, trace in _played(evidence) if begun else ():
        last = trace.deformed(len(trace.steps) - 1).begun
        if last is None or last.freed >= 0 or last.held_by is not None or last.squash.name not in begun:
            continue
        since = len(trace.steps) - last.since
        left = [
            layer for layer in range(len(trace.machine.layers)) if any(tick > since for tick, _ in trace.entries(layer))
        ]
        if left:
            waits = last.since / evidence.character.rate
            yield Finding(
                "squash.stays",
                "warning",
                {"squash": last.squash.name, "take": take.name},
                f"In take {take.name}, squash {last.squash.name} is said to hold, and stays for good: its state has been left, and "
                f"{waits:.2g} s later the figure still has its shape.",
                "body",
                "shown",
                take,
                "Let it spring back after a time, begin it in a state, which ends it when it is left, or end it by a mark.",
            )
            return


def _effects(character: Character) -> Iterator[Effect]:
    for clip in character.clips:
        yield from itertools.chain.from_iterable(mark.effects for mark in clip.marks)
    for layer in character.layers:
        for state in layer.states:
            yield from (*state.on_entry, *state.on_leave)
