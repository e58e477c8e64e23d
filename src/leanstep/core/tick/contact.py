"""What touches: strike boxes of one figure and vulnerable ones of another, on a tick that both have done.

The plain form is :mod:`leanstep.core.rehearsal.contact`.  A figure stands at ``x``, ``y``, looks ``left`` or right, and a pixel of its
drawings is ``wide`` and ``high``; its box is four doubles of ``b``: left, bottom, right and top.
"""

from __future__ import annotations

from leanstep.core.body.records import FIELDS
from leanstep.core.jit import Real, Whole, kernel
from leanstep.core.tick.clips import cel_of, cel_row
from leanstep.core.tick.codes import GUARD_BOX, STRIKE_BOX, VULNERABLE_BOX
from leanstep.core.tick.conditions import clip_of, fitted, run
from leanstep.core.tick.drawing import aside, is_mirrored, lowest_seen, quarter_turns
from leanstep.core.tick.places import (
    ACTIVE,
    ACTIVE_SIZE,
    CEL,
    CLIP,
    CONTACT,
    DUE,
    DUE_SIZE,
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
    if lowest < 0:
        return False
    for layer in range(lowest, m[HEAD.layer_count]):
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
def raise_due(m: Whole, r: Real, v: Real, w: Real) -> None:  # pragma: no cover
    """Set what contact on the tick before raises, once a tick has begun."""
    rules = m[HEAD.contact]
    if w[DUE.any] == 0.0 or rules >= m[HEAD.contact_end]:
        return
    _pulse_on(v, m[rules + CONTACT.hit], w[DUE.hit])
    _pulse_on(v, m[rules + CONTACT.guarded], w[DUE.guarded])
    _pulse_on(v, m[rules + CONTACT.lands], w[DUE.lands])
    _pulse_on(v, m[rules + CONTACT.stopped], w[DUE.stopped])
    if w[DUE.hit] != 0.0 or w[DUE.guarded] != 0.0:
        _give_value(m, r, v, m[rules + CONTACT.stun], w[DUE.stun])
        _give_value(m, r, v, m[rules + CONTACT.strength], w[DUE.strength])


@kernel
def _pulse_on(v: Real, parameter: int, on: float) -> None:  # pragma: no cover
    """A pulse comes on, where there is one."""
    if parameter >= 0 and on != 0.0:
        v[parameter] = 1.0


@kernel
def _give_value(m: Whole, r: Real, v: Real, parameter: int, value: float) -> None:  # pragma: no cover
    """A number gets a value, where there is one."""
    if parameter >= 0:
        v[parameter] = fitted(m, r, parameter, value)


@kernel
def settle(m: Whole, z: Whole, v: Real, w: Real) -> None:  # pragma: no cover
    """What contact on the tick before does at the end of this one: time stands, and the body is pushed."""
    if w[DUE.any] != 0.0:
        z[NOW.freeze] = max(z[NOW.freeze], int(w[DUE.freeze]))
        v[m[HEAD.place] + FIELDS.push] += w[DUE.push]
        for due in range(DUE_SIZE):
            w[due] = 0.0


@kernel
def _add_due(m: Whole, r: Real, z: Whole, out: Whole, w: Real, other: Real, side: float) -> None:  # pragma: no cover
    """Add what strikes raise on who strikes, ``w``, and on the ``other``, along whose facing ``side`` of a push goes."""
    for layer in range(m[HEAD.layer_count]):
        if out[layer] == 0:
            continue
        clip, hits = clip_of(m, z, layer), out[layer] == 1
        w[DUE.any] = 1.0
        other[DUE.any] = 1.0
        if hits:
            w[DUE.lands] = 1.0
            other[DUE.hit] = 1.0
        else:
            w[DUE.stopped] = 1.0
            other[DUE.guarded] = 1.0
        stun, freeze = float(m[clip + CLIP.stun] if hits else m[clip + CLIP.guard_stun]), float(m[clip + CLIP.freeze])
        other[DUE.stun] = max(other[DUE.stun], stun)
        other[DUE.strength] = max(other[DUE.strength], r[clip + CLIP.strength])
        w[DUE.freeze] = max(w[DUE.freeze], freeze)
        other[DUE.freeze] = max(other[DUE.freeze], freeze)
        push = r[clip + CLIP.push] * side
        if abs(push) > abs(other[DUE.push]):
            other[DUE.push] = push


@kernel
def meet(
    m: Whole,
    r: Real,
    z: Whole,
    v: Real,
    taken: Whole,
    left: bool,
    along: float,
    x: float,
    y: float,
    wide: float,
    high: float,
    spent: Whole,
    out: Whole,
    w: Real,
    other_m: Whole,
    other_r: Real,
    other_z: Whole,
    other_v: Real,
    other_taken: Whole,
    other_left: bool,
    other_along: float,
    other_x: float,
    other_y: float,
    other_wide: float,
    other_high: float,
    other_spent: Whole,
    other_out: Whole,
    other_w: Real,
    b: Real,
) -> bool:  # pragma: no cover
    """Contact of two figures that have both done a tick: ``out`` is told by layer 0 for none, 1 for a hit, 2 for one that is guarded,
    ``w`` what that raises on the next tick.  ``along`` is how much of a push to the right goes along the facing."""
    forget_spent(m, taken, spent)
    forget_spent(other_m, other_taken, other_spent)
    for layer in range(m[HEAD.layer_count]):
        out[layer] = 0
    for layer in range(other_m[HEAD.layer_count]):
        other_out[layer] = 0
    if z[NOW.freeze] > 0 or other_z[NOW.freeze] > 0:
        return False
    first = strikes(
        m,
        r,
        z,
        v,
        left,
        x,
        y,
        wide,
        high,
        other_m,
        other_r,
        other_z,
        other_v,
        other_left,
        other_x,
        other_y,
        other_wide,
        other_high,
        spent,
        out,
        b,
    )
    second = strikes(
        other_m,
        other_r,
        other_z,
        other_v,
        other_left,
        other_x,
        other_y,
        other_wide,
        other_high,
        m,
        r,
        z,
        v,
        left,
        x,
        y,
        wide,
        high,
        other_spent,
        other_out,
        b,
    )
    if first:
        _add_due(m, r, z, out, w, other_w, other_along if other_x >= x else -other_along)
    if second:
        _add_due(other_m, other_r, other_z, other_out, other_w, w, along if x >= other_x else -along)
    return first or second
