"""How the frames that are drawn from parts move each of them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path

from leanstep.core.character.cut_outs import CutOut
from leanstep.core.character.sheets import Sheet
from leanstep.core.cut_outs.loading import skeleton_of, written
from leanstep.core.cut_outs.poses import RESTING, Pose
from leanstep.core.cut_outs.skeleton import Skeleton, poses_at
from leanstep.core.sheets.images import load_sheet


@dataclass(frozen=True)
class FramePoses:
    """The frames of a sheet: ``figure`` are the sheets that have the parts and their pictures, ``parts`` their names, parents first,
    and ``poses`` has for each frame a pose of each part."""

    figure: tuple[str, str]
    parts: tuple[str, ...]
    poses: tuple[tuple[Pose, ...], ...]


PosesBySheet = Mapping[str, FramePoses]
"""By the names of the sheets that are drawn from parts."""


def frame_poses(cut_out: CutOut, bones: Skeleton) -> FramePoses:
    """The frames of a cut-out, as it was :func:`~leanstep.core.cut_outs.loading.written`."""
    names = tuple(part.name for part in bones.parts)
    found = (poses_at(bones, cut_out, number * cut_out.every) for number in range(cut_out.count))
    poses = tuple(tuple(each.get(name, RESTING) for name in names) for each in found)
    return FramePoses((cut_out.of, cut_out.pictures), names, poses)


def frame_poses_of(sheets: Sequence[Sheet], folder: Path) -> dict[str, FramePoses]:
    """The frames of all sheets that are drawn from parts, of a character whose images lie below ``folder``.

    Raises
    ------
    LeanStepError : an image is missing or unreadable, or the parts cannot be put together.
    Uncut : an image is of another size than its sheet says, or cannot be cut so.
    """
    by_name, bones, found = {one.name: one for one in sheets}, dict[str, Skeleton](), {}
    for sheet in sheets:
        if sheet.cut_out is not None:
            cut_out = written(sheet, sheets)
            if cut_out.of not in bones:
                bones[cut_out.of] = skeleton_of(load_sheet(by_name[cut_out.of], folder))
            found[sheet.name] = frame_poses(cut_out, bones[cut_out.of])
    return found
