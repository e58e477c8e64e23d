"""One tick in compiled code, the body's own included; the plain stepper says the same, one by one and in words."""

from __future__ import annotations

import numpy as np

from leanstep.core import bearings
from leanstep.core.jit import Real, Whole, kernel, where
from leanstep.core.rehearsal.engine.body_kernels import move
from leanstep.core.tick.layers import enter_start, keep_bearings, tick
from leanstep.core.tick.places import (
    HEAD,
    NOW,
    STICK,
    STICK_SIZE,
)

bearing_of, push_of = kernel(bearings.bearing_of), kernel(bearings.push_of)


@kernel
def step(m: Whole, r: Real, z: Whole, v: Real, k: Whole, free: bool, fired: Whole, at: int) -> None:  # pragma: no cover
    """One tick, after the inputs have been set; ``fired`` is told each layer's transition from place ``at`` on."""
    if not free:
        _read_sticks(m, v)
    keep_bearings(m, v)
    if not free and z[NOW.freeze] <= 0:
        move(m, r, z, v)
    tick(m, r, z, v, k, not free or z[m[HEAD.changed]] != 0, fired, at)


@kernel
def _read_sticks(m: Whole, v: Real) -> None:  # pragma: no cover
    """Step 1: how far and where to sticks are pushed."""
    for stick in range(m[HEAD.sticks], m[HEAD.sticks_end], STICK_SIZE):
        across, up = v[m[stick + STICK.x]], v[m[stick + STICK.y]]
        v[m[stick + STICK.push]] = push_of(across, up)
        v[m[stick + STICK.bearing]] = bearing_of(across, up)


@kernel
def enter_all(
    tables: tuple[np.ndarray, np.ndarray], counts: np.ndarray, values: np.ndarray
) -> None:  # pragma: no cover
    """Enter every layer's start state, just before tick 0."""
    none = np.zeros(2, np.int64)
    enter_start(where(tables[0]), where(tables[1]), where(counts), where(values), where(none))
