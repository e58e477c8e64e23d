"""How far the feet of a clip step, and how fast a body must go for them not to skate."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import NamedTuple

from leanstep.core.character.clips import Clip
from leanstep.core.character.document import Character
from leanstep.core.clips.timing import seconds

SPEED = "speed"
"""The parameter that says how fast a body goes."""


class Stride(NamedTuple):
    """``length`` is how far one pass of a clip takes its feet, in units; ``speed`` how fast a body must go for them to stand still
    on the ground, in units a second, at the written rate; ``contact`` the seconds a foot stays there."""

    length: float
    speed: float
    contact: float


class Skating(NamedTuple):
    """A clip shown at a ``speed`` its feet do not have: ``step`` is how far a foot skates while it is on the ground, in units,
    ``share`` that share of a stride which the body goes too far (below 0: not far enough), ``rate`` the playback rate that stops
    it."""

    stride: Stride
    speed: float
    step: float
    share: float
    rate: float


def stride_of(clip: Clip, rate: float, spreads: Sequence[float] = ()) -> Stride | None:
    """The stride of a clip: from its contacts, else from its feet marks and ``spreads``, how far apart the feet of each cel stand, in
    units.  None where neither tells it.

    While a foot is on the ground it moves back through the drawing as far as the body goes forward: the speed is that way over the
    time.  With every mark a foot steps as far as the feet are ever apart.
    """
    whole = seconds(clip, rate)
    gone = sum(one.x - one.to for one in clip.contacts)
    lasted = sum(one.end - one.start for one in clip.contacts) / rate
    if clip.contacts and gone > 0:
        return Stride(gone / lasted * whole, gone / lasted, lasted / len(clip.contacts))
    steps = _steps(clip, spreads)
    if steps > 0:
        marks = _feet(clip)
        return Stride(steps, steps / whole, whole / len(marks))
    return None


def _feet(clip: Clip) -> list[float]:
    """The instants of the marks that come most often, at least twice, in a clip that repeats."""
    if clip.loop != "repeat" or not clip.marks:
        return []
    name, times = Counter(mark.name for mark in clip.marks).most_common(1)[0]
    return [mark.at for mark in clip.marks if mark.name == name] if times > 1 else []


def _steps(clip: Clip, spreads: Sequence[float]) -> float:
    """How far one pass steps, from how far apart its feet stand."""
    return len(_feet(clip)) * max(spreads) if spreads and len(spreads) == len(clip.cels) else 0.0


def speeds_of(character: Character, clip: Clip) -> list[float]:
    """The speeds a clip is shown at, in units a second, as far as the file says so: that at which it plays as it is written, or
    those of its places in blend spaces."""
    if clip.playback is not None:
        return [clip.playback.at] if clip.playback.parameter == SPEED else []
    found = []
    for blend in character.blends:
        for number, axis in enumerate(blend.axes):
            if axis.parameter == SPEED:
                places = (one.at[number] for one in blend.samples if one.clip == clip.name)
                found += [float(at) for at in places if not isinstance(at, str) and at > 0]
    return sorted(set(found))


def usual_speed(character: Character, clip: Clip) -> float:
    """The speed at which a clip is likely to have been drawn, in units a second: that of its feet, else of its places in blend spaces,
    else at which the body walks."""
    stride = stride_of(clip, character.rate)
    shown = speeds_of(character, clip)
    return stride.speed if stride is not None else shown[0] if shown else max(character.body.walk_speed, 1.0)


def skating(stride: Stride, speed: float) -> Skating:
    """How a clip's feet skate at a speed."""
    share = speed / stride.speed - 1.0
    return Skating(stride, speed, (speed - stride.speed) * stride.contact, share, speed / stride.speed)
