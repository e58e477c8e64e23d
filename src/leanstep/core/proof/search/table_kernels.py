"""Breadth first through what ticks make of places, all of them numbers, in compiled code.

A place is a row of numbers: its core without stays and clocks, what of its past is not counted (the *rest*), and what memories, clocks
and stays count, several in a word.  What a tick makes of it does not depend on these counts but on what kind they are of, so it is
looked up: places with the same core, rest and kinds of counts are one *case*.  What is not known yet is asked for, and the place
comes up again.
"""

from __future__ import annotations

import numpy as np

from leanstep.core.jit import kernel, part, where
from leanstep.core.proof.search.table_arrays import (
    CHOICES,
    CORE,
    POSITION,
    REST,
    TRUST,
    Counts,
    Facts,
    Found,
    Sizes,
    lying,
)

STAND, CASE = 1 << 60, 2 << 60
"""What is looked up: where a core stands whose clocks and stays are of such kinds, and the case of where it stands and a rest."""

RESTS = 1 << 30
"""More rests than there are."""

ALL = -1
"""Instead of how much outcomes trust: gone on by all of them."""

WENT_ON, FOUND, STUCK = 0, 1, 2
"""Everything was gone on from as far as it is known how; a wanted view was come to; a place has no next tick."""


@kernel
def mixed(hashed: int, more: int) -> int:  # pragma: no cover
    """A hash of one more number."""
    hashed = (hashed ^ more) * 0x2545F4914F6CDD1D
    return hashed ^ (hashed >> 29)


@kernel
def known(keys: np.ndarray, values: np.ndarray, last: int, one: int, two: int) -> int:  # pragma: no cover
    """What is known of two numbers, up to the ``last`` of keys and values, by where they lie; -1 if nothing is."""
    at = mixed(mixed(0, one), two) & last
    while values[at] >= 0:
        if keys[2 * at] == one and keys[2 * at + 1] == two:
            value: int = values[at]
            return value
        at = (at + 1) & last
    return -1


@kernel
def note(keys: np.ndarray, values: np.ndarray, some: np.ndarray) -> None:  # pragma: no cover
    """Note what is known: rows of two numbers and a third."""
    mask = len(values) - 1
    for row in range(len(some)):
        at = mixed(mixed(0, some[row, 0]), some[row, 1]) & mask
        while values[at] >= 0:
            at = (at + 1) & mask
        keys[at, 0], keys[at, 1], values[at] = some[row, 0], some[row, 1], some[row, 2]


@kernel
def slot_of(rows: np.ndarray, slots: np.ndarray, last: int, row: np.ndarray, width: int) -> int:  # pragma: no cover
    """Where the number of a row is, or would be, in slots up to the ``last``; all by where they lie."""
    hashed = 0
    for column in range(width):
        hashed = mixed(hashed, row[column])
    at = hashed & last
    while slots[at] >= 0:
        there, column = slots[at] * width, 0
        while column < width and rows[there + column] == row[column]:
            column += 1
        if column == width:
            break
        at = (at + 1) & last
    return at


@kernel
def hashed_again(found: Found, slots: np.ndarray) -> None:  # pragma: no cover
    """Hash all places anew into more slots."""
    rows, row, width = where(found.rows), np.empty(found.rows.shape[1], np.int64), found.rows.shape[1]
    for number in range(found.size[0]):
        for column in range(width):
            row[column] = found.rows[number, column]
        slots[slot_of(rows, where(slots), len(slots) - 1, where(row), width)] = number


@part
def kind_of(facts: Facts, sizes: Sizes, core: int, count: int) -> int:  # pragma: no cover
    """Where in the kinds those of a count are, in a core."""
    moved = count - sizes.counts + sizes.stays
    place: int = facts.counts.kind[count] if moved < 0 else facts.staying[core * sizes.stays + moved]
    return place


@part
def value_of(counts: Counts, row: np.ndarray, at: int, count: int) -> int:  # pragma: no cover
    """What a count is in the row that begins at ``at``."""
    value: int = row[at + 2 + counts.word[count]] >> counts.shift[count] & counts.mask[count]
    return value


@part
def case_of(
    facts: Facts, found: Found, sizes: Sizes, number: int, turns: np.ndarray
) -> tuple[int, int]:  # pragma: no cover
    """The case of a place (-1: not known), and where it was not looked up before the kinds of its counts as bits, as far as they are
    read where that is known; ``turns`` gets where in the steps what comes after each count is."""
    counts, at, bits, case = facts.counts, number * sizes.width, 0, found.cases[number]
    core = found.rows[at]
    for count in range(sizes.counts):
        value = value_of(counts, found.rows, at, count)
        turns[count] = counts.offset[count] + counts.width[count] * value
        if case < 0:
            bits |= counts.kinds[kind_of(facts, sizes, core, count) + value]
    if case < 0:
        stand = known(facts.keys, facts.values, sizes.last, STAND | core, bits & counts.told[0])
        if stand >= 0:
            bits &= facts.read[stand]
            key = CASE | stand * RESTS | found.rows[at + 1]
            case = found.cases[number] = known(facts.keys, facts.values, sizes.last, key, bits)
    return case, bits


@part
def after(facts: Facts, sizes: Sizes, outcome: int, turns: np.ndarray, then: np.ndarray) -> None:  # pragma: no cover
    """Put what an outcome makes of a place into ``then``."""
    counts, way = facts.counts, outcome * sizes.columns
    then[0], then[1] = facts.ways[way + CORE], facts.ways[way + REST]
    for column in range(2, sizes.width):
        then[column] = 0
    for count in range(sizes.counts):
        step = counts.steps[turns[count] + facts.ways[way + CHOICES + count]]
        then[2 + counts.word[count]] |= step << counts.shift[count]


@kernel
def go_on(
    facts: Facts,
    found: Found,
    todo: np.ndarray,
    wanted: np.ndarray,
    trust: int,
    again: np.ndarray,
    asked: np.ndarray,
) -> tuple[int, int, int, int, int]:  # pragma: no cover
    """Go on from the places ``todo`` by outcomes that ``trust`` in so much, until there is no room for more, too much is not known, or
    one has a ``wanted`` view.

    Returns how many were looked at, how many of these have to be looked at ``again`` because their case is not known, how many cases
    are ``asked`` about (a place of each, its core, rest, and the kinds of its counts), how it ended, and with which place.
    """
    laid, there, sizes = lying(facts, found)
    then, turns = np.zeros(sizes.width, np.int64), np.zeros(sizes.counts, np.int64)
    width, last = sizes.width, len(found.slots) - 1
    missed = cases = 0
    for done in range(len(todo)):
        number = todo[done]
        case, bits = case_of(laid, there, sizes, number, where(turns))
        if case < 0:
            if cases == len(asked):
                return done, missed, cases, WENT_ON, -1
            again[missed] = number
            missed += 1
            core, rest, at = there.rows[number * width], there.rows[number * width + 1], 0
            while at < cases and (asked[at, 1] != core or asked[at, 2] != rest or asked[at, 3] != bits):
                at += 1
            if at == cases:
                asked[at, 0], asked[at, 1], asked[at, 2], asked[at, 3] = number, core, rest, bits
                cases += 1
            continue
        view, begin, end = laid.views[case], laid.begin[case], laid.begin[case + 1]
        if there.size[0] + end - begin > len(found.parent):
            return done, missed, cases, WENT_ON, -1
        if there.first[view] < 0 or number < there.first[view]:
            there.first[view] = number
        if wanted[view]:
            return done, missed, cases, FOUND, number
        if begin == end:
            return done, missed, cases, STUCK, number
        for outcome in range(begin, end):
            if trust != ALL and trust != laid.ways[outcome * sizes.columns + TRUST]:
                continue
            after(laid, sizes, outcome, where(turns), where(then))
            slot = slot_of(there.rows, there.slots, last, where(then), width)
            if there.slots[slot] < 0:
                fresh = there.size[0]
                there.slots[slot], there.parent[fresh] = fresh, number
                for column in range(width):
                    there.rows[fresh * width + column] = then[column]
                there.position[fresh] = laid.ways[outcome * sizes.columns + POSITION]
                there.size[0] = fresh + 1
    return len(todo), missed, cases, WENT_ON, -1


@part
def kin_of(facts: Facts, sizes: Sizes, alike: np.ndarray, row: np.ndarray, kin: np.ndarray) -> None:  # pragma: no cover
    """Put a place into ``kin`` with its counts as those that are ``alike``, by where in ``kinds`` they are."""
    counts, core = facts.counts, row[0]
    kin[0], kin[1] = core, row[1]
    for column in range(2, sizes.width):
        kin[column] = 0
    for count in range(sizes.counts):
        same = alike[kind_of(facts, sizes, core, count) + value_of(counts, row, 0, count)]
        kin[2 + counts.word[count]] |= same << counts.shift[count]


@kernel
def entries(
    facts: Facts,
    found: Found,
    since: int,
    within: np.ndarray,
    enters: np.ndarray,
    alike: np.ndarray,
    kins: np.ndarray,
    slots: np.ndarray,
    done: np.ndarray,
    some: np.ndarray,
) -> tuple[bool, int]:  # pragma: no cover
    """The ways by outcomes that ``enters`` says, which are ``within`` some cases: the place, the position there, and the place after,
    each in a row of ``some``, nearest first; those with the same case and a place after that is ``alike`` only once, by what is
    ``done``, and not those that were there when so many places were (``since``).  ``kins`` and ``slots`` get the places after.
    Returns whether there is room for all, and how many they are."""
    laid, there, sizes = lying(facts, found)
    then, turns = np.zeros(sizes.width, np.int64), np.zeros(sizes.counts, np.int64)
    kin, width, count, mask, others = np.zeros(sizes.width, np.int64), sizes.width, 0, len(done) - 1, 0
    for number in range(there.size[0]):
        if there.cases[number] >= 0 and not within[there.cases[number]]:
            continue
        case, _ = case_of(laid, there, sizes, number, where(turns))
        begin, end = (laid.begin[case], laid.begin[case + 1]) if case >= 0 else (0, 0)
        if count + end - begin > len(some):
            return False, count
        for outcome in range(begin, end):
            if not enters[outcome]:
                continue
            after(laid, sizes, outcome, where(turns), where(then))
            kin_of(laid, sizes, where(alike), where(then), where(kin))
            slot = slot_of(where(kins), where(slots), len(slots) - 1, where(kin), width)
            other = slots[slot]
            at = mixed(mixed(0, outcome), other if other >= 0 else others) & mask
            while done[at, 0] and (done[at, 0] != outcome + 1 or done[at, 1] != other):
                at = (at + 1) & mask
            if done[at, 0]:
                continue
            place = there.slots[slot_of(there.rows, there.slots, len(found.slots) - 1, where(then), width)]
            if place < 0 or (place < since and number < since):
                continue
            if other < 0:
                slots[slot] = other = others
                for column in range(width):
                    kins[others, column] = kin[column]
                others += 1
            done[at, 0], done[at, 1] = outcome + 1, other
            some[count, 0], some[count, 1] = number, laid.ways[outcome * sizes.columns + POSITION]
            some[count, 2] = place
            count += 1
    return True, count
