"""How the parts of a figure are moved on a tick, where what is seen is drawn from parts: mixed where a blend space can mix."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from leanstep.core.blends.mixing import weights
from leanstep.core.character.clips import Cel
from leanstep.core.cut_outs.poses import RESTING, Pose, mixed
from leanstep.core.graph.clip_tables import Picture
from leanstep.core.graph.costumes import wardrobe
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.drawable import seen, turned
from leanstep.core.rehearsal.situation import Situation

if TYPE_CHECKING:
    from leanstep.core.cut_outs.frame_poses import FramePoses, PosesBySheet


def part_poses(machine: Machine, poses: PosesBySheet, situation: Situation) -> Iterator[tuple[int, str, Pose]]:
    """The poses of the parts of each layer that is seen, from the back to the front and parents first: layer, part and pose."""
    for one in seen(machine, situation):
        own = poses.get(one.piece.sheet)
        if one.leaving or own is None or one.piece.frame >= len(own.poses):
            continue
        rows = dict(zip(own.parts, own.poses[one.piece.frame]))
        mix = _mix(machine, poses, situation, one.layer, own)
        for part, pose in rows.items():
            yield one.layer, part, pose if mix is None else mix.get(part, RESTING)


def _mix(
    machine: Machine, poses: PosesBySheet, situation: Situation, layer: int, own: FramePoses
) -> dict[str, Pose] | None:
    """What a layer's blend space mixes to: every sample that counts shows the cel it would show if it were picked now.  None where one
    shows something else than a frame drawn from the same parts as what is picked, the same way round and not turned."""
    picture, pick = machine.pictures[layer][situation.states[layer]], situation.picks[layer]
    if picture is None or picture.space is None:
        return None
    values, head = situation.values, situation.playheads[layer]
    shown = _cel(picture, pick, head, situation)
    if shown is None or shown.turns:
        return None
    mirrored = turned(machine, situation, picture, pick, shown).mirrored
    costume = wardrobe(machine).worn(values, layer, situation.states[layer])
    found, shares = [], []
    for number, share in enumerate(weights(picture.space, picture.read(values))):
        if not share > 0.0:
            continue
        sample = picture.each * (pick // picture.each) + number
        cel = _cel(picture, sample, head if sample == pick else picture.taken_over(head, pick, sample), situation)
        if cel is None or cel.turns or turned(machine, situation, picture, sample, cel).mirrored != mirrored:
            return None
        bare = picture.reels[sample].clip.sheet_of(cel)
        sheet, frame = wardrobe(machine).shown(costume, bare, cel.frame)
        other = poses.get(sheet)
        if other is None or other.figure != own.figure or frame >= len(other.poses):
            return None
        found.append(dict(zip(other.parts, other.poses[frame])))
        shares.append(share)
    return mixed(found, shares)


def _cel(picture: Picture, sample: int, playhead: int, situation: Situation) -> Cel | None:
    """The cel a sample of what a state shows is at."""
    reel = picture.reels[sample]
    number = reel.number_shown(playhead, situation.values)
    return None if number is None else reel.cel(number)
