"""Frames packed to one or several pictures, with an index in JSON that says where each is and what clips do with it."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

import msgspec
import numpy as np
from PIL import Image
from rectpack import SORT_LSIDE, PackingBin, PackingMode, SkylineBl, newPacker

from leanstep.core.character.action_boxes import boxes_on
from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.costumes import Costume
from leanstep.core.character.document import Character
from leanstep.core.character.edits import free_name
from leanstep.core.character.pin_edits import spots_on
from leanstep.core.character.pins import Accessory
from leanstep.core.clips.phases import laid_phases
from leanstep.core.clips.timing import TICK, timing
from leanstep.core.cut_outs import loading
from leanstep.core.cut_outs.frame_poses import frame_poses
from leanstep.core.cut_outs.loading import Figure
from leanstep.core.errors import LeanStepError
from leanstep.core.formats.atlas_index import (
    VERSION,
    Event,
    Index,
    Page,
    Placed,
    PlacedBox,
    PlacedPin,
    ShownAccessory,
    ShownCel,
    ShownClip,
    ShownFigure,
    ShownPart,
    WornCostume,
)
from leanstep.core.formats.png import SAYS, png
from leanstep.core.graph.costumes import stands_in
from leanstep.core.sheets.background import Pixels
from leanstep.core.sheets.boxes import Box, of_clip
from leanstep.core.sheets.feet import bounds
from leanstep.core.sheets.images import CutSheet
from leanstep.core.sheets.recutting import frames_shown
from leanstep.core.sheets.scaling import scaled

HOPED = 0.97
"""The share of a picture that frames usually fill, from which its width is guessed."""
TRIED, MANY = (0.8, 0.9, 0.95, 1.0, 1.05, 1.1, 1.2, 1.3), 400
"""Widths that are tried, as shares of the guess, where there are not too many frames."""


@dataclass(frozen=True)
class Packing:
    """How frames are packed.  ``trim``: without the clear rim; ``padding``: clear pixels between frames, ``extrude``: how often
    the outermost pixels of a frame are repeated around it; ``power_of_two``: sides are 2, 4, 8 …; ``rotate``: frames may lie on
    their side, turned clockwise; ``largest``: the longest side of a picture, in pixels."""

    trim: bool = True
    padding: int = 2
    extrude: int = 0
    power_of_two: bool = False
    rotate: bool = False
    largest: int = 4096


@dataclass(frozen=True)
class _Piece:
    """What of a frame is packed; ``trim`` in the frame; ``foot`` and ``box`` as it is shown."""

    name: str
    foot: tuple[float, float]
    box: tuple[float, float, float, float] | None
    pixels: Pixels
    trim: tuple[int, int, int, int]
    size: tuple[int, int]


def atlas(
    character: Character,
    sheets: Mapping[str, CutSheet],
    stem: str,
    packing: Packing,
    enlarge: int = 1,
    figures: Mapping[str, Figure] | None = None,
) -> tuple[dict[str, Pixels], Index, float]:
    """The pictures by file name, the index, and the share of the pictures that frames fill; ``figures`` are the parts that sheets are
    drawn from, by the names of these.

    Raises
    ------
    LeanStepError : a frame is larger than a picture may be, or there are none.
    """
    parted = _together(character, sheets, figures or {})
    pieces = [*_pieces(sheets, packing.trim, enlarge), *(part for one in parted for part in _part_pieces(one, enlarge))]
    if not pieces:
        raise LeanStepError(character.name, "it has no frames to pack", "Give it a sheet, or leave the atlas out.")
    same: dict[tuple[bytes, tuple[int, ...]], int] = {}
    of = [same.setdefault((one.pixels.tobytes(), one.pixels.shape), at) for at, one in enumerate(pieces)]
    unique = sorted(set(of))
    sizes = {at: _room(pieces[at], packing) for at in unique}
    for at, size in sizes.items():
        if max(size) > packing.largest:
            reason = f"with its rim it has {size[0]} × {size[1]} pixels, and a picture at most {packing.largest}"
            raise LeanStepError(f"frame {pieces[at].name}", reason, "Allow larger pictures, or enlarge less.")
    rects, pages = packed(sizes, packing)
    names = [f"{stem}.atlas.png" if len(pages) == 1 else f"{stem}.atlas.{number}.png" for number in range(len(pages))]
    pictures = {name: np.zeros((height, width, 4), np.uint8) for name, (width, height) in zip(names, pages)}
    for at in unique:
        page, x, y, turned = rects[at]
        drawn = _with_rim(pieces[at].pixels, packing.extrude)
        drawn = np.rot90(drawn, -1) if turned else drawn
        pictures[names[page]][y : y + drawn.shape[0], x : x + drawn.shape[1]] = drawn
    placed = [_placed(one, *rects[at], packing.extrude) for one, at in zip(pieces, of)]
    filled = sum(pieces[at].pixels.shape[0] * pieces[at].pixels.shape[1] for at in unique)
    index = Index(
        VERSION,
        SAYS,
        character.name,
        character.rate,
        packing.padding,
        packing.extrude,
        [Page(name, *page) for name, page in zip(names, pages)],
        placed,
        [_clip(clip, sheets, enlarge) for clip in character.clips],
        [_costume(character, one, sheets) for one in character.costumes],
        [_accessory(one) for one in character.accessories],
        [_figure(character, one, enlarge) for one in parted],
    )
    return pictures, index, filled / sum(width * height for width, height in pages)


def _costume(character: Character, costume: Costume, sheets: Mapping[str, CutSheet]) -> WornCostume:
    frames = {}
    for part in costume.sheets:
        if part.by in sheets:
            for frame in frames_shown(character, part.sheet):
                found = stands_in(part, len(sheets[part.by].frames), frame)
                if found is not None:
                    frames[f"{part.sheet}/{frame}"] = f"{found[0]}/{found[1]}"
    return WornCostume(costume.name, costume.parameter, costume.value, frames)


def _accessory(one: Accessory) -> ShownAccessory:
    frame = "" if one.clip else f"{one.sheet}/{one.frame}"
    return ShownAccessory(one.name, one.pin, one.angle, frame, one.clip, one.order, one.shown)


def encoded(pixels: Pixels) -> bytes:
    """A picture as PNG."""
    return png(Image.fromarray(pixels), compress_level=4)


def written(index: Index) -> bytes:
    """The index as JSON, one frame and one clip on each line."""
    made = msgspec.to_builtins(index)
    frames, clips = made.pop("frames"), made.pop("clips")
    head = msgspec.json.format(msgspec.json.encode(made), indent=1).decode().rstrip()[:-2]

    def lines(rows: list[Any]) -> str:
        return ",\n".join(f"  {msgspec.json.encode(row).decode()}" for row in rows)

    return f'{head},\n "frames": [\n{lines(frames)}\n ],\n "clips": [\n{lines(clips)}\n ]\n}}\n'.encode()


def _pieces(sheets: Mapping[str, CutSheet], trim: bool, enlarge: int) -> Iterator[_Piece]:
    """All frames of all sheets as they are shown, without their clear rims."""
    for sheet in sheets.values():
        smooth = sheet.sheet.scale is not None and sheet.sheet.scale.smooth
        by = sheet.scale[0] * enlarge, sheet.scale[1] * enlarge
        for number in range(len(sheet.frames)):
            whole = scaled(sheet.picture(number), by, smooth)
            height, width = whole.shape[:2]
            found = bounds(whole[:, :, 3] > 0) if trim else (0, 0, width, height)
            # where nothing is drawn a single clear pixel stays
            left, top, right, low = found if found is not None else (0, 0, 1, 1)
            frame = sheet.frames[number]
            yield _Piece(
                f"{sheet.sheet.name}/{number}",
                (frame.foot[0] * by[0], frame.foot[1] * by[1]),
                _box(frame.box, sheet.scale, enlarge),
                np.ascontiguousarray(whole[top:low, left:right]),
                (int(left), int(top), int(right - left), int(low - top)),
                (width, height),
            )


@dataclass(frozen=True)
class _Parted:
    """A figure and the sheets that are drawn from its parts in one size."""

    name: str
    figure: Figure
    sheets: list[CutSheet]


def _together(character: Character, sheets: Mapping[str, CutSheet], figures: Mapping[str, Figure]) -> list[_Parted]:
    """Figures, each with all sheets that are drawn from it in one size."""
    found: dict[tuple[object, ...], _Parted] = {}
    for name, figure in figures.items():
        if name in sheets:
            sheet = sheets[name]
            key = id(figure), sheet.scale, sheet.sheet.scale is not None and sheet.sheet.scale.smooth
            if key not in found:
                of = loading.written(sheet.sheet, character.sheets).pictures
                called = free_name(of, [one.name for one in found.values()])
                found[key] = _Parted(called, figure, [])
            found[key].sheets.append(sheet)
    return list(found.values())


def _part_pieces(one: _Parted, enlarge: int) -> Iterator[_Piece]:
    """The pictures of parts, which stand with their joints."""
    sheet, figure = one.sheets[0], one.figure
    smooth = sheet.sheet.scale is not None and sheet.sheet.scale.smooth
    by = sheet.scale[0] * enlarge, sheet.scale[1] * enlarge
    for part, joint, picture in zip(figure.bones.parts, figure.bones.joints, figure.pictures, strict=True):
        clear = np.zeros((1, 1, 4), np.uint8)
        whole = scaled(picture.pixels, by, smooth) if picture.pixels.size else clear
        height, width = whole.shape[:2]
        foot = (joint[0] - picture.x) * by[0], (joint[1] - picture.y) * by[1]
        yield _Piece(_part_name(one, part.name), foot, None, whole, (0, 0, width, height), (width, height))


def _part_name(one: _Parted, part: str) -> str:
    return f"{one.name}/part/{part}"


def _figure(character: Character, one: _Parted, enlarge: int) -> ShownFigure:
    bones, scale = one.figure.bones, one.sheets[0].scale
    right, up = scale[0] * enlarge, scale[1] * enlarge
    drawn = {at: place for place, at in enumerate(bones.drawn)}
    parts = [
        ShownPart(
            part.name,
            _part_name(one, part.name),
            x * right,
            y * up,
            drawn[at],
            bones.parts[parent].name if parent >= 0 else "",
            part.turn,
        )
        for at, (part, parent, (x, y)) in enumerate(zip(bones.parts, bones.parents, bones.places))
    ]
    poses = {}
    for sheet in one.sheets:
        found = frame_poses(loading.written(sheet.sheet, character.sheets), bones)
        for number, moved in enumerate(found.poses):
            rows = [(each.x * right, each.y * up, each.turn, each.wide, each.high) for each in moved]
            poses[f"{sheet.sheet.name}/{number}"] = rows
    return ShownFigure(one.name, parts, poses)


def _room(piece: _Piece, packing: Packing) -> tuple[int, int]:
    """The room a frame takes with its rim."""
    height, width = piece.pixels.shape[:2]
    return width + 2 * packing.extrude, height + 2 * packing.extrude


def packed(
    sizes: Mapping[int, tuple[int, int]], packing: Packing
) -> tuple[dict[int, tuple[int, int, int, bool]], list[tuple[int, int]]]:
    """For each frame its page, place and whether it is turned; and how large the pages are.  A few widths are tried."""
    gap = packing.padding
    area = sum((width + gap) * (height + gap) for width, height in sizes.values())
    widest = max(max(size) if packing.rotate else size[0] for size in sizes.values())
    guess = math.sqrt(area / HOPED)
    tried = TRIED if len(sizes) <= MANY and guess < packing.largest and not packing.power_of_two else (1.0,)
    found = []
    for share in tried:
        side = max(math.ceil(guess * share), widest)
        side = min(_up_to_two(side) if packing.power_of_two else side, packing.largest)
        found.append(_laid_out(sizes, side, packing))
    return min(found, key=lambda one: sum(width * height for width, height in one[1]))


def _laid_out(
    sizes: Mapping[int, tuple[int, int]], side: int, packing: Packing
) -> tuple[dict[int, tuple[int, int, int, bool]], list[tuple[int, int]]]:
    """Frames packed to pages so wide."""
    gap = packing.padding
    packer = newPacker(PackingMode.Offline, PackingBin.BFF, SkylineBl, SORT_LSIDE, packing.rotate)
    for at, (width, high) in sizes.items():
        packer.add_rect(width + gap, high + gap, at)
    # a gap stands between frames, not at the edge
    packer.add_bin(side + gap, packing.largest + gap, count=len(sizes))
    packer.pack()
    rects, reach = {}, dict[int, tuple[int, int]]()
    for page, x, y, width, high, at in packer.rect_list():
        turned = (width - gap, high - gap) != sizes[at]
        rects[at] = page, x, y, turned
        right, low = reach.get(page, (0, 0))
        reach[page] = max(right, x + width - gap), max(low, y + high - gap)
    pages = [reach[page] for page in range(len(reach))]
    if packing.power_of_two:
        pages = [(_up_to_two(width), _up_to_two(high)) for width, high in pages]
    return rects, pages


def _up_to_two(side: int) -> int:
    return 1 << max(0, side - 1).bit_length()


def _with_rim(pixels: Pixels, extrude: int) -> Pixels:
    """The picture with its outermost pixels repeated around it."""
    if not extrude:
        return pixels
    return np.pad(pixels, ((extrude, extrude), (extrude, extrude), (0, 0)), mode="edge")


def _placed(piece: _Piece, page: int, x: int, y: int, turned: bool, extrude: int) -> Placed:
    height, width = piece.pixels.shape[:2]
    return Placed(
        piece.name,
        page,
        x + extrude,
        y + extrude,
        height if turned else width,
        width if turned else height,
        turned,
        piece.trim,
        piece.size,
        piece.foot,
        piece.box,
    )


def _box(box: Box | None, by: tuple[float, float], enlarge: int) -> tuple[float, float, float, float] | None:
    return None if box is None else _shown(box, by, enlarge)


def _shown(box: Box, by: tuple[float, float], enlarge: int) -> tuple[float, float, float, float]:
    left, bottom, width, height = box.shown((by[0] * enlarge, by[1] * enlarge), False).written
    return left, bottom, width, height


def _clip(clip: Clip, sheets: Mapping[str, CutSheet], enlarge: int) -> ShownClip:
    made = timing(clip)

    def cel(at: int, one: Cel) -> ShownCel:
        name = clip.sheet_of(one)
        sheet = sheets.get(name)
        box, boxes = None, []
        by = sheet.scale if sheet is not None else (1.0, 1.0)
        pins = [
            PlacedPin(pin, spot.x * by[0] * enlarge, spot.y * by[1] * enlarge, spot.angle, spot.behind)
            for pin, spot in spots_on(clip, at)
        ]
        if sheet is not None and one.frame < len(sheet.frames):
            own = str(one.frame) in sheet.sheet.boxes
            found = of_clip(clip.box, own, sheet.frames[one.frame].box)
            box = _box(found, sheet.scale, enlarge)
            for number, rect in boxes_on(clip, at):
                part = clip.boxes[number]
                boxes.append(PlacedBox(part.name, part.kind, _shown(Box(*rect), sheet.scale, enlarge)))
        return ShownCel(f"{name}/{one.frame}", one.ticks, one.mirrored, one.turns, box, boxes, pins)

    return ShownClip(
        clip.name,
        clip.loop,
        made.length / TICK,
        made.begin / TICK if made.repeats else None,
        [cel(at, one) for at, one in enumerate(clip.cels)],
        [Event(mark.name, mark.at, None, dict(mark.says), mark.pin) for mark in clip.marks],
        [Event(span.name, span.start, span.end, dict(span.says)) for span in clip.spans],
        [Event(one.kind, one.start / TICK, one.end / TICK, {}) for one in laid_phases(clip)],
    )
