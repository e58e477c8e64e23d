"""What states seem to expect, seen from the takes: a condition that held nearly always while they were shown."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field

from leanstep.core.findings.evidence import Evidence, check
from leanstep.core.findings.results import Finding
from leanstep.core.rehearsal.traces import Trace

NEARLY = 0.95
"""The share of the ticks a state is shown for which a flag has to be on (or off) to be expected."""

SHOWN = 1.0
"""Seconds a state has to be shown in all for that to tell anything."""

LONGEST = 20_000
"""Ticks of a take that are looked at."""


@dataclass
class _Seen:
    """How a flag was while a state was shown: ``ticks`` in all, on how many it was ``on``; and where it was off, or on, for
    longer than the state's grace: the take and the tick that began."""

    ticks: int = 0
    on: int = 0
    strays: dict[bool, list[tuple[str, int]]] = field(default_factory=lambda: {True: [], False: []})


@check
def offered(evidence: Evidence) -> Iterator[Finding]:
    """States that expect nothing although the takes show them under one condition nearly always, and otherwise for too long."""
    machine, rate = evidence.machine, evidence.character.rate
    flags = [index for index, one in enumerate(machine.symbols) if one.kind == "flag" and one.owner == "body"]
    drawn = any(picture is not None for row in machine.pictures for picture in row)
    for layer, table in enumerate(evidence.character.layers):
        for state, one in enumerate(table.states):
            # what shows nothing is not seen to be wrong
            if one.expects or (drawn and machine.pictures[layer][state] is None):
                continue
            grace = max(1, round(one.grace * rate))
            for index in flags:
                seen = _seen(evidence, layer, state, index, grace)
                if seen.ticks < SHOWN * rate:
                    continue
                for value, many in ((True, seen.on), (False, seen.ticks - seen.on)):
                    strays = seen.strays[value]
                    if strays and NEARLY * seen.ticks <= many < seen.ticks:
                        yield _offer(evidence, (table.name, one.name), machine.symbols[index].name, value, seen, many)


def _offer(evidence: Evidence, where: tuple[str, str], flag: str, value: bool, seen: _Seen, many: int) -> Finding:
    condition = flag if value else f"not {flag}"
    take, tick = seen.strays[value][0]
    seconds = (seen.ticks - many) / evidence.character.rate
    witness = next(one for one in evidence.character.takes if one.name == take)
    return Finding(
        "expectation.offered",
        "note",
        {"layer": where[0], "state": where[1], "take": take, "tick": tick, "expects": condition},
        f"{where[1]} was shown {seconds:.1f} s while {'not ' if value else ''}{flag}, and otherwise always "
        f"{'' if value else 'not '}{flag}: does it expect “{condition}”?",
        witness.world,
        "shown",
        witness,
        f"Look at tick {tick} of take {take}. Once it is expected, every take that breaks it is a finding.",
    )


def _seen(evidence: Evidence, layer: int, state: int, index: int, grace: int) -> _Seen:
    """How a flag was in all takes while a state was shown."""
    seen = _Seen()
    for name, trace in evidence.traces.items():
        if len(trace.steps) <= LONGEST:
            _look(trace, name, (layer, state, index), grace, seen)
    return seen


def _look(trace: Trace, name: str, what: tuple[int, int, int], grace: int, seen: _Seen) -> None:
    layer, state, index = what
    states: Sequence[int] = trace.states(layer)
    if state not in states:
        return
    since = {True: 0, False: 0}
    for tick, (now, value) in enumerate(zip(states, trace.curve(index))):
        if now != state:
            since = {True: 0, False: 0}
            continue
        on = bool(value)
        seen.ticks += 1
        seen.on += on
        # a stretch in which it is off strays from expecting it to be on
        since[not on] += 1
        since[on] = 0
        if since[not on] == grace + 1:
            seen.strays[not on].append((name, tick))
