"""Spans: which are on, which flags they hold, and what locks movement."""

from __future__ import annotations

from leanstep.core.jit import Real, Whole, kernel
from leanstep.core.tick.conditions import clip_of, compute_formulas, state_of
from leanstep.core.tick.places import (
    CLIP,
    FIRST_PLAYER,
    HEAD,
    PLAYER,
    PLAYER_SIZE,
    STATE,
    WINDOW,
    WINDOW_SIZE,
)


@kernel
def look(m: Whole, z: Whole, held: int, spans: int, but: int) -> None:  # pragma: no cover
    """Write the parameters that spans of every layer ``but`` one hold from place ``held`` on, and from ``spans`` on (-1: nowhere)
    which are on."""
    for one in range(m[HEAD.holds], m[HEAD.holds_end]):
        z[held + m[one]] = 0
    for layer in range(m[HEAD.layer_count]):
        clip = clip_of(m, z, layer)
        if clip < 0 or layer == but:
            continue
        head = z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER.head]
        for window in range(m[clip + CLIP.windows], m[clip + CLIP.windows_end], WINDOW_SIZE):
            if m[window + WINDOW.start] <= head < m[window + WINDOW.end]:
                if m[window + WINDOW.hold] >= 0:
                    z[held + m[window + WINDOW.hold]] = 1
                if spans >= 0:
                    z[spans + m[window + WINDOW.span]] = 1


@kernel
def note_held(m: Whole, z: Whole) -> None:  # pragma: no cover
    """Note the parameters that spans hold on, before anything moves."""
    if m[HEAD.windows] < m[HEAD.windows_end] and m[HEAD.holds] < m[HEAD.holds_end]:
        look(m, z, m[HEAD.held_before], -1, -1)


@kernel
def end_spans(m: Whole, r: Real, z: Whole, v: Real, layer: int) -> None:  # pragma: no cover
    """The spans of a layer's state that is left are over: flags that only they held go off."""
    if m[HEAD.holds] >= m[HEAD.holds_end]:
        return
    look(m, z, m[HEAD.held_now], -1, layer)
    ended = False
    for one in range(m[HEAD.holds], m[HEAD.holds_end]):
        if z[m[HEAD.held_before] + m[one]] != 0 and z[m[HEAD.held_now] + m[one]] == 0:
            v[m[one]] = 0.0
            ended = True
    if ended:
        compute_formulas(m, r, z, v)


@kernel
def see_spans(m: Whole, r: Real, z: Whole, v: Real, before: bool) -> None:  # pragma: no cover
    """Work out which spans are on; flags they hold go on, and off again where they were held ``before``."""
    if m[HEAD.windows] == m[HEAD.windows_end]:
        return
    held_now, held_before = m[HEAD.held_now], m[HEAD.held_before]
    for span in range(m[HEAD.spans], m[HEAD.spans_end]):
        z[span] = 0
    look(m, z, held_now, m[HEAD.spans], -1)
    changed = False
    for one in range(m[HEAD.holds], m[HEAD.holds_end]):
        parameter = m[one]
        if z[held_now + parameter] != 0 or (before and z[held_before + parameter] != 0):
            v[parameter] = float(z[held_now + parameter])
            changed = True
    if changed:
        compute_formulas(m, r, z, v)


@kernel
def locked(m: Whole, z: Whole) -> bool:  # pragma: no cover
    """Whether anything locks movement: a state that holds still, a span, or a named lock."""
    for at in range(m[HEAD.locks], m[HEAD.spans]):
        if z[at] != 0:
            return True
    spanned = m[HEAD.windows] < m[HEAD.windows_end]
    for layer in range(m[HEAD.layer_count]):
        if m[state_of(m, z, layer) + STATE.still] != 0:
            return True
        if not spanned:
            continue
        clip = clip_of(m, z, layer)
        if clip < 0:
            continue
        head = z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER.head]
        for window in range(m[clip + CLIP.windows], m[clip + CLIP.windows_end], WINDOW_SIZE):
            if m[window + WINDOW.lock] != 0 and m[window + WINDOW.start] <= head < m[window + WINDOW.end]:
                return True
    return False


@kernel
def list_spans(m: Whole, z: Whole, out: Whole) -> int:  # pragma: no cover
    """Write the spans that are on to ``out``, pairs of a name and the row of a window; how many there are."""
    count = 0
    for layer in range(m[HEAD.layer_count]):
        clip = clip_of(m, z, layer)
        if clip < 0:
            continue
        head = z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER.head]
        for window in range(m[clip + CLIP.windows], m[clip + CLIP.windows_end], WINDOW_SIZE):
            if m[window + WINDOW.start] <= head < m[window + WINDOW.end]:
                out[2 * count] = m[window + WINDOW.span]
                out[2 * count + 1] = (window - m[HEAD.windows]) // WINDOW_SIZE
                count += 1
    return count
