"""A character's graph compiled to flat tables; every engine steps from these."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any, TypeVar

from leanstep.core.blends.space import space_of
from leanstep.core.character.clips import Clip, Effect
from leanstep.core.character.document import Character
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.core.conditions import expression as x
from leanstep.core.conditions.checking import Fault, Scope, nearest, scope_of
from leanstep.core.conditions.closures import Truth, truth
from leanstep.core.conditions.expression import NUMERIC, Expression, Memory, Symbol
from leanstep.core.conditions.tree import Duration, ticks_of
from leanstep.core.deadline import look
from leanstep.core.graph.clip_tables import Pace, Picture, Reel, held_clip, reel
from leanstep.core.graph.effects import Act, Effects, fault_of_shape, shapes_of

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
    ``formulas`` are the symbols computed from others, in the order they are computed.
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


def compile_character(character: Character) -> Machine:
    """Compile a character; faults in what was written are collected, never raised."""
    return _Compiler(character).machine()


def _pushes(state: State) -> tuple[Effect, ...]:
    """The push a state gives the body when it is entered, as an effect."""
    return (Effect(do="push", value=state.push[0], up=state.push[1]),) if state.push else ()


def _unknown(what: str, word: str, names: list[str]) -> Fault:
    return Fault("name.unknown", f"no {what} is called {word}", 0, word, nearest(word, names))


class _Compiler:
    """Compiles one character, collecting faults."""

    def __init__(self, character: Character) -> None:
        self.character = character
        self.scope: Scope = scope_of(character)
        self.effects = Effects(self.scope, shapes_of(character))
        self.faults: list[WrittenFault] = []
        self.clips = {clip.name: clip for clip in character.clips}
        self.reels: dict[str, Reel] = {}
        self.bearings = character.bearings

    def machine(self) -> Machine:
        character, scope = self.character, self.scope
        formulas = []
        for index, (formula, found) in scope.compiled_formulas().items():
            self._note({"parameter": scope.symbols[index].name}, scope.formulas[index], found)
            if formula is not None:
                formulas.append((index, formula))
        tables = tuple(self._layer(layer, at) for at, layer in enumerate(character.layers))
        assumptions = []
        for number, text in enumerate(character.assumptions):
            compiled = self._condition({"assumption": number}, text, None)
            if compiled is not None:
                assumptions.append(compiled)
        expects = tuple(self._expects())
        pictures = tuple(tuple(self._picture(layer, state) for state in layer.states) for layer in character.layers)
        for clip in character.clips:
            self._reel(clip)
        machine = Machine(
            character,
            tuple(scope.symbols),
            tuple(scope.memories),
            tables,
            pictures,
            tuple(assumptions),
            tuple(formulas),
            (),
            (),
            expects,
            tuple(self.effects.locks),
            frozenset(window.hold for made in self.reels.values() for window in made.windows if window.hold >= 0),
            tuple(self.faults),
            ticks_of(Duration(character.flicker_window, "s"), character.rate),
            dict(scope.index),
        )
        return remembered(machine)

    def _note(self, place: Where, text: str, faults: list[Fault]) -> None:
        self.faults.extend(WrittenFault(place, text, fault) for fault in faults)

    def _condition(self, place: Where, text: str, layer: int | None) -> Expression | None:
        compiled, found = self.scope.compile(text, layer)
        self._note(place, text, found)
        return compiled

    def _acts(self, place: Where, effects: tuple[Effect, ...]) -> tuple[Act, ...]:
        acts, found = self.effects.compile(effects)
        self.faults.extend(WrittenFault(place, text, fault) for text, fault in found)
        return acts

    def _layer(self, layer: Layer, at: int) -> LayerTable:
        names = [state.name for state in layer.states]
        if layer.start_name not in names:
            place: Where = {"layer": layer.name, "state": layer.start_name}
            self._note(place, layer.start_name, [_unknown("state", layer.start_name, names)])
        owned = self._owned(layer, at, names)
        rows = []
        for at_state, state in enumerate(layer.states):
            graph, lane, own = ("graph", ""), ("lane", state.lane or "\0"), ("state", state.name)
            order = [(True, *graph), (True, *lane), (True, *own), (False, *own), (False, *lane), (False, *graph)]
            tried = [way for owner in order for way in owned.get(owner, [])]
            rows.append(tuple(way for way in tried if way.target != at_state or way.restart))
        return LayerTable(
            layer.name,
            tuple(names),
            names.index(layer.start_name) if layer.start_name in names else 0,
            tuple(rows),
            len(layer.transitions),
            tuple(
                self._acts({"layer": layer.name, "state": one.name, "in": "entry"}, (*one.on_entry, *_pushes(one)))
                for one in layer.states
            ),
            tuple(
                self._acts({"layer": layer.name, "state": one.name, "in": "leaving"}, one.on_leave)
                for one in layer.states
            ),
            frozenset(index for index, state in enumerate(layer.states) if state.ending),
            frozenset(index for index, state in enumerate(layer.states) if state.restful),
            frozenset(index for index, state in enumerate(layer.states) if state.hold_still),
        )

    def _owned(self, layer: Layer, at: int, names: list[str]) -> dict[tuple[bool, str, str], list[CompiledTransition]]:
        """The ways by (urgent, kind of owner, owner)."""
        places = {name: at for at, name in enumerate(names)}
        lanes = list(layer.lane_names)
        owned: dict[tuple[bool, str, str], list[CompiledTransition]] = {}
        for number, transition in enumerate(layer.transitions):
            look()
            place: Where = {"layer": layer.name, "transition": number}
            condition = self._condition(place, transition.when, at)
            written = [("state", transition.to, names)]
            if transition.source:
                written.append(("state", transition.source, names))
            if transition.from_lane:
                written.append(("lane", transition.from_lane, lanes))
            strange = [one for one in written if one[1] not in (places if one[2] is names else one[2])]
            for what, word, known in strange:
                self._note(place, word, [_unknown(what, word or "(nothing)", known)])
            self._shape_names(place, transition)
            if transition.to not in places:
                continue
            kind = "state" if transition.source else "lane" if transition.from_lane else "graph"
            owner = (transition.urgent, kind, transition.source or transition.from_lane)
            fade = ticks_of(Duration(transition.fade, "s"), self.character.rate)
            way = CompiledTransition(
                number,
                places[transition.to],
                None if strange else condition,
                transition.restart,
                transition.urgent,
                f"{kind} {transition.source or transition.from_lane}",
                fade,
                fade > 0 and not transition.interruptible,
                transition.keep_phase,
                tuple(part for part in x.parts(condition) if isinstance(part, x.Buffered)) if condition else (),
            )
            owned.setdefault(owner, []).append(way)
        return owned

    def _expects(self) -> list[Expects]:
        found = []
        for at, layer in enumerate(self.character.layers):
            for state, one in enumerate(layer.states):
                if one.expects:
                    place: Where = {"layer": layer.name, "state": one.name, "in": "expectation"}
                    condition = self._condition(place, one.expects, at)
                    if condition is not None:
                        grace = ticks_of(Duration(one.grace, "s"), self.character.rate)
                        found.append(Expects(at, state, condition, grace))
        return found

    def _shape_names(self, place: Where, owner: State | Transition) -> None:
        """Note squashes and leans that there are not."""
        for kind in ("squash", "lean"):
            name = getattr(owner, kind)
            fault = fault_of_shape(kind, name, self.effects.shapes[kind])
            if fault is not None:
                self._note(place, name, [fault])

    def _picture(self, layer: Layer, state: State) -> Picture | None:
        blends = {blend.name: blend for blend in self.character.blends}
        place: Where = {"layer": layer.name, "state": state.name}
        self._shape_names(place, state)
        if state.blend:
            blend = blends.get(state.blend)
            if blend is None:
                self._note(place, state.blend, [_unknown("blend space", state.blend, list(blends))])
                return None
            samples = [self.clips[sample.clip] for sample in blend.samples if sample.clip in self.clips]
            if len(samples) < len(blend.samples) or not samples:
                return None
            axes = tuple(self._axis(place, blend.name, axis.parameter) for axis in blend.axes)
            space = space_of(blend, self.bearings)
            return Picture(tuple(self._reel(clip) for clip in samples), blend, space, axes)
        if state.clip:
            if state.clip not in self.clips:
                self._note(place, state.clip, [_unknown("clip", state.clip, list(self.clips))])
                return None
            return Picture((self._reel(self.clips[state.clip]),))
        if state.held is not None:
            return Picture((reel(held_clip(state.held), (), (), None),))
        return None

    def _axis(self, place: Where, blend: str, name: str) -> int:
        """The symbol an axis reads; -1 for what is no number."""
        index = self.scope.index.get(name, -1)
        if index >= 0 and self.scope.symbols[index].kind not in NUMERIC:
            kind = self.scope.symbols[index].kind
            reason = f"the blend space {blend} reads numbers and bearings, and {name} is a {kind}"
            self._note(place, name, [Fault("kind.mismatch", reason, 0, name)])
            return -1
        return index

    def _reel(self, clip: Clip) -> Reel:
        if clip.name not in self.reels:
            place: Where = {"clip": clip.name}
            acts = [self._acts({**place, "mark": mark.name}, mark.effects) for mark in clip.marks]
            holds = [self._hold({**place, "span": span.name}, span.hold) for span in clip.spans]
            made = reel(clip, acts, holds, self._pace(clip))
            if made.most_fired > MOST_FIRED:
                reason = f"its marks can fire {made.most_fired} times in one tick, and {MOST_FIRED} are followed; they are left out"
                self._note(place, clip.name, [Fault("value.impossible", reason, 0, clip.name)])
                made = replace(made, cues=())
            self.reels[clip.name] = made
        return self.reels[clip.name]

    def _hold(self, place: Where, name: str) -> int:
        if not name:
            return -1
        index = self.scope.index.get(name, -1)
        flags = [symbol.name for symbol in self.scope.symbols if symbol.owner == "graph" and symbol.kind == "flag"]
        if index < 0:
            self._note(place, name, [_unknown("parameter", name, flags)])
        elif name not in flags:
            reason = f"a span holds a flag of the graph on, and {name} is none"
            self._note(place, name, [Fault("kind.mismatch", reason, 0, name)])
            return -1
        return index

    def _pace(self, clip: Clip) -> Pace | None:
        playback = clip.playback
        if playback is None:
            return None
        index = self.scope.index.get(playback.parameter, -1)
        numbers = [symbol.name for symbol in self.scope.symbols if symbol.kind in ("number", "whole")]
        place: Where = {"clip": clip.name, "in": "playback"}
        if index < 0:
            self._note(place, playback.parameter, [_unknown("parameter", playback.parameter, numbers)])
            return None
        if playback.parameter not in numbers:
            reason = f"a clip is paced by a number, and {playback.parameter} is none"
            self._note(place, playback.parameter, [Fault("kind.mismatch", reason, 0, playback.parameter)])
            return None
        return Pace(index, playback.at, playback.min, playback.max)
