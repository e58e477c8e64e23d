"""Frames that are shown larger or smaller than they are drawn."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from leanstep.core.character.sheets import Cut, Scale, Sheet
from leanstep.core.sheets.images import load_sheet
from leanstep.core.sheets.scaling import LARGEST, factors, fitting, in_words, scaled

HARD = np.zeros((4, 6, 4), np.uint8)
HARD[1:, 2:4] = (200, 40, 40, 255)


def test_a_whole_multiple_repeats_every_pixel() -> None:
    made = scaled(HARD, (3.0, 2.0), False)
    assert np.array_equal(made, np.repeat(np.repeat(HARD, 2, axis=0), 3, axis=1))


def test_smooth_scaling_keeps_colours_of_what_is_drawn() -> None:
    made = scaled(HARD, (4.0, 4.0), True)
    edge = made[:, :, 3] > 40
    assert edge.any() and (made[edge][:, 0] > 150).all(), "nothing transparent bleeds in"
    assert len(np.unique(made[:, :, 3])) > 3
    assert scaled(HARD, (1.0, 1.0), True) is HARD


def test_a_target_height_is_that_of_the_figure(tmp_path: Path) -> None:
    pixels = np.zeros((32, 64, 4), np.uint8)
    pixels[10:30, 10:20] = pixels[10:30, 40:50] = (9, 9, 200, 255)
    Image.fromarray(pixels).save(tmp_path / "art.png")
    sheet = Sheet(name="art", image="art.png", cut=Cut(columns=2), scale=Scale(height=50.0, stretch=1.2))
    cut = load_sheet(sheet, tmp_path)
    assert (cut.usual_height, cut.shown_height) == (20.0, 50.0)
    assert cut.scale == pytest.approx((3.0, 2.5))


def test_no_frame_becomes_larger_than_can_be_shown() -> None:
    assert factors(Scale(by=64.0), 20.0, 1024) == (LARGEST / 1024,) * 2
    assert factors(Scale(by=64.0), 20.0, 20_000) == (1.0, 1.0)
    assert factors(None, 20.0, 20_000) == (1.0, 1.0)


@pytest.mark.parametrize(
    ("height", "others", "factor"), [(48, 50, None), (90, 48, None), (192, 48, 1 / 4), (16, 49, 3.0), (24, 48, 2.0)]
)
def test_the_factor_that_would_fit(height: float, others: float, factor: float | None) -> None:
    assert fitting(height, others) == factor


def test_factors_in_words() -> None:
    assert [in_words(one) for one in (4.0, 1 / 3, 0.75, 1.0)] == ["4", "1/3", "0.75", "1"]
