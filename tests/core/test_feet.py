"""Where frames stand: walks, runs and jumps that are drawn with known ground points."""

from __future__ import annotations

import numpy as np
import pytest

from leanstep.core.sheets.background import Mask
from leanstep.core.sheets.cutting import Rect
from leanstep.core.sheets.feet import foot_points
from tests.support.drawn_figures import Traits, beast, blob, cloaked, walker

CELL = 64


def row(seed: int, kind: str, swung: bool = False) -> tuple[list[Rect], list[Mask], tuple[float, float]]:
    """Frames of a figure that walks, runs (both feet off the ground now and then) or jumps, and its ground point."""
    pick = np.random.default_rng(seed)
    drawer = (walker, beast, blob, cloaked)[seed % 4] if kind != "walk" else (walker, beast)[seed % 2]
    traits, count, size = Traits.of(pick), int(pick.integers(4, 11)), int(pick.integers(34, 52))
    left, ground = int(pick.integers(2, CELL - size - 1)), int(pick.integers(size + 10, CELL + 1))
    masks = []
    for number in range(count):
        share = number / count
        lift = {"walk": 0, "run": round(2 * abs(np.sin(2 * np.pi * share))), "jump": round(9 * np.sin(np.pi * share))}
        mask = np.zeros((CELL, CELL), np.bool_)
        picture = drawer(size, share, traits)[:, :, 3] >= 8
        bottom = np.flatnonzero(picture.any(axis=1))[-1] + 1
        top = ground - bottom - lift[kind]
        mask[top : top + bottom, left : left + size] = picture[:bottom]
        if swung:
            end = int(32 + 28 * np.sin(2 * np.pi * share))
            mask[top + size // 2 : top + size // 2 + 2, min(end, left + size // 2) : max(end, left + size // 2)] = True
        masks.append(mask)
    middle = left + size / 2 - (0.03 * size if drawer is beast else 0)
    return [Rect(CELL * number, 0, CELL, CELL) for number in range(count)], masks, (middle, ground)


@pytest.mark.parametrize("kind", ["walk", "run", "jump"])
@pytest.mark.parametrize("swung", [False, True])
def test_the_default_foot_is_the_ground_point_whatever_swings(kind: str, swung: bool) -> None:
    near, still = [], []
    for seed in range(60):
        rects, masks, truth = row(seed, kind, swung)
        points = foot_points("row", rects, masks)
        still.append(len(set(points)) == 1)
        near += [max(abs(x - truth[0]), abs(y - truth[1])) <= 1 for x, y in points]
    assert all(still), "one foot a row, so that the figure stands still"
    assert np.mean(near) >= 0.95


def test_rules_find_the_foot_of_single_frames() -> None:
    mask = np.zeros((20, 20), np.bool_)
    mask[4:15, 6:11] = mask[15:18, 10] = True
    rects = [Rect(0, 0, 20, 20)]
    found = {rule: foot_points(rule, rects, [mask])[0] for rule in ("drawing", "solid", "cell", "centre")}
    assert found == {"drawing": (8.5, 18), "solid": (8.5, 15), "cell": (10, 20), "centre": (10, 10)}
    assert foot_points("row", rects, [mask]) == [(8.5, 15)]


def test_empty_frames_get_the_foot_of_their_row_or_of_the_cell() -> None:
    drawn, empty = np.zeros((10, 10), np.bool_), np.zeros((10, 10), np.bool_)
    drawn[2:8, 3:6] = True
    rects = [Rect(0, 0, 10, 10), Rect(10, 0, 10, 10), Rect(20, 0, 10, 10), Rect(0, 10, 10, 10)]
    assert foot_points("row", rects, [drawn, empty, drawn, empty]) == [(4.5, 8)] * 3 + [(5, 10)]


def test_one_frame_that_reaches_below_all_others_does_not_move_the_ground() -> None:
    masks = [np.zeros((20, 10), np.bool_) for _ in range(5)]
    for mask in masks:
        mask[4:14, 3:7] = True
    masks[2][18, 5] = True
    assert foot_points("row", [Rect(10 * at, 0, 10, 20) for at in range(5)], masks) == [(5, 14)] * 5
