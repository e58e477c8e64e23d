"""The log of states is what a list of all ticks would say."""

from __future__ import annotations

import random

import pytest

from leanstep.core.rehearsal.traces import Run
from leanstep.desk.state_log import StateLog


@pytest.mark.parametrize("seed", range(40))
def test_stays_and_transitions_are_those_of_all_ticks(seed: int) -> None:
    rng, log, rows = random.Random(seed), StateLog(), list[tuple[list[int], list[int]]]()
    layers = rng.randint(1, 3)
    states, often = [0] * layers, rng.choice([0.02, 0.2, 0.9])
    for _ in range(rng.choice([0, 1, 30, 200])):
        fired = [rng.randrange(4) if rng.random() < often else -1 for _ in states]
        states = [rng.randrange(3) if way >= 0 else state for state, way in zip(states, fired)]
        rows.append((states, fired))
        log.add(states, fired)
    first = len(rows) - rng.randint(0, 150)
    for layer in range(layers):
        plain: list[Run] = []
        for tick in range(max(0, first), len(rows)):
            state, way = rows[tick][0][layer], rows[tick][1][layer]
            if plain and way < 0:
                plain[-1] = Run(state, plain[-1].start, tick + 1)
            else:
                plain.append(Run(state, tick, tick + 1))
        assert log.runs(layer, first) == plain
    recent = list(enumerate(rows))[max(0, first) :]
    assert log.taken(first) == {(at, way) for _, (_, fired) in recent for at, way in enumerate(fired) if way >= 0}
    since = [len(rows) - 1 - tick for tick, (_, fired) in enumerate(rows) if max(fired) >= 0]
    assert log.still == min(since, default=len(rows))
