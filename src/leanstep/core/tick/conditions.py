"""What conditions and amounts are worth.

A laid out program is instructions at addresses of ``m``: each tests something and goes on at ``yes`` or ``no``, or puts a number on
the stack in ``v`` and goes on at ``yes``; a condition ends at TRUE or FALSE, an amount at TRUE with one number on the stack
(:mod:`leanstep.core.tick.loading` makes them of postfix programs).
"""

from __future__ import annotations

import numpy as np

from leanstep.core import bearings
from leanstep.core.jit import Real, Whole, kernel
from leanstep.core.tick.codes import (
    ABSOLUTE,
    BEARING,
    CHOICE,
    DIRECTION,
    LEAST,
    MINUS,
    NEGATIVE,
    NEVER,
    OVER_BY,
    PLUS,
    TIMES,
    TURN,
    WHOLE,
)
from leanstep.core.tick.places import (
    CLIP,
    FIRST_PLAYER,
    FORMULA,
    FORMULA_SIZE,
    HEAD,
    PARAMETER,
    PARAMETER_SIZE,
    PLAYER,
    PLAYER_SIZE,
    SAMPLE,
    SAMPLE_SIZE,
    STATE,
    STATE_SIZE,
    STEP,
    STEP_SIZE,
)

TRUE, FALSE = -1, -2
(CONSTANT, ON, PRESSED, RELEASED, COMPARED, PAIR, STAYED, BUFFERED, SINCE, DONE, SHARE, SPAN, ACTIVE, REMEMBERED) = (
    range(14)
)
PUSH_NUMBER, PUSH_VALUE, PUSH_STAY, PUSH_SINCE, COMPUTE, COMPARE_STACK = range(14, 20)
LESS, EQUAL, GREATER, NEITHER = 1, 2, 4, 8
"""How two numbers may stand to each other; NEITHER where one is no number."""
STANDS = (LESS, LESS | EQUAL, EQUAL, LESS | GREATER | NEITHER, GREATER, GREATER | EQUAL)
"""The same for each of the signs."""

reduced, turn = kernel(bearings.reduced), kernel(bearings.turn)


@kernel
def compared(sign: int, left: float, right: float) -> bool:  # pragma: no cover
    """Whether two numbers stand to each other in one of the ways of ``sign``; without a branch that could be guessed
    wrong."""
    less, equal, greater = left < right, left == right, left > right
    stands = less * LESS | equal * EQUAL | greater * GREATER | (not (less | equal | greater)) * NEITHER
    return (stands & sign) != 0


@kernel
def state_of(m: Whole, z: Whole, layer: int) -> int:  # pragma: no cover
    """Where a layer's active state begins."""
    return m[HEAD.states] + z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER.state] * STATE_SIZE


@kernel
def clip_of(m: Whole, z: Whole, layer: int) -> int:  # pragma: no cover
    """Where the clip begins that a layer shows; -1 when it shows none."""
    state = state_of(m, z, layer)
    first = m[state + STATE.samples]
    if first == m[state + STATE.samples_end]:
        return -1
    return m[first + z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER.pick] * SAMPLE_SIZE + SAMPLE.clip]


@kernel
def is_done(m: Whole, z: Whole, layer: int) -> bool:  # pragma: no cover
    """Whether a layer's clip is done: it repeats and has wrapped since entry, or stands at its length."""
    clip = clip_of(m, z, layer)
    if clip < 0:
        return False
    player = FIRST_PLAYER + layer * PLAYER_SIZE
    if m[clip + CLIP.begin] < 0:
        return z[player + PLAYER.head] >= m[clip + CLIP.length]
    return z[player + PLAYER.over] != 0


@kernel
def is_at(m: Whole, z: Whole, layer: int, share: float) -> bool:  # pragma: no cover
    """Whether a layer's playhead is at or past a share of its clip."""
    clip = clip_of(m, z, layer)
    return clip >= 0 and z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER.head] >= share * m[clip + CLIP.length]


@kernel
def run(m: Whole, r: Real, z: Whole, v: Real, at: int) -> bool:  # pragma: no cover
    """Run a program from an instruction on."""
    top = m[HEAD.stack]
    while at >= 0:
        op, a, b = m[at + STEP.op], m[at + STEP.a], m[at + STEP.b]
        holds = True
        if op == COMPARED:
            holds = compared(b, v[a], r[at + STEP.value])
        elif op == ON:
            holds = v[a] != 0.0
        elif op == STAYED:
            holds = compared(b, z[FIRST_PLAYER + a * PLAYER_SIZE + PLAYER.stay], r[at + STEP.value])
        elif op == PRESSED:
            holds = v[a] != 0.0 and z[m[HEAD.held] + a] == 0
        elif op == RELEASED:
            holds = v[a] == 0.0 and z[m[HEAD.held] + a] != 0
        elif op == REMEMBERED:
            holds = z[m[HEAD.remembered] + a] != 0
        elif op == BUFFERED:
            age = z[m[HEAD.ages] + a]
            holds = age >= 0 and age < r[at + STEP.value]
        elif op == SINCE:
            age = z[m[HEAD.since] + a]
            holds = compared(b, age if age >= 0 else NEVER, r[at + STEP.value])
        elif op == DONE:
            holds = is_done(m, z, a)
        elif op == SHARE:
            holds = is_at(m, z, a, r[at + STEP.value])
        elif op == SPAN:
            holds = z[m[HEAD.spans] + a] != 0
        elif op == ACTIVE:
            holds = z[FIRST_PLAYER + a * PLAYER_SIZE + PLAYER.state] == b
        elif op == PAIR:
            holds = compared(b, v[a], v[m[at + STEP_SIZE + STEP.a]])
        elif op == CONSTANT:
            holds = r[at + STEP.value] != 0.0
        elif op == PUSH_VALUE:
            v[top] = v[a]
            top += 1
        elif op == PUSH_NUMBER:
            v[top] = r[at + STEP.value]
            top += 1
        elif op == PUSH_STAY:
            v[top] = z[FIRST_PLAYER + a * PLAYER_SIZE + PLAYER.stay]
            top += 1
        elif op == PUSH_SINCE:
            age = z[m[HEAD.since] + a]
            v[top] = age if age >= 0 else NEVER
            top += 1
        elif op == COMPUTE:
            top -= b - 1
            v[top - 1] = computed(a, v, top - 1, top - 1 + b)
        elif op == COMPARE_STACK:
            top -= 2
            holds = compared(b, v[top], v[top + 1])
        at = m[at + STEP.yes] if holds else m[at + STEP.no]
    return at == TRUE


@kernel
def computed(sign: int, v: Real, begin: int, end: int) -> float:  # pragma: no cover
    """One arithmetic step in IEEE doubles, on numbers that lie on the stack; a division by zero gives 0."""
    first = v[begin]
    if sign == PLUS:
        return first + v[begin + 1]
    if sign == MINUS:
        return first - v[begin + 1]
    if sign == TIMES:
        return first * v[begin + 1]
    if sign == OVER_BY:
        return first / v[begin + 1] if v[begin + 1] != 0.0 else 0.0
    if sign == ABSOLUTE:
        return abs(first)
    if sign == NEGATIVE:
        return -first
    if sign == TURN:
        return turn(first, v[begin + 1])
    if sign == DIRECTION:
        return reduced(first)
    for at in range(begin + 1, end):
        if v[at] < first if sign == LEAST else v[at] > first:
            first = v[at]
    return first


@kernel
def worth(m: Whole, r: Real, z: Whole, v: Real, program: int, number: bool) -> float:  # pragma: no cover
    """What a program comes to: its number, or 1 for true and 0 for false."""
    holds = run(m, r, z, v, program)
    if number:
        return v[m[HEAD.stack]]
    return 1.0 if holds else 0.0


@kernel
def compute_formulas(m: Whole, r: Real, z: Whole, v: Real) -> None:  # pragma: no cover
    """Bring the parameters that are computed from others up to date."""
    for formula in range(m[HEAD.formulas], m[HEAD.formulas_end], FORMULA_SIZE):
        parameter = m[formula + FORMULA.parameter]
        number = m[m[HEAD.parameters] + parameter * PARAMETER_SIZE + PARAMETER.kind] <= BEARING
        v[parameter] = worth(m, r, z, v, m[formula + FORMULA.program], number)


@kernel
def fitted(m: Whole, r: Real, parameter: int, value: float) -> float:  # pragma: no cover
    """A value brought into a parameter's kind and range; a choice stays what it is."""
    one = m[HEAD.parameters] + parameter * PARAMETER_SIZE
    kind = m[one + PARAMETER.kind]
    if kind > BEARING:
        if kind == CHOICE:
            return value
        return 1.0 if value != 0.0 else 0.0
    if kind == BEARING:
        return reduced(value)
    if r[one + PARAMETER.low] > value:
        value = r[one + PARAMETER.low]
    if r[one + PARAMETER.high] < value:
        value = r[one + PARAMETER.high]
    return np.rint(value) + 0.0 if kind == WHOLE else value
