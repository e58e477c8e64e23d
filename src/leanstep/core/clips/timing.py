"""When a clip shows which cel.

Playheads and lengths are whole numbers of 1/65536 tick, so that every machine agrees on them.
"""

from __future__ import annotations

import math
from bisect import bisect_right
from dataclasses import dataclass

from leanstep.core.character.model import Clip

TICK = 65536
"""Playhead units in one tick at playback rate 1."""


@dataclass(frozen=True)
class Timing:
    """A clip laid out in time.

    ``order[i]`` is the cel shown from ``starts[i]`` on; ``length`` is one pass, at least one tick.  All times are in
    playhead units.
    """

    order: tuple[int, ...]
    starts: tuple[int, ...]
    length: int
    repeats: bool

    @property
    def ticks(self) -> int:
        """Ticks until one pass is over."""
        return -(-self.length // TICK)

    def step(self, playhead: int, amount: int = TICK) -> tuple[int, bool]:
        """The playhead after ``amount`` more, and whether the end was reached on the way: a once-clip stops at its length,
        a repeating one wraps."""
        moved = playhead + amount
        if self.repeats:
            return moved % self.length, moved >= self.length
        return min(moved, self.length), moved >= self.length

    def passed(self, at: int, playhead: int, amount: int = TICK) -> int:
        """How often the instant ``at`` lies in (playhead, playhead + amount]; a repeating clip's end is its start."""
        if not self.repeats:
            return int(playhead < at <= min(playhead + amount, self.length))
        if at > self.length:
            return 0
        at = at % self.length
        return (playhead + amount - at) // self.length - (playhead - at) // self.length

    def cel_at(self, playhead: int) -> int | None:
        """Index of the cel shown at ``playhead``; None for a clip without cels."""
        if not self.order:
            return None
        place = playhead % self.length if self.repeats else min(playhead, self.length - 1)
        return self.order[bisect_right(self.starts, place) - 1]


def timing(clip: Clip) -> Timing:
    """Lay a clip out.  There-and-back shows every cel but the first and last twice a pass."""
    order = list(range(len(clip.cels)))
    if clip.loop == "there-and-back":
        order += order[-2:0:-1]
    starts, at = [], 0
    for index in order:
        starts.append(at)
        at += max(1, units(clip.cels[index].ticks))
    return Timing(tuple(order), tuple(starts), max(TICK, at), clip.loop != "once")


def units(ticks: float) -> int:
    """Ticks as whole playhead units."""
    return math.floor(ticks * TICK + 0.5)


def seconds(clip: Clip, rate: float) -> float:
    """How long one pass takes on screen, in seconds, at ``rate`` ticks a second."""
    return timing(clip).length / TICK / rate
