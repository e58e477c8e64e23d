"""Whether the programs of a table are whole: what they take from their stack is there, and one thing is left."""

from __future__ import annotations

from leanstep.core.jit import Real, Whole, kernel
from leanstep.core.tick.codes import (
    BEARING,
    OP_BUFFERED,
    OP_COMPARE,
    OP_COMPUTE,
    OP_MEMORY,
    OP_NOT,
    OP_NUMBER,
    OP_PARAMETER,
    OP_PRESSED,
    OP_RELEASED,
    OP_SINCE,
    OP_SKIP_FALSE,
    OP_SPAN,
    OP_STAY,
    OPERATOR_COUNT,
    SIGN_COUNT,
    TAKES,
)
from leanstep.core.tick.places import (
    ACCESSORIES,
    ACCESSORY,
    BUFFERS,
    CLOCKS,
    CONTACT,
    CONTACTS,
    FORMULA,
    FORMULAS,
    LAYERS,
    MEMORIES,
    MEMORY,
    NAMED_SPANS,
    PARAMETER,
    PARAMETERS,
    PROGRAMS,
    STEP,
    WAY,
    WAYS,
    WIDTHS,
)

EITHER, AMOUNT, TRUTH = range(3)
"""What lies on the stack of a program: what may be either, a number, what is true or false."""


@kernel
def programs_agree(cells: Real, counts: Whole, names: Whole, rows: Whole, room: Whole) -> bool:  # pragma: no cover
    """Whether each program comes to what it is asked for, and no two have a row in common."""
    for row in range(counts[PROGRAMS]):
        room[3 * counts[PROGRAMS] + row] = 0
    for number in range(counts[WAYS]):
        one = rows[WAYS] + number * WIDTHS[WAYS] + WAY.program
        if not _is_program(cells, counts, names, rows, room, int(cells[one]), int(cells[one + 1]), False):
            return False
    for number in range(counts[MEMORIES]):
        one = rows[MEMORIES] + number * WIDTHS[MEMORIES] + MEMORY.program
        if not _is_program(cells, counts, names, rows, room, int(cells[one]), int(cells[one + 1]), False):
            return False
    for number in range(counts[FORMULAS]):
        one = rows[FORMULAS] + number * WIDTHS[FORMULAS]
        parameter = rows[PARAMETERS] + int(cells[one + FORMULA.parameter]) * WIDTHS[PARAMETERS]
        amount = cells[parameter + PARAMETER.kind] <= BEARING
        begin, end = int(cells[one + FORMULA.program]), int(cells[one + FORMULA.program_end])
        if not _is_program(cells, counts, names, rows, room, begin, end, amount):
            return False
    for number in range(counts[CONTACTS]):
        one = rows[CONTACTS] + number * WIDTHS[CONTACTS] + CONTACT.guards
        if not _is_program(cells, counts, names, rows, room, int(cells[one]), int(cells[one + 1]), False):
            return False
    for number in range(counts[ACCESSORIES]):
        one = rows[ACCESSORIES] + number * WIDTHS[ACCESSORIES] + ACCESSORY.shown
        if not _is_program(cells, counts, names, rows, room, int(cells[one]), int(cells[one + 1]), False):
            return False
    return True


@kernel
def _leads(counts: Whole, names: Whole, op: int, a: float) -> bool:  # pragma: no cover
    """Whether what a row of a program puts on the stack is there."""
    if op == OP_NUMBER:
        return True
    if op == OP_PARAMETER or op == OP_PRESSED or op == OP_RELEASED:
        return 0.0 <= a < counts[PARAMETERS]
    if op == OP_SINCE:
        return 0.0 <= a < counts[CLOCKS]
    if op == OP_BUFFERED:
        return 0.0 <= a < counts[BUFFERS]
    if op == OP_SPAN:
        return 0.0 <= a < names[NAMED_SPANS]
    if op == OP_MEMORY:
        return 0.0 <= a < counts[MEMORIES]
    return 0.0 <= a < counts[LAYERS]


@kernel
def _is_program(
    cells: Real, counts: Whole, names: Whole, rows: Whole, room: Whole, begin: int, end: int, amount: bool
) -> bool:  # pragma: no cover
    """Whether a postfix program leaves one number (an ``amount``) or one truth, whichever way its skips go.

    ``room`` has what lies on the stack, then where the skips under way end with how deep the stack was before, then which rows are
    parts of a program already.
    """
    ends, used = counts[PROGRAMS], 3 * counts[PROGRAMS]
    depth, base, limit, waiting, at = 0, 0, end, 0, begin
    while True:
        while waiting > 0 and at == limit:
            if depth != base + 1 or room[depth - 1] == AMOUNT:
                return False
            room[depth - 1] = TRUTH
            waiting -= 1
            limit = room[ends + 2 * waiting - 2] if waiting > 0 else end
            base = room[ends + 2 * waiting - 1] if waiting > 0 else 0
        if at == end:
            return depth == 1 and room[0] != (TRUTH if amount else AMOUNT)
        row = rows[PROGRAMS] + at * WIDTHS[PROGRAMS]
        op, a, b = int(cells[row + STEP.op]), cells[row + STEP.a], cells[row + STEP.b]
        if room[used + at] != 0:
            return False
        room[used + at] = 1
        at += 1
        if op >= OP_SKIP_FALSE:
            if depth < base + 1 or room[depth - 1] == AMOUNT or not 1.0 <= a <= limit - at:
                return False
            depth -= 1
            limit, base = at + int(a), depth
            room[ends + 2 * waiting] = limit
            room[ends + 2 * waiting + 1] = base
            waiting += 1
            continue
        taken, made = 0, TRUTH
        if op == OP_NOT:
            taken = 1
        elif op == OP_COMPARE:
            taken = 2
            if not 0.0 <= a < SIGN_COUNT:
                return False
        elif op == OP_COMPUTE:
            if not 0.0 <= a < OPERATOR_COUNT or not 1.0 <= b <= depth - base:
                return False
            taken, made = int(b), AMOUNT
            if TAKES[int(a)] != 0 and TAKES[int(a)] != taken:
                return False
        else:
            if not _leads(counts, names, op, a):
                return False
            if op == OP_NUMBER or op == OP_PARAMETER:
                made = EITHER
            elif op == OP_STAY or op == OP_SINCE:
                made = AMOUNT
        if depth - base < taken:
            return False
        depth -= taken
        for below in range(depth, depth + taken):
            if room[below] == (AMOUNT if op == OP_NOT else TRUTH):
                return False
        room[depth] = made
        depth += 1
