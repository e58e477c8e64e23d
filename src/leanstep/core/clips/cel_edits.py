"""Edits of a clip's cels.  All that has its time or place in a clip stays with them (``events.with_cels``)."""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence

import msgspec

from leanstep.core.character.clips import Cel, Clip
from leanstep.core.clips.events import with_cels

NEW = -1
"""Instead of the place of an old cel: there was none."""


def changed(clip: Clip, cels: Collection[int], made: Callable[[Cel], Cel]) -> Clip:
    """The clip in which some cels are what is ``made`` of them."""
    return with_cels(
        clip, [made(cel) if at in cels else cel for at, cel in enumerate(clip.cels)], range(len(clip.cels))
    )


def shown_for(clip: Clip, ticks: float) -> Clip:
    """The clip with every cel shown for so many ticks."""
    return changed(clip, range(len(clip.cels)), lambda cel: msgspec.structs.replace(cel, ticks=ticks))


def longer(cel: Cel, ticks: float) -> Cel:
    """The cel shown so many ticks longer, but for at least one tick, or for as long as it was if that is less."""
    return msgspec.structs.replace(cel, ticks=max(min(1.0, cel.ticks), cel.ticks + ticks))


def turned_round(clip: Clip) -> Clip:
    """The clip with its cels backwards."""
    return _in_order(clip, range(len(clip.cels))[::-1])


def added(clip: Clip, behind: int) -> Clip:
    """The clip with one more cel behind one of its cels: the next frame, for as long as that one; of a clip without any its first."""
    if not clip.cels:
        return with_cels(clip, [Cel(frame=0)], [NEW])
    like, order = clip.cels[behind], list(range(len(clip.cels)))
    cel = Cel(frame=like.frame + 1, ticks=like.ticks)
    cels = [*clip.cels[: behind + 1], cel, *clip.cels[behind + 1 :]]
    return with_cels(clip, cels, [*order[: behind + 1], NEW, *order[behind + 1 :]])


def moved(clip: Clip, cels: Sequence[int], step: int) -> Clip:
    """The clip in which some cels, in order, have changed places with what was before (``step`` -1) or behind them (1)."""
    order = list(range(len(clip.cels)))
    for at in cels if step < 0 else reversed(cels):
        order.insert(at + step, order.pop(at))
    return _in_order(clip, order)


def doubled(clip: Clip, cels: Sequence[int]) -> Clip:
    """The clip with some cels, in order, once more behind the last of them."""
    before, behind = range(cels[-1] + 1), range(cels[-1] + 1, len(clip.cels))
    order = [*before, *cels, *behind]
    return with_cels(clip, [clip.cels[one] for one in order], [*before, *[NEW] * len(cels), *behind])


def without(clip: Clip, cels: Collection[int]) -> Clip:
    """The clip without some cels."""
    return _in_order(clip, [one for one in range(len(clip.cels)) if one not in cels])


def _in_order(clip: Clip, order: Sequence[int]) -> Clip:
    return with_cels(clip, [clip.cels[one] for one in order], order)
