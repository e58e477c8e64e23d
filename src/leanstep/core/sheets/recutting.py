"""A sheet cut anew: clips, feet and marks follow their frames to the new numbers."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass, field

import msgspec

from leanstep.core.character import action_boxes, pin_edits
from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.costumes import Costume, StandIn
from leanstep.core.character.cut_outs import CutOutPart
from leanstep.core.character.document import Character
from leanstep.core.character.edits import by_number, put
from leanstep.core.character.sheets import Cut, Sheet
from leanstep.core.sheets.background import Pixels
from leanstep.core.sheets.cutting import Rect, rectangles
from leanstep.core.sheets.drawings import boxes_of, shared_areas
from leanstep.core.sheets.feet import OF_CELLS, of_cell
from leanstep.core.sheets.images import Frame, frames_of
from leanstep.core.sheets.matching import Matching, matched

SAME = 0.5
"""Intersection over union from which two rectangles are taken for the same frame."""


@dataclass(frozen=True)
class Recut:
    """A sheet's new ``cut`` and image ``size``, and where its old frames are now: ``frames`` from old numbers to new ones.

    Cels that show one of the ``gone`` frames are taken out of their clips; other frames without a place keep their number.
    ``moved``: by how many pixels (x, y) what is drawn stands elsewhere in its frame now, by old numbers.
    """

    cut: Cut
    size: tuple[int, int]
    frames: Mapping[int, int]
    gone: Collection[int] = ()
    moved: Mapping[int, tuple[int, int]] = field(default_factory=dict)


def by_place(old: Sequence[Rect], new: Sequence[Rect]) -> dict[int, int]:
    """For frames of an old cut, those of a new one that lie in about the same place of the image."""
    if not old or not new:
        return {}
    first, second = boxes_of(old), boxes_of(new)
    areas = (second[:, 2:] - second[:, :2]).prod(axis=1)
    found = {}
    for number, box in enumerate(first):
        shared = shared_areas(box, second)
        union = areas + (box[2:] - box[:2]).prod() - shared
        best = int((shared / union).argmax())
        if shared[best] >= SAME * union[best]:
            found[number] = best
    return found


def of_same_image(pixels: Pixels, old: Sequence[Rect], new: Sequence[Rect], cut: Cut) -> Recut:
    """Another cut of the same image (height × width × 4): frames are known by their place, and where that tells nothing by
    what is drawn in them."""
    frames = by_place(old, new)
    if len(frames) < len(old):
        others = set(frames.values())
        for one in matched(pixels, old, pixels, new).matches:
            if one.how in ("exact", "shifted") and one.old not in frames and one.new not in others:
                frames[one.old] = one.new
    moved = {one: (old[one].x - new[other].x, old[one].y - new[other].y) for one, other in frames.items()}
    return Recut(cut, (pixels.shape[1], pixels.shape[0]), frames, moved=moved)


def of_new_image(pixels: Pixels, matching: Matching, cut: Cut) -> Recut:
    """The cut of an image that was exported again, of which the frames are known."""
    frames = {one.old: one.new for one in matching.matches}
    moved = {one.old: one.moved for one in matching.matches if one.how != "place"}
    return Recut(cut, (pixels.shape[1], pixels.shape[0]), frames, moved=moved)


def recut(document: Character, at: int, new: Recut) -> Character:
    """The document with sheet number ``at`` cut anew; clips and feet follow their frames."""
    sheet = document.sheets[at]
    feet: dict[str, tuple[float, ...]] = {}
    for number, foot in ((int(number), foot) for number, foot in sheet.feet.items()):
        if number in new.frames:
            x, y = new.moved.get(number, (0, 0))
            feet[str(new.frames[number])] = (foot[0] + x, foot[1] + y)
    # a box lies about its foot, wherever that is drawn
    boxes = {str(new.frames[int(number)]): box for number, box in sheet.boxes.items() if int(number) in new.frames}
    values = {"cut": new.cut, "size": new.size, "feet": by_number(feet), "boxes": by_number(boxes)}
    document = put(document, ("sheets", at), msgspec.structs.replace(sheet, **values))
    clips = (_followed(clip, sheet.name, new) for clip in document.clips)
    off = _off_drawings(sheet, new)
    document = put(document, ("clips",), tuple(_on_drawings(clip, sheet.name, off) for clip in clips))
    document = put(document, ("costumes",), tuple(_still_worn(one, sheet.name, new) for one in document.costumes))
    if sheet.parts:
        document = put(document, ("sheets",), tuple(_parts_anew(one, sheet, new) for one in document.sheets))
    for layer, number, held in held_frames(document):
        if held.sheet == sheet.name:
            document = put(document, ("layers", layer, "states", number, "held"), _anew(held, new))
    for number, one in enumerate(document.accessories):
        if one.sheet == sheet.name:
            document = put(document, ("accessories", number, "frame"), new.frames.get(one.frame, one.frame))
    return document


def _parts_anew(one: Sheet, sheet: Sheet, new: Recut) -> Sheet:
    """A sheet whose parts, or what reaches with parts of the one cut anew, are on the same drawings."""
    frames = {part.name: part.frame for part in sheet.parts}

    def moved(point: tuple[float, ...], frame: int | None) -> tuple[float, ...]:
        x, y = new.moved.get(-1 if frame is None else frame, (0, 0))
        return (point[0] + x, point[1] + y) if point else ()

    def anew(part: CutOutPart) -> CutOutPart:
        frame, parent = part.frame, frames.get(part.parent)
        joint = moved(part.joint, frame)
        at = moved(part.at or part.joint, parent if part.parent else frame)
        return msgspec.structs.replace(
            part,
            frame=new.frames.get(frame, frame),
            outline=tuple(moved(corner, frame) for corner in part.outline),
            joint=joint,
            at=at if part.at or at != joint else (),
        )

    if one.name == sheet.name:
        return msgspec.structs.replace(one, parts=tuple(map(anew, sheet.parts)))
    if one.cut_out is None or one.cut_out.of != sheet.name:
        return one
    reaches = tuple(
        msgspec.structs.replace(reach, tip=moved(reach.tip, frames.get(reach.part))) for reach in one.cut_out.reaches
    )
    return msgspec.structs.replace(one, cut_out=msgspec.structs.replace(one.cut_out, reaches=reaches))


def with_feet(document: Character, at: int, frames: Sequence[Frame], pixels: Pixels, **values: object) -> Character:
    """The document with other feet of sheet number ``at``, as these ``values`` of it say; ``frames`` are as they are cut now, from
    ``pixels`` (height × width × 4).  Boxes of actions and pin points stay on the drawings."""
    sheet = msgspec.structs.replace(document.sheets[at], **values)
    moved: dict[int, tuple[float, float]] = {}
    for number, (was, now) in enumerate(zip(frames, frames_of(sheet, pixels))):
        if was.foot != now.foot:
            moved[number] = now.foot[0] - was.foot[0], was.foot[1] - now.foot[1]
    clips = tuple(_on_drawings(clip, sheet.name, moved) for clip in document.clips)
    document = put(document, ("sheets", at), sheet)
    document = put(document, ("clips",), clips)
    return document


def _on_drawings(clip: Clip, sheet: str, moved: Mapping[int, tuple[float, float]]) -> Clip:
    """The clip with what lies about feet where it was on the drawings, when those of a sheet's frames have moved."""
    return pin_edits.with_moved_feet(action_boxes.with_moved_feet(clip, sheet, moved), sheet, moved)


def _off_drawings(sheet: Sheet, new: Recut) -> dict[int, tuple[float, float]]:
    """By how much feet are elsewhere on their drawings now, to the right and up, by new numbers.

    They are where a point of the cell is the foot, and the drawing stands elsewhere in it or the cell has another size.
    """
    ruled = sheet.foot_rule in OF_CELLS and sheet.size
    if not new.moved or not (sheet.foot or ruled):
        return {}
    before = rectangles(sheet.cut, *sheet.size) if ruled and not sheet.foot else []
    after = rectangles(new.cut, *new.size) if before else []
    found = {}
    for number, place in new.frames.items():
        if str(number) in sheet.feet or number not in new.moved:
            continue
        x, y = map(float, new.moved[number])
        if number < len(before) and place < len(after):
            was, now = of_cell(sheet.foot_rule, before[number]), of_cell(sheet.foot_rule, after[place])
            x, y = x + was[0] - now[0], y + was[1] - now[1]
        found[place] = (-x, y)
    return found


def _followed(clip: Clip, sheet: str, new: Recut) -> Clip:
    """A clip with the new frames of its cels that show the sheet, without those of frames that are gone."""
    there = [at for at, cel in enumerate(clip.cels) if clip.sheet_of(cel) != sheet or cel.frame not in new.gone]
    kept = [clip.cels[at] for at in there]
    cels = tuple(_anew(cel, new) if clip.sheet_of(cel) == sheet else cel for cel in kept)
    playback = clip.playback
    if playback is not None and playback.resting is not None and clip.sheet_of(playback.resting) == sheet:
        playback = msgspec.structs.replace(playback, resting=_anew(playback.resting, new))
    changed = (cels, playback) != (clip.cels, clip.playback)
    if not changed:
        return clip
    made = msgspec.structs.replace(clip, cels=cels, playback=playback)
    if len(there) == len(clip.cels):
        return made
    return msgspec.structs.replace(
        made, boxes=action_boxes.followed(clip.boxes, there), pins=pin_edits.followed(clip.pins, there)
    )


def _still_worn(costume: Costume, sheet: str, new: Recut) -> Costume:
    """A costume that shows the same drawings for the same ones, once a sheet that it is about has other numbers."""

    def followed(part: StandIn) -> StandIn:
        if sheet not in (part.sheet, part.by):
            return part
        known = {*map(int, part.frames), *part.original, *new.frames}
        pairs = {frame: part.frames.get(str(frame), frame) for frame in known}
        if sheet == part.sheet:
            pairs = {new.frames[frame]: other for frame, other in pairs.items() if frame in new.frames}
        else:
            pairs = {frame: new.frames.get(other, other) for frame, other in pairs.items()}
        kept = (new.frames.get(frame, frame) for frame in part.original) if sheet == part.sheet else part.original
        frames = by_number({str(frame): other for frame, other in pairs.items() if frame != other})
        return msgspec.structs.replace(part, frames=frames, original=tuple(sorted(kept)))

    return msgspec.structs.replace(costume, sheets=tuple(map(followed, costume.sheets)))


def _anew(cel: Cel, new: Recut) -> Cel:
    return msgspec.structs.replace(cel, frame=new.frames.get(cel.frame, cel.frame))


def held_frames(document: Character) -> Iterator[tuple[int, int, Cel]]:
    """The frames that states hold, with the numbers of their layer and state."""
    for at, layer in enumerate(document.layers):
        for number, state in enumerate(layer.states):
            if state.held is not None:
                yield at, number, state.held


def lost(document: Character, sheet: Sheet, new: Recut) -> list[str]:
    """What shows frames that have no place in a new cut, in words."""
    found = []
    for clip in document.clips:
        frames = sorted(frame for frame in clip.frames_of(sheet.name) if frame not in new.frames)
        if frames:
            found.append(f"clip {clip.name} (frame {', '.join(map(str, frames))})")
    for layer, number, held in held_frames(document):
        if held.sheet == sheet.name and held.frame not in new.frames:
            found.append(f"state {document.layers[layer].states[number].name} (frame {held.frame})")
    return found


# --- frames by hand


def with_rect(cut: Cut, number: int, rect: Rect) -> Cut:
    """The cut with another rectangle for one frame: a cell of a grid gets one of its own."""
    value = (rect.x, rect.y, rect.width, rect.height)
    if cut.way == "rects":
        return msgspec.structs.replace(cut, rects=(*cut.rects[:number], value, *cut.rects[number + 1 :]))
    return msgspec.structs.replace(cut, cells=by_number({**cut.cells, str(number): value}))


def by_hand(rects: Sequence[Rect]) -> Cut:
    """The cut that has just these frames."""
    return Cut(way="rects", rects=tuple((one.x, one.y, one.width, one.height) for one in rects))


def without(rects: Sequence[Rect], numbers: Collection[int], size: tuple[int, int]) -> Recut:
    """The frames but some."""
    kept = [number for number in range(len(rects)) if number not in numbers]
    return Recut(
        by_hand([rects[number] for number in kept]), size, {old: new for new, old in enumerate(kept)}, set(numbers)
    )


def with_new(rects: Sequence[Rect], rect: Rect, size: tuple[int, int]) -> Recut:
    """The frames and a new one behind them."""
    return Recut(by_hand([*rects, rect]), size, {number: number for number in range(len(rects))})


def merged(rects: Sequence[Rect], numbers: Collection[int], size: tuple[int, int]) -> Recut:
    """The frames with some of them made one, in the place of the first."""
    some = [rects[number] for number in sorted(numbers)]
    left, top = min(one.x for one in some), min(one.y for one in some)
    right, low = max(one.x + one.width for one in some), max(one.y + one.height for one in some)
    first = min(numbers)
    kept = [number for number in range(len(rects)) if number == first or number not in numbers]
    frames = {old: new for new, old in enumerate(kept)}
    whole = Rect(left, top, right - left, low - top)
    made = by_hand([whole if number == first else rects[number] for number in kept])
    return Recut(made, size, frames | dict.fromkeys(numbers, frames[first]))


def split(rects: Sequence[Rect], number: int, down: bool, size: tuple[int, int]) -> Recut:
    """The frames with one of them halved: side by side, or one below the other (``down``)."""
    one = rects[number]
    if down:
        half = one.height // 2
        parts = [Rect(one.x, one.y, one.width, half), Rect(one.x, one.y + half, one.width, one.height - half)]
    else:
        half = one.width // 2
        parts = [Rect(one.x, one.y, half, one.height), Rect(one.x + half, one.y, one.width - half, one.height)]
    frames = {old: old + (old > number) for old in range(len(rects))}
    return Recut(by_hand([*rects[:number], *parts, *rects[number + 1 :]]), size, frames)


def frames_shown(character: Character, sheet: str) -> list[int]:
    """The frames of a sheet that clips and accessories show and states hold, in their order."""
    shown = {frame for clip in character.clips for frame in clip.frames_of(sheet)}
    shown |= {one.frame for one in character.accessories if one.sheet == sheet and not one.clip}
    return sorted(shown | {held.frame for _, _, held in held_frames(character) if held.sheet == sheet})
