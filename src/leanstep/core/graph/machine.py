"""A character's graph compiled to flat tables; every engine steps from these."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from leanstep.core.blends.picking import pick
from leanstep.core.character.model import BlendSpace, Character, Clip, Layer, State
from leanstep.core.clips.timing import Timing, timing
from leanstep.core.conditions.checking import Fault, Scope, nearest, scope_of
from leanstep.core.conditions.evaluation import Moment, Symbolic
from leanstep.core.conditions.expression import Expression, Memory, Symbol
from leanstep.core.conditions.tree import Duration, ticks_of


@dataclass(frozen=True)
class Way:
    """A transition as the engines see it.

    ``index`` is its place in the layer's list; ``target`` a state index.  ``condition`` is None when it is broken: it
    counts as never true.
    """

    index: int
    target: int
    condition: Expression | None
    restart: bool


@dataclass(frozen=True)
class WrittenFault:
    """A fault in what was written.  ``place`` leads there: for example {"layer": "base", "transition": 3}."""

    place: dict[str, str | int]
    text: str
    fault: Fault


@dataclass(frozen=True)
class LayerTable:
    """One layer.  ``ways[state]`` are the transitions tried in that state, in the order they are tried."""

    name: str
    states: tuple[str, ...]
    start: int
    ways: tuple[tuple[Way, ...], ...]
    count: int
    endings: frozenset[int]
    locks: frozenset[int]


@dataclass(frozen=True)
class Picture:
    """What a state shows: one clip, or the clips of a blend space's samples."""

    clips: tuple[Clip, ...]
    timings: tuple[Timing, ...]
    blend: BlendSpace | None = None
    axis: int = -1

    def pick(self, values: list[Symbolic]) -> int:
        """Which clip is shown when the symbols have these values."""
        if self.blend is None:
            return 0
        value = values[self.axis] if self.axis >= 0 else 0.0
        return pick(self.blend, float(value or 0.0)) or 0


@dataclass(frozen=True)
class Machine:
    """A character ready to be stepped or proved.

    ``clip_ticks[layer][state]``: ticks after which the state's clip has played once (None: no clip, or a blend space).
    ``window``: the flicker window in ticks; a stay is within it when it is shorter.
    """

    character: Character
    symbols: tuple[Symbol, ...]
    memories: tuple[Memory, ...]
    layers: tuple[LayerTable, ...]
    pictures: tuple[tuple[Picture | None, ...], ...]
    clip_ticks: tuple[tuple[int | None, ...], ...]
    assumptions: tuple[Expression, ...]
    faults: tuple[WrittenFault, ...]
    window: int
    index: dict[str, int] = field(compare=False)

    def moment(self, values: Sequence[Symbolic], held: frozenset[int], states: list[int], stays: list[int]) -> Moment:
        """The tick in which this machine's conditions are evaluated; no memory is worked out yet."""
        return Moment(values, held, states, stays, self.clip_ticks)


def compile_character(character: Character) -> Machine:
    """Compile a character; faults in what was written are collected, never raised."""
    scope = scope_of(character)
    faults: list[WrittenFault] = []
    tables = tuple(_layer(character, layer, at, scope, faults) for at, layer in enumerate(character.layers))
    assumptions = []
    for number, text in enumerate(character.assumptions):
        compiled, found = scope.compile(text, None)
        faults.extend(WrittenFault({"assumption": number}, text, fault) for fault in found)
        if compiled is not None:
            assumptions.append(compiled)
    pictures = tuple(
        tuple(_picture(character, layer, state, scope, faults) for state in layer.states) for layer in character.layers
    )
    return Machine(
        character,
        tuple(scope.symbols),
        tuple(scope.memories),
        tables,
        pictures,
        tuple(tuple(_clip_ticks(picture) for picture in row) for row in pictures),
        tuple(assumptions),
        tuple(faults),
        ticks_of(Duration(character.flicker_window, "s"), character.rate),
        dict(scope.index),
    )


def _clip_ticks(picture: Picture | None) -> int | None:
    return picture.timings[0].ticks if picture is not None and picture.blend is None else None


def _unknown(what: str, word: str, names: list[str]) -> Fault:
    return Fault("name.unknown", f"no {what} is called {word}", 0, word, nearest(word, names))


def _layer(character: Character, layer: Layer, at: int, scope: Scope, faults: list[WrittenFault]) -> LayerTable:
    names = [state.name for state in layer.states]
    places = {name: at for at, name in enumerate(names)}
    lanes = list(layer.lane_names)
    if layer.start_name not in names:
        place: dict[str, str | int] = {"layer": layer.name, "state": layer.start_name}
        faults.append(WrittenFault(place, layer.start_name, _unknown("state", layer.start_name, names)))
    owned: dict[tuple[bool, str, str], list[Way]] = {}
    for number, transition in enumerate(layer.transitions):
        place = {"layer": layer.name, "transition": number}
        condition, found = scope.compile(transition.when, at)
        faults.extend(WrittenFault(place, transition.when, fault) for fault in found)
        written = [("state", transition.to, names)]
        if transition.source:
            written.append(("state", transition.source, names))
        if transition.from_lane:
            written.append(("lane", transition.from_lane, lanes))
        strange = [
            (what, word, known) for what, word, known in written if word not in (places if known is names else known)
        ]
        faults.extend(
            WrittenFault(place, word, _unknown(what, word or "(nothing)", known)) for what, word, known in strange
        )
        target = places.get(transition.to, -1)
        if target >= 0:
            way = Way(number, target, None if strange else condition, transition.restart)
            kind = "state" if transition.source else "lane" if transition.from_lane else "graph"
            owned.setdefault((transition.urgent, kind, transition.source or transition.from_lane), []).append(way)
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
        frozenset(index for index, state in enumerate(layer.states) if state.ending),
        frozenset(index for index, state in enumerate(layer.states) if state.hold_still),
    )


def _picture(
    character: Character, layer: Layer, state: State, scope: Scope, faults: list[WrittenFault]
) -> Picture | None:
    clips = {clip.name: clip for clip in character.clips}
    blends = {blend.name: blend for blend in character.blends}
    place: dict[str, str | int] = {"layer": layer.name, "state": state.name}
    if state.blend:
        blend = blends.get(state.blend)
        if blend is None:
            faults.append(WrittenFault(place, state.blend, _unknown("blend space", state.blend, list(blends))))
            return None
        samples = [clips[sample.clip] for sample in blend.samples if sample.clip in clips]
        if len(samples) < len(blend.samples) or not samples:
            return None
        axis = scope.index.get(blend.axes[0].parameter, -1)
        return Picture(tuple(samples), tuple(timing(clip) for clip in samples), blend, axis)
    if state.clip:
        if state.clip not in clips:
            faults.append(WrittenFault(place, state.clip, _unknown("clip", state.clip, list(clips))))
            return None
        return Picture((clips[state.clip],), (timing(clips[state.clip]),))
    return None
