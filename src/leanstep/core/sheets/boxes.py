"""Body boxes: what of a frame collides, fixed for a sheet or a clip, or found from what is drawn by a rule."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median

from leanstep.core.character.sheets import Sheet
from leanstep.core.sheets.background import Mask
from leanstep.core.sheets.cutting import Rect
from leanstep.core.sheets.feet import Point, bounds


@dataclass(frozen=True)
class Box:
    """A rectangle in pixels of the image, from a frame's foot: x to the right, y up."""

    left: float
    bottom: float
    width: float
    height: float

    @property
    def right(self) -> float:
        """Its right edge."""
        return self.left + self.width

    @property
    def top(self) -> float:
        """Its upper edge."""
        return self.bottom + self.height

    @property
    def edges(self) -> tuple[float, float, float, float]:
        """Left, bottom, right and top."""
        return self.left, self.bottom, self.right, self.top

    @property
    def written(self) -> tuple[float, float, float, float]:
        """As it stands in a document."""
        return self.left, self.bottom, self.width, self.height

    def wider(self, by: float) -> Box:
        """The box with a margin left, right and above; one below 0 makes it smaller, but leaves a pixel of it.  It stands on
        the same ground."""
        by = max(by, (1 - self.width) / 2, 1 - self.height)
        return of_edges(self.left - by, self.bottom, self.right + by, self.top + by)

    def down_to(self, bottom: float) -> Box:
        """The box with another lower edge."""
        return of_edges(self.left, bottom, self.right, self.top)

    def shown(self, by: tuple[float, float], mirrored: bool) -> Box:
        """The box of a frame that is enlarged in width and height, and mirrored about its foot."""
        left = -self.right if mirrored else self.left
        return Box(left * by[0], self.bottom * by[1], self.width * by[0], self.height * by[1])


def of_edges(left: float, bottom: float, right: float, top: float) -> Box:
    """The box between edges."""
    return Box(left, bottom, right - left, top - bottom)


def around(boxes: Sequence[Box]) -> Box:
    """The smallest box that holds some."""
    lefts, bottoms, rights, tops = zip(*(one.edges for one in boxes))
    return of_edges(min(lefts), min(bottoms), max(rights), max(tops))


def usual(boxes: Sequence[Box]) -> Box:
    """The box whose edges are the medians of those of some, and that stands as low as the lowest."""
    left, _, right, top = (float(median(edges)) for edges in zip(*(one.edges for one in boxes)))
    return of_edges(left, min(one.bottom for one in boxes), right, top)


def drawn_box(mask: Mask, foot: Point) -> Box | None:
    """The smallest box around what is drawn (height × width); None when nothing is."""
    found = bounds(mask)
    if found is None:
        return None
    left, top, right, low = found
    return of_edges(left - foot[0], foot[1] - low, right - foot[0], foot[1] - top)


def body_boxes(sheet: Sheet, rects: Sequence[Rect], feet: Sequence[Point], masks: Sequence[Mask]) -> list[Box | None]:
    """The body box of every frame of a sheet; None where it has none.

    A frame's own box comes first, then that of the sheet, then the sheet's rule: see
    :class:`leanstep.core.character.model.Sheet`.
    """
    found: list[Box | None] = [None] * len(rects)
    if sheet.box:
        found = [Box(*sheet.box)] * len(rects)
    elif sheet.box_rule != "none":
        found = [drawn_box(mask, foot) for mask, foot in zip(masks, feet)]
        if sheet.box_rule == "row":
            found = _by_rows(rects, found)
        found = [None if one is None else one.wider(sheet.box_margin) for one in found]
    for number, own in sheet.boxes.items():
        if int(number) < len(found):
            found[int(number)] = Box(*own)
    return found


def of_clip(clip: Sequence[float], own: bool, box: Box | None) -> Box | None:
    """The body box of a frame that a clip shows: that of the ``clip`` where it says one and the frame has no ``own``."""
    return Box(*clip) if clip and not own else box


def _by_rows(rects: Sequence[Rect], drawn: Sequence[Box | None]) -> list[Box | None]:
    """One box for the frames of each row: where the edges of its drawings usually are, down to the lowest."""
    rows: dict[int, list[Box]] = {}
    for rect, box in zip(rects, drawn):
        if box is not None:
            rows.setdefault(rect.y, []).append(box)
    shared = {y: usual(boxes) for y, boxes in rows.items()}
    return [None if box is None else shared[rect.y] for rect, box in zip(rects, drawn)]
