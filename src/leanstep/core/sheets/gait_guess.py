"""Which rows of a sheet stand still and which walk, guessed from how much their frames differ."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

from leanstep.core.sheets.drawings import boxes_of, rows_of
from leanstep.core.sheets.images import CutSheet
from leanstep.core.sheets.matching import coarse_picture, unlike

MOVES = 1.5
"""How many times as much as the stillest row a row has to move to be taken for walking."""


def motion(sheet: CutSheet, row: Sequence[int]) -> float:
    """How much the frames of a row differ from each to the next on average: 0 they are equal, 1 nothing in common."""
    pictures = [coarse_picture(sheet.picture(number)) for number in row]
    steps = [unlike(one, other) for one, other in pairwise(pictures) if one is not None and other is not None]
    return sum(steps) / len(steps) if steps else 0.0


def rows_of_cut(sheet: CutSheet) -> list[list[int]]:
    """The frames of a sheet row by row, without empty ones."""
    rows = rows_of(boxes_of([frame.rect for frame in sheet.frames])) if sheet.frames else []
    some = ([number for number in row if not sheet.frames[number].empty] for row in rows)
    return [row for row in some if row]


def idle_and_walk(sheet: CutSheet, rows: Sequence[Sequence[int]]) -> tuple[int, int]:
    """The stillest row, and the first other one that moves clearly more; the same row twice when there is only one."""
    moves = [motion(sheet, row) for row in rows]
    idle = moves.index(min(moves))
    others = [number for number in range(len(rows)) if number != idle and len(rows[number]) > 1]
    clear = [number for number in others if moves[number] >= MOVES * moves[idle]]
    return idle, (clear or others or [idle])[0]
