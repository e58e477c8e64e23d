"""Clips as moving pictures: true speed, the foot in place, and every pixel."""

from __future__ import annotations

import io
from pathlib import Path

import numpy as np
import pytest
from PIL import Image, ImageSequence

from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.document import Character
from leanstep.core.character.files import load
from leanstep.core.character.sheets import Cut, Sheet
from leanstep.core.errors import LeanStepError
from leanstep.core.formats.animations import Moving, apng, delays, gif, moving, sheets_of, strip
from tests.support.build import DEMO, sketch


def demo_clip(name: str, enlarge: int = 1) -> Moving:
    character = load(DEMO / "lamplighter.leanstep")
    clip = next(one for one in character.clips if one.name == name)
    return moving(character, clip, sheets_of(character, [clip], DEMO), enlarge)


def test_rounding_is_carried_to_the_next_picture() -> None:
    # 3.5 ticks are 58.3 ms
    times, worst = delays([3.5] * 8, 60, 10, 20)
    assert times == [60, 60, 60, 50, 60, 60, 60, 60] and abs(sum(times) - 8 * 3.5 / 60 * 1000) < 5 and worst < 5.1
    exact, off = delays([3.5] * 600, 60)
    assert abs(sum(exact) - 35_000) <= 1 and off <= 0.51
    short, late = delays([0.5, 0.5], 60, 10, 20)
    assert short == [20, 20] and late == pytest.approx(40 - 1000 / 60)


@pytest.mark.parametrize("name", ["walk", "run", "land", "over"])
def test_a_moving_png_has_every_pixel_and_the_time_of_every_cel(name: str) -> None:
    one = demo_clip(name)
    with Image.open(io.BytesIO(apng(one))) as back:
        frames = [(np.asarray(frame.convert("RGBA")), frame.info["duration"]) for frame in ImageSequence.Iterator(back)]
        assert back.info["loop"] == (0 if one.again else 1) and back.text["Software"] == "Lean Step"  # type: ignore[attr-defined]
    shown, at, time = [], 0.0, 0.0
    # pictures that are the same one after the other may be written as one
    for pixels, lasts in frames:
        shown.append((time, pixels))
        time += lasts
    assert time == pytest.approx(sum(one.ticks) / one.rate * 1000, abs=1)
    for picture, ticks in zip(one.pictures, one.ticks):
        now = [pixels for begins, pixels in shown if begins <= at + 1][-1]
        there = picture[:, :, 3] > 0
        assert np.array_equal(now[:, :, 3], picture[:, :, 3]) and np.array_equal(now[there], picture[there])
        at += ticks / one.rate * 1000


def test_a_gif_keeps_time_as_well_as_it_can_and_colours_of_pixel_art() -> None:
    one = demo_clip("run")
    data, late = gif(one)
    with Image.open(io.BytesIO(data)) as back:
        frames = [(np.asarray(frame.convert("RGBA")), frame.info["duration"]) for frame in ImageSequence.Iterator(back)]
    assert sum(time for _, time in frames) == pytest.approx(sum(one.ticks) / one.rate * 1000, abs=5) and late <= 5.1
    first, wanted = frames[0][0], one.pictures[0]
    there = wanted[:, :, 3] >= 128
    assert np.array_equal(first[:, :, 3] > 0, there)
    assert np.abs(first[there].astype(int) - wanted[there])[:, :3].max() <= 8


def figure(tmp_path: Path, *cels: Cel, **clip: object) -> tuple[Character, Clip]:
    """A sheet of two frames, 6 x 4, with one pixel above the foot of the first and one left of that of the second."""
    pixels = np.zeros((4, 12, 4), np.uint8)
    pixels[0, 2] = (255, 0, 0, 255)
    pixels[3, 6] = (0, 0, 255, 255)
    Image.fromarray(pixels).save(tmp_path / "a.png")
    sheet = Sheet(name="a", image="a.png", cut=Cut(columns=2), feet={"0": (2, 4), "1": (4, 4)})
    made = Clip(name="c", sheet="a", cels=cels, **clip)  # type: ignore[arg-type]
    return sketch(sheets=(sheet,), clips=(made,)), made


def shown(tmp_path: Path, *cels: Cel, enlarge: int = 1, **clip: object) -> Moving:
    character, made = figure(tmp_path, *cels, **clip)
    return moving(character, made, sheets_of(character, [made], tmp_path), enlarge)


def test_feet_stand_at_the_same_place_whatever_is_mirrored_turned_or_cut_elsewhere(tmp_path: Path) -> None:
    one = shown(tmp_path, Cel(frame=0), Cel(frame=1), Cel(frame=0, mirrored=True), Cel(frame=0, turns=1))
    assert len({picture.shape for picture in one.pictures}) == 1
    spots = [tuple(int(place[0]) for place in np.nonzero(picture[:, :, 3])) for picture in one.pictures]
    (up_y, up_x), (left_y, left_x), (mirrored_y, mirrored_x), (turned_y, turned_x) = spots
    # the pixel from 0 to 1 right of the foot and 3 to 4 above: mirrored it is left of it, turned it is right of it, below
    assert (mirrored_y, mirrored_x) == (up_y, up_x - 1)
    assert (turned_y, turned_x) == (up_y + 4, up_x + 3)
    assert (left_y, left_x) == (up_y + 3, up_x - 4)


def test_there_and_back_goes_back_and_pixels_are_repeated(tmp_path: Path) -> None:
    one = shown(tmp_path, Cel(frame=0), Cel(frame=1), Cel(frame=0, mirrored=True), enlarge=3, loop="there-and-back")
    assert len(one.pictures) == 4 and one.again
    assert int((one.pictures[0][:, :, 3] > 0).sum()) == 9
    with Image.open(io.BytesIO(strip(one))) as back:
        assert back.size == (4 * one.pictures[0].shape[1], one.pictures[0].shape[0])


def test_what_cannot_be_shown_is_a_sentence(tmp_path: Path) -> None:
    with pytest.raises(LeanStepError, match="frame 7 of a is not there"):
        shown(tmp_path, Cel(frame=7))
    with pytest.raises(LeanStepError, match="it has no cels"):
        shown(tmp_path)


def test_a_single_picture_is_a_still(tmp_path: Path) -> None:
    with Image.open(io.BytesIO(apng(shown(tmp_path, Cel(frame=0))))) as back:
        assert getattr(back, "n_frames", 1) == 1
