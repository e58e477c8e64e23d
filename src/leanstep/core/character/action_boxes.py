"""The boxes of a clip that hit, can be hit, or show how far a guard reaches: where they lie on each cel, and their edits.

A box is keyed on cels; between two keys its edges go evenly by the number of the cel, rounded to whole pixels, halves away from zero.
It lies about the foot as the frame is drawn, and is mirrored and turned with the cel.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping, Sequence

import msgspec

from leanstep.core.character.clips import ActionBox, BoxKey, BoxKind, Cel, Clip
from leanstep.core.character.edits import free_name

Rect = tuple[float, float, float, float]
"""Left, bottom, width and height, in pixels from the foot; up is positive."""


def rounded(value: float) -> float:
    """To the nearest whole number, halves away from zero."""
    return math.copysign(math.floor(abs(value) + 0.5), value) + 0.0


def rect_at(box: ActionBox, cel: int) -> Rect | None:
    """Where a box lies on a cel; None where it is not there."""
    for before, after in itertools.pairwise(box.keys):
        if before.cel < cel < after.cel:
            share = (cel - before.cel) / (after.cel - before.cel)
            edges = zip(_edges(_rect(before)), _edges(_rect(after)))
            left, bottom, right, top = (rounded(low + (high - low) * share) for low, high in edges)
            return left, bottom, max(1.0, right - left), max(1.0, top - bottom)
    return next((_rect(key) for key in box.keys if key.cel == cel), None)


def boxes_on(clip: Clip, cel: int) -> list[tuple[int, Rect]]:
    """The boxes that are there on a cel, by their place in the clip's list."""
    found = ((at, rect_at(one, cel)) for at, one in enumerate(clip.boxes))
    return [(at, rect) for at, rect in found if rect is not None]


def placed(rect: Rect, cel: Cel) -> Rect:
    """A box about the foot as a cel is shown: mirrored, then turned by quarters clockwise."""
    return _turned(_mirrored(rect) if cel.mirrored else rect, cel.turns)


def unplaced(rect: Rect, cel: Cel) -> Rect:
    """The box of a cel as it is drawn, from how it is shown."""
    back = _turned(rect, (4 - cel.turns) % 4)
    return _mirrored(back) if cel.mirrored else back


def with_box(clip: Clip, kind: BoxKind, cel: int, rect: Rect) -> Clip:
    """The clip with one more box, on one cel."""
    name = free_name(
        {"strike": "strike", "vulnerable": "body", "guard": "reach"}[kind], [one.name for one in clip.boxes]
    )
    made = ActionBox(name=name, kind=kind, keys=(BoxKey(cel=cel, box=rect),))
    return msgspec.structs.replace(clip, boxes=(*clip.boxes, made))


def keyed(clip: Clip, at: int, cel: int, rect: Rect) -> Clip:
    """The clip with a box that lies elsewhere on a cel."""
    keys = [key for key in clip.boxes[at].keys if key.cel != cel] + [BoxKey(cel=cel, box=rect)]
    return _with_keys(clip, at, keys)


def over_range(clip: Clip, at: int, cel: int, first: int, last: int) -> Clip:
    """The clip with a box that lies on the cels from ``first`` to ``last`` as it does on ``cel``, and on no others.

    Raises
    ------
    ValueError : the box is not there on the cel.
    """
    rect = rect_at(clip.boxes[at], cel)
    if rect is None:
        raise ValueError("the box is not there on this cel")
    return _with_keys(clip, at, [BoxKey(cel=one, box=rect) for one in sorted({first, last})])


def shortened(clip: Clip, at: int, first: int, last: int) -> Clip:
    """The clip with a box that lies on the cels from ``first`` to ``last``.

    What lies beyond is left out, and where it was not, it lies as on the nearest cel on which it was.
    """
    box = clip.boxes[at]
    begin, end = box.keys[0].cel, box.keys[-1].cel
    ends = {cel: rect_at(box, min(max(cel, begin), end)) for cel in (first, last)}
    keys = [key for key in box.keys if first < key.cel < last]
    return _with_keys(clip, at, keys + [BoxKey(cel=cel, box=rect) for cel, rect in ends.items() if rect is not None])


def unkeyed(clip: Clip, at: int, cel: int) -> Clip:
    """The clip without a box on a cel: its key goes; a box without keys goes."""
    keys = [key for key in clip.boxes[at].keys if key.cel != cel]
    return _with_keys(clip, at, keys) if keys else without(clip, at)


def without(clip: Clip, at: int) -> Clip:
    """The clip without a box."""
    return msgspec.structs.replace(clip, boxes=tuple(one for place, one in enumerate(clip.boxes) if place != at))


def followed(boxes: Sequence[ActionBox], origin: Sequence[int]) -> tuple[ActionBox, ...]:
    """Boxes when cels are others; ``origin`` says which old cel each one was (-1: none).

    A box lies on the cels on which it lay; one of which no cel is left goes.
    """
    made = []
    for box in boxes:
        keys = [
            BoxKey(cel=place, box=rect)
            for place, old in enumerate(origin)
            if old >= 0 and (rect := rect_at(box, old)) is not None and _matters(box, origin, place)
        ]
        if keys:
            made.append(msgspec.structs.replace(box, keys=tuple(keys)))
    return tuple(made)


def with_moved_feet(clip: Clip, sheet: str, moved: Mapping[int, tuple[float, float]]) -> Clip:
    """The clip with boxes that stay on the drawings while feet of a sheet's frames move, in pixels to the right and up."""

    def shifted(key: BoxKey) -> BoxKey:
        cel = clip.cels[key.cel] if key.cel < len(clip.cels) else None
        across, up = moved.get(cel.frame, (0.0, 0.0)) if cel is not None and clip.sheet_of(cel) == sheet else (0.0, 0.0)
        left, bottom, width, height = _rect(key)
        return msgspec.structs.replace(key, box=(left - across, bottom - up, width, height))

    boxes = tuple(msgspec.structs.replace(one, keys=tuple(map(shifted, one.keys))) for one in clip.boxes)
    return msgspec.structs.replace(clip, boxes=boxes) if boxes != clip.boxes else clip


def _matters(box: ActionBox, origin: Sequence[int], place: int) -> bool:
    """Whether a box needs a key on a cel: it had one on that cel, or what is beside it is not what was."""
    if any(key.cel == origin[place] for key in box.keys):
        return True
    before = origin[place - 1] if place else -1
    after = origin[place + 1] if place + 1 < len(origin) else -1
    return before != origin[place] - 1 or after != origin[place] + 1


def _with_keys(clip: Clip, at: int, keys: Sequence[BoxKey]) -> Clip:
    made = msgspec.structs.replace(clip.boxes[at], keys=tuple(sorted(keys, key=lambda key: key.cel)))
    return msgspec.structs.replace(
        clip, boxes=tuple(made if place == at else one for place, one in enumerate(clip.boxes))
    )


def _rect(key: BoxKey) -> Rect:
    left, bottom, width, height = key.box
    return left, bottom, width, height


def _edges(rect: Rect) -> Rect:
    left, bottom, width, height = rect
    return left, bottom, left + width, bottom + height


def _mirrored(rect: Rect) -> Rect:
    left, bottom, width, height = rect
    return -left - width, bottom, width, height


def _turned(rect: Rect, quarters: int) -> Rect:
    """A box turned clockwise about the foot."""
    for _ in range(quarters):
        left, bottom, width, height = rect
        rect = bottom, -left - width, height, width
    return rect
