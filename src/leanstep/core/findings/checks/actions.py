"""Actions that cannot hit, hit without a box, or cannot be guarded although they are meant to be, and states that cannot be hit."""

from __future__ import annotations

import math
from collections.abc import Iterator

from leanstep.core.character.action_boxes import Rect, boxes_on
from leanstep.core.character.clips import BoxKind, Clip
from leanstep.core.clips.phases import laid_phases, timed
from leanstep.core.clips.timing import TICK, timing
from leanstep.core.findings.evidence import Evidence, check
from leanstep.core.findings.results import Finding
from leanstep.core.rehearsal.actions import left_early
from leanstep.core.wording import counted, listed


@check
def actions(evidence: Evidence) -> Iterator[Finding]:
    """What is wrong with single clips that act."""
    for clip in evidence.character.clips:
        hits = any(one.kind == "strike" for one in clip.boxes)
        if not clip.phases and not hits:
            continue
        active = [one for one in laid_phases(clip) if one.kind == "active"]
        if not active:
            sentence = (
                f"None of the phases of {clip.name} is active"
                if clip.phases
                else f"{clip.name} has a box that hits, and no phase"
            )
            yield _finding(
                "action.inactive",
                clip,
                f"{sentence}: it never hits.",
                "Say on which ticks it can.",
                cels=sorted(_cels_of(clip, "strike")),
            )
            continue
        yield from _stepped_over(clip)
        yield from _without_box(evidence, clip)
        yield from _unguarded(clip)
        yield from _left_early(evidence, clip)


@check
def unhittable(evidence: Evidence) -> Iterator[Finding]:
    """States whose clips have no box that can be hit, in a character that has such boxes elsewhere."""
    clips = {clip.name: clip for clip in evidence.character.clips}
    if not any(box.kind == "vulnerable" for clip in clips.values() for box in clip.boxes):
        return
    for layer in evidence.character.layers:
        for state in layer.states:
            clip = clips.get(state.clip)
            if state.safe or clip is None or not clip.cels or clip.undrawn:
                continue
            bare = sorted(set(range(len(clip.cels))) - _cels_of(clip, "vulnerable"))
            if bare:
                where = "" if len(bare) == len(clip.cels) else f" on {_cel_words(bare)}"
                sentence = f"{state.name} cannot be hit{where}: {clip.name} has no box there that can be."
                why = "Draw one, or say of the state that it cannot be hit."
                details = {"layer": layer.name, "state": state.name, "cels": bare}
                yield Finding("state.unhittable", "note", details, sentence, None, "written", why=why)


def _finding(kind: str, clip: Clip, sentence: str, why: str, **details: object) -> Finding:
    return Finding(kind, "warning", {"clip": clip.name, **details}, sentence, None, "written", why=why)


def _stepped_over(clip: Clip) -> Iterator[Finding]:
    """Active windows that no tick meets, at the speed as written or the highest one."""
    fastest = clip.playback.max if clip.playback is not None else 1.0
    amount = max(TICK, math.floor(fastest * TICK))
    for one in laid_phases(clip):
        missed = one.kind == "active" and (one.end - one.start < amount) and not _met(one.start, one.end, amount)
        if missed:
            begin, end = one.start / TICK, one.end / TICK
            speed = f"At {fastest:g} times its speed" if fastest > 1 else "As it is written"
            sentence = f"{speed} {clip.name} can step over its active phase from tick {begin:g} to {end:g}."
            why = f"A tick goes {amount / TICK:.4g} ticks of the clip on, and the phase is {end - begin:.4g} long."
            yield _finding("action.skipped", clip, sentence, why, phase=one.written, needs=math.ceil(amount / TICK))


def _met(start: int, end: int, amount: int) -> bool:
    """Whether a tick lies in a window, at every rate between the written one and this; of a whole one, at that."""
    return amount == TICK and -(-start // TICK) * TICK < end


def _without_box(evidence: Evidence, clip: Clip) -> Iterator[Finding]:
    """Active ticks on which nothing of it hits, in a character that has boxes that hit."""
    if not any(one.kind == "strike" for other in evidence.character.clips for one in other.boxes):
        return
    bare = sorted(_active_cels(clip) - _cels_of(clip, "strike"))
    if bare:
        sentence = f"{clip.name} is active on {_cel_words(bare)}, and no box of it hits there."
        yield _finding("action.boxless", clip, sentence, "Draw one there, or end the phase earlier.", cels=bare)


def _unguarded(clip: Clip) -> Iterator[Finding]:
    """Active cels on which what hits reaches further than the guard reach there is."""
    if not any(one.kind == "guard" for one in clip.boxes):
        return
    beyond = [
        cel
        for cel in sorted(_active_cels(clip))
        for hits in [_rects(clip, cel, "strike")]
        if hits and not all(any(_covers(reach, hit) for reach in _rects(clip, cel, "guard")) for hit in hits)
    ]
    if beyond:
        sentence = f"The guard reach of {clip.name} does not cover what hits on {_cel_words(beyond)}: it cannot be guarded there."
        yield _finding("action.reach", clip, sentence, "Make the guard reach larger there.", cels=beyond)


def _left_early(evidence: Evidence, clip: Clip) -> Iterator[Finding]:
    """States that are left by themselves before the clip can hit."""
    when, machine = timed(clip), evidence.machine
    for layer, written in enumerate(evidence.character.layers):
        for number, state in enumerate(written.states):
            found = left_early(machine, layer, number, when) if when is not None and state.clip == clip.name else None
            if found is not None and when is not None:
                way = written.transitions[found.way]
                sentence = (
                    f"{state.name} is left for {way.to} after {counted(found.tick, 'tick')}, and {clip.name} first hits "
                    f"after {when.starts_in}."
                )
                details = {"layer": written.name, "state": state.name, "clip": clip.name}
                why = "Whatever the hands do, its transition is taken before it is active."
                yield Finding("action.cut", "warning", details, sentence, None, "written", why=why)


def _active_cels(clip: Clip) -> set[int]:
    """The cels that are shown while it is active."""
    made, found = timing(clip), set[int]()
    for one in laid_phases(clip):
        starts = zip(made.starts, (*made.starts[1:], made.length), made.order)
        found |= {cel for begin, end, cel in starts if one.kind == "active" and begin < one.end and end > one.start}
    return found


def _rects(clip: Clip, cel: int, kind: BoxKind) -> list[Rect]:
    return [rect for at, rect in boxes_on(clip, cel) if clip.boxes[at].kind == kind]


def _cels_of(clip: Clip, kind: BoxKind) -> set[int]:
    """The cels on which there is a box of a kind."""
    return {cel for cel in range(len(clip.cels)) if _rects(clip, cel, kind)}


def _covers(one: Rect, other: Rect) -> bool:
    """Whether a box holds another."""
    inside = one[0] <= other[0] and one[1] <= other[1]
    return inside and one[0] + one[2] >= other[0] + other[2] and one[1] + one[3] >= other[1] + other[3]


def _cel_words(cels: list[int]) -> str:
    """Cels in words, counted from 0 as everywhere."""
    return f"cel {cels[0]}" if len(cels) == 1 else f"the cels {listed([str(one) for one in cels])}"
