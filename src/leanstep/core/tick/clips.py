"""Playheads: which clip of a state is picked, how far its playhead steps, and which cel it shows."""

from __future__ import annotations

import numpy as np

from leanstep.core.clips.timing import TICK
from leanstep.core.jit import Real, Whole, kernel
from leanstep.core.tick.conditions import clip_of, turn
from leanstep.core.tick.places import (
    AXIS,
    AXIS_SIZE,
    CEL_SIZE,
    CLIP,
    FIRST_PLAYER,
    HEAD,
    MOVED,
    MOVED_SIZE,
    PIECE,
    PIECE_SIZE,
    PLAYER,
    PLAYER_SIZE,
    SAMPLE,
    SAMPLE_SIZE,
    STATE,
)


@kernel
def folded(m: Whole, clip: int, head: int) -> int:  # pragma: no cover
    """A playhead brought into its clip: past the length it is somewhere in what repeats, or at the length."""
    length, back = m[clip + CLIP.length], m[clip + CLIP.begin]
    if head < length:
        return head
    return length if back < 0 else back + (head - back) % (length - back)


@kernel
def pace_of(m: Whole, r: Real, v: Real, clip: int) -> int:  # pragma: no cover
    """The playhead units that one tick adds."""
    if m[clip + CLIP.pace] < 0:
        return TICK
    rate = v[m[clip + CLIP.pace]] / r[clip + CLIP.at]
    if not rate >= r[clip + CLIP.low]:
        rate = r[clip + CLIP.low]
    elif rate > r[clip + CLIP.high]:
        rate = r[clip + CLIP.high]
    return int(np.floor(rate * TICK + 0.5))


@kernel
def way_of(m: Whole, r: Real, v: Real, state: int) -> int:  # pragma: no cover
    """The way of moving in a state: the first whose choice it is, counted from 1; 0: none of them."""
    number = 0
    for way in range(m[state + STATE.moved], m[state + STATE.moved_end], MOVED_SIZE):
        number += 1
        if v[m[way + MOVED.parameter]] == r[way + MOVED.value]:
            return number
    return 0


@kernel
def samples_each(m: Whole, state: int) -> int:  # pragma: no cover
    """How many samples a state has for each way of moving."""
    ways = 1 + (m[state + STATE.moved_end] - m[state + STATE.moved]) // MOVED_SIZE
    return (m[state + STATE.samples_end] - m[state + STATE.samples]) // SAMPLE_SIZE // ways


@kernel
def taken_over(m: Whole, state: int, before: int, pick: int, head: int) -> int:  # pragma: no cover
    """The playhead when a state's pick changes: at the same share of the other clip, counted from where each cycle begins."""
    old = m[state + STATE.samples] + before * SAMPLE_SIZE
    shown = m[state + STATE.samples] + pick * SAMPLE_SIZE
    clip = m[shown + SAMPLE.clip]
    length = m[clip + CLIP.length]
    head = (head - m[old + SAMPLE.phase]) * length // m[m[old + SAMPLE.clip] + CLIP.length] + m[shown + SAMPLE.phase]
    if head < 0:
        head = head + length if m[clip + CLIP.begin] >= 0 else 0
    return folded(m, clip, head)


@kernel
def picked(m: Whole, r: Real, v: Real, state: int, before: int) -> int:  # pragma: no cover
    """The sample a state would show now, after the one picked ``before`` (-1: none was)."""
    way = way_of(m, r, v, state)
    if m[state + STATE.blends] == 0:
        return way
    block = samples_each(m, state)
    number = way * block
    if before >= 0:
        before = number + before % block
    best, first = number, m[state + STATE.samples] + number * SAMPLE_SIZE
    nearest, distance = -1.0, -1.0
    for sample in range(first, first + block * SAMPLE_SIZE, SAMPLE_SIZE):
        total, place = 0.0, m[HEAD.places] + m[sample + SAMPLE.places]
        for axis in range(m[state + STATE.axes], m[state + STATE.axes_end], AXIS_SIZE):
            at = r[place]
            place += 1
            if at == at:
                away = _rulings_to(m, r, v, axis, at)
                total = total + away * away
        if number == before:
            distance = total
        if nearest < 0.0 or total < nearest:
            best, nearest = number, total
        number += 1
    sticky = r[state + STATE.sticky]
    if sticky > 0.0 and before >= 0:
        return best if np.sqrt(nearest) < np.sqrt(distance) - sticky else before
    return best


@kernel
def _rulings_to(m: Whole, r: Real, v: Real, axis: int, at: float) -> float:  # pragma: no cover
    """How far the value an axis reads is from a place on it, in rulings."""
    value = value_on(m, r, v, axis)
    if m[axis + AXIS.round] != 0:
        return turn(at, value) / r[axis + AXIS.step]
    return (value - at) / r[axis + AXIS.step]


@kernel
def value_on(m: Whole, r: Real, v: Real, axis: int) -> float:  # pragma: no cover
    """The value an axis reads, brought into its range."""
    value = v[m[axis + AXIS.parameter]] if m[axis + AXIS.parameter] >= 0 else 0.0
    if m[axis + AXIS.round] != 0:
        return value
    if r[axis + AXIS.low] > value:
        value = r[axis + AXIS.low]
    if r[axis + AXIS.high] < value:
        value = r[axis + AXIS.high]
    return value


@kernel
def kept_from(m: Whole, r: Real, left: int, pick: int, state: int) -> int:  # pragma: no cover
    """The sample of a state that counts as picked before, when the sample ``pick`` was shown in the state ``left``; -1: none."""
    if left < 0 or pick < 0 or m[left + STATE.blends] == 0 or m[state + STATE.blends] == 0:
        return -1
    shown = m[HEAD.places] + m[m[left + STATE.samples] + pick * SAMPLE_SIZE + SAMPLE.places]
    number = 0
    for sample in range(m[state + STATE.samples], m[state + STATE.samples_end], SAMPLE_SIZE):
        place = m[HEAD.places] + m[sample + SAMPLE.places]
        both, same = False, True
        for axis in range(m[state + STATE.axes], m[state + STATE.axes_end], AXIS_SIZE):
            old = _axis_like(m, left, m[axis + AXIS.parameter])
            if old >= 0:
                one, two = r[shown + old], r[place]
                both = True
                same = same and (one == two or (one != one and two != two))
            place += 1
        if not both:
            return -1
        if same:
            return number
        number += 1
    return -1


@kernel
def _axis_like(m: Whole, state: int, parameter: int) -> int:  # pragma: no cover
    """The number of the first axis of a state's that reads a parameter; -1: none."""
    number = 0
    for axis in range(m[state + STATE.axes], m[state + STATE.axes_end], AXIS_SIZE):
        if parameter >= 0 and m[axis + AXIS.parameter] == parameter:
            return number
        number += 1
    return -1


@kernel
def cel_of(m: Whole, r: Real, z: Whole, v: Real, layer: int) -> int:  # pragma: no cover
    """The number of the cel a layer shows, counted from its clip's first; -1: none."""
    clip = clip_of(m, z, layer)
    return cel_shown(m, r, v, clip, z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER.head]) if clip >= 0 else -1


@kernel
def cel_shown(m: Whole, r: Real, v: Real, clip: int, head: int) -> int:  # pragma: no cover
    """The number of the cel a clip shows at a playhead, its resting one while it stands; -1: none."""
    if m[clip + CLIP.resting] >= 0 and pace_of(m, r, v, clip) == 0:
        return m[clip + CLIP.resting]
    return cel_at(m, clip, head)


@kernel
def cel_at(m: Whole, clip: int, head: int) -> int:  # pragma: no cover
    """The number of the cel a clip shows at a playhead; -1: none."""
    piece, end, length = m[clip + CLIP.pieces], m[clip + CLIP.pieces_end], m[clip + CLIP.length]
    if piece == end or (m[clip + CLIP.vanishes] != 0 and head >= length):
        return -1
    head = folded(m, clip, head)
    head = min(head, length - 1)
    while piece + PIECE_SIZE < end and m[piece + PIECE_SIZE + PIECE.start] <= head:
        piece += PIECE_SIZE
    return m[piece + PIECE.cel]


@kernel
def cel_row(m: Whole, z: Whole, layer: int, cel: int) -> int:  # pragma: no cover
    """Where a cel of the clip begins that a layer shows."""
    return m[clip_of(m, z, layer) + CLIP.cels] + cel * CEL_SIZE
