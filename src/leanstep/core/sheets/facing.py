"""Which way drawings look."""

from __future__ import annotations

from dataclasses import dataclass

from leanstep.core.character.clips import Clip
from leanstep.core.character.document import Character
from leanstep.core.character.sheets import Sheet
from leanstep.core.errors import LeanStepError
from leanstep.core.sheets.cutting import rectangles
from leanstep.core.sheets.drawings import boxes_of, rows_of


def facing_of_frames(sheet: Sheet) -> dict[int, str]:
    """The facing of frames in rows that have one of their own, by the frames' numbers; none while the sheet cannot be cut."""
    if not sheet.row_facing or not sheet.size:
        return {}
    try:
        rows = rows_of(boxes_of(rectangles(sheet.cut, sheet.size[0], sheet.size[1])))
    except LeanStepError:
        return {}
    told = {int(row): facing for row, facing in sheet.row_facing.items()}
    return {frame: told[row] for row, frames in enumerate(rows) if row in told for frame in frames}


@dataclass(frozen=True)
class View:
    """Which way the drawings of a sheet look: ``side``, or that of single ``rows``, of which each frame's is given; whether it
    ``mirrors``."""

    side: str
    mirrors: bool
    rows: dict[int, str]

    def facing(self, clip: Clip, frame: int) -> str:
        """Which way a frame looks in a clip."""
        return clip.facing or self.rows.get(frame, self.side)


def views_of(character: Character) -> dict[str, View]:
    """Which way the drawings of each sheet look, by its name."""
    return {sheet.name: View(sheet.facing, sheet.mirrors, facing_of_frames(sheet)) for sheet in character.sheets}
