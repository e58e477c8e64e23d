"""Where the pin points of a clip lie on each cel, and their edits.

Between two keys a pin point goes evenly by the number of the cel, its angle by the shorter way; before the first key it lies as on
that, and after the last as on the last.
"""

from __future__ import annotations

import itertools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import msgspec

from leanstep.core.bearings import across, along, bearing_of, reduced, turn
from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.document import Character
from leanstep.core.character.edits import free_name
from leanstep.core.character.pins import AHEAD, Pin, PinKey


@dataclass(frozen=True)
class Spot:
    """Where a pin point lies: to the right of a foot and above it, in pixels, and where it points, as a bearing; ``behind``: what is
    pinned there is drawn behind the figure."""

    x: float
    y: float
    angle: float = AHEAD
    behind: bool = False


def spot_at(pin: Pin, cel: int) -> Spot:
    """Where a pin point lies on a cel, as it is drawn.

    Raises
    ------
    ValueError : it has no keys.
    """
    if not pin.keys:
        raise ValueError(f"pin point {pin.name!r} has no keys")
    for before, after in itertools.pairwise(pin.keys):
        if before.cel <= cel < after.cel:
            share = (cel - before.cel) / (after.cel - before.cel)
            return Spot(
                before.x + (after.x - before.x) * share,
                before.y + (after.y - before.y) * share,
                reduced(before.angle + turn(before.angle, after.angle) * share),
                before.behind,
            )
    key = pin.keys[0] if cel < pin.keys[0].cel else pin.keys[-1]
    return Spot(key.x, key.y, key.angle, key.behind)


def spots_on(clip: Clip, cel: int) -> list[tuple[str, Spot]]:
    """The pin points of a clip on a cel, each name once, in their order."""
    found = {pin.name: spot_at(pin, cel) for pin in reversed(clip.pins) if pin.keys}
    return [(pin.name, found.pop(pin.name)) for pin in clip.pins if pin.name in found]


def carried(spot: Spot, mirrored: bool, turns: int, scale: tuple[float, float] = (1.0, 1.0), tilt: float = 0.0) -> Spot:
    """Where a pin point of a picture comes to lie, in pixels from its foot, and where it points: mirrored, then turned by quarters
    clockwise, made so many times as wide and high, and tilted."""
    x, y, angle = spot.x, spot.y, spot.angle
    if mirrored:
        x, angle = 0.0 - x, reduced(360.0 - angle)
    for _ in range(turns):
        x, y, angle = y, 0.0 - x, reduced(angle + 90.0)
    wide, high = scale
    if wide != high:
        angle = bearing_of(across(angle) * wide, along(angle) * high)
    x, y = x * wide, y * high
    if tilt != 0.0:
        bearing = reduced(tilt)
        right, up = across(bearing), along(bearing)
        x, y = x * up + y * right, y * up - x * right
        angle = reduced(angle + tilt)
    return replace(spot, x=x, y=y, angle=angle)


def as_shown(spot: Spot, cel: Cel) -> Spot:
    """Where a pin point lies as its cel is shown."""
    return carried(spot, cel.mirrored, cel.turns)


def as_drawn(spot: Spot, cel: Cel) -> Spot:
    """Where a pin point lies as its cel is drawn, from how it is shown."""
    back = carried(spot, False, (4 - cel.turns) % 4)
    return carried(back, cel.mirrored, 0)


def with_pin(clip: Clip, cel: int, spot: Spot, name: str = "") -> Clip:
    """The clip with one more pin point, keyed on one cel."""
    taken = [one.name for one in clip.pins]
    made = Pin(name=name or free_name("pin", taken), keys=(_key(cel, spot),))
    return msgspec.structs.replace(clip, pins=(*clip.pins, made))


def keyed(clip: Clip, at: int, cel: int, spot: Spot) -> Clip:
    """The clip with a pin point that lies elsewhere on a cel, or points elsewhere."""
    return with_spots(clip, at, {cel: spot})


def with_spots(clip: Clip, at: int, spots: Mapping[int, Spot]) -> Clip:
    """The clip with a pin point that lies so on some cels."""
    keys = [key for key in clip.pins[at].keys if key.cel not in spots]
    return _with_keys(clip, at, [*keys, *(_key(cel, spot) for cel, spot in spots.items())])


def as_before(clip: Clip, at: int, cel: int) -> Clip:
    """The clip with a pin point that lies on a cel as on the one before, which is the last one's for the first."""
    count = len(clip.cels)
    return keyed(clip, at, cel, spot_at(clip.pins[at], (cel - 1) % count if count else 0))


def even_between(clip: Clip, at: int, first: int, last: int) -> Clip:
    """The clip with a pin point that goes evenly from one cel to another: both are keyed, and none between them."""
    pin = clip.pins[at]
    ends = {cel: spot_at(pin, cel) for cel in (first, last)}
    keys = [key for key in pin.keys if not first <= key.cel <= last]
    return _with_keys(clip, at, [*keys, *(_key(cel, spot) for cel, spot in ends.items())])


def unkeyed(clip: Clip, at: int, cel: int) -> Clip:
    """The clip without a pin point's key on a cel; a pin point without keys goes."""
    keys = [key for key in clip.pins[at].keys if key.cel != cel]
    return _with_keys(clip, at, keys) if keys else without(clip, at)


def without(clip: Clip, at: int) -> Clip:
    """The clip without a pin point; marks that named it name none."""
    name = clip.pins[at].name
    marks = tuple(msgspec.structs.replace(one, pin="") if one.pin == name else one for one in clip.marks)
    pins = tuple(one for place, one in enumerate(clip.pins) if place != at)
    return msgspec.structs.replace(clip, pins=pins, marks=marks if marks != clip.marks else clip.marks)


def called(clip: Clip, at: int, name: str) -> Clip:
    """The clip with a pin point of another name, followed by the marks of the clip that name it."""
    old = clip.pins[at].name
    marks = tuple(msgspec.structs.replace(one, pin=name) if one.pin == old else one for one in clip.marks)
    pins = tuple(msgspec.structs.replace(one, name=name) if place == at else one for place, one in enumerate(clip.pins))
    return msgspec.structs.replace(clip, pins=pins, marks=marks)


def joined(character: Character, clip: int, at: int, name: str) -> Character:
    """The character in which a pin point of a clip is called as one of another clip; accessories follow it where no other clip has one
    of the old name."""
    old = character.clips[clip].pins[at].name
    made = called(character.clips[clip], at, name)
    clips = tuple(made if place == clip else one for place, one in enumerate(character.clips))
    if any(pin.name == old for one in clips for pin in one.pins):
        return msgspec.structs.replace(character, clips=clips)
    moved = (msgspec.structs.replace(one, pin=name) if one.pin == old else one for one in character.accessories)
    return msgspec.structs.replace(character, clips=clips, accessories=tuple(moved))


def followed(pins: Sequence[Pin], origin: Sequence[int]) -> tuple[Pin, ...]:
    """Pin points when cels are others; ``origin`` says which old cel each one was (-1: none).  On what was there they lie as they
    lay; one none of whose cels is left goes."""
    made = []
    for pin in pins:
        spots = {place: spot_at(pin, old) for place, old in enumerate(origin) if old >= 0 and pin.keys}
        kept = {place for place in spots if any(key.cel == origin[place] for key in pin.keys)}
        breaks = {
            place
            for place in spots
            if (place and origin[place - 1] != origin[place] - 1)
            or (place + 1 < len(origin) and origin[place + 1] != origin[place] + 1)
        }
        needed = kept | breaks or set(list(spots)[:1])
        if needed:
            keys = tuple(_key(place, spots[place]) for place in sorted(needed))
            made.append(msgspec.structs.replace(pin, keys=_plainest(keys)))
    return tuple(made)


def _plainest(keys: Sequence[PinKey]) -> tuple[PinKey, ...]:
    """Keys without those that say nothing: in the middle of others that are the same."""
    found = list(keys)
    for at in range(len(found) - 2, 0, -1):
        if _same(found[at - 1], found[at]) and _same(found[at], found[at + 1]):
            del found[at]
    while len(found) > 1 and _same(found[0], found[1]):
        del found[0]
    while len(found) > 1 and _same(found[-1], found[-2]):
        del found[-1]
    return tuple(found)


def _same(one: PinKey, other: PinKey) -> bool:
    return (one.x, one.y, one.angle, one.behind) == (other.x, other.y, other.angle, other.behind)


def with_moved_feet(clip: Clip, sheet: str, moved: Mapping[int, tuple[float, float]]) -> Clip:
    """The clip with pin points that stay on the drawings while feet of a sheet's frames move, in pixels to the right and up."""
    by = {
        at: moved[cel.frame]
        for at, cel in enumerate(clip.cels)
        if clip.sheet_of(cel) == sheet and cel.frame in moved and any(moved[cel.frame])
    }
    if not by:
        return clip
    made = clip
    for at, pin in enumerate(clip.pins):
        if not pin.keys:
            continue
        # where feet move from cel to cel, what goes evenly between two keys is keyed on each
        spots = {cel: spot_at(pin, cel) for cel in range(len(clip.cels))}
        shifted = {
            cel: replace(spot, x=spot.x - by[cel][0], y=spot.y - by[cel][1]) if cel in by else spot
            for cel, spot in spots.items()
        }
        needed = {key.cel for key in pin.keys} & set(spots)
        if len({by.get(cel, (0.0, 0.0)) for cel in spots}) > 1:
            needed = set(spots)
        made = with_spots(made, at, {cel: shifted[cel] for cel in sorted(needed)})
    return made


def _key(cel: int, spot: Spot) -> PinKey:
    return PinKey(cel=cel, x=spot.x, y=spot.y, angle=reduced(spot.angle), behind=spot.behind)


def _with_keys(clip: Clip, at: int, keys: Sequence[PinKey]) -> Clip:
    made = msgspec.structs.replace(clip.pins[at], keys=tuple(sorted(keys, key=lambda key: key.cel)))
    return msgspec.structs.replace(
        clip, pins=tuple(made if place == at else one for place, one in enumerate(clip.pins))
    )
