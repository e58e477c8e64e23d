"""What takes come to in two versions of a character: which expectations hold, and where they begin to do otherwise."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass

from leanstep.core.character.takes import Take
from leanstep.core.findings.evidence import played_takes
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.expectations import missed_expectations, unmet
from leanstep.core.rehearsal.traces import Trace
from leanstep.core.wording import listed

NAMED = 3
"""Takes that are named in a sentence; of more it is said how many there are."""


@dataclass(frozen=True)
class Outcome:
    """What a take comes to: what is expected of it, and of states in it, that it does not do; the states of each layer tick by tick;
    and the marks that fire."""

    unmet: frozenset[tuple[str, object]]
    states: tuple[tuple[str, ...], ...]
    marks: tuple[tuple[int, int, str], ...]


def outcomes(machine: Machine) -> dict[str, Outcome]:
    """What every take that a check plays comes to, by its name.

    Raises
    ------
    Stopped : somebody stopped the work under way.
    """
    traces = played_takes(machine, {})
    takes = (take for take in machine.character.takes if take.name in traces)
    return {take.name: _outcome(machine, take, traces[take.name]) for take in takes}


def _outcome(machine: Machine, take: Take, trace: Trace) -> Outcome:
    names = [layer.states for layer in machine.layers]
    missed: set[tuple[str, object]] = {("take", number) for number, _ in unmet(trace, take)}
    missed |= {("state", (one.layer, names[one.layer][one.state])) for one, _ in missed_expectations(trace)}
    states = tuple(tuple(names[layer][state] for state in trace.states(layer)) for layer in range(len(names)))
    return Outcome(frozenset(missed), states, tuple(trace.marks()))


def broken(before: dict[str, Outcome], after: dict[str, Outcome]) -> list[str]:
    """The takes of which something expected held before and does not after."""
    return [name for name, one in before.items() if name not in after or after[name].unmet - one.unmet]


def told(machine: Machine, before: dict[str, Outcome], after: dict[str, Outcome]) -> str:
    """What takes do otherwise, as a sentence; empty when they do the same."""
    found = list(_differences([layer.name for layer in machine.layers], before, after))
    more = len(found) - NAMED
    words = [*found[:NAMED], *([f"{more} more"] if more > 0 else [])]
    if not words:
        return ""
    return f"Take {words[0]} then goes otherwise." if len(words) == 1 else f"Takes {listed(words)} then go otherwise."


def _differences(layers: list[str], before: dict[str, Outcome], after: dict[str, Outcome]) -> Iterator[str]:
    for name in (name for name in before if name in after):
        found = first_difference(layers, before[name], after[name])
        if found is not None:
            yield f"{name} from tick {found[0]} on ({found[1]})"


def first_difference(layers: list[str], one: Outcome, other: Outcome) -> tuple[int, str] | None:
    """The first tick on which a take does otherwise, and what, in words; None where it does the same."""
    first = [
        (tick, layer, old, new)
        for layer, (olds, news) in enumerate(zip(one.states, other.states))
        for tick, (old, new) in enumerate(zip(olds, news))
        if old != new
    ]
    if first:
        tick, layer, old, new = min(first)
        where = f" in {layers[layer]}" if len(layers) > 1 else ""
        return tick, f"{new} instead of {old}{where}"
    fewer, more = Counter(one.marks) - Counter(other.marks), Counter(other.marks) - Counter(one.marks)
    if fewer or more:
        tick, _, mark = min(fewer + more)
        return tick, f"mark {mark} {'no longer fires' if min(fewer + more) in fewer else 'fires as well'}"
    return None
