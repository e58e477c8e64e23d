"""Which part of a character a layer's fate depends on.

Values from outside are free on every tick, so two layers that look at the same ones still do not feel each other.  A
layer is felt through its states, the parameters its effects set, the presses it uses up and the time it stops.
"""

from __future__ import annotations

import math
from collections.abc import Collection, Iterable, Iterator
from dataclasses import dataclass
from functools import cached_property

from leanstep.core.conditions import expression as x
from leanstep.core.graph.clip_tables import Reel
from leanstep.core.graph.effects import Act
from leanstep.core.graph.machine import CompiledTransition, Machine
from leanstep.core.proof.reduce.inlining import written_out
from leanstep.core.proof.reduce.picks import picks_written_out
from leanstep.core.work import look


@dataclass(frozen=True)
class Slice:
    """Some layers of a machine, closed under what they depend on."""

    machine: Machine
    layers: frozenset[int]

    @cached_property
    def expressions(self) -> list[x.Expression]:
        """Every part of every condition of these layers and of the memories they read, each root's in turn."""
        found: list[x.Expression] = []
        for root in _conditions(self.machine, self.layers):
            found += _deep(self.machine, root)
        return found

    @cached_property
    def memories(self) -> frozenset[int]:
        """The memories that are read."""
        return frozenset(part.index for part in self.expressions if isinstance(part, x.Remembered))

    @cached_property
    def asked_at(self) -> frozenset[int]:
        """The layers of which some condition asks where the clip is."""
        return frozenset(part.layer for part in self.expressions if isinstance(part, x.ClipAt))

    @cached_property
    def asked_spans(self) -> frozenset[str]:
        """The spans conditions ask for."""
        return frozenset(part.name for part in self.expressions if isinstance(part, x.SpanOn))

    def reads_playhead(self, layer: int, reel: Reel) -> bool:
        """Whether something depends on where a clip of a layer is."""
        if any(cue.acts for cue in reel.cues) or any(window.hold >= 0 or window.lock for window in reel.windows):
            return True
        return layer in self.asked_at or any(window.name in self.asked_spans for window in reel.windows)

    @cached_property
    def weight(self) -> float:
        """At most how many combinations of states and pasts there are."""
        states = math.prod(len(self.machine.layers[layer].states) for layer in self.layers)
        longest: dict[x.Expression, int] = {}
        for index in self.memories:
            memory = self.machine.memories[index]
            longest[memory.operand] = max(longest.get(memory.operand, 1), memory.ticks)
        return states * _side_by_side(longest.values())

    @cached_property
    def clocks(self) -> float:
        """At most how many combinations of ages there are, of presses that are remembered and of states that were left."""
        ages: dict[tuple[int, ...], int] = {}
        for part in self.expressions:
            if isinstance(part, x.Buffered):
                ages[(part.symbol,)] = max(ages.get((part.symbol,), 1), part.ticks + 1)
            elif isinstance(part, x.SinceLeft):
                ages[part.layer, part.state] = max(ages.get((part.layer, part.state), 1), part.ticks + 2)
        return _side_by_side(ages.values())

    def reels_followed(self, layer: int) -> dict[int, Reel]:
        """By state, the clips of a layer whose playheads are followed."""
        pictures = enumerate(self.machine.pictures[layer])
        return {state: one.common for state, one in pictures if one is not None and one.followed}

    @cached_property
    def values(self) -> tuple[int, ...]:
        """The graph's parameters that matter: those that are read, and flags these layers set."""
        symbols = self.machine.symbols
        asked = {symbol for part in self.expressions for symbol in x.named_by(part)}
        read = {symbol for symbol in asked if not symbols[symbol].free and symbols[symbol].owner != "formula"}
        written = {act.target for act in self.acts if act.do == "set" and symbols[act.target].kind == "flag"}
        held = {window.hold for reel in self.reels for window in reel.windows if window.hold >= 0}
        return tuple(sorted(read | written | held))

    @cached_property
    def acts(self) -> list[Act]:
        """Every effect of these layers."""
        return [act for layer in sorted(self.layers) for act in acts_of(self.machine, layer)]

    @cached_property
    def reels(self) -> list[Reel]:
        """Every clip these layers show."""
        return [reel for layer in sorted(self.layers) for reel in reels_of(self.machine, layer)]


def _side_by_side(counts: Collection[int]) -> float:
    """How many combinations there are of counts up to these."""
    return math.prod(min(count, 10_000) for count in counts) if len(counts) < 60 else math.inf


def reachable_from(some: Iterable[int], pairs: Collection[tuple[int, int]]) -> set[int]:
    """Everything that pairs lead to, one after the other, from some; these included."""
    found, waiting = set(some), list(some)
    while waiting:
        at = waiting.pop()
        new = {to for source, to in pairs if source == at} - found
        found |= new
        waiting += new
    return found


def slices(machine: Machine) -> list[tuple[Slice, tuple[int, ...]]]:
    """The slices of a machine with its formulas and picks written out, and the layers each is to be asked about."""
    machine = picks_written_out(written_out(machine))
    needs = [_needs(machine, layer) | {layer} for layer in range(len(machine.layers))]
    closed: dict[frozenset[int], list[int]] = {}
    for layer in range(len(machine.layers)):
        found, waiting = {layer}, [layer]
        while waiting:
            for other in needs[waiting.pop()] - found:
                found.add(other)
                waiting.append(other)
        closed.setdefault(frozenset(found), []).append(layer)
    return [(Slice(machine, layers), tuple(asked)) for layers, asked in closed.items()]


def reels_of(machine: Machine, layer: int) -> Iterator[Reel]:
    """The clips a layer can show."""
    for picture in machine.pictures[layer]:
        if picture is not None:
            yield from picture.reels


def acts_of(machine: Machine, layer: int) -> Iterator[Act]:
    """The effects of a layer: on entry, on leaving, and of its marks."""
    table = machine.layers[layer]
    for row in (*table.entry, *table.leave):
        yield from row
    for reel in reels_of(machine, layer):
        for cue in reel.cues:
            yield from cue.acts


def _conditions(machine: Machine, layers: Iterable[int]) -> Iterator[x.Expression]:
    for layer in sorted(layers):
        for row in machine.layers[layer].ways:
            for way in row:
                if way.condition is not None:
                    yield way.condition


def _deep(machine: Machine, root: x.Expression) -> Iterator[x.Expression]:
    """The parts of an expression and of the memories it reads."""
    look()
    for part in x.parts(root):
        yield part
        if isinstance(part, x.Remembered):
            yield from _deep(machine, machine.memories[part.index].operand)


def read_by(machine: Machine, ways: Iterable[CompiledTransition]) -> set[int]:
    """The symbols the conditions of some ways read, memories included."""
    return {
        symbol
        for way in ways
        if way.condition is not None
        for part in _deep(machine, way.condition)
        if not isinstance(part, x.Every | x.Some | x.Inverse)
        for symbol in x.symbols_in(part)
    }


def _needs(machine: Machine, layer: int) -> set[int]:
    """The layers that a layer's conditions feel at once."""
    needed: set[int] = set()
    others = range(len(machine.layers))
    written = [
        {act.target for act in acts_of(machine, other) if act.do in ("set", "add", "raise")}
        | {window.hold for reel in reels_of(machine, other) for window in reel.windows}
        for other in others
    ]
    needed |= {other for other in others if any(act.do == "freeze" for act in acts_of(machine, other))}
    needed |= {other for other in others if _kept(machine, other) & _kept(machine, layer)}
    for root in _conditions(machine, [layer]):
        for part in _deep(machine, root):
            if isinstance(part, x.Active | x.SinceLeft | x.Stayed | x.ClipOver | x.ClipAt):
                needed.add(part.layer)
            elif isinstance(part, x.SpanOn):
                needed |= {
                    o for o in others if any(w.name == part.name for r in reels_of(machine, o) for w in r.windows)
                }
            elif isinstance(part, x.Buffered):
                needed |= {o for o in others if _uses(machine, o, part.symbol)}
            for symbol in x.named_by(part):
                needed |= {other for other in others if symbol in written[other]}
    # What these effects set in turn decides on nothing else: only conditions read parameters.
    return needed


def _kept(machine: Machine, layer: int) -> set[tuple[bool, int]]:
    """The flags and locks a layer sets, which stay so until something sets them back; and the flags its spans hold."""
    held = {(False, window.hold) for reel in reels_of(machine, layer) for window in reel.windows if window.hold >= 0}
    return held | {
        (act.do != "set", act.target)
        for act in acts_of(machine, layer)
        if act.do in ("lock", "unlock") or (act.do == "set" and machine.symbols[act.target].kind == "flag")
    }


def _uses(machine: Machine, layer: int, button: int) -> bool:
    rows = machine.layers[layer].ways
    return any(used.symbol == button for row in rows for way in row for used in way.uses)
