"""The document's part about images and how they are cut."""

from __future__ import annotations

from typing import Annotated, Literal

from leanstep.core.character.annotations import ByNumber, Defines, Numbers, Within
from leanstep.core.character.cut_outs import CutOut, CutOutPart
from leanstep.core.character.part import Part

MOST_PIXELS = 65_535
"""Pixels that a side of an image can have at all."""
LEAST_SCALE, MOST_SCALE = 1 / 64, 64.0
"""By how much frames can be enlarged."""
Pair = int | tuple[int, ...]
"""Pixels: one number for both directions, or (x, y)."""
Pixels = Annotated[int, Within(0, MOST_PIXELS, "pixels")]
Times = Annotated[float, Within(LEAST_SCALE, MOST_SCALE, "times")]
BODY_BOX = Numbers(4, "[left, bottom, width, height] in pixels from the foot", -MOST_PIXELS, MOST_PIXELS, size=True)
RECTANGLE = Numbers(4, "[x, y, width, height] in pixels", 0, MOST_PIXELS, size=True)
POINT = Numbers(2, "[x, y] in pixels")


class Cut(Part, frozen=True, kw_only=True):
    """How frames are made from a sheet's image, all in pixels of the image.  Frames are numbered row by row from 0, and rectangles in
    their order."""

    way: Annotated[
        Literal["count", "size", "rects"],
        "`columns` × `rows` cells; cells of `width` × `height`, as many as fit or at most `columns` × `rows`; or `rects`",
    ] = "count"
    columns: Annotated[int, Within(0, MOST_PIXELS), "0: one, or as many as fit"] = 0
    rows: Annotated[int, Within(0, MOST_PIXELS), "0: one, or as many as fit"] = 0
    width: Annotated[int, "of a cell, in pixels"] = 0
    height: Annotated[int, "of a cell, in pixels"] = 0
    margin: Annotated[Pair, "left of the first cell and above it, one number or [x, y]"] = 0
    gap: Annotated[Pair, "between cells, one number or [x, y]; what is left over stays unused"] = 0
    rects: Annotated[tuple[tuple[int, ...], ...], RECTANGLE, "the frames, each [x, y, width, height]"] = ()
    cells: Annotated[
        dict[str, tuple[int, ...]], ByNumber("cells"), RECTANGLE, "rectangles that stand in for single cells of a grid"
    ] = {}

    @property
    def counts(self) -> tuple[int, int]:
        """Columns and rows of a cut by count."""
        return max(1, self.columns), max(1, self.rows)


def both(pair: Pair) -> tuple[int, int]:
    """A number of pixels in x and y."""
    return (pair, pair) if isinstance(pair, int) else (pair[0], pair[1])


class Ground(Part, frozen=True, kw_only=True):
    """A colour around the drawings that is made transparent from the image's borders inwards."""

    colour: Annotated[str, "`#rrggbb`"]
    tolerance: Annotated[int, Within(0, 255), "by how much the largest channel of a pixel may differ"] = 0
    holes: Annotated[tuple[tuple[int, ...], ...], POINT, "pixels inside drawings from which it is cleared, too"] = ()


class Exchange(Part, frozen=True, kw_only=True):
    """A colour that is shown as another one."""

    was: Annotated[str, "`#rrggbb`, as it is in the image"]
    to: Annotated[str, "`#rrggbb`, as it is shown"]


class Scale(Part, frozen=True, kw_only=True):
    """The size at which frames are shown: ``by`` times as large as they are drawn, or so that the figure usually stands ``height``
    pixels above its foot."""

    by: Annotated[Times, "times as large as drawn"] = 1.0
    height: Annotated[
        float, Within(0, MOST_PIXELS, "pixels"), "pixels at which the figure usually stands above its foot; 0: not said"
    ] = 0.0
    stretch: Annotated[Times, "times as wide as that"] = 1.0
    smooth: Annotated[bool, "the picture is made smooth, instead of every pixel being repeated"] = False


class Sheet(Part, frozen=True, kw_only=True):
    """An image and how it is cut."""

    name: Annotated[str, Defines("sheet"), "how clips name it"]
    image: Annotated[
        str, "a path from the file, with `/`; it may lead out of the folder, as `../art/keeper.png` does"
    ] = ""
    images: Annotated[
        tuple[str, ...],
        "more images, where several make one sheet; they are laid out in rows, as are those of a moving image",
    ] = ()
    size: Annotated[
        tuple[int, ...],
        Numbers(2, "[width, height] in pixels", 1, size=True),
        "the image's width and height in pixels when it was cut",
    ] = ()
    ground: Annotated[Ground | None, "what is made transparent first; the image file is never changed"] = None
    colours: Annotated[tuple[Exchange, ...], "colours that are shown as others, all at once"] = ()
    cut: Annotated[Cut, "how frames are made"] = Cut()
    foot: Annotated[
        tuple[float, ...], Numbers(2, "[x, y] from the cell's top left corner"), "the foot point inside every cell"
    ] = ()
    foot_rule: Annotated[
        Literal["row", "drawing", "solid", "cell", "centre"],
        "how the foot is found: one point a row from what its frames share, bottom centre of the drawn pixels, of their lowest run, "
        "of the cell, or the cell's centre",
    ] = "row"
    feet: Annotated[dict[str, tuple[float, ...]], ByNumber("frames"), POINT, "points of single frames"] = {}
    scale: Annotated[Scale | None, "the size at which frames are shown"] = None
    box: Annotated[
        tuple[float, ...],
        BODY_BOX,
        "a body box for every frame, in pixels of the image from the frame's foot, up is positive",
    ] = ()
    box_rule: Annotated[
        Literal["none", "drawing", "row"],
        "how the box is found: not, that of each drawing, or one a row, where the edges of its drawings usually are",
    ] = "none"
    box_margin: Annotated[float, Within(-MOST_PIXELS, MOST_PIXELS, "pixels"), "pixels around a box that is found"] = 0.0
    boxes: Annotated[dict[str, tuple[float, ...]], ByNumber("frames"), BODY_BOX, "boxes of single frames"] = {}
    facing: Annotated[Literal["right", "left"], "which way the drawings look"] = "right"
    row_facing: Annotated[dict[str, Literal["right", "left"]], ByNumber("rows"), "which way single rows look"] = {}
    row_bearing: Annotated[
        dict[str, float], ByNumber("rows"), "the direction that single rows show, in degrees, 0 is up"
    ] = {}
    parts: Annotated[tuple[CutOutPart, ...], "the parts of a cut-out figure that its frames are the pictures of"] = ()
    cut_out: Annotated[CutOut | None, "how its frames are drawn from parts, instead of from an image"] = None
    mirrors: Annotated[bool, "false: there are drawings for both ways, and none is mirrored"] = True

    @property
    def all_images(self) -> tuple[str, ...]:
        """The names of all its images; none where it is drawn from parts."""
        return (self.image, *self.images) if self.cut_out is None else ()
