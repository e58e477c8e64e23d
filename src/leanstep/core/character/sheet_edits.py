"""Edits of a sheet: what frames have of their own, how large they are shown, and which way they look.

``at`` is the number of the sheet in the document, frames and rows are numbered from 0.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from typing import Any

from msgspec.structs import replace

from leanstep.core.character.document import Character
from leanstep.core.character.edits import by_number, change
from leanstep.core.character.sheets import Scale, Sheet

AS_DRAWN = (1.0, 0.0, 1.0)
"""The size of frames that nothing is said of: once as large, to no height, as wide as high."""


def with_own(sheet: Sheet, field: str, told: Mapping[int, Any]) -> dict[str, Any]:
    """The ``feet`` or ``boxes`` of a sheet, those that are told among them, by number."""
    return by_number(getattr(sheet, field) | {str(number): one for number, one in told.items()})


def without_own(sheet: Sheet, field: str, frames: Collection[int]) -> dict[str, Any]:
    """The ``feet`` or ``boxes`` of a sheet without those of some frames."""
    return {number: one for number, one in getattr(sheet, field).items() if int(number) not in frames}


def with_boxes(document: Character, at: int, boxes: Mapping[int, tuple[float, ...]]) -> Character:
    """Frames have these body boxes of their own, in pixels."""
    return _changed(document, at, boxes=with_own(document.sheets[at], "boxes", boxes))


def without_boxes(document: Character, at: int, frames: Collection[int]) -> Character:
    """Frames have no body box of their own any more."""
    return _changed(document, at, boxes=without_own(document.sheets[at], "boxes", frames))


def with_scale(document: Character, at: int, **values: float | bool) -> Character:
    """Frames are shown at another size; nothing is said of it where that is as they are drawn."""
    scale = replace(document.sheets[at].scale or Scale(), **values)
    drawn = (scale.by, scale.height, scale.stretch) == AS_DRAWN
    return _changed(document, at, scale=None if drawn else scale)


def facing(document: Character, at: int, way: str) -> Character:
    """A sheet is drawn looking ``left`` or ``right``, or in drawings of its own for ``both`` ways."""
    if way == "both":
        return _changed(document, at, mirrors=False)
    return _changed(document, at, mirrors=True, facing=way)


def with_rows_facing(document: Character, at: int, rows: Collection[int], way: str) -> Character:
    """Rows look another way than the sheet; nothing is said of those that look as it does."""
    sheet = document.sheets[at]
    told = by_number(sheet.row_facing | {str(row): way for row in rows})
    return _changed(document, at, row_facing={row: one for row, one in told.items() if one != sheet.facing})


def _changed(document: Character, at: int, **values: object) -> Character:
    made: Character = change(document, ("sheets", at), **values)
    return made
