"""Two figures in compiled code: both step, then contact is decided for both at once."""

from __future__ import annotations

import math

import numpy as np

from leanstep.core.body.records import FIELDS
from leanstep.core.jit import Real, Whole, kernel, where
from leanstep.core.rehearsal.engine.playing import set_due
from leanstep.core.rehearsal.engine.records import DRIVEN, DUE, DUE_SIZE, SIDE_VIEW
from leanstep.core.rehearsal.engine.stepping import step
from leanstep.core.tick.conditions import clip_of, fitted
from leanstep.core.tick.contact import begin_freeze, forget_spent, stands_still, strikes
from leanstep.core.tick.layers import open_tick
from leanstep.core.tick.places import CLIP, CONTACT, HEAD, NOW

TOUCHED = 4
"""What is told of a strike that meets the other figure: the tick, who strikes (0 or 1), the layer, and 1 for a hit, 2 for guarded."""


@kernel
def raise_due(m: Whole, r: Real, z: Whole, v: Real, w: Real) -> None:  # pragma: no cover
    """Set what contact on the tick before raises."""
    rules = m[HEAD.contact]
    if w[DUE.any] == 0.0 or rules >= m[HEAD.contact_end]:
        return
    z[m[HEAD.changed]] = 1
    _raise(m, v, m[rules + CONTACT.hit], w[DUE.hit])
    _raise(m, v, m[rules + CONTACT.guarded], w[DUE.guarded])
    _raise(m, v, m[rules + CONTACT.lands], w[DUE.lands])
    _raise(m, v, m[rules + CONTACT.stopped], w[DUE.stopped])
    if w[DUE.hit] != 0.0 or w[DUE.guarded] != 0.0:
        _give(m, r, v, m[rules + CONTACT.stun], w[DUE.stun])
        _give(m, r, v, m[rules + CONTACT.strength], w[DUE.strength])


@kernel
def _raise(m: Whole, v: Real, parameter: int, on: float) -> None:  # pragma: no cover
    if parameter >= 0 and on != 0.0:
        v[parameter] = 1.0


@kernel
def _give(m: Whole, r: Real, v: Real, parameter: int, value: float) -> None:  # pragma: no cover
    if parameter >= 0:
        v[parameter] = fitted(m, r, parameter, value)


@kernel
def settle(m: Whole, z: Whole, v: Real, w: Real) -> None:  # pragma: no cover
    """What contact on the tick before does at the end of this one: time stands, the body is pushed."""
    if w[DUE.any] != 0.0:
        begin_freeze(z, int(w[DUE.freeze]))
        v[m[HEAD.place] + FIELDS.push] += w[DUE.push]
    for place in range(DUE_SIZE):
        w[place] = 0.0


@kernel
def looks_left(m: Whole, v: Real) -> bool:  # pragma: no cover
    """Whether a figure looks left."""
    side = m[m[HEAD.more] + DRIVEN.model] == SIDE_VIEW
    return v[m[HEAD.place] + (FIELDS.facing if side else FIELDS.side)] < 0.0


@kernel
def _add(m: Whole, r: Real, z: Whole, out: Whole, w: Real, other: Real) -> float:  # pragma: no cover
    """Add what strikes do to what is due on who strikes, ``w``, and on the ``other``; how hard that one is pushed."""
    push = 0.0
    for layer in range(m[HEAD.layer_count]):
        if out[layer] == 0:
            continue
        clip, hits = clip_of(m, z, layer), out[layer] == 1
        w[DUE.any] = 1.0
        other[DUE.any] = 1.0
        stun = float(m[clip + CLIP.stun] if hits else m[clip + CLIP.guard_stun])
        freeze = float(m[clip + CLIP.freeze])
        if hits:
            w[DUE.lands] = 1.0
            other[DUE.hit] = 1.0
        else:
            w[DUE.stopped] = 1.0
            other[DUE.guarded] = 1.0
        other[DUE.stun] = max(other[DUE.stun], stun)
        other[DUE.strength] = max(other[DUE.strength], r[clip + CLIP.strength])
        w[DUE.freeze] = max(w[DUE.freeze], freeze)
        other[DUE.freeze] = max(other[DUE.freeze], freeze)
        push = max(push, r[clip + CLIP.push])
    return push


@kernel
def _push(m: Whole, v: Real, w: Real, push: float, from_x: float) -> None:  # pragma: no cover
    """A push away from who stands at ``from_x``, along the facing."""
    if push == 0.0:
        return
    place = m[HEAD.place]
    side, facing = 1.0 if v[place + FIELDS.x] >= from_x else -1.0, v[place + FIELDS.facing]
    if m[m[HEAD.more] + DRIVEN.model] == SIDE_VIEW:
        w[DUE.push] = (side if facing > 0.0 else -side) * push
    else:
        w[DUE.push] = side * math.sin(math.radians(facing)) * push


@kernel
def play_pair(
    one: tuple[np.ndarray, np.ndarray],
    other: tuple[np.ndarray, np.ndarray],
    scales: tuple[float, float, float, float],
    now: tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray],
    due: tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray],
    out: tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray, np.ndarray, np.ndarray],
    told: np.ndarray,
) -> int:  # pragma: no cover
    """Play two figures for as many ticks as there are rows to write them to; how many strikes have met, of which ``told`` has as many
    as it has room for (:data:`TOUCHED`).

    ``one`` and ``other`` are their machines, ``now`` the counts and values of each, which change, ``due`` the changes (tick, symbol)
    of each and their values, ``out`` rows for counts, values and transitions of each.
    """
    m, r, z, v = where(one[0]), where(one[1]), where(now[0]), where(now[1])
    m2, r2, z2, v2 = where(other[0]), where(other[1]), where(now[2]), where(now[3])
    changes, values, changes2, values2 = where(due[0]), where(due[1]), where(due[2]), where(due[3])
    counts_out, values_out, fired, counts_out2, values_out2, fired2 = out
    layers, layers2 = fired.shape[1], fired2.shape[1]
    none, b = np.zeros(2, np.int64), np.zeros(8)
    w, w2 = np.zeros(DUE_SIZE), np.zeros(DUE_SIZE)
    spent, spent2 = np.zeros(max(layers, 1), np.int64), np.zeros(max(layers2, 1), np.int64)
    hits, hits2 = np.zeros(max(layers, 1), np.int64), np.zeros(max(layers2, 1), np.int64)
    taken, taken2 = np.zeros(max(layers, 1), np.int64), np.zeros(max(layers2, 1), np.int64)
    at, at2, met = 0, 0, 0
    for tick in range(len(fired)):
        open_tick(m, z, v)
        z[m[HEAD.changed]] = z[NOW.tick] == 0
        raise_due(m, r, z, v, where(w))
        at = set_due(m, z, v, changes, values, at, len(due[1]))
        step(m, r, z, v, where(none), False, where(taken), 0)
        settle(m, z, v, where(w))
        open_tick(m2, z2, v2)
        z2[m2[HEAD.changed]] = z2[NOW.tick] == 0
        raise_due(m2, r2, z2, v2, where(w2))
        at2 = set_due(m2, z2, v2, changes2, values2, at2, len(due[3]))
        step(m2, r2, z2, v2, where(none), False, where(taken2), 0)
        settle(m2, z2, v2, where(w2))
        forget_spent(m, where(taken), where(spent))
        forget_spent(m2, where(taken2), where(spent2))
        if not stands_still(m, z) and not stands_still(m2, z2):
            place, place2 = m[HEAD.place], m2[HEAD.place]
            x, y = v[place + FIELDS.x], v[place + FIELDS.y] + v[place + FIELDS.lift]
            x2, y2 = v2[place2 + FIELDS.x], v2[place2 + FIELDS.y] + v2[place2 + FIELDS.lift]
            left, left2 = looks_left(m, v), looks_left(m2, v2)
            first = strikes(
                m,
                r,
                z,
                v,
                left,
                x,
                y,
                scales[0],
                scales[1],
                m2,
                r2,
                z2,
                v2,
                left2,
                x2,
                y2,
                scales[2],
                scales[3],
                where(spent),
                where(hits),
                where(b),
            )
            second = strikes(
                m2,
                r2,
                z2,
                v2,
                left2,
                x2,
                y2,
                scales[2],
                scales[3],
                m,
                r,
                z,
                v,
                left,
                x,
                y,
                scales[0],
                scales[1],
                where(spent2),
                where(hits2),
                where(b),
            )
            if first or second:
                push = _add(m, r, z, where(hits), where(w), where(w2))
                push2 = _add(m2, r2, z2, where(hits2), where(w2), where(w))
                _push(m2, v2, where(w2), push, x)
                _push(m, v, where(w), push2, x2)
                for layer in range(layers):
                    if hits[layer] != 0:
                        met = _tell(told, met, tick, 0, layer, hits[layer])
                for layer in range(layers2):
                    if hits2[layer] != 0:
                        met = _tell(told, met, tick, 1, layer, hits2[layer])
        _write(z, v, taken, counts_out, values_out, fired, tick)
        _write(z2, v2, taken2, counts_out2, values_out2, fired2, tick)
    return met


@kernel
def _tell(told: np.ndarray, met: int, tick: int, who: int, layer: int, how: int) -> int:  # pragma: no cover
    if met < len(told):
        told[met, 0] = tick
        told[met, 1] = who
        told[met, 2] = layer
        told[met, 3] = how
    return met + 1


@kernel
def _write(
    z: Whole, v: Real, taken: np.ndarray, counts: np.ndarray, values: np.ndarray, fired: np.ndarray, tick: int
) -> None:  # pragma: no cover
    for place in range(counts.shape[1]):
        counts[tick, place] = z[place]
    for place in range(values.shape[1]):
        values[tick, place] = v[place]
    for layer in range(fired.shape[1]):
        fired[tick, layer] = taken[layer]
