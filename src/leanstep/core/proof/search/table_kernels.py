"""Breadth first through what ticks make of places, all of them numbers, in compiled code.

A place is a row of numbers: its core without stays and clocks, what of its past is not counted (the *rest*), and what memories, clocks
and stays count, several in a word.  What a tick makes of it does not depend on these counts but on what kind they are of, so it is
looked up: places with the same core, rest and kinds of counts are one *case*.  What is not known yet is asked for, and the place
comes up again.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from leanstep.core.jit import kernel

STAND, CASE = 1 << 60, 2 << 60
"""What is looked up: where a core stands whose clocks and stays are of such kinds, and the case of where it stands and a rest."""

TRUST, POSITION, CORE, REST, CHOICES = range(5)
"""Columns of what is known of outcomes."""

RESTS = 1 << 30
"""More rests than there are."""

ALL = -1
"""Instead of how much outcomes trust: gone on by all of them."""

WENT_ON, FOUND, STUCK = 0, 1, 2
"""Everything was gone on from as far as it is known how; a wanted view was come to; a place has no next tick."""


class Counts(NamedTuple):
    """How counts are written and go on.  By count (memories first, then clocks, then stays): the ``word`` of a row it is in, times
    what (``stride``), of how many values (``radix``); where in ``kinds`` it is said of what kind each value is (``kind``; of stays
    that depends on the core), as bits of a number; and where in ``steps`` what comes after it (``offset``), by each of so many
    choices (``width``).  ``told`` are the bits that tell where a core stands."""

    word: np.ndarray
    stride: np.ndarray
    radix: np.ndarray
    kind: np.ndarray
    kinds: np.ndarray
    offset: np.ndarray
    width: np.ndarray
    steps: np.ndarray
    told: np.ndarray


class Facts(NamedTuple):
    """What is known of ticks.  By core and layer where in ``kinds`` those of its stays are (``staying``).  By where cores stand: the
    kinds that are ``read``.  By case: its view (``views``), and where its outcomes ``begin``.  ``ways`` has a row for each
    outcome, those of a case that trust in least first: in how much of what is open it has to trust, its position among the outcomes of
    the view, the core and the rest after it, and the choice of each count.  ``keys`` and ``values`` are what is looked up, by
    hashes."""

    counts: Counts
    staying: np.ndarray
    read: np.ndarray
    views: np.ndarray
    begin: np.ndarray
    ways: np.ndarray
    keys: np.ndarray
    values: np.ndarray


class Found(NamedTuple):
    """Places that were come to, nearest first, ``size[0]`` of them: ``rows`` of numbers, the place before (``parent``), the outcome's
    ``position`` there, and their hashes (``slots``).  ``first`` is the first place with each view, -1 where there is none."""

    rows: np.ndarray
    parent: np.ndarray
    position: np.ndarray
    slots: np.ndarray
    first: np.ndarray
    size: np.ndarray


@kernel
def mixed(hashed: int, more: int) -> int:  # pragma: no cover
    """A hash of one more number."""
    hashed = (hashed ^ more) * 0x2545F4914F6CDD1D
    return hashed ^ (hashed >> 29)


@kernel
def known(keys: np.ndarray, values: np.ndarray, one: int, two: int) -> int:  # pragma: no cover
    """What is known of two numbers; -1 if nothing is."""
    mask = len(values) - 1
    at = mixed(mixed(0, one), two) & mask
    while values[at] >= 0:
        if keys[at, 0] == one and keys[at, 1] == two:
            value: int = values[at]
            return value
        at = (at + 1) & mask
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
def slot_of(rows: np.ndarray, slots: np.ndarray, row: np.ndarray) -> int:  # pragma: no cover
    """Where the number of a place is, or would be."""
    mask, hashed, width = len(slots) - 1, 0, len(row)
    for column in range(width):
        hashed = mixed(hashed, row[column])
    at = hashed & mask
    while slots[at] >= 0:
        column = 0
        while column < width and rows[slots[at], column] == row[column]:
            column += 1
        if column == width:
            break
        at = (at + 1) & mask
    return at


@kernel
def hashed_again(found: Found, slots: np.ndarray) -> None:  # pragma: no cover
    """Hash all places anew into more slots."""
    row = np.empty(found.rows.shape[1], np.int64)
    for number in range(found.size[0]):
        for column in range(len(row)):
            row[column] = found.rows[number, column]
        slots[slot_of(found.rows, slots, row)] = number


@kernel
def case_of(facts: Facts, rows: np.ndarray, number: int, shown: np.ndarray) -> tuple[int, int]:  # pragma: no cover
    """The case of a place (-1: not known), and the kinds of its counts as bits, as far as they are read where that is known; ``shown``
    gets the counts."""
    counts, core, bits = facts.counts, rows[number, 0], 0
    others = len(shown) - facts.staying.shape[1]
    for count in range(len(shown)):
        value = rows[number, 2 + counts.word[count]] // counts.stride[count] % counts.radix[count]
        shown[count] = value
        kind = counts.kind[count] if count < others else facts.staying[core, count - others]
        bits |= counts.kinds[kind + value]
    stand = known(facts.keys, facts.values, STAND | core, bits & counts.told[0])
    if stand < 0:
        return -1, bits
    bits &= facts.read[stand]
    return known(facts.keys, facts.values, CASE | stand * RESTS | rows[number, 1], bits), bits


@kernel
def after(facts: Facts, outcome: int, shown: np.ndarray, then: np.ndarray) -> None:  # pragma: no cover
    """Put what an outcome makes of a place into ``then``."""
    counts = facts.counts
    then[0], then[1] = facts.ways[outcome, CORE], facts.ways[outcome, REST]
    for column in range(2, len(then)):
        then[column] = 0
    for count in range(len(shown)):
        step = counts.offset[count] + counts.width[count] * shown[count] + facts.ways[outcome, CHOICES + count]
        then[2 + counts.word[count]] += counts.steps[step] * counts.stride[count]


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
    rows, slots, first = found.rows, found.slots, found.first
    then, shown = np.zeros(rows.shape[1], np.int64), np.zeros(len(facts.counts.word), np.int64)
    missed = cases = 0
    for done in range(len(todo)):
        number = todo[done]
        case, bits = case_of(facts, rows, number, shown)
        if case < 0:
            if cases == len(asked):
                return done, missed, cases, WENT_ON, -1
            again[missed] = number
            missed += 1
            core, rest, at = rows[number, 0], rows[number, 1], 0
            while at < cases and (asked[at, 1] != core or asked[at, 2] != rest or asked[at, 3] != bits):
                at += 1
            if at == cases:
                asked[at, 0], asked[at, 1], asked[at, 2], asked[at, 3] = number, core, rest, bits
                cases += 1
            continue
        view, begin, end = facts.views[case], facts.begin[case], facts.begin[case + 1]
        if found.size[0] + end - begin > len(found.parent):
            return done, missed, cases, WENT_ON, -1
        if first[view] < 0 or number < first[view]:
            first[view] = number
        if wanted[view]:
            return done, missed, cases, FOUND, number
        if begin == end:
            return done, missed, cases, STUCK, number
        for outcome in range(begin, end):
            if trust != ALL and trust != facts.ways[outcome, TRUST]:
                continue
            after(facts, outcome, shown, then)
            slot = slot_of(rows, slots, then)
            if slots[slot] < 0:
                fresh = found.size[0]
                slots[slot] = fresh
                for column in range(len(then)):
                    rows[fresh, column] = then[column]
                found.parent[fresh], found.position[fresh] = number, facts.ways[outcome, POSITION]
                found.size[0] = fresh + 1
    return len(todo), missed, cases, WENT_ON, -1


@kernel
def kin_of(facts: Facts, alike: np.ndarray, row: np.ndarray, kin: np.ndarray) -> None:  # pragma: no cover
    """Put a place into ``kin`` with its counts as those that are ``alike``, by where in ``kinds`` they are."""
    counts = facts.counts
    others = len(counts.word) - facts.staying.shape[1]
    kin[0], kin[1] = row[0], row[1]
    for column in range(2, len(kin)):
        kin[column] = 0
    for count in range(len(counts.word)):
        value = row[2 + counts.word[count]] // counts.stride[count] % counts.radix[count]
        kind = counts.kind[count] if count < others else facts.staying[row[0], count - others]
        kin[2 + counts.word[count]] += alike[kind + value] * counts.stride[count]


@kernel
def entries(
    facts: Facts,
    found: Found,
    since: int,
    enters: np.ndarray,
    alike: np.ndarray,
    kins: np.ndarray,
    slots: np.ndarray,
    done: np.ndarray,
    some: np.ndarray,
) -> tuple[bool, int]:  # pragma: no cover
    """The ways by outcomes that ``enters`` says: the place, the position there, and the place after, each in a row of ``some``,
    nearest first; those with the same case and a place after that is ``alike`` only once, by what is ``done``, and not those that were
    there when so many places were (``since``).  ``kins`` and ``slots`` get the places after.  Returns whether there is room for all,
    and how many they are."""
    width = found.rows.shape[1]
    then, shown = np.zeros(width, np.int64), np.zeros(len(facts.counts.word), np.int64)
    count, mask, kin, others = 0, len(done) - 1, np.zeros(width, np.int64), 0
    for number in range(found.size[0]):
        case, _ = case_of(facts, found.rows, number, shown)
        begin, end = (facts.begin[case], facts.begin[case + 1]) if case >= 0 else (0, 0)
        if count + end - begin > len(some):
            return False, count
        for outcome in range(begin, end):
            if not enters[outcome]:
                continue
            after(facts, outcome, shown, then)
            place = found.slots[slot_of(found.rows, found.slots, then)]
            if place < 0 or (place < since and number < since):
                continue
            kin_of(facts, alike, then, kin)
            slot = slot_of(kins, slots, kin)
            if slots[slot] < 0:
                slots[slot] = others
                kins[others] = kin
                others += 1
            other = slots[slot]
            at = mixed(mixed(0, outcome), other) & mask
            while done[at, 0] >= 0 and (done[at, 0] != outcome or done[at, 1] != other):
                at = (at + 1) & mask
            if done[at, 0] < 0:
                done[at, 0], done[at, 1] = outcome, other
                some[count, 0], some[count, 1], some[count, 2] = number, facts.ways[outcome, POSITION], place
                count += 1
    return True, count
