"""Conditions over whole sets of values at once.

Every symbol from outside stands for a set of its regions, kept as a bit mask.  An atom about one symbol is a mask too:
the regions in which it is true; so it is true, false, or undecided for the set, and an undecided one says how to split
the set in two.  Atoms about time, states and what effects have set look at the moment, which is known.  The answers
agree with :func:`~leanstep.core.conditions.evaluation.decide` on every value of the regions.

What cannot be known exactly is *open*: it stands for a flag of its own that may take either value.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any, NamedTuple

from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import Moment, decide
from leanstep.core.graph.machine import Machine
from leanstep.core.proof.reduce.inlining import is_open
from leanstep.core.proof.values.regions import Regions

Masks = tuple[int, ...]


class Split(NamedTuple):
    """An answer that needs a symbol's set to be split into ``part`` and the rest; ``then`` is what was found out about all
    of the set, for whoever answers to go on from."""

    symbol: int
    part: int
    then: Any = None

    def of(self, masks: Masks) -> tuple[Masks, Masks]:
        """``masks`` with the symbol's set narrowed to the part, and to the rest."""
        before, after = masks[: self.symbol], masks[self.symbol + 1 :]
        return (*before, self.part, *after), (*before, masks[self.symbol] & ~self.part, *after)


Answer = Callable[[Masks, Any], "Split | bool"]
"""Told ever smaller sets of values, and what came with the split that made them: returns a split it needs, True to stop, or
False to go on with the next."""


@dataclass(slots=True)
class Setting:
    """What conditions look at; ``memories`` are the tracked ones' values.  An undecided answer leaves in ``symbol`` and
    ``part`` how to split: the symbol's set into the part and the rest."""

    masks: Sequence[int]
    now: Moment
    memories: Sequence[bool] = ()
    symbol: int = -1
    part: int = 0


Judge = Callable[[Setting], bool | None]


class Regional:
    """Turns the conditions of a machine into judges over region sets.

    ``uneven(layer, state)`` tells whether a state's playhead depends on values from outside, ``tracked`` whether an atom
    about the past is kept count of; atoms that are not become open.  ``opened[atom]`` is the symbol that stands for it.
    ``tried`` is the (layer, state) in which the condition to be judged is tried, if it is known.

    What an untracked past says is as free on every tick as any other, and only the active state's conditions ask for it: so
    the memories only one layer reads share symbols, the first one of every state the first, and so on.  ``past`` has each
    of these symbols with the set it settles to when nothing changes for long, ``asked`` by (layer, state) the memories its
    conditions read and their symbols, ``operands`` the judges of what they remember.
    """

    def __init__(
        self,
        machine: Machine,
        regions: Regions,
        uneven: Callable[[int, int], bool],
        tracked: Callable[[x.Expression], bool],
    ) -> None:
        self.machine = machine
        self.regions = regions
        self.uneven = uneven
        self.tracked = tracked
        self.values: list[tuple[float | bool | str, ...]] = list(regions.values)
        self.opened: dict[object, int] = {}
        self.past: dict[int, int] = {}
        self._local = _read_in_one_layer(machine)
        self.asked: dict[tuple[int, int], dict[int, int]] = {}
        self.operands: dict[int, Judge] = {}
        self.tried: tuple[int, int] | None = None
        self._known: dict[x.Expression, int] = {}

    @property
    def full(self) -> Masks:
        """Every value of every symbol, open ones included."""
        return tuple((1 << len(values)) - 1 for values in self.values)

    def open(self, atom: object) -> int:
        """The symbol that stands for something open."""
        if atom not in self.opened:
            self.opened[atom] = len(self.values)
            self.values.append((False, True))
        return self.opened[atom]

    def judge(self, expression: x.Expression) -> Judge:
        """The judge of a condition."""
        match expression:
            case x.Constant(value):
                return lambda setting: value
            case x.Every(operands):
                return _joined([self.judge(operand) for operand in operands], False)
            case x.Some(operands):
                return _joined([self.judge(operand) for operand in operands], True)
            case x.Inverse(operand):
                return _inverse(self.judge(operand))
            case x.Remembered(index):
                return self._remembered(index)
            case x.Pressed(symbol):
                on = _Atom(symbol, 0b10)
                return lambda setting: False if symbol in setting.now.held_before else on(setting)
            case x.Released(symbol):
                off = _Atom(symbol, 0b01)
                return lambda setting: off(setting) if symbol in setting.now.held_before else False
            case x.Compared() if expression in self.regions.open_comparisons:
                return _Atom(self.regions.open_comparisons[expression], 0b10)
            case x.ClipOver(layer) | x.ClipAt(layer):
                return self._of_clip(expression, layer)
            case x.SpanOn() | x.Buffered() | x.SinceLeft() if not self.tracked(expression):
                return _Atom(self.open(expression), 0b10)
            case x.Compared() | x.IsOn() if is_open(self.machine, expression):
                return _Atom(self.open(expression), 0b10)
        symbols = sorted(x.symbols_in(expression))
        if isinstance(expression, x.KNOWN) or not any(self.machine.symbols[symbol].free for symbol in symbols):
            return lambda setting: decide(expression, setting.now)
        if len(symbols) == 1:
            return _Atom(symbols[0], self._true_in(expression, symbols[0]))
        free = [symbol for symbol in symbols if self.machine.symbols[symbol].free]
        if len(free) == 1:
            return self._with_graph(expression, free[0], [symbol for symbol in symbols if symbol != free[0]])
        return self._pointwise(expression, symbols)

    def _with_graph(self, expression: x.Expression, free: int, graph: list[int]) -> Judge:
        """An atom about one symbol from outside and parameters of the graph, whose values the moment knows."""
        atoms: dict[tuple[float | bool | str, ...], _Atom] = {}

        def judge(setting: Setting) -> bool | None:
            known = tuple(setting.now.values[symbol] for symbol in graph)
            if known not in atoms:
                atoms[known] = _Atom(free, self._true_with(expression, free, dict(zip(graph, known))))
            return atoms[known](setting)

        return judge

    def _remembered(self, index: int) -> Judge:
        atom = x.Remembered(index)
        if self.tracked(atom):
            return lambda setting: setting.memories[index]
        memory = self.machine.memories[index]
        symbol = self._past_of(index)
        self.past[symbol] = 0b10 if memory.strict else 0b01
        past = _Atom(symbol, 0b10)
        if any(isinstance(part, x.TIMED | x.Remembered) for part in x.parts(memory.operand)):
            return past
        if index not in self.operands:
            self.operands[index] = self.judge(memory.operand)
        return _joined([self.operands[index], past], not memory.strict)

    def _past_of(self, index: int) -> int:
        """The symbol that stands for the past of an untracked memory."""
        if self.tried is None:
            return self.open(x.Remembered(index))
        asked = self.asked.setdefault(self.tried, {})
        if index not in asked:
            kind = self.machine.memories[index].kind
            before = sum(self.machine.memories[other].kind == kind for other in asked if other in self._local)
            atom = (self.tried[0], kind, before) if index in self._local else x.Remembered(index)
            asked[index] = self.open(atom)
        return asked[index]

    def _of_clip(self, expression: x.Expression, layer: int) -> Judge:
        states = range(len(self.machine.layers[layer].states))
        if self.tried is not None and self.tried[0] == layer:
            states = range(self.tried[1], self.tried[1] + 1)
        uneven = frozenset(state for state in states if self.uneven(layer, state))
        if not uneven:
            return lambda setting: decide(expression, setting.now)
        unknown = _Atom(self.open(expression), 0b10)
        return lambda setting: (
            unknown(setting) if setting.now.states[layer] in uneven else decide(expression, setting.now)
        )

    def _true_in(self, expression: x.Expression, symbol: int) -> int:
        if expression not in self._known:
            self._known[expression] = self._true_with(expression, symbol, {})
        return self._known[expression]

    def _true_with(self, expression: x.Expression, symbol: int, known: dict[int, float | bool | str]) -> int:
        """The regions of a symbol in which an atom is true, with other symbols' values known."""
        values: list[float | bool | str] = [False] * len(self.regions.values)
        for other, value in known.items():
            values[other] = value
        mask = 0
        for bit, value in enumerate(self.regions.values[symbol]):
            values[symbol] = value
            if decide(expression, Moment(values)):
                mask |= 1 << bit
        return mask

    def _pointwise(self, expression: x.Expression, symbols: Sequence[int]) -> Judge:
        """An atom about several symbols, each of whose regions is a single value."""
        free = [symbol for symbol in symbols if self.machine.symbols[symbol].free]

        def judge(setting: Setting) -> bool | None:
            values = list(setting.now.values)
            for symbol in free:
                mask = setting.masks[symbol]
                if mask & (mask - 1):
                    setting.symbol, setting.part = symbol, mask & -mask
                    return None
                values[symbol] = self.regions.values[symbol][mask.bit_length() - 1]
            return decide(expression, Moment(values))

        return judge


def _read_in_one_layer(machine: Machine) -> set[int]:
    """The memories that the conditions of one layer read, and no other memory."""
    readers: dict[int, set[int]] = {}
    asked = [(at, way.condition) for at, layer in enumerate(machine.layers) for row in layer.ways for way in row]
    for reader, condition in [*asked, *((-1, memory.operand) for memory in machine.memories)]:
        for part in x.parts(condition) if condition is not None else ():
            if isinstance(part, x.Remembered):
                readers.setdefault(part.index, set()).add(reader)
    return {index for index, layers in readers.items() if len(layers) == 1 and -1 not in layers}


@dataclass(frozen=True, slots=True)
class _Atom:
    """The judge of an atom about one symbol, true in the regions ``true_in``."""

    symbol: int
    true_in: int

    def __call__(self, setting: Setting) -> bool | None:
        mask = setting.masks[self.symbol]
        part = mask & self.true_in
        if not part:
            return False
        if part == mask:
            return True
        setting.symbol, setting.part = self.symbol, part
        return None


def _inverse(operand: Judge) -> Judge:
    def judge(setting: Setting) -> bool | None:
        answer = operand(setting)
        return None if answer is None else not answer

    return judge


def _joined(operands: list[Judge], deciding: bool) -> Judge:
    # most operands are atoms: these are looked at here, which spares a call for each
    parts = [(one.symbol, one.true_in, one) if isinstance(one, _Atom) else (-1, 0, one) for one in operands]

    def judge(setting: Setting) -> bool | None:
        masks = setting.masks
        undecided, part = -1, 0
        for symbol, true_in, operand in parts:
            if symbol >= 0:
                mask = masks[symbol]
                true = mask & true_in
                answer = False if not true else True if true == mask else None
            else:
                answer = operand(setting)
                symbol, true = setting.symbol, setting.part
            if answer is deciding:
                return deciding
            if answer is None and undecided < 0:
                undecided, part = symbol, true
        if undecided < 0:
            return not deciding
        setting.symbol, setting.part = undecided, part
        return None

    return judge
