"""Step 2 of a tick in compiled code: what the controls ask, the body's own tick, and what it sets."""

from __future__ import annotations

from leanstep.core.body import sensors
from leanstep.core.body.records import FIELDS, IN_ZONE
from leanstep.core.jit import Real, Whole, kernel
from leanstep.core.rehearsal.engine.records import DRIVEN, PUBLISHED, PUBLISHED_SIZE
from leanstep.core.tick.codes import CHOICE
from leanstep.core.tick.conditions import fitted
from leanstep.core.tick.places import HEAD, NOW, PARAMETER, PARAMETER_SIZE, STATE
from leanstep.core.tick.requests import requested, requested_mode

move_body, told, inside = sensors.move, sensors.told, sensors.inside


@kernel
def move(m: Whole, r: Real, z: Whole, v: Real) -> None:  # pragma: no cover
    """The body moves and sets its parameters."""
    free, place, driven = z[NOW.locked] == 0, m[HEAD.place], m[HEAD.more]
    aims, aim = _aim(m, v)
    move_body(
        m,
        driven,
        r,
        v,
        place,
        _value(v, m[driven + DRIVEN.stick_x]),
        _value(v, m[driven + DRIVEN.stick_y]),
        _value(v, m[driven + DRIVEN.jump]) != 0.0,
        _value(v, m[driven + DRIVEN.run]) != 0.0,
        free,
        aims,
        aim,
        requested(m, r, z, STATE.face),
        requested_mode(m, z),
        requested(m, r, z, STATE.cap),
        requested(m, r, z, STATE.fall),
        requested(m, r, z, STATE.wide),
        requested(m, r, z, STATE.high),
    )
    for one in range(m[driven + DRIVEN.published], m[driven + DRIVEN.published_end], PUBLISHED_SIZE):
        what, amount = m[one + PUBLISHED.what], 0.0
        if what != IN_ZONE:
            amount = told(m, driven, r, v, place, what)
        if m[one + PUBLISHED.zones] < m[one + PUBLISHED.zones_end]:
            within = inside(r, v, place, m[one + PUBLISHED.zones], m[one + PUBLISHED.zones_end])
            amount = 1.0 if within or amount != 0.0 else 0.0
        parameter = m[one + PUBLISHED.parameter]
        if m[m[HEAD.parameters] + parameter * PARAMETER_SIZE + PARAMETER.kind] == CHOICE:
            amount = m[one + PUBLISHED.rest]
        v[parameter] = fitted(m, r, parameter, amount)


@kernel
def _value(v: Real, symbol: int) -> float:  # pragma: no cover
    """A control's value; 0 for one that there is not."""
    return v[symbol] if symbol >= 0 else 0.0


@kernel
def _aim(m: Whole, v: Real) -> tuple[bool, float]:  # pragma: no cover
    """Whether the figure is to look somewhere, and where."""
    driven = m[HEAD.more]
    aim, aim_held, aim_push = m[driven + DRIVEN.aim], m[driven + DRIVEN.aim_held], m[driven + DRIVEN.aim_push]
    held = aim_held >= 0 and v[aim_held] != 0.0
    if aim < 0:
        return held, v[m[HEAD.place] + FIELDS.facing]
    pushed = aim_push < 0 or v[aim_push] > 0.0
    return pushed and (held or aim_held < 0), v[aim]
