"""Findings about several frames of a sheet."""

from __future__ import annotations

from collections.abc import Sequence

from leanstep.core.character.document import Character
from leanstep.core.findings.evidence import written
from leanstep.core.findings.results import Finding
from leanstep.core.wording import numbered

NAMED = 6
"""Frames that are named in a sentence."""


def frames_with(
    kind: str, severity: str, sheet: str, numbers: Sequence[int], sentence: str, why: str, **more: object
) -> Finding:
    """A finding about frames of a sheet; the sentence has places for them."""
    words = numbered("frame", numbers, NAMED)
    verb = "is" if len(numbers) == 1 else "are"
    text = sentence.replace("{frames}", words).replace("{name}", sheet).replace("{is_are}", verb)
    return written(kind, severity, {"sheet": sheet, "frames": list(numbers), **more}, text[0].upper() + text[1:], why)


def of_parts(character: Character) -> set[str]:
    """The sheets of parts, which are no figures, and those drawn from them, which are as high as their arms reach."""
    return {sheet.name for sheet in character.sheets if sheet.parts or sheet.cut_out is not None}
