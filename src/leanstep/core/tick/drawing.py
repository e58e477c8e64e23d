"""What there is to draw: which layers, and how each picture is turned."""

from __future__ import annotations

from leanstep.core.clips.paths import place
from leanstep.core.jit import Real, Whole, kernel
from leanstep.core.tick.clips import cel_of, cel_row
from leanstep.core.tick.conditions import clip_of, state_of
from leanstep.core.tick.places import (
    CEL,
    CLIP,
    COSTUME,
    COSTUME_SIZE,
    DRESSED,
    DRESSED_SIZE,
    FIRST_PLAYER,
    HEAD,
    PLAYER,
    PLAYER_SIZE,
    SAMPLE,
    SAMPLE_SIZE,
    STATE,
)


@kernel
def lowest_seen(m: Whole, r: Real, z: Whole, v: Real) -> int:  # pragma: no cover
    """The layer to begin to draw with: from it on each that shows a cel is drawn, the last in front; -1: nothing is shown."""
    seen = -1
    for back in range(m[HEAD.layer_count]):
        layer = m[HEAD.layer_count] - 1 - back
        if cel_of(m, r, z, v, layer) >= 0:
            seen = layer
            if m[state_of(m, z, layer) + STATE.clear] == 0:
                return seen
    return seen


@kernel
def is_turned(m: Whole, z: Whole, layer: int, cel: int, left: bool) -> bool:  # pragma: no cover
    """Whether a cel of the clip that a layer shows is turned to where the figure looks, which may be ``left``."""
    return turns_round(m, state_of(m, z, layer), cel_row(m, z, layer, cel), left)


@kernel
def turns_round(m: Whole, state: int, row: int, left: bool) -> bool:  # pragma: no cover
    """Whether a state turns a cel (its row) to where the figure looks, which may be ``left``."""
    looks = m[row + CEL.looks]
    if looks == 0:
        return False
    if m[state + STATE.turned] == 0:
        return looks == 2
    return left != (looks == 2)


@kernel
def is_mirrored(m: Whole, z: Whole, layer: int, cel: int, left: bool) -> bool:  # pragma: no cover
    """Whether a cel of the clip that a layer shows is drawn the other way round."""
    sample = (
        m[state_of(m, z, layer) + STATE.samples] + z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER.pick] * SAMPLE_SIZE
    )
    return is_flipped(m, state_of(m, z, layer), sample, cel_row(m, z, layer, cel), left)


@kernel
def is_flipped(m: Whole, state: int, sample: int, row: int, left: bool) -> bool:  # pragma: no cover
    """Whether a cel (its row) of a state's sample is drawn the other way round."""
    mirrored = m[row + CEL.mirrored] != m[sample + SAMPLE.mirrored]
    return mirrored != turns_round(m, state, row, left)


@kernel
def quarter_turns(m: Whole, z: Whole, layer: int, cel: int, left: bool) -> int:  # pragma: no cover
    """By how many quarter turns clockwise it is turned, after it has been mirrored."""
    turns = m[cel_row(m, z, layer, cel) + CEL.turns]
    return (4 - turns) % 4 if is_turned(m, z, layer, cel, left) else turns


@kernel
def worn(m: Whole, r: Real, z: Whole, v: Real, layer: int) -> int:  # pragma: no cover
    """The costume that a layer wears; -1: none."""
    state = state_of(m, z, layer)
    if m[state + STATE.worn] < m[state + STATE.worn_end]:
        return m[state + STATE.worn]
    for costume in range(m[HEAD.costumes], m[HEAD.costumes_end], COSTUME_SIZE):
        parameter = m[costume + COSTUME.parameter]
        if parameter >= 0 and v[parameter] == r[costume + COSTUME.value]:
            return costume
    return -1


@kernel
def frame_of(m: Whole, r: Real, z: Whole, v: Real, layer: int, cel: int) -> int:  # pragma: no cover
    """The frame that a cel of the clip which a layer shows is drawn as: its own, or that of the costume worn."""
    return dressed(m, r, z, v, layer, m[cel_row(m, z, layer, cel) + CEL.frame])


@kernel
def dressed(m: Whole, r: Real, z: Whole, v: Real, layer: int, frame: int) -> int:  # pragma: no cover
    """The frame that is drawn in place of one in the costume that a layer wears."""
    costume = worn(m, r, z, v, layer)
    if costume >= 0:
        for row in range(m[costume + COSTUME.dressed], m[costume + COSTUME.dressed_end], DRESSED_SIZE):
            if m[row + DRESSED.frame] == frame:
                return m[row + DRESSED.by]
    return frame


@kernel
def aside(m: Whole, r: Real, z: Whole, layer: int, which: int) -> float:  # pragma: no cover
    """How far a path that moves only the drawing has taken it, ahead (1) or up (2)."""
    clip = clip_of(m, z, layer)
    if clip < 0 or m[clip + CLIP.goes] != 0 or m[clip + CLIP.keys] == m[clip + CLIP.keys_end]:
        return 0.0
    head = z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER.head]
    return place(r, m[clip + CLIP.keys], m[clip + CLIP.keys_end], head, which)
