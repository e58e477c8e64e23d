"""Marks and spans of a clip: where they may catch, and how all that has its time in a clip stays with the cels."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import accumulate
from typing import TypeVar

import msgspec

from leanstep.core.character import pin_edits
from leanstep.core.character.action_boxes import followed
from leanstep.core.character.clips import Cel, Clip, Contact, Mark, Phase, Span, Travel
from leanstep.core.character.pin_edits import Spot, spot_at
from leanstep.core.clips.phases import apart
from leanstep.core.clips.timing import timing, units

_Stretch = TypeVar("_Stretch", Span, Phase, Contact)


def edges(clip: Clip) -> list[float]:
    """Where cels begin and the last one ends, in ticks from the clip's start."""
    return [0.0, *accumulate(cel.ticks for cel in clip.cels)]


def caught(tick: float, clip: Clip, reach: float) -> float:
    """A time drawn to the nearest edge of a cel within ``reach`` ticks, else to the nearest whole tick; never before 0."""
    near = min(edges(clip), key=lambda edge: abs(edge - tick))
    return max(0.0, near if abs(near - tick) <= reach else float(round(tick)))


def with_cels(clip: Clip, cels: Sequence[Cel], origin: Sequence[int]) -> Clip:
    """The clip with other cels; ``origin`` says which old cel each one was (-1: none).

    Marks, spans, phases and feet on the ground stay at the same share of their cel, boxes on it.  Those of a cel that is gone go to
    where it was, boxes with it.  The keys of a path do so as well, unless cels change places: it goes on as it went then.  A clip
    that repeats from a cel does so from where that is now.
    """
    before, after = edges(clip), edges(msgspec.structs.replace(clip, cels=tuple(cels)))

    def moved(tick: float, ends: bool) -> float:
        """Where a time is now; one that ``ends`` something belongs to the cel before it."""
        if tick > before[-1] or (tick == before[-1] and not (ends and clip.cels)):
            return after[-1] + tick - before[-1]
        at = next(
            number
            for number in range(len(clip.cels))
            if (tick <= before[number + 1] if ends and tick > 0 else tick < before[number + 1])
        )
        share = (tick - before[at]) / clip.cels[at].ticks
        if at in origin:
            place = origin.index(at)
            return after[place] + share * cels[place].ticks
        later = [place for place, one in enumerate(origin) if one > at]
        return after[later[0]] if later else after[-1]

    marks = tuple(msgspec.structs.replace(mark, at=_tidy(moved(mark.at, False))) for mark in clip.marks)
    spans, phases = _stretched(clip.spans, moved), _stretched(clip.phases, moved)
    old = [one for one in origin if one >= 0]
    travel = clip.travel if clip.travel is None or old != sorted(old) else _retimed(clip.travel, moved)
    back = origin.index(clip.repeat_from) if clip.repeat_from in origin else 0
    return msgspec.structs.replace(
        clip,
        cels=tuple(cels),
        marks=marks,
        spans=spans,
        phases=tuple(apart(phases)) if phases else (),
        contacts=_stretched(clip.contacts, moved),
        boxes=followed(clip.boxes, origin),
        pins=pin_edits.followed(clip.pins, origin),
        travel=travel,
        repeat_from=back,
    )


def _stretched(some: Sequence[_Stretch], moved: Callable[[float, bool], float]) -> tuple[_Stretch, ...]:
    """What lasts from one time to another, where these are now; what would not last at all lasts for a tick."""
    found = list[_Stretch]()
    for one in some:
        start, end = sorted((_tidy(moved(one.start, False)), _tidy(moved(one.end, True))))
        found.append(msgspec.structs.replace(one, start=start, end=end if end > start else start + 1.0))
    return tuple(found)


def _retimed(travel: Travel, moved: Callable[[float, bool], float]) -> Travel:
    """The path with its keys where they are now; of those that come to one time the last."""
    keys = (msgspec.structs.replace(key, at=_tidy(moved(key.at, True))) for key in travel.keys)
    return msgspec.structs.replace(travel, keys=tuple({key.at: key for key in keys}.values()))


def _tidy(tick: float) -> float:
    return round(tick, 4)


def put_mark(clip: Clip, mark: Mark) -> Clip:
    """The clip with another mark; marks are kept in the order of time."""
    marks = sorted((*clip.marks, mark), key=lambda one: one.at)
    return msgspec.structs.replace(clip, marks=tuple(marks))


def put_span(clip: Clip, span: Span) -> Clip:
    """The clip with another span."""
    spans = sorted((*clip.spans, span), key=lambda one: one.start)
    return msgspec.structs.replace(clip, spans=tuple(spans))


def cel_of_mark(clip: Clip, mark: Mark) -> int:
    """The cel on which a mark stands; at the very end of a clip the last one shown."""
    made = timing(clip)
    at = made.cel_at(min(units(mark.at), max(0, made.length - 1)))
    return at if at is not None else max(0, len(clip.cels) - 1)


def spot_of_mark(clip: Clip, mark: Mark) -> Spot | None:
    """Where the pin point lies that a mark names, on the mark's cel; None where it names none that is there."""
    pin = next((one for one in clip.pins if one.name == mark.pin and one.keys), None) if mark.pin else None
    return spot_at(pin, cel_of_mark(clip, mark)) if pin is not None else None
