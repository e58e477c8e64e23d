"""Repairs of costumes."""

from __future__ import annotations

from collections.abc import Iterator

from leanstep.core.character.costume_edits import as_they_are, part_at, with_feet
from leanstep.core.character.document import Character
from leanstep.core.findings.repairs.registry import Repair, mends
from leanstep.core.findings.results import Finding
from leanstep.core.wording import counted


def _stand_in(character: Character, finding: Finding) -> tuple[int, int]:
    """The number of the costume a finding is about, and that of what stands in."""
    at = next(at for at, one in enumerate(character.costumes) if one.name == finding.details["costume"])
    sheet = finding.details["sheet"]
    return at, next(place for place, one in enumerate(character.costumes[at].sheets) if one.sheet == sheet)


@mends("costume.lacks")
def _as_they_are(character: Character, finding: Finding) -> Iterator[Repair]:
    """What is lacking is meant to be shown as it is."""
    frames = finding.details["frames"]
    what = f"{counted(len(frames), 'frame')} of sheet {finding.details['sheet']} {'is' if len(frames) == 1 else 'are'}"
    sentence = f"In costume {finding.details['costume']} {what} shown as without it."
    yield Repair(sentence, as_they_are(character, _stand_in(character, finding), frames))


@mends("costume.elsewhere")
def _same_feet(character: Character, finding: Finding) -> Iterator[Repair]:
    """The feet of the sheet it stands in for."""
    part = part_at(character, _stand_in(character, finding))
    feet = {int(frame): tuple(foot) for frame, foot in finding.details["feet"].items()}
    sentence = f"Frames of {part.by} get the feet of those of {part.sheet}."
    yield Repair(sentence, with_feet(character, part.by, feet))
