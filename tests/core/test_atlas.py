"""Atlases: every frame is found again where the index says, with its foot and box, and what clips do stands beside it."""

from __future__ import annotations

import io
import json
import random
from pathlib import Path

import jsonschema
import numpy as np
import pytest
from PIL import Image

from leanstep.core.character.document import Character
from leanstep.core.character.files import load
from leanstep.core.character.sheets import Cut, Sheet
from leanstep.core.cut_outs.loading import figures_of, loaded
from leanstep.core.cut_outs.poses import Pose
from leanstep.core.cut_outs.skeleton import Placed, placed, poses_at
from leanstep.core.errors import LeanStepError
from leanstep.core.formats.atlas import Packing, atlas, encoded, written
from leanstep.core.formats.atlas_index import schema
from leanstep.core.sheets.images import CutSheet, load_sheet
from leanstep.core.sheets.scaling import scaled
from tests.support.build import DEMO


def sheets_of(character: Character, folder: Path) -> dict[str, CutSheet]:
    return {sheet.name: load_sheet(sheet, folder) for sheet in character.sheets}


@pytest.fixture
def patches(tmp_path: Path) -> tuple[Character, dict[str, CutSheet]]:
    """A sheet of 8 × 4 cells with a drawing of its own size in each but one; two are the same."""
    pick, pixels = random.Random(3), np.zeros((128, 256, 4), np.uint8)
    for row in range(4):
        for column in range(8):
            width, height = pick.randint(3, 30), pick.randint(3, 30)
            x, y = column * 32 + pick.randint(0, 31 - width), row * 32 + pick.randint(0, 31 - height)
            pixels[y : y + height, x : x + width] = [pick.randrange(256), column * 30, row * 60, 255]
    pixels[:32, :32] = pixels[32:64, :32]
    pixels[96:, 224:] = 0
    Image.fromarray(pixels).save(tmp_path / "patches.png")
    sheet = Sheet(name="patches", image="patches.png", cut=Cut(columns=8, rows=4))
    character = Character(name="Patches", sheets=(sheet,))
    return character, sheets_of(character, tmp_path)


def found_again(packing: Packing, character: Character, sheets: dict[str, CutSheet], enlarge: int = 1) -> float:
    """Put every frame together again from pictures and index; how much of the pictures is filled."""
    pictures, index, filled = atlas(character, sheets, "a", packing, enlarge)
    read = {name: np.asarray(Image.open(io.BytesIO(encoded(one)))) for name, one in pictures.items()}
    taken = {name: np.zeros(one.shape[:2], int) for name, one in read.items()}
    made = json.loads(written(index))
    jsonschema.validate(made, schema())
    assert len(made["frames"]) == sum(len(sheet.frames) for sheet in sheets.values())
    rims = set()
    for one in made["frames"]:
        name, _, number = one["name"].rpartition("/")
        page = made["pages"][one["page"]]
        image = read[page["image"]]
        assert image.shape[:2] == (page["height"], page["width"])
        part = image[one["y"] : one["y"] + one["height"], one["x"] : one["x"] + one["width"]]
        x, y, width, height = one["trim"]
        part = np.rot90(part, 1) if one["rotated"] else part
        whole = np.zeros((one["size"][1], one["size"][0], 4), np.uint8)
        whole[y : y + height, x : x + width] = part
        sheet = sheets[name]
        by = sheet.scale[0] * enlarge, sheet.scale[1] * enlarge
        assert np.array_equal(whole, scaled(sheet.picture(int(number)), by, False))
        foot = sheet.frames[int(number)].foot
        assert one["foot"] == [foot[0] * by[0], foot[1] * by[1]]
        rims.add((page["image"], one["x"], one["y"], one["width"], one["height"]))
    for image_name, x, y, width, height in rims:
        extrude, gap = packing.extrude, packing.padding
        inner = taken[image_name][y - extrude : y + height + extrude, x - extrude : x + width + extrude]
        # not over the edge, and no frame within the padding of another
        assert x >= extrude and y >= extrude and inner.shape == (height + 2 * extrude, width + 2 * extrude)
        near = taken[image_name][
            max(0, y - extrude - gap) : y + height + extrude + gap,
            max(0, x - extrude - gap) : x + width + extrude + gap,
        ]
        assert not near.any()
        inner += 1
    return filled


@pytest.mark.parametrize(
    "packing",
    [
        Packing(),
        Packing(trim=False),
        Packing(padding=0),
        Packing(padding=5, extrude=2),
        Packing(rotate=True),
        Packing(power_of_two=True),
        Packing(largest=70),
        Packing(largest=64, power_of_two=True, rotate=True, extrude=1),
    ],
    ids=str,
)
def test_frames_are_found_again(packing: Packing, patches: tuple[Character, dict[str, CutSheet]]) -> None:
    found_again(packing, *patches)
    pictures, index, _ = atlas(*patches, "a", packing)
    if packing.power_of_two:
        assert all(page.width & (page.width - 1) == 0 == page.height & (page.height - 1) for page in index.pages)
    assert all(max(page.width, page.height) <= packing.largest for page in index.pages)
    assert (len(pictures) > 1) == (packing.largest < 80)
    assert next(iter(pictures)) == ("a.atlas.0.png" if len(pictures) > 1 else "a.atlas.png")


def test_the_rim_of_a_frame_is_repeated_around_it(patches: tuple[Character, dict[str, CutSheet]]) -> None:
    pictures, index, _ = atlas(*patches, "a", Packing(extrude=2))
    (image,) = pictures.values()
    for one in index.frames:
        rim = image[one.y - 2 : one.y + one.height + 2, one.x - 2 : one.x + one.width + 2]
        assert np.array_equal(rim[0], rim[2]) and np.array_equal(rim[:, -1], rim[:, -3])


def test_frames_that_look_the_same_are_there_once(patches: tuple[Character, dict[str, CutSheet]]) -> None:
    _, index, _ = atlas(*patches, "a", Packing())
    one, other = index.frames[0], index.frames[8]
    assert (one.x, one.y) == (other.x, other.y) and one.name != other.name
    empty = index.frames[31]
    assert empty.trim == (0, 0, 1, 1)


@pytest.mark.parametrize("name", ["lamplighter", "ferry-hand", "net-mender-after"])
def test_demos_come_out_whole_and_well_filled(name: str) -> None:
    character = load(DEMO / f"{name}.leanstep")
    sheets = sheets_of(character, DEMO)
    assert found_again(Packing(), character, sheets) > 0.7
    _, index, _ = atlas(character, sheets, "a", Packing())
    for clip, shown in zip(character.clips, index.clips):
        assert [cel.frame for cel in shown.cels] == [f"{clip.sheet_of(cel)}/{cel.frame}" for cel in clip.cels]
        assert [mark.start for mark in shown.marks] == [mark.at for mark in clip.marks]


def test_a_frame_too_large_for_a_picture_is_named(patches: tuple[Character, dict[str, CutSheet]]) -> None:
    with pytest.raises(LeanStepError, match="frame patches/0: with its rim"):
        atlas(*patches, "a", Packing(largest=64, trim=False), 4)
    with pytest.raises(LeanStepError, match="no frames to pack"):
        atlas(patches[0], {}, "a", Packing())


def test_parts_of_figures_are_packed_and_their_poses_said() -> None:
    character = load(DEMO / "harbour-gull.leanstep")
    sheets = {one.name: loaded(one, DEMO, character.sheets) for one in character.sheets}
    _, index, _ = atlas(character, sheets, "a", Packing(), 2, figures_of(sheets))
    (figure,) = index.figures
    frames = {one.name: one for one in index.frames}
    parts = figures_of(sheets)["flap"]
    bones = parts.bones
    assert [part.name for part in figure.parts] == [part.name for part in bones.parts] and len(figure.parts) == 12
    assert len(figure.poses) == sum(len(one.frames) for one in sheets.values() if one.sheet.cut_out is not None)
    # put together as the index says, the joints lie where ours do, twice as far
    for number in (0, 3):
        poses = poses_at(bones, sheets["flap"].sheet.cut_out, number * 3)
        ours = placed(bones, poses)
        theirs: dict[str, Placed] = {}
        for part, pose in zip(figure.parts, figure.poses[f"flap/{number}"]):
            x, y, turn, wide, high = pose
            parent = theirs.get(part.parent, Placed())
            theirs[part.name] = parent.then(part.x, part.y, Pose(x, y, part.turn + turn, wide, high))
            at = bones.number(part.name)
            assert frames[part.frame].foot[0] == 2 * (bones.joints[at][0] - parts.pictures[at].x)
        for one, name in zip(ours, theirs):
            assert (theirs[name].x, theirs[name].y) == pytest.approx((2 * one.x, 2 * one.y), abs=1e-9)
