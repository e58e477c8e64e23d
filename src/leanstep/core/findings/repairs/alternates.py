"""Repairs of ways of moving."""

from __future__ import annotations

from collections.abc import Iterator

from leanstep.core.character.document import Character
from leanstep.core.character.edits import put
from leanstep.core.findings.repairs.registry import Repair, mends
from leanstep.core.findings.results import Finding
from leanstep.core.patterns.slots import with_events


@mends("alternate.lacks")
def _with_its_events(character: Character, finding: Finding) -> Iterator[Repair]:
    """The marks and spans of the original, at the same shares of the length."""
    clips = {clip.name: clip for clip in character.clips}
    own, other = clips[finding.details["clip"]], clips[finding.details["by"]]
    at = list(clips).index(other.name)
    sentence = f"{other.name} gets the marks and spans of {own.name} that it lacks, at the same shares of its length."
    yield Repair(sentence, put(character, ("clips", at), with_events(other, own)))
