"""The phases of a clip: when an action starts up, can hit, and recovers.

Before the first active phase all is startup; after it what is written, else recovery.  A clip without an active phase has none, and at
the length of a clip that is played once there is none.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import msgspec

from leanstep.core.character.clips import Clip, Phase, PhaseKind
from leanstep.core.clips.timing import TICK, timing, units


@dataclass(frozen=True)
class Stretch:
    """A phase from one playhead to another, in units; ``written`` is its place in the clip's list (-1: nothing is written)."""

    kind: PhaseKind
    start: int
    end: int
    written: int = -1
    again: bool = False


def laid_phases(clip: Clip) -> list[Stretch]:
    """The phases of a clip one after another, without gaps, up to its length; none where nothing is active."""
    if not clip.phases:
        return []
    length = timing(clip).length
    written = [
        Stretch(one.kind, units(one.start), min(units(one.end), length), at, one.again)
        for at, one in enumerate(clip.phases)
    ]
    written = sorted((one for one in written if one.start < one.end), key=lambda one: one.start)
    first = next((one.start for one in written if one.kind == "active"), -1)
    if first < 0:
        return []
    found = [Stretch("startup", 0, first)] if first > 0 else []
    at = first
    for one in written:
        if one.end <= at:
            continue
        if one.start > at:
            found.append(Stretch("recovery", at, one.start))
        found.append(replace(one, start=max(at, one.start)))
        at = one.end
    if at < length:
        found.append(Stretch("recovery", at, length))
    return found


def shown_phases(clip: Clip) -> list[Stretch]:
    """The phases of a clip, or where none is active those that are written all the same."""
    written = (Stretch(one.kind, units(one.start), units(one.end), at) for at, one in enumerate(clip.phases))
    return laid_phases(clip) or sorted(written, key=lambda one: one.start)


def strike_window(clip: Clip, playhead: int) -> int:
    """The number of the active phase a playhead stands in, counted from 1 and further for each that hits again; 0: in none."""
    number = 0
    for one in laid_phases(clip):
        if one.kind == "active":
            number += 1 if not number or one.again else 0
            if one.start <= playhead < one.end:
                return number
    return 0


@dataclass(frozen=True)
class Timed:
    """An action in ticks since it began, that of the entry being 0: on which ticks it is active, window by window (from, up to), and
    the first on which no phase is on; None where it is played again and again."""

    active: tuple[tuple[int, int], ...]
    free: int | None

    @property
    def starts_in(self) -> int:
        """The first active tick."""
        return self.active[0][0]

    @property
    def last(self) -> int:
        """The last active tick."""
        return self.active[-1][1] - 1

    @property
    def recovers_in(self) -> int | None:
        """How many ticks lie between the last active one and the first without a phase."""
        return None if self.free is None else self.free - 1 - self.last

    def advantage(self, tick: int, stun: int, freeze: int = 0) -> int | None:
        """By how many ticks the one who acts is free before the one who is struck, for contact on an active tick.

        ``stun`` is given to the struck figure on the tick after the contact and goes down by one on it; on the tick after that both
        stand still for ``freeze`` ticks, except for one who is free by then.
        """
        found = self.frees(tick, stun, freeze)
        return None if found is None else found[1] - found[0]

    def frees(self, tick: int, stun: int, freeze: int = 0) -> tuple[int, int] | None:
        """The ticks on which the one who acts and the one who is struck are free, the same way."""
        if self.free is None:
            return None
        struck = tick + max(stun, 1) + (freeze if stun > 1 else 0)
        return self.free + (freeze if self.free > tick + 1 else 0), struck


def timed(clip: Clip, amount: int = TICK) -> Timed | None:
    """An action as it is played, by ``amount`` playhead units a tick; None for a clip without phases, or one that stands.

    An active window that is stepped over is missing.
    """
    stretches, made = laid_phases(clip), timing(clip)
    if not stretches or amount <= 0:
        return None
    active = []
    for one in stretches:
        if one.kind == "active":
            begin, end = -(-one.start // amount), -(-one.end // amount)
            if begin < end:
                active.append((begin, end))
    if not active:
        return None
    return Timed(tuple(_joined(active)), None if made.repeats else -(-made.length // amount))


def _joined(windows: Sequence[tuple[int, int]]) -> list[tuple[int, int]]:
    """Windows of which no two touch."""
    found: list[tuple[int, int]] = []
    for begin, end in windows:
        if found and found[-1][1] == begin:
            found[-1] = found[-1][0], end
        else:
            found.append((begin, end))
    return found


def with_active(clip: Clip, start: float, end: float, again: bool = False) -> Clip:
    """The clip with one more active phase, and nothing else where it lies.

    Raises
    ------
    ValueError : it would have no length.
    """
    if end <= start:
        raise ValueError("a phase ends after it starts")
    kept = [part for one in clip.phases for part in _outside(one, start, end)]
    made = sorted((*kept, Phase(kind="active", start=start, end=end, again=again)), key=lambda one: one.start)
    return msgspec.structs.replace(clip, phases=tuple(made))


def with_phase(clip: Clip, at: int, start: float, end: float) -> Clip:
    """The clip with a written phase that lies elsewhere, as far as its neighbours leave room; unchanged where they leave none."""
    phases = sorted(clip.phases, key=lambda one: one.start)
    where = phases.index(clip.phases[at])
    low = phases[where - 1].end if where else 0.0
    high = phases[where + 1].start if where + 1 < len(phases) else float("inf")
    start, end = max(start, low), min(end, high)
    if end <= start:
        return clip
    phases[where] = msgspec.structs.replace(phases[where], start=start, end=end)
    return msgspec.structs.replace(clip, phases=tuple(phases))


def apart(phases: Sequence[Phase]) -> list[Phase]:
    """Phases of which none lies over an earlier one: each begins where that ends, and what has no length is left out."""
    found: list[Phase] = []
    for one in sorted(phases, key=lambda one: one.start):
        start = max(one.start, found[-1].end) if found else one.start
        if start < one.end:
            found.append(msgspec.structs.replace(one, start=start))
    return found


def _outside(one: Phase, start: float, end: float) -> list[Phase]:
    """What is left of a phase outside a stretch."""
    before, after = (one.start, min(one.end, start)), (max(one.start, end), one.end)
    return [msgspec.structs.replace(one, start=low, end=high) for low, high in (before, after) if low < high]
