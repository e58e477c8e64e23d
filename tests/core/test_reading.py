"""Images that move, and several that make one sheet."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from leanstep.core.character.sheets import Sheet
from leanstep.core.errors import LeanStepError
from leanstep.core.sheets.images import load_sheet
from leanstep.core.sheets.reading import numbered, read, read_images

COLOURS = [(200, 30, 30), (30, 200, 30), (30, 30, 200)]


def pictures() -> list[Image.Image]:
    return [Image.new("RGB", (8, 6), colour) for colour in COLOURS]


@pytest.mark.parametrize("suffix", [".gif", ".png", ".webp"])
def test_a_moving_image_is_laid_out_with_its_durations(tmp_path: Path, suffix: str) -> None:
    path = tmp_path / f"moving{suffix}"
    first, *rest = pictures()
    extra = {"lossless": True} if suffix == ".webp" else {}
    first.save(path, save_all=True, append_images=rest, duration=[40, 100, 250], loop=0, **extra)  # type: ignore[arg-type]
    found = read(path)
    assert (found.count, found.cell, found.milliseconds, found.repeats) == (3, (8, 6), (40, 100, 250), True)
    assert [tuple(found.pixels[3, 8 * at + 4, :3]) for at in range(3)] == COLOURS and found.size == (24, 6)
    sheet = load_sheet(Sheet(name="s", image=path.name, size=(24, 6), cut=found.cut), tmp_path)
    assert [frame.rect.x for frame in sheet.frames] == [0, 8, 16]


def test_a_single_image_is_no_moving_one(tmp_path: Path) -> None:
    pictures()[0].save(tmp_path / "a.gif")
    assert (read(tmp_path / "a.gif").count, read(tmp_path / "a.gif").cut.way) == (1, "count")


@pytest.mark.long
def test_moving_images_are_limited_by_all_their_pictures(tmp_path: Path) -> None:
    noise = [Image.fromarray(np.full((1000, 1000), at, np.uint8)) for at in range(70)]
    noise[0].save(tmp_path / "long.gif", save_all=True, append_images=noise[1:])
    with pytest.raises(LeanStepError, match="it has 70 pictures of 1000 × 1000 pixels, and at most"):
        read(tmp_path / "long.gif")


def test_pictures_of_unequal_size_stand_on_the_bottom_of_their_cells(tmp_path: Path) -> None:
    for name, size in (("a1.png", (8, 6)), ("a2.png", (4, 10))):
        Image.new("RGB", size, COLOURS[0]).save(tmp_path / name)
    found = read_images([tmp_path / "a1.png", tmp_path / "a2.png"])
    alpha = found.pixels[:, :, 3] > 0
    assert found.cell == (8, 10) and alpha.shape == (10, 16)
    assert not alpha[:4, :8].any() and alpha[4:, :8].all() and alpha[:, 10:14].all() and not alpha[:, 14:].any()
    sheet = Sheet(name="s", image="a1.png", images=("a2.png",), size=found.size, cut=found.cut)
    assert len(load_sheet(sheet, tmp_path).frames) == 2


def test_files_that_differ_in_their_number_belong_together_in_its_order() -> None:
    names = ["walk_10.png", "walk_9.png", "run-1.png", "run-1.gif", "hat.png", "a2b.png", "a1b.png"]
    groups = [[path.name for path in group] for group in numbered([Path(name) for name in names])]
    assert groups == [["walk_9.png", "walk_10.png"], ["run-1.png"], ["run-1.gif"], ["hat.png"], ["a1b.png", "a2b.png"]]
