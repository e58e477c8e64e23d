"""Playheads that come to too many places to be followed.

A playhead goes on by whole ticks.  In a clip that repeats and lasts no whole number of ticks it comes somewhere else on every
lap; where transitions keep the phase between clips of different lengths, it is rounded on every one, and comes to be almost
anywhere.  Where a clip is then is left open in proofs, as it is where a parameter paces it.
"""

from __future__ import annotations

import math
from dataclasses import replace

from leanstep.core.clips.timing import TICK
from leanstep.core.graph.clip_tables import Reel
from leanstep.core.proof.reduce.slices import Slice, reachable_from


def without_strays(part: Slice, places: int) -> Slice:
    """The slice with the playheads left open that come to more ``places``, besides four for each tick of their clip."""
    machine = part.machine
    lost = {layer: _straying(part, layer, places) for layer in part.layers}
    if not any(lost.values()):
        return part
    pictures = tuple(
        tuple(
            replace(picture, strays=True) if picture is not None and state in lost.get(layer, ()) else picture
            for state, picture in enumerate(row)
        )
        for layer, row in enumerate(machine.pictures)
    )
    return Slice(replace(machine, pictures=pictures), part.layers)


def _straying(part: Slice, layer: int, places: int) -> set[int]:
    """The states of a layer whose playheads come to too many places, or are kept from one that is not followed."""
    pictures, kept = part.machine.pictures[layer], part.machine.layers[layer].kept_phases
    reels = part.reels_followed(layer)
    most = {at: places + 4 * reel.timing.ticks for at, reel in reels.items()}
    lost = {
        at
        for at, reel in reels.items()
        if reel.timing.repeats
        and reel.timing.lap // math.gcd(reel.timing.lap, TICK) > most[at]
        and part.reads_playhead(layer, reel)
    }
    onward = {at: [to for source, to in kept if source == at and to in reels] for at in range(len(pictures))}
    lost |= {to for at, row in onward.items() if pictures[at] is not None and at not in reels for to in row}
    seen: dict[int, set[int]] = {at: {0} for pair in kept for at in pair if at in reels}
    waiting = [(at, 0) for at in seen]
    while waiting:
        at, playhead = waiting.pop()
        if at in lost:
            continue
        reel = reels[at]
        after = [
            (at, reel.timing.step(playhead)[0]),
            *((to, _rescaled(playhead, reel, reels[to])) for to in onward[at]),
        ]
        for to, there in after:
            if there not in seen[to]:
                seen[to].add(there)
                waiting.append((to, there))
                if len(seen[to]) > most[to]:
                    lost.add(to)
    return reachable_from(lost, {(at, to) for at, row in onward.items() for to in row})


def _rescaled(playhead: int, old: Reel, new: Reel) -> int:
    """The playhead at the same share of another clip, as a kept phase begins it."""
    return new.timing.folded(playhead * new.timing.length // old.timing.length)
