"""What conditions and amounts are worth, in compiled code."""

from __future__ import annotations

import numpy as np

from leanstep.core import bearings
from leanstep.core.jit import Real, Whole, kernel
from leanstep.core.rehearsal.engine import programs as p
from leanstep.core.rehearsal.engine.records import (
    BEARING,
    CHOICE,
    FORMULA,
    HEAD,
    INSTRUCTION,
    LAYER,
    NOW,
    PLAYER,
    RANGE,
    REEL,
    STATE,
    SYMBOL,
    WHOLE,
)

FIRST_PLAYER, ROOM = len(NOW), len(PLAYER)
LAYER_SIZE, STATE_SIZE, REEL_SIZE, SYMBOL_SIZE = len(LAYER), len(STATE), len(REEL), len(SYMBOL)
FORMULA_SIZE = len(FORMULA)


reduced, turn = kernel(bearings.reduced), kernel(bearings.turn)


@kernel
def compared(sign: int, left: float, right: float) -> bool:  # pragma: no cover
    """Whether two numbers stand to each other in one of the ways of ``sign``; without a branch that could be guessed
    wrong."""
    less, equal, greater = left < right, left == right, left > right
    stands = less * p.LESS | equal * p.EQUAL | greater * p.GREATER | (not (less | equal | greater)) * p.NEITHER
    return (stands & sign) != 0


@kernel
def state_of(m: Whole, z: Whole, layer: int) -> int:  # pragma: no cover
    """The record of a layer's active state."""
    return m[layer + LAYER.states] + z[m[layer + LAYER.player] + PLAYER.state] * STATE_SIZE


@kernel
def reel_of(m: Whole, z: Whole, layer: int) -> int:  # pragma: no cover
    """The record of the clip a layer shows; -1 when it shows none."""
    state = state_of(m, z, layer)
    if m[state + STATE.reels] == m[state + STATE.reels_end]:
        return -1
    return m[state + STATE.reels] + z[m[layer + LAYER.player] + PLAYER.pick] * REEL_SIZE


@kernel
def run(m: Whole, r: Real, z: Whole, v: Real, at: int) -> bool:  # pragma: no cover
    """Run a program from an instruction on."""
    top = m[HEAD.stack]
    while at >= 0:
        op, a, b = m[at + INSTRUCTION.op], m[at + INSTRUCTION.a], m[at + INSTRUCTION.b]
        true = True
        if op == p.COMPARED:
            true = compared(b, v[a], r[m[at + INSTRUCTION.value]])
        elif op == p.ON:
            true = v[a] != 0.0
        elif op == p.CHOSEN:
            true = v[a] == r[m[at + INSTRUCTION.value]]
        elif op == p.STAYED:
            true = compared(b, z[FIRST_PLAYER + a * ROOM + PLAYER.stay], m[at + INSTRUCTION.c])
        elif op == p.PRESSED:
            true = v[a] != 0.0 and z[m[HEAD.held] + a] == 0
        elif op == p.RELEASED:
            true = v[a] == 0.0 and z[m[HEAD.held] + a] != 0
        elif op == p.MEMORY:
            true = z[m[HEAD.remembered] + a] != 0
        elif op == p.BUFFERED:
            age = z[m[HEAD.ages] + a]
            true = age >= 0 and age < m[at + INSTRUCTION.c]
        elif op == p.SINCE:
            age = z[m[HEAD.since] + a]
            true = compared(b, age if age >= 0 else 1 << 62, m[at + INSTRUCTION.c])
        elif op == p.OVER:
            reel = reel_of(m, z, m[HEAD.layers] + a * LAYER_SIZE)
            if reel >= 0 and m[reel + REEL.begin] < 0:
                true = z[FIRST_PLAYER + a * ROOM + PLAYER.head] >= m[reel + REEL.length]
            else:
                true = reel >= 0 and z[FIRST_PLAYER + a * ROOM + PLAYER.over] != 0
        elif op == p.AT:
            reel = reel_of(m, z, m[HEAD.layers] + a * LAYER_SIZE)
            head = z[FIRST_PLAYER + a * ROOM + PLAYER.head]
            true = reel >= 0 and head >= r[m[at + INSTRUCTION.value]] * m[reel + REEL.length]
        elif op == p.SPAN:
            true = z[m[HEAD.spans] + a] != 0
        elif op == p.ACTIVE:
            true = z[FIRST_PLAYER + a * ROOM + PLAYER.state] == b
        elif op == p.SAME:
            true = v[a] == v[b]
        elif op == p.CONSTANT:
            true = a != 0
        elif op == p.PUSH_VALUE:
            v[top] = v[a]
            top += 1
        elif op == p.PUSH_FIXED:
            v[top] = r[m[at + INSTRUCTION.value]]
            top += 1
        elif op == p.COMPUTE:
            top -= b - 1
            v[top - 1] = computed(a, v, top - 1, top - 1 + b)
        elif op == p.COMPARE_STACK:
            top -= 2
            true = compared(b, v[top], v[top + 1])
        at = m[at + INSTRUCTION.yes] if true else m[at + INSTRUCTION.no]
    return at == p.TRUE


@kernel
def computed(sign: int, v: Real, begin: int, end: int) -> float:  # pragma: no cover
    """One arithmetic step in IEEE doubles, on numbers that lie on the stack; a division by zero gives 0."""
    first = v[begin]
    if sign == p.PLUS:
        return first + v[begin + 1]
    if sign == p.MINUS:
        return first - v[begin + 1]
    if sign == p.TIMES:
        return first * v[begin + 1]
    if sign == p.OVER_BY:
        return first / v[begin + 1] if v[begin + 1] != 0.0 else 0.0
    if sign == p.ABSOLUTE:
        return abs(first)
    if sign == p.NEGATIVE:
        return -first
    if sign == p.TURN:
        return turn(first, v[begin + 1])
    if sign == p.BEARING:
        return reduced(first)
    for at in range(begin + 1, end):
        if (v[at] < first) if sign == p.LEAST else (v[at] > first):
            first = v[at]
    return first


@kernel
def compute_formulas(m: Whole, r: Real, z: Whole, v: Real) -> None:  # pragma: no cover
    """Bring the parameters that are computed from others up to date."""
    for formula in range(m[HEAD.formulas], m[HEAD.formulas_end], FORMULA_SIZE):
        true = run(m, r, z, v, m[formula + FORMULA.program])
        if m[formula + FORMULA.number] != 0:
            v[m[formula + FORMULA.symbol]] = v[m[HEAD.stack]]
        else:
            v[m[formula + FORMULA.symbol]] = 1.0 if true else 0.0


@kernel
def fitted(m: Whole, r: Real, symbol: int, value: float) -> float:  # pragma: no cover
    """A number or truth brought into a symbol's kind and range."""
    one = m[HEAD.symbols] + symbol * SYMBOL_SIZE
    kind, numbers = m[one + SYMBOL.kind], m[one + SYMBOL.numbers]
    if kind > BEARING:
        if kind == CHOICE:
            return r[numbers + RANGE.rest]
        return 1.0 if value != 0.0 else 0.0
    if kind == BEARING:
        return reduced(value)
    low, high = r[numbers + RANGE.low], r[numbers + RANGE.high]
    if low > value:
        value = low
    if high < value:
        value = high
    return np.rint(value) + 0.0 if kind == WHOLE else value
