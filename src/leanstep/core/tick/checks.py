"""Whether a table is whole: checked once while it is loaded, so that playing needs no checks."""

from __future__ import annotations

import numpy as np

from leanstep.core.clips.timing import TICK
from leanstep.core.jit import Real, Whole, kernel
from leanstep.core.tick.codes import (
    CHOICE,
    EXACT,
    FASTEST,
    FREEZE,
    HELD_LEAN,
    HELD_SQUASH,
    LEANED,
    LOCK,
    LONGEST,
    MOST_MARKS,
    NEVER,
    RAISE,
    SQUASHED,
    UNLOCK,
    WHOLE,
)
from leanstep.core.tick.places import (
    ABOUT,
    ACT,
    ACTS,
    ADDRESS,
    AXES,
    AXIS,
    CLIP,
    CLIPS,
    CUE,
    CUES,
    END,
    FINITE,
    FIRST,
    FROM_TO,
    INTEGER,
    KEY,
    KEYS,
    LAYER,
    LAYERS,
    LEAN,
    LEANS,
    NAME,
    NAMED_CLIPS,
    NAMED_LAYERS,
    NAMED_LOCKS,
    NAMED_PARAMETERS,
    NAMED_STATES,
    NAMED_WORDS,
    PARAMETER,
    PARAMETERS,
    PIECE,
    PIECES,
    PLACES,
    ROW,
    ROW_OR_NONE,
    RULE,
    SAMPLE,
    SAMPLES,
    SECTION_COUNT,
    SHAPE,
    SHAPES,
    SIZES,
    SQUASH,
    SQUASHES,
    STATE,
    STATES,
    TIME,
    WIDTHS,
    WITHIN,
)
from leanstep.core.tick.program_checks import programs_agree


@kernel
def rows_of(counts: Whole, rows: Whole) -> int:  # pragma: no cover
    """Write where the cells of each section begin; how many cells there are in all."""
    total = 0
    for section in range(SECTION_COUNT):
        rows[section] = total
        total += counts[section] * WIDTHS[section]
    return total


@kernel
def _is_whole(value: float, low: float, high: float) -> bool:  # pragma: no cover
    """Whether a cell is a whole number from ``low`` to ``high``."""
    return low <= value <= high and np.floor(value) == value


@kernel
def wrong_cell(cells: Real, counts: Whole, names: Whole) -> int:  # pragma: no cover
    """The number of the first cell that is not what its column may hold; -1: none."""
    at, first = 0, 0
    for section in range(SECTION_COUNT):
        for _ in range(counts[section]):
            target = 0
            for column in range(first, first + SIZES[section]):
                rule, about = RULE[column], ABOUT[column]
                if rule == WITHIN:
                    continue
                value, fine = cells[at], True
                if rule == FINITE:
                    fine = value - value == 0.0
                elif rule == INTEGER:
                    fine = _is_whole(value, -EXACT, EXACT)
                elif rule == TIME:
                    fine = _is_whole(value, 0.0, EXACT) or value == NEVER
                elif rule == FROM_TO:
                    fine = _is_whole(value, 0.0, about)
                elif rule == ROW or rule == ADDRESS:
                    fine = _is_whole(value, 0.0, counts[about] - 1)
                elif rule == ROW_OR_NONE:
                    fine = _is_whole(value, -1.0, counts[about] - 1)
                elif rule == NAME:
                    fine = _is_whole(value, 0.0, names[about] - 1)
                elif rule == FIRST:
                    target = about
                    fine = _is_whole(value, 0.0, counts[about])
                elif rule == END:
                    fine = _is_whole(value, cells[at - 1], counts[target])
                else:
                    fine = value != value or value - value == 0.0
                if not fine:
                    return at
                at += 1
        first += SIZES[section]
    return -1


@kernel
def agrees(cells: Real, counts: Whole, names: Whole, rows: Whole, room: Whole) -> bool:  # pragma: no cover
    """Whether what stands in several rows goes together; ``room`` is for four whole numbers a row of a program."""
    if names[NAMED_PARAMETERS] != counts[PARAMETERS] or names[NAMED_LAYERS] != counts[LAYERS]:
        return False
    if names[NAMED_STATES] != counts[STATES] or names[NAMED_CLIPS] != counts[CLIPS]:
        return False
    for number in range(counts[PARAMETERS]):
        one = rows[PARAMETERS] + number * WIDTHS[PARAMETERS]
        kind = cells[one + PARAMETER.kind]
        if kind <= WHOLE and cells[one + PARAMETER.low] > cells[one + PARAMETER.high]:
            return False
        if kind == CHOICE and not _is_whole(cells[one + PARAMETER.first], 0.0, names[NAMED_WORDS] - 1):
            return False
    for number in range(counts[LAYERS]):
        one = rows[LAYERS] + number * WIDTHS[LAYERS]
        start = cells[one + LAYER.start]
        if start < cells[one + LAYER.states] or start >= cells[one + LAYER.states_end]:
            return False
    for number in range(counts[AXES]):
        one = rows[AXES] + number * WIDTHS[AXES]
        if cells[one + AXIS.low] > cells[one + AXIS.high] or not cells[one + AXIS.step] > 0.0:
            return False
    for number in range(counts[ACTS]):
        if not _act_agrees(cells, counts, names, rows[ACTS] + number * WIDTHS[ACTS]):
            return False
    for number in range(counts[CLIPS]):
        if not _clip_agrees(cells, rows, rows[CLIPS] + number * WIDTHS[CLIPS]):
            return False
    for number in range(counts[STATES]):
        if not _state_agrees(cells, counts, rows, rows[STATES] + number * WIDTHS[STATES]):
            return False
    if not _shapes_agree(cells, counts, rows):
        return False
    return programs_agree(cells, counts, names, rows, room)


@kernel
def _act_agrees(cells: Real, counts: Whole, names: Whole, one: int) -> bool:  # pragma: no cover
    """Whether an act changes what there is."""
    do, target, value = cells[one + ACT.do], cells[one + ACT.target], cells[one + ACT.value]
    if do <= RAISE:
        return 0.0 <= target < counts[PARAMETERS]
    if do == LOCK or do == UNLOCK:
        return 0.0 <= target < names[NAMED_LOCKS]
    return do != FREEZE or _is_whole(value, 0.0, 1e15)


@kernel
def _clip_agrees(cells: Real, rows: Whole, one: int) -> bool:  # pragma: no cover
    """Whether a clip's times can be counted, and its pieces and keys come one after another, and where marks fire."""
    length, back = cells[one + CLIP.length], cells[one + CLIP.begin]
    paced = cells[one + CLIP.pace] >= 0.0
    cels, cues = (
        cells[one + CLIP.cels_end] - cells[one + CLIP.cels],
        cells[one + CLIP.cues_end] - cells[one + CLIP.cues],
    )
    rate = cells[one + CLIP.high] if paced else 1.0
    if not 1.0 <= length <= LONGEST or not -1.0 <= back < length:
        return False
    if not -1.0 <= cells[one + CLIP.resting] < cels:
        return False
    if paced and (cells[one + CLIP.at] == 0.0 or not 0.0 <= cells[one + CLIP.low] <= rate <= FASTEST):
        return False
    if cells[one + CLIP.goes] != 0.0 and cells[one + CLIP.keys] == cells[one + CLIP.keys_end]:
        return False
    lap = length - (back if back > 0.0 else 0.0)
    if cues * (np.floor(np.floor(rate * TICK) / lap) + 2.0) > MOST_MARKS:
        return False
    for row in range(int(cells[one + CLIP.cues]), int(cells[one + CLIP.cues_end])):
        cue = rows[CUES] + row * WIDTHS[CUES]
        spots = cells[cue + CUE.spots_end] - cells[cue + CUE.spots]
        if spots > 1.0 or (spots > 0.0 and cells[cue + CUE.cel] >= cels):
            return False
    before = -1.0
    for row in range(int(cells[one + CLIP.pieces]), int(cells[one + CLIP.pieces_end])):
        piece = rows[PIECES] + row * WIDTHS[PIECES]
        start = cells[piece + PIECE.start]
        if start <= before or (before < 0.0 and start != 0.0) or cells[piece + PIECE.cel] >= cels:
            return False
        before = start
    for row in range(int(cells[one + CLIP.keys]) + 1, int(cells[one + CLIP.keys_end])):
        key = rows[KEYS] + row * WIDTHS[KEYS]
        if not cells[key + KEY.at] > cells[key - WIDTHS[KEYS] + KEY.at]:
            return False
    return True


@kernel
def _state_agrees(cells: Real, counts: Whole, rows: Whole, one: int) -> bool:  # pragma: no cover
    """Whether a state's samples have their places, begin within their clips, and are as many for each way of moving."""
    samples, samples_end = int(cells[one + STATE.samples]), int(cells[one + STATE.samples_end])
    axes = cells[one + STATE.axes_end] - cells[one + STATE.axes]
    if cells[one + STATE.sticky] < 0.0 or (cells[one + STATE.blends] != 0.0 and samples == samples_end):
        return False
    ways = int(cells[one + STATE.moved_end]) - int(cells[one + STATE.moved]) + 1
    if (samples_end - samples) % ways != 0 or (ways > 1 and samples == samples_end):
        return False
    for row in range(samples, samples_end):
        sample = rows[SAMPLES] + row * WIDTHS[SAMPLES]
        clip = rows[CLIPS] + int(cells[sample + SAMPLE.clip]) * WIDTHS[CLIPS]
        if cells[sample + SAMPLE.phase] > cells[clip + CLIP.length]:
            return False
        if cells[sample + SAMPLE.places] + axes > counts[PLACES]:
            return False
    return True


@kernel
def _shapes_agree(cells: Real, counts: Whole, rows: Whole) -> bool:  # pragma: no cover
    """Whether squashes and leans can be followed, and what begins them is there."""
    for number in range(counts[SQUASHES]):
        one = rows[SQUASHES] + number * WIDTHS[SQUASHES]
        if not cells[one + SQUASH.high] > 0.0 or cells[one + SQUASH.wide] <= 0.0:
            return False
        if cells[one + SQUASH.over] < 0.0 or cells[one + SQUASH.hold] < 0.0 or cells[one + SQUASH.back] < 0.0:
            return False
        if cells[one + SQUASH.every] < 0.0 or cells[one + SQUASH.by_fall] < 0.0:
            return False
    for number in range(counts[LEANS]):
        one = rows[LEANS] + number * WIDTHS[LEANS]
        if cells[one + LEAN.most] < 0.0 or not cells[one + LEAN.dt] > 0.0:
            return False
    for number in range(counts[SHAPES]):
        one = rows[SHAPES] + number * WIDTHS[SHAPES]
        does, which = cells[one + SHAPE.do], cells[one + SHAPE.which]
        if which < 0.0 or (which >= counts[LEANS] and (does == LEANED or does == HELD_LEAN)):
            return False
        if which >= counts[SQUASHES] and (does == SQUASHED or does == HELD_SQUASH):
            return False
    return True
