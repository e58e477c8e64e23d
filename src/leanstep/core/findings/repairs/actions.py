"""Repairs of clips that act: phases where they hit, boxes where they are active, guard reaches that cover what hits."""

from __future__ import annotations

from collections.abc import Iterator

import msgspec

from leanstep.core.character.action_boxes import boxes_on, keyed, rect_at, shortened
from leanstep.core.character.clips import Strike
from leanstep.core.character.document import Character
from leanstep.core.character.edits import change, put
from leanstep.core.clips.events import edges
from leanstep.core.clips.phases import with_active
from leanstep.core.findings.repairs.registry import Repair, clip_of, layer_of, mends
from leanstep.core.findings.results import Finding
from leanstep.core.graph.compilation import compile_character
from leanstep.core.naming.references import Thing, references
from leanstep.core.naming.wording import described
from leanstep.core.rehearsal.actions import actions
from leanstep.core.rehearsal.strings import gap
from leanstep.core.sheets.boxes import Box, around


@mends("action.inactive")
def _active(character: Character, finding: Finding) -> Iterator[Repair]:
    """An active phase over the cels on which a box hits."""
    at, clip = clip_of(character, finding)
    cels = finding.details["cels"]
    if cels:
        ends = edges(clip)
        start, end = ends[cels[0]], ends[cels[-1] + 1]
        sentence = f"{clip.name} is active while its box is there, from tick {start:g} to {end:g}."
        yield Repair(sentence, put(character, ("clips", at), with_active(clip, start, end)))


@mends("action.skipped")
def _longer(character: Character, finding: Finding) -> Iterator[Repair]:
    """An active phase that lasts as long as a tick goes, or a clip that plays no faster than it lasts."""
    at, clip = clip_of(character, finding)
    number, needs = finding.details["phase"], float(finding.details["needs"])
    phase = clip.phases[number]
    later = [one.start for one in clip.phases if one.start >= phase.end]
    end = phase.start + needs
    if end <= min(later, default=end):
        phases = tuple(
            msgspec.structs.replace(one, end=end) if place == number else one for place, one in enumerate(clip.phases)
        )
        sentence = f"The active phase of {clip.name} from tick {phase.start:g} lasts up to {end:g}."
        yield Repair(sentence, change(character, ("clips", at), phases=phases))
    lasts = phase.end - phase.start
    if clip.playback is not None and max(1.0, clip.playback.min) <= lasts:
        playback = msgspec.structs.replace(clip.playback, max=lasts)
        sentence = f"{clip.name} plays at most {lasts:g} times as fast."
        yield Repair(sentence, change(character, ("clips", at), playback=playback))


@mends("action.twice")
def _once(character: Character, finding: Finding) -> Iterator[Repair]:
    """The later phase hits nobody again."""
    at, clip = clip_of(character, finding)
    number = finding.details["phase"]
    phases = tuple(
        msgspec.structs.replace(one, again=False) if place == number else one for place, one in enumerate(clip.phases)
    )
    sentence = f"The phase of {clip.name} from tick {clip.phases[number].start:g} hits nobody a second time."
    yield Repair(sentence, change(character, ("clips", at), phases=phases))


@mends("action.link")
def _linked(character: Character, finding: Finding) -> Iterator[Repair]:
    """A stun that lasts until the other action hits."""
    at, clip = clip_of(character, finding)
    needs = finding.details["needs"]
    if needs > 1:
        strike = msgspec.structs.replace(clip.strike or Strike(), stun=needs)
        yield Repair(f"{clip.name} stuns for {needs} ticks.", change(character, ("clips", at), strike=strike))


@mends("action.endless")
def _ended(character: Character, finding: Finding) -> Iterator[Repair]:
    """A stun so short that who is struck comes free before the next strike."""
    machine = compile_character(character)
    made = {one.clip.name: one for one in actions(machine)}
    names = finding.details["clips"]
    for name, following in zip(names, (*names[1:], names[0])):
        found = gap(made[name], made[following], made[name].timed.starts_in)
        if found is not None and 0 < found <= made[name].strike.stun:
            at = next(number for number, clip in enumerate(character.clips) if clip.name == name)
            strike = msgspec.structs.replace(made[name].strike, stun=found)
            yield Repair(
                f"{name} stuns for {found} ticks, and {following} comes too late to go on.",
                change(character, ("clips", at), strike=strike),
            )


@mends("contact.unheard")
def _heard(character: Character, finding: Finding) -> Iterator[Repair]:
    """A crossfade that may be interrupted."""
    at, layer = layer_of(character, finding)
    number = finding.details["transition"]
    one = layer.transitions[number]
    made = change(character, ("layers", at, "transitions", number), interruptible=True)
    yield Repair(f"The crossfade of {described(one)} may be interrupted.", made)


@mends("contact.backwards")
def _from_there_too(character: Character, finding: Finding) -> Iterator[Repair]:
    """A transition to what guards, as it leads there from another state."""
    at, layer = layer_of(character, finding)
    state = finding.details["state"]
    places = (place for place in references(character) if place.path == ("contact", "guards"))
    guarding = {thing for place in places for thing in place.things}
    for one in layer.transitions:
        if Thing("state", one.to, layer.name) in guarding and one.source not in ("", state):
            made = msgspec.structs.replace(one, source=state, note="")
            new = change(character, ("layers", at), transitions=(*layer.transitions, made))
            yield Repair(f"{described(made)} leads there as it does from {one.source}: {one.when}.", new)


@mends("action.boxless")
def _boxed(character: Character, finding: Finding) -> Iterator[Repair]:
    """The box that hits is there on all active cels, as on the nearest."""
    at, clip = clip_of(character, finding)
    cels = finding.details["cels"]
    for number, box in enumerate(clip.boxes):
        if box.kind == "strike":
            first, last = min(box.keys[0].cel, cels[0]), max(box.keys[-1].cel, cels[-1])
            sentence = f"The box {box.name} of {clip.name} is there from cel {first} to cel {last}."
            yield Repair(sentence, put(character, ("clips", at), shortened(clip, number, first, last)))
            return


@mends("action.reach")
def _covering(character: Character, finding: Finding) -> Iterator[Repair]:
    """A guard reach around all that hits."""
    at, clip = clip_of(character, finding)
    number = next(place for place, one in enumerate(clip.boxes) if one.kind == "guard")
    made = clip
    for cel in finding.details["cels"]:
        hits = [Box(*rect) for place, rect in boxes_on(clip, cel) if clip.boxes[place].kind == "strike"]
        reach = rect_at(clip.boxes[number], cel)
        made = keyed(made, number, cel, around(hits + ([Box(*reach)] if reach is not None else [])).written)
    sentence = f"The guard reach {clip.boxes[number].name} of {clip.name} covers what hits."
    yield Repair(sentence, put(character, ("clips", at), made))


@mends("state.unhittable")
def _meant(character: Character, finding: Finding) -> Iterator[Repair]:
    """A box that can be hit on all cels, as on the nearest; where there is none, it is said that it is meant so."""
    layer_at, layer = layer_of(character, finding)
    at, state = next((at, one) for at, one in enumerate(layer.states) if one.name == finding.details["state"])
    place, clip = next((place, one) for place, one in enumerate(character.clips) if one.name == state.clip)
    number = next((place for place, one in enumerate(clip.boxes) if one.kind == "vulnerable"), -1)
    if number >= 0:
        sentence = f"The box {clip.boxes[number].name} of {clip.name} is there on all cels."
        yield Repair(sentence, put(character, ("clips", place), shortened(clip, number, 0, len(clip.cels) - 1)))
    sentence = f"{state.name} is meant to be safe: it cannot be hit."
    yield Repair(sentence, change(character, ("layers", layer_at, "states", at), safe=True))
