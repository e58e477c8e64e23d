"""How much of a character its takes cover: states, transitions, marks, and every part of every condition both ways.

A part is covered true (or false) by a tick on which its transition is tried, the part is true (false), and the condition hangs on
it: were the part otherwise and all others as they are, the condition would be, too.  That is modified condition/decision
coverage, with parts that others mask not counted (J. J. Chilenski and S. P. Miller, "Applicability of modified condition/decision
coverage to software testing", Software Engineering Journal 9(5), 1994).
"""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

from leanstep.core.character.takes import Take
from leanstep.core.conditions.closures import Truth, truth
from leanstep.core.conditions.grammar import parse
from leanstep.core.conditions.parts import Shape, deciding, parts_of, read_aloud, worth
from leanstep.core.errors import LeanStepError
from leanstep.core.graph.machine import Machine
from leanstep.core.graph.tick_state import TickState
from leanstep.core.naming.wording import described
from leanstep.core.rehearsal.saved_situations import situation_of
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.takes import inputs_of
from leanstep.core.work import look

Key = tuple[int, int]
"""Layer and state, or layer and place in its list of transitions."""
Decided = tuple[Key, int, bool]
"""A part of a transition's condition, by number, and what it was worth when it decided."""


@dataclass
class _Condition:
    """A condition with the truth of its parts as functions."""

    shape: Shape
    words: list[str]
    holds: list[Truth]

    def worth(self, now: TickState) -> tuple[bool, ...]:
        """What its parts are worth in a moment."""
        return tuple(holds(now) for holds in self.holds)


@dataclass
class Coverage:
    """What takes do: how often each state was entered (or begun in), each transition taken and each mark fired (by clip and
    name); ``skipped`` are takes that cannot be played.  ``seen`` is what the parts of a condition were worth together when it was
    tried, and whether it was true then.  ``impossible`` are states and transitions that cannot be covered."""

    machine: Machine
    states: Counter[Key] = field(default_factory=Counter)
    transitions: Counter[Key] = field(default_factory=Counter)
    marks: Counter[str] = field(default_factory=Counter)
    skipped: list[str] = field(default_factory=list)
    seen: defaultdict[Key, dict[tuple[bool, ...], bool]] = field(default_factory=lambda: defaultdict(dict))
    impossible_states: set[Key] = field(default_factory=set)
    impossible_ways: set[Key] = field(default_factory=set)

    @cached_property
    def conditions(self) -> dict[Key, _Condition]:
        """The conditions that can be read."""
        return self.machine.once(Coverage, self._conditions)

    def _conditions(self) -> dict[Key, _Condition]:
        found: dict[Key, _Condition] = {}
        for layer, table in enumerate(self.machine.layers):
            transitions = self.machine.character.layers[layer].transitions
            for way in (way for row in table.ways for way in row):
                if way.condition is not None and (layer, way.index) not in found:
                    shape, parts = parts_of(parse(transitions[way.index].when), way.condition)
                    words = [read_aloud(node) for node, _ in parts]
                    found[layer, way.index] = _Condition(shape, words, [truth(one) for _, one in parts])
        return found

    @cached_property
    def ways_out(self) -> dict[Key, list[tuple[Key, _Condition]]]:
        """Of each layer's states, the conditions that can be read, in the order in which they are tried."""
        return {
            (layer, state): [
                ((layer, way.index), self.conditions[layer, way.index]) for way in row if way.condition is not None
            ]
            for layer, table in enumerate(self.machine.layers)
            for state, row in enumerate(table.ways)
        }

    def tried(self, layer: int, now: TickState) -> None:
        """A layer's transitions are tried in a moment: note what the parts of each are worth, up to the first that is true."""
        for key, condition in self.ways_out[layer, now.states[layer]]:
            values, seen = condition.worth(now), self.seen[key]
            if values not in seen:
                seen[values] = worth(condition.shape, values)
            if seen[values]:
                return

    def parts(self, key: Key) -> list[tuple[str, bool, bool]]:
        """The parts of a condition: in words, and whether each has decided while true and while false."""
        condition = self.conditions[key]
        decided = self.decided(key)
        return [
            (words, (key, at, True) in decided, (key, at, False) in decided) for at, words in enumerate(condition.words)
        ]

    def decided(self, key: Key) -> set[Decided]:
        """The parts of a condition that have decided."""
        shape = self.conditions[key].shape
        return {(key, at, values[at]) for values in self.seen.get(key, ()) for at in deciding(shape, values)}

    def undecided(self) -> set[Decided]:
        """The parts of conditions that have not decided while they were true, or false, of all that can be taken."""
        return {
            (key, at, value)
            for key in set(self.conditions) - self.impossible_ways
            for at in range(len(self.conditions[key].words))
            for value in (True, False)
        } - {one for key in self.seen for one in self.decided(key)}

    @property
    def counted(self) -> dict[str, tuple[int, int]]:
        """Of states, transitions, marks and parts of conditions (each part twice): how many are covered, and of how many."""
        layers = self.machine.layers
        states = {(layer, at) for layer, table in enumerate(layers) for at in range(len(table.states))}
        states -= self.impossible_states
        ways = set(self.conditions) - self.impossible_ways
        marks = {mark.name for clip in self.machine.character.clips for mark in clip.marks}
        both = [one for key in ways for _, *each in self.parts(key) for one in each]
        return {
            "states": (len(states & set(self.states)), len(states)),
            "transitions": (len(ways & set(self.transitions)), len(ways)),
            "marks": (len(marks & set(self.marks)), len(marks)),
            "parts": (sum(both), len(both)),
        }

    @property
    def percent(self) -> float:
        """All that is covered, of all there is, in percent."""
        done, whole = (sum(numbers) for numbers in zip(*self.counted.values()))
        return 100.0 * done / whole if whole else 100.0

    def missing(self) -> list[str]:
        """What is not covered, a sentence each: states, transitions, marks, then parts of conditions of what was taken."""
        machine, said = self.machine, list[str]()
        for layer, table in enumerate(machine.layers):
            states = [(layer, at) for at in range(len(table.states)) if (layer, at) not in self.impossible_states]
            said += [f"{table.states[at]} is never entered" for _, at in states if (layer, at) not in self.states]
        for key in sorted(set(self.conditions) - self.impossible_ways):
            name = described(machine.character.layers[key[0]].transitions[key[1]])
            if key not in self.transitions:
                said.append(f"{name} is never taken")
                continue
            for words, true, false in self.parts(key):
                ways = [way for way, done in (("true", true), ("false", false)) if not done]
                said += [f"{name}: “{words}” never decides while it is {' or '.join(ways)}"] if ways else []
        marks = dict.fromkeys(mark.name for clip in machine.character.clips for mark in clip.marks)
        said += [f"mark {name} never fires" for name in marks if name not in self.marks]
        return said

    def to_json(self) -> dict[str, Any]:
        """The JSON of it, version 1."""
        counted = {name: {"covered": done, "of": whole} for name, (done, whole) in self.counted.items()}
        character = self.machine.character.name
        return {
            "version": 1,
            "character": character,
            "percent": round(self.percent, 2),
            **counted,
            "missing": self.missing(),
            "skipped": self.skipped,
        }

    def play(self, takes: Iterable[Take]) -> None:
        """Play takes, and count what they cover, too."""
        for take in takes:
            try:
                _play(self, take)
            except LeanStepError:
                self.skipped.append(take.name)


def coverage(machine: Machine, takes: Iterable[Take]) -> Coverage:
    """What the takes cover of a character."""
    found = Coverage(machine)
    found.play(takes)
    return found


def _play(found: Coverage, take: Take) -> None:
    machine = found.machine
    stepper = Stepper(machine, free=take.world == "free")
    inputs = inputs_of(machine, take)
    now = situation_of(machine, take.begins) if take.begins is not None else stepper.first()
    found.states.update(enumerate(now.states))

    for tick in range(take.ticks):
        look()
        step = stepper.step(now, inputs[tick] if tick < len(inputs) else {}, found.tried)
        for layer, way in enumerate(step.fired):
            if way >= 0:
                found.transitions[layer, way] += 1
                found.states[layer, step.situation.states[layer]] += 1
        found.marks.update(name for _, name in step.marks)
        now = step.situation
