"""What fills the slots of a pattern: its clips, of which it has the times but not the drawings."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TypeVar

import msgspec

from leanstep.core.character.clips import Cel, Clip, Phase, Span
from leanstep.core.character.document import Character
from leanstep.core.clips.phases import apart
from leanstep.core.clips.timing import TICK, timing
from leanstep.core.patterns.meaning import PARTS, found, meaning
from leanstep.core.sheets.gait_guess import MOVES

_Stretch = TypeVar("_Stretch", Span, Phase)


@dataclass(frozen=True)
class Fill:
    """What a slot shows: a clip there is, or frames of a sheet; empty, times alone."""

    clip: str = ""
    sheet: str = ""
    frames: tuple[int, ...] = ()

    def __bool__(self) -> bool:
        return bool(self.clip or self.frames)


EMPTY = Fill()


@dataclass(frozen=True)
class Row:
    """A row of a sheet: its frames, how much they ``move`` (:func:`leanstep.core.sheets.gait_guess.motion`), and whether clips show
    them already."""

    sheet: str
    frames: tuple[int, ...]
    moves: float = 0.0
    used: bool = False


def guesses(slots: Sequence[str], document: Character, rows: Sequence[Row]) -> dict[str, Fill]:
    """What most likely fills each slot: a clip that means the same, part of one that is drawn in one go, or a row.

    Standing is the stillest row, walking the first that moves clearly more, everything else the next row that is left, in the
    order of the slots.
    """
    clips = {clip.name: clip for clip in document.clips}
    made: dict[str, Fill] = {}
    left = [row for row in rows if not row.used]
    wholes: dict[str, Fill] = {}
    for slot in _in_order(slots):
        own = found(slot, [name for name, clip in clips.items() if not clip.undrawn])
        whole = next((name for name, parts in PARTS.items() if meaning(slot) in dict(parts)), "")
        if own is not None:
            made[slot] = Fill(clip=own)
        elif whole and len([one for one in slots if meaning(one) in dict(PARTS[whole])]) > 1:
            if whole not in wholes:
                wholes[whole] = _whole(found(whole, list(clips)), clips) or _next_row(whole, left, rows)
            fill = wholes[whole]
            made[slot] = Fill(sheet=fill.sheet, frames=part_of(slot, fill.frames) or ())
        else:
            made[slot] = _next_row(meaning(slot), left, rows)
    return {slot: made[slot] for slot in slots}


def _in_order(slots: Sequence[str]) -> list[str]:
    """Slots as rows are usually drawn: standing, walking and running first."""
    first = ["idle", "walk", "run"]
    return sorted(slots, key=lambda one: first.index(meaning(one)) if meaning(one) in first else len(first))


def _whole(name: str | None, clips: dict[str, Clip]) -> Fill:
    if name is None:
        return EMPTY
    clip = clips[name]
    plain = all(not cel.sheet and not cel.mirrored and not cel.turns for cel in clip.cels)
    return Fill(sheet=clip.sheet, frames=tuple(cel.frame for cel in clip.cels)) if plain else EMPTY


def _next_row(slot: str, left: list[Row], rows: Sequence[Row]) -> Fill:
    """The row for a slot; it is left no more."""
    if not left:
        return EMPTY
    stillest = min(row.moves for row in rows)
    if slot == "idle":
        row = min(left, key=lambda one: one.moves)
    elif slot in ("walk", "run"):
        row = next((one for one in left if one.moves >= MOVES * stillest and len(one.frames) > 1), left[0])
    else:
        row = left[0]
    left.remove(row)
    return Fill(sheet=row.sheet, frames=row.frames)


def part_of(slot: str, frames: Sequence[int]) -> tuple[int, ...] | None:
    """The frames that show a slot, of what is drawn in one go with others; at least one where there are any.  None where a slot is
    not drawn so."""
    parts = next((parts for parts in PARTS.values() if meaning(slot) in dict(parts)), None)
    if parts is None:
        return None
    count, total, begin = len(frames), sum(share for _, share in parts), 0.0
    for name, share in parts:
        end = begin + share
        if name == meaning(slot):
            first = max(0, min(round(begin / total * count), count - 1))
            return tuple(frames[first : max(first + 1, round(end / total * count))])
        begin = end
    return None


def drawn(slot: Clip, fill: Fill) -> Clip:
    """A slot as a clip of its own that shows some frames, or none: it lasts as long, and its events are where they were."""
    if not fill.frames:
        return msgspec.structs.replace(slot, sheet="")
    each = max(1.0, round(timing(slot).length / TICK / len(fill.frames)))
    cels = tuple(Cel(frame=frame, ticks=each) for frame in fill.frames)
    made = msgspec.structs.replace(slot, sheet=fill.sheet, cels=cels)
    return with_events(msgspec.structs.replace(made, marks=(), spans=(), phases=()), slot)


def with_events(clip: Clip, slot: Clip) -> Clip:
    """A clip with the marks, spans and phases of a slot that it lacks, at the same shares of its length."""
    share = timing(clip).length / max(1, timing(slot).length)

    def at(ticks: float) -> float:
        return round(ticks * share * 2) / 2

    marks = [mark.name for mark in clip.marks]
    spans = [span.name for span in clip.spans]
    pins = [pin.name for pin in clip.pins]
    new_marks = tuple(
        msgspec.structs.replace(mark, at=at(mark.at), pin=mark.pin if mark.pin in pins else "")
        for mark in slot.marks
        if mark.name not in marks
    )

    def stretched(part: _Stretch) -> _Stretch:
        return msgspec.structs.replace(part, start=at(part.start), end=max(at(part.end), at(part.start) + 1))

    new_spans = tuple(stretched(span) for span in slot.spans if span.name not in spans)
    phases = clip.phases or tuple(apart([stretched(one) for one in slot.phases]))
    if not new_marks and not new_spans and phases == clip.phases:
        return clip
    return msgspec.structs.replace(
        clip, marks=(*clip.marks, *new_marks), spans=(*clip.spans, *new_spans), phases=phases
    )
