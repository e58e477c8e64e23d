"""Checks of sheets, their frames and the cels that show them; each on art that is drawn with one fault."""

from __future__ import annotations

from pathlib import Path

import msgspec
import numpy as np
import pytest
from PIL import Image

from leanstep.core.character.body import Body
from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.document import Character
from leanstep.core.character.graph import State
from leanstep.core.character.sheets import Cut, Scale, Sheet
from leanstep.core.findings.repairs.proving import repair
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Finding
from leanstep.core.sheets.images import load_sheet
from tests.support.build import sketch, way
from tests.support.drawn_figures import Traits, walker

SIDE, COUNT = 32, 6


def art(count: int = COUNT) -> np.ndarray:
    """A walker in a strip of cells."""
    traits = Traits.of(np.random.default_rng(4))
    pixels = np.zeros((SIDE, SIDE * count, 4), np.uint8)
    for number in range(count):
        pixels[3:29, SIDE * number + 3 : SIDE * number + 29] = walker(26, number / count, traits)
        pixels[16, SIDE * number + 16] = (20 * number, 90, 20, 255)  # no two are equal
    return pixels


def character(
    pixels: np.ndarray, folder: Path, frames: tuple[int, ...] = tuple(range(COUNT)), **sheet: object
) -> Character:
    Image.fromarray(pixels).save(folder / "art.png")
    height, width = pixels.shape[:2]
    values: dict[str, object] = {
        "name": "art",
        "image": "art.png",
        "size": (width, height),
        "cut": Cut(columns=width // SIDE, rows=1),
    }
    sheets = (Sheet(**(values | sheet)),)  # type: ignore[arg-type]
    clips = (Clip(name="walk", sheet="art", cels=tuple(Cel(frame=frame) for frame in frames)),)
    states = (State(name="a", clip="walk"), State(name="b", clip="walk"))
    return msgspec.structs.replace(
        sketch(way("a>b", "go"), way("b>a", "not go"), states=states, clips=clips), sheets=sheets
    )


def found(made: Character, folder: Path, kinds: tuple[str, ...] = ("sheet", "frame", "clip")) -> list[Finding]:
    return [one for one in check_character(made, folder).findings if one.id.split(".")[0] in kinds]


def ids(made: Character, folder: Path) -> list[str]:
    return [one.id for one in found(made, folder)]


def mend(made: Character, one: Finding, folder: Path) -> Character:
    """The character after the repair, without the finding."""
    mended = repair(made, one, folder)
    assert mended is not None
    assert one.id not in ids(mended.character, folder)
    return mended.character


def test_sound_art_has_no_findings(tmp_path: Path) -> None:
    assert ids(character(art(), tmp_path), tmp_path) == []


def test_images_that_are_missing_changed_or_none_are_told_apart(tmp_path: Path) -> None:
    (tmp_path / "none.png").write_text("no image")
    for kind, fields in {
        "sheet.missing": {"image": "nobody.png"},
        "sheet.changed": {"size": (20, 20)},
        "sheet.cut": {"cut": Cut(columns=5)},
        "sheet.unreadable": {"image": "none.png"},
    }.items():
        (one,) = found(character(art(), tmp_path, **fields), tmp_path)  # type: ignore[arg-type]
        assert (one.id, one.severity, one.details) == (kind, "error", {"sheet": "art"})


def test_cells_that_leave_pixels_over(tmp_path: Path) -> None:
    wide = np.pad(art(), ((0, 0), (0, 7), (0, 0)))
    (one,) = found(character(wide, tmp_path, cut=Cut(way="size", width=SIDE, height=SIDE)), tmp_path)
    assert one.id == "sheet.remainder" and "leave 7 px right of the image unused" in one.sentence


def test_a_drawing_that_is_cut_through_and_one_that_touches_the_edge(tmp_path: Path) -> None:
    pixels = art()
    pixels[10:12, SIDE + 20 : 2 * SIDE + 3] = pixels[10:12, 4 * SIDE : 4 * SIDE + 9] = (90, 60, 30, 255)
    through, touching = found(character(pixels, tmp_path), tmp_path)
    assert (through.id, through.details["frames"]) == ("sheet.cut-through", [1, 2])
    assert (touching.id, touching.details["frames"]) == ("frame.touches-edge", [4])
    assert "Frames 1 and 2 of sheet art are cut through" in through.sentence


def test_art_that_is_drawn_to_its_edges_is_no_fault(tmp_path: Path) -> None:
    tiles = np.random.default_rng(2).integers(0, 255, (SIDE, SIDE * COUNT, 4), dtype=np.uint8)
    tiles[:, :, 3] = 255
    assert not {"sheet.cut-through", "frame.touches-edge"} & set(ids(character(tiles, tmp_path), tmp_path))


def test_an_empty_frame_matters_once_a_clip_shows_it(tmp_path: Path) -> None:
    pixels = art()
    pixels[:, 5 * SIDE :] = 0
    assert ids(character(pixels, tmp_path, (0, 1, 2, 3, 4)), tmp_path) == []
    (one,) = found(character(pixels, tmp_path), tmp_path)
    assert (one.id, one.details) == ("frame.empty", {"clip": "walk", "cels": [5]})


def test_equal_frames_and_frames_nothing_shows(tmp_path: Path) -> None:
    pixels = art()
    pixels[:, SIDE : 2 * SIDE] = pixels[:, :SIDE]
    double, unused = found(character(pixels, tmp_path, (0, 1, 2, 3)), tmp_path)
    assert (double.id, double.details["frames"]) == ("frame.duplicate", [0, 1]) and "0 = 1" in double.sentence
    assert (unused.id, unused.details["frames"]) == ("frame.unused", [4, 5])


@pytest.mark.parametrize("by", [-2, 1, 3])
def test_a_figure_that_wanders_is_found_and_its_feet_are_aligned(tmp_path: Path, by: int) -> None:
    pixels = art()
    cell = slice(2 * SIDE, 3 * SIDE)
    pixels[:, cell] = np.roll(pixels[:, cell], by, axis=1)
    made = character(pixels, tmp_path)
    (one,) = found(made, tmp_path)
    assert (one.id, one.details["frames"]) == ("frame.foot-wanders", [2]) and f"by up to {abs(by)} px" in one.sentence
    mended = repair(made, one, tmp_path)
    assert mended is not None and "1 frame moves" in mended.sentence
    assert ids(mended.character, tmp_path) == []
    feet = mended.character.sheets[0].feet
    assert list(feet) == ["2"] and feet["2"][0] == one.details["feet"][0][0]


def test_the_first_drawing_of_the_next_action_at_a_clips_end(tmp_path: Path) -> None:
    pixels = art()
    pixels[:, 5 * SIDE :] = 0
    pixels[26:30, 5 * SIDE + 2 : 6 * SIDE - 2] = (200, 200, 40, 255)
    (one,) = found(character(pixels, tmp_path), tmp_path)
    assert one.id == "clip.odd-frame" and "cel 5 (frame 5)" in one.sentence
    mended = mend(character(pixels, tmp_path), one, tmp_path)
    assert [cel.frame for cel in mended.clips[0].cels] == [0, 1, 2, 3, 4]


def test_a_drawing_that_moves_through_its_cells(tmp_path: Path) -> None:
    pixels = np.zeros((SIDE, SIDE * COUNT, 4), np.uint8)
    for number in range(COUNT):
        left = SIDE * number + 1 + 3 * number
        pixels[8:30, left : left + 10] = (10 + 30 * number, 90, 90, 255)
    drifts = [one for one in found(character(pixels, tmp_path), tmp_path) if one.id == "clip.drifts"]
    assert len(drifts) == 1 and "moves 15 px right through its cells" in drifts[0].sentence
    mended = mend(character(pixels, tmp_path), drifts[0], tmp_path)
    shown = load_sheet(mended.sheets[0], tmp_path).frames
    lefts = [1 + 3 * number - frame.foot[0] for number, frame in enumerate(shown)]
    assert len(set(lefts)) == 1, "the drawing stands on one place now"


def test_frames_that_are_cut_through_get_rectangles_that_hold_the_drawing(tmp_path: Path) -> None:
    pixels = art()
    pixels[10:12, SIDE + 20 : 2 * SIDE + 3] = (90, 60, 30, 255)
    made = character(pixels, tmp_path)
    before = load_sheet(made.sheets[0], tmp_path).frames
    (through,) = found(made, tmp_path)
    mended = mend(made, through, tmp_path)
    after = load_sheet(mended.sheets[0], tmp_path).frames
    assert after[1].rect.x + after[1].rect.width == 2 * SIDE + 4, "the overhang and a pixel around it"
    assert after[2].rect.x > 2 * SIDE + 2, "the neighbour is without it"
    for number in (1, 2):
        places = [(one.rect.x + one.foot[0], one.rect.y + one.foot[1]) for one in (before[number], after[number])]
        assert places[0] == places[1], "the foot stays where it is on the image"


def test_drawings_that_touch_each_other_are_not_parted(tmp_path: Path) -> None:
    pixels = art()
    pixels[10:12, SIDE + 10 : 2 * SIDE + 20] = (90, 60, 30, 255)
    made = character(pixels, tmp_path)
    through = next(one for one in found(made, tmp_path) if one.id == "sheet.cut-through")
    assert repair(made, through, tmp_path) is None


def blocks(*tops: tuple[int, int, int], low: int = 30) -> np.ndarray:
    """Cells with a block each: left, width and height, down to ``low``; every one in a colour of its own."""
    pixels = np.zeros((SIDE, SIDE * len(tops), 4), np.uint8)
    for number, (left, width, height) in enumerate(tops):
        pixels[low - height : low, SIDE * number + left : SIDE * number + left + width] = (20 * number, 90, 60, 255)
    return pixels


BODY = (11, 10, 20)
"""A block in the middle of its cell."""


def boxed(pixels: np.ndarray, folder: Path, **sheet: object) -> Character:
    return character(pixels, folder, **({"foot": (16.0, 30.0)} | sheet))  # type: ignore[arg-type]


def test_a_body_box_that_holds_its_drawing_is_no_fault(tmp_path: Path) -> None:
    still = blocks(*(BODY,) * COUNT)
    for fields in ({"box": (-5.0, 0.0, 10.0, 20.0)}, {"box_rule": "row"}, {"box_rule": "drawing", "box_margin": -2.0}):
        assert ids(boxed(still, tmp_path, **fields), tmp_path) == []


def test_feet_below_the_body_box_sink_and_it_is_lowered(tmp_path: Path) -> None:
    made = boxed(blocks(*(BODY,) * COUNT), tmp_path, box=(-5.0, 3.0, 10.0, 17.0))
    (one,) = found(made, tmp_path)
    assert (one.id, one.severity, one.details["frames"]) == ("frame.outside-box", "warning", list(range(COUNT)))
    assert "hangs up to 3 px below its body box" in one.sentence
    mended = mend(made, one, tmp_path)
    assert mended.sheets[0].boxes["4"] == (-5.0, 0.0, 10.0, 20.0)
    sunk = msgspec.structs.replace(made.clips[0], box=(-5.0, 2.0, 10.0, 18.0))
    (one,) = found(msgspec.structs.replace(made, clips=(sunk,)), tmp_path)
    assert (one.id, one.details["clip"]) == ("frame.outside-box", "walk") and "up to 2 px" in one.sentence
    assert mend(msgspec.structs.replace(made, clips=(sunk,)), one, tmp_path).clips[0].box == (-5.0, 0.0, 10.0, 20.0)


def test_a_drawing_much_of_which_is_outside_its_box(tmp_path: Path) -> None:
    shapes = [BODY] * COUNT
    shapes[3] = (11, 20, 20)
    (one,) = found(boxed(blocks(*shapes), tmp_path, box=(-5.0, 0.0, 10.0, 20.0)), tmp_path)
    assert (one.id, one.severity, one.details["frames"]) == ("frame.outside-box", "note", [3])
    shapes[3] = (11, 12, 20)
    assert ids(boxed(blocks(*shapes), tmp_path, box=(-5.0, 0.0, 10.0, 20.0)), tmp_path) == []


def test_a_body_box_that_jumps_and_one_for_the_whole_clip(tmp_path: Path) -> None:
    shapes = [BODY] * COUNT
    shapes[2] = (11, 10, 12)
    made = boxed(blocks(*shapes), tmp_path, box_rule="drawing")
    (one,) = found(made, tmp_path)
    assert (one.id, one.severity, one.details["cels"]) == ("frame.box-jumps", "warning", [2, 3])
    assert "jumps by up to 8 px" in one.sentence
    assert mend(made, one, tmp_path).clips[0].box == (-5.0, 0.0, 10.0, 20.0)


def test_a_sheet_many_times_as_large_as_its_neighbours(tmp_path: Path) -> None:
    made = boxed(blocks(*(BODY,) * COUNT), tmp_path)
    large = np.repeat(np.repeat(art(2), 3, axis=0), 3, axis=1)
    Image.fromarray(large).save(tmp_path / "coat.png")
    coat = Sheet(name="coat", image="coat.png", size=(SIDE * 6, SIDE * 3), cut=Cut(columns=2, rows=1))
    made = msgspec.structs.replace(made, sheets=(*made.sheets, coat))
    (one,) = found(made, tmp_path)
    assert (one.id, one.severity, one.details["sheet"]) == ("sheet.scale", "note", "coat")
    assert "times as high as those of the others" in one.sentence and "1/3" in one.why
    mended = mend(made, one, tmp_path)
    assert mended.sheets[1].scale == Scale(by=1 / 3)
    near = msgspec.structs.replace(coat, scale=Scale(height=24.0, smooth=True))
    assert ids(msgspec.structs.replace(made, sheets=(made.sheets[0], near)), tmp_path) == []


def test_a_figure_far_from_the_size_of_its_body(tmp_path: Path) -> None:
    made = boxed(blocks(*(BODY,) * COUNT), tmp_path)
    made = msgspec.structs.replace(made, body=Body(height=70.0, width=28.0))
    (one,) = found(made, tmp_path, ("body",))
    assert (one.id, one.severity) == ("body.size", "note") and "20 units high, and its body 70" in one.sentence
    mended = mend(made, one, tmp_path)
    assert (mended.body.height, mended.body.width) == (20.0, 8.0) and not found(mended, tmp_path, ("body",))
    above = msgspec.structs.replace(made, body=Body(height=70.0, model="above"))
    assert not found(above, tmp_path, ("body",)), "seen from above the body is as deep as it is said to be"
