"""What touches: strike boxes of one figure and vulnerable ones of another, on a tick that both have done.

The plain form is :mod:`leanstep.core.rehearsal.contact`.  A figure stands at ``x``, ``y``, looks ``left`` or right, and a pixel of its
drawings is ``wide`` and ``high``; its box is four doubles of ``b``: left, bottom, right and top.
"""

from __future__ import annotations

from leanstep.core.jit import Real, Whole, kernel
from leanstep.core.tick.clips import cel_of, cel_row
from leanstep.core.tick.columns import GUARD_BOX, STRIKE_BOX, VULNERABLE_BOX
from leanstep.core.tick.conditions import clip_of, run
from leanstep.core.tick.drawing import aside, is_mirrored, lowest_seen, quarter_turns
from leanstep.core.tick.places import (
    ACTIVE,
    ACTIVE_SIZE,
    CEL,
    CLIP,
    CONTACT,
    FIRST_PLAYER,
    HEAD,
    NOW,
    PLAYER,
    PLAYER_SIZE,
    RECT,
    RECT_SIZE,
)


@kernel
def is_guarding(m: Whole, r: Real, z: Whole, v: Real) -> bool:  # pragma: no cover
    """Whether a figure guards, after the transitions of a tick."""
    rules = m[HEAD.contact]
    return rules < m[HEAD.contact_end] and run(m, r, z, v, m[rules + CONTACT.guards])


@kernel
def window_of(m: Whole, z: Whole, layer: int) -> int:  # pragma: no cover
    """The number of the active phase a layer stands in, counted from 1 and further for each that hits again; 0: in none."""
    clip = clip_of(m, z, layer)
    if clip < 0:
        return 0
    head = z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER.head]
    for active in range(m[clip + CLIP.actives], m[clip + CLIP.actives_end], ACTIVE_SIZE):
        if m[active + ACTIVE.start] <= head < m[active + ACTIVE.end]:
            return m[active + ACTIVE.window]
    return 0


@kernel
def place_box(
    m: Whole,
    r: Real,
    z: Whole,
    layer: int,
    cel: int,
    rect: int,
    left: bool,
    x: float,
    y: float,
    wide: float,
    high: float,
    b: Real,
    at: int,
) -> None:  # pragma: no cover
    """Write where a box of a cel is: its edges, from place ``at`` on."""
    low, bottom = r[rect + RECT.left], r[rect + RECT.bottom]
    width, height = r[rect + RECT.width], r[rect + RECT.height]
    if is_mirrored(m, z, layer, cel, left):
        low = -low - width
    for _ in range(quarter_turns(m, z, layer, cel, left)):
        turned = -low - width
        low = bottom
        bottom = turned
        turned = width
        width = height
        height = turned
    ahead = aside(m, r, z, layer, 1)
    across = x + (-ahead if left and ahead != 0.0 else ahead)
    up = y + aside(m, r, z, layer, 2)
    b[at] = across + low * wide
    b[at + 1] = up + bottom * high
    b[at + 2] = across + (low + width) * wide
    b[at + 3] = up + (bottom + height) * high


@kernel
def meets_any(
    m: Whole,
    r: Real,
    z: Whole,
    v: Real,
    left: bool,
    x: float,
    y: float,
    wide: float,
    high: float,
    b: Real,
) -> bool:  # pragma: no cover
    """Whether the box that stands first in ``b`` overlaps some vulnerable box of a figure in an area."""
    lowest = lowest_seen(m, r, z, v)
    for layer in range(max(lowest, 0), m[HEAD.layer_count] if lowest >= 0 else 0):
        cel = cel_of(m, r, z, v, layer)
        if cel < 0:
            continue
        row = cel_row(m, z, layer, cel)
        for rect in range(m[row + CEL.rects], m[row + CEL.rects_end], RECT_SIZE):
            if m[rect + RECT.kind] != VULNERABLE_BOX:
                continue
            place_box(m, r, z, layer, cel, rect, left, x, y, wide, high, b, 4)
            if min(b[2], b[6]) - max(b[0], b[4]) > 0.0 and min(b[3], b[7]) - max(b[1], b[5]) > 0.0:
                return True
    return False


@kernel
def strikes(
    m: Whole,
    r: Real,
    z: Whole,
    v: Real,
    left: bool,
    x: float,
    y: float,
    wide: float,
    high: float,
    other_m: Whole,
    other_r: Real,
    other_z: Whole,
    other_v: Real,
    other_left: bool,
    other_x: float,
    other_y: float,
    other_wide: float,
    other_high: float,
    spent: Whole,
    out: Whole,
    b: Real,
) -> bool:  # pragma: no cover
    """Decide which strikes of a figure meet another: ``out`` is told by layer 0 for none, 1 for a hit and 2 for one that is guarded,
    and ``spent`` which windows have hit."""
    found = False
    for layer in range(m[HEAD.layer_count]):
        out[layer] = 0
        window = window_of(m, z, layer)
        if window <= spent[layer]:
            continue
        cel, lowest = cel_of(m, r, z, v, layer), lowest_seen(m, r, z, v)
        if cel < 0 or layer < lowest:
            continue
        row, struck, reached = cel_row(m, z, layer, cel), False, m[clip_of(m, z, layer) + CLIP.reach] == 0
        for rect in range(m[row + CEL.rects], m[row + CEL.rects_end], RECT_SIZE):
            kind = m[rect + RECT.kind]
            if kind == VULNERABLE_BOX or (kind == STRIKE_BOX and struck) or (kind == GUARD_BOX and reached):
                continue
            place_box(m, r, z, layer, cel, rect, left, x, y, wide, high, b, 0)
            if meets_any(other_m, other_r, other_z, other_v, other_left, other_x, other_y, other_wide, other_high, b):
                if kind == STRIKE_BOX:
                    struck = True
                else:
                    reached = True
        if struck:
            guarded = reached and is_guarding(other_m, other_r, other_z, other_v)
            out[layer] = 2 if guarded else 1
            spent[layer] = window
            found = True
    return found


@kernel
def forget_spent(m: Whole, taken: Whole, spent: Whole) -> None:  # pragma: no cover
    """A strike whose state is entered anew can hit again."""
    for layer in range(m[HEAD.layer_count]):
        if taken[layer] >= 0:
            spent[layer] = 0


@kernel
def stands_still(m: Whole, z: Whole) -> bool:  # pragma: no cover
    """Whether time still stands after a tick, so that contact waits."""
    return z[NOW.freeze] > 0


@kernel
def begin_freeze(z: Whole, ticks: int) -> None:  # pragma: no cover
    """Time stands for some ticks, as by an effect."""
    z[NOW.freeze] = max(z[NOW.freeze], ticks)
