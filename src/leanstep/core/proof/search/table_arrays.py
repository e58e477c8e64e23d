"""The numbers that the kernels of tables read and write, as arrays and, within the kernels, as where these lie."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from leanstep.core.jit import part, where

TRUST, POSITION, CORE, REST, CHOICES = range(5)
"""Columns of what is known of outcomes."""


class Counts(NamedTuple):
    """How counts are written and go on.  By count (memories first, then clocks, then stays): the ``word`` of a row it is in, by how
    many bits it is ``shift``ed there, the ``mask`` of its bits, how many values it has (``radix``); where in ``kinds`` it is said of
    what kind each value is (``kind``; of stays that depends on the core), as bits of a number; and where in ``steps`` what comes after
    it (``offset``), by each of so many choices (``width``).  ``told`` are the bits that tell where a core stands."""

    word: np.ndarray
    shift: np.ndarray
    mask: np.ndarray
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
    """Places that were come to, nearest first, ``size[0]`` of them: ``rows`` of numbers, their case as far as it was looked up
    (``cases``, else -1), the place before (``parent``), the outcome's ``position`` there, and their hashes (``slots``).  ``first`` is
    the first place with each view, -1 where there is none."""

    rows: np.ndarray
    cases: np.ndarray
    parent: np.ndarray
    position: np.ndarray
    slots: np.ndarray
    first: np.ndarray
    size: np.ndarray


class Sizes(NamedTuple):
    """How many numbers rows have (``width``), how many ``counts`` there are, how many of them are of ``stays``, how many numbers ways
    have (``columns``), and the ``last`` place of what is looked up."""

    width: int
    counts: int
    stays: int
    columns: int
    last: int


@part
def lying(facts: Facts, found: Found) -> tuple[Facts, Found, Sizes]:  # pragma: no cover
    """Where the numbers lie, one row after the other, and how many they are: handing on these costs nothing."""
    counts = facts.counts
    there = Counts(
        where(counts.word),
        where(counts.shift),
        where(counts.mask),
        where(counts.radix),
        where(counts.kind),
        where(counts.kinds),
        where(counts.offset),
        where(counts.width),
        where(counts.steps),
        where(counts.told),
    )
    known_there = Facts(
        there,
        where(facts.staying),
        where(facts.read),
        where(facts.views),
        where(facts.begin),
        where(facts.ways),
        where(facts.keys),
        where(facts.values),
    )
    found_there = Found(
        where(found.rows),
        where(found.cases),
        where(found.parent),
        where(found.position),
        where(found.slots),
        where(found.first),
        where(found.size),
    )
    sizes = Sizes(
        found.rows.shape[1], len(counts.word), facts.staying.shape[1], facts.ways.shape[1], len(facts.values) - 1
    )
    return known_there, found_there, sizes
