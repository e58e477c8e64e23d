"""What repairs are, and who makes them for which kind of finding."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from leanstep.core.character.blends import BlendSpace
from leanstep.core.character.clips import Clip
from leanstep.core.character.document import Character
from leanstep.core.character.graph import Layer
from leanstep.core.findings.results import Finding

Maker = Callable[[Character, Finding], Iterator["Repair"]]
MAKERS: dict[str, Maker] = {}
"""What makes repairs for a kind of finding."""


@dataclass(frozen=True)
class Repair:
    """An edit: what it changes, in a sentence, and the character after it.  ``also`` are the keys of the other findings that are
    gone with it, as far as that was checked."""

    sentence: str
    character: Character
    also: tuple[tuple[str, str], ...] = ()


def mends(*kinds: str) -> Callable[[Maker], Maker]:
    """Say that a function makes repairs for these kinds of findings."""

    def known(maker: Maker) -> Maker:
        MAKERS.update(dict.fromkeys(kinds, maker))
        return maker

    return known


def layer_of(character: Character, finding: Finding) -> tuple[int, Layer]:
    """The number of the layer a finding is about, and the layer."""
    return next((at, one) for at, one in enumerate(character.layers) if one.name == finding.details["layer"])


def clip_of(character: Character, finding: Finding) -> tuple[int, Clip]:
    """The number of the clip a finding is about, and the clip."""
    return next((at, one) for at, one in enumerate(character.clips) if one.name == finding.details["clip"])


def blend_of(character: Character, finding: Finding) -> tuple[int, BlendSpace]:
    """The blend space a finding is about, and which it is."""
    return next((at, one) for at, one in enumerate(character.blends) if one.name == finding.details["blend"])


def sheet_of(character: Character, name: str) -> int:
    """The number of the sheet of a name."""
    return next(number for number, sheet in enumerate(character.sheets) if sheet.name == name)
