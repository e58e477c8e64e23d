"""One tick of the free world, for every value the inputs may take at once.

A *place* is a situation with everything dropped that cannot make a difference: stays are counted only as far as a
condition can tell, buttons are remembered only where an edge is asked for.  What can happen in a place depends on a
small *view* of it (states, which time comparisons hold, memory readiness); the outcomes of a view are found once, by
judging conditions over sets of values and splitting a set only when an answer needs it.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from leanstep.core.conditions import expression as x
from leanstep.core.graph.machine import Machine
from leanstep.core.proof.regional import Judge, Masks, Regional, Setting
from leanstep.core.proof.regions import regions_of
from leanstep.core.rehearsal.stepping import Situation, count


@dataclass(frozen=True, slots=True)
class Place:
    """A situation as far as it matters.  ``held`` are the buttons held on the last tick whose edges are asked for."""

    states: tuple[int, ...]
    stays: tuple[int, ...]
    counters: tuple[int, ...]
    held: frozenset[int]


@dataclass(frozen=True, slots=True)
class View:
    """What decides the outcomes of a place.  ``stays`` are stays on the coming tick, by class; ``ready`` says for each
    memory whether it holds if its operand does (``for``) or even if not (``within``)."""

    states: tuple[int, ...]
    stays: tuple[int, ...]
    ready: tuple[bool, ...]
    held: frozenset[int]


@dataclass(frozen=True, slots=True)
class Outcome:
    """One thing that can happen on a tick.

    ``fired`` per layer: position in the state's ways, or -1.  ``operands``: what each memory's operand was.  ``held``:
    buttons held.  ``masks``: sets of values that bring it about and that the assumptions allow.
    """

    fired: tuple[int, ...]
    operands: tuple[bool, ...]
    held: frozenset[int]
    masks: Masks


@dataclass(frozen=True, slots=True)
class Split:
    """An answer that needs a symbol's set to be split into ``part`` and the rest."""

    symbol: int
    part: int

    def of(self, masks: Masks) -> tuple[Masks, Masks]:
        """``masks`` with the symbol's set narrowed to the part, and to the rest."""
        before, after = masks[: self.symbol], masks[self.symbol + 1 :]
        return (*before, self.part, *after), (*before, masks[self.symbol] & ~self.part, *after)


Answer = Callable[[Masks], "Split | bool"]
"""Told ever smaller sets of values: returns a split it needs, True to stop, or False to go on with the next."""


class FreeWorld:
    """The free world of a machine."""

    def __init__(self, machine: Machine) -> None:
        self.machine = machine
        regions = regions_of(machine)
        self.values = regions.values
        self.inexact = bool(regions.open_comparisons)
        regional = Regional(machine, regions)
        self.full = regional.full
        self.assumptions = [regional.judge(assumption) for assumption in machine.assumptions]
        self.operands = [regional.judge(memory.operand) for memory in machine.memories]
        self.conditions: list[list[list[Judge | None]]] = [
            [[regional.judge(way.condition) if way.condition else None for way in row] for row in layer.ways]
            for layer in machine.layers
        ]
        self.momentary = frozenset(index for index, symbol in enumerate(machine.symbols) if symbol.momentary)
        operands = [memory.operand for memory in machine.memories]
        self.edges = [
            [self._edges(at, state, operands) for state in range(len(layer.states))]
            for at, layer in enumerate(machine.layers)
        ]
        self.thresholds = [
            [self._thresholds(at, state, operands) for state in range(len(layer.states))]
            for at, layer in enumerate(machine.layers)
        ]
        self.caps = [[max(row, default=0) for row in rows] for rows in self.thresholds]
        self._outcomes: dict[View, tuple[Outcome, ...]] = {}
        self._steady: dict[View, tuple[tuple[int, ...], ...]] = {}

    def _read(self, layer: int, state: int, operands: list[x.Expression]) -> list[x.Expression]:
        """Everything that conditions look at while a state is active."""
        roots = [way.condition for way in self.machine.layers[layer].ways[state] if way.condition] + operands
        return [part for root in roots for part in x.parts(root)]

    def _edges(self, layer: int, state: int, operands: list[x.Expression]) -> frozenset[int]:
        parts = self._read(layer, state, operands)
        return frozenset(part.symbol for part in parts if isinstance(part, x.Pressed | x.Released))

    def _thresholds(self, layer: int, state: int, operands: list[x.Expression]) -> list[int]:
        """Stays (ticks) from which something reads differently in this state, in order."""
        found: set[int] = set()
        for part in self._read(layer, state, operands):
            if isinstance(part, x.Stayed) and part.layer == layer:
                found.update({part.ticks, part.ticks + 1})
            elif isinstance(part, x.ClipOver) and part.layer == layer:
                found.add(self.machine.clip_ticks[layer][state] or 0)
        return sorted(found - {0})

    def first(self) -> Place:
        """The place just before tick 0."""
        layers = self.machine.layers
        return Place(
            tuple(layer.start for layer in layers), (0,) * len(layers), (0,) * len(self.machine.memories), frozenset()
        )

    def place_of(self, situation: Situation) -> Place:
        """The place a concrete situation lies in."""
        states = situation.states
        stays = tuple(min(stay, self.caps[at][states[at]]) for at, stay in enumerate(situation.stays))
        return Place(states, stays, situation.counters, situation.held & self.watched(states))

    def watched(self, states: tuple[int, ...]) -> frozenset[int]:
        """Buttons whose edges are asked for while these states are active."""
        return frozenset().union(*(self.edges[at][state] for at, state in enumerate(states)))

    def view_of(self, place: Place) -> View:
        """What decides the outcomes of ``place``."""
        stays = []
        for at, (stay, state) in enumerate(zip(place.stays, place.states)):
            reached = 0
            for threshold in self.thresholds[at][state]:
                if threshold > stay + 1:
                    break
                reached = threshold
            stays.append(reached)
        ready = tuple(
            counter >= (memory.ticks - 1 if memory.kind == "for" else 2)
            for memory, counter in zip(self.machine.memories, place.counters)
        )
        return View(place.states, tuple(stays), ready, place.held)

    def after(self, place: Place, outcome: Outcome) -> Place:
        """The place after ``outcome`` happened in ``place``."""
        states, stays = list(place.states), list(place.stays)
        for at, fired in enumerate(outcome.fired):
            if fired >= 0:
                states[at], stays[at] = self.machine.layers[at].ways[place.states[at]][fired].target, 0
            else:
                stays[at] = min(stays[at] + 1, self.caps[at][states[at]])
        counters = tuple(
            count(memory, counter, operand)
            for memory, counter, operand in zip(self.machine.memories, place.counters, outcome.operands)
        )
        return Place(tuple(states), tuple(stays), counters, outcome.held)

    def outcomes(self, view: View) -> tuple[Outcome, ...]:
        """Everything that can happen in a view, each once."""
        known = self._outcomes.get(view)
        if known is None:
            found: dict[tuple[object, ...], Outcome] = {}

            def answer(masks: Masks) -> Split | bool:
                outcome = self.tick(view, masks)
                if isinstance(outcome, Split):
                    return outcome
                key = (outcome.fired, outcome.operands, outcome.held)
                if key not in found:
                    allowed = self.completed(masks)
                    if allowed is not None:
                        found[key] = Outcome(*key, allowed)
                return False

            self.divide(self.full, answer)
            known = self._outcomes[view] = tuple(found.values())
        return known

    def steady_fires(self, view: View) -> tuple[tuple[int, ...], ...]:
        """What can fire in a view without any pulse or edge: the ``fired`` of every such outcome."""
        known = self._steady.get(view)
        if known is None:
            found: dict[tuple[int, ...], None] = {}

            def answer(masks: Masks) -> Split | bool:
                outcome = self.tick(view, masks)
                if isinstance(outcome, Split):
                    return outcome
                if outcome.fired not in found and self.completed(masks) is not None:
                    found[outcome.fired] = None
                return False

            self.divide(self.steady_masks(view.states, view.held), answer)
            known = self._steady[view] = tuple(found)
        return known

    def steady_masks(self, states: tuple[int, ...], held: frozenset[int]) -> Masks:
        """The values a constant run may have: pulses off, every watched button as it was."""
        masks = list(self.full)
        for index in self.momentary:
            masks[index] = 0b01
        for index in self.watched(states):
            masks[index] = 0b10 if index in held else 0b01
        return tuple(masks)

    def can_hold(self, view: View, layer: int, position: int) -> Masks | None:
        """Values with which the way at ``position`` would be true in a view, whatever comes before it in its layer; None
        when there are none."""
        judge = self.conditions[layer][view.states[layer]][position]
        shown: list[Masks] = []

        def answer(masks: Masks) -> Split | bool:
            setting = Setting(list(masks), view.held, list(view.states), list(view.stays))
            fired = self._step(view, setting, layer)
            if isinstance(fired, Split):
                return fired
            true = judge(setting) if judge is not None else False
            if true is None:
                return Split(setting.symbol, setting.part)
            allowed = self.completed(masks) if true else None
            if allowed is not None:
                shown.append(allowed)
            return allowed is not None

        self.divide(self.full, answer)
        return shown[0] if shown else None

    def tick(self, view: View, masks: Masks) -> Outcome | Split:
        """What happens in a view with these sets of values, or the split that is needed to tell."""
        setting = Setting(list(masks), view.held, list(view.states), list(view.stays))
        step = self._step(view, setting, len(self.machine.layers))
        if isinstance(step, Split):
            return step
        held = []
        for index in self.watched(tuple(setting.states)):
            if masks[index] == 0b11:
                return Split(index, 0b01)
            if masks[index] == 0b10:
                held.append(index)
        return Outcome(*step, frozenset(held), masks)

    def _step(self, view: View, setting: Setting, layers: int) -> tuple[tuple[int, ...], tuple[bool, ...]] | Split:
        """Steps 5 and 6 for the first ``layers`` layers: which ways fire, and the memories' operands."""
        operands = []
        for memory, judge, ready in zip(self.machine.memories, self.operands, view.ready):
            operand = judge(setting)
            if operand is None:
                return Split(setting.symbol, setting.part)
            operands.append(operand)
            setting.memories.append((operand and ready) if memory.kind == "for" else (operand or ready))
        fired = []
        for at in range(layers):
            state = setting.states[at]
            taken = -1
            for position, condition in enumerate(self.conditions[at][state]):
                true = condition(setting) if condition is not None else False
                if true is None:
                    return Split(setting.symbol, setting.part)
                if true:
                    taken = position
                    setting.states[at] = self.machine.layers[at].ways[state][position].target
                    setting.stays[at] = 0
                    break
            fired.append(taken)
        return tuple(fired), tuple(operands)

    def divide(self, masks: Masks, answer: Answer) -> None:
        """Ask ``answer`` about ever smaller sets of values, leaving out what the assumptions forbid."""
        stack = [masks]
        while stack:
            current = stack.pop()
            result = answer(current)
            if isinstance(result, Split):
                yes, no = result.of(current)
                stack.extend(part for part in (no, yes) if self.allowed(part) is not False)
            elif result:
                return

    def allowed(self, masks: Masks) -> bool | None:
        """Whether the assumptions allow these values; None when they allow some of them perhaps."""
        result = self._assumed(masks)
        return None if isinstance(result, Split) else result

    def _assumed(self, masks: Masks) -> Split | bool:
        setting = Setting(list(masks), frozenset(), [], [])
        needed: Split | None = None
        for judge in self.assumptions:
            answer = judge(setting)
            if answer is False:
                return False
            if answer is None and needed is None:
                needed = Split(setting.symbol, setting.part)
        return needed or True

    def completed(self, masks: Masks, wanted: Masks | None = None) -> Masks | None:
        """A part of ``masks`` in which every assumption holds, near the single values ``wanted`` where it can be; None
        when there is none."""
        stack = [masks]
        while stack:
            current = stack.pop()
            result = self._assumed(current)
            if isinstance(result, Split):
                yes, no = result.of(current)
                if wanted is not None and not wanted[result.symbol] & yes[result.symbol]:
                    yes, no = no, yes
                stack += [no, yes]
            elif result:
                return current
        return None
