"""The document's part about pin points: named spots with an angle on the cels of clips, and what is pinned to them."""

from __future__ import annotations

from typing import Annotated, Literal

from leanstep.core.character.annotations import Condition, Defines, Names, Within
from leanstep.core.character.part import Part, Valued

FARTHEST = 100_000.0
"""Pixels that a pin point may lie from the foot."""
AHEAD = 90.0
"""The bearing of what points where a figure looks that is drawn facing right."""
Bearing = Annotated[float, Within(0, 360, "degrees", open_high=True)]
Offset = Annotated[float, Within(-FARTHEST, FARTHEST, "pixels")]


class PinKey(Valued, frozen=True, kw_only=True):
    """Where a pin point lies on a cel, and where it points."""

    cel: Annotated[int, Within(0), "the cel, counted from 0"] = 0
    x: Annotated[Offset, "to the right of the frame's foot, as it is drawn"] = 0.0
    y: Annotated[Offset, "above it"] = 0.0
    angle: Annotated[Bearing, "a bearing: 0 is up, 90 to the right, as it is drawn"] = AHEAD
    behind: Annotated[bool, "what is pinned there is drawn behind the figure, from this cel to the next key"] = False


class Pin(Valued, frozen=True, kw_only=True):
    """A named spot of a clip with an angle.

    Between two keys it goes evenly from cel to cel, its angle by the shorter way; before the first it lies as there, and after the
    last one, too.
    """

    name: Annotated[str, Defines("pin"), "how marks and accessories name it; one of a name in a clip"]
    keys: Annotated[tuple[PinKey, ...], "in the order of cels"] = ()


class Accessory(Part, frozen=True, kw_only=True):
    """A picture or a clip that is pinned to a pin point wherever a clip has it: it lies there with its foot, is turned, mirrored and
    squashed with the figure, and decides nothing."""

    name: Annotated[str, Defines("accessory"), "what it is called"]
    pin: Annotated[str, Names("pin", "stays"), "the pin point it is pinned to"] = ""
    sheet: Annotated[str, Names("sheet", "stays"), "of its picture"] = ""
    frame: Annotated[int, Within(0), "the frame of the sheet that is shown"] = 0
    clip: Annotated[
        str, Names("clip"), "a clip that is shown instead; it begins anew with each state, at its written speed"
    ] = ""
    angle: Annotated[Bearing, "where its drawing points, which is laid along the pin point"] = AHEAD
    order: Annotated[
        Literal["pin", "before", "behind"], "before the figure, behind it, or as the pin point says on each cel"
    ] = "pin"
    shown: Annotated[
        str, Condition(), "a condition over parameters and states, asked when all is done on a tick; left out: always"
    ] = ""
