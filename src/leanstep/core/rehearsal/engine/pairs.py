"""Two figures in the compiled engine as the rest of the program sees them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from leanstep.core.rehearsal.contact import Figure, Side
from leanstep.core.rehearsal.engine.engine import Engine, Part
from leanstep.core.rehearsal.engine.pair_playing import TOUCHED, play_pair
from leanstep.core.rehearsal.situation import Setting


@dataclass(frozen=True)
class PairPart:
    """What two figures did on some ticks; ``touches`` are rows of tick, who strikes, layer, and 1 for a hit or 2 for guarded."""

    parts: tuple[Part, Part]
    touches: np.ndarray


def play_both(
    figures: tuple[Figure, Figure],
    sides: tuple[Side, Side],
    changes: tuple[Sequence[Setting], Sequence[Setting]],
    ticks: int,
) -> PairPart:
    """Play two figures from where they stand, before anything has touched, with the changes of each in the order of their ticks.

    Raises
    ------
    Unfit : some number of a machine is too large for the tables.
    """
    engines = [Engine(figure.machine) for figure in figures]
    starts = [engine.moving(engine.rows(side.situation)) for engine, side in zip(engines, sides)]
    due = [engine.changes(some) for engine, some in zip(engines, changes)]
    made = []
    for engine in engines:
        counts, values = engine.first
        made.append(
            (
                np.empty((ticks, len(counts)), np.int64),
                np.empty((ticks, len(values))),
                np.empty((ticks, len(engine.machine.layers)), np.int64),
            )
        )
    told = np.zeros((max(1, 2 * ticks * max(len(engine.machine.layers) for engine in engines)), TOUCHED), np.int64)
    scales = (*figures[0].scale, *figures[1].scale)
    met = play_pair(
        engines[0].laid.tables,
        engines[1].laid.tables,
        (float(scales[0]), float(scales[1]), float(scales[2]), float(scales[3])),
        (*starts[0], *starts[1]),
        (*due[0], *due[1]),
        (*made[0], *made[1]),
        told,
    )
    parts = [Part(*one, {}, {}) for one in made]
    return PairPart((parts[0], parts[1]), told[:met])
