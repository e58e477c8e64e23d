"""Everything a game may do otherwise that is tried where its log differs, the simple first."""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import cached_property

from leanstep.core.character.edits import change
from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import amount
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.machine import CompiledTransition, Machine
from leanstep.core.graph.tick_state import TickState
from leanstep.core.rehearsal.comparing import graph_mutations, mutations
from leanstep.core.rehearsal.comparing.game_variants import Variant, other_ways, setting_back
from leanstep.core.rehearsal.comparing.logs import Log
from leanstep.core.rehearsal.comparing.words import atom_words
from leanstep.core.rehearsal.situation import Setting
from leanstep.core.rehearsal.step_trace import gathered
from leanstep.core.rehearsal.stepping import Stepper, moment_of

NEAR = 40
"""Ticks around the first difference in which other bounds are looked for."""
TIMES = (3, -3, 4, -4, 5, -5, 6, -6, 8, -8, 10, -10, 12, -12, 15, -15, 20, -20, 30, -30, 60, -60)
"""By how many ticks longer or shorter times are tried, besides what the log says."""


def way_name(machine: Machine, layer: int, state: int, way: CompiledTransition) -> str:
    """A transition as people say it."""
    states = machine.layers[layer].states
    kind, _, name = way.owner.partition(" ")
    owner = {"lane": f" (of lane {name})", "graph": " (of the whole graph)"}.get(kind, "")
    return f"{states[state]} → {states[way.target]}{owner}"


@dataclass(frozen=True)
class Explanations:
    """What may explain that on ``tick`` of a log the game is in another state of a layer; ``moment`` is that in which our transitions
    are tried there, ``states`` are ours, layer by layer."""

    moment: TickState
    log: Log
    tick: int
    layer: int
    states: list[list[int]]

    def __iter__(self) -> Iterator[Variant]:
        """Everything, the simple first."""
        machine, layer, state = self.moment.machine, self.layer, self.moment.states[self.layer]
        table, game = machine.layers[layer], self.log.states[layer]
        assert game is not None
        taken = Stepper(machine, True).first_true(self.moment, layer)
        wanted = [way for way in table.ways[state] if way.target == game[self.tick] and way is not taken]
        named = [(way, way_name(machine, layer, state, way)) for way in ([taken] if taken is not None else []) + wanted]
        for way, name in named:
            yield from self._made(mutations.of_way(machine, layer, way, name))
        yield from self._made(_orders(machine, layer, table.ways[state]))
        yield from self._made(graph_mutations.of_layer(machine, layer))
        if taken is not None and game[self.tick] != state:
            yield from self._made(_other_target(machine, layer, taken, game[self.tick]))
        yield from other_ways(machine, self.log, self.tick)
        yield from self._made(graph_mutations.of_clips(machine))
        yield from self._made(graph_mutations.of_effects(machine))
        yield from self._made(graph_mutations.everywhere(machine))
        if self.log.begins is None:
            yield from self._made(graph_mutations.of_start(machine))
        yield from self._made(graph_mutations.of_rate(machine))
        for way in _owned(machine, layer, state, taken, game[self.tick]):
            yield from self._made(graph_mutations.of_owner(machine, layer, state, way))
        for way, name in named:
            yield from self._times(way, name)
        around = self._around() if named else []
        for way, name in named:
            yield from self._bounds(around, way, name)
        yield from setting_back(machine, self.log, self.tick)

    def _made(self, changed: Iterator[mutations.Change]) -> Iterator[Variant]:
        return (self._variant(one.kind, one.sentence, one.machine) for one in changed)

    def _variant(self, kind: str, sentence: str, machine: Machine, about: float | None = None) -> Variant:
        """A machine into which goes what was logged."""
        return Variant(kind, sentence, machine, self.log.inputs, about=about, changes=self._changes)

    @cached_property
    def _changes(self) -> list[Setting]:
        return gathered(self.moment.machine, self.log.inputs)

    def _times(self, way: CompiledTransition, name: str) -> Iterator[Variant]:
        """Other times in a condition: longer or shorter by as many ticks as the game is late or early, and then by others."""
        machine, layer = self.moment.machine, self.layer
        if way.condition is None:
            return
        late = self._late(way)
        for part in dict.fromkeys(x.parts(way.condition)):
            if not isinstance(part, x.Stayed | x.SinceLeft | x.Buffered | x.Remembered):
                continue
            memory = machine.memories[part.index] if isinstance(part, x.Remembered) else None
            ticks = part.ticks if memory is None else memory.ticks  # type: ignore[union-attr]
            for by in dict.fromkeys((late, late + 1, late - 1, *TIMES)):
                if by in (0, -ticks) or ticks + by < 0:
                    continue
                if memory is None:
                    grown, other = machine, replace(part, ticks=ticks + by)  # type: ignore[arg-type]
                else:
                    grown = replace(machine, memories=(*machine.memories, replace(memory, ticks=ticks + by)))
                    other = x.Remembered(len(machine.memories))
                condition = mutations.swapped(way.condition, part, other)
                made = mutations.with_condition(grown, layer, way.index, condition)
                sentence = f"{name}: {atom_words(machine, part)} has another time there, in ticks"
                yield self._variant("timer", sentence, made, float(ticks + by))

    def _late(self, way: CompiledTransition) -> int:
        """By how many ticks the game comes later to where a transition leads, as far as the log and ours go."""
        theirs = self.log.states[self.layer]
        assert theirs is not None

        def comes(states: list[int] | tuple[int, ...]) -> int:
            return next((at for at in range(self.tick, len(states)) if states[at] == way.target), self.tick)

        return comes(theirs) - comes(self.states[self.layer])

    def _around(self) -> list[TickState]:
        """The ends of a tick and of those around it, the nearest first."""
        machine = self.moment.machine
        stepper = Stepper(machine, True)
        now, found = self.log.start(machine), []
        for number, row in enumerate(self.log.inputs[: self.tick + NEAR]):
            now = stepper.step(now, dict(row)).situation
            if number >= self.tick - NEAR:
                found.append((abs(number - self.tick), number, moment_of(machine, now)))
        return [moment for _, _, moment in sorted(found, key=lambda each: each[:2])]

    def _bounds(self, around: list[TickState], way: CompiledTransition, name: str) -> Iterator[Variant]:
        """Other values of the constants in a condition: between what the compared amount was when the game did not take it yet and
        when it did, as far as the log tells."""
        machine = self.moment.machine
        if way.condition is None:
            return
        compared = [
            part
            for part in x.parts(way.condition)
            if isinstance(part, x.Compared) and isinstance(part.right, x.Fixed) and not isinstance(part.left, x.Fixed)
        ]
        if not compared:
            return
        for part in dict.fromkeys(compared):
            values = [amount(part.left, one) for one in around]
            tried = sorted(set(values), key=lambda value: abs(value - values[0]))[:24]
            near = sorted({(one + other) / 2 for one, other in itertools.pairwise(sorted(set(values)))})
            near.sort(key=lambda value: abs(value - values[0]))
            for value in [*near[:24], *(one * share for one in tried[:2] for share in (0.999, 1.001)), *tried]:
                if part.right == x.Fixed(value):
                    continue
                other = replace(part, right=x.Fixed(value))
                changed = mutations.with_condition(
                    machine, self.layer, way.index, mutations.swapped(way.condition, part, other)
                )
                sentence = f"{name}: {atom_words(machine, part)} has another bound there"
                yield self._variant("bound", sentence, changed, value)


def _owned(
    machine: Machine, layer: int, state: int, taken: CompiledTransition | None, target: int
) -> list[CompiledTransition]:
    """The transitions that a game may try in a state where we do not, or not there where we do: what is taken, and what leads to
    where the game is."""
    tried = machine.layers[layer].ways[state]
    others = {way.index: way for row in machine.layers[layer].ways for way in row if way.target == target}
    return ([taken] if taken is not None else []) + [way for way in others.values() if way not in tried]


def _other_target(machine: Machine, layer: int, way: CompiledTransition, target: int) -> Iterator[mutations.Change]:
    """A transition that leads to another state."""
    of, name = machine.character.layers[layer], machine.layers[layer].states[target]
    other = change(machine.character, ("layers", layer, "transitions", way.index), to=name)
    sentence = f"what leads to {of.transitions[way.index].to} here leads to {name} there"
    yield mutations.Change("target", sentence, compile_character(other))


def _orders(machine: Machine, layer: int, row: tuple[CompiledTransition, ...]) -> Iterator[mutations.Change]:
    states = machine.layers[layer].states
    for one, other in itertools.combinations(row, 2):
        yield mutations.Change(
            "order",
            f"the game tries → {states[other.target]} before → {states[one.target]}",
            mutations.swapped_order(machine, layer, one.index, other.index),
        )
