"""Short stays as arrays, and a chain of them that is being followed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

import numpy as np

from leanstep.core.proof.values.predicates import Masks

FAR = 1 << 60
"""More ticks than anything takes."""

WORD = 62
"""Bits of a box that are kept in one word."""


class Links(NamedTuple):
    """Stays as arrays.  Those that begin in place p are ``begin[p]`` up to ``begin[p + 1]``; a stay leads to the place
    ``after`` (-1: none of these), takes ``ticks``, passes a place that is ``depth`` ticks from the start, and ends in the
    state ``target``.  ``boxes`` has its values, one row a stay, and ``symbol`` what each column is about, in order."""

    begin: np.ndarray
    after: np.ndarray
    ticks: np.ndarray
    depth: np.ndarray
    target: np.ndarray
    boxes: np.ndarray
    symbol: np.ndarray


def words(boxes: Sequence[Masks]) -> tuple[np.ndarray, np.ndarray]:
    """Boxes as rows of words, and the symbol each column is about: first those that most of all tell boxes apart, without
    those that tell no two apart."""
    sets = [(symbol, masks) for symbol, masks in enumerate(zip(*boxes)) if len(set(masks)) > 1]
    columns, symbols = [], []
    for symbol, masks in sorted(sets, key=lambda one: _share(one[1])):
        for at in range(0, max(mask.bit_length() for mask in masks), WORD):
            columns.append([mask >> at & (1 << WORD) - 1 for mask in masks])
            symbols.append(symbol)
    shape = (len(boxes), len(columns))
    return np.array(columns, np.int64).reshape(shape[::-1]).T.copy(), np.array(symbols, np.int64)


def _share(masks: Sequence[int]) -> float:
    """How much of all its regions a symbol's sets have on average."""
    return sum(mask.bit_count() for mask in masks) / max(mask.bit_length() for mask in masks)


@dataclass
class Path:
    """A chain that is being followed from a place, one stay a level, so that the search can go on after it has shown
    one.  ``boxes`` has the values before each stay."""

    stays: np.ndarray
    tried: np.ndarray
    boxes: np.ndarray
    on: np.ndarray
    level: np.ndarray = field(default_factory=lambda: np.full(1, -1, np.int64))

    @classmethod
    def over(cls, links: Links) -> Path:
        """A path that can be followed through all of these stays' places."""
        places = len(links.begin)
        return cls(
            np.zeros(places, np.int64),
            np.zeros(places, np.int64),
            np.zeros((places + 1, links.boxes.shape[1]), np.int64),
            np.zeros(places, np.bool_),
        )
