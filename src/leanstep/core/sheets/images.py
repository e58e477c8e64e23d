"""Sheet images from disk: pixels, frames with their feet, and what is wrong with them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path

from leanstep.core.character.sheets import Sheet
from leanstep.core.character.storage import is_file
from leanstep.core.errors import LeanStepError
from leanstep.core.sheets.background import DRAWN, Ground, Pixels, cleared
from leanstep.core.sheets.boxes import Box, body_boxes, drawn_box
from leanstep.core.sheets.cutting import Rect, rectangles
from leanstep.core.sheets.feet import foot_points
from leanstep.core.sheets.palette import exchanged
from leanstep.core.sheets.reading import LARGEST, read_image, read_images, size_of
from leanstep.core.sheets.scaling import factors


@dataclass(frozen=True)
class Frame:
    """One cut rectangle.  ``foot`` in pixels from the frame's top left corner; ``empty`` when nothing is drawn in it; ``box``
    is what collides, None where nothing is said of that."""

    rect: Rect
    foot: tuple[float, float]
    empty: bool
    box: Box | None = None


@dataclass(frozen=True)
class CutSheet:
    """A sheet with its pixels (height × width × 4, RGBA) and frames; ``source`` is the image as it is in its file."""

    sheet: Sheet
    pixels: Pixels
    frames: tuple[Frame, ...]
    source: Pixels

    @cached_property
    def usual_height(self) -> float:
        """How high the drawing of a frame usually reaches above its foot, in pixels (the median)."""
        heights = sorted(box.top for box in self.drawn_boxes)
        return max(1.0, heights[len(heights) // 2]) if heights else 1.0

    @cached_property
    def usual_width(self) -> float:
        """How wide a room about the foot, as far to both sides, a drawing usually needs, in pixels (the median)."""
        widths = sorted(2 * max(-box.left, box.left + box.width, 0.5) for box in self.drawn_boxes)
        return widths[len(widths) // 2] if widths else 1.0

    @cached_property
    def usual_depth(self) -> float:
        """How far the drawing of a frame usually reaches below its foot, in pixels (the median): much where feet are centres."""
        depths = sorted(max(0.0, -box.bottom) for box in self.drawn_boxes)
        return depths[len(depths) // 2] if depths else 0.0

    @cached_property
    def drawn_boxes(self) -> list[Box]:
        """The boxes around the drawings of frames that are not empty."""
        found = (self.drawn_box(number) for number in range(len(self.frames)))
        return [box for box in found if box is not None]

    def drawn_box(self, frame: int) -> Box | None:
        """The box around the drawing of a frame; None when nothing is drawn."""
        return drawn_box(self.picture(frame)[:, :, 3] >= DRAWN, self.frames[frame].foot)

    @cached_property
    def scale(self) -> tuple[float, float]:
        """By how much frames are enlarged in width and height when they are shown."""
        side = max(max(one.rect.width, one.rect.height) for one in self.frames)
        return factors(self.sheet.scale, self.usual_height, side)

    @property
    def shown_height(self) -> float:
        """How high a figure usually stands when it is shown, in units."""
        return self.usual_height * self.scale[1]

    def picture(self, frame: int) -> Pixels:
        """The pixels of one frame."""
        rect = self.frames[frame].rect
        return self.pixels[rect.y : rect.y + rect.height, rect.x : rect.x + rect.width]


MOST_TOGETHER = 2 * LARGEST
"""Pixels the images of all sheets may have together."""


def within_bounds(sheets: Iterable[Sheet], folder: Path) -> Iterator[tuple[Sheet, LeanStepError | None]]:
    """Sheets as long as their images are not too large together, by what their files say; with those beyond, the error that keeps them
    from being read.  Images that are missing or unreadable count for nothing here."""
    pixels, known = 0, dict[str, int]()
    for sheet in sheets:
        for image in sheet.all_images:
            if image not in known:
                try:
                    width, height, count = size_of(folder / image)
                    known[image] = width * height * count
                except LeanStepError:
                    known[image] = 0
            pixels += known[image]
        reason = f"the images of all sheets have more than {MOST_TOGETHER} pixels together"
        yield sheet, LeanStepError(sheet.image, reason, "Make them smaller.") if pixels > MOST_TOGETHER else None


class Uncut(LeanStepError):
    """An image that is there, ``pixels``, but cannot be cut as its sheet says."""

    def __init__(self, pixels: Pixels, thing: str, reason: str, way_out: str) -> None:
        self.pixels = pixels
        super().__init__(thing, reason, way_out)


class ImageResized(Uncut):
    """An image has another size than when its sheet was cut."""

    def __init__(self, sheet: Sheet, pixels: Pixels) -> None:
        height, width = pixels.shape[:2]
        super().__init__(
            pixels,
            sheet.image,
            f"the image is {width} × {height} pixels, but the sheet was cut at {sheet.size[0]} × {sheet.size[1]}",
            "Cut the sheet again, or bring the old image back.",
        )


def load_sheet(sheet: Sheet, folder: Path) -> CutSheet:
    """Read and cut a sheet whose image lies below ``folder``.

    Raises
    ------
    LeanStepError : the image is missing or unreadable.
    Uncut : it is of another size than the sheet says, or cannot be cut so.
    """
    paths = [folder / image for image in sheet.all_images]
    source = read_image(paths[0]) if len(paths) == 1 else read_images(paths).pixels
    return cut_sheet(sheet, source, prepared(sheet, source))


def cut_sheet(sheet: Sheet, source: Pixels, pixels: Pixels) -> CutSheet:
    """A sheet of which the image and the prepared ``pixels`` are there already.

    Raises
    ------
    Uncut : the image is of another size than the sheet says, or cannot be cut so.
    """
    height, width = source.shape[:2]
    if sheet.size and (width, height) != tuple(sheet.size):
        raise ImageResized(sheet, pixels)
    try:
        return CutSheet(sheet, pixels, tuple(frames_of(sheet, pixels)), source)
    except LeanStepError as error:
        raise Uncut(pixels, error.thing, error.reason, error.way_out) from None


def prepared(sheet: Sheet, pixels: Pixels) -> Pixels:
    """The pixels of a sheet's image after the sheet's own steps: the ground made transparent, then colours exchanged."""
    if sheet.ground is not None:
        pixels = cleared(pixels, Ground.written(sheet.ground.colour, sheet.ground.tolerance), sheet.ground.holes)
    return exchanged(pixels, sheet.colours) if sheet.colours else pixels


def frames_of(sheet: Sheet, pixels: Pixels) -> list[Frame]:
    """The frames of a sheet with their foot points."""
    height, width = pixels.shape[:2]
    rects = rectangles(sheet.cut, width, height)
    drawn = pixels[:, :, 3] >= DRAWN
    masks = [drawn[rect.y : rect.y + rect.height, rect.x : rect.x + rect.width] for rect in rects]
    if sheet.foot:
        points = [(float(sheet.foot[0]), float(sheet.foot[1]))] * len(rects)
    else:
        points = foot_points(sheet.foot_rule, rects, masks)
    for number, own in sheet.feet.items():
        if int(number) < len(points):
            points[int(number)] = (float(own[0]), float(own[1]))
    boxes = body_boxes(sheet, rects, points, masks)
    return [Frame(*one) for one in zip(rects, points, (not mask.any() for mask in masks), boxes)]


def fault_of(sheet: Sheet, folder: Path, error: LeanStepError) -> str:
    """The finding id of an error that keeps a sheet from being shown."""
    if sheet.cut_out is not None:
        return "sheet.parts"
    if not sheet.image or not all(is_file(folder / image) for image in sheet.all_images):
        return "sheet.missing"
    if isinstance(error, ImageResized):
        return "sheet.changed"
    return "sheet.cut" if error.thing == "cut" else "sheet.unreadable"
