"""Closed chains of short stays, followed depth first in compiled code.

Values lead from a place along one chain only: a chain that comes back to a place of its own, but not to its first, is
given up.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

import numpy as np

from leanstep.core.compiled import kernel
from leanstep.core.proof.regional import Masks

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
    """Boxes as rows of words, and the symbol each column is about; symbols that tell no two boxes apart are left out."""
    columns, symbols = [], []
    for symbol, masks in enumerate(zip(*boxes)):
        if len(set(masks)) > 1:
            for at in range(0, max(mask.bit_length() for mask in masks), WORD):
                columns.append([mask >> at & (1 << WORD) - 1 for mask in masks])
                symbols.append(symbol)
    shape = (len(boxes), len(columns))
    return np.array(columns, np.int64).reshape(shape[::-1]).T.copy(), np.array(symbols, np.int64)


@dataclass
class Path:
    """A chain that is being followed from a place, one stay a level, so that the search can go on after it has shown
    one."""

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
            np.zeros((places, links.boxes.shape[1]), np.int64),
            np.zeros(places, np.bool_),
        )


@kernel
def follow(
    links: Links,
    first: int,
    allowed: np.ndarray,
    best: np.ndarray,
    mixed: bool,
    limit: int,
    most: int,
    least: int,
    left: int,
    stays: np.ndarray,
    tried: np.ndarray,
    boxes: np.ndarray,
    on: np.ndarray,
    level: np.ndarray,
) -> tuple[bool, bool, int]:  # pragma: no cover
    """Go on until a chain closes that is shown sooner than ``best`` of one of its states.

    Only places ``allowed`` are passed, chains of more than ``limit`` ticks are given up, and so are those that cannot be
    shown in fewer than ``most`` because none of their places is nearer than ``least``.  ``mixed``: chains of one state
    do not count.  Returns whether one closed, whether any was given up for the limit, and how many of the ``left`` stays
    are left.
    """
    cut = False
    width = links.boxes.shape[1]
    at = level[0]
    if at < 0:
        at = 0
        tried[0] = links.begin[first]
        on[first] = True
    ticks = 0
    for step in range(at):
        ticks += links.ticks[stays[step]]
    while at >= 0:
        place = first if at == 0 else links.after[stays[at - 1]]
        stay = tried[at]
        if stay == links.begin[place + 1] or left <= 0:
            on[place] = False
            at -= 1
            if at >= 0:
                ticks -= links.ticks[stays[at]]
            continue
        tried[at] += 1
        left -= 1
        after = links.after[stay]
        if after < 0 or not allowed[after] or (on[after] and after != first):
            continue
        longer = ticks + links.ticks[stay]
        if longer + least >= most:
            continue
        if longer > limit:
            cut = True
            continue
        full = True
        some = True
        for column in range(width):
            both = links.boxes[stay, column]
            if at > 0:
                both &= boxes[at - 1, column]
            boxes[at, column] = both
            if column == 0 or links.symbol[column] != links.symbol[column - 1]:
                full = full and some
                some = False
            some = some or both != 0
        if not (full and some):
            continue
        stays[at] = stay
        if after != first:
            ticks = longer
            at += 1
            tried[at] = links.begin[after]
            on[after] = True
            continue
        depth = FAR
        sooner = False
        single = True
        for step in range(at + 1):
            depth = min(depth, links.depth[stays[step]])
            single = single and links.target[stays[step]] == links.target[stays[0]]
        for step in range(at + 1):
            sooner = sooner or depth + longer < best[links.target[stays[step]]]
        if sooner and single != mixed:
            level[0] = at
            return True, cut, left
    level[0] = -1
    return False, cut, left


@kernel
def around(links: Links, first: int, allowed: np.ndarray) -> np.ndarray:  # pragma: no cover
    """Those of the ``allowed`` places that lie on a cycle with one of them."""
    places = len(allowed)
    ahead = np.zeros(places, np.bool_)
    back = np.zeros(places, np.bool_)
    ahead[first] = back[first] = True
    for marks, forward in ((ahead, True), (back, False)):
        changed = True
        while changed:
            changed = False
            for place in range(places):
                if not allowed[place] or (forward and not marks[place]) or (not forward and marks[place]):
                    continue
                for stay in range(links.begin[place], links.begin[place + 1]):
                    after = links.after[stay]
                    if after < 0 or not allowed[after]:
                        continue
                    if forward and not marks[after]:
                        marks[after] = changed = True
                    elif not forward and marks[after]:
                        marks[place] = changed = True
                        break
    return ahead & back
