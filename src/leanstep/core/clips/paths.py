"""Where a path is at a playhead, and how far it goes in a step of it.

A path is laid out as rows of doubles: an instant in playhead units, x, y, and how it is gone there.  The kernels run compiled in the
engine and as they stand everywhere else, so that every engine goes the same way to the last bit.  Easing in is t², out t (2 - t),
both t² (3 - 2 t), the cubic with no slope at its ends.
"""

from __future__ import annotations

from leanstep.core.jit import Real, kernel

AT, X, Y, EASE = range(4)
KEY_SIZE = 4
EVEN, IN, OUT, BOTH = range(4)


@kernel
def place(r: Real, begin: int, end: int, head: int, which: int) -> float:  # pragma: no cover
    """Where a path laid out in ``r`` is at a playhead, ahead (``X``) or up (``Y``)."""
    key = begin
    while key + KEY_SIZE < end and r[key + KEY_SIZE + AT] <= head:
        key += KEY_SIZE
    after = key + KEY_SIZE
    if after >= end or head <= r[key + AT]:
        return r[key + which]
    t = (head - r[key + AT]) / (r[after + AT] - r[key + AT])
    ease = int(r[after + EASE])
    if ease == IN:
        t = t * t
    elif ease == OUT:
        t = t * (2.0 - t)
    elif ease == BOTH:
        t = t * t * (3.0 - 2.0 * t)
    return r[key + which] + (r[after + which] - r[key + which]) * t


@kernel
def gone(
    r: Real, begin: int, end: int, length: int, back: int, head: int, amount: int, which: int
) -> float:  # pragma: no cover
    """How far a path goes while the playhead steps from ``head`` by ``amount``, in a clip of ``length`` that goes ``back`` to there
    from its end (-1: it stays there)."""
    moved = head + amount
    if moved < length or back < 0:
        return place(r, begin, end, min(moved, length), which) - place(r, begin, end, min(head, length), which)
    lap, over = length - back, moved - length
    whole = place(r, begin, end, length, which) - place(r, begin, end, back, which)
    first = place(r, begin, end, length, which) - place(r, begin, end, head, which)
    rest = place(r, begin, end, back + over % lap, which) - place(r, begin, end, back, which)
    return first + (over // lap) * whole + rest
