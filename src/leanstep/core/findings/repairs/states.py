"""Repairs of states and transitions: ways out, order, what a mark gives back, names, expectations, fades."""

from __future__ import annotations

from collections.abc import Iterator

from leanstep.core.character.document import Character
from leanstep.core.character.edits import append, change, move
from leanstep.core.character.graph import Transition
from leanstep.core.conditions.scope import scope_of
from leanstep.core.findings.repairs.registry import Repair, layer_of, mends
from leanstep.core.findings.results import Finding
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.effects import Effects, shapes_of
from leanstep.core.naming.told import of_body, tellable
from leanstep.core.proof.door import sets_back

WAY_OUT = "stay >= 1 s"
"""When a way out of a dead end or trap is offered."""


@mends("state.dead-end", "state.trap", "state.no-rest")
def _way_out(character: Character, finding: Finding) -> Iterator[Repair]:
    """A way back to the start; for a body that stands and falls not before it stands: nothing comes to rest in mid-air."""
    at, layer = layer_of(character, finding)
    states = finding.details.get("states") or [finding.details["state"]]
    clips = {clip.name: clip for clip in character.clips}
    for state in (one for one in layer.states if one.name in states and one.name != layer.start_name):
        once = state.clip in clips and clips[state.clip].loop.startswith("once")
        when = "clip done" if once else WAY_OUT
        seen = "once its clip is over" if once else "a second after it was begun"
        if any(one.name == "grounded" and one.owner == "body" for one in character.parameters):
            when, seen = f"{when} and grounded", f"{seen}, standing on the ground"
        yield Repair(
            f"A new transition leads from {state.name} back to {layer.start_name} when “{when}”: {state.name} is seen to end {seen}.",
            append(
                character, ("layers", at, "transitions"), Transition(source=state.name, to=layer.start_name, when=when)
            ),
        )


@mends("transition.shadowed")
def _reorder(character: Character, finding: Finding) -> Iterator[Repair]:
    """The shadowed transition tried before the others of its owner."""
    at, layer = layer_of(character, finding)
    number = finding.details["transition"]
    one = layer.transitions[number]
    for earlier, other in enumerate(layer.transitions[:number]):
        if (other.source, other.from_lane, other.urgent) == (one.source, one.from_lane, one.urgent):
            yield Repair(
                f"{one.source or one.from_lane or 'the whole graph'} → {one.to} is tried before → {other.to}.",
                move(character, ("layers", at, "transitions", number), earlier),
            )
    if not one.urgent:
        yield Repair(
            f"{one.source or one.from_lane or 'the whole graph'} → {one.to} is urgent: tried before the ordinary ones.",
            change(character, ("layers", at, "transitions", number), urgent=True),
        )


@mends("mark.missable")
def _on_leaving(character: Character, finding: Finding) -> Iterator[Repair]:
    """What a mark gives back, given back on leaving the state, whichever way."""
    at, layer = layer_of(character, finding)
    number, state = next((n, one) for n, one in enumerate(layer.states) if one.name == finding.details["state"])
    clip = next((n for n, one in enumerate(character.clips) if one.name == state.clip), None)
    if clip is None:
        return
    compiler = Effects(scope_of(character), shapes_of(character))
    machine = compile_character(character)
    for place, mark in enumerate(character.clips[clip].marks):
        if mark.name != finding.details["mark"]:
            continue
        back = [one for one in mark.effects if any(sets_back(machine, act) for act in compiler.compile([one])[0])]
        kept = tuple(one for one in mark.effects if one not in back)
        moved = change(character, ("layers", at, "states", number), on_leave=(*state.on_leave, *back))
        if not any(other.clip == state.clip and other is not state for one in character.layers for other in one.states):
            moved = change(moved, ("clips", clip, "marks", place), effects=kept)
        yield Repair(f"What mark {mark.name} gives back is given back on leaving {state.name}.", moved)


@mends("name.unknown")
def _nearest(character: Character, finding: Finding) -> Iterator[Repair]:
    """An unknown name replaced by the nearest known one."""
    for fault in compile_character(character).faults:
        place, found = fault.place, fault.fault
        if dict(place) != finding.details or found.id != "name.unknown":
            continue
        if found.word in tellable(character):
            yield Repair(
                f"The body tells {found.word}: it becomes a parameter.",
                append(character, ("parameters",), of_body(found.word)),
            )
        if not found.nearest:
            continue
        sentence = f"{found.nearest} instead of {found.word}."
        mended = fault.text[: found.at] + found.nearest + fault.text[found.at + len(found.word) :]
        if "transition" in place:
            at, layer = layer_of(character, finding)
            number = int(place["transition"])
            one = layer.transitions[number]
            for field in ("when", "to", "source", "from_lane"):
                if getattr(one, field) == fault.text:
                    yield Repair(sentence, change(character, ("layers", at, "transitions", number), **{field: mended}))
        elif "assumption" in place:
            number = int(place["assumption"])
            texts = character.assumptions
            yield Repair(sentence, change(character, (), assumptions=(*texts[:number], mended, *texts[number + 1 :])))
        elif "state" in place and "in" not in place:
            at, layer = layer_of(character, finding)
            number = next(n for n, one in enumerate(layer.states) if one.name == place["state"])
            for field in ("clip", "blend"):
                if getattr(layer.states[number], field) == fault.text:
                    yield Repair(sentence, change(character, ("layers", at, "states", number), **{field: mended}))


@mends("expectation.offered")
def _expect(character: Character, finding: Finding) -> Iterator[Repair]:
    """What was offered is expected from now on."""
    at, layer = layer_of(character, finding)
    number = next(n for n, one in enumerate(layer.states) if one.name == finding.details["state"])
    condition = finding.details["expects"]
    sentence = f"{finding.details['state']} expects “{condition}” from now on."
    yield Repair(sentence, change(character, ("layers", at, "states", number), expects=condition))


@mends("fade.dissolves")
def _at_once(character: Character, finding: Finding) -> Iterator[Repair]:
    """Without the crossfade."""
    at, layer = layer_of(character, finding)
    number = finding.details["transition"]
    one = layer.transitions[number]
    sentence = f"{one.source or one.from_lane or 'the whole graph'} → {one.to} changes over at once."
    yield Repair(sentence, change(character, ("layers", at, "transitions", number), fade=0.0, interruptible=True))
