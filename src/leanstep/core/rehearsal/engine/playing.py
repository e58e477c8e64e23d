"""Whole takes in compiled code, one or many at a time."""

from __future__ import annotations

import numpy as np

from leanstep.core.jit import Real, Whole, kernel, where
from leanstep.core.rehearsal.engine.stepping import step
from leanstep.core.tick.codes import GRAPH
from leanstep.core.tick.layers import open_tick
from leanstep.core.tick.places import FIRST_PLAYER, HEAD, NOW, PARAMETER, PARAMETER_SIZE, PLAYER, PLAYER_SIZE


@kernel
def begin(
    m: Whole, z: Whole, v: Real, changes: np.ndarray, values: np.ndarray, at: int, end: int
) -> int:  # pragma: no cover
    """Set the inputs of the coming tick: from number ``at`` on, the changes (tick, symbol) that are due, to their
    ``values``; and note whether that changes any.  Returns the number of the first that is not."""
    open_tick(m, z, v)
    z[m[HEAD.changed]] = z[NOW.tick] == 0
    return set_due(m, z, v, changes, values, at, end)


@kernel
def set_due(
    m: Whole, z: Whole, v: Real, changes: np.ndarray, values: np.ndarray, at: int, end: int
) -> int:  # pragma: no cover
    """The same once a tick has begun, and something may have been set on it."""
    while at < end and changes[2 * at] <= z[NOW.tick]:
        symbol = changes[2 * at + 1]
        if m[m[HEAD.parameters] + symbol * PARAMETER_SIZE + PARAMETER.owner] < GRAPH:
            z[m[HEAD.changed]] |= v[symbol] != values[at]
            v[symbol] = values[at]
        at += 1
    return at


@kernel
def play(
    tables: tuple[np.ndarray, np.ndarray],
    now: tuple[np.ndarray, np.ndarray],
    told: np.ndarray,
    free: bool,
    until: int,
    due: tuple[np.ndarray, np.ndarray],
    out: tuple[np.ndarray, np.ndarray, np.ndarray],
) -> int:  # pragma: no cover
    """Play as many ticks as there are rows to write them to, or up to the first on which layer ``until`` takes a transition.
    Returns the ticks played.

    ``tables`` is the machine, ``now`` the situation to begin with; it changes.  ``told`` collects marks.  ``due`` are changes
    (tick, symbol) and their values, ``out`` rows for the counts, the values and each layer's transition.
    """
    m, r, z, v, k = where(tables[0]), where(tables[1]), where(now[0]), where(now[1]), where(told)
    changes, values = where(due[0]), where(due[1])
    counts_out, values_out, fired = out
    at = 0
    for tick in range(len(fired)):
        at = begin(m, z, v, changes, values, at, len(due[1]))
        step(m, r, z, v, k, free, where(fired), tick * fired.shape[1])
        for place in range(counts_out.shape[1]):
            counts_out[tick, place] = z[place]
        for place in range(values_out.shape[1]):
            values_out[tick, place] = v[place]
        if until >= 0 and fired[tick, until] >= 0:
            return tick + 1
    return len(fired)


@kernel
def play_many(
    tables: tuple[np.ndarray, np.ndarray],
    now: tuple[np.ndarray, np.ndarray],
    free: bool,
    first: tuple[np.ndarray, np.ndarray],
    takes: np.ndarray,
    due: tuple[np.ndarray, np.ndarray],
    ways: np.ndarray,
    out: tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray],
) -> None:  # pragma: no cover
    """Play ``takes``, rows of (ticks, first change, end of its changes), each from the situation ``first``.

    ``out`` is told the counts and values with which each ends, and on which tick a take first enters a state or takes a
    transition (-1: never); a layer's transitions are numbered from its place in ``ways`` on.
    """
    m, r, z, v = where(tables[0]), where(tables[1]), where(now[0]), where(now[1])
    changes, values = where(due[0]), where(due[1])
    counts_out, values_out, entered, taken = out
    layers = len(ways) - 1
    fired, told = np.zeros(layers, np.int64), np.zeros(2, np.int64)
    entered[:] = -1
    taken[:] = -1
    for number in range(len(takes)):
        for place in range(len(first[0])):
            z[place] = first[0][place]
        for place in range(len(first[1])):
            v[place] = first[1][place]
        at, end = takes[number, 1], takes[number, 2]
        for tick in range(takes[number, 0]):
            at = begin(m, z, v, changes, values, at, end)
            step(m, r, z, v, where(told), free, where(fired), 0)
            for layer in range(layers):
                if fired[layer] >= 0:
                    state, way = z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER.state], ways[layer] + fired[layer]
                    if taken[number, way] < 0:
                        taken[number, way] = tick
                    if entered[number, state] < 0:
                        entered[number, state] = tick
        for place in range(len(first[0])):
            counts_out[number, place] = z[place]
        for place in range(len(first[1])):
            values_out[number, place] = v[place]
