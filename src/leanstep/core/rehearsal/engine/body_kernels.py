"""Step 2 of a tick in compiled code: what the controls ask, the body's own tick, and what it sets."""

from __future__ import annotations

from leanstep.core.body import sensors
from leanstep.core.body.records import FIELDS, IN_ZONE
from leanstep.core.jit import Real, Whole, kernel
from leanstep.core.rehearsal.engine.condition_kernels import LAYER_SIZE, fitted, state_of
from leanstep.core.rehearsal.engine.records import ASKS, HEAD, NOW, PUBLISHED, STATE

PUBLISHED_SIZE = len(PUBLISHED)
move_body, told, inside = sensors.move, sensors.told, sensors.inside


@kernel
def move(m: Whole, r: Real, z: Whole, v: Real) -> None:  # pragma: no cover
    """The body moves and sets its parameters."""
    free, place = z[NOW.locked] == 0, m[HEAD.place]
    aims, aim = _aim(m, v)
    move_body(
        m,
        HEAD.model,
        r,
        v,
        place,
        _value(v, m[HEAD.stick_x]),
        _value(v, m[HEAD.stick_y]),
        _value(v, m[HEAD.jump]) != 0.0,
        _value(v, m[HEAD.run]) != 0.0,
        free,
        aims,
        aim,
        _asks(m, r, z, ASKS.face),
        _mode(m, z),
        _asks(m, r, z, ASKS.cap),
        _asks(m, r, z, ASKS.fall),
        _asks(m, r, z, ASKS.wide),
        _asks(m, r, z, ASKS.high),
    )
    for one in range(m[HEAD.published], m[HEAD.published_end], PUBLISHED_SIZE):
        what, amount = m[one + PUBLISHED.what], 0.0
        if what != IN_ZONE:
            amount = told(m, HEAD.model, r, v, place, what)
        if m[one + PUBLISHED.zones] < m[one + PUBLISHED.zones_end]:
            within = inside(r, v, place, m[one + PUBLISHED.zones], m[one + PUBLISHED.zones_end])
            amount = 1.0 if within or amount != 0.0 else 0.0
        v[m[one + PUBLISHED.symbol]] = fitted(m, r, m[one + PUBLISHED.symbol], amount)


@kernel
def _value(v: Real, symbol: int) -> float:  # pragma: no cover
    """A control's value; 0 for one that there is not."""
    return v[symbol] if symbol >= 0 else 0.0


@kernel
def _aim(m: Whole, v: Real) -> tuple[bool, float]:  # pragma: no cover
    """Whether the figure is to look somewhere, and where."""
    held = m[HEAD.aim_held] >= 0 and v[m[HEAD.aim_held]] != 0.0
    if m[HEAD.aim] < 0:
        return held, v[m[HEAD.place] + FIELDS.facing]
    pushed = m[HEAD.aim_push] < 0 or v[m[HEAD.aim_push]] > 0.0
    return pushed and (held or m[HEAD.aim_held] < 0), v[m[HEAD.aim]]


@kernel
def _asks(m: Whole, r: Real, z: Whole, what: int) -> float:  # pragma: no cover
    """What the first of the active states that does asks of the body; 0: none."""
    for layer in range(m[HEAD.layers], m[HEAD.layers_end], LAYER_SIZE):
        asked = r[m[state_of(m, z, layer) + STATE.asks] + what]
        if asked > 0.0:
            return asked
    return 0.0


@kernel
def _mode(m: Whole, z: Whole) -> int:  # pragma: no cover
    """How the first of the active states that does asks the body to move; 0: none."""
    for layer in range(m[HEAD.layers], m[HEAD.layers_end], LAYER_SIZE):
        if m[state_of(m, z, layer) + STATE.mode] != 0:
            return m[state_of(m, z, layer) + STATE.mode]
    return 0
