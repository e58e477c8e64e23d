"""Edits of what a clip travels and of where its feet stand; times in ticks, places in units, ahead and up."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace

from leanstep.core.character.clips import Contact, Key, Travel

ONWARD = 10.0
"""How far behind the last key another one lies, where nothing tells."""


def time_after(travel: Travel, number: int, length: float) -> float:
    """A time for another key behind one: half way to the next one, or to the end of the clip, which lasts ``length``; beyond that
    where there is no room."""
    ends = [*(key.at for key in travel.keys), length]
    start, end = ends[number], ends[number + 1]
    return round((start + end) / 2) if end - start > 1 else end + 4


def with_key(travel: Travel, at: float) -> tuple[Travel, int]:
    """The path with a key at a time, where it would be then if it went evenly, and the number of that key; the same where there is one
    already."""
    keys = travel.keys
    if not any(key.at == at for key in keys):
        before = max((key for key in keys if key.at < at), key=lambda key: key.at, default=Key(at=0.0))
        after = min((key for key in keys if key.at > at), key=lambda key: key.at, default=None)
        x, y = before.x + ONWARD, before.y
        if after is not None:
            share = (at - before.at) / (after.at - before.at)
            x, y = before.x + (after.x - before.x) * share, before.y + (after.y - before.y) * share
        keys = tuple(sorted((*keys, Key(at=at, x=round(x, 2), y=round(y, 2))), key=lambda key: key.at))
    return replace(travel, keys=keys), next(number for number, key in enumerate(keys) if key.at == at)


def without_key(travel: Travel, number: int) -> Travel | None:
    """The path without a key; None where it leads nowhere then."""
    keys = tuple([key for at, key in enumerate(travel.keys) if at != number])
    return replace(travel, keys=keys) if any(key.x or key.y for key in keys) else None


def with_next_contact(contacts: Sequence[Contact], length: float) -> tuple[Contact, ...]:
    """Contacts and one behind the last, which is like it; the first lasts for half of a clip of this ``length``."""
    if not contacts:
        return (Contact(start=0.0, end=max(1.0, round(length / 2)), x=10.0, to=-10.0),)
    last = contacts[-1]
    return *contacts, Contact(start=last.end, end=last.end + (last.end - last.start), x=last.x, to=last.to)
