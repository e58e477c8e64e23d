"""What the active states ask of a body: each thing is asked by the first of them that does."""

from __future__ import annotations

from leanstep.core.jit import Real, Whole, kernel
from leanstep.core.tick.conditions import state_of
from leanstep.core.tick.places import HEAD, STATE


@kernel
def requested(m: Whole, r: Real, z: Whole, what: int) -> float:  # pragma: no cover
    """How fast to turn, to be at most or to fall, or how wide or high to be, as ``what`` (a column of states) says; 0: nothing is
    asked."""
    for layer in range(m[HEAD.layer_count]):
        asked = r[state_of(m, z, layer) + what]
        if asked > 0.0:
            return asked
    return 0.0


@kernel
def requested_mode(m: Whole, z: Whole) -> int:  # pragma: no cover
    """How to move, as the number of a mode; 0: nothing is asked."""
    for layer in range(m[HEAD.layer_count]):
        mode = m[state_of(m, z, layer) + STATE.mode]
        if mode != 0:
            return mode
    return 0


@kernel
def goes_backward(m: Whole, z: Whole) -> bool:  # pragma: no cover
    """Whether the body may move against its facing."""
    for layer in range(m[HEAD.layer_count]):
        if m[state_of(m, z, layer) + STATE.backward] != 0:
            return True
    return False
