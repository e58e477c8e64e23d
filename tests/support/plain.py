"""The plainest engine: tries every input on every tick.  Small, obvious and slow; proofs are held against it."""

from __future__ import annotations

import itertools
from collections import deque
from dataclasses import dataclass, field

from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import Moment, Symbolic, decide
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.stepping import Situation, Step, Stepper, count, remembers

Key = tuple[object, ...]


@dataclass
class Plain:
    """Verdicts by enumeration, in the terms of the catalogue."""

    depths: dict[tuple[int, int], int] = field(default_factory=dict)
    dead_ends: set[tuple[int, frozenset[int]]] = field(default_factory=set)
    traps: set[tuple[int, int]] = field(default_factory=set)
    never: set[tuple[int, int]] = field(default_factory=set)
    shadowed: set[tuple[int, int]] = field(default_factory=set)
    flickers: set[tuple[int, frozenset[int]]] = field(default_factory=set)


def sampled(machine: Machine) -> list[list[Symbolic]]:
    """Values of every symbol that show every truth its comparisons with constants can have."""
    found: list[list[Symbolic]] = []
    roots = [*machine.assumptions, *(memory.operand for memory in machine.memories)]
    roots += [way.condition for layer in machine.layers for row in layer.ways for way in row if way.condition]
    for index, symbol in enumerate(machine.symbols):
        if symbol.kind in ("flag", "pulse", "button"):
            found.append([False, True])
        elif symbol.kind == "choice":
            found.append(list(symbol.choices))
        elif symbol.kind == "whole":
            found.append([float(value) for value in range(int(symbol.low), int(symbol.high) + 1)])
        else:
            points = {symbol.low, symbol.high}
            for root in roots:
                for part in x.parts(root):
                    if isinstance(part, x.Compared) and index in x.symbols_in(part):
                        points |= {amount.value for amount in x.parts(part) if isinstance(amount, x.Fixed)}
            points |= {-point for point in points} | {point / 2 for point in points}
            inside = sorted(point for point in points if symbol.low <= point <= symbol.high)
            found.append(sorted({*inside, *((a + b) / 2 for a, b in itertools.pairwise(inside))}))
    return found


def enumerate_verdicts(machine: Machine, most: int = 6000) -> Plain | None:
    """Everything the free world can do; None when there are more than ``most`` situations."""
    stepper = Stepper(machine, free=True)
    inputs = [
        dict(enumerate(values))
        for values in itertools.product(*sampled(machine))
        if all(decide(assumption, Moment(values, frozenset(), [], [], ())) for assumption in machine.assumptions)
    ]
    if not inputs:
        return None
    cap = 2 + max(
        [part.ticks for layer in machine.layers for row in layer.ways for way in row if way.condition
         for part in x.parts(way.condition) if isinstance(part, x.Stayed)]
        + [part.ticks for memory in machine.memories for part in x.parts(memory.operand) if isinstance(part, x.Stayed)]
        + [ticks for row in machine.clip_ticks for ticks in row if ticks]
        + [0]
    )  # fmt: skip

    def key(situation: Situation) -> Key:
        return situation.states, tuple(min(stay, cap) for stay in situation.stays), situation.counters, situation.held

    result = Plain()
    start = stepper.first()
    seen: dict[Key, tuple[Situation, int]] = {key(start): (start, 0)}
    follow: dict[Key, set[Key]] = {}
    edges: set[tuple[int, int, int]] = set()
    fired: set[tuple[int, int]] = set()
    true: set[tuple[int, int]] = set()
    queue = deque([start])
    while queue:
        situation = queue.popleft()
        depth = seen[key(situation)][1]
        for layer, state in enumerate(situation.states):
            result.depths.setdefault((layer, state), depth)
        after: set[Key] = set()
        for values in inputs:
            step = stepper.step(situation, values)
            true |= _true_when_tried(machine, situation, step, list(values.values()))
            for layer, transition in enumerate(step.fired):
                if transition >= 0:
                    fired.add((layer, transition))
                    edges.add((layer, situation.states[layer], step.situation.states[layer]))
            after.add(key(step.situation))
            if key(step.situation) not in seen:
                if len(seen) >= most:
                    return None
                seen[key(step.situation)] = (step.situation, depth + 1)
                queue.append(step.situation)
        follow[key(situation)] = after
    for layer, table in enumerate(machine.layers):
        _closed(result, layer, len(table.states), edges, table.endings)
        _traps(result, layer, len(table.states), seen, follow, table.endings)
        for transition in range(table.count):
            if (layer, transition) not in fired:
                (result.shadowed if (layer, transition) in true else result.never).add((layer, transition))
    for situation, _ in seen.values():
        _constant_runs(result, stepper, situation, inputs, key)
    return result


def _true_when_tried(machine: Machine, before: Situation, step: Step, values: list[Symbolic]) -> set[tuple[int, int]]:
    """Transitions whose condition is true when they are tried, whatever comes before them in their layer."""
    stays = [stay + 1 for stay in before.stays]
    states = list(before.states)
    moment = machine.moment(values, before.held, states, stays)
    for index, memory in enumerate(machine.memories):
        counter = count(memory, before.counters[index], decide(memory.operand, moment))
        moment.memories.append(remembers(memory, counter))
    found = set()
    for layer, table in enumerate(machine.layers):
        for way in table.ways[states[layer]]:
            if way.condition is not None and decide(way.condition, moment):
                found.add((layer, way.index))
        if step.fired[layer] >= 0:
            states[layer], stays[layer] = step.situation.states[layer], 0
    return found


def _closed(result: Plain, layer: int, states: int, edges: set[tuple[int, int, int]], endings: frozenset[int]) -> None:
    reached = {state for at, state in result.depths if at == layer}
    beyond = {state: {state} for state in reached}
    for _ in reached:
        for at, source, target in edges:
            if at == layer:
                for known in beyond.values():
                    if source in known:
                        known.add(target)
    for state in reached:
        component = frozenset(other for other in beyond[state] if state in beyond[other])
        bottom = beyond[state] == component
        alone = reached == {state} and states > 1
        if bottom and not component & endings and (component != reached or alone):
            result.dead_ends.add((layer, component))


def _traps(
    result: Plain,
    layer: int,
    states: int,
    seen: dict[Key, tuple[Situation, int]],
    follow: dict[Key, set[Key]],
    endings: frozenset[int],
) -> None:
    escapes: set[Key] = set()
    grown = True
    while grown:
        grown = False
        for key, after in follow.items():
            if key not in escapes and any(
                other in escapes or other[0][layer] != key[0][layer]  # type: ignore[index]
                for other in after
            ):
                escapes.add(key)
                grown = True
    alone = {next(iter(closed)) for at, closed in result.dead_ends if at == layer and len(closed) == 1}
    for key, (situation, _) in seen.items():
        state = situation.states[layer]
        if key not in escapes and states > 1 and state not in endings and state not in alone:
            result.traps.add((layer, state))


def _constant_runs(result: Plain, stepper: Stepper, start: Situation, inputs: list[dict[int, Symbolic]], key) -> None:  # type: ignore[no-untyped-def]
    """From a situation, every allowed first tick, then the same values without pulses for ever."""
    machine = stepper.machine
    pulses = {index for index, symbol in enumerate(machine.symbols) if symbol.momentary}
    for first in inputs:
        kept = {index: False if index in pulses else value for index, value in first.items()}
        if kept not in inputs:
            continue
        situation = stepper.step(start, first).situation
        order: list[Step] = []
        known: dict[Key, int] = {}
        while key(situation) not in known:
            known[key(situation)] = len(order)
            step = stepper.step(situation, kept)
            order.append(step)
            situation = step.situation
        cycle = order[known[key(situation)] :]
        for layer in range(len(machine.layers)):
            changes = [at for at, step in enumerate(cycle) if step.fired[layer] >= 0]
            if not changes:
                continue
            stays = [b - a for a, b in itertools.pairwise([*changes, changes[0] + len(cycle)])]
            if all(stay < machine.window for stay in stays):
                result.flickers.add((layer, frozenset(step.situation.states[layer] for step in cycle)))
