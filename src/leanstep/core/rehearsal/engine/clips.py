"""Playheads, marks and spans in compiled code, and the effects that come with them."""

from __future__ import annotations

import numpy as np

from leanstep.core.body.records import FIELDS
from leanstep.core.clips.paths import X, Y, gone
from leanstep.core.clips.timing import TICK
from leanstep.core.jit import Real, Whole, kernel
from leanstep.core.rehearsal.engine import records
from leanstep.core.rehearsal.engine.condition_kernels import (
    LAYER_SIZE,
    REEL_SIZE,
    compute_formulas,
    fitted,
    reel_of,
    state_of,
    turn,
)
from leanstep.core.rehearsal.engine.records import (
    ACT,
    AXIS,
    CUE,
    HEAD,
    LAYER,
    NOW,
    PACING,
    PLAYER,
    REEL,
    RULED,
    STATE,
    WINDOW,
)

ACT_SIZE, AXIS_SIZE, CUE_SIZE, WINDOW_SIZE = len(ACT), len(AXIS), len(CUE), len(WINDOW)


@kernel
def apply(m: Whole, r: Real, z: Whole, v: Real, begin: int, end: int, at_once: bool) -> None:  # pragma: no cover
    """Effects; a pulse raised ``at_once`` is true for the rest of this tick, else throughout the next."""
    for act in range(begin, end, ACT_SIZE):
        do, target, value = m[act + ACT.do], m[act + ACT.target], r[m[act + ACT.value]]
        if do == records.SET:
            v[target] = value
        elif do == records.ADD:
            v[target] = fitted(m, r, target, v[target] + value)
        elif do == records.RAISE:
            if at_once:
                v[target] = 1.0
            else:
                z[m[HEAD.raised] + target] = 1
        elif do == records.LOCK:
            z[m[HEAD.locks] + target] = 1
        elif do == records.UNLOCK:
            z[m[HEAD.locks] + target] = 0
        elif do == records.FREEZE:
            z[NOW.freeze] = max(z[NOW.freeze], int(value))
        elif do == records.MODE:
            v[m[HEAD.place] + FIELDS.mode] = value
        elif do == records.PUSH:
            v[m[HEAD.place] + FIELDS.push] += value
        elif do == records.PUSH_UP:
            v[m[HEAD.place] + FIELDS.push_up] += value
        compute_formulas(m, r, z, v)


@kernel
def tell(m: Whole, z: Whole, k: Whole, layer: int, cue: int) -> None:  # pragma: no cover
    """Note that a mark fires: ``k`` has how many did and how many there is room for, then their ticks, layers and names."""
    at = 2 + 3 * k[0]
    if k[0] < k[1]:
        k[at] = z[NOW.tick]
        k[at + 1] = (layer - m[HEAD.layers]) // LAYER_SIZE
        k[at + 2] = m[cue + CUE.name]
    k[0] += 1


@kernel
def picked(m: Whole, r: Real, v: Real, state: int, before: int) -> int:  # pragma: no cover
    """The record of the clip a state would show now, after the one picked ``before`` (-1: none was)."""
    best = m[state + STATE.reels]
    if m[state + STATE.blend] == 0:
        return best
    begin, end = m[state + STATE.axes], m[state + STATE.axes_end]
    nearest = distance = -1.0
    for reel in range(best, m[state + STATE.reels_end], REEL_SIZE):
        total, place = 0.0, m[reel + REEL.places]
        for axis in range(begin, end, AXIS_SIZE):
            at = r[place]
            place += 1
            if at == at:
                away = _away(m, r, v, axis, at)
                total = total + away * away
        if reel == before:
            distance = total
        if nearest < 0.0 or total < nearest:
            best, nearest = reel, total
    sticky = r[m[state + STATE.sticky]]
    if sticky > 0.0 and before >= 0:
        return best if np.sqrt(nearest) < np.sqrt(distance) - sticky else before
    return best


@kernel
def _away(m: Whole, r: Real, v: Real, axis: int, at: float) -> float:  # pragma: no cover
    """How far the value an axis reads is from a place on it, in rulings."""
    numbers = m[axis + AXIS.numbers]
    value = v[m[axis + AXIS.symbol]] if m[axis + AXIS.symbol] >= 0 else 0.0
    if m[axis + AXIS.round] != 0:
        return turn(at, value) / r[numbers + RULED.step]
    value = min(max(value, r[numbers + RULED.low]), r[numbers + RULED.high])
    return (value - at) / r[numbers + RULED.step]


@kernel
def kept_from(m: Whole, r: Real, left: int, reel: int, state: int) -> int:  # pragma: no cover
    """The record of a state's clip that counts as picked before, when ``reel`` was shown in the state ``left``; -1: none."""
    if left < 0 or reel < 0 or m[left + STATE.blend] == 0 or m[state + STATE.blend] == 0:
        return -1
    for other in range(m[state + STATE.reels], m[state + STATE.reels_end], REEL_SIZE):
        both, same = False, True
        for axis in range(m[state + STATE.axes], m[state + STATE.axes_end], AXIS_SIZE):
            for old in range(m[left + STATE.axes], m[left + STATE.axes_end], AXIS_SIZE):
                if m[axis + AXIS.symbol] == m[old + AXIS.symbol] and m[axis + AXIS.symbol] >= 0:
                    one = r[m[reel + REEL.places] + (old - m[left + STATE.axes]) // AXIS_SIZE]
                    two = r[m[other + REEL.places] + (axis - m[state + STATE.axes]) // AXIS_SIZE]
                    both = True
                    same = same and (one == two or (one != one and two != two))
        if not both:
            return -1
        if same:
            return other
    return -1


@kernel
def play_on(m: Whole, r: Real, z: Whole, v: Real, k: Whole, layer: int) -> None:  # pragma: no cover
    """A layer's stay goes up, its playhead steps, and the marks passed fire."""
    player, state = m[layer + LAYER.player], state_of(m, z, layer)
    z[player + PLAYER.stay] += 1
    first = m[state + STATE.reels]
    if first == m[state + STATE.reels_end]:
        return
    before = first + z[player + PLAYER.pick] * REEL_SIZE
    reel = picked(m, r, v, state, before)
    length, back = m[reel + REEL.length], m[reel + REEL.begin]
    head = z[player + PLAYER.head]
    if reel != before:
        head = (head - m[before + REEL.phase]) * length // m[before + REEL.length] + m[reel + REEL.phase]
        if head < 0:
            head = head + length if back >= 0 else 0
        head = moved_to(head, length, back)
        z[player + PLAYER.pick] = (reel - first) // REEL_SIZE
    amount = TICK
    if m[reel + REEL.pace] >= 0:
        numbers = m[reel + REEL.numbers]
        low, high = r[numbers + PACING.low], r[numbers + PACING.high]
        rate = v[m[reel + REEL.pace]] / r[numbers + PACING.at]
        rate = low if not rate >= low else high if rate > high else rate
        amount = int(np.floor(rate * TICK + 0.5))
    moved = head + amount
    if moved >= length and back >= 0:
        z[player + PLAYER.over] = 1
    z[player + PLAYER.head] = moved_to(moved, length, back)
    if m[reel + REEL.goes] != 0:
        begin, end, place = m[reel + REEL.path], m[reel + REEL.path_end], m[HEAD.place]
        v[place + FIELDS.travel] += gone(r, begin, end, length, back, head, amount, X)
        v[place + FIELDS.travel_up] += gone(r, begin, end, length, back, head, amount, Y)
        v[place + FIELDS.travels] = float(int(v[place + FIELDS.travels]) | m[reel + REEL.goes])
    if m[reel + REEL.cues] < m[reel + REEL.cues_end]:
        _fire(m, r, z, v, k, layer, reel, head, amount)


@kernel
def moved_to(head: int, length: int, back: int) -> int:  # pragma: no cover
    """A playhead brought into its clip, which goes ``back`` to there from its length (-1: it stays there)."""
    if head < length:
        return head
    return length if back < 0 else back + (head - back) % (length - back)


@kernel
def _passed(m: Whole, reel: int, at: int, head: int, amount: int) -> int:  # pragma: no cover
    """How often an instant lies in (head, head + amount]; the end of a clip that repeats from its start is its start."""
    length, back = m[reel + REEL.length], m[reel + REEL.begin]
    if at < back or back < 0:
        return 1 if head < at <= min(head + amount, length) else 0
    if at > length:
        return 0
    at = 0 if at == length and back == 0 else at
    if 0 <= amount < length - head:
        return 1 if head < at <= head + amount else 0
    since, before = head + amount - at, head - at
    laps = since // (length - back) + 1 if since >= 0 else 0
    return laps - (before // (length - back) + 1 if before >= 0 else 0)


@kernel
def _fire(
    m: Whole, r: Real, z: Whole, v: Real, k: Whole, layer: int, reel: int, head: int, amount: int
) -> None:  # pragma: no cover
    """The marks in (head, head + amount], in time order."""
    length, back = m[reel + REEL.length], m[reel + REEL.begin]
    last, last_cue = -1, -1
    while True:
        best, best_cue = -1, -1
        for cue in range(m[reel + REEL.cues], m[reel + REEL.cues_end], CUE_SIZE):
            at = m[cue + CUE.at]
            laps = _passed(m, reel, at, head, amount)
            if laps <= 0:
                continue
            at = 0 if at == length and back == 0 else at
            time = at - head if back < 0 or at > head else at - head + length - back
            for _ in range(laps):
                if (time > last or (time == last and cue > last_cue)) and (best < 0 or time < best):
                    best, best_cue = time, cue
                    break
                time += length - back
        if best < 0:
            return
        last, last_cue = best, best_cue
        tell(m, z, k, layer, best_cue)
        apply(m, r, z, v, m[best_cue + CUE.acts], m[best_cue + CUE.acts_end], True)


@kernel
def held_by_spans(m: Whole, z: Whole, held: int) -> None:  # pragma: no cover
    """The symbols that spans hold on, written from place ``held`` on."""
    if m[HEAD.holds] < m[HEAD.holds_end]:
        _look(m, z, held, -1, -1)


@kernel
def end_spans(m: Whole, r: Real, z: Whole, v: Real, layer: int) -> None:  # pragma: no cover
    """The spans of a layer's state that is left are over: flags that only they held go off."""
    if m[HEAD.holds] >= m[HEAD.holds_end]:
        return
    _look(m, z, m[HEAD.held_now], -1, layer)
    ended = False
    for one in range(m[HEAD.holds], m[HEAD.holds_end]):
        if z[m[HEAD.held_before] + m[one]] != 0 and z[m[HEAD.held_now] + m[one]] == 0:
            v[m[one]] = 0.0
            ended = True
    if ended:
        compute_formulas(m, r, z, v)


@kernel
def _look(m: Whole, z: Whole, held: int, spans: int, but: int) -> None:  # pragma: no cover
    """Write the symbols that spans of every layer ``but`` one hold from place ``held`` on, and from ``spans`` on (-1: nowhere) which
    are on."""
    for one in range(m[HEAD.holds], m[HEAD.holds_end]):
        z[held + m[one]] = 0
    for layer in range(m[HEAD.layers], m[HEAD.layers_end], LAYER_SIZE):
        reel = reel_of(m, z, layer)
        if reel < 0 or layer == but:
            continue
        head = z[m[layer + LAYER.player] + PLAYER.head]
        for window in range(m[reel + REEL.windows], m[reel + REEL.windows_end], WINDOW_SIZE):
            if m[window + WINDOW.start] <= head < m[window + WINDOW.end]:
                if m[window + WINDOW.hold] >= 0:
                    z[held + m[window + WINDOW.hold]] = 1
                if spans >= 0:
                    z[spans + m[window + WINDOW.name]] = 1


@kernel
def see_spans(m: Whole, r: Real, z: Whole, v: Real, before: bool) -> None:  # pragma: no cover
    """Work out which spans are on; flags they hold go on, and off again where they were held ``before``."""
    if m[HEAD.spanned] == 0:
        return
    held_now, held_before = m[HEAD.held_now], m[HEAD.held_before]
    for span in range(m[HEAD.spans], m[HEAD.spans_end]):
        z[span] = 0
    _look(m, z, held_now, m[HEAD.spans], -1)
    changed = False
    for one in range(m[HEAD.holds], m[HEAD.holds_end]):
        symbol = m[one]
        if z[held_now + symbol] != 0 or (before and z[held_before + symbol] != 0):
            v[symbol] = float(z[held_now + symbol])
            changed = True
    if changed:
        compute_formulas(m, r, z, v)


@kernel
def locked(m: Whole, z: Whole) -> bool:  # pragma: no cover
    """Whether anything locks movement: a state that holds still, a span, or a named lock."""
    for at in range(m[HEAD.locks], m[HEAD.spans]):
        if z[at] != 0:
            return True
    for layer in range(m[HEAD.layers], m[HEAD.layers_end], LAYER_SIZE):
        if m[state_of(m, z, layer) + STATE.still] != 0:
            return True
        reel = reel_of(m, z, layer) if m[HEAD.spanned] != 0 else -1
        if reel < 0:
            continue
        head = z[m[layer + LAYER.player] + PLAYER.head]
        for window in range(m[reel + REEL.windows], m[reel + REEL.windows_end], WINDOW_SIZE):
            if m[window + WINDOW.lock] != 0 and m[window + WINDOW.start] <= head < m[window + WINDOW.end]:
                return True
    return False
