"""A character compiled to a machine."""

from __future__ import annotations

from dataclasses import replace

from leanstep.core.blends.space import space_of
from leanstep.core.character.alternates import Alternate
from leanstep.core.character.clips import Clip, Effect
from leanstep.core.character.contact import RAISED, can_raise
from leanstep.core.character.document import Character
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.core.character.pins import Accessory
from leanstep.core.conditions import expression as x
from leanstep.core.conditions.checking import Fault, nearest
from leanstep.core.conditions.expression import NUMERIC, Expression
from leanstep.core.conditions.scope import Scope, scope_of
from leanstep.core.conditions.tree import Duration, ticks_of
from leanstep.core.graph.clip_tables import Pace, Picture, Reel, held_clip, reel
from leanstep.core.graph.effects import Act, Effects, fault_of_shape, shapes_of
from leanstep.core.graph.machine import (
    MOST_FIRED,
    CompiledTransition,
    Expects,
    LayerTable,
    Machine,
    Touched,
    Where,
    WrittenFault,
    remembered,
)
from leanstep.core.work import look


def compile_character(character: Character) -> Machine:
    """Compile a character; faults in what was written are collected, never raised."""
    return _Compiler(character).machine()


def _pushes(state: State) -> tuple[Effect, ...]:
    """The push a state gives the body when it is entered, as an effect."""
    return (Effect(do="push", value=state.push[0], up=state.push[1]),) if state.push else ()


def _unknown(what: str, word: str, names: list[str]) -> Fault:
    return Fault("name.unknown", f"no {what} is called {word}", 0, word, nearest(word, names))


EDGES = x.Pressed | x.Released | x.Buffered
"""What is true only on the tick of a press, or uses it."""
BY_TIME = EDGES | x.Stayed | x.ClipOver | x.ClipAt | x.SpanOn | x.SinceLeft | x.Remembered
"""What hangs on when something was."""


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
        expects, touched = tuple(self._expects()), self._touched()
        pictures = tuple(tuple(self._picture(layer, state) for state in layer.states) for layer in character.layers)
        for clip in character.clips:
            self._reel(clip)
        shown = tuple(self._shown(one) for one in character.accessories)
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
            touched,
            shown,
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

    def _touched(self) -> Touched:
        """What contact sets, and when strikes are guarded."""
        rules = self.character.contact
        if rules is None:
            return Touched()
        guards = self._condition({"contact": "guards"}, rules.guards, 0) if rules.guards else None
        if guards is not None and any(isinstance(part, EDGES) for part in x.parts(guards)):
            reason = "what guards is asked after the transitions of a tick, when no press is new"
            fault = Fault("condition.unreadable", f"{reason}: ask whether the button is held", 0, rules.guards)
            self._note({"contact": "guards"}, rules.guards, [fault])
            guards = None
        return Touched(guards, **{what: self._raised(what, kind) for what, kind in RAISED.items()})

    def _shown(self, one: Accessory) -> Expression:
        """When an accessory is shown."""
        if not one.shown:
            return x.Constant(True)
        place: Where = {"accessory": one.name}
        shown = self._condition(place, one.shown, 0)
        if shown is not None and any(isinstance(part, BY_TIME) for part in x.parts(shown)):
            reason = "what shows an accessory asks only how parameters are and which states are active"
            way_out = "let a flag of the graph remember the rest"
            self._note(place, one.shown, [Fault("condition.unreadable", f"{reason}: {way_out}", 0, one.shown)])
            shown = None
        return shown if shown is not None else x.Constant(False)

    def _raised(self, what: str, kind: str) -> int:
        """The symbol that contact sets."""
        name: str = getattr(self.character.contact, what)
        if not name:
            return -1
        place: Where = {"contact": what}
        fit = [one.name for one in self.scope.symbols if can_raise(what, one.owner, one.kind, one.countdown)]
        if name not in self.scope.index:
            self._note(place, name, [_unknown("parameter", name, fit)])
        elif name not in fit:
            reason = f"contact sets a {kind} of the game, and {name} is none"
            self._note(place, name, [Fault("kind.mismatch", reason, 0, name)])
        return self.scope.index[name] if name in fit else -1

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
            samples = [sample.clip for sample in blend.samples if sample.clip in self.clips]
            if len(samples) < len(blend.samples) or not samples:
                return None
            axes = tuple(self._axis(place, blend.name, axis.parameter) for axis in blend.axes)
            space = space_of(blend, self.bearings)
            return self._moved(state, samples, Picture((), blend, space, axes))
        if state.clip:
            if state.clip not in self.clips:
                self._note(place, state.clip, [_unknown("clip", state.clip, list(self.clips))])
                return None
            return self._moved(state, [state.clip], Picture(()))
        if state.held is not None:
            return Picture((reel(held_clip(state.held), (), (), None),))
        return None

    def _moved(self, state: State, clips: list[str], picture: Picture) -> Picture:
        """The picture of a state that shows these clips, with those of other ways of moving behind them."""
        own = next((one for one in self.character.alternates if one.name == state.alternate), None)
        if own is not None:
            stand_in = self._instead(own)
            return replace(picture, reels=tuple(self._reel(self.clips[stand_in.get(clip, clip)]) for clip in clips))
        reels, moved = [self._reel(self.clips[clip]) for clip in clips], list[tuple[int, str]]()
        for one in self.character.alternates:
            symbol, stand_in = self.scope.index.get(one.parameter, -1), self._instead(one)
            known = symbol >= 0 and one.value in self.scope.symbols[symbol].choices
            if known and any(clip in stand_in for clip in clips):
                reels += [self._reel(self.clips[stand_in.get(clip, clip)]) for clip in clips]
                moved.append((symbol, one.value))
        return replace(picture, reels=tuple(reels), moved=tuple(moved))

    def _instead(self, one: Alternate) -> dict[str, str]:
        """What a way of moving plays instead of what, of clips that are there."""
        return {part.clip: part.by for part in one.clips if part.by in self.clips}

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
