"""The plainest engine: tries every input on every tick.  Small, obvious and slow; proofs are held against it."""

from __future__ import annotations

import itertools
import math
from collections import defaultdict, deque
from dataclasses import dataclass, field
from fractions import Fraction

import networkx as nx

from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import Moment, Symbolic, decide
from leanstep.core.graph.machine import Machine
from leanstep.core.graph.tick_state import TickState
from leanstep.core.proof.reduce.inlining import written_out
from leanstep.core.proof.reduce.slices import acts_of, reels_of
from leanstep.core.rehearsal.situation import Situation, Step
from leanstep.core.rehearsal.stepping import Stepper

Key = tuple[object, ...]
Inputs = dict[int, Symbolic]


@dataclass
class Plain:
    """Verdicts by enumeration, in the terms of the catalogue.  Values are the fewest ticks that show them."""

    impossible: bool = False
    depths: dict[tuple[int, int], int] = field(default_factory=dict)
    dead_ends: set[tuple[int, frozenset[int]]] = field(default_factory=set)
    traps: dict[tuple[int, int], int] = field(default_factory=dict)
    never: set[tuple[int, int]] = field(default_factory=set)
    shadowed: set[tuple[int, int]] = field(default_factory=set)
    flickers: dict[tuple[int, frozenset[int]], tuple[int, int]] = field(default_factory=dict)
    no_rest: dict[tuple[int, frozenset[int]], int] = field(default_factory=dict)
    flashes: dict[tuple[int, int], int] = field(default_factory=dict)
    wobbles: set[tuple[int, frozenset[int], int]] = field(default_factory=set)
    stuck: dict[str, int] = field(default_factory=dict)
    missed: dict[tuple[int, int, str], int] = field(default_factory=dict)
    marks: set[tuple[int, int, str]] = field(default_factory=set)
    orders: set[tuple[int, int, int]] = field(default_factory=set)


def sampled(machine: Machine) -> list[list[Symbolic]]:
    """Values of every symbol from outside that show every truth its comparisons with constants can have."""
    found: list[list[Symbolic]] = []
    for index, symbol in enumerate(machine.symbols):
        if not symbol.free:
            found.append([symbol.first])
        elif symbol.kind in ("flag", "pulse", "button"):
            found.append([False, True])
        elif symbol.kind == "choice":
            found.append(list(symbol.choices))
        elif symbol.kind == "whole":
            found.append([float(value) for value in range(int(symbol.low), int(symbol.high) + 1)])
        else:
            points = {symbol.low, symbol.high, float(symbol.rest)}
            for part in (part for root in machine.roots for part in x.parts(root)):
                if isinstance(part, x.Compared) and index in x.symbols_in(part):
                    inner = list(x.parts(part))
                    fixed = {amount.value for amount in inner if isinstance(amount, x.Fixed)}
                    graph = [machine.symbols[one] for one in x.symbols_in(part) if not machine.symbols[one].free]
                    if symbol.kind == "bearing":
                        turned = {point + side * other for point in fixed for other in fixed for side in (-1, 1)}
                        points |= {value % 360 for value in (*fixed, *turned, *(point + 180 for point in fixed))}
                        points |= {0.0, 90.0, 180.0, 270.0} if graph else set()
                        # the way from a little beside up to down is rounded to half a circle
                        points |= {1e-15} if 180.0 in map(abs, fixed) else set()
                        continue
                    for one in graph:
                        counts = range(int(one.low), int(one.high) + 1)
                        fixed |= {float(count) for count in counts} | {
                            point + count for point in fixed for count in counts
                        }
                    signs = [one.operator for one in inner if isinstance(one, x.Computed)]
                    points |= fixed
                    points |= {-point for point in fixed} if {"abs", "neg"} & set(signs) else set()
                    points |= {point / 2**halved for point in fixed for halved in range(1, signs.count("*") + 1)}
            if symbol.step:
                points |= {point + count * symbol.step for point in map(Fraction, points) for count in range(-99, 100)}  # type: ignore[misc]
            inside = sorted(point for point in points if symbol.low <= point <= symbol.high)
            found.append(sorted({*inside, *((a + b) / 2 for a, b in itertools.pairwise(inside))}))
    return found


class TooLarge(Exception):
    """More ticks than may be tried."""


@dataclass
class Enumeration:
    """Everything the free world can do, tick by tick.

    ``seen`` has every reachable situation by key, in the order found; ``depths`` its fewest ticks.  Ticks are remembered.
    """

    machine: Machine
    most: int
    seen: dict[Key, Situation] = field(default_factory=dict)
    depths: dict[Key, int] = field(default_factory=dict)
    follow: dict[Key, dict[int, tuple[Step, Key]]] = field(default_factory=dict)
    ticks: int = 0

    def __post_init__(self) -> None:
        machine = self.machine
        self.stepper = Stepper(machine, free=True)
        self.choices = choices = sampled(machine)
        # a countdown may also be given nothing
        self.counts = machine.countdowns
        given = [[None, *some] if index in self.counts else some for index, some in enumerate(choices)]
        self.inputs: list[Inputs] = [
            {index: value for index, value in enumerate(values) if value is not None}
            for values in itertools.product(*given)
            if all(decide(assumption, Moment(list(values))) for assumption in machine.assumptions)
        ]
        self.pulses = [i for i, symbol in enumerate(machine.symbols) if symbol.momentary and symbol.free]
        self.calm = [self._calm(inputs) for inputs in self.inputs]
        parts = [part for root in machine.roots for part in x.parts(root)]
        self.cap = 2 + max([part.ticks for part in parts if isinstance(part, x.Stayed)] + [machine.window])
        self.spaced = [i for i in self.pulses if machine.symbols[i].spacing > 1]
        self.paced = [i for i, symbol in enumerate(machine.symbols) if symbol.step and symbol.free]
        self.kept = [i for i, symbol in enumerate(machine.symbols) if not symbol.free]

    def _calm(self, inputs: Inputs) -> int:
        """The number of the same input without pulses, -1 when the assumptions forbid it."""
        wanted = {
            index: False if index in self.pulses else value
            for index, value in inputs.items()
            if index not in self.counts
        }
        return self.inputs.index(wanted) if wanted in self.inputs else -1

    def key(self, one: Situation, waits: tuple[int, ...]) -> Key:
        """What tells situations apart; ``waits``: the ticks until each pulse that comes only so often may come again."""
        stays = tuple(min(stay, self.cap) for stay in one.stays)
        kept = tuple(one.values[index] for index in (*self.kept, *self.paced, *self.counts))
        fades = tuple((fade.left, fade.blocks) if fade else None for fade in one.fades)
        rest = (one.playheads, one.overs, fades, one.counters, one.ages, one.since)
        return (one.states, stays, *rest, one.held, kept, one.raised, one.locks, one.freeze, waits)

    def step(self, key: Key, number: int) -> tuple[Step, Key] | None:
        """A tick; None when the input holds a pulse that comes too soon."""
        inputs, waits = self.inputs[number], key[-1]
        if any(wait and inputs[index] for index, wait in zip(self.spaced, waits)):  # type: ignore[call-overload]
            return None
        if any(abs(inputs[i] - self.seen[key].values[i]) > self.machine.symbols[i].step for i in self.paced):  # type: ignore[operator]
            return None
        self.ticks += 1
        if self.ticks > self.most:
            raise TooLarge
        step = self.stepper.step(self.seen[key], inputs)
        left = tuple(
            self.machine.symbols[index].spacing - 1 if inputs[index] else max(wait - 1, 0)
            for index, wait in zip(self.spaced, waits)  # type: ignore[call-overload]
        )
        after = self.key(step.situation, left)
        if after not in self.seen:
            self.seen[after] = step.situation
        return step, after

    def run(self) -> None:
        start = self.stepper.first()
        entering = TickState(values=[symbol.first for symbol in self.machine.symbols], machine=self.machine)
        entering.enter_all()
        self.first_marks = entering.marks
        first = self.key(start, (0,) * len(self.spaced))
        self.seen[first], self.depths[first] = start, 0
        queue = deque([first])
        while queue:
            key = queue.popleft()
            self.follow[key] = {}
            for number in range(len(self.inputs)):
                made = self.step(key, number)
                if made is None:
                    continue
                self.follow[key][number] = made
                after = made[1]
                if after not in self.depths:
                    self.depths[after] = self.depths[key] + 1
                    queue.append(after)

    def resting(self, key: Key, rest: Inputs) -> list[int]:
        """The inputs, tick by tick, that lead from a situation to rest as fast as limits let them; empty when the
        assumptions forbid one of them."""
        found, now = [], {index: self.seen[key].values[index] for index in self.paced}  # type: ignore[var-annotated]
        while not found or any(now[index] != rest[index] for index in self.paced):
            for index in self.paced:
                step = self.machine.symbols[index].step
                reached = [value for value in self.choices[index] if abs(value - now[index]) <= step]  # type: ignore[operator]
                now[index] = min(reached, key=lambda value: abs(value - rest[index]))  # type: ignore[operator]
            wanted = {**rest, **now}
            if wanted not in self.inputs:
                return []
            found.append(self.inputs.index(wanted))
        return found

    def kept_on(self, key: Key, number: int, ticks: int) -> list[tuple[Step, Key]]:
        """Ticks with one calm input on which countdowns are what they are, because they are given again."""
        path: list[tuple[Step, Key]] = []
        start = self.seen[key]
        for _ in range(ticks):
            by = 0 if self.seen[key].freeze else 1
            again = {index: start.values[index] + by for index in self.counts if start.values[index]}  # type: ignore[operator]
            made = self.follow[key].get(self.inputs.index({**self.inputs[number], **again}))
            if made is None:
                break
            path.append(made)
            key = made[1]
        return path

    def constant(self, key: Key, number: int) -> tuple[list[tuple[Step, Key]], int]:
        """Ticks with one input for ever: the ticks until something repeats, and where the cycle begins."""
        path: list[tuple[Step, Key]] = []
        known: dict[Key, int] = {key: 0}
        while True:
            step, after = self.follow[key][number]
            path.append((step, after))
            if after in known:
                return path, known[after]
            known[after] = len(path)
            key = after


def enumerate_verdicts(machine: Machine, most: int = 20_000) -> Plain | None:
    """Everything the free world can do; None when that needs more than ``most`` ticks."""
    machine = written_out(machine)
    world = Enumeration(machine, most)
    if 6 * len(world.inputs) > most:
        return None
    try:
        world.run()
    except TooLarge:
        return None
    result = Plain(impossible=not all(world.follow.values()))
    if result.impossible:
        return result
    result.marks |= {(layer, machine.layers[layer].start, name) for layer, name in world.first_marks}
    edges: set[tuple[int, int, int]] = set()
    fired: set[tuple[int, int]] = set()
    true: set[tuple[int, int]] = set()
    for key, rows in world.follow.items():
        situation, depth = world.seen[key], world.depths[key]
        for layer, state in enumerate(situation.states):
            result.depths.setdefault((layer, state), depth)
        for number, (step, _) in rows.items():
            _conditions(world, result, true, situation, number, step)
            for layer, transition in enumerate(step.fired):
                if transition >= 0:
                    fired.add((layer, transition))
                    edges.add((layer, situation.states[layer], step.situation.states[layer]))
    for layer, table in enumerate(machine.layers):
        _closed(result, layer, len(table.states), edges, table.endings)
        _traps(world, result, layer, table.endings, len(table.states))
        for transition in range(table.count):
            if (layer, transition) not in fired:
                (result.shadowed if (layer, transition) in true else result.never).add((layer, transition))
    _constant_runs(world, result)
    _at_rest(world, result)
    _stuck(world, result)
    for layer in range(len(machine.layers)):
        _wobbles(world, result, layer)
    return result


def _conditions(
    world: Enumeration,
    result: Plain,
    true: set[tuple[int, int]],
    before: Situation,
    number: int,
    step: Step,
) -> None:
    """Which conditions are true when they are tried, whatever comes before them; where order decides; and what marks do."""
    now, _, _ = world.stepper.up_to_transitions(before, world.inputs[number])
    _marks(world, result, before, now, step)
    for layer, table in enumerate(world.machine.layers):
        if before.freeze or now.blocked(layer):
            continue
        ways = table.ways[now.states[layer]]
        holding = [way for way in ways if way.condition is not None and decide(way.condition, now)]
        true |= {(layer, way.index) for way in holding}
        if holding:
            first = holding[0]
            for other in holding[1:]:
                if (
                    not first.urgent
                    and not other.urgent
                    and other.owner == first.owner
                    and other.target != first.target
                ):
                    result.orders.add((layer, first.index, other.index))
            now.take(layer, first)


def _marks(world: Enumeration, result: Plain, before: Situation, now: TickState, step: Step) -> None:
    """Which marks fire while a state is shown, and which a transition cuts off before they have."""
    on_the_way = len(now.marks)
    result.marks |= {(layer, before.states[layer], name) for layer, name in now.marks}
    result.marks |= {(layer, step.situation.states[layer], name) for layer, name in step.marks[on_the_way:]}
    for layer, fired in enumerate(step.fired):
        picture = world.machine.pictures[layer][before.states[layer]]
        if fired < 0 or picture is None or now.over[layer]:
            continue
        for cue in picture.reels[0].cues:
            if now.playheads[layer] < cue.at <= picture.reels[0].timing.length:
                _least(result.missed, (layer, before.states[layer], cue.name), before.tick + 1)


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


def _traps(world: Enumeration, result: Plain, layer: int, endings: frozenset[int], states: int) -> None:
    escapes = _can_come_to(world, {
        key for key, rows in world.follow.items()
        if any(step.situation.states[layer] != world.seen[key].states[layer] for step, _ in rows.values())
    })  # fmt: skip
    alone = {next(iter(closed)) for at, closed in result.dead_ends if at == layer and len(closed) == 1}
    for key, depth in world.depths.items():
        state = world.seen[key].states[layer]
        if key not in escapes and states > 1 and state not in endings and state not in alone:
            result.traps[layer, state] = min(depth, result.traps.get((layer, state), depth))


def _can_come_to(world: Enumeration, marked: set[Key]) -> set[Key]:
    before: dict[Key, list[Key]] = {}
    for key, rows in world.follow.items():
        for _, after in rows.values():
            before.setdefault(after, []).append(key)
    found, queue = set(marked), deque(marked)
    while queue:
        for key in before.get(queue.popleft(), ()):
            if key not in found:
                found.add(key)
                queue.append(key)
    return found


def _least(table: dict, key: object, ticks: int) -> None:
    table[key] = min(ticks, table.get(key, ticks))


def _constant_runs(world: Enumeration, result: Plain) -> None:
    """From a situation, every allowed first tick, then the same values without pulses for ever."""
    machine = world.machine
    for key, rows in list(world.follow.items()):
        for number, (step, after) in rows.items():
            calm = world.calm[number]
            if calm < 0:
                continue
            path, begins = world.constant(after, calm)
            _flicker(world, result, [world.depths[after]], path, begins)
            if calm == number:
                whole = [(step, after), *path]
                _flicker(world, result, [world.depths[key], world.depths[after]], whole, begins + 1)
            for layer, fired in enumerate(step.fired):
                state = step.situation.states[layer]
                if fired < 0 or state == world.seen[key].states[layer]:
                    continue
                most = max(machine.window - 1, 0)
                kept = world.kept_on(after, calm, most) if world.counts else path[:most]
                for stay, (then, _) in enumerate(kept, 1):
                    if then.fired[layer] >= 0:
                        way = next(w for w in machine.layers[layer].ways[state] if w.index == then.fired[layer])
                        if not way.urgent and way.target != state:
                            _least(result.flashes, (layer, state), world.depths[key] + 1 + stay)
                        break


def _flicker(world: Enumeration, result: Plain, depths: list[int], path: list[tuple[Step, Key]], begins: int) -> None:
    """Between which fewest ticks a flicker can be shown: from where the layer's states begin to repeat, at least; from the
    earliest situation that comes back as a whole, at most.  ``depths`` are those of the situations before the path."""
    cycle = path[begins:]
    befores = [*depths, *(world.depths[after] for _, after in path[len(depths) - 1 :])]
    for layer in range(len(world.machine.layers)):
        changes = [at for at, (step, _) in enumerate(cycle) if step.fired[layer] >= 0]
        if not changes:
            continue
        stays = [b - a for a, b in itertools.pairwise([*changes, changes[0] + len(cycle)])]
        if all(stay < world.machine.window for stay in stays):
            states = frozenset(step.situation.states[layer] for step, _ in cycle)
            seen = [(step.situation.states[layer], step.fired[layer]) for step, _ in path]
            lap = next(n for n in range(1, len(cycle) + 1) if seen[begins:] == (seen[begins:] * 2)[n : n + len(cycle)])
            start = begins
            while start > 0 and seen[start - 1] == seen[begins + (start - 1 - begins) % len(cycle)]:
                start -= 1
            low = min(befores[start:]) + lap
            high = min(world.depths[after] for _, after in cycle) + len(cycle)
            known = result.flickers.get((layer, states), (low, high))
            result.flickers[layer, states] = min(low, known[0]), min(high, known[1])


def _at_rest(world: Enumeration, result: Plain) -> None:
    """From every situation, everything goes to its rest value and keeps it."""
    machine = world.machine
    usual = {index: symbol.alone if symbol.free else symbol.first for index, symbol in enumerate(machine.symbols)}
    bearings = [index for index in machine.free if machine.symbols[index].kind == "bearing"]
    first = {index: machine.symbols[index].first for index in bearings}
    starts = {
        (key, tuple(first.items())): world.depths[key] for key in world.follow if not bearings or not world.depths[key]
    }
    for key, row in world.follow.items() if bearings else ():
        for number, (_, after) in row.items():
            kept = tuple((index, world.inputs[number][index]) for index in bearings)
            starts[after, kept] = min(starts.get((after, kept), world.depths[key] + 1), world.depths[key] + 1)
    for (key, kept), depth in starts.items():
        rest = {**usual, **dict(kept)}
        way = world.resting(key, rest) if rest in world.inputs else []
        if not way:
            continue
        there, ahead = key, []
        for number in way[:-1]:
            ahead.append(world.follow[there][number])
            there = ahead[-1][1]
        path, begins = world.constant(there, way[-1])
        path, begins = [*ahead, *path], begins + len(ahead)
        for layer, table in enumerate(machine.layers):
            if not table.restful:
                continue
            entered = {step.situation.states[layer] for step, _ in path if step.fired[layer] >= 0}
            cycle = frozenset(step.situation.states[layer] for step, _ in path[begins:])
            kept = len(cycle) == 1 and cycle <= table.restful  # type: ignore[assignment]
            if not entered & table.restful and not kept:
                _least(result.no_rest, (layer, cycle), depth)


def _stuck(world: Enumeration, result: Plain) -> None:
    """Flags of the graph that some effect sets back, in situations from which they never come back."""
    machine = world.machine
    for index, symbol in enumerate(machine.symbols):
        if symbol.free or symbol.kind != "flag" or symbol.owner != "graph":
            continue
        writers = [
            layer
            for layer in range(len(machine.layers))
            if any(act.do == "set" and act.target == index for act in acts_of(machine, layer))
            or any(window.hold == index for reel in reels_of(machine, layer) for window in reel.windows)
        ]
        acts = [act for layer in writers for act in acts_of(machine, layer)]
        if not any(act.do == "set" and act.target == index and act.value == symbol.first for act in acts):
            continue
        fine = {
            key
            for key in world.follow
            if world.seen[key].values[index] == symbol.first
            or any(world.seen[key].states[layer] in machine.layers[layer].endings for layer in writers)
        }
        back = _can_come_to(world, fine)
        for key in world.follow:
            if key not in back:
                _least(result.stuck, symbol.name, world.depths[key])


def _near(world: Enumeration, symbol: int) -> list[set[Symbolic]]:
    """The sets of sampled values that lie within the symbol's wobble; a sample between two others stands for all there."""
    one, values = world.machine.symbols[symbol], world.choices[symbol]
    if one.kind == "flag":
        return [{False, True}] if one.wobble else []
    if one.kind not in ("number", "whole", "bearing") or one.wobble <= 0:
        return []
    width = min(one.wobble, one.step) if one.step else one.wobble
    points = {value: (value, value) for value in values}
    if one.kind != "whole":
        for at, value in enumerate(values[1::2]):
            points[value] = math.nextafter(values[at * 2], math.inf), math.nextafter(values[at * 2 + 2], -math.inf)  # type: ignore[arg-type]
    found = []
    for at, first in enumerate(values) if one.kind == "bearing" else ():
        ahead = [(value, Fraction(points[value][0])) for value in values[at:]]
        ahead += [(value, Fraction(points[value][0]) + 360) for value in values[:at]]
        found.append({value for value, low in ahead if low - Fraction(points[first][1]) <= width})  # type: ignore[operator]
    for first in values if one.kind != "bearing" else ():
        reached = set()
        for last in values:
            if last >= first and Fraction(points[last][0]) - Fraction(points[first][1]) <= width:  # type: ignore[operator]
                reached.add(last)
        found.append(reached)
    return found


def _wobbles(world: Enumeration, result: Plain, layer: int) -> None:
    """Pairs of states that give way to each other for ever while one value moves inside its wobble."""
    machine, window = world.machine, world.machine.window
    for symbol in range(len(machine.symbols)):
        for near in _near(world, symbol):
            groups: dict[tuple[object, ...], list[int]] = {}
            for number, inputs in enumerate(world.inputs):
                if inputs[symbol] in near and world.calm[number] == number:
                    rest = tuple(value for index, value in inputs.items() if index != symbol)
                    groups.setdefault(rest, []).append(number)
            for numbers in groups.values():
                edges: dict[frozenset[int], list[tuple[object, object]]] = {}
                crossed: dict[frozenset[int], set[int]] = defaultdict(set)
                for key in world.follow:
                    state = world.seen[key].states[layer]
                    for number in numbers:
                        if number not in world.follow[key]:
                            continue
                        step, after = world.follow[key][number]
                        fired = step.fired[layer] >= 0
                        then = step.situation.states[layer]
                        if fired and then == state:
                            continue
                        if fired:
                            crossed[frozenset({state, then})].add(state)
                        for other in range(len(machine.layers[layer].states)):
                            if other != state and (not fired or then == other):
                                for stay in range(window - 1):
                                    edge = ((key, stay), (after, 0 if fired else stay + 1))
                                    edges.setdefault(frozenset({state, other}), []).append(edge)
                for pair, listed in edges.items():
                    if len(crossed[pair]) == 2 and (layer, pair) not in result.flickers and _has_cycle(listed):
                        result.wobbles.add((layer, pair, symbol))


def _has_cycle(edges: list[tuple[object, object]]) -> bool:
    graph = nx.DiGraph(edges)
    return any(len(component) > 1 for component in nx.strongly_connected_components(graph))
