"""How the parts of a cut-out are moved at an instant, and how several poses mix.

Everything is + − × ÷ of doubles in a fixed order, so that it gives the same bits everywhere.  Easing is that of paths: in t²,
out t (2 - t), both t² (3 - 2 t).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import TypeVar

from leanstep.core.bearings import reduced, turn
from leanstep.core.character.cut_outs import CutOut, PartKey, Reach, ReachKey
from leanstep.core.character.instants import Easing

Key = TypeVar("Key", PartKey, ReachKey)


@dataclass(frozen=True)
class Pose:
    """How a part is moved (pixels to the right and up), turned (degrees clockwise) and scaled about its joint, in its parent."""

    x: float = 0.0
    y: float = 0.0
    turn: float = 0.0
    wide: float = 1.0
    high: float = 1.0


RESTING = Pose()
Poses = Mapping[str, Pose]
"""Poses by the names of parts; those that are not there rest."""


def eased(share: float, ease: Easing) -> float:
    """How far a value has gone after a share (0 to 1) of its time."""
    if ease == "in":
        return share * share
    if ease == "out":
        return share * (2.0 - share)
    if ease == "both":
        return share * share * (3.0 - 2.0 * share)
    return share


def between(keys: Sequence[Key], ticks: float, length: float, repeats: bool) -> tuple[Key, Key, float]:
    """The keys before and after an instant, and how far it has gone from the one to the other (0 to 1).

    Of what ``repeats`` every ``length`` ticks the first key comes after the last one again; else the first and the last one stay.
    A key at or after ``length`` is never gone beyond.
    """
    last = max((at for at, key in enumerate(keys) if key.at <= ticks), default=-1)
    if 0 <= last < len(keys) - 1:
        before, after = keys[last], keys[last + 1]
        return before, after, eased((ticks - before.at) / (after.at - before.at), after.ease)
    first, end = keys[0], keys[-1]
    gap = first.at + length - end.at
    if not repeats or len(keys) == 1 or gap <= 0:
        stays = first if last < 0 else end
        return stays, stays, 0.0
    gone = ticks - end.at if last >= 0 else ticks + length - end.at
    return end, first, eased(gone / gap, first.ease)


def keyed(cut_out: CutOut, ticks: float) -> dict[str, Pose]:
    """The poses of the parts that have keys, by these alone, so many ticks after the beginning."""
    found = {}
    for track in reversed(cut_out.tracks):
        if track.keys:
            one, other, share = between(track.keys, ticks, cut_out.ticks, cut_out.repeats)
            found[track.part] = Pose(
                one.x + (other.x - one.x) * share,
                one.y + (other.y - one.y) * share,
                one.turn + (other.turn - one.turn) * share,
                one.wide + (other.wide - one.wide) * share,
                one.high + (other.high - one.high) * share,
            )
    return found


def target_of(cut_out: CutOut, reach: Reach, ticks: float) -> tuple[float, float]:
    """What is reached for so many ticks after the beginning, to the right of the foot and above it; it has keys."""
    one, other, share = between(reach.keys, ticks, cut_out.ticks, cut_out.repeats)
    return one.x + (other.x - one.x) * share, one.y + (other.y - one.y) * share


def mixed(poses: Sequence[Poses], weights: Sequence[float]) -> dict[str, Pose]:
    """Several poses, each by its weight (1 in all): angles go by the shorter way from those of the first one that counts.  What rests
    in all of them rests."""
    counted = [(pose, weight) for pose, weight in zip(poses, weights, strict=True) if weight > 0.0]
    found = {}
    for name in dict.fromkeys(name for pose, _ in counted for name, one in pose.items() if one != RESTING):
        first = counted[0][0].get(name, RESTING)
        x = y = wide = high = way = 0.0
        start = reduced(first.turn)
        for pose, weight in counted:
            one = pose.get(name, RESTING)
            x = x + one.x * weight
            y = y + one.y * weight
            wide = wide + one.wide * weight
            high = high + one.high * weight
            way = way + turn(start, reduced(one.turn)) * weight
        found[name] = Pose(x, y, start + way, wide, high)
    return found
