"""Repairs of clips: feet, playback, paths, cels, squashes."""

from __future__ import annotations

from collections.abc import Iterator

import msgspec

from leanstep.core.character.clips import Key, Playback, Travel
from leanstep.core.character.document import Character
from leanstep.core.character.edits import by_number, change, remove
from leanstep.core.clips.strides import SPEED
from leanstep.core.findings.repairs.registry import Repair, clip_of, mends, sheet_of
from leanstep.core.findings.results import Finding
from leanstep.core.wording import counted, listed

HOLDS = 0.05
"""Seconds for which a squash holds that is to spring back."""


@mends("frame.foot-wanders")
def _align(character: Character, finding: Finding) -> Iterator[Repair]:
    """Feet where the figure stands in frames that wander."""
    at = sheet_of(character, finding.details["sheet"])
    frames = finding.details["frames"]
    feet = character.sheets[at].feet | {str(one): tuple(foot) for one, foot in zip(frames, finding.details["feet"])}
    sentence = f"Align feet: the foot of {counted(len(frames), 'frame')} moves to where the figure stands."
    yield Repair(sentence, change(character, ("sheets", at), feet=by_number(feet)))


@mends("clip.drifts")
def _pinned(character: Character, finding: Finding) -> Iterator[Repair]:
    """Feet below a drawing that moves through its cells."""
    if "on" in finding.details:
        at = sheet_of(character, finding.details["on"])
        feet = {str(one): tuple(foot) for one, foot in zip(finding.details["frames"], finding.details["feet"])}
        sentence = (
            f"Pin {finding.details['clip']} in place: the feet of {counted(len(feet), 'frame')} follow the drawing."
        )
        every = by_number(character.sheets[at].feet | feet)
        made = change(character, ("sheets", at), feet=every)
        number, clip = clip_of(character, finding)
        if clip.travel is None and finding.details["path"]:
            keys = tuple(Key(at=when, x=x) for when, x in finding.details["path"])
            made = change(made, ("clips", number), travel=Travel(keys=keys))
            sentence = f"{sentence[:-1]}, and the {abs(keys[-1].x):g} units it drifted are the path it travels."
        yield Repair(sentence, made)


@mends("clip.slide")
def _paced(character: Character, finding: Finding) -> Iterator[Repair]:
    """A clip played as fast as the body goes."""
    at, clip = clip_of(character, finding)
    natural = float(f"{finding.details['natural']:.4g}")
    if clip.playback is not None:
        playback = msgspec.structs.replace(clip.playback, at=natural)
        yield Repair(
            f"{clip.name} plays as written at {natural:g} units/s.", change(character, ("clips", at), playback=playback)
        )
    elif any(one.name == SPEED for one in character.parameters):
        sentence = f"{clip.name} plays at the body's speed, as it is written at {natural:g} units/s."
        yield Repair(sentence, change(character, ("clips", at), playback=Playback(parameter=SPEED, at=natural)))


@mends("travel.inside", "travel.short")
def _scaled(character: Character, finding: Finding) -> Iterator[Repair]:
    """A path of the length that is needed."""
    at, clip = clip_of(character, finding)
    for ahead, up in finding.details.get("scales", ()) if clip.travel is not None else ():
        assert clip.travel is not None
        x, y = (float(f"{one:.6g}") for one in (clip.travel.scale_x * ahead, clip.travel.scale_y * up))
        words = [f"{x:.4g} times as far" for _ in range(x != clip.travel.scale_x)]
        words += [f"{y:.4g} times as high" for _ in range(y != clip.travel.scale_y)]
        travel = msgspec.structs.replace(clip.travel, scale_x=x, scale_y=y)
        sentence = f"The path of {clip.name} goes {listed(words)} as its keys."
        yield Repair(sentence, change(character, ("clips", at), travel=travel))


@mends("squash.stays")
def _springs_back(character: Character, finding: Finding) -> Iterator[Repair]:
    """A squash that ends by itself."""
    at = next(number for number, one in enumerate(character.squashes) if one.name == finding.details["squash"])
    sentence = f"Squash {finding.details['squash']} springs back after {HOLDS:g} s."
    yield Repair(sentence, change(character, ("squashes", at), hold=HOLDS))


@mends("clip.odd-frame")
def _without_cel(character: Character, finding: Finding) -> Iterator[Repair]:
    """Without the cel that is unlike the others."""
    at, clip = clip_of(character, finding)
    (cel,) = finding.details["cels"]
    sentence = f"Take cel {cel} (frame {clip.cels[cel].frame}) out of {clip.name}."
    yield Repair(sentence, remove(character, ("clips", at, "cels", cel)))
