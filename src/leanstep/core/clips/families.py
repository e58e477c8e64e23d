"""Families of clips: the same movement drawn in several directions, told by its name, such as ``walk {direction}``."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from msgspec.structs import replace

from leanstep.core.bearings import reduced, way_word
from leanstep.core.character.blends import Sample
from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.sheets import Sheet
from leanstep.core.direction_words import direction_in, on_keypad

HOLE = "{direction}"
"""Stands for the direction in a family's name."""

EVERY = 45.0
SENSES = ("clockwise", "anticlockwise")
"""The ways round in which the rows of a sheet may turn."""


@dataclass(frozen=True)
class Family:
    """Clips by the bearing they are drawn for; ``name`` has :data:`HOLE` where they have their direction."""

    name: str
    clips: Mapping[float, str]


def families(names: Iterable[str]) -> list[Family]:
    """The families among clips of these names, each of two or more, in the order of their first clips."""
    found: dict[str, dict[float, str]] = {}
    names = list(names)
    digits = on_keypad(names)
    for name in names:
        said = direction_in(name) or digits.get(name)
        if said is not None:
            family = name[: said.start] + HOLE + name[said.end :]
            found.setdefault(family, {}).setdefault(said.bearing, name)
    return [Family(name, clips) for name, clips in found.items() if len(clips) > 1]


def family_of(names: Sequence[str], name: str) -> Family | None:
    """The family a clip belongs to."""
    return next((family for family in families(names) if name in family.clips.values()), None)


def all_ways(clips: Mapping[float, str], allowed: bool = True) -> list[tuple[float, str, bool]]:
    """A family's clips for as many directions as there are: bearing, name and whether it is mirrored.  What is drawn for one side
    only is mirrored for the other, where that is ``allowed``."""
    found = [(bearing, name, False) for bearing, name in clips.items()]
    if allowed:
        others = ((reduced(-bearing), name) for bearing, name in clips.items())
        found += [(bearing, name, True) for bearing, name in others if bearing not in clips]
    return sorted(found)


def ring(clips: Mapping[float, str], axes: int, around: int, out: float, allowed: bool = True) -> list[Sample]:
    """Samples for every direction of a family on a dial of so many ``axes``, on the ring at the value ``out``."""
    samples = []
    for bearing, name, mirrored in all_ways(clips, allowed):
        at = [out] * axes
        at[around] = bearing
        samples.append(Sample(at=tuple(at), clip=name, mirrored=mirrored))
    return samples


def directions(count: int, first: float, clockwise: bool) -> list[float]:
    """The bearings of ``count`` rows that follow each other every 45 degrees."""
    return [reduced(first + (1 if clockwise else -1) * EVERY * at) for at in range(count)]


def clips_of_rows(sheet: str, name: str, rows: Sequence[Sequence[int]], bearings: Sequence[float]) -> list[Clip]:
    """A clip for each of these rows of a sheet's frames, named by the direction it shows."""
    return [
        Clip(
            name=f"{name} {way_word(bearing)}",
            sheet=sheet,
            cels=tuple(Cel(frame=frame) for frame in row),
        )
        for row, bearing in zip(rows, bearings)
    ]


def bearings_of_rows(sheet: Sheet, first: int, count: int) -> list[float] | None:
    """Which way the rows of a sheet from ``first`` on look, as far as it has been said of them or of another block of as many."""
    for begin in (first, *range(first % count, 1000, count)):
        told = [sheet.row_bearing.get(str(row)) for row in range(begin, begin + count)]
        known = [bearing for bearing in told if bearing is not None]
        if len(known) == count:
            return known
    return None


def like(clip: Clip, other: Clip) -> Clip:
    """A clip with the timing, marks, spans and phases of another one of its family; of cels only where there are as many."""
    cels = clip.cels
    if len(cels) == len(other.cels):
        cels = tuple(replace(cel, ticks=one.ticks) for cel, one in zip(cels, other.cels))
    return replace(
        clip,
        cels=cels,
        marks=other.marks,
        spans=other.spans,
        phases=other.phases,
        loop=other.loop,
        repeat_from=min(other.repeat_from, len(cels)),
    )
