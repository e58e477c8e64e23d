"""How often takes take each transition."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable

from leanstep.core.character.model import Take
from leanstep.core.deadline import look
from leanstep.core.errors import LeanStepError
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.takes import rehearse

MOST_TICKS = 20_000
"""Ticks of a take that are looked at."""


def taken(machine: Machine, takes: Iterable[Take]) -> Counter[tuple[int, int]]:
    """By layer and place in its list how often the takes take each transition; a take that cannot be played takes none."""
    found: Counter[tuple[int, int]] = Counter()
    for take in takes:
        look()
        try:
            trace = rehearse(machine, take, most=MOST_TICKS)
        except LeanStepError:
            continue
        for layer in range(len(machine.layers)):
            found.update((layer, trace.steps[tick].fired[layer]) for tick, _ in trace.entries(layer))
    return found
