"""Pin points of a figure that is drawn: where they lie, what is pinned to them, and where marks fire that name one.

The plain form is :mod:`leanstep.core.rehearsal.drawable`.  A figure looks ``left`` or right, is ``wide`` and ``high`` times as large
as it is drawn and leans by ``tilt`` degrees clockwise.
"""

from __future__ import annotations

from leanstep.core.bearings import across, along, bearing_of, reduced
from leanstep.core.clips.timing import TICK
from leanstep.core.jit import Real, Whole, kernel
from leanstep.core.tick.clips import cel_at, cel_of, cel_row, folded
from leanstep.core.tick.conditions import run
from leanstep.core.tick.drawing import dressed, is_flipped, is_mirrored, lowest_seen, quarter_turns, turns_round
from leanstep.core.tick.effects import TOLD, TOLD_SIZE
from leanstep.core.tick.places import (
    ACCESSORY,
    ACCESSORY_SIZE,
    CEL,
    CEL_SIZE,
    CLIP,
    CUE,
    CUE_SIZE,
    FIRST_PLAYER,
    HEAD,
    PINNED,
    PINNED_SIZE,
    PLACED,
    PLACED_SIZE,
    PLAYER,
    PLAYER_SIZE,
    SAMPLE,
    SAMPLE_SIZE,
    SPOT,
    SPOT_SIZE,
    STATE,
    STATE_SIZE,
)


@kernel
def place_spot(
    r: Real, spot: int, mirrored: bool, turns: int, wide: float, high: float, tilt: float, b: Real, at: int
) -> None:  # pragma: no cover
    """Write from place ``at`` on where a pin point comes to lie: across, up, and a bearing."""
    x, y, angle = r[spot + SPOT.x], r[spot + SPOT.y], r[spot + SPOT.angle]
    if mirrored:
        x = 0.0 - x
        angle = reduced(360.0 - angle)
    for _ in range(turns):
        back = 0.0 - x
        x = y
        y = back
        angle = reduced(angle + 90.0)
    if wide != high:
        angle = bearing_of(across(angle) * wide, along(angle) * high)
    x = x * wide
    y = y * high
    if tilt != 0.0:
        leaned = reduced(tilt)
        right, up = across(leaned), along(leaned)
        to = x * up + y * right
        y = y * up - x * right
        x = to
        angle = reduced(angle + tilt)
    b[at] = x
    b[at + 1] = y
    b[at + 2] = angle


@kernel
def list_pins(
    m: Whole, r: Real, z: Whole, v: Real, left: bool, wide: float, high: float, tilt: float, b: Real
) -> int:  # pragma: no cover
    """Write down the pin points of the layers that are seen, from the back to the front, in rows of ``b``; how many there are."""
    count, lowest = 0, lowest_seen(m, r, z, v)
    if lowest < 0 or m[HEAD.spots] == m[HEAD.spots_end]:
        return 0
    for layer in range(lowest, m[HEAD.layer_count]):
        cel = cel_of(m, r, z, v, layer)
        if cel < 0:
            continue
        row, mirrored = cel_row(m, z, layer, cel), is_mirrored(m, z, layer, cel, left)
        turns = quarter_turns(m, z, layer, cel, left)
        for spot in range(m[row + CEL.spots], m[row + CEL.spots_end], SPOT_SIZE):
            at = count * PLACED_SIZE
            b[at + PLACED.number] = float(layer)
            b[at + PLACED.pin] = float(m[spot + SPOT.pin])
            place_spot(r, spot, mirrored, turns, wide, high, tilt, b, at + PLACED.x)
            b[at + PLACED.behind] = float(m[spot + SPOT.behind])
            count += 1
    return count


@kernel
def accessory_cel(m: Whole, z: Whole, accessory: int, layer: int) -> int:  # pragma: no cover
    """The row of the cel that an accessory shows beside a layer, of one that shows a clip; -1: none."""
    clip = m[accessory + ACCESSORY.clip]
    stay = z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER.stay]
    cel = cel_at(m, clip, folded(m, clip, stay * TICK))
    return m[clip + CLIP.cels] + cel * CEL_SIZE if cel >= 0 else -1


@kernel
def pinned_at(m: Whole, row: int, accessory: int) -> int:  # pragma: no cover
    """The pin point of a cel (its row) to which an accessory is pinned; -1: none."""
    for spot in range(m[row + CEL.spots], m[row + CEL.spots_end], SPOT_SIZE):
        if m[spot + SPOT.pin] == m[accessory + ACCESSORY.pin]:
            return spot
    return -1


@kernel
def lies_behind(m: Whole, accessory: int, spot: int) -> bool:  # pragma: no cover
    """Whether an accessory is drawn behind the figure at a pin point."""
    order = m[accessory + ACCESSORY.order]
    return order == 2 or (order == 0 and m[spot + SPOT.behind] != 0)


@kernel
def list_pinned(
    m: Whole, r: Real, z: Whole, v: Real, left: bool, wide: float, high: float, tilt: float, b: Real
) -> int:  # pragma: no cover
    """Write down the accessories that are seen, from the back to the front, in rows of ``b``; how many there are."""
    count, lowest = 0, lowest_seen(m, r, z, v)
    if lowest < 0 or m[HEAD.accessories] == m[HEAD.accessories_end]:
        return 0
    for layer in range(lowest, m[HEAD.layer_count]):
        cel = cel_of(m, r, z, v, layer)
        if cel < 0:
            continue
        row, mirrored = cel_row(m, z, layer, cel), is_mirrored(m, z, layer, cel, left)
        turns = quarter_turns(m, z, layer, cel, left)
        for before in range(2):
            for accessory in range(m[HEAD.accessories], m[HEAD.accessories_end], ACCESSORY_SIZE):
                spot = pinned_at(m, row, accessory)
                if spot < 0 or lies_behind(m, accessory, spot) == (before == 1):
                    continue
                if not run(m, r, z, v, m[accessory + ACCESSORY.shown]):
                    continue
                shown, flips, quarters = m[accessory + ACCESSORY.frame], False, 0
                if m[accessory + ACCESSORY.clip] < m[accessory + ACCESSORY.clip_end]:
                    own = accessory_cel(m, z, accessory, layer)
                    if own < 0:
                        continue
                    shown, flips, quarters = m[own + CEL.frame], m[own + CEL.mirrored] != 0, m[own + CEL.turns]
                at = count * PINNED_SIZE
                place_spot(r, spot, mirrored, turns, wide, high, tilt, b, at + PINNED.x)
                # the picture is squashed itself, so it is turned by what is not
                turn = reduced(r[spot + SPOT.angle] - r[accessory + ACCESSORY.angle]) + 90.0 * quarters
                b[at + PINNED.turn] = reduced(90.0 * turns + (0.0 - turn if mirrored else turn))
                b[at + PINNED.name] = float(m[accessory + ACCESSORY.name])
                b[at + PINNED.layer] = float(layer)
                b[at + PINNED.behind] = 1.0 - float(before)
                b[at + PINNED.frame] = float(dressed(m, r, z, v, layer, shown))
                b[at + PINNED.mirrored] = 1.0 if mirrored != flips else 0.0
                count += 1
    return count


@kernel
def list_places(
    m: Whole, r: Real, k: Whole, left: bool, wide: float, high: float, tilt: float, b: Real
) -> int:  # pragma: no cover
    """Write down where the marks that fired and name pin points did, in rows of ``b``; how many there are."""
    count = 0
    for mark in range(min(k[0], k[1])):
        told = TOLD + mark * TOLD_SIZE
        cue = m[HEAD.cues] + k[told + 3] * CUE_SIZE
        state = m[HEAD.states] + k[told + 4] * STATE_SIZE
        sample = m[state + STATE.samples] + k[told + 5] * SAMPLE_SIZE
        row = m[m[sample + SAMPLE.clip] + CLIP.cels] + m[cue + CUE.cel] * CEL_SIZE
        for spot in range(m[cue + CUE.spots], m[cue + CUE.spots_end], SPOT_SIZE):
            mirrored, turns = is_flipped(m, state, sample, row, left), m[row + CEL.turns]
            if turns_round(m, state, row, left):
                turns = (4 - turns) % 4
            at = count * PLACED_SIZE
            b[at + PLACED.number] = float(mark)
            b[at + PLACED.pin] = float(m[spot + SPOT.pin])
            place_spot(r, spot, mirrored, turns, wide, high, tilt, b, at + PLACED.x)
            b[at + PLACED.behind] = float(m[spot + SPOT.behind])
            count += 1
    return count
