"""A checked table laid out as the arrays that the kernels read.

The cells of a table come row by row and section by section as doubles, what is null as no number.  Rows that lead to others lead to
their addresses afterwards, and postfix programs become instructions that jump: a comparison of a parameter with a number, which most
conditions are, is one instruction, and what decides an *and* or *or* goes straight on to where that leads.
"""

from __future__ import annotations

from leanstep.core.body.records import FIELDS
from leanstep.core.clips.timing import TICK
from leanstep.core.jit import Real, Whole, kernel
from leanstep.core.tick import conditions as c
from leanstep.core.tick.codes import (
    BEARING,
    BUTTON,
    GRAPH,
    OP_COMPARE,
    OP_COMPUTE,
    OP_NOT,
    OP_NUMBER,
    OP_PARAMETER,
    OP_SINCE,
    OP_SKIP_FALSE,
    OP_SKIP_TRUE,
    OP_STAY,
    PULSE,
)
from leanstep.core.tick.places import (
    ABOUT,
    ACCESSORY,
    ACCESSORY_SIZE,
    ADDRESS,
    BUFFERS,
    CLIP,
    CLOCKS,
    CONTACT,
    CONTACT_SIZE,
    CUE_SIZE,
    END,
    FIRST,
    FIRST_PLAYER,
    FORMULA,
    FORMULA_SIZE,
    HEAD,
    HEAD_SIZE,
    LAYER,
    LAYER_SIZE,
    LAYERS,
    MEMORIES,
    MEMORY,
    MEMORY_SIZE,
    NAMED_LOCKS,
    NAMED_SPANS,
    PARAMETER,
    PARAMETER_SIZE,
    PARAMETERS,
    PLAYER_SIZE,
    PROGRAMS,
    REAL,
    RULE,
    SAMPLE,
    SAMPLE_SIZE,
    SECTION_COUNT,
    SIZES,
    STATE,
    STATE_SIZE,
    STEP,
    STEP_SIZE,
    STICKS,
    WAY,
    WAY_SIZE,
    WITHIN,
)

LAID = (
    c.CONSTANT,
    c.ON,
    c.PRESSED,
    c.RELEASED,
    c.PUSH_STAY,
    c.PUSH_SINCE,
    c.BUFFERED,
    c.DONE,
    c.SHARE,
    c.SPAN,
    c.ACTIVE,
    c.REMEMBERED,
)
"""The instruction of each operation that tests something, or puts a number of ticks on the stack."""
PLAYED = len(FIELDS)
"""How much room a body takes among the values."""


@kernel
def laid_size(counts: Whole) -> int:  # pragma: no cover
    """How long the arrays of a table are, that has so many rows in each section."""
    total = HEAD_SIZE + 3 * counts[PARAMETERS]
    for section in range(SECTION_COUNT):
        total += counts[section] * SIZES[section]
    return total


@kernel
def lay(cells: Real, counts: Whole, names: Whole, m: Whole, r: Real) -> None:  # pragma: no cover
    """Lay a table out in ``m`` and ``r``, arrays of zeros; ``names`` are how many of each kind there are."""
    end = HEAD_SIZE
    for section in range(SECTION_COUNT):
        m[2 * section] = end
        end += counts[section] * SIZES[section]
        m[2 * section + 1] = end
    cell, to, first = 0, HEAD_SIZE, 0
    for section in range(SECTION_COUNT):
        for _ in range(counts[section]):
            target = 0
            for column in range(first, first + SIZES[section]):
                if RULE[column] != WITHIN:
                    if REAL[column] != 0:
                        r[to] = cells[cell]
                    else:
                        m[to] = int(cells[cell])
                        if RULE[column] == FIRST or RULE[column] == ADDRESS:
                            target = ABOUT[column]
                        if RULE[column] == FIRST or RULE[column] == END or RULE[column] == ADDRESS:
                            m[to] = m[2 * target] + m[to] * SIZES[target]
                    cell += 1
                to += 1
        first += SIZES[section]
    _lay_kinds(counts, m, to)
    _lay_situation(counts, names, m)
    _link_all(m, r)
    m[HEAD.most_told] = _most_told(m, r)


@kernel
def _lay_kinds(counts: Whole, m: Whole, to: int) -> None:  # pragma: no cover
    """List the pulses, with whether they come from outside, and the buttons."""
    m[HEAD.pulses] = to
    for parameter in range(counts[PARAMETERS]):
        one = m[HEAD.parameters] + parameter * PARAMETER_SIZE
        if m[one + PARAMETER.kind] == PULSE:
            m[to] = parameter
            m[to + 1] = m[one + PARAMETER.owner] < GRAPH
            to += 2
    m[HEAD.pulses_end] = to
    m[HEAD.buttons] = to
    for parameter in range(counts[PARAMETERS]):
        if m[m[HEAD.parameters] + parameter * PARAMETER_SIZE + PARAMETER.kind] == BUTTON:
            m[to] = parameter
            to += 1
    m[HEAD.buttons_end] = to


@kernel
def _lay_situation(counts: Whole, names: Whole, m: Whole) -> None:  # pragma: no cover
    """Say where a situation has what."""
    symbols = counts[PARAMETERS]
    m[HEAD.layer_count] = counts[LAYERS]
    m[HEAD.counters] = FIRST_PLAYER + counts[LAYERS] * PLAYER_SIZE
    m[HEAD.ages] = m[HEAD.counters] + counts[MEMORIES]
    m[HEAD.since] = m[HEAD.ages] + counts[BUFFERS]
    m[HEAD.held] = m[HEAD.since] + counts[CLOCKS]
    m[HEAD.raised] = m[HEAD.held] + symbols
    m[HEAD.locks] = m[HEAD.raised] + symbols
    m[HEAD.spans] = m[HEAD.locks] + names[NAMED_LOCKS]
    m[HEAD.spans_end] = m[HEAD.spans] + names[NAMED_SPANS]
    m[HEAD.remembered] = m[HEAD.spans_end]
    m[HEAD.held_now] = m[HEAD.remembered] + counts[MEMORIES]
    m[HEAD.held_before] = m[HEAD.held_now] + symbols
    m[HEAD.changed] = m[HEAD.held_before] + symbols
    m[HEAD.counts] = m[HEAD.changed] + 1
    m[HEAD.place] = symbols
    m[HEAD.kept] = symbols + PLAYED
    m[HEAD.stack] = m[HEAD.kept] + counts[STICKS]
    m[HEAD.values] = m[HEAD.stack] + counts[PROGRAMS] + 1


@kernel
def _link_all(m: Whole, r: Real) -> None:  # pragma: no cover
    """Turn the program of each transition, memory, formula, guard and accessory into instructions."""
    for way in range(m[HEAD.ways], m[HEAD.ways_end], WAY_SIZE):
        m[way + WAY.program] = _link(m, r, m[way + WAY.program], m[way + WAY.program_end], False)
    for memory in range(m[HEAD.memories], m[HEAD.memories_end], MEMORY_SIZE):
        m[memory + MEMORY.program] = _link(m, r, m[memory + MEMORY.program], m[memory + MEMORY.program_end], False)
    for formula in range(m[HEAD.formulas], m[HEAD.formulas_end], FORMULA_SIZE):
        one = m[HEAD.parameters] + m[formula + FORMULA.parameter] * PARAMETER_SIZE
        number = m[one + PARAMETER.kind] <= BEARING
        m[formula + FORMULA.program] = _link(
            m, r, m[formula + FORMULA.program], m[formula + FORMULA.program_end], number
        )
    for rules in range(m[HEAD.contact], m[HEAD.contact_end], CONTACT_SIZE):
        m[rules + CONTACT.guards] = _link(m, r, m[rules + CONTACT.guards], m[rules + CONTACT.guards_end], False)
    for one in range(m[HEAD.accessories], m[HEAD.accessories_end], ACCESSORY_SIZE):
        m[one + ACCESSORY.shown] = _link(m, r, m[one + ACCESSORY.shown], m[one + ACCESSORY.shown_end], False)


@kernel
def _link(m: Whole, r: Real, begin: int, end: int, number: bool) -> int:  # pragma: no cover
    """Turn a program into instructions, each in the place of the first row it stands for; where it begins.  ``number``: it comes to
    a number and not to a truth."""
    at = begin
    while at < end:
        op, rows = m[at + STEP.op], 1
        after = m[at + STEP_SIZE + STEP.op] if at + STEP_SIZE < end else -1
        last = m[at + 2 * STEP_SIZE + STEP.op] if at + 2 * STEP_SIZE < end else -1
        if op == OP_PARAMETER and after == OP_PARAMETER and last == OP_COMPARE:
            m[at + STEP.op], rows = c.PAIR, 3
        elif op == OP_PARAMETER and after == OP_NUMBER and last == OP_COMPARE:
            m[at + STEP.op], rows = c.COMPARED, 3
        elif op == OP_STAY and after == OP_NUMBER and last == OP_COMPARE:
            m[at + STEP.op], rows = c.STAYED, 3
        elif op == OP_SINCE and after == OP_NUMBER and last == OP_COMPARE:
            m[at + STEP.op], rows = c.SINCE, 3
        elif op == OP_COMPARE:
            m[at + STEP.op] = c.COMPARE_STACK
            m[at + STEP.b] = c.STANDS[m[at + STEP.a]]
        elif op == OP_COMPUTE:
            m[at + STEP.op] = c.COMPUTE
        elif op < OP_NOT:
            m[at + STEP.op] = LAID[op]
            if op == OP_PARAMETER or op == OP_NUMBER:
                tested = (
                    after == OP_NOT or after == OP_SKIP_FALSE or after == OP_SKIP_TRUE or (after < 0 and not number)
                )
                if not tested:
                    m[at + STEP.op] = c.PUSH_VALUE if op == OP_PARAMETER else c.PUSH_NUMBER
        if rows == 3:
            m[at + STEP.b] = c.STANDS[m[at + 2 * STEP_SIZE + STEP.a]]
            r[at + STEP.value] = r[at + STEP_SIZE + STEP.value]
        following = at + rows * STEP_SIZE
        m[at + STEP.yes] = _onward(m, following, end, True)
        m[at + STEP.no] = _onward(m, following, end, False)
        at = following
    return begin


@kernel
def _onward(m: Whole, at: int, end: int, holds: bool) -> int:  # pragma: no cover
    """Where a program goes on at a row with a truth on top: the address of the next instruction, or TRUE or FALSE."""
    while at < end:
        op = m[at + STEP.op]
        if op == OP_NOT:
            holds = not holds
            at += STEP_SIZE
        elif op == OP_SKIP_FALSE or op == OP_SKIP_TRUE:
            if holds == (op == OP_SKIP_FALSE):
                return at + STEP_SIZE
            at += STEP_SIZE * (1 + m[at + STEP.a])
        else:
            return at
    return c.TRUE if holds else c.FALSE


@kernel
def _most_told(m: Whole, r: Real) -> int:  # pragma: no cover
    """How many marks can fire in one tick at most: in each layer those of a step of a clip, and those of one that is entered."""
    total = 0
    for layer in range(m[HEAD.layers], m[HEAD.layers_end], LAYER_SIZE):
        most, begun = 0, 0
        for state in range(m[layer + LAYER.states], m[layer + LAYER.states_end], STATE_SIZE):
            for sample in range(m[state + STATE.samples], m[state + STATE.samples_end], SAMPLE_SIZE):
                clip = m[sample + SAMPLE.clip]
                cues = (m[clip + CLIP.cues_end] - m[clip + CLIP.cues]) // CUE_SIZE
                fastest = 1.0 if m[clip + CLIP.pace] < 0 else r[clip + CLIP.high]
                lap = m[clip + CLIP.length] - max(m[clip + CLIP.begin], 0)
                most = max(most, cues * (int(fastest * TICK) // lap + 2))
                begun = max(begun, cues)
        total += most + begun
    return total
