"""One tick after another in compiled code; the plain stepper says the same, one by one and in words."""

from __future__ import annotations

import numpy as np

from leanstep.core import bearings
from leanstep.core.clips.timing import TICK
from leanstep.core.jit import Real, Whole, kernel, where
from leanstep.core.rehearsal.engine.body_kernels import move
from leanstep.core.rehearsal.engine.clips import (
    CUE_SIZE,
    apply,
    end_spans,
    held_by_spans,
    kept_from,
    locked,
    moved_to,
    picked,
    play_on,
    see_spans,
    tell,
)
from leanstep.core.rehearsal.engine.condition_kernels import (
    LAYER_SIZE,
    REEL_SIZE,
    STATE_SIZE,
    compute_formulas,
    reel_of,
    run,
    state_of,
)
from leanstep.core.rehearsal.engine.records import (
    BUFFER,
    CUE,
    HEAD,
    LAYER,
    MEMORY,
    MOMENTARY,
    NOW,
    PLAYER,
    REEL,
    STATE,
    STICK,
    USE,
    WAY,
)

bearing_of, push_of = kernel(bearings.bearing_of), kernel(bearings.push_of)
WAY_SIZE, USE_SIZE, MEMORY_SIZE, BUFFER_SIZE, MOMENTARY_SIZE, STICK_SIZE = (
    len(WAY),
    len(USE),
    len(MEMORY),
    len(BUFFER),
    len(MOMENTARY),
    len(STICK),
)


@kernel
def step(m: Whole, r: Real, z: Whole, v: Real, k: Whole, free: bool, fired: Whole, at: int) -> None:  # pragma: no cover
    """One tick, after the inputs have been set; ``fired`` is told each layer's transition from place ``at`` on."""
    frozen = z[NOW.freeze] > 0
    _steer(m, v, free)
    if not free and not frozen:
        move(m, r, z, v)
    compute_formulas(m, r, z, v)
    for one in range(m[HEAD.momentary], m[HEAD.momentary_end], MOMENTARY_SIZE):
        z[m[HEAD.raised] + m[one + MOMENTARY.symbol]] = 0
    _fade_on(m, z)
    if frozen:
        z[NOW.freeze] -= 1
        see_spans(m, r, z, v, False)
    else:
        if m[HEAD.spanned] != 0:
            held_by_spans(m, z, m[HEAD.held_before])
        for layer in range(m[HEAD.layers], m[HEAD.layers_end], LAYER_SIZE):
            play_on(m, r, z, v, k, layer)
        see_spans(m, r, z, v, True)
    _remember(m, r, z, v, not free or z[m[HEAD.changed]] != 0)
    still, moved = locked(m, z), False
    for layer in range(m[HEAD.layers], m[HEAD.layers_end], LAYER_SIZE):
        fired[at] = -1
        player = m[layer + LAYER.player]
        if not frozen and (z[player + PLAYER.fade_left] < 0 or z[player + PLAYER.fade_blocks] == 0):
            state = state_of(m, z, layer)
            for way in range(m[state + STATE.ways], m[state + STATE.ways_end], WAY_SIZE):
                if run(m, r, z, v, m[way + WAY.program]):
                    fired[at] = m[way + WAY.number]
                    _take(m, r, z, v, k, layer, way)
                    moved = True
                    break
        at += 1
    for button in range(m[HEAD.buttons], m[HEAD.buttons_end]):
        z[m[HEAD.held] + m[button]] = v[m[button]] != 0.0
    z[NOW.locked] = still or (moved and locked(m, z))
    z[NOW.tick] += 1


@kernel
def _steer(m: Whole, v: Real, free: bool) -> None:  # pragma: no cover
    """Step 1: how far and where to sticks are pushed; a bearing is kept while there is no push."""
    kept = m[HEAD.kept]
    for stick in range(m[HEAD.sticks], m[HEAD.sticks_end], STICK_SIZE):
        if not free:
            across, up = v[m[stick + STICK.x]], v[m[stick + STICK.y]]
            v[m[stick + STICK.push]] = push_of(across, up)
            v[m[stick + STICK.bearing]] = bearing_of(across, up)
        if v[m[stick + STICK.push]] == 0.0:
            v[m[stick + STICK.bearing]] = v[kept]
        kept += 1


@kernel
def enter_all(
    tables: tuple[np.ndarray, np.ndarray], counts: np.ndarray, values: np.ndarray
) -> None:  # pragma: no cover
    """Enter every layer's start state, just before tick 0."""
    none = np.zeros(2, np.int64)
    m, r, z, v, k = where(tables[0]), where(tables[1]), where(counts), where(values), where(none)
    compute_formulas(m, r, z, v)
    for layer in range(m[HEAD.layers], m[HEAD.layers_end], LAYER_SIZE):
        player = m[layer + LAYER.player]
        z[player + PLAYER.fade_left] = -1
        z[player + PLAYER.state] = m[layer + LAYER.start]
        _enter(m, r, z, v, k, layer, 0, 0, -1, -1)
    see_spans(m, r, z, v, False)
    z[NOW.locked] = locked(m, z)


@kernel
def _enter(
    m: Whole, r: Real, z: Whole, v: Real, k: Whole, layer: int, head: int, old_length: int, left: int, shown: int
) -> None:  # pragma: no cover
    """The layer's new state begins, at the same share of its clip as a ``head`` in a clip of ``old_length``; ``left`` is the state
    before (-1: none), which showed the clip ``shown`` (-1: none)."""
    player, state = m[layer + LAYER.player], state_of(m, z, layer)
    z[player + PLAYER.head] = z[player + PLAYER.pick] = z[player + PLAYER.over] = 0
    apply(m, r, z, v, m[state + STATE.entry], m[state + STATE.entry_end], False)
    first = m[state + STATE.reels]
    if first == m[state + STATE.reels_end]:
        return
    reel = picked(m, r, v, state, kept_from(m, r, left, shown, state))
    z[player + PLAYER.pick] = (reel - first) // REEL_SIZE
    length, back = m[reel + REEL.length], m[reel + REEL.begin]
    if head != 0 and old_length != 0:
        begun = head * length // old_length
        z[player + PLAYER.head] = moved_to(begun, length, back)
    if z[player + PLAYER.head] == 0:
        for cue in range(m[reel + REEL.cues], m[reel + REEL.cues_end], CUE_SIZE):
            if m[cue + CUE.at] == 0 or (back == 0 and m[cue + CUE.at] == length):
                tell(m, z, k, layer, cue)
                apply(m, r, z, v, m[cue + CUE.acts], m[cue + CUE.acts_end], False)


@kernel
def _take(m: Whole, r: Real, z: Whole, v: Real, k: Whole, layer: int, way: int) -> None:  # pragma: no cover
    """Take a transition: leave, change over, enter."""
    if m[HEAD.spanned] != 0:
        held_by_spans(m, z, m[HEAD.held_before])
    player, state = m[layer + LAYER.player], state_of(m, z, layer)
    old, target = z[player + PLAYER.state], m[way + WAY.target]
    for use in range(m[way + WAY.uses], m[way + WAY.uses_end], USE_SIZE):
        age = m[HEAD.ages] + m[use + USE.buffer]
        if z[age] < m[use + USE.ticks]:
            z[age] = -1
    reel = reel_of(m, z, layer)
    length = m[reel + REEL.length] if reel >= 0 else 0
    apply(m, r, z, v, m[state + STATE.leave], m[state + STATE.leave_end], False)
    end_spans(m, r, z, v, layer)
    if target != old and m[state + STATE.clock] >= 0:
        z[m[HEAD.since] + m[state + STATE.clock]] = 0
    fading = m[way + WAY.fade] > 0
    z[player + PLAYER.fade_state] = old if fading else 0
    z[player + PLAYER.fade_pick] = z[player + PLAYER.pick] if fading else 0
    z[player + PLAYER.fade_head] = z[player + PLAYER.head] if fading else 0
    z[player + PLAYER.fade_left] = m[way + WAY.fade] if fading else -1
    z[player + PLAYER.fade_blocks] = m[way + WAY.blocks] if fading else 0
    z[player + PLAYER.state], z[player + PLAYER.stay] = target, 0
    head = z[player + PLAYER.head] if m[way + WAY.keep] != 0 else 0
    _enter(m, r, z, v, k, layer, head, length, state, reel)
    see_spans(m, r, z, v, False)


@kernel
def _fade_on(m: Whole, z: Whole) -> None:  # pragma: no cover
    """Crossfades run on by one tick."""
    for layer in range(m[HEAD.layers], m[HEAD.layers_end], LAYER_SIZE):
        player = m[layer + LAYER.player]
        left = z[player + PLAYER.fade_left] - 1
        if left < -1:
            continue
        z[player + PLAYER.fade_left] = left
        if left < 0:
            for at in range(player + PLAYER.fade_state, player + PLAYER.fade_left):
                z[at] = 0
            z[player + PLAYER.fade_blocks] = 0
            continue
        state = m[layer + LAYER.states] + z[player + PLAYER.fade_state] * STATE_SIZE
        if m[state + STATE.reels] < m[state + STATE.reels_end]:
            reel = m[state + STATE.reels] + z[player + PLAYER.fade_pick] * REEL_SIZE
            head = z[player + PLAYER.fade_head] + TICK
            z[player + PLAYER.fade_head] = moved_to(head, m[reel + REEL.length], m[reel + REEL.begin])


@kernel
def _remember(m: Whole, r: Real, z: Whole, v: Real, changed: bool) -> None:  # pragma: no cover
    """Step 5: a press begins its age, other ages grow, and memories count.  ``changed``: values from outside are not all
    what they were on the tick before, whose operands the counters tell."""
    age = m[HEAD.ages]
    for buffer in range(m[HEAD.buffers], m[HEAD.buffers_end], BUFFER_SIZE):
        symbol = m[buffer + BUFFER.symbol]
        if v[symbol] != 0.0 and z[m[HEAD.held] + symbol] == 0:
            z[age] = 0
        else:
            _older(z, age, m[buffer + BUFFER.most])
        age += 1
    age = m[HEAD.since]
    for clock in range(m[HEAD.clocks], m[HEAD.clocks_end]):
        _older(z, age, m[clock])
        age += 1
    at = 0
    for memory in range(m[HEAD.memories], m[HEAD.memories_end], MEMORY_SIZE):
        counter, ticks = z[m[HEAD.counters] + at], m[memory + MEMORY.ticks]
        within = m[memory + MEMORY.within] != 0
        if changed or m[memory + MEMORY.lasts] == 0:
            true = run(m, r, z, v, m[memory + MEMORY.program])
        else:
            true = counter >= ticks if within else counter > 0
        if within:
            counter = ticks if true else max(counter - 1, 0)
            z[m[HEAD.remembered] + at] = counter > 0
        else:
            counter = min(counter + 1, ticks) if true else 0
            z[m[HEAD.remembered] + at] = counter >= ticks
        z[m[HEAD.counters] + at] = counter
        at += 1


@kernel
def _older(z: Whole, age: int, most: int) -> None:  # pragma: no cover
    if z[age] >= 0:
        z[age] = z[age] + 1 if z[age] + 1 < most else -1
