"""Edits of costumes: what stands in for what, when it is worn, and what is shown as it is."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from itertools import takewhile
from pathlib import PurePosixPath

from msgspec.structs import replace

from leanstep.core.character import stand_in_edits as stand_ins
from leanstep.core.character.costumes import StandIn
from leanstep.core.character.cut_outs import CutOut
from leanstep.core.character.document import Character
from leanstep.core.character.edits import append, by_number, free_name, put
from leanstep.core.character.sheet_edits import with_own
from leanstep.core.character.sheets import Cut, Exchange, Sheet
from leanstep.core.character.stand_in_edits import COSTUMES, Place


def part_at(character: Character, place: Place) -> StandIn:
    """What stands in."""
    return character.costumes[place[0]].sheets[place[1]]


def worn_instead(character: Character, by: str, sheet: str, costume: str = "") -> Character:
    """A sheet stands in for another, in a costume of this name or (empty) in one that is called as the sheet; of an image of the
    same size that is not cut yet, the layout is taken over.  Frames of numbered pictures are matched by their names.  What is drawn
    from the parts of the other is drawn from these pictures, too, in the same costume."""
    own = next(one for one in character.sheets if one.name == sheet)
    sheets = tuple(laid_out_like(one, own) if one.name == by else one for one in character.sheets)
    other = next(one for one in sheets if one.name == by)
    made = StandIn(sheet=sheet, by=by, frames=by_picture(own, other))
    name = costume or free_name(by, [one.name for one in character.costumes])
    character = stand_ins.instead(replace(character, sheets=sheets), COSTUMES, made, name)
    return _moving_alike(character, by, sheet, name) if own.parts else character


def _moving_alike(character: Character, by: str, sheet: str, costume: str) -> Character:
    """The character in which all that is drawn from the parts of a sheet is drawn from the pictures of another in a costume."""
    at = next(place for place, one in enumerate(character.costumes) if one.name == costume)
    worn = {part.sheet for part in character.costumes[at].sheets}
    for one in character.sheets:
        drawn = one.cut_out
        if drawn is None or drawn.like or drawn.of != sheet or drawn.pictures or one.name in worn:
            continue
        name = free_name(f"{one.name} {by}", [each.name for each in character.sheets])
        made = replace(one, name=name, cut_out=CutOut(like=one.name, pictures=by))
        character = append(
            append(character, ("sheets",), made), ("costumes", at, "sheets"), StandIn(sheet=one.name, by=name)
        )
    return character


def in_other_colours(character: Character, sheet: str) -> tuple[Character, str]:
    """The character with a costume that is a sheet in other colours, which has its pictures and its layout, and is called so."""
    own = next(one for one in character.sheets if one.name == sheet)
    name = free_name(f"{sheet} dyed", [one.name for one in character.sheets])
    # what is drawn from parts goes on to move like the original
    cut_out = CutOut(like=own.cut_out.like or sheet) if own.cut_out is not None else None
    character = replace(character, sheets=(*character.sheets, replace(own, name=name, parts=(), cut_out=cut_out)))
    return worn_instead(character, name, sheet), name


def with_colour(sheet: Sheet, was: str, to: str) -> Sheet:
    """A sheet that shows a colour of its image as another one, or (the same) as it is."""
    kept = tuple(one for one in sheet.colours if one.was != was)
    return replace(sheet, colours=kept if was == to else (*kept, Exchange(was=was, to=to)))


def laid_out_like(sheet: Sheet, own: Sheet) -> Sheet:
    """A sheet with the layout of another, where its image is as large and it is not cut yet."""
    if not could_stand_in(sheet, own):
        return sheet
    fields = ("cut", "foot", "foot_rule", "feet", "scale", "facing", "row_facing", "row_bearing", "mirrors")
    return replace(sheet, **{field: getattr(own, field) for field in fields})


def could_stand_in(sheet: Sheet, own: Sheet) -> bool:
    """Whether a new sheet, which is not cut yet, may have the layout of another: its image is as large."""
    return (
        sheet.name != own.name
        and sheet.cut == Cut()
        and own.cut != Cut()
        and bool(sheet.size)
        and sheet.size == own.size
    )


def by_picture(own: Sheet, other: Sheet) -> dict[str, int]:
    """Frames of one sheet of single pictures that have another number in the other one, by what tells their files' names apart."""
    if len(own.all_images) < 2 or len(other.all_images) < 2:
        return {}
    numbers = {name: at for at, name in enumerate(_told_apart(other.all_images))}
    pairs = {str(at): numbers[name] for at, name in enumerate(_told_apart(own.all_images)) if name in numbers}
    return {frame: there for frame, there in pairs.items() if int(frame) != there}


def _told_apart(images: Iterable[str]) -> list[str]:
    """The names of files without what they all begin with."""
    stems = [PurePosixPath(image).stem for image in images]
    pairs = takewhile(lambda pair: pair[0] == pair[1], zip(min(stems), max(stems)))
    # a number is not cut in two
    start = len(re.sub(r"\d+\Z", "", "".join(letter for letter, _ in pairs)))
    return [stem[start:] for stem in stems]


def _with_part(character: Character, place: Place, part: StandIn) -> Character:
    made: Character = put(character, ("costumes", place[0], "sheets", place[1]), part)
    return made


def as_they_are(character: Character, place: Place, frames: Iterable[int], on: bool = True) -> Character:
    """Frames of the original are shown as they are, or (``on`` false) as they are in the costume."""
    part = part_at(character, place)
    kept = {*part.original, *frames} if on else set(part.original) - set(frames)
    return _with_part(character, place, replace(part, original=tuple(sorted(kept))))


def stands_for(character: Character, place: Place, frame: int, original: int) -> Character:
    """A frame of the sheet that stands in is shown for one of the original."""
    part = part_at(character, place)
    frames = {number: other for number, other in part.frames.items() if number != str(original)}
    if frame != original:
        frames[str(original)] = frame
    return _with_part(character, place, replace(part, frames=by_number(frames)))


def with_feet(character: Character, sheet: str, feet: Mapping[int, tuple[float, ...]]) -> Character:
    """Frames of a sheet that stands in have these feet."""
    at = next(at for at, one in enumerate(character.sheets) if one.name == sheet)
    own = character.sheets[at]
    made: Character = put(character, ("sheets", at), replace(own, feet=with_own(own, "feet", feet)))
    return made
