"""States of a graph made into a pattern."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from msgspec.structs import replace

from leanstep.core.character.body import Course
from leanstep.core.character.clips import Clip
from leanstep.core.character.document import Character, Pattern
from leanstep.core.character.edits import change
from leanstep.core.naming.references import Thing, users


def pattern_of(document: Character, layer: int, states: Sequence[str], name: str, says: str = "") -> Character:
    """Some states of a layer with the ways among them as a pattern: their clips become slots, which keep their times and events.

    What the states and ways do not name stays behind, as does everything about pictures; ways to other states are kept, which the
    pattern joins where another character has them.
    """
    table = document.layers[layer]
    beside = {
        end
        for way in table.transitions
        for end in (way.source, way.to)
        if end and end not in states and {way.source, way.to} & set(states)
    }
    kept = tuple(one for one in table.states if one.name in states or one.name in beside)
    lanes = {one.lane for one in kept if one.name in states}
    ways = tuple(
        way
        for way in table.transitions
        if {way.source, way.to} & set(states)
        and (not way.source or way.source in (*states, *beside))
        and (not way.from_lane or way.from_lane in lanes)
    )
    own = [one for one in kept if one.name in states]
    blends = tuple(one for one in document.blends if one.name in {state.blend for state in own})
    shown = {state.clip for state in own} | {sample.clip for blend in blends for sample in blend.samples}
    clips = tuple(_slot(clip) for clip in document.clips if clip.name in shown)
    joined = tuple(
        one if one.name in states else replace(one, clip="", blend="", held=None, on_entry=(), on_leave=())
        for one in kept
    )
    start = table.start_name if table.start_name in {one.name for one in kept} else kept[0].name
    made = replace(
        document,
        name=name,
        sheets=(),
        clips=clips,
        blends=blends,
        layers=(
            replace(
                table, states=joined, transitions=ways, start=start, lanes=tuple(dict.fromkeys(s.lane for s in kept))
            ),
        ),
        course=Course(),
        takes=(),
        muted=(),
        assumptions=(),
        pattern=Pattern(says=says, joins=tuple(one.name for one in kept if one.name in beside)),
    )
    return _without_unused(made)


def _slot(clip: Clip) -> Clip:
    """A clip as a slot: its times and events alone."""
    cels = tuple(replace(cel, frame=0, sheet="", mirrored=False, turns=0) for cel in clip.cels)
    return replace(clip, sheet="", cels=cels, box=(), facing="", travel=None, contacts=(), boxes=())


def _without_unused(document: Character) -> Character:
    """The pattern without parameters, controls and shapes that nothing in it names."""

    def needed(kind: str, parts: tuple[Any, ...]) -> tuple[Any, ...]:
        return tuple(one for one in parts if users(document, Thing(kind, one.name)))

    controls = document.controls
    document = replace(
        document,
        controls=replace(controls, sticks=needed("stick", controls.sticks), buttons=needed("button", controls.buttons)),
        squashes=needed("squash", document.squashes),
        leans=needed("lean", document.leans),
    )
    while True:
        read = needed("parameter", document.parameters)
        if read == document.parameters:
            return document
        document = change(document, (), parameters=read)
