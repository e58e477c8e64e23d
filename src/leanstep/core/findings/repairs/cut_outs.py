"""Repairs of cut-outs."""

from __future__ import annotations

from collections.abc import Iterator

import msgspec

from leanstep.core.character.cut_outs import Reach, Track
from leanstep.core.character.document import Character
from leanstep.core.character.edits import change
from leanstep.core.findings.repairs.registry import Repair, mends
from leanstep.core.findings.results import Finding


def _sheet_of(character: Character, finding: Finding) -> int:
    return next(at for at, one in enumerate(character.sheets) if one.name == finding.details["sheet"])


@mends("part.late")
def _in_time(character: Character, finding: Finding) -> Iterator[Repair]:
    """It lasts until its last key, or goes without what comes too late."""
    at, name = _sheet_of(character, finding), finding.details["part"]
    sheet = character.sheets[at]
    assert sheet.cut_out is not None
    end = sheet.cut_out.ticks

    def in_time(one: Track | Reach) -> Track | Reach:
        kept = tuple(key for key in one.keys if key.at <= end)
        return msgspec.structs.replace(one, keys=kept) if one.part == name else one

    tracks, reaches = (tuple(map(in_time, some)) for some in (sheet.cut_out.tracks, sheet.cut_out.reaches))
    made = msgspec.structs.replace(sheet.cut_out, tracks=tracks, reaches=reaches)
    yield Repair(
        f"{sheet.name} goes without the keys of {name} after its end.", change(character, ("sheets", at), cut_out=made)
    )


@mends("part.unknown")
def _without_keys(character: Character, finding: Finding) -> Iterator[Repair]:
    """Keys that move nothing go."""
    at, name = _sheet_of(character, finding), finding.details["part"]
    sheet = character.sheets[at]
    assert sheet.cut_out is not None
    made = msgspec.structs.replace(
        sheet.cut_out,
        tracks=tuple(one for one in sheet.cut_out.tracks if one.part != name),
        reaches=tuple(one for one in sheet.cut_out.reaches if one.part != name),
    )
    yield Repair(f"{sheet.name} goes without keys of {name}.", change(character, ("sheets", at), cut_out=made))


@mends("part.broken")
def _hanging_on_nothing(character: Character, finding: Finding) -> Iterator[Repair]:
    """What hangs on itself or on what is not there hangs on nothing."""
    at, name = _sheet_of(character, finding), finding.details["part"]
    parts = character.sheets[at].parts
    number = next((place for place, part in enumerate(parts) if part.name == name), None)
    if number is None or not parts[number].parent:
        return
    made = msgspec.structs.replace(parts[number], parent="")
    sentence = f"Part {name} hangs on no other part."
    parts = (*parts[:number], made, *parts[number + 1 :])
    yield Repair(sentence, change(character, ("sheets", at), parts=parts))
