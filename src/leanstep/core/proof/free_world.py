"""One tick of the free world, for every value the inputs may take at once.

A *place* is a situation with everything dropped that cannot make a difference: stays are counted only as far as a
condition can tell, buttons are remembered only where an edge is asked for.  What can happen in a place depends on a
small *view* of it (states, which time comparisons hold, memory readiness); the outcomes of a view are found once, by
deciding conditions with open symbols and splitting a symbol's regions only when an answer needs it.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import Moment, Symbolic, decide
from leanstep.core.graph.machine import Machine, Way
from leanstep.core.proof.regions import regions_of
from leanstep.core.rehearsal.stepping import Situation, count

Values = tuple[Symbolic | None, ...]


@dataclass(frozen=True, slots=True)
class Place:
    """A situation as far as it matters.  ``held`` are the buttons held on the last tick whose edges are asked for."""

    states: tuple[int, ...]
    stays: tuple[int, ...]
    counters: tuple[int, ...]
    held: frozenset[int]


@dataclass(frozen=True, slots=True)
class Outcome:
    """One thing that can happen on a tick.

    ``fired`` per layer: position in the state's ways, or -1.  ``operands``: what each memory's operand was.  ``held``:
    buttons held.  ``values`` bring it about; None where the value does not matter.
    """

    fired: tuple[int, ...]
    operands: tuple[bool, ...]
    held: frozenset[int]
    values: Values


@dataclass(frozen=True)
class View:
    """What decides the outcomes of a place.  ``stays`` are stays on the coming tick, by class; ``ready`` says for each
    memory whether it holds if its operand does (``for``) or even if not (``within``)."""

    states: tuple[int, ...]
    stays: tuple[int, ...]
    ready: tuple[bool, ...]
    held: frozenset[int]


class FreeWorld:
    """The free world of a machine."""

    def __init__(self, machine: Machine) -> None:
        self.machine = machine
        regions = regions_of(machine)
        self.regions = regions.values
        self.open_comparisons = regions.open_comparisons
        conditions = [way.condition for layer in machine.layers for row in layer.ways for way in row if way.condition]
        operands = [memory.operand for memory in machine.memories]
        self.edge_buttons = frozenset(
            part.symbol
            for root in [*conditions, *operands]
            for part in x.parts(root)
            if isinstance(part, x.Pressed | x.Released)
        )
        self.momentary = frozenset(index for index, symbol in enumerate(machine.symbols) if symbol.momentary)
        self.thresholds = [
            [self._thresholds(at, state, operands) for state in range(len(layer.states))]
            for at, layer in enumerate(machine.layers)
        ]
        self.caps = [[max(row, default=0) for row in rows] for rows in self.thresholds]
        self.operands: list[bool] = []
        """What the memories' operands were on the tick decided last."""
        self._outcomes: dict[View, tuple[Outcome, ...]] = {}
        self._steady: dict[View, tuple[tuple[int, ...], ...]] = {}

    def _thresholds(self, layer: int, state: int, operands: list[x.Expression]) -> list[int]:
        """Stays (ticks) from which something reads differently in this state, in order."""
        roots = [way.condition for way in self.machine.layers[layer].ways[state] if way.condition] + operands
        found: set[int] = set()
        for root in roots:
            for part in x.parts(root):
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
        return Place(
            situation.states,
            tuple(
                min(stay, self.caps[at][state])
                for at, (stay, state) in enumerate(zip(situation.stays, situation.states))
            ),
            situation.counters,
            situation.held & self.edge_buttons,
        )

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

            def note(moment: Moment) -> bool | None:
                fired = self.tick(view, moment)
                if fired is None:
                    return None
                held = self._held(moment)
                if held is None:
                    return None
                operands = tuple(bool(operand) for operand in self.operands)
                key = (fired, operands, held)
                if key not in found:
                    solved = self.completed(moment.values)
                    if solved is not None:
                        found[key] = Outcome(fired, operands, held, tuple(solved))
                return False

            self._split(view, [None] * len(self.regions), note)
            known = self._outcomes[view] = tuple(found.values())
        return known

    def steady_fires(self, view: View) -> tuple[tuple[int, ...], ...]:
        """What can fire in a view without any pulse or edge: the ``fired`` of every such outcome."""
        known = self._steady.get(view)
        if known is None:
            found: dict[tuple[int, ...], None] = {}

            def note(moment: Moment) -> bool | None:
                fired = self.tick(view, moment)
                if fired is None:
                    return None
                if fired not in found and self.completed(moment.values) is not None:
                    found[fired] = None
                return False

            self._split(view, self.steady_values(view.held), note)
            known = self._steady[view] = tuple(found)
        return known

    def steady_values(self, held: frozenset[int]) -> list[Symbolic | None]:
        """Open values for a constant run: pulses off, every button with an edge as it was."""
        values: list[Symbolic | None] = [None] * len(self.regions)
        for index in self.momentary:
            values[index] = False
        for index in self.edge_buttons:
            values[index] = index in held
        return values

    def can_hold(self, view: View, layer: int, way: Way) -> Values | None:
        """Values with which ``way`` would be true in a view, whatever comes before it; None when there are none."""
        answer: list[Values] = []

        def note(moment: Moment) -> bool | None:
            if self.tick(view, moment, layer) is None or way.condition is None:
                return None if way.condition is not None else True
            true = decide(way.condition, moment)
            if true:
                solved = self.completed(moment.values)
                if solved is not None:
                    answer.append(tuple(solved))
                    return True
            return None if true is None else False

        self._split(view, [None] * len(self.regions), note)
        return answer[0] if answer else None

    def moment(self, view: View, values: list[Symbolic | None]) -> Moment:
        """The tick of a view with some values open."""
        moment = self.machine.moment(values, view.held, list(view.states), list(view.stays))
        moment.open_comparisons = self.open_comparisons
        return moment

    def tick(self, view: View, moment: Moment, layers: int | None = None) -> tuple[int, ...] | None:
        """Steps 5 and 6 (for the first ``layers`` layers): which ways fire, or None when ``moment.missing`` is needed."""
        self.operands = []
        for index, memory in enumerate(self.machine.memories):
            operand = decide(memory.operand, moment)
            if operand is None:
                return None
            self.operands.append(operand)
            ready = view.ready[index]
            moment.memories[index] = (operand and ready) if memory.kind == "for" else (operand or ready)
        fired = []
        for at, layer in enumerate(self.machine.layers[:layers]):
            taken = -1
            for position, way in enumerate(layer.ways[moment.states[at]]):
                if way.condition is None:
                    continue
                true = decide(way.condition, moment)
                if true is None:
                    return None
                if true:
                    taken = position
                    moment.states[at], moment.stays[at] = way.target, 0
                    break
            fired.append(taken)
        return tuple(fired)

    def _held(self, moment: Moment) -> frozenset[int] | None:
        held = set()
        for index in self.edge_buttons:
            value = moment.values[index]
            if value is None:
                moment.missing = index
                return None
            if value:
                held.add(index)
        return frozenset(held)

    def _split(self, view: View, values: list[Symbolic | None], note: Callable[[Moment], bool | None]) -> None:
        """Call ``note`` with ever fewer open symbols until it answers; it returns True to stop, None to ask for
        ``moment.missing``."""
        stack = [values]
        while stack:
            current = stack.pop()
            moment = self.moment(view, current)
            answer = note(moment)
            if answer:
                return
            if answer is None:
                for value in reversed(self.regions[moment.missing]):
                    narrowed = list(current)
                    narrowed[moment.missing] = value
                    if self.allowed(narrowed) is not False:
                        stack.append(narrowed)

    def allowed(self, values: list[Symbolic | None]) -> bool | None:
        """Whether the assumptions allow these values; None when that depends on open ones."""
        moment = self._bare(values)
        return _all(decide(assumption, moment) for assumption in self.machine.assumptions)

    def completed(self, values: list[Symbolic | None], before: Values | None = None) -> list[Symbolic | None] | None:
        """``values`` with enough open symbols set that every assumption holds, keeping what ``before`` had where it can;
        None when no values do."""
        stack = [values]
        while stack:
            current = stack.pop()
            moment = self._bare(current)
            answer: bool | None = True
            for assumption in self.machine.assumptions:
                answer = decide(assumption, moment)
                if answer is not True:
                    break
            if answer:
                return current
            if answer is None:
                symbol = moment.missing
                kept = before[symbol] if before is not None else None
                for value in sorted(reversed(self.regions[symbol]), key=lambda value: value == kept):
                    narrowed = list(current)
                    narrowed[symbol] = value
                    stack.append(narrowed)
        return None

    def _bare(self, values: list[Symbolic | None]) -> Moment:
        moment = Moment(values, frozenset(), [], [], ())
        moment.open_comparisons = self.open_comparisons
        return moment


def _all(answers: object) -> bool | None:
    unknown = False
    for answer in answers:  # type: ignore[attr-defined]
        if answer is False:
            return False
        unknown = unknown or answer is None
    return None if unknown else True
