"""Edits of parts, and of the keys that move them."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import get_args

import msgspec

from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.cut_outs import Bend, CutOut, CutOutPart, PartKey, Reach, ReachKey, Track
from leanstep.core.character.document import Character
from leanstep.core.character.edits import append, change, free_name, put
from leanstep.core.character.sheets import Sheet
from leanstep.core.clips.events import with_cels
from leanstep.core.cut_outs.part_pictures import PartPicture
from leanstep.core.cut_outs.poses import RESTING, Pose, keyed
from leanstep.core.cut_outs.skeleton import Skeleton, placed, poses_at, reaching

EVERY = 4
"""Ticks that a frame lasts of what is new."""
SIDES = (("left", "right"), ("near", "far"), ("front", "back"), ("fore", "hind"), ("l", "r"))
"""Words by which the names of two parts are told apart that do the same in turn."""


# --- parts


def with_part(sheet: Sheet, frame: int, outline: Sequence[tuple[float, float]] = ()) -> Sheet:
    """The sheet with one more part: a frame, or what lies within an outline on it, which turns about its middle until it is said
    otherwise.  What is drawn around hangs on the part that the rest of the frame is, which goes on under it; where there is none yet,
    the rest becomes a part, too."""
    made = sheet
    if outline:
        rest = next((part for part in sheet.parts if part.frame == frame and not part.outline), None)
        if rest is None:
            rest = CutOutPart(name=_free(sheet, "body"), frame=frame)
            made = msgspec.structs.replace(sheet, parts=(*sheet.parts, rest))
        across, down = [x for x, _ in outline], [y for _, y in outline]
        joint = (round((min(across) + max(across)) / 2), round((min(down) + max(down)) / 2))
        part = CutOutPart(
            name=_free(made, "part"),
            frame=frame,
            outline=tuple(outline),
            joint=joint,
            parent=rest.name,
            behind=rest.name,
            order=1,
        )
    else:
        root = sheet.parts[0].name if sheet.parts else ""
        part = CutOutPart(name=_free(sheet, "part"), frame=frame, parent=root)
    return msgspec.structs.replace(made, parts=(*made.parts, part))


def _free(sheet: Sheet, wanted: str) -> str:
    return free_name(wanted, [part.name for part in sheet.parts])


def with_joint(sheet: Sheet, at: int, joint: tuple[float, float]) -> Sheet:
    """The sheet with a part that turns about another point of its frame.  Where its joint lies in its parent moves along, so that it
    rests where it rested."""
    part = sheet.parts[at]
    if part.at:
        was = part.joint or joint
        moved = (part.at[0] + joint[0] - was[0], part.at[1] + joint[1] - was[1])
        return _with(sheet, at, msgspec.structs.replace(part, joint=joint, at=moved))
    return _with(sheet, at, msgspec.structs.replace(part, joint=joint))


def _with(sheet: Sheet, at: int, part: CutOutPart) -> Sheet:
    return msgspec.structs.replace(sheet, parts=(*sheet.parts[:at], part, *sheet.parts[at + 1 :]))


# --- what moves them


def moving(document: Character, sheet: str) -> tuple[Character, str]:
    """The document with a sheet that is drawn from the parts of another one, and a clip that shows it; with the name of the clip."""
    name = free_name(f"{sheet} moves", [one.name for one in document.sheets])
    cut_out = CutOut(of=sheet, every=EVERY)
    clip_name = free_name(name, [one.name for one in document.clips])
    rig = next((one for one in document.sheets if one.name == sheet), None)
    made = Sheet(name=name, cut_out=cut_out)
    if rig is not None:
        made = msgspec.structs.replace(made, scale=rig.scale, facing=rig.facing, mirrors=rig.mirrors)
    clip = Clip(name=clip_name, sheet=name, cels=cels_of(cut_out))
    with_both: Character = append(append(document, ("sheets",), made), ("clips",), clip)
    return with_both, clip_name


def cels_of(cut_out: CutOut) -> tuple[Cel, ...]:
    """The cels of a clip that shows all frames of a cut-out, each as long as it lasts."""
    lengths = [min(cut_out.every, cut_out.ticks - at) for at in range(0, cut_out.ticks, cut_out.every)]
    return tuple(Cel(frame=number, ticks=float(ticks)) for number, ticks in enumerate(lengths))


def with_cut_out(document: Character, at: int, cut_out: CutOut) -> Character:
    """The document with sheet number ``at`` drawn otherwise.  Clips that show it from the first frame to the last as long as each
    lasts go on to do so."""
    sheet = document.sheets[at]
    old = sheet.cut_out
    made: Character = change(document, ("sheets", at), cut_out=cut_out)
    if old is None or cels_of(old) == cels_of(cut_out):
        return made
    alike = {sheet.name, *(one.name for one in document.sheets if one.cut_out and one.cut_out.like == sheet.name)}
    for number, clip in enumerate(document.clips):
        if clip.sheet in alike and clip.cels == cels_of(old):
            cels = cels_of(cut_out)
            # what is longer has its last cels anew
            origin = [at if at < len(clip.cels) else -1 for at in range(len(cels))]
            made = put(made, ("clips", number), with_cels(clip, cels, origin))
    return made


def track_of(cut_out: CutOut, part: str) -> Track:
    """The keys of a part; none where it does not move."""
    return next((one for one in cut_out.tracks if one.part == part), Track(part=part))


def pose_of(cut_out: CutOut, part: str, ticks: float) -> Pose:
    """How a part is moved by its keys so many ticks after the beginning."""
    return keyed(cut_out, ticks).get(part, RESTING)


def with_key(cut_out: CutOut, part: str, key: PartKey) -> CutOut:
    """The cut-out with a key of a part, in place of the one at the same tick."""
    keys = [one for one in track_of(cut_out, part).keys if one.at != key.at]
    return with_keys(cut_out, part, [*keys, key])


def posed(cut_out: CutOut, part: str, ticks: float, pose: Pose) -> CutOut:
    """The cut-out in which a part is so at a tick; its first key at a later tick leaves it resting at the beginning."""
    there = next((one for one in track_of(cut_out, part).keys if one.at == ticks), None)
    ease = there.ease if there is not None else "both"
    key = PartKey(at=ticks, x=pose.x, y=pose.y, turn=pose.turn, wide=pose.wide, high=pose.high, ease=ease)
    if not track_of(cut_out, part).keys and ticks > 0:
        cut_out = with_key(cut_out, part, PartKey(ease="both"))
    return with_key(cut_out, part, key)


def without_key(cut_out: CutOut, part: str, ticks: float) -> CutOut:
    """The cut-out without a part's keys at a tick, neither of its pose nor of what it reaches for; it reaches no more without keys."""
    made = with_keys(cut_out, part, [one for one in track_of(cut_out, part).keys if one.at != ticks])
    reach = reach_of(made, part)
    if reach is None:
        return made
    keys = tuple(one for one in reach.keys if one.at != ticks)
    return with_reach(made, part, msgspec.structs.replace(reach, keys=keys) if keys else None)


def with_keys(cut_out: CutOut, part: str, keys: Sequence[PartKey]) -> CutOut:
    """The cut-out with other keys of a part; none of them: it does not move."""
    track = Track(part=part, keys=tuple(sorted(keys, key=lambda one: one.at)))
    there = any(one.part == part for one in cut_out.tracks)
    tracks = tuple(track if one.part == part else one for one in cut_out.tracks)
    tracks = tracks if there else (*tracks, track)
    return msgspec.structs.replace(cut_out, tracks=tuple(one for one in tracks if one.keys))


def retimed(cut_out: CutOut, part: str, old: float, new: float) -> CutOut:
    """The cut-out in which a part's keys of a tick lie at another one; what lies there already goes."""
    keys = track_of(cut_out, part).keys
    moved = [msgspec.structs.replace(one, at=new) for one in keys if one.at == old]
    if moved:
        cut_out = with_keys(cut_out, part, [*(one for one in keys if one.at not in (old, new)), *moved])
    reach = reach_of(cut_out, part)
    key = next((one for one in reach.keys if one.at == old), None) if reach is not None else None
    if reach is None or key is None:
        return cut_out
    kept = msgspec.structs.replace(reach, keys=tuple(one for one in reach.keys if one.at != old))
    return target_at(with_reach(cut_out, part, kept), part, msgspec.structs.replace(key, at=new))


# --- the other half


def partner(name: str, parts: Sequence[CutOutPart]) -> str:
    """The part that does the same in turn, by its name: ``left wing`` for ``right wing``; empty where there is none."""
    names = {part.name for part in parts}
    for pair in SIDES:
        for one, other in (pair, pair[::-1]):
            found = re.sub(rf"(?<![^\W_]){one}(?![^\W_])", other, name, count=1, flags=re.IGNORECASE)
            if found != name and found in names:
                return found
    return ""


def seen_from_ahead(name: str, other: str) -> bool:
    """Whether the names of two parts tell left from right: what the one does to the left, the other does to the right."""
    words = [set(re.split(r"[\W_]+", one.lower())) for one in (name, other)]
    return any({one, two} <= words[0] ^ words[1] for one, two in (("left", "right"), ("l", "r")))


def other_half(cut_out: CutOut, part: str, other: str, mirrored: bool = False) -> CutOut:
    """The cut-out in which one part does what another does half the length later; ``mirrored``: turned and moved the other way."""
    half, length = cut_out.ticks / 2, cut_out.ticks
    sign = -1.0 if mirrored else 1.0
    keys = {
        (key.at + half) % length: msgspec.structs.replace(
            key, at=(key.at + half) % length, turn=0.0 + sign * key.turn, x=0.0 + sign * key.x
        )
        for key in track_of(cut_out, part).keys
    }
    return with_keys(cut_out, other, list(keys.values()))


# --- what is reached for


def far_end(bones: Skeleton, pictures: Sequence[PartPicture], at: int) -> tuple[float, float]:
    """The middle of the side of a part's picture that is farthest from its joint, on its frame: the end of a shin."""
    picture, (x, y) = pictures[at], bones.joints[at]
    height, width = picture.pixels.shape[:2]
    left, top, right, low = picture.x, picture.y, picture.x + width, picture.y + height
    across, down = (left + right) / 2, (top + low) / 2
    sides = ((across, float(low)), (across, float(top)), (float(right), down), (float(left), down))
    return max(sides, key=lambda one: (one[0] - x) ** 2 + (one[1] - y) ** 2)


def reaching_for(bones: Skeleton, cut_out: CutOut, part: str, tip: tuple[float, float], ticks: float) -> CutOut:
    """The cut-out in which a part and its parent reach, from the beginning on, for where the tip of the part is at a tick, bent as
    they are then."""
    poses = poses_at(bones, cut_out, ticks)
    at = bones.number(part)
    lying = placed(bones, poses)[at]
    x, y = lying.carried(tip[0] - bones.joints[at][0], bones.joints[at][1] - tip[1])
    key = ReachKey(x=round(x, 2), y=round(y, 2))

    def off(reach: Reach) -> float:
        """How far the joint of the part comes to lie from where it is."""
        made = placed(bones, poses | reaching(bones, poses, reach, (key.x, key.y)))[at]
        return (made.x - lying.x) ** 2 + (made.y - lying.y) ** 2

    reach = min((Reach(part=part, tip=tip, bend=bend, keys=(key,)) for bend in get_args(Bend)), key=off)
    others = tuple(one for one in cut_out.reaches if one.part != part)
    return msgspec.structs.replace(cut_out, reaches=(*others, reach))


def reach_of(cut_out: CutOut, part: str) -> Reach | None:
    """What a part reaches for."""
    return next((one for one in cut_out.reaches if one.part == part), None)


def with_reach(cut_out: CutOut, part: str, reach: Reach | None) -> CutOut:
    """The cut-out in which a part reaches otherwise, or (None) no more."""
    changed = ((reach if one.part == part else one) for one in cut_out.reaches)
    return msgspec.structs.replace(cut_out, reaches=tuple(one for one in changed if one is not None))


def target_at(cut_out: CutOut, part: str, key: ReachKey) -> CutOut:
    """The cut-out in which a part reaches for a place at a tick, in place of the key that lies there."""
    reach = reach_of(cut_out, part)
    if reach is None:
        return cut_out
    keys = sorted([*(one for one in reach.keys if one.at != key.at), key], key=lambda one: one.at)
    return with_reach(cut_out, part, msgspec.structs.replace(reach, keys=tuple(keys)))
