"""Which way the drawings of single rows look."""

from __future__ import annotations

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
