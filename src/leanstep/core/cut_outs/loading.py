"""Sheets with their frames: cut from their images, or drawn from the parts of another one."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING

import msgspec
import numpy as np

from leanstep.core.character.cut_outs import CutOut
from leanstep.core.character.sheets import Sheet
from leanstep.core.cut_outs.canvas import fitting
from leanstep.core.cut_outs.part_pictures import PartPicture, part_pictures
from leanstep.core.cut_outs.poses import Poses
from leanstep.core.cut_outs.skeleton import Skeleton, placed, poses_at, skeleton
from leanstep.core.errors import LeanStepError
from leanstep.core.sheets.background import DRAWN, Pixels
from leanstep.core.sheets.boxes import body_boxes
from leanstep.core.sheets.cutting import Rect
from leanstep.core.sheets.images import CutSheet, Frame, load_sheet, prepared
from leanstep.core.sheets.reading import LARGEST

if TYPE_CHECKING:
    from leanstep.core.cut_outs.rendering import Drawing


@dataclass(frozen=True)
class Figure:
    """The parts of a sheet, ready to be drawn, in the order of the skeleton."""

    bones: Skeleton
    pictures: tuple[PartPicture, ...]

    @cached_property
    def drawing(self) -> Drawing:
        """What draws them; the compiler is loaded with it."""
        from leanstep.core.cut_outs.rendering import Drawing

        return Drawing(self.bones, self.pictures)


def loaded(sheet: Sheet, folder: Path, sheets: Sequence[Sheet]) -> CutSheet:
    """A sheet of a character whose images lie below ``folder``; ``sheets`` are all it has.

    Raises
    ------
    LeanStepError : an image is missing or unreadable, or the parts cannot be put together.
    Uncut : an image is of another size than its sheet says, or cannot be cut so.
    """
    if sheet.cut_out is None:
        return load_sheet(sheet, folder)
    cut_out = written(sheet, sheets)
    return drawn(sheet, cut_out, figure_of(cut_out, folder, sheets))


def sources(sheet: Sheet, sheets: Sequence[Sheet]) -> list[Sheet]:
    """The sheets that a sheet is drawn from, itself among them; as far as they are there."""
    if sheet.cut_out is None:
        return [sheet]
    try:
        cut_out = written(sheet, sheets)
    except LeanStepError:
        return [sheet]
    named = (sheet.cut_out.like, cut_out.of, cut_out.pictures)
    return [sheet, *(one for one in sheets if one.name in named)]


def written(sheet: Sheet, sheets: Sequence[Sheet]) -> CutOut:
    """How a sheet is drawn, with what it takes over from another one; its ``pictures`` are always named.

    Raises
    ------
    LeanStepError : a sheet it names is not there, or is not what it should be.
    """
    cut_out = sheet.cut_out
    assert cut_out is not None
    if cut_out.like:
        other = _called(sheet, cut_out.like, sheets)
        if other.cut_out is None or other.cut_out.like:
            reason = f"it is drawn like {cut_out.like!r}, which has no parts and keys of its own"
            raise LeanStepError(f"sheet {sheet.name!r}", reason, "Choose a sheet that is drawn from parts.")
        pictures, cut_out = cut_out.pictures, other.cut_out
    else:
        pictures = cut_out.pictures
    rig = _called(sheet, cut_out.of, sheets)
    if rig.cut_out is not None or not rig.parts:
        reason = f"the sheet {rig.name!r} that it is drawn from has no parts"
        raise LeanStepError(f"sheet {sheet.name!r}", reason, "Give that one parts, or choose another one.")
    if pictures and _called(sheet, pictures, sheets).cut_out is not None:
        reason = f"the pictures of its parts cannot come from {pictures!r}, which is drawn from parts itself"
        raise LeanStepError(f"sheet {sheet.name!r}", reason, "Choose a sheet that is cut from an image.")
    return msgspec.structs.replace(cut_out, pictures=pictures or cut_out.of)


def _called(sheet: Sheet, name: str, sheets: Sequence[Sheet]) -> Sheet:
    found = next((one for one in sheets if one.name == name), None)
    if found is None:
        raise LeanStepError(
            f"sheet {sheet.name!r}", f"it is drawn from {name!r}, which is not there", "Choose another."
        )
    return found


def figure_of(cut_out: CutOut, folder: Path, sheets: Sequence[Sheet]) -> Figure:
    """The parts that a cut-out, as it was :func:`written`, is drawn from.

    Raises
    ------
    LeanStepError, Uncut : as in :func:`loaded`.
    """
    by_name = {one.name: one for one in sheets}
    rig = load_sheet(by_name[cut_out.of], folder)
    other = rig if cut_out.pictures == cut_out.of else load_sheet(by_name[cut_out.pictures], folder)
    return figure(rig, other)


def figures_of(sheets: Mapping[str, CutSheet]) -> dict[str, Figure]:
    """The parts that sheets are drawn from, by the names of those that are; ``sheets`` are all that a character has.

    Raises
    ------
    LeanStepError : as in :func:`loaded`.
    """
    made: dict[tuple[str, str], Figure] = {}
    found = {}
    for name, one in sheets.items():
        if one.sheet.cut_out is not None:
            cut_out = written(one.sheet, [each.sheet for each in sheets.values()])
            key = cut_out.of, cut_out.pictures
            if key not in made:
                made[key] = figure(sheets[key[0]], sheets[key[1]])
            found[name] = made[key]
    return found


def figure(rig: CutSheet, pictures: CutSheet | None = None) -> Figure:
    """The parts of a sheet, with the frames of another one as their ``pictures`` (None: its own).

    Raises
    ------
    LeanStepError : the parts cannot be put together.
    """
    bones = skeleton_of(rig)
    shown = pictures or rig
    frames = {part.frame: shown.picture(part.frame) for part in bones.parts if part.frame < len(shown.frames)}
    return Figure(bones, tuple(part_pictures(bones.parts, frames)))


def skeleton_of(rig: CutSheet) -> Skeleton:
    """How the parts of a sheet hang together.

    Raises
    ------
    LeanStepError : they cannot be put together.
    """
    return skeleton(rig.sheet.parts, {at: frame.foot for at, frame in enumerate(rig.frames)})


def drawn(sheet: Sheet, cut_out: CutOut, of: Figure) -> CutSheet:
    """A sheet's frames, drawn from parts.

    Raises
    ------
    LeanStepError : they are too large together.
    """
    poses = [poses_at(of.bones, cut_out, number * cut_out.every) for number in range(cut_out.count)]
    return drawn_poses(sheet, cut_out, of, poses)


def drawn_poses(sheet: Sheet, cut_out: CutOut, of: Figure, poses: Sequence[Poses]) -> CutSheet:
    """A sheet of which each frame shows the parts in one of several poses.

    Raises
    ------
    LeanStepError : they are too large.
    """
    lying = [placed(of.bones, one) for one in poses]
    canvas = fitting(sheet.name, of.bones, of.pictures, lying)
    columns = math.isqrt(max(0, len(lying) - 1)) + 1
    rows = -(-len(lying) // columns)
    if columns * rows * canvas.width * canvas.height > LARGEST:
        reason = f"{len(lying)} frames of {canvas.width} × {canvas.height} pixels are too large together"
        raise LeanStepError(f"sheet {sheet.name!r}", reason, "Let it be shorter, or move parts less far.")
    pixels: Pixels = np.zeros((rows * canvas.height, columns * canvas.width, 4), np.uint8)
    rects = []
    for number, one in enumerate(lying):
        x, y = number % columns * canvas.width, number // columns * canvas.height
        made = of.drawing.drawn(canvas, one, cut_out.smooth, cut_out.whole_pixels)
        pixels[y : y + canvas.height, x : x + canvas.width] = made
        rects.append(Rect(x, y, canvas.width, canvas.height))
    source, pixels = pixels, prepared(sheet, pixels)
    visible = pixels[:, :, 3] >= DRAWN
    masks = [visible[one.y : one.y + one.height, one.x : one.x + one.width] for one in rects]
    feet = [canvas.foot] * len(rects)
    boxes = body_boxes(sheet, rects, feet, masks)
    frames = tuple(Frame(*one) for one in zip(rects, feet, (not mask.any() for mask in masks), boxes))
    return CutSheet(sheet, pixels, frames, source)
