"""Suggested cuts, found drawings and grounds, on sheets that are drawn with known cells."""

from __future__ import annotations

import os

import numpy as np
import pytest

from leanstep.core.sheets.background import Ground, cleared, drawn, ground_of, holes_of
from leanstep.core.sheets.cutting import Rect, rectangles
from leanstep.core.sheets.drawings import drawings, found_rects, pieces, reading_order
from leanstep.core.sheets.suggestion import Evidence, GridSuggestion, RectsSuggestion, Suggestion, suggestions
from tests.support import drawn_figures
from tests.support.drawn_sheets import GRIDS, Box, Drawn, Grid, full
from tests.support.drawn_sheets import drawn as drawn_sheet

SEEDS = range(50_000, 50_000 + int(os.environ.get("LEANSTEP_SHEETS", "8")))
"""Sheets of each kind; not those that the suggestion was tuned on."""


def right(sheet: Drawn, found: Suggestion) -> bool:
    """Whether every drawing is in its true cell, cut lines within 1 px."""
    height, width = sheet.pixels.shape[:2]
    made = np.array(
        [(one.x, one.y, one.x + one.width, one.y + one.height) for one in rectangles(found.cut, width, height)]
    )
    return all((np.abs(made - (x, y, x + wide, y + high)).max(axis=1) <= 1).any() for x, y, wide, high in sheet.cells)


def overlap(one: Box, other: Rect) -> float:
    """Intersection over union."""
    x, y, width, height = one
    across = min(x + width, other.x + other.width) - max(x, other.x)
    down = min(y + height, other.y + other.height) - max(y, other.y)
    shared = max(0, across) * max(0, down)
    return shared / (width * height + other.width * other.height - shared)


@pytest.mark.long
def test_the_first_suggestion_is_right_on_nearly_all_sheets_of_every_kind() -> None:
    share = {}
    for kind in GRIDS:
        sheets = [drawn_sheet(kind, seed) for seed in SEEDS]
        hits = [right(sheet, suggestions(np.asarray(sheet.picture().convert("RGBA")))[0]) for sheet in sheets]
        share[kind] = float(np.mean(hits))
    # of 8 sheets of a kind a few more than usual may be odd
    assert min(share.values()) >= 0.75, share
    assert np.mean(list(share.values())) >= 0.95, share


@pytest.mark.long
def test_tight_rectangles_hold_the_drawings_of_loose_sheets() -> None:
    best, packed = [], []
    for seed in SEEDS:
        sheet = drawn_sheet("packed", seed)
        rects = found_rects(drawn(sheet.pixels))
        best += [max(overlap(one, rect) for rect in rects) for one in sheet.drawings]
        packed.append(isinstance(suggestions(sheet.pixels)[0], RectsSuggestion))
    assert np.mean(np.array(best) >= 0.9) >= 0.98
    assert np.mean(packed) >= 0.9


def test_a_single_drawing_is_one_cell_and_an_empty_image_has_none() -> None:
    sheet = drawn_sheet("strip", 1)
    x, y, width, height = sheet.cells[0]
    (first, *_) = suggestions(sheet.pixels[y : y + height, x : x + width])
    assert isinstance(first, GridSuggestion) and (first.columns, first.rows) == (1, 1)
    assert first.reason == "One drawing fills the image."
    assert suggestions(np.zeros((20, 30, 4), np.uint8)) == []


@pytest.mark.parametrize("shape", [(1, 1), (1, 40), (40, 1), (3, 3)])
def test_images_of_hardly_any_pixels_are_no_trouble(shape: tuple[int, int]) -> None:
    noise = np.random.default_rng(0).integers(0, 256, (*shape, 4), dtype=np.uint8)
    for pixels in (noise, np.full((*shape, 4), 255, np.uint8)):
        for found in suggestions(pixels):
            assert rectangles(found.cut, shape[1], shape[0])


@pytest.mark.long
def test_an_image_of_a_million_dots_is_answered_too() -> None:
    pixels = np.zeros((2048, 2048, 4), np.uint8)
    pixels[::8, ::8] = 255
    pixels[1::8, ::8] = 255
    for found in suggestions(pixels):
        assert len(rectangles(found.cut, 2048, 2048)) <= 100_000


def test_a_suggestion_names_its_empty_cells_its_reason_and_a_runner_up() -> None:
    sheet = drawn_sheet("tail", 7)
    first, second, *_ = suggestions(sheet.pixels)
    assert isinstance(first, GridSuggestion) and isinstance(second, GridSuggestion)
    missing = first.columns * first.rows - len(sheet.cells)
    assert first.empty == tuple(range(len(sheet.cells), len(sheet.cells) + missing))
    assert first.reason.startswith(
        f"{first.columns} × {first.rows} of {first.cell[0]} × {first.cell[1]}: every cut line"
    )
    assert first.confidence > second.confidence


# --- drawings


def mask_of(*rows: str) -> np.ndarray:
    return np.array([[letter != "." for letter in row] for row in rows])


def test_pieces_that_touch_at_corners_are_one_and_specks_are_dropped() -> None:
    mask = np.zeros((40, 40), np.bool_)
    mask[5:15, 5:15] = mask[15:20, 15:20] = True
    mask[35, 35] = True
    assert found_rects(mask) == [Rect(5, 5, 15, 15)]
    assert len(found_rects(mask, speck=1)) == 2


def test_parts_belong_to_the_large_drawing_they_are_near_to() -> None:
    mask = np.zeros((60, 200), np.bool_)
    for left in (10, 110):
        mask[10:50, left : left + 40] = True
    mask[10:14, 58:62] = True  # 8 px away, and 60 px lie between the drawings
    assert found_rects(mask) == [Rect(10, 10, 52, 40), Rect(110, 10, 40, 40)]
    assert Rect(58, 10, 4, 4) in found_rects(mask, speck=0, near=4)
    assert len(found_rects(mask, speck=0, near=0)) == 3


def test_what_lies_inside_anothers_box_belongs_to_it() -> None:
    ring = mask_of("#####", "#...#", "#.#.#", "#...#", "#####")
    assert len(pieces(ring)) == 2 and len(drawings(pieces(ring), speck=0)) == 1


def test_reading_order_takes_uneven_rows_for_rows() -> None:
    boxes = np.array([(50, 12, 70, 40), (0, 0, 20, 42), (25, 20, 45, 40), (0, 50, 20, 90), (30, 60, 50, 88)])
    assert reading_order(boxes).tolist() == [1, 2, 0, 3, 4]


# --- ground


def figure(side: int = 32) -> np.ndarray:
    """A ring with an eye of the ground's colour inside, and a hole that shows the ground."""
    pixels = np.zeros((side, side, 4), np.uint8)
    pixels[:] = (255, 0, 255, 255)
    pixels[6:26, 6:26] = (20, 120, 60, 255)
    pixels[10:12, 10:12] = (255, 0, 255, 255)
    pixels[16:22, 12:20] = (255, 0, 255, 255)
    return pixels


def test_the_ground_is_found_with_its_noise_and_cleared_from_the_borders_only() -> None:
    pixels = figure()
    noise = np.random.default_rng(1).integers(-6, 7, (32, 32, 3))
    noisy = pixels.copy()
    noisy[:, :, :3] = np.clip(pixels[:, :, :3] + noise, 0, 255)
    ground = ground_of(noisy)
    assert ground is not None and 6 <= ground.tolerance <= 16
    assert max(abs(a - b) for a, b in zip(ground.colour, (255, 0, 255))) <= 6
    alpha = cleared(noisy, ground)[:, :, 3]
    assert not alpha[:6].any() and alpha[6:26, 6:26].all()
    assert np.array_equal(noisy[:, :, 3], np.full((32, 32), 255)), "the source is never touched"


def test_holes_are_offered_largest_first_and_cleared_one_by_one() -> None:
    pixels, ground = figure(), Ground((255, 0, 255), 0)
    assert holes_of(pixels, ground) == [(12, 16), (10, 10)]
    alpha = cleared(pixels, ground, [(12, 16)])[:, :, 3]
    assert not alpha[16:22, 12:20].any() and alpha[10:12, 10:12].all()


def test_a_transparent_or_a_full_image_has_no_ground() -> None:
    assert ground_of(drawn_sheet("strip", 3).pixels) is None
    traits = drawn_figures.Traits.of(np.random.default_rng(5))
    traits.colours = [(0, 0, 0, 255), (80, 0, 0, 255), (160, 0, 0, 255), (240, 0, 0, 255)]
    assert ground_of(drawn_figures.water(32, 32, 0.1, traits)) is None


def test_two_colours_that_are_near_are_no_noisy_ground() -> None:
    pixels = np.full((24, 24, 4), 255, np.uint8)
    pixels[:, :, :3] = (60, 140, 70)
    pixels[:, ::3, :3] = (80, 160, 70)
    ground = ground_of(pixels)
    assert ground is not None and ground.tolerance == 2, "the stripes are drawn on it"
    pixels[:, :12, :3], pixels[:, 12:, :3] = (60, 140, 70), (80, 160, 70)
    assert ground_of(pixels) is None, "half of it is each"
    pixels[:, :, :3] = (60, 140, 70)
    pixels[0, 4:7, :3] = (80, 160, 70)
    few = ground_of(pixels)
    assert few is not None and few.tolerance > 20, "a few stray pixels are noise"


def test_full_rows_of_which_nothing_goes_on_below_are_two() -> None:
    pick, grid = np.random.default_rng(8), Grid(8, 2, 24, 24)
    sheet = full(pick, grid, "rows", drawn_figures.belt)
    first, *_ = suggestions(sheet.pixels)
    assert isinstance(first, GridSuggestion) and (first.columns, first.rows, first.cell) == (8, 2, (24, 24))


@pytest.mark.parametrize("seed", [30_062, 30_046, 30_165, 30_387])
def test_a_margin_unlike_the_gap_is_seen_where_both_axes_agree_on_it(seed: int) -> None:
    sheet = drawn_sheet("ruled", seed)
    first, *_ = suggestions(sheet.pixels)
    assert isinstance(first, GridSuggestion) and right(sheet, first)
    assert first.margin[0] == first.margin[1] > first.gap[0] > 0


def test_a_row_of_full_cells_is_not_parted_into_rows() -> None:
    sheets = [GRIDS["seamless"](np.random.default_rng(seed)) for seed in range(60)]
    ones = [sheet for sheet in sheets if len({y for _, y, *_ in sheet.cells}) == 1]
    firsts = [suggestions(sheet.pixels)[0] for sheet in ones]
    parted = [one for one in firsts if isinstance(one, GridSuggestion) and one.rows > 1]
    assert len(ones) > 20 and len(parted) <= len(ones) // 20


def test_pairs_of_drawings_in_two_columns_are_not_halved() -> None:
    """The halves of a pair are nearer to each other than to the next pair."""
    kept = []
    for seed in (544, 552, 583, 592, 602, 627, 651, 689):
        sheet = GRIDS["paired"](np.random.default_rng(seed))
        kept.append(right(sheet, suggestions(sheet.pixels)[0]))
    assert sum(kept) >= 6


def test_letters_that_touch_are_lettering_over_small_figures() -> None:
    """A ligature is as large as a small figure; what is small, close together and parted by an empty row is lettering anyway."""
    pixels = np.zeros((40, 96, 4), np.uint8)
    for left, wide in ((4, 4), (9, 4), (14, 16), (31, 4), (36, 4), (41, 4), (46, 4)):
        pixels[2:10, left : left + wide] = (20, 20, 20, 255)
    for left in range(0, 96, 24):
        pixels[26:38, left + 6 : left + 18] = (90, 40, 30, 255)
    assert Evidence(pixels, drawn(pixels)).lettering == (10, 0)
    found = suggestions(pixels)[0]
    assert isinstance(found, GridSuggestion) and (found.columns, found.rows) == (4, 1)
    # a row of small drawings that lie a cell apart is none
    pixels[:16] = 0
    for left in range(0, 96, 16):
        pixels[4:10, left + 4 : left + 10] = (20, 20, 20, 255)
    assert Evidence(pixels, drawn(pixels)).lettering == (0, 0)
