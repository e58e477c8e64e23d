"""The tick: what is remembered, which transitions are taken, and what begins with a state.

The plain stepper (:mod:`leanstep.core.rehearsal.stepping`) says the same, one by one and in words; the order is told in
``docs/semantics.md``, under *A tick*.  Step 2, in which the body moves, comes before and is not here.
"""

from __future__ import annotations

from leanstep.core.body.records import FIELDS
from leanstep.core.clips.paths import X, Y, gone
from leanstep.core.clips.timing import TICK
from leanstep.core.jit import Real, Whole, kernel
from leanstep.core.tick.clips import folded, kept_from, pace_of, picked, taken_over
from leanstep.core.tick.codes import HELD_FOR, SEEN_WITHIN
from leanstep.core.tick.conditions import compute_formulas, run, state_of
from leanstep.core.tick.effects import apply, fire, fire_first
from leanstep.core.tick.places import (
    BUFFER,
    BUFFER_SIZE,
    CLIP,
    FIRST_PLAYER,
    HEAD,
    LAYER,
    LAYER_SIZE,
    MEMORY,
    MEMORY_SIZE,
    NOW,
    PARAMETER,
    PARAMETER_SIZE,
    PLAYER,
    PLAYER_SIZE,
    PULSE_SIZE,
    SAMPLE,
    SAMPLE_SIZE,
    STATE,
    STATE_SIZE,
    STICK,
    STICK_SIZE,
    USE,
    USE_SIZE,
    WAY,
    WAY_SIZE,
)
from leanstep.core.tick.spans import end_spans, locked, note_held, see_spans


@kernel
def open_tick(m: Whole, z: Whole, v: Real) -> None:  # pragma: no cover
    """Before the inputs are set: pulses go off, or on where one was raised, and the sticks' bearings are kept."""
    for pulse in range(m[HEAD.pulses], m[HEAD.pulses_end], PULSE_SIZE):
        v[m[pulse]] = 0.0 if m[pulse + 1] != 0 else float(z[m[HEAD.raised] + m[pulse]])
    kept = m[HEAD.kept]
    for stick in range(m[HEAD.sticks], m[HEAD.sticks_end], STICK_SIZE):
        v[kept] = v[m[stick + STICK.bearing]]
        kept += 1


@kernel
def keep_bearings(m: Whole, v: Real) -> None:  # pragma: no cover
    """A stick's bearing is what it was while there is no push."""
    kept = m[HEAD.kept]
    for stick in range(m[HEAD.sticks], m[HEAD.sticks_end], STICK_SIZE):
        if v[m[stick + STICK.push]] == 0.0:
            v[m[stick + STICK.bearing]] = v[kept]
        kept += 1


@kernel
def forget_asked(m: Whole, v: Real) -> None:  # pragma: no cover
    """Nothing has been asked of the body on this tick yet; for games that move it by their own rules."""
    place = m[HEAD.place]
    v[place + FIELDS.travel] = 0.0
    v[place + FIELDS.travel_up] = 0.0
    v[place + FIELDS.travels] = 0.0
    v[place + FIELDS.mode] = 0.0
    v[place + FIELDS.push] = 0.0
    v[place + FIELDS.push_up] = 0.0


@kernel
def tick(
    m: Whole, r: Real, z: Whole, v: Real, k: Whole, changed: bool, taken: Whole, at: int
) -> None:  # pragma: no cover
    """One tick, after inputs and body have been set; ``taken`` is told each layer's transition from place ``at`` on (-1: none).
    ``changed``: values from outside are not all what they were on the tick before."""
    frozen = z[NOW.freeze] > 0
    compute_formulas(m, r, z, v)
    for pulse in range(m[HEAD.pulses], m[HEAD.pulses_end], PULSE_SIZE):
        z[m[HEAD.raised] + m[pulse]] = 0
    _fade_on(m, z)
    if frozen:
        z[NOW.freeze] -= 1
        see_spans(m, r, z, v, False)
    else:
        _count_down(m, r, z, v)
        note_held(m, z)
        for layer in range(m[HEAD.layer_count]):
            _play_on(m, r, z, v, k, layer)
        see_spans(m, r, z, v, True)
    _remember(m, r, z, v, changed)
    still, moved = locked(m, z), False
    for layer in range(m[HEAD.layer_count]):
        taken[at + layer] = -1
        player = FIRST_PLAYER + layer * PLAYER_SIZE
        if not frozen and (z[player + PLAYER.fade_left] < 0 or z[player + PLAYER.fade_blocks] == 0):
            state = state_of(m, z, layer)
            for way in range(m[state + STATE.ways], m[state + STATE.ways_end], WAY_SIZE):
                if run(m, r, z, v, m[way + WAY.program]):
                    taken[at + layer] = m[way + WAY.number]
                    _take(m, r, z, v, k, layer, way)
                    moved = True
                    break
    for button in range(m[HEAD.buttons], m[HEAD.buttons_end]):
        z[m[HEAD.held] + m[button]] = v[m[button]] != 0.0
    z[NOW.locked] = still or (moved and locked(m, z))
    z[NOW.tick] += 1


@kernel
def enter_start(m: Whole, r: Real, z: Whole, v: Real, k: Whole) -> None:  # pragma: no cover
    """Enter every layer's start state, just before tick 0, in a situation of zeros."""
    for parameter in range(m[HEAD.place]):
        v[parameter] = r[m[HEAD.parameters] + parameter * PARAMETER_SIZE + PARAMETER.first]
    for age in range(m[HEAD.ages], m[HEAD.held]):
        z[age] = -1
    for layer in range(m[HEAD.layer_count]):
        player = FIRST_PLAYER + layer * PLAYER_SIZE
        z[player + PLAYER.fade_left] = -1
        z[player + PLAYER.state] = m[m[HEAD.layers] + layer * LAYER_SIZE + LAYER.start]
    compute_formulas(m, r, z, v)
    for layer in range(m[HEAD.layer_count]):
        _enter(m, r, z, v, k, layer, 0, 0, -1, -1)
    see_spans(m, r, z, v, False)
    z[NOW.locked] = locked(m, z)


@kernel
def _enter(
    m: Whole, r: Real, z: Whole, v: Real, k: Whole, layer: int, head: int, old_length: int, left: int, shown: int
) -> None:  # pragma: no cover
    """The layer's new state begins, at the same share of its clip as a ``head`` in a clip of ``old_length``; ``left`` is the state
    before (-1: none), which showed the sample ``shown`` (-1: none)."""
    player, state = FIRST_PLAYER + layer * PLAYER_SIZE, state_of(m, z, layer)
    z[player + PLAYER.head] = 0
    z[player + PLAYER.pick] = 0
    z[player + PLAYER.over] = 0
    apply(m, r, z, v, m[state + STATE.entry], m[state + STATE.entry_end], False)
    first = m[state + STATE.samples]
    if first == m[state + STATE.samples_end]:
        return
    pick = picked(m, r, v, state, kept_from(m, r, left, shown, state))
    z[player + PLAYER.pick] = pick
    clip = m[first + pick * SAMPLE_SIZE + SAMPLE.clip]
    if head != 0 and old_length != 0:
        z[player + PLAYER.head] = folded(m, clip, head * m[clip + CLIP.length] // old_length)
    if z[player + PLAYER.head] == 0:
        fire_first(m, r, z, v, k, layer, clip)


@kernel
def _take(m: Whole, r: Real, z: Whole, v: Real, k: Whole, layer: int, way: int) -> None:  # pragma: no cover
    """Take a transition: leave, change over, enter."""
    note_held(m, z)
    player, state = FIRST_PLAYER + layer * PLAYER_SIZE, state_of(m, z, layer)
    old, target = z[player + PLAYER.state], m[way + WAY.target]
    pick, head, length = z[player + PLAYER.pick], z[player + PLAYER.head], 0
    for use in range(m[way + WAY.uses], m[way + WAY.uses_end], USE_SIZE):
        age = m[HEAD.ages] + m[use + USE.buffer]
        if z[age] < m[use + USE.ticks]:
            z[age] = -1
    shown = m[state + STATE.samples] < m[state + STATE.samples_end]
    if shown:
        length = m[m[m[state + STATE.samples] + pick * SAMPLE_SIZE + SAMPLE.clip] + CLIP.length]
    apply(m, r, z, v, m[state + STATE.leave], m[state + STATE.leave_end], False)
    end_spans(m, r, z, v, layer)
    if target != old and m[state + STATE.clock] >= 0:
        z[m[HEAD.since] + m[state + STATE.clock]] = 0
    fading = m[way + WAY.fade] > 0
    z[player + PLAYER.fade_state] = old if fading else 0
    z[player + PLAYER.fade_pick] = pick if fading else 0
    z[player + PLAYER.fade_head] = head if fading else 0
    z[player + PLAYER.fade_left] = m[way + WAY.fade] if fading else -1
    z[player + PLAYER.fade_blocks] = m[way + WAY.blocks] if fading else 0
    z[player + PLAYER.state] = target
    z[player + PLAYER.stay] = 0
    _enter(m, r, z, v, k, layer, head if m[way + WAY.keep] != 0 else 0, length, state, pick if shown else -1)
    see_spans(m, r, z, v, False)


@kernel
def _count_down(m: Whole, r: Real, z: Whole, v: Real) -> None:  # pragma: no cover
    """Countdowns go down by one."""
    for countdown in range(m[HEAD.countdowns], m[HEAD.countdowns_end]):
        v[m[countdown]] = v[m[countdown]] - 1.0 if v[m[countdown]] > 1.0 else 0.0
    if m[HEAD.countdowns] < m[HEAD.countdowns_end]:
        compute_formulas(m, r, z, v)


@kernel
def _fade_on(m: Whole, z: Whole) -> None:  # pragma: no cover
    """Crossfades run on by one tick."""
    for layer in range(m[HEAD.layer_count]):
        player = FIRST_PLAYER + layer * PLAYER_SIZE
        left = z[player + PLAYER.fade_left] - 1
        if left < -1:
            continue
        z[player + PLAYER.fade_left] = left
        if left < 0:
            z[player + PLAYER.fade_state] = 0
            z[player + PLAYER.fade_pick] = 0
            z[player + PLAYER.fade_head] = 0
            z[player + PLAYER.fade_blocks] = 0
            continue
        state = m[HEAD.states] + z[player + PLAYER.fade_state] * STATE_SIZE
        if m[state + STATE.samples] < m[state + STATE.samples_end]:
            sample = m[state + STATE.samples] + z[player + PLAYER.fade_pick] * SAMPLE_SIZE
            z[player + PLAYER.fade_head] = folded(m, m[sample + SAMPLE.clip], z[player + PLAYER.fade_head] + TICK)


@kernel
def _play_on(m: Whole, r: Real, z: Whole, v: Real, k: Whole, layer: int) -> None:  # pragma: no cover
    """A layer's stay goes up, its playhead steps, and the marks passed fire."""
    player, state = FIRST_PLAYER + layer * PLAYER_SIZE, state_of(m, z, layer)
    z[player + PLAYER.stay] += 1
    first = m[state + STATE.samples]
    if first == m[state + STATE.samples_end]:
        return
    before, head = z[player + PLAYER.pick], z[player + PLAYER.head]
    pick = picked(m, r, v, state, before)
    clip = m[first + pick * SAMPLE_SIZE + SAMPLE.clip]
    length, back = m[clip + CLIP.length], m[clip + CLIP.begin]
    if pick != before:
        head = taken_over(m, state, before, pick, head)
        z[player + PLAYER.pick] = pick
    amount = pace_of(m, r, v, clip)
    if head + amount >= length and back >= 0:
        z[player + PLAYER.over] = 1
    z[player + PLAYER.head] = folded(m, clip, head + amount)
    if m[clip + CLIP.goes] != 0:
        begin, end, place = m[clip + CLIP.keys], m[clip + CLIP.keys_end], m[HEAD.place]
        v[place + FIELDS.travel] += gone(r, begin, end, length, back, head, amount, X)
        v[place + FIELDS.travel_up] += gone(r, begin, end, length, back, head, amount, Y)
        v[place + FIELDS.travels] = float(int(v[place + FIELDS.travels]) | m[clip + CLIP.goes])
    if m[clip + CLIP.cues] < m[clip + CLIP.cues_end]:
        fire(m, r, z, v, k, layer, clip, head, amount)


@kernel
def _remember(m: Whole, r: Real, z: Whole, v: Real, changed: bool) -> None:  # pragma: no cover
    """Step 5: a press begins its age, other ages grow, and memories count; where nothing has ``changed``, an operand that lasts is
    what it was, which the counters tell."""
    age = m[HEAD.ages]
    for buffer in range(m[HEAD.buffers], m[HEAD.buffers_end], BUFFER_SIZE):
        parameter = m[buffer + BUFFER.parameter]
        if v[parameter] != 0.0 and z[m[HEAD.held] + parameter] == 0:
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
        kind, holds = m[memory + MEMORY.within], False
        if changed or m[memory + MEMORY.lasts] == 0:
            holds = run(m, r, z, v, m[memory + MEMORY.program])
        else:
            holds = counter > 0 if kind == HELD_FOR else counter >= ticks
        counter = _counted(kind, counter, ticks, holds)
        z[m[HEAD.remembered] + at] = counter > 0 if kind == SEEN_WITHIN else counter >= ticks
        z[m[HEAD.counters] + at] = counter
        at += 1


@kernel
def _counted(kind: int, counter: int, ticks: int, holds: bool) -> int:  # pragma: no cover
    """A memory's counter after a tick on which its operand was true or not (``holds``)."""
    if kind == HELD_FOR:
        return min(counter + 1, ticks) if holds else 0
    return ticks if holds else max(counter - 1, 0)


@kernel
def _older(z: Whole, age: int, most: int) -> None:  # pragma: no cover
    """A press or a leaving a tick ago more; one that is too old for any condition to ask is forgotten."""
    if z[age] >= 0:
        z[age] = z[age] + 1 if z[age] + 1 < most else -1
