"""The rows of a table about figures that are drawn from parts: how frames move them, and how blend spaces mix that."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from typing import TYPE_CHECKING, Any

from leanstep.core.blends.mixing import mesh_of
from leanstep.core.blends.space import Space
from leanstep.core.tick.columns import Columns
from leanstep.core.tick.programs import numbered

if TYPE_CHECKING:
    from leanstep.core.cut_outs.frame_poses import PosesBySheet

Range = tuple[int, int]
Put = Callable[[str, Iterable[Sequence[Any]]], Range]
"""Writes rows of a section; where they begin and end."""


class PoseRows:
    """Writes them down; ``words`` are the numbers of names."""

    def __init__(self, poses: PosesBySheet, put: Put, words: dict[str, int]) -> None:
        self.poses, self.put, self.words = poses, put, words
        self.mixed: dict[Space, tuple[Range, Range]] = {}
        self.figures: dict[tuple[str, str], int] = {}

    def mix(self, space: Space | None) -> tuple[Range, Range]:
        """The cells and edges of a blend space, where there are figures to mix."""
        if space is None or not self.poses or not space.places:
            return (0, 0), (0, 0)
        if space not in self.mixed:
            mesh = mesh_of(space)
            shares = [
                self.put("mix_shares", (Columns.MixShare(sample, share) for sample, share in some))
                for some in mesh.owners
            ]
            places = (Columns.MixPlace(*place, *rows) for place, rows in zip(mesh.places, shares, strict=True))
            first, _ = self.put("mix_places", places)
            cells = (Columns.MixCell(*(first + at for at in cell)) for cell in mesh.cells)
            edges = (Columns.MixEdge(*(first + at for at in edge)) for edge in mesh.edges)
            self.mixed[space] = self.put("mix_cells", cells), self.put("mix_edges", edges)
        return self.mixed[space]

    def posed(self, frames: Iterable[str]) -> list[Columns.Posed]:
        """The rows of those ``frames`` (by name, in the order of their numbers) that are drawn from parts."""
        found = []
        for number, name in enumerate(frames):
            sheet, _, frame = name.rpartition("/")
            own = self.poses.get(sheet)
            if own is not None and int(frame) < len(own.poses):
                rows = (
                    Columns.PartPose(numbered(self.words, part), one.x, one.y, one.turn, one.wide, one.high)
                    for part, one in zip(own.parts, own.poses[int(frame)], strict=True)
                )
                figure = self.figures.setdefault(own.figure, len(self.figures))
                found.append(Columns.Posed(number, figure, *self.put("poses", rows)))
        return found
