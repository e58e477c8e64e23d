"""What states show, with the events in it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from msgspec.structs import replace as replace_parts

from leanstep.core.blends.picking import kept, pick
from leanstep.core.blends.space import Space
from leanstep.core.character.blends import BlendSpace
from leanstep.core.character.clips import Cel, Clip
from leanstep.core.clips.phases import laid_phases
from leanstep.core.clips.timing import TICK, Timing, timing, units
from leanstep.core.clips.travel import goes_bits, laid, step
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.conditions.expression import phase_span
from leanstep.core.graph.effects import BODILY, Act


@dataclass(frozen=True)
class Cue:
    """A mark laid out in time: ``at`` in playhead units; ``number``: which it is of its clip, in the order of time."""

    name: str
    at: int
    acts: tuple[Act, ...]
    number: int = 0

    @property
    def event(self) -> tuple[str, int, tuple[Act, ...]]:
        """What it is, whichever of its clip."""
        return self.name, self.at, self.acts


@dataclass(frozen=True)
class Window:
    """A span laid out in time: on from ``start`` to before ``end``, in playhead units.  ``hold`` is a symbol or -1."""

    name: str
    start: int
    end: int
    hold: int = -1
    lock: bool = False


@dataclass(frozen=True)
class Pace:
    """A playback rate: the value of ``symbol`` divided by ``at``, between ``low`` and ``high``."""

    symbol: int
    at: float
    low: float
    high: float

    def amount(self, values: Sequence[Symbolic]) -> int:
        """Playhead units one tick adds."""
        rate = float(values[self.symbol]) / self.at
        # what is no number counts as the lowest
        rate = self.low if not rate >= self.low else self.high if rate > self.high else rate
        return math.floor(rate * TICK + 0.5)


@dataclass(frozen=True)
class Reel:
    """One clip ready to be played.  ``path`` is what it travels, laid out, ``goes`` what that does to the body
    (:mod:`leanstep.core.clips.travel`)."""

    clip: Clip
    timing: Timing
    cues: tuple[Cue, ...] = ()
    windows: tuple[Window, ...] = ()
    pace: Pace | None = None
    path: tuple[float, ...] = ()
    goes: int = 0

    @cached_property
    def events(self) -> frozenset[tuple[str, int, tuple[Act, ...]]]:
        """What its marks are."""
        return frozenset(cue.event for cue in self.cues)

    @property
    def most_fired(self) -> int:
        """How many marks can fire in one tick at most, at the fastest it plays."""
        fastest = 1.0 if self.pace is None else self.pace.high
        laps = math.floor(fastest * TICK) // self.timing.lap if self.timing.repeats else 0
        return len(self.cues) * (laps + 2)

    def amount(self, values: Sequence[Symbolic]) -> int:
        """Playhead units one tick adds."""
        return TICK if self.pace is None else self.pace.amount(values)

    def cel(self, number: int) -> Cel:
        """A cel by its number, the resting one counting as the one after the last."""
        return self.clip.cels[number] if number < len(self.clip.cels) else self.clip.playback.resting  # type: ignore

    def number_shown(self, playhead: int, values: Sequence[Symbolic]) -> int | None:
        """The number of the cel to be seen, the resting one counting as the one after the last; None when there is none."""
        playback = self.clip.playback
        if playback is not None and playback.resting is not None and not self.amount(values):
            return len(self.clip.cels)
        return self.timing.cel_at(playhead)

    def travelled(self, playhead: int, amount: int) -> list[tuple[str, float]]:
        """What a step of the playhead asks of the body."""
        if not self.goes:
            return []
        ahead, up = step(self.path, self.timing, playhead, amount)
        return [("travel", ahead), ("travel_up", up), ("travels", float(self.goes))]

    def fired(self, playhead: int, amount: int) -> list[Cue]:
        """The marks in (playhead, playhead + amount], in time order."""
        times = []
        for order, cue in enumerate(self.cues):
            for lap in range(self.timing.passed(cue.at, playhead, amount)):
                times.append((self.timing.until(cue.at, playhead) + lap * self.timing.lap, order))
        return [self.cues[order] for _, order in sorted(times)]

    def fired_on_entry(self, playhead: int) -> list[Cue]:
        """The marks at the very start, when a state is entered there."""
        return [cue for cue in self.cues if self.timing.first(cue.at) == 0] if playhead == 0 else []

    def on(self, playhead: int) -> list[Window]:
        """The spans that are on at ``playhead``."""
        return [window for window in self.windows if window.start <= playhead < window.end]


@dataclass(frozen=True)
class Picture:
    """What a state shows: one clip, or the clips of a blend space's samples.  ``axes`` are the symbols its axes read (-1: what
    cannot be read, which is 0).  ``strays``: its playhead comes to too many
    places to be followed in a proof.  ``moved`` are the other ways of moving that change what it shows, by the symbol and the choice
    with which each is chosen: their clips follow those of the picture itself, as many for each, so that what is picked says both."""

    reels: tuple[Reel, ...]
    blend: BlendSpace | None = None
    space: Space | None = None
    axes: tuple[int, ...] = ()
    strays: bool = False
    moved: tuple[tuple[int, str], ...] = ()

    @property
    def followed(self) -> bool:
        """Whether proofs follow its playhead: it plays at its written speed, does not stray, and whatever is picked lasts as long
        and does the same to the graph."""
        return self.even and self.reels[0].pace is None and not self.strays

    @cached_property
    def even(self) -> bool:
        """Whether what the graph does goes on alike whichever clip is picked: all last as long, begin their cycles at the same place,
        go back to the same place, and their marks and spans do the same to it.  Other marks and spans may differ."""
        first = self._going_on(0)
        return all(self._going_on(at) == first for at in range(1, len(self.reels)))

    def _going_on(self, at: int) -> tuple[object, ...]:
        reel = self.reels[at]
        cues = tuple([cue.event for cue in reel.cues if any(act.do not in BODILY for act in cue.acts)])
        windows = tuple([window for window in reel.windows if window.hold >= 0 or window.lock])
        timing = reel.timing.length, reel.timing.begin, reel.timing.repeats, reel.pace
        return (*timing, self.phase(at), cues, windows)

    @cached_property
    def common(self) -> Reel:
        """The first clip with nothing but the marks and spans that all have."""
        first, others = self.reels[0], self.reels[1:]
        cues = tuple([cue for cue in first.cues if all(cue.event in one.events for one in others)])
        windows = tuple([window for window in first.windows if all(window in one.windows for one in others)])
        same = (cues, windows) == (first.cues, first.windows)
        return first if same else replace(first, cues=cues, windows=windows)

    @cached_property
    def varying(self) -> frozenset[str]:
        """The spans that not all of its clips have at the same time."""
        common = self.common.windows
        some = (window.name for reel in self.reels for window in reel.windows if window not in common)
        return frozenset(some)

    @cached_property
    def spans(self) -> frozenset[str]:
        """The spans of all its clips."""
        return frozenset(window.name for reel in self.reels for window in reel.windows)

    def pick(self, values: Sequence[Symbolic], before: int = -1) -> int:
        """Which clip is shown when the symbols have these values, after the one picked ``before`` (-1: none was)."""
        each = self.each
        first = each * self.way(values) if self.moved else 0
        if self.space is None:
            return first
        before = before % each if before >= 0 else before
        return first + (pick(self.space, self.read(values), before) or 0)

    def read(self, values: Sequence[Symbolic]) -> list[float]:
        """What each axis reads when the symbols have these values."""
        return [float(values[axis] or 0.0) if axis >= 0 else 0.0 for axis in self.axes]

    @property
    def each(self) -> int:
        """How many clips there are for each way of moving."""
        return len(self.reels) // (1 + len(self.moved))

    def way(self, values: Sequence[Symbolic]) -> int:
        """The way of moving when the symbols have these values: the first whose choice it is, counted from 1; 0: none of them."""
        return next((at for at, (symbol, value) in enumerate(self.moved, 1) if values[symbol] == value), 0)

    def kept_from(self, left: Picture | None, picked: int) -> int:
        """What counts as picked before when this is entered from what was shown before; -1: nothing."""
        if self.space is None or left is None or left.space is None:
            return -1
        both = [(left.axes.index(axis), at) for at, axis in enumerate(self.axes) if axis >= 0 and axis in left.axes]
        return kept(left.space, picked % left.each, self.space, both)

    def phase(self, pick: int) -> int:
        """Where the cycle of what is picked begins, in playhead units."""
        if self.blend is None:
            return 0
        return math.floor(self.blend.samples[pick % self.each].phase * self.reels[pick].timing.length)

    def taken_over(self, playhead: int, before: int, pick: int) -> int:
        """The playhead when the pick changes: at the same share of the other clip, counted from where each cycle begins."""
        old, new = self.reels[before].timing, self.reels[pick].timing
        moved = (playhead - self.phase(before)) * new.length // old.length + self.phase(pick)
        return new.folded(moved if moved >= 0 else moved + new.length if new.repeats else 0)

    def within(self, pick: int, playhead: int) -> tuple[int, int]:
        """The pick and playhead of another version of this picture, brought to what there is here."""
        pick = min(pick, len(self.reels) - 1)
        return pick, self.reels[pick].timing.folded(playhead)

    @property
    def by_direction(self) -> bool:
        """Whether what is shown is picked by a direction."""
        return self.space is not None and any(axis.round for axis in self.space.axes)

    def mirrors(self, pick: int) -> bool:
        """Whether what is picked is shown the other way round."""
        return self.blend is not None and self.blend.samples[pick % self.each].mirrored


def held_clip(held: Cel) -> Clip:
    """One held frame as a clip, which is over after its ticks."""
    return Clip(name=f"frame {held.frame} of {held.sheet}", sheet=held.sheet, loop="once", cels=(held,))


def bare_reel(clip: Clip) -> Reel:
    """A clip laid out of which only the cels count, at their written speed."""
    bare = replace_parts(clip, marks=(), spans=(), playback=None)
    return reel(bare, (), (), None)


def reel(clip: Clip, acts: Sequence[tuple[Act, ...]], holds: Sequence[int], pace: Pace | None) -> Reel:
    """A clip laid out; ``acts`` has one entry per mark, ``holds`` one symbol (or -1) per span."""
    cues = (Cue(mark.name, units(mark.at), each) for mark, each in zip(clip.marks, acts))
    windows = (
        Window(span.name, units(span.start), units(span.end), hold, span.lock) for span, hold in zip(clip.spans, holds)
    )
    phases = (Window(phase_span(one.kind), one.start, one.end) for one in laid_phases(clip))
    path = () if clip.travel is None else laid(clip.travel)
    ordered = enumerate(sorted(cues, key=lambda cue: cue.at))
    numbered = tuple(replace(cue, number=number) for number, cue in ordered)
    return Reel(clip, timing(clip), numbered, (*windows, *phases), pace, path, goes_bits(clip.travel))
