"""Why a transition was taken on a tick, and why another state was not entered: which parts of a condition were false, with their
values, and since when."""

from __future__ import annotations

from collections import deque
from dataclasses import dataclass

from leanstep.core.character.graph import Transition
from leanstep.core.character.takes import Take
from leanstep.core.conditions import expression as x
from leanstep.core.conditions.closures import truth
from leanstep.core.conditions.evaluation import Moment
from leanstep.core.conditions.grammar import parse
from leanstep.core.conditions.parts import fewest, parts_of, read_aloud
from leanstep.core.graph.machine import CompiledTransition, Machine
from leanstep.core.graph.tick_state import TickState
from leanstep.core.naming.wording import described
from leanstep.core.rehearsal.comparing.words import value_words
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.takes import inputs_of
from leanstep.core.rehearsal.traces import Trace
from leanstep.core.wording import counted, listed

BACK = 240
"""Ticks that are stepped again at most to find since when a part is as it is; of values alone all ticks are looked at."""


@dataclass(frozen=True)
class Part:
    """One part of a condition on a tick: what it says, read aloud, whether it was true, and the values it is about.  ``since`` is
    the tick from which on it is so; None where that is longer ago than was looked."""

    words: str
    true: bool
    values: str
    since: int | None

    def told(self, tick: int, rate: float) -> str:
        """The part with its values, and since when it is so, seen from a tick."""
        about = f" ({self.values})" if self.values else ""
        if self.since is None:
            return f"{self.words}{about}"
        ago = (tick - self.since + 1) / rate
        return f"{self.words}{about}, for {ago:.2g} s"


@dataclass(frozen=True)
class WayIn:
    """A transition that leads to the state that was asked about, on a tick.  ``parts`` are those of its condition;
    ``untried`` says why it was not tried (empty: it was), and ``missing`` are the smallest sets of parts whose change makes it
    true, fewest first, as numbers of ``parts``; of one that is true there are none."""

    index: int
    name: str
    parts: tuple[Part, ...]
    true: bool
    untried: str
    missing: tuple[tuple[int, ...], ...]

    @property
    def asks(self) -> str:
        """The fewest parts that would have to change, in words; empty where nothing makes it true, or nothing has to."""
        return listed([self.parts[at].words for at in self.missing[0]]) if self.missing else ""


@dataclass(frozen=True)
class Answer:
    """Why a state was not entered on a tick.  ``ways`` lead there from the state of that tick; without any, ``chain`` are the states
    of the shortest way there (empty: no way leads there)."""

    state: str
    wanted: str
    tick: int
    rate: float
    ways: tuple[WayIn, ...]
    chain: tuple[str, ...]

    @property
    def sentences(self) -> list[str]:
        """The answer in words."""
        if self.state == self.wanted and not self.ways:
            return [f"It is in {self.wanted}."]
        if not self.ways:
            if not self.chain:
                return [f"No way leads from {self.state} to {self.wanted}."]
            return [
                f"None leads from {self.state} to {self.wanted} at once: {' → '.join(self.chain)} is the shortest way."
            ]
        return [self._of(way) for way in self.ways]

    def _of(self, way: WayIn) -> str:
        if way.untried:
            return f"{way.name}: {way.untried}."
        if way.true:
            return f"{way.name} was taken."
        sets = [listed([way.parts[at].told(self.tick, self.rate) for at in numbers]) for numbers in way.missing[:2]]
        return f"{way.name}: not so is {'; or '.join(sets)}." if sets else f"{way.name}: nothing makes it true."


class Answers:
    """Answers about the ticks of a take that was rehearsed; what was worked out for one is there for the next."""

    def __init__(self, trace: Trace, take: Take) -> None:
        self.trace, self.take = trace, take
        self.machine = trace.machine
        self._inputs = inputs_of(self.machine, take)
        self._stepper = Stepper(self.machine, free=take.world == "free")
        self._tried: dict[tuple[int, int], TickState] = {}

    def why(self, tick: int, layer: int) -> WayIn | None:
        """The transition that a layer took on a tick, with the parts of its condition; None where it took none."""
        fired = self.trace.steps[tick].fired[layer]
        if fired < 0:
            return None
        here = self.tried(tick, layer).states[layer]
        way = next(way for way in self.machine.layers[layer].ways[here] if way.index == fired)
        return _Asked(self, tick, layer).way_in(way, fired)

    def why_not(self, tick: int, layer: int, wanted: int) -> Answer:
        """Why a layer did not enter a state on a tick."""
        table, fired = self.machine.layers[layer], self.trace.steps[tick].fired[layer]
        here = self.tried(tick, layer).states[layer]
        ways = [way for way in table.ways[here] if way.target == wanted and (wanted != here or way.restart)]
        asked = _Asked(self, tick, layer)
        found = tuple(asked.way_in(way, fired) for way in ways)
        chain = () if ways else tuple(table.states[state] for state in _shortest(self.machine, layer, here, wanted))
        return Answer(table.states[here], table.states[wanted], tick, self.machine.character.rate, found, chain)

    def ways_tried(self, tick: int, layer: int) -> tuple[WayIn, ...]:
        """The transitions that a layer had on a tick, in the order they are tried, up to the one taken; of their parts it is not
        looked since when they are so."""
        fired, here = self.trace.steps[tick].fired[layer], self.tried(tick, layer).states[layer]
        row = [way for way in self.machine.layers[layer].ways[here] if way.restart or way.target != here]
        last = next((at for at, way in enumerate(row) if way.index == fired), len(row) - 1)
        asked = _Asked(self, tick, layer, since=False)
        return tuple(asked.way_in(way, fired) for way in row[: last + 1])

    def tried(self, tick: int, layer: int) -> TickState:
        """The moment of a tick in which a layer's transitions were tried."""
        if (tick, layer) not in self._tried:
            given = self._inputs[tick] if tick < len(self._inputs) else {}
            self._tried[tick, layer] = self._stepper.when_tried(self.trace.after(tick), given, layer)
        return self._tried[tick, layer]


class _Asked:
    """One layer on one tick, as its transitions were tried."""

    def __init__(self, answers: Answers, tick: int, layer: int, since: bool = True) -> None:
        self.looks_back = since
        self.answers, self.trace, self.machine = answers, answers.trace, answers.machine
        self.tick, self.layer = tick, layer
        self.before = self.trace.after(tick)
        self.now = answers.tried(tick, layer)

    def way_in(self, way: CompiledTransition, fired: int) -> WayIn:
        """What is to be said of a way."""
        transition = self.machine.character.layers[self.layer].transitions[way.index]
        if way.condition is None:
            return WayIn(way.index, described(transition), (), False, "its condition cannot be read", ())
        shape, leaves = parts_of(parse(transition.when), way.condition)
        now = [truth(leaf)(self.now) for _, leaf in leaves]
        true = way.index == fired or truth(way.condition)(self.now)
        parts = tuple(
            Part(
                read_aloud(node),
                value,
                self._values(leaf),
                self._since(leaf, value),
            )
            for (node, leaf), value in zip(leaves, now)
        )
        missing = () if true else tuple(fewest(shape, now))
        return WayIn(way.index, described(transition), parts, true, self._untried(way, transition, fired), missing)

    def _untried(self, way: CompiledTransition, transition: Transition, fired: int) -> str:
        """Why a way was not tried on the tick; empty where it was."""
        if self.before.freeze:
            return "the character was frozen on that tick"
        if self.now.blocked(self.layer):
            return "a fade that may not be interrupted was going on"
        row = self.machine.layers[self.layer].ways[self.now.states[self.layer]]
        before = [one.index for one in row[: [one.index for one in row].index(way.index)]]
        if fired in before:
            earlier = self.machine.character.layers[self.layer].transitions[fired]
            return f"{described(earlier)} is tried before it, and was taken"
        return ""

    def _values(self, leaf: x.Expression) -> str:
        """The values that a part is about."""
        said = [
            f"{symbol.name} {value_words(self.now.values[index], 4)}{f' {symbol.unit}' if symbol.unit else ''}"
            for index in sorted(x.symbols_in(leaf))
            if (symbol := self.machine.symbols[index]).kind not in ("flag", "pulse", "button")
        ]
        if isinstance(leaf, x.Stayed):
            said.append(f"{counted(self.now.stays[self.layer], 'tick')} so far")
        return ", ".join(said)

    def _since(self, leaf: x.Expression, value: bool) -> int | None:
        """The tick from which on a part is as it is; of the first tick nothing is known."""
        if not self.tick or not self.looks_back:
            return None
        holds = truth(leaf)
        if isinstance(leaf, x.IsOn | x.Compared | x.Chosen | x.SameChoice):
            for tick in range(self.tick - 1, -1, -1):
                # values of the graph may be set on the tick itself: those of its end are close enough to say since when
                if holds(Moment(list(self.trace.values_on(tick)))) != value:
                    return tick + 1
            return 0
        for tick in range(self.tick - 1, max(-1, self.tick - 1 - BACK), -1):
            if holds(self.answers.tried(tick, self.layer)) != value:
                return tick + 1
        return 0 if self.tick <= BACK else None


def _shortest(machine: Machine, layer: int, start: int, end: int) -> list[int]:
    """The states of the way with the fewest transitions; empty where there is none."""
    before, waiting = {start: start}, deque([start])
    while waiting:
        state = waiting.popleft()
        if state == end:
            path = [end]
            while path[-1] != start:
                path.append(before[path[-1]])
            return path[::-1] if len(path) > 1 else []
        for way in machine.layers[layer].ways[state]:
            if way.target not in before:
                before[way.target] = state
                waiting.append(way.target)
    return []
