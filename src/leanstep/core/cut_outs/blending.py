"""The figure between the samples of a blend space, where all that count are drawn from the same parts."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from leanstep.core.character.blends import BlendSpace
from leanstep.core.character.cut_outs import CutOut
from leanstep.core.character.document import Character
from leanstep.core.clips.timing import timing
from leanstep.core.cut_outs.loading import written
from leanstep.core.cut_outs.poses import Poses, mixed
from leanstep.core.cut_outs.skeleton import Skeleton, poses_at
from leanstep.core.errors import LeanStepError


@dataclass(frozen=True)
class Mixture:
    """Poses of the same parts, each with its weight (1 in all): how each is drawn, and how many ticks after its beginning.
    ``sheet`` is the one of the first, ``mirrored``: the figure is shown the other way round."""

    sheet: str
    cut_outs: tuple[CutOut, ...]
    ticks: tuple[float, ...]
    weights: tuple[float, ...]
    mirrored: bool = False

    def poses(self, bones: Skeleton) -> Poses:
        """How the parts are moved."""
        poses = [poses_at(bones, one, ticks) for one, ticks in zip(self.cut_outs, self.ticks, strict=True)]
        return mixed(poses, self.weights)


def mixture(character: Character, blend: BlendSpace, weights: Sequence[float], share: float) -> Mixture | None:
    """What a blend space mixes to by weights, one for each sample, after a share (0 to 1) of a lap; None where a sample that counts
    shows something else than frames drawn from the same parts, the same way round and not turned."""
    sheets = {sheet.name: sheet for sheet in character.sheets if sheet.cut_out is not None}
    if not sheets:
        return None
    clips = {clip.name: clip for clip in character.clips}
    found: list[tuple[str, CutOut, float, float, bool]] = []
    for sample, weight in zip(blend.samples, weights, strict=True):
        clip = clips.get(sample.clip)
        if not weight > 0.0:
            continue
        if clip is None or not clip.cels:
            return None
        made = timing(clip)
        at = made.cel_at(int((share + sample.phase) % 1.0 * made.length))
        cel = clip.cels[at or 0]
        sheet = sheets.get(clip.sheet_of(cel))
        if sheet is None or sheet.cut_out is None or cel.turns:
            return None
        try:
            cut_out = written(sheet, character.sheets)
        except LeanStepError:
            return None
        found.append((sheet.name, cut_out, float(cel.frame * cut_out.every), weight, cel.mirrored ^ sample.mirrored))
    if not found or len({(one.of, one.pictures, mirrored) for _, one, _, _, mirrored in found}) > 1:
        return None
    names, cut_outs, ticks, shares, ways = zip(*found, strict=True)
    return Mixture(names[0], cut_outs, ticks, shares, ways[0])
