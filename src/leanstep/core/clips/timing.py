"""When a clip shows which cel.

Playheads and lengths are whole numbers of 1/65536 tick, so that every machine agrees on them.
"""

from __future__ import annotations

import math
from bisect import bisect_right
from collections import Counter
from dataclasses import dataclass

from leanstep.core.character.clips import Clip

TICK = 65536
"""Playhead units in one tick at playback rate 1."""


@dataclass(frozen=True)
class Timing:
    """A clip laid out in time.

    ``order[i]`` is the cel shown from ``starts[i]`` on; ``length`` is one pass, at least one tick.  A clip that ``repeats``
    goes on at ``begin`` when it has come to its length; one that ``vanishes`` shows nothing from there on, others hold the
    last cel.  All times are in playhead units.
    """

    order: tuple[int, ...]
    starts: tuple[int, ...]
    length: int
    repeats: bool
    begin: int = 0
    vanishes: bool = False

    @property
    def lap(self) -> int:
        """What a repeating clip plays again, in playhead units."""
        return self.length - self.begin

    @property
    def ticks(self) -> int:
        """Ticks until one pass is over."""
        return -(-self.length // TICK)

    def step(self, playhead: int, amount: int = TICK) -> tuple[int, bool]:
        """The playhead after ``amount`` more, and whether the end was reached on the way: a once-clip stops at its length,
        a repeating one wraps."""
        moved = playhead + amount
        return self.folded(moved), moved >= self.length

    def folded(self, playhead: int) -> int:
        """A playhead brought into the clip: past the length it is somewhere in the lap, or at the length."""
        if not self.repeats:
            return min(playhead, self.length)
        if playhead < self.length:
            return playhead
        return self.begin + (playhead - self.begin) % self.lap

    def passed(self, at: int, playhead: int, amount: int = TICK) -> int:
        """How often the instant ``at`` lies in (playhead, playhead + amount]; where a clip repeats from its start, its end is
        its start, and what comes before ``begin`` is passed once."""
        if not self.repeats or at < self.begin:
            return int(playhead < at <= min(playhead + amount, self.length))
        if at > self.length:
            return 0
        at = self.first(at)
        return self._laps(playhead + amount - at) - self._laps(playhead - at)

    def _laps(self, since: int) -> int:
        """How often something that comes once a lap has come, ``since`` its first time."""
        return since // self.lap + 1 if since >= 0 else 0

    def first(self, at: int) -> int:
        """When the instant ``at`` first comes: the end of a clip that repeats from its start is its start."""
        return 0 if self.repeats and not self.begin and at == self.length else at

    def until(self, at: int, playhead: int) -> int:
        """How long it takes from ``playhead`` until the instant ``at`` comes next."""
        at = self.first(at)
        return at - playhead if not self.repeats or at > playhead else at - playhead + self.lap

    def cel_at(self, playhead: int) -> int | None:
        """Index of the cel shown at ``playhead``; None for a clip without cels."""
        if not self.order:
            return None
        if self.vanishes and playhead >= self.length:
            return None
        place = min(self.folded(playhead), self.length - 1)
        return self.order[bisect_right(self.starts, place) - 1]

    def until_next(self, playhead: int) -> int:
        """How long it takes from ``playhead`` until the next cel begins, or the pass is over; a tick where nothing comes any more."""
        place = self.folded(playhead)
        after = bisect_right(self.starts, place)
        return (self.starts[after] if after < len(self.starts) else max(self.length, place + TICK)) - place


def timing(clip: Clip) -> Timing:
    """Lay a clip out.  There-and-back shows every cel but the first and last twice a pass; a clip that repeats from a cel that
    is not there does so from its start."""
    order = list(range(len(clip.cels)))
    if clip.loop == "there-and-back":
        order += order[-2:0:-1]
    starts, at = [], 0
    for index in order:
        starts.append(at)
        at += max(1, units(clip.cels[index].ticks))
    length, begin = max(TICK, at), 0
    if clip.loop == "repeat" and 0 < clip.repeat_from < len(starts):
        begin = min(starts[clip.repeat_from], length - 1)
    return Timing(
        tuple(order),
        tuple(starts),
        length,
        clip.loop in ("repeat", "there-and-back"),
        begin,
        clip.loop == "once-and-gone",
    )


def rhythm(clip: Clip, lasts: float) -> str:
    """How often what matters in a clip comes when one pass takes so many seconds: the mark that comes most often, else a pass."""
    often = Counter(mark.name for mark in clip.marks)
    if clip.loop == "repeat" and often:
        name, times = often.most_common(1)[0]
        return f"a {name} every {lasts / times:.2f} s"
    return f"once through in {lasts:.2f} s"


def units(ticks: float) -> int:
    """Ticks as whole playhead units."""
    return math.floor(ticks * TICK + 0.5)


def seconds(clip: Clip, rate: float) -> float:
    """How long one pass takes on screen, in seconds, at ``rate`` ticks a second."""
    return timing(clip).length / TICK / rate
