"""How near playing came to a state it never reached: the fewest ways left, then the fewest parts of a condition that were false."""

from __future__ import annotations

from collections import deque

from leanstep.core.findings.evidence import Evidence
from leanstep.core.rehearsal.answers import Answers, WayIn
from leanstep.core.rehearsal.takes import recorded, rehearse
from leanstep.core.wording import counted

WAITS = 40
"""Ticks for which it is waited in a state that was reached, with what is held kept."""
EVERY = 4
"""Of these ticks every fourth is asked."""
MOST_STATES = 3
"""States as near that are asked."""


def nearest_approach(evidence: Evidence, layer: int, wanted: int) -> str:
    """Where playing came nearest to a state, and what the next way asks for there, in a sentence; empty where nothing that was played
    leads there."""
    body, table = evidence.body, evidence.machine.layers[layer]
    if body is None:
        return ""
    left = _ways_left(evidence, layer, wanted)
    reached = [state for at, state in body.states if at == layer and state in left]
    if not reached:
        return ""
    fewest = min(left[state] for state in reached)
    best: tuple[int, str, WayIn] | None = None
    for state in sorted(state for state in reached if left[state] == fewest)[:MOST_STATES]:
        for way in _ways_on(evidence, layer, state, left):
            if way.missing and (best is None or len(way.missing[0]) < best[0]):
                best = len(way.missing[0]), table.states[state], way
    if best is None:
        return ""
    _, state_name, way = best
    return f"It came nearest in {state_name}, {counted(fewest, 'way')} from there: {way.name} asks for: {way.asks}."


def _ways_left(evidence: Evidence, layer: int, wanted: int) -> dict[int, int]:
    """By state, the ways that lead from it to the one wanted at the fewest."""
    ways = evidence.machine.layers[layer].ways
    left, due = {wanted: 0}, deque([wanted])
    while due:
        here = due.popleft()
        for state, row in enumerate(ways):
            if state not in left and any(way.target == here for way in row):
                left[state] = left[here] + 1
                due.append(state)
    return left


def _ways_on(evidence: Evidence, layer: int, state: int, left: dict[int, int]) -> list[WayIn]:
    """What was asked of the ways one step nearer, on some ticks after a state was reached."""
    body, machine = evidence.body, evidence.machine
    assert body is not None
    rows = [dict(row) for row in body.states[layer, state]]
    kept = {at: value for at, value in (rows[-1] if rows else {}).items() if machine.symbols[at].lasts}
    take = recorded(machine, "nearest", [*rows, *(dict(kept) for _ in range(WAITS))])
    answers = Answers(rehearse(machine, take), take)
    found: list[WayIn] = []
    for tick in range(len(rows), len(rows) + WAITS, EVERY):
        if answers.tried(tick, layer).states[layer] == state:
            for target, ways in left.items():
                if ways == left[state] - 1:
                    found += answers.why_not(tick, layer, target).ways
    return found
