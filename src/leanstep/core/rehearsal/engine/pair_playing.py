"""Two figures in compiled code: both step, then contact is decided for both at once."""

from __future__ import annotations

import math

import numpy as np

from leanstep.core.body.records import FIELDS
from leanstep.core.jit import Real, Whole, kernel, where
from leanstep.core.rehearsal.engine.playing import set_due
from leanstep.core.rehearsal.engine.records import DRIVEN, SIDE_VIEW
from leanstep.core.rehearsal.engine.stepping import step
from leanstep.core.tick.contact import meet, raise_due, settle
from leanstep.core.tick.layers import open_tick
from leanstep.core.tick.places import DUE, DUE_SIZE, HEAD, NOW

TOUCHED = 4
"""What is told of a strike that meets the other figure: the tick, who strikes (0 or 1), the layer, and 1 for a hit, 2 for guarded."""


@kernel
def looks_left(m: Whole, v: Real) -> bool:  # pragma: no cover
    """Whether a figure looks left."""
    side = m[m[HEAD.more] + DRIVEN.model] == SIDE_VIEW
    return v[m[HEAD.place] + (FIELDS.facing if side else FIELDS.side)] < 0.0


@kernel
def _along(m: Whole, v: Real) -> float:  # pragma: no cover
    """How much of a push to the right goes along the facing."""
    facing = v[m[HEAD.place] + FIELDS.facing]
    if m[m[HEAD.more] + DRIVEN.model] == SIDE_VIEW:
        return 1.0 if facing > 0.0 else -1.0
    return math.sin(math.radians(facing))


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
        raise_due(m, r, v, where(w))
        z[m[HEAD.changed]] |= w[DUE.any] != 0.0
        at = set_due(m, z, v, changes, values, at, len(due[1]))
        step(m, r, z, v, where(none), False, where(taken), 0)
        settle(m, z, v, where(w))
        open_tick(m2, z2, v2)
        z2[m2[HEAD.changed]] = z2[NOW.tick] == 0
        raise_due(m2, r2, v2, where(w2))
        z2[m2[HEAD.changed]] |= w2[DUE.any] != 0.0
        at2 = set_due(m2, z2, v2, changes2, values2, at2, len(due[3]))
        step(m2, r2, z2, v2, where(none), False, where(taken2), 0)
        settle(m2, z2, v2, where(w2))
        place, place2 = m[HEAD.place], m2[HEAD.place]
        if meet(
            m,
            r,
            z,
            v,
            where(taken),
            looks_left(m, v),
            _along(m, v),
            v[place + FIELDS.x],
            v[place + FIELDS.y] + v[place + FIELDS.lift],
            scales[0],
            scales[1],
            where(spent),
            where(hits),
            where(w),
            m2,
            r2,
            z2,
            v2,
            where(taken2),
            looks_left(m2, v2),
            _along(m2, v2),
            v2[place2 + FIELDS.x],
            v2[place2 + FIELDS.y] + v2[place2 + FIELDS.lift],
            scales[2],
            scales[3],
            where(spent2),
            where(hits2),
            where(w2),
            where(b),
        ):
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
