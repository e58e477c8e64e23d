"""Closed chains of short stays, followed depth first in compiled code.

Values lead from a place along one chain only: a chain that comes back to a place of its own, but not to its first, is
given up.
"""

from __future__ import annotations

import numpy as np

from leanstep.core.jit import kernel, where
from leanstep.core.proof.verdicts.chains import FAR, Links


@kernel
def follow(
    links: Links,
    first: int,
    last: int,
    home: np.ndarray,
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

    It has to close by the stay ``last`` (-1: by any), whose values it has from the outset.  ``home`` has the fewest ticks
    back to the first place, or FAR for places that may not be passed.  Chains of more than ``limit`` ticks are given up, and
    so are those that cannot be shown in fewer than ``most`` because none of their places is nearer than ``least``.
    ``mixed``: chains of one state do not count.  Returns whether one closed, whether any was given up for the limit, and how
    many of the ``left`` stays are left.
    """
    cut = False
    width = links.boxes.shape[1]
    begin, afters, lengths, targets = where(links.begin), where(links.after), where(links.ticks), where(links.target)
    values, symbol, so_far = where(links.boxes), where(links.symbol), where(boxes)
    at = level[0]
    if at < 0:
        at = 0
        tried[0] = begin[first]
        on[first] = True
        for column in range(width):
            so_far[column] = values[last * width + column] if last >= 0 else -1
    ticks = 0
    for step in range(at):
        ticks += lengths[stays[step]]
    while at >= 0:
        place = first if at == 0 else afters[stays[at - 1]]
        stay = tried[at]
        if stay == begin[place + 1] or left <= 0:
            on[place] = False
            at -= 1
            if at >= 0:
                ticks -= lengths[stays[at]]
            continue
        tried[at] += 1
        left -= 1
        after = afters[stay]
        if after < 0 or home[after] == FAR or (on[after] and after != first) or (after == first and stay != last >= 0):
            continue
        longer = ticks + lengths[stay]
        whole = longer if after == first else longer + home[after]
        if whole + least >= most:
            continue
        if whole > limit:
            cut = True
            continue
        some = True
        for column in range(width):
            if column == 0 or symbol[column] != symbol[column - 1]:
                if not some:
                    break
                some = False
            both = values[stay * width + column] & so_far[at * width + column]
            so_far[(at + 1) * width + column] = both
            some = some or both != 0
        if not some:
            continue
        stays[at] = stay
        if after != first:
            ticks = longer
            at += 1
            tried[at] = begin[after]
            on[after] = True
            continue
        depth = FAR
        sooner = False
        single = True
        for step in range(at + 1):
            depth = min(depth, links.depth[stays[step]])
            single = single and targets[stays[step]] == targets[stays[0]]
        for step in range(at + 1):
            sooner = sooner or depth + longer < best[targets[stays[step]]]
        if sooner and single != mixed:
            level[0] = at
            return True, cut, left
    level[0] = -1
    return False, cut, left


@kernel
def back(links: Links, first: int, allowed: np.ndarray) -> np.ndarray:  # pragma: no cover
    """The fewest ticks from every place back to ``first`` through ``allowed`` ones, whatever the values; FAR from those that
    ``first`` does not lead to, or that do not lead back."""
    places = len(allowed)
    ahead = np.zeros(places, np.bool_)
    waiting = np.empty(places, np.int64)
    ahead[first] = True
    waiting[0] = first
    done, found = 0, 1
    while done < found:
        place = waiting[done]
        done += 1
        for stay in range(links.begin[place], links.begin[place + 1]):
            after = links.after[stay]
            if after >= 0 and allowed[after] and not ahead[after]:
                ahead[after] = True
                waiting[found] = after
                found += 1
    ticks = np.full(places, FAR)
    changed = True
    while changed:
        changed = False
        for at in range(found - 1, -1, -1):
            place = waiting[at]
            for stay in range(links.begin[place], links.begin[place + 1]):
                after = links.after[stay]
                if after < 0 or not ahead[after]:
                    continue
                way = links.ticks[stay] + (0 if after == first else ticks[after])
                if way < ticks[place]:
                    ticks[place] = way
                    changed = True
    return ticks
