"""Edits of a clip's events: its marks and spans."""

from __future__ import annotations

from collections.abc import Sequence

import msgspec

from leanstep.core.character.clips import Clip, Mark, Span
from leanstep.core.character.edits import free_name
from leanstep.core.clips.events import put_mark, put_span

LEAST = 0.25
"""Ticks that a span has at least when one of its ends is moved."""


def start_of(event: Mark | Span) -> float:
    """The tick of a mark, or on which a span begins."""
    return event.at if isinstance(event, Mark) else event.start


def clash(clip: Clip, before: Sequence[Mark | Span], after: Sequence[Mark | Span]) -> Mark | Span | None:
    """The first of the events ``after`` that cannot be put where those ``before`` were: two marks of one name would fire at once, or
    two spans have one name; None where they all can."""
    there: list[Mark | Span] = [*clip.marks, *clip.spans]
    kept = [_identity(one) for one in there if one not in before]
    return next((one for at, one in enumerate(after) if _identity(one) in [*kept, *map(_identity, after[:at])]), None)


def replaced(clip: Clip, before: Sequence[Mark | Span], after: Sequence[Mark | Span]) -> Clip:
    """The clip with events ``after`` in place of those ``before``."""
    marks = tuple(one for one in clip.marks if one not in before)
    spans = tuple(one for one in clip.spans if one not in before)
    made = msgspec.structs.replace(clip, marks=marks, spans=spans)
    for one in after:
        made = put_mark(made, one) if isinstance(one, Mark) else put_span(made, one)
    return made


def moved(events: Sequence[Mark | Span], part: str, by: float) -> list[Mark | Span]:
    """Events so many ticks later, none of them before the clip begins; of spans one end only, if that is the ``part`` (``start``,
    ``end`` or ``all``)."""
    firsts = [one.end if isinstance(one, Span) and part == "end" else start_of(one) for one in events]
    by = max(by, -min(firsts, default=0.0))
    return [_moved(one, part, by) for one in events]


def pasted(clip: Clip, events: Sequence[Mark | Span], tick: float) -> list[Mark | Span]:
    """Events as they are put into a clip: where they were if there is room, else from a tick on."""
    if clash(clip, (), events) is None:
        return list(events)
    return moved(events, "all", tick - min(map(start_of, events)))


def copies(clip: Clip, events: Sequence[Mark | Span]) -> list[Mark | Span]:
    """Events a tick later, with a free name each where they are spans."""
    found, taken = list[Mark | Span](), [span.name for span in clip.spans]
    for one in moved(events, "all", 1.0):
        if isinstance(one, Span):
            one = msgspec.structs.replace(one, name=free_name(one.name, taken, "_"))
            taken.append(one.name)
        found.append(one)
    return found


def _identity(event: Mark | Span) -> tuple[str, str, float]:
    return ("mark", event.name, event.at) if isinstance(event, Mark) else ("span", event.name, 0.0)


def _moved(event: Mark | Span, part: str, by: float) -> Mark | Span:
    if isinstance(event, Mark):
        return msgspec.structs.replace(event, at=max(0.0, event.at + by)) if part == "all" else event
    start = event.start + by if part in ("all", "start") else event.start
    end = event.end + by if part in ("all", "end") else event.end
    if part == "start":
        start = min(start, end - LEAST)
    elif part == "end":
        end = max(end, start + LEAST)
    return msgspec.structs.replace(event, start=max(0.0, start), end=end)
