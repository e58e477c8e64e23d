"""How a figure is drawn: the squashes and leans that follow what was stepped, one tick after another.

The plain form is :mod:`leanstep.core.rehearsal.deforming`, where the curves are told.  ``s`` holds a figure's shape
(:class:`leanstep.core.tick.places.Drawn`) and the rows of the layers' states; nothing that decides reads it.
"""

from __future__ import annotations

from leanstep.core import bearings
from leanstep.core.jit import Real, Whole, kernel
from leanstep.core.tick.codes import HELD_LEAN, HELD_SQUASH, LEANED, LET_GO
from leanstep.core.tick.conditions import state_of
from leanstep.core.tick.effects import TOLD, TOLD_SIZE
from leanstep.core.tick.places import (
    CUE,
    CUE_SIZE,
    DRAWN,
    DRAWN_SIZE,
    HEAD,
    LEAN,
    LEAN_SIZE,
    NOW,
    SHAPE,
    SHAPE_SIZE,
    SQUASH,
    SQUASH_SIZE,
    STATE,
    WAY,
    WAY_SIZE,
)

across, turn, reduced = kernel(bearings.across), kernel(bearings.turn), kernel(bearings.reduced)


@kernel
def begin_shape(m: Whole, r: Real, z: Whole, s: Real) -> None:  # pragma: no cover
    """The figure before tick 0, of a body at rest that looks right; ``s`` is an array of zeros."""
    s[DRAWN.wide] = 1.0
    s[DRAWN.high] = 1.0
    s[DRAWN.freed] = -1.0
    s[DRAWN.facing] = 90.0
    s[DRAWN.grounded] = 1.0
    for layer in range(m[HEAD.layer_count]):
        state = state_of(m, z, layer)
        _begin_all(m, r, s, m[state + STATE.shapes], m[state + STATE.shapes_end], state)
    _keep_seen(m, z, s)
    _form(m, r, s)


@kernel
def follow_shape(
    m: Whole,
    r: Real,
    z: Whole,
    k: Whole,
    taken: Whole,
    s: Real,
    velocity: float,
    up: float,
    facing: float,
    grounded: bool,
) -> None:  # pragma: no cover
    """The figure one tick later; ``velocity`` of the body to the right, or of one seen from above along its facing, and ``up``, in
    units a second, ``facing`` as a bearing."""
    _note_fall(m, r, s)
    if s[DRAWN.squash] > 0.0 and s[DRAWN.freeze] == 0.0:
        s[DRAWN.since] += 1.0
    for mark in range(min(k[0], k[1])):
        cue = m[HEAD.cues] + k[TOLD + mark * TOLD_SIZE + 3] * CUE_SIZE
        _begin_all(m, r, s, m[cue + CUE.shapes], m[cue + CUE.shapes_end], -1)
    for layer in range(m[HEAD.layer_count]):
        if taken[layer] < 0:
            continue
        old, state = int(s[DRAWN_SIZE + layer]), state_of(m, z, layer)
        if s[DRAWN.holder] == old + 1.0:
            _let_go(s)
        _begin_all(m, r, s, m[old + STATE.last_shapes], m[old + STATE.last_shapes_end], -1)
        for way in range(m[old + STATE.ways], m[old + STATE.ways_end], WAY_SIZE):
            if m[way + WAY.number] == taken[layer]:
                _begin_all(m, r, s, m[way + WAY.shapes], m[way + WAY.shapes_end], -1)
                break
        _begin_all(m, r, s, m[state + STATE.shapes], m[state + STATE.shapes_end], state)
    _lean_over(m, r, z, s, velocity, facing)
    _keep_seen(m, z, s)
    s[DRAWN.velocity] = velocity
    s[DRAWN.up] = up
    s[DRAWN.facing] = facing
    s[DRAWN.grounded] = 1.0 if grounded else 0.0
    _form(m, r, s)


@kernel
def _keep_seen(m: Whole, z: Whole, s: Real) -> None:  # pragma: no cover
    """Note what the next tick begins with."""
    s[DRAWN.freeze] = float(z[NOW.freeze])
    for layer in range(m[HEAD.layer_count]):
        s[DRAWN_SIZE + layer] = float(state_of(m, z, layer))


@kernel
def _begin_all(m: Whole, r: Real, s: Real, begin: int, end: int, state: int) -> None:  # pragma: no cover
    """What some rows say begins; ``state`` holds what it holds."""
    for shape in range(begin, end, SHAPE_SIZE):
        does, which = m[shape + SHAPE.do], m[shape + SHAPE.which]
        if does == LEANED:
            s[DRAWN.leaning] = float(which)
        elif does == LET_GO:
            _let_go(s)
        elif does != HELD_LEAN:
            whole_at = r[m[HEAD.squashes] + which * SQUASH_SIZE + SQUASH.by_fall]
            s[DRAWN.squash] = which + 1.0
            s[DRAWN.holder] = state + 1.0 if does == HELD_SQUASH else 0.0
            s[DRAWN.amount] = 1.0 if whole_at == 0.0 else min(s[DRAWN.fall] / whole_at, 1.0)
            s[DRAWN.since] = 0.0
            s[DRAWN.freed] = -1.0
            s[DRAWN.from_wide] = s[DRAWN.wide]
            s[DRAWN.from_high] = s[DRAWN.high]


@kernel
def _let_go(s: Real) -> None:  # pragma: no cover
    """The squash there is begins to spring back, unless it does already."""
    if s[DRAWN.squash] > 0.0 and s[DRAWN.freed] < 0.0:
        s[DRAWN.freed] = s[DRAWN.since]


@kernel
def _note_fall(m: Whole, r: Real, s: Real) -> None:  # pragma: no cover
    """Note how fast a fall was."""
    if m[HEAD.squashes] == m[HEAD.squashes_end]:
        return
    if s[DRAWN.up] < 0.0 and s[DRAWN.grounded] == 0.0:
        s[DRAWN.fall] = -s[DRAWN.up]
        s[DRAWN.landed] = 0.0
    elif s[DRAWN.landed] > r[m[HEAD.squashes] + SQUASH.recent]:
        s[DRAWN.fall] = 0.0
    else:
        s[DRAWN.landed] += 1.0


@kernel
def _form(m: Whole, r: Real, s: Real) -> None:  # pragma: no cover
    """The figure's width and height now; what has sprung back is over."""
    if s[DRAWN.squash] == 0.0:
        return
    one = m[HEAD.squashes] + (int(s[DRAWN.squash]) - 1) * SQUASH_SIZE
    over, hold, back = r[one + SQUASH.over], r[one + SQUASH.hold], r[one + SQUASH.back]
    keeps, since = r[one + SQUASH.wide] != r[one + SQUASH.wide], s[DRAWN.since]
    if s[DRAWN.freed] < 0.0 and hold == hold and since >= over + hold:
        s[DRAWN.freed] = since
    freed = s[DRAWN.freed]
    ticks = min(since, freed) if freed >= 0.0 else since
    share, every = s[DRAWN.amount], r[one + SQUASH.every]
    if every > 0.0:
        quarter = reduced(360.0 * ticks / every) + 90.0
        share *= (1.0 - across(quarter if quarter < 360.0 else quarter - 360.0)) / 2.0
    high = 1.0 + (r[one + SQUASH.high] - 1.0) * share
    wide = 1.0 / high if keeps else 1.0 + (r[one + SQUASH.wide] - 1.0) * share
    t = min(ticks / over, 1.0) if over > 0.0 else 1.0
    wide = _wide_between(s[DRAWN.from_wide], s[DRAWN.from_high], wide, high, t * (2.0 - t), keeps)
    high = s[DRAWN.from_high] + (high - s[DRAWN.from_high]) * (t * (2.0 - t))
    if freed >= 0.0:
        gone_by = (since - freed) / back if back > 0.0 else 1.0
        if gone_by >= 1.0:
            s[DRAWN.wide] = 1.0
            s[DRAWN.high] = 1.0
            s[DRAWN.whole] = 0.0
            s[DRAWN.squash] = 0.0
            s[DRAWN.holder] = 0.0
            return
        left = 1.0 - gone_by * gone_by * (3.0 - 2.0 * gone_by)
        wide = _wide_between(1.0, 1.0, wide, high, left, keeps)
        high = 1.0 + (high - 1.0) * left
    s[DRAWN.wide] = wide
    s[DRAWN.high] = high
    s[DRAWN.whole] = float(m[one + SQUASH.whole])


@kernel
def _wide_between(
    wide: float, high: float, to_wide: float, to_high: float, share: float, keeps: bool
) -> float:  # pragma: no cover
    """The width of a shape between two; ``keeps``: its area goes evenly, not its width."""
    if not keeps:
        return wide + (to_wide - wide) * share
    area, to_area = wide * high, to_wide * to_high
    return (area + (to_area - area) * share) / (high + (to_high - high) * share)


@kernel
def _lean_over(m: Whole, r: Real, z: Whole, s: Real, velocity: float, facing: float) -> None:  # pragma: no cover
    """The tilt follows how the body speeds up and turns."""
    if m[HEAD.leans] == m[HEAD.leans_end]:
        return
    which = -1
    for layer in range(m[HEAD.layer_count]):
        state = state_of(m, z, layer)
        for shape in range(m[state + STATE.shapes], m[state + STATE.shapes_end], SHAPE_SIZE):
            if which < 0 and m[shape + SHAPE.do] == HELD_LEAN:
                which = m[shape + SHAPE.which]
    if which < 0:
        which = int(s[DRAWN.leaning])
    if which == 0 and s[DRAWN.tilt] == 0.0:
        return
    lean = m[HEAD.leans] + which * LEAN_SIZE
    ahead, gained, sideways = facing, velocity - s[DRAWN.velocity], facing + 90.0
    if m[lean + LEAN.signed] != 0:
        ahead = 90.0 if facing < 180.0 else 270.0
        gained = gained if facing < 180.0 else -gained
    if sideways >= 360.0:
        sideways -= 360.0
    dt, most = r[lean + LEAN.dt], r[lean + LEAN.most]
    goal = r[lean + LEAN.turning] * turn(s[DRAWN.facing], facing) / dt / 100.0 * across(sideways)
    goal += r[lean + LEAN.speeding] * (gained / dt) / 100.0 * across(ahead)
    goal = min(max(goal, -most), most)
    leaned = s[DRAWN.tilt] + (goal - s[DRAWN.tilt]) * r[lean + LEAN.share]
    s[DRAWN.tilt] = leaned if abs(leaned) > 0.001 else 0.0
