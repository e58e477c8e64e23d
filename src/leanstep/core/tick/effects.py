"""What effects do, and how marks fire."""

from __future__ import annotations

from leanstep.core.body.records import FIELDS
from leanstep.core.jit import Real, Whole, kernel
from leanstep.core.tick.codes import ADD, FREEZE, LOCK, MODE, PUSH, PUSH_UP, RAISE, SET, UNLOCK
from leanstep.core.tick.conditions import compute_formulas, fitted
from leanstep.core.tick.places import ACT, ACT_SIZE, CLIP, CUE, CUE_SIZE, FIRST_PLAYER, HEAD, NOW, PLAYER, PLAYER_SIZE

TOLD, TOLD_SIZE = 2, 6
"""Where in ``k`` the marks that fired stand, behind how many did and how many there is room for, and what each takes: its tick, layer,
name and cue, and the state (its row) and sample (its number) in which it did."""


@kernel
def apply(m: Whole, r: Real, z: Whole, v: Real, begin: int, end: int, at_once: bool) -> None:  # pragma: no cover
    """Effects; a pulse raised ``at_once`` is true for the rest of this tick, else throughout the next."""
    for act in range(begin, end, ACT_SIZE):
        do, target, value = m[act + ACT.do], m[act + ACT.target], r[act + ACT.value]
        if do == SET:
            v[target] = value
        elif do == ADD:
            v[target] = fitted(m, r, target, v[target] + value)
        elif do == RAISE:
            if at_once:
                v[target] = 1.0
            else:
                z[m[HEAD.raised] + target] = 1
        elif do == LOCK:
            z[m[HEAD.locks] + target] = 1
        elif do == UNLOCK:
            z[m[HEAD.locks] + target] = 0
        elif do == FREEZE:
            z[NOW.freeze] = max(z[NOW.freeze], int(value))
        elif do == MODE:
            v[m[HEAD.place] + FIELDS.mode] = value
        elif do == PUSH:
            v[m[HEAD.place] + FIELDS.push] += value
        elif do == PUSH_UP:
            v[m[HEAD.place] + FIELDS.push_up] += value
        compute_formulas(m, r, z, v)


@kernel
def tell(m: Whole, z: Whole, k: Whole, layer: int, cue: int) -> None:  # pragma: no cover
    """Note that a mark fires, where there is room."""
    if k[0] < k[1]:
        at = TOLD + k[0] * TOLD_SIZE
        k[at] = z[NOW.tick]
        k[at + 1] = layer
        k[at + 2] = m[cue + CUE.mark]
        k[at + 3] = (cue - m[HEAD.cues]) // CUE_SIZE
        k[at + 4] = z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER.state]
        k[at + 5] = z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER.pick]
    k[0] += 1


@kernel
def _passed(m: Whole, clip: int, at: int, head: int, amount: int) -> int:  # pragma: no cover
    """How often an instant lies in (head, head + amount]; the end of a clip that repeats from its start is its start."""
    length, back = m[clip + CLIP.length], m[clip + CLIP.begin]
    if at < back or back < 0:
        return 1 if head < at <= min(head + amount, length) else 0
    if at > length:
        return 0
    if at == length and back == 0:
        at = 0
    if amount < length - head:
        return 1 if head < at <= head + amount else 0
    since, before = head + amount - at, head - at
    laps = since // (length - back) + 1 if since >= 0 else 0
    return laps - (before // (length - back) + 1 if before >= 0 else 0)


@kernel
def fire(
    m: Whole, r: Real, z: Whole, v: Real, k: Whole, layer: int, clip: int, head: int, amount: int
) -> None:  # pragma: no cover
    """The marks in (head, head + amount], in time order: again and again the next one."""
    length, back = m[clip + CLIP.length], m[clip + CLIP.begin]
    last, last_cue = -1, -1
    while True:
        best, best_cue = -1, -1
        for cue in range(m[clip + CLIP.cues], m[clip + CLIP.cues_end], CUE_SIZE):
            at = m[cue + CUE.at]
            laps = _passed(m, clip, at, head, amount)
            if laps <= 0:
                continue
            if at == length and back == 0:
                at = 0
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
def fire_first(m: Whole, r: Real, z: Whole, v: Real, k: Whole, layer: int, clip: int) -> None:  # pragma: no cover
    """The marks at the very start of a clip that is entered there."""
    length, back = m[clip + CLIP.length], m[clip + CLIP.begin]
    for cue in range(m[clip + CLIP.cues], m[clip + CLIP.cues_end], CUE_SIZE):
        if m[cue + CUE.at] == 0 or (back == 0 and m[cue + CUE.at] == length):
            tell(m, z, k, layer, cue)
            apply(m, r, z, v, m[cue + CUE.acts], m[cue + CUE.acts_end], False)
