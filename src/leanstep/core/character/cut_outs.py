"""The document's part about cut-outs: the parts of a figure, and how they move in the frames that are drawn from them."""

from __future__ import annotations

from typing import Annotated, Literal

from leanstep.core.character.annotations import Defines, Names, Numbers, Within
from leanstep.core.character.instants import LATEST, Easing, Instant
from leanstep.core.character.part import Part, Valued

FARTHEST = 100_000.0
"""Pixels by which anything of a cut-out may be moved."""
MOST_TURNED = 36_000.0
"""Degrees by which a part may be turned: a hundred times round."""
MOST_TIMES = 64.0
"""Times as large as drawn that a part may be."""
MOST_PARTS = 256
"""Parts a sheet can have."""
MOST_DRAWN = 4_096
"""Frames that can be drawn from parts for one sheet."""
ON_FRAME = Numbers(2, "[x, y] in pixels from the top left corner of the frame", -FARTHEST, FARTHEST)
Moved = Annotated[float, Within(-FARTHEST, FARTHEST, "pixels")]
Turned = Annotated[float, Within(-MOST_TURNED, MOST_TURNED, "degrees")]
Times = Annotated[float, Within(0, MOST_TIMES, "times", open_low=True)]


class CutOutPart(Part, frozen=True, kw_only=True):
    """A piece of a cut-out figure: a picture that turns about its joint in another part.

    Its picture is a frame of the sheet it stands on, or what lies within an outline on that frame; a part without an outline has what
    no other part of the frame takes out of it.
    """

    name: Annotated[str, Defines("part"), "how cut-outs name it"]
    frame: Annotated[int, Within(0), "the frame of its sheet that its picture is cut from"] = 0
    outline: Annotated[tuple[tuple[float, ...], ...], ON_FRAME, "the corners of what is cut from it"] = ()
    behind: Annotated[
        str,
        Names("part"),
        "a part cut from the same frame that goes on under this one where it lies on two sides of it, in the colours it has there",
    ] = ""
    parent: Annotated[str, Names("part"), "the part it hangs on; left out, on nothing"] = ""
    joint: Annotated[tuple[float, ...], ON_FRAME, "where it turns, on its frame; left out, its frame's foot"] = ()
    at: Annotated[
        tuple[float, ...], ON_FRAME, "where its joint lies, on the frame of its parent; left out, as on its own frame"
    ] = ()
    turn: Annotated[Turned, "degrees clockwise by which it is turned before anything moves"] = 0.0
    order: Annotated[
        int, Within(-1000, 1000), "what is greater is more in front; of the same, what is listed later"
    ] = 0


class PartKey(Valued, frozen=True, kw_only=True):
    """How a part is moved, turned and scaled about its joint at an instant, in the space of its parent."""

    at: Annotated[Instant, "ticks from the beginning"] = 0.0
    x: Annotated[Moved, "pixels to the right"] = 0.0
    y: Annotated[Moved, "pixels up"] = 0.0
    turn: Annotated[Turned, "degrees clockwise"] = 0.0
    wide: Annotated[Times, "times as wide"] = 1.0
    high: Annotated[Times, "times as high"] = 1.0
    ease: Annotated[
        Easing, "how it is gone to from the key before: evenly, speeding up (`in`), slowing down (`out`) or both"
    ] = "even"


class Track(Part, frozen=True, kw_only=True):
    """The keys of one part."""

    part: Annotated[str, Names("part", "item"), "the part that moves"]
    keys: Annotated[tuple[PartKey, ...], "in the order of time"] = ()


class ReachKey(Valued, frozen=True, kw_only=True):
    """What is reached for at an instant."""

    at: Annotated[Instant, "ticks from the beginning"] = 0.0
    x: Annotated[Moved, "pixels to the right of the figure's foot"] = 0.0
    y: Annotated[Moved, "pixels above it"] = 0.0
    ease: Annotated[Easing, "how it is gone to from the key before"] = "even"


Bend = Literal["left", "right"]


class Reach(Part, frozen=True, kw_only=True):
    """A part and its parent, which turn so that the tip of the part comes to lie where it should, as far as they are long enough.

    While they reach, they are turned by no key of their own, and not scaled.
    """

    part: Annotated[str, Names("part", "item"), "the lower of the two, as a shin; its parent is the upper one"]
    tip: Annotated[tuple[float, ...], ON_FRAME, "its end, on its frame"] = ()
    bend: Annotated[Bend, "to which side of the line to the target the middle joint lies"] = "left"
    keys: Annotated[tuple[ReachKey, ...], "in the order of time"] = ()


class CutOut(Part, frozen=True, kw_only=True):
    """How the frames of a sheet without an image are drawn: the parts of another sheet, moved by keys."""

    of: Annotated[str, Names("sheet", "stays"), "the sheet that has the parts"] = ""
    like: Annotated[
        str, Names("sheet", "stays"), "a sheet that is drawn so, whose parts, times and keys are taken over"
    ] = ""
    pictures: Annotated[
        str, Names("sheet", "stays"), "a sheet cut alike, whose frames are the pictures of the parts instead"
    ] = ""
    ticks: Annotated[int, Within(1, LATEST, "ticks"), "how long it lasts"] = 60
    every: Annotated[int, Within(1, LATEST, "ticks"), "how long each of its frames lasts"] = 6
    repeats: Annotated[bool, "after the last key it goes on to the first"] = True
    smooth: Annotated[bool, "pixels are mixed where parts are turned, instead of being taken whole"] = False
    whole_pixels: Annotated[bool, "parts lie on whole pixels"] = False
    tracks: Annotated[tuple[Track, ...], "how parts move"] = ()
    reaches: Annotated[tuple[Reach, ...], "what parts reach for"] = ()

    @property
    def count(self) -> int:
        """How many frames it has."""
        return -(-self.ticks // self.every)
