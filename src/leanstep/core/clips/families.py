"""Families of clips: the same movement drawn several times, mostly in several directions.

What a clip says of its family counts; the names of clips without one, such as ``walk up``, offer ``walk {direction}``.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass

from msgspec.structs import replace

from leanstep.core.bearings import reduced, way_word
from leanstep.core.character.action_boxes import rect_at
from leanstep.core.character.blends import Sample
from leanstep.core.character.clips import SHARED, ActionBox, BoxKey, Cel, Clip, Shared
from leanstep.core.character.document import Character
from leanstep.core.character.sheets import Sheet
from leanstep.core.clips.events import with_cels
from leanstep.core.direction_words import direction_in, on_keypad
from leanstep.core.wording import counted

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
            family=f"{name} {HOLE}" if len(rows) > 1 else "",
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
    """A clip with all that clips of a family share of another one, but for what is its own."""
    for what in SHARED:
        if what not in clip.own:
            clip = with_shared(clip, other, what)
    return clip


def shared(clip: Clip, what: Shared) -> object:
    """What of a clip its family shares; of boxes which there are and on which cels they are keyed."""
    if what == "timing":
        return tuple(cel.ticks for cel in clip.cels), clip.loop, clip.repeat_from
    if what == "boxes":
        return tuple((box.name, box.kind, tuple(key.cel for key in box.keys)) for box in clip.boxes)
    found: object = getattr(clip, what)
    return found


def with_shared(clip: Clip, other: Clip, what: Shared) -> Clip:
    """A clip with something of another one of its family; times of cels and boxes only where there are as many cels."""
    alike = len(clip.cels) == len(other.cels)
    if what == "timing":
        if alike:
            cels = [replace(cel, ticks=one.ticks) for cel, one in zip(clip.cels, other.cels)]
            clip = with_cels(clip, cels, range(len(cels)))
        return replace(clip, loop=other.loop, repeat_from=min(other.repeat_from, len(clip.cels)))
    if what == "boxes":
        return replace(clip, boxes=tuple(_boxed(clip, box) for box in other.boxes)) if alike else clip
    return replace(clip, **{what: getattr(other, what)})


def _boxed(clip: Clip, box: ActionBox) -> ActionBox:
    """A box of another clip as it lies in this one: keyed on the same cels, where it was, or else where it lies in the other."""
    own = next((one for one in clip.boxes if one.name == box.name and one.keys), None)
    if own is None:
        return box
    begin, end = own.keys[0].cel, own.keys[-1].cel
    keys = tuple(BoxKey(cel=key.cel, box=rect_at(own, min(max(key.cel, begin), end)) or key.box) for key in box.keys)
    return replace(box, keys=keys)


def members(character: Character, family: str) -> list[Clip]:
    """The clips of a family, in their order."""
    return [clip for clip in character.clips if family and clip.family == family]


def followed(before: Character, after: Character) -> Character:
    """A document after an edit: what the edit changed in a clip of a family is changed in all of it, but for what is a clip's own.

    A clip that has more or fewer cels than before goes its own way in this edit: where its marks are now is of its cels.
    """
    known = {clip.name: clip for clip in before.clips}
    changed: dict[tuple[str, Shared], Clip] = {}
    for clip in after.clips:
        old = known.get(clip.name)
        if not clip.family or old is None or (old.family, old.own) != (clip.family, clip.own):
            continue
        if old is not clip and len(old.cels) == len(clip.cels):
            for what in SHARED:
                if what not in clip.own and shared(clip, what) != shared(old, what):
                    changed.setdefault((clip.family, what), clip)
    if not changed:
        return after
    clips = []
    for clip in after.clips:
        made = clip
        for (family, what), source in changed.items():
            if clip.family == family and clip.name != source.name and what not in clip.own:
                made = with_shared(made, source, what)
        clips.append(made)
    return replace(after, clips=tuple(clips))


def joined(character: Character, names: Collection[str], family: str, rule: str) -> Character:
    """A document in which these clips are a family that shares what the clip ``rule`` has."""
    source = next(clip for clip in character.clips if clip.name == rule)
    made = (like(replace(clip, family=family), source) if clip.name in names else clip for clip in character.clips)
    return replace(character, clips=tuple(made))


def with_families(character: Character, names: Sequence[str]) -> Character:
    """A document in which clips of these names are families where their names say so."""
    for family in families(names):
        made = list(family.clips.values())
        character = joined(character, made, family.name, made[0])
    return character


def parted(character: Character, family: str) -> Character:
    """A document without a family; its clips stay as they are."""
    made = (replace(clip, family="", own=()) if clip.family == family else clip for clip in character.clips)
    return replace(character, clips=tuple(made))


def set_own(character: Character, name: str, what: Shared, own: bool) -> Character:
    """A document in which something is a clip's own, or not any more: then it is what its family has."""
    clip = next(one for one in character.clips if one.name == name)
    kept = tuple(one for one in SHARED if (one in clip.own or one == what) and (own or one != what))
    made = replace(clip, own=kept)
    rule = next((one for one in members(character, clip.family) if one.name != name and what not in one.own), None)
    if not own and rule is not None:
        made = with_shared(made, rule, what)
    return replace(character, clips=tuple(made if one is clip else one for one in character.clips))


def made_rule(character: Character, name: str) -> Character:
    """A document in which a family has all that one of its clips has, and nothing is that clip's own."""
    clip = next(one for one in character.clips if one.name == name)
    source = replace(clip, own=())
    made = (
        source if one is clip else like(one, source) if one.family == clip.family and clip.family else one
        for one in character.clips
    )
    return replace(character, clips=tuple(made))


def exceptions(character: Character, clip: Clip) -> list[str]:
    """How a clip differs from its family, in clauses: what is its own, and that it has another number of cels."""
    others = [one for one in members(character, clip.family) if one.name != clip.name]
    found = [f"its {what} {'is' if what == 'timing' else 'are'} its own" for what in SHARED if what in clip.own]
    usual = Counter(len(one.cels) for one in others).most_common(1)
    if usual and usual[0][0] != len(clip.cels):
        found.append(
            f"it has {counted(len(clip.cels), 'cel')} and the others {usual[0][0]}, so its times and boxes stay its own"
        )
    return found


def lacking(character: Character, family: str) -> list[tuple[float, str]]:
    """The directions a family lacks, of eight where it has one between the four main ones, with the clip that may be mirrored for
    each."""
    clips = {
        said.bearing: clip.name for clip in members(character, family) if (said := direction_in(clip.name)) is not None
    }
    if len(clips) < 2:
        return []
    step = EVERY if any(bearing % 90 for bearing in clips) else 2 * EVERY
    wanted = [step * at for at in range(int(360 / step))]
    return [(bearing, clips.get(reduced(-bearing), "")) for bearing in wanted if bearing not in clips]


def mirrored_for(character: Character, family: str) -> Character:
    """A document with a clip for each direction that a family lacks and one of its clips shows the other way round."""
    made = list(character.clips)
    for bearing, name in lacking(character, family):
        source = next((clip for clip in character.clips if clip.name == name), None)
        said = direction_in(name) if name else None
        if source is not None and said is not None:
            words = f"{name[: said.start]}{way_word(bearing)}{name[said.end :]}"
            cels = tuple(replace(cel, mirrored=not cel.mirrored) for cel in source.cels)
            made.append(replace(source, name=words, cels=cels))
    return replace(character, clips=tuple(made))
