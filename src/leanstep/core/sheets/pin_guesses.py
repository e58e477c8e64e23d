"""Where the pin point of a clip may lie on other cels: followed by what is drawn about it, and offered."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.pin_edits import Spot, as_drawn, as_shown, spot_at
from leanstep.core.sheets.background import Pixels
from leanstep.core.sheets.following import Place, follow, likeness
from leanstep.core.sheets.images import CutSheet


@dataclass(frozen=True)
class Guess:
    """Where a pin point may lie on a cel, and how ``sure`` that is, from 0 to 1."""

    cel: int
    spot: Spot
    sure: float


def guesses(clip: Clip, at: int, cels: Sequence[int], sheets: Mapping[str, CutSheet]) -> list[Guess]:
    """Where pin point ``at`` of a clip may lie on the cels behind the first of these, which are looked at one after another; only as
    far as it can be followed.  Its angle stays what it is on the first, as the cels are shown."""
    pin, seen = clip.pins[at], [_as_shown(clip, clip.cels[cel], sheets) for cel in cels]
    known = [one for one in seen if one is not None]
    if len(known) < len(seen) or len(known) < 2:
        return []
    first = spot_at(pin, cels[0])
    begun = as_shown(first, clip.cels[cels[0]])
    pictures, feet = [picture for picture, _ in known], [foot for _, foot in known]
    found = follow(pictures, feet, (feet[0][0] + begun.x, feet[0][1] - begun.y))
    made = []
    for cel, foot, one in zip(cels[1:], feet[1:], found):
        if one is None:
            break
        spot = replace(begun, x=round(one.x - foot[0], 3), y=round(foot[1] - one.y, 3))
        made.append(Guess(cel, replace(as_drawn(spot, clip.cels[cel]), behind=spot_at(pin, cel).behind), one.sure))
    return made


def likeness_of(clip: Clip, one: int, spot: Spot, other: int, there: Spot, sheets: Mapping[str, CutSheet]) -> float:
    """How alike what is drawn about a spot on one cel and about another one on another cel is, from 0 to 1."""
    first, second = (_as_shown(clip, clip.cels[cel], sheets) for cel in (one, other))
    if first is None or second is None:
        return 0.0
    places = []
    for (_, foot), cel, where in ((first, one, spot), (second, other, there)):
        shown = as_shown(where, clip.cels[cel])
        places.append((foot[0] + shown.x, foot[1] - shown.y))
    return likeness(first[0], places[0], second[0], places[1])


def _as_shown(clip: Clip, cel: Cel, sheets: Mapping[str, CutSheet]) -> tuple[Pixels, Place] | None:
    """The picture of a cel, mirrored and turned as it is, with its foot; None where it has none."""
    sheet = sheets.get(clip.sheet_of(cel))
    if sheet is None or not 0 <= cel.frame < len(sheet.frames):
        return None
    picture, (x, y) = sheet.picture(cel.frame), sheet.frames[cel.frame].foot
    if cel.mirrored:
        picture, x = picture[:, ::-1], picture.shape[1] - 1 - x
    for _ in range(cel.turns):
        picture, x, y = np.rot90(picture, -1), picture.shape[0] - 1 - y, x
    return picture, (x, y)
