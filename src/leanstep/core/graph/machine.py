"""A character's graph compiled to flat tables; every engine steps from these."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import cached_property
from itertools import chain
from pathlib import Path
from typing import Any, TypeVar

from leanstep.core.character.document import Character
from leanstep.core.character.graph import State
from leanstep.core.conditions import expression as x
from leanstep.core.conditions.checking import Fault
from leanstep.core.conditions.closures import Truth, truth
from leanstep.core.conditions.expression import Expression, Memory, Symbol
from leanstep.core.graph.clip_tables import Picture
from leanstep.core.graph.effects import Act

Where = dict[str, str | int]
_T = TypeVar("_T")


MOST_FIRED = 1000
"""Marks of a clip that may fire in one tick."""


@dataclass(frozen=True)
class CompiledTransition:
    """A transition as the engines see it.

    ``index`` is its place in the layer's list; ``target`` a state index.  ``condition`` is None when it is broken: it
    counts as never true.  ``fade`` is the crossfade in ticks; ``blocks``: no other transition while it runs.  ``uses`` are
    the buffered presses its condition asks for.
    """

    index: int
    target: int
    condition: Expression | None
    restart: bool
    urgent: bool = False
    owner: str = ""
    fade: int = 0
    blocks: bool = False
    keep_phase: bool = False
    uses: tuple[x.Buffered, ...] = ()


@dataclass(frozen=True)
class WrittenFault:
    """A fault in what was written.  ``place`` leads there: for example {"layer": "base", "transition": 3}; with ``in`` a
    word for the part of it that is meant."""

    place: Where
    text: str
    fault: Fault


@dataclass(frozen=True)
class Expects:
    """A state's expectation: ``condition`` may be false on ``grace`` ticks in a row while the state is shown."""

    layer: int
    state: int
    condition: Expression
    grace: int


@dataclass(frozen=True)
class Touched:
    """What contact sets: symbols, -1 where nothing is declared.  ``guards`` is asked after step 6."""

    guards: Expression | None = None
    hit: int = -1
    guarded: int = -1
    stun: int = -1
    strength: int = -1
    lands: int = -1
    stopped: int = -1

    @property
    def pulses(self) -> set[int]:
        """The pulses that are declared."""
        return {self.hit, self.guarded, self.lands, self.stopped} - {-1}


@dataclass(frozen=True)
class LayerTable:
    """One layer.  ``ways[state]`` are the transitions tried in that state, in the order they are tried; ``entry`` and
    ``leave`` the effects of each state."""

    name: str
    states: tuple[str, ...]
    start: int
    ways: tuple[tuple[CompiledTransition, ...], ...]
    count: int
    entry: tuple[tuple[Act, ...], ...]
    leave: tuple[tuple[Act, ...], ...]
    endings: frozenset[int]
    restful: frozenset[int]
    locks: frozenset[int]

    @property
    def kept_phases(self) -> set[tuple[int, int]]:
        """The pairs of states from the first of which some transition keeps the phase."""
        return {(state, way.target) for state, row in enumerate(self.ways) for way in row if way.keep_phase}

    def position(self, state: int, index: int) -> int:
        """Where a transition stands among those that are tried in a state."""
        return next(position for position, way in enumerate(self.ways[state]) if way.index == index)


@dataclass(frozen=True)
class Machine:
    """A character ready to be stepped or proved.

    ``window``: the flicker window in ticks; a stay is within it when it is shorter.  ``buffers`` are the buttons whose
    presses are remembered, ``clocks`` the (layer, state) whose leaving is, each with the most ticks that matter.
    ``formulas`` are the symbols computed from others, in the order they are computed.  ``shown`` says of each accessory
    when it is.  ``folder`` is where the files of its pictures and of second figures are looked for.
    """

    character: Character
    symbols: tuple[Symbol, ...]
    memories: tuple[Memory, ...]
    layers: tuple[LayerTable, ...]
    pictures: tuple[tuple[Picture | None, ...], ...]
    assumptions: tuple[Expression, ...]
    formulas: tuple[tuple[int, Expression], ...]
    buffers: tuple[tuple[int, int], ...]
    clocks: tuple[tuple[tuple[int, int], int], ...]
    expects: tuple[Expects, ...]
    locks: tuple[str, ...]
    holds: frozenset[int]
    faults: tuple[WrittenFault, ...]
    window: int
    index: dict[str, int] = field(compare=False)
    touched: Touched = Touched()
    shown: tuple[Expression, ...] = ()
    folder: Path = field(compare=False, default=Path())
    _made: dict[object, Any] = field(compare=False, init=False, repr=False, default_factory=dict)

    def once(self, key: object, make: Callable[[], _T]) -> _T:
        """What others make of this machine, made once for a key."""
        if key not in self._made:
            self._made[key] = make()
        found: _T = self._made[key]
        return found

    @cached_property
    def timed(self) -> frozenset[tuple[int, int]]:
        """The (layer, state) whose leaving is remembered."""
        return frozenset(place for place, _ in self.clocks)

    @cached_property
    def spanned(self) -> bool:
        """Whether any clip has spans."""
        pictures = (picture for row in self.pictures for picture in row if picture is not None)
        return any(reel.windows for picture in pictures for reel in picture.reels)

    @cached_property
    def free(self) -> tuple[int, ...]:
        """The symbols that come from outside."""
        return tuple(index for index, symbol in enumerate(self.symbols) if symbol.free)

    @cached_property
    def sticks(self) -> tuple[tuple[int, int, int, int], ...]:
        """The symbols of each stick: x, y, push and bearing."""
        names = [stick.name for stick in self.character.controls.sticks]
        return tuple(
            (
                self.index[f"{name}.x"],
                self.index[f"{name}.y"],
                self.index[f"{name}.push"],
                self.index[f"{name}.bearing"],
            )
            for name in names
        )

    @cached_property
    def steered_by(self) -> dict[str, int]:
        """The symbols that steer the body, by what they do; -1 for what there is not."""
        body = self.character.body
        names = {"stick_x": f"{body.stick}.x", "stick_y": f"{body.stick}.y", "jump": body.jump, "run": body.run}
        names |= {"aim": f"{body.aim}.bearing", "aim_push": f"{body.aim}.push", "aim_held": body.aim_held}
        found = {key: self.index.get(name, -1) for key, name in names.items()}
        bearing = self.index.get(body.aim, -1)
        if found["aim"] < 0 and bearing >= 0 and self.symbols[bearing].kind == "bearing":
            found["aim"] = bearing
        return found

    @cached_property
    def boxes(self) -> tuple[tuple[tuple[float, ...], ...], ...]:
        """The body box that each layer's states ask for, width and height (seen from above depth); empty where they ask for none.  A
        squash that the box follows asks for it in its whole shape."""
        body, squashes = self.character.body, {one.name: one for one in self.character.squashes}
        usual = body.width, body.depth if body.model == "above" else body.height

        def asked(state: State) -> tuple[float, ...]:
            squash = squashes.get(state.squash)
            if state.box or squash is None or not squash.box:
                return state.box
            wide = 1 / squash.high if squash.wide is None else squash.wide
            return usual[0] * wide, usual[1] * squash.high

        return tuple(tuple(map(asked, layer.states)) for layer in self.character.layers)

    @cached_property
    def freezes(self) -> bool:
        """Whether any effect makes time stand."""
        of_layers = (act for layer in self.layers for row in (*layer.entry, *layer.leave) for act in row)
        reels = (reel for row in self.pictures for picture in row if picture is not None for reel in picture.reels)
        of_marks = (act for reel in reels for cue in reel.cues for act in cue.acts)
        return any(act.do == "freeze" for act in chain(of_layers, of_marks))

    @cached_property
    def countdowns(self) -> tuple[int, ...]:
        """The symbols that go down by one on every tick."""
        return tuple(index for index, symbol in enumerate(self.symbols) if symbol.countdown)

    @cached_property
    def derived(self) -> frozenset[int]:
        """The symbols that follow from a stick's x and y where it is a player who pushes it."""
        return frozenset(symbol for stick in self.sticks for symbol in stick[2:])

    @cached_property
    def tangled(self) -> frozenset[int]:
        """The symbols of sticks that hang together in a way no proof follows: where conditions read how far or where to a stick
        is pushed beside each other, or beside its x or y."""
        read = {symbol for root in self.roots for symbol in x.symbols_in(root)}
        found = set[int]()
        for sideways, up, push, bearing in self.sticks:
            some = read & {push, bearing}
            if len(some) == 2 or (some and read & {sideways, up}):
                found |= {sideways, up, push, bearing}
        return frozenset(found)

    @cached_property
    def limited(self) -> tuple[int, ...]:
        """The symbols from outside with a declared limit: pulses that come only so often, numbers that change only so fast."""
        return tuple(index for index in self.free if self.symbols[index].spacing > 1 or self.symbols[index].step)

    @cached_property
    def operands(self) -> tuple[Truth, ...]:
        """The memories' operands as functions."""
        return tuple(truth(memory.operand) for memory in self.memories)

    @cached_property
    def tests(self) -> tuple[tuple[tuple[tuple[Truth, CompiledTransition], ...], ...], ...]:
        """By layer and state: the conditions as functions, with their ways, in the order they are tried."""
        return tuple(
            tuple(tuple((truth(way.condition), way) for way in row if way.condition is not None) for row in layer.ways)
            for layer in self.layers
        )

    @property
    def roots(self) -> list[Expression]:
        """Every condition and memory operand."""
        found: list[Expression] = [*self.assumptions, *(memory.operand for memory in self.memories)]
        found += [expects.condition for expects in self.expects]
        found += [self.touched.guards] if self.touched.guards is not None else []
        for layer in self.layers:
            found += {
                way.index: way.condition for row in layer.ways for way in row if way.condition is not None
            }.values()
        return found


def remembered(machine: Machine) -> Machine:
    """The machine with the presses and leavings that its conditions ask for."""
    buffers: dict[int, int] = {}
    clocks: dict[tuple[int, int], int] = {}
    for part in (part for root in machine.roots for part in x.parts(root)):
        if isinstance(part, x.Buffered):
            buffers[part.symbol] = max(buffers.get(part.symbol, 0), part.ticks)
        elif isinstance(part, x.SinceLeft):
            place = (part.layer, part.state)
            clocks[place] = max(clocks.get(place, 0), part.ticks + 1)
    return replace(machine, buffers=tuple(sorted(buffers.items())), clocks=tuple(sorted(clocks.items())))
