"""Repairs of pin points."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import msgspec

from leanstep.core.character.document import Character
from leanstep.core.character.edits import change, put
from leanstep.core.character.pin_edits import keyed, spot_at
from leanstep.core.findings.repairs.registry import Repair, clip_of, mends
from leanstep.core.findings.results import Finding


@mends("pin.jump")
def _with_the_drawing(character: Character, finding: Finding) -> Iterator[Repair]:
    """The pin point lies where the drawing is."""
    at, clip = clip_of(character, finding)
    number = next(place for place, pin in enumerate(clip.pins) if pin.name == finding.details["pin"])
    cel = finding.details["cel"]
    spot = replace(spot_at(clip.pins[number], cel), x=finding.details["x"], y=finding.details["y"])
    sentence = f"On cel {cel} of {clip.name} the pin point {clip.pins[number].name} stays with what is drawn there."
    yield Repair(sentence, put(character, ("clips", at), keyed(clip, number, cel, spot)))


@mends("pin.missing")
def _without_a_place(character: Character, finding: Finding) -> Iterator[Repair]:
    """The mark names no pin point."""
    at, clip = clip_of(character, finding)
    name, pin = finding.details["mark"], finding.details["pin"]
    marks = tuple(
        msgspec.structs.replace(one, pin="") if (one.name, one.pin) == (name, pin) else one for one in clip.marks
    )
    yield Repair(f"Mark {name} of {clip.name} names no pin point.", change(character, ("clips", at), marks=marks))
