"""Cut-outs: parts in parts, keys and easing, reach, mixing, and the pixels that come of it."""

from __future__ import annotations

import hashlib
import math
from pathlib import Path

import msgspec
import numpy as np
import pytest
from PIL import Image

from leanstep.core.character.costume_edits import worn_instead
from leanstep.core.character.cut_outs import CutOut, CutOutPart, PartKey, Reach, ReachKey, Track
from leanstep.core.character.document import Character
from leanstep.core.character.files import dump, load
from leanstep.core.character.sheets import Cut, Sheet
from leanstep.core.character.validation import validate
from leanstep.core.cut_outs.loading import loaded
from leanstep.core.cut_outs.part_pictures import between, continued, within
from leanstep.core.cut_outs.poses import Pose, eased, keyed, mixed
from leanstep.core.cut_outs.skeleton import Skeleton, placed, poses_at, reaching, skeleton
from leanstep.core.errors import LeanStepError
from leanstep.core.findings.repairs.proving import repair
from leanstep.core.findings.report import check_character
from leanstep.core.sheets.images import CutSheet

ORANGE, BLUE = (200, 120, 40, 255), (30, 60, 200, 255)
ARM = ((4.0, 19.0), (23.0, 19.0), (23.0, 31.0), (4.0, 31.0))


@pytest.fixture
def still(tmp_path: Path) -> Path:
    """A folder with the picture of a figure: a body, and an arm that covers some of it."""
    pixels = np.zeros((64, 64, 4), np.uint8)
    pixels[10:60, 20:44] = ORANGE
    pixels[20:30, 5:23] = BLUE
    Image.fromarray(pixels).save(tmp_path / "figure.png")
    return tmp_path


def rig(*parts: CutOutPart) -> Sheet:
    """The picture with parts."""
    return Sheet(name="figure", image="figure.png", cut=Cut(columns=1, rows=1), foot=(32, 60), parts=parts)


BODY = CutOutPart(name="body")
LEFT = CutOutPart(name="arm", outline=ARM, joint=(22, 25), parent="body", behind="body", order=1)


def drawn(still: Path, cut_out: CutOut, *parts: CutOutPart) -> CutSheet:
    """What is drawn of a cut-out."""
    sheets = (rig(*(parts or (BODY, LEFT))), Sheet(name="waving", cut_out=cut_out))
    return loaded(sheets[1], still, sheets)


def chain() -> Skeleton:
    """Three parts, each 10 pixels above the one before."""
    parts = [
        CutOutPart(name="a", joint=(0, 30)),
        CutOutPart(name="b", joint=(0, 20), parent="a"),
        CutOutPart(name="c", joint=(0, 10), parent="b"),
    ]
    return skeleton(parts, {0: (0.0, 30.0)})


# --- worked by hand


def test_turns_of_a_chain_add_up_about_each_joint() -> None:
    lying = placed(chain(), {"a": Pose(turn=90), "b": Pose(turn=-90), "c": Pose(turn=90)})
    # a lies down to the right, so b stands 10 to the right; b stands up again, so c is 10 above that; c points right
    assert (lying[1].x, lying[1].y) == (10.0, 0.0)
    assert (lying[2].x, lying[2].y) == (10.0, 10.0)
    assert lying[2].carried(0.0, 5.0) == (15.0, 10.0)


def test_a_part_is_scaled_first_then_turned_and_what_hangs_on_it_with_it() -> None:
    lying = placed(chain(), {"a": Pose(turn=90, high=2.0), "b": Pose(turn=90)})
    assert (lying[1].x, lying[1].y) == (20.0, 0.0)
    # b points down in the figure; its 10 pixels lie across a, which is not wider
    assert (lying[2].x, lying[2].y) == (20.0, -10.0)


def test_a_chain_under_mirror_and_squash_is_the_mirrored_and_squashed_chain() -> None:
    lying = placed(chain(), {"a": Pose(turn=30), "b": Pose(turn=40), "c": Pose(turn=-100, x=3)})
    other = placed(chain(), {"a": Pose(turn=-30), "b": Pose(turn=-40), "c": Pose(turn=100, x=-3)})
    tip, tip_mirrored = lying[2].carried(0.0, 7.0), other[2].carried(0.0, 7.0)
    assert tip_mirrored == pytest.approx((-tip[0], tip[1]), abs=1e-12)
    # squashed as a whole: what hangs on a part that is squashed before it turns is squashed with it
    under = CutOutPart(name="all")
    parts = [under, *(msgspec.structs.replace(part, parent=part.parent or "all") for part in chain().parts)]
    whole = placed(
        skeleton(parts, {0: (0.0, 30.0)}),
        {"all": Pose(wide=1.5, high=0.5), "a": Pose(turn=30), "b": Pose(turn=40), "c": Pose(turn=-100, x=3)},
    )
    assert whole[3].carried(0.0, 7.0) == pytest.approx((1.5 * tip[0], 0.5 * tip[1]), abs=1e-12)


def legs() -> Skeleton:
    """A thigh and a shin of 10 pixels each, hanging down from 20 above the foot."""
    parts = [CutOutPart(name="thigh", joint=(0, 10)), CutOutPart(name="shin", joint=(0, 20), parent="thigh")]
    return skeleton(parts, {0: (0.0, 30.0)})


def tip_of(target: tuple[float, float], bend: str = "left", **poses: Pose) -> tuple[float, float]:
    """Where the end of the shin comes to lie."""
    reach = Reach(part="shin", tip=(0, 30), bend=bend)  # type: ignore[arg-type]
    made = poses | reaching(legs(), poses, reach, target)
    return placed(legs(), made)[1].carried(0.0, -10.0)


@pytest.mark.parametrize("bend", ["left", "right"])
@pytest.mark.parametrize("target", [(0.0, 0.0), (3.0, 5.0), (-8.0, 12.0), (10.0, 30.0), (0.5, 19.0)])
def test_two_parts_reach_what_is_near_enough_with_either_bend(target: tuple[float, float], bend: str) -> None:
    assert tip_of(target, bend) == pytest.approx(target, abs=1e-9)


def test_the_middle_joint_lies_on_the_side_it_bends_to() -> None:
    knees = {}
    for bend in ("left", "right"):
        reach = Reach(part="shin", tip=(0, 30), bend=bend)
        knees[bend] = placed(legs(), reaching(legs(), {}, reach, (0.0, 8.0)))[1]
    # the line goes down from the hip: to its left is the right of the picture; 12 away, so the knee is 6 down and 8 aside
    assert (knees["left"].x, knees["left"].y) == pytest.approx((8.0, 14.0))
    assert (knees["right"].x, knees["right"].y) == pytest.approx((-8.0, 14.0))


def test_what_is_too_far_is_reached_towards_and_what_is_too_near_from_the_other_side() -> None:
    assert tip_of((30.0, 20.0)) == pytest.approx((20.0, 20.0), abs=1e-9)
    assert tip_of((0.0, 20.0)) == pytest.approx((0.0, 20.0), abs=1e-9)
    parts = [CutOutPart(name="thigh", joint=(0, 10)), CutOutPart(name="shin", joint=(0, 22), parent="thigh")]
    uneven = skeleton(parts, {0: (0.0, 30.0)})
    made = reaching(uneven, {}, Reach(part="shin", tip=(0, 28)), (1.0, 20.0))
    # lengths 12 and 6: no nearer to the hip than 6
    x, y = placed(uneven, made)[1].carried(0.0, -6.0)
    assert (x, y) == pytest.approx((6.0, 20.0), abs=1e-9)


def test_a_foot_stays_where_it_stands_while_the_body_moves() -> None:
    parts = [
        CutOutPart(name="hip", joint=(0, 10)),
        CutOutPart(name="thigh", joint=(0, 10), parent="hip", turn=20),
        CutOutPart(name="shin", joint=(0, 20), parent="thigh", turn=-35),
    ]
    bones = skeleton(parts, {0: (0.0, 30.0)})
    cut_out = CutOut(
        tracks=(Track(part="hip", keys=(PartKey(at=0, y=-2), PartKey(at=30, y=-5, x=3, turn=10, ease="both"))),),
        reaches=(Reach(part="shin", tip=(0, 30), keys=(ReachKey(x=1, y=0),)),),
    )
    for ticks in range(0, 60, 7):
        assert placed(bones, poses_at(bones, cut_out, ticks))[2].carried(0.0, -10.0) == pytest.approx((1, 0), abs=1e-9)


def test_poses_mix_by_weight_and_angles_by_the_shorter_way_across_the_back() -> None:
    one, other = {"a": Pose(turn=170, x=4)}, {"a": Pose(turn=-170, wide=2)}
    made = mixed([one, other], [0.5, 0.5])["a"]
    assert (made.x, made.turn, made.wide) == (2.0, 180.0, 1.5)
    assert mixed([other, one], [0.25, 0.75])["a"].turn % 360 == 175.0
    # half round: clockwise from the first that counts
    assert mixed([{"a": Pose()}, {"a": Pose(turn=180)}], [0.5, 0.5])["a"].turn == 90.0
    assert mixed([one, {}], [0.0, 1.0]) == {}


@pytest.mark.parametrize(("ease", "half"), [("even", 0.5), ("in", 0.25), ("out", 0.75), ("both", 0.5)])
def test_keys_are_eased_and_what_repeats_goes_on_to_the_first(ease: str, half: float) -> None:
    assert eased(0.5, ease) == half  # type: ignore[arg-type]
    keys = (PartKey(at=10, turn=0), PartKey(at=20, turn=40, ease=ease))  # type: ignore[arg-type]
    cut_out = CutOut(ticks=40, tracks=(Track(part="a", keys=keys),))
    assert keyed(cut_out, 15)["a"].turn == 40 * half
    # from tick 20 round the end to 10: thirty ticks, of which fifteen are gone at 35, and twenty-five at 5
    assert keyed(cut_out, 35)["a"].turn == 20
    assert keyed(cut_out, 5)["a"].turn == pytest.approx(40 / 6)
    stays = msgspec.structs.replace(cut_out, repeats=False)
    assert (keyed(stays, 5)["a"].turn, keyed(stays, 35)["a"].turn) == (0, 40)


# --- pixels


def test_what_does_not_move_keeps_its_pixels(still: Path) -> None:
    made = drawn(still, CutOut(of="figure", ticks=6))
    picture, foot = made.picture(0), made.frames[0].foot
    x, y = int(foot[0]) - 32, int(foot[1]) - 60
    source = np.array(Image.open(still / "figure.png"))
    assert (picture[y + 10 : y + 60, x + 5 : x + 44] == source[10:60, 5:44]).all()
    assert len(made.frames) == 1


def test_a_quarter_turn_is_the_turned_pixels(still: Path) -> None:
    keys = (PartKey(turn=90),)
    made = drawn(still, CutOut(of="figure", ticks=6, tracks=(Track(part="arm", keys=keys),)))
    picture, foot = made.picture(0), made.frames[0].foot
    joint = int(foot[0]) - 10, int(foot[1]) - 35
    # the arm lay from 17 to the left of its joint to one to the right, five above and below: now it stands up
    blue = (picture == BLUE).all(axis=2)
    rows, columns = np.nonzero(blue)
    assert (columns.min() - joint[0], columns.max() + 1 - joint[0]) == (-5, 5)
    assert (rows.min() - joint[1], rows.max() + 1 - joint[1]) == (-17, 1)
    assert blue.sum() == 180


def test_what_was_behind_a_part_goes_on_where_it_lies_on_two_sides(still: Path) -> None:
    keys = (PartKey(turn=90),)
    for behind, filled in (("body", True), ("", False)):
        arm = msgspec.structs.replace(LEFT, behind=behind)
        made = drawn(still, CutOut(of="figure", ticks=6, tracks=(Track(part="arm", keys=keys),)), BODY, arm)
        picture, foot = made.picture(0), made.frames[0].foot
        x, y = int(foot[0]) - 32, int(foot[1]) - 60
        assert ((picture[y + 28, x + 21] == ORANGE).all(), bool(picture[y + 28, x + 21, 3])) == (filled, filled)
        assert not picture[y + 27 : y + 30, : x + 20, 3].any()


def test_an_outline_takes_the_pixels_whose_middle_it_holds() -> None:
    mask = within(((1, 1), (4, 1), (4, 3), (1, 3)), 5, 6)
    assert mask.sum() == 6 and mask[1:3, 1:4].all()
    assert within(((0, 0), (4, 0), (0, 4)), 4, 4).sum() == 6
    hole = np.ones((3, 3), np.bool_)
    hole[1, 1] = hole[0, 0] = False
    assert between(hole)[1, 1] and not between(hole)[0, 0]
    lonely = np.zeros((2, 2, 4), np.uint8)
    assert not continued(lonely, np.ones((2, 2), np.bool_)).any()


@pytest.mark.parametrize("smooth", [False, True])
def test_the_same_document_gives_the_same_pixels(still: Path, smooth: bool) -> None:
    keys = (PartKey(at=0), PartKey(at=30, turn=77, wide=1.3, y=3.3, ease="both"))
    cut_out = CutOut(of="figure", ticks=60, every=5, smooth=smooth, tracks=(Track(part="arm", keys=keys),))
    made = drawn(still, cut_out)
    digest = hashlib.sha256(f"{made.pixels.shape}".encode() + made.pixels.tobytes()).hexdigest()[:16]
    assert digest == {False: "4afa07fc02b196a0", True: "02a604d8f61de881"}[smooth]


def test_drawing_compiled_and_as_it_stands_is_the_same(still: Path) -> None:
    from leanstep.core.cut_outs import rendering
    from leanstep.core.jit import plain

    part = np.array(Image.open(still / "figure.png"))[8:40, 4:46].copy()
    part[::3, ::2, 3] = 90
    joints, lying = np.array([20.5, 11.0]), np.array([3.25, -1.5, 0.9, 0.4, -0.38, 1.1])
    size, order = np.array([0, 42, 32], np.int64), np.zeros(1, np.int64)
    stands = plain(rendering)
    for smooth in (False, True):
        made = np.full(34 * 41 * 4, 70, np.uint8)
        rendering.lay_over(
            made, (41, 34), (20.0, 15.5), part.reshape(-1), size, joints, order, lying, smooth, not smooth
        )
        lists = [[70] * made.size, part.reshape(-1).tolist(), size.tolist(), [0] * 4, [0] * 6]
        rows = lying.tolist(), joints.tolist(), lists[2]
        assert stands.look_up(*rows, (20.0, 15.5), (41, 34), not smooth, lists[3], lists[4], 0)
        (stands.lay_smooth if smooth else stands.lay_hard)(lists[0], 41, *lists[1:], 0)
        assert made.tolist() == lists[0] and made.std() > 5


def test_parts_can_lie_on_whole_pixels(still: Path) -> None:
    keys = (PartKey(x=2.4, y=1.6),)
    shown = drawn(
        still, CutOut(of="figure", ticks=6, whole_pixels=True, smooth=True, tracks=(Track(part="body", keys=keys),))
    )
    whole = drawn(still, CutOut(of="figure", ticks=6, tracks=(Track(part="body", keys=(PartKey(x=2, y=2),)),)))
    corner = [
        tuple(np.argwhere(one.picture(0)[:, :, 3])[0] - np.array(one.frames[0].foot[::-1])) for one in (shown, whole)
    ]
    assert corner[0] == corner[1]
    assert set(np.unique(shown.picture(0)[:, :, 3])) == {0, 255}


def test_pictures_of_another_sheet_stand_in(still: Path) -> None:
    pixels = np.array(Image.open(still / "figure.png"))
    pixels[(pixels == BLUE).all(axis=2)] = (250, 0, 0, 255)
    Image.fromarray(pixels).save(still / "red.png")
    red = Sheet(name="red", image="red.png", cut=Cut(columns=1, rows=1))
    keys = (PartKey(), PartKey(at=30, turn=50))
    waving = Sheet(name="waving", cut_out=CutOut(of="figure", tracks=(Track(part="arm", keys=keys),)))
    dressed = Sheet(name="waving red", cut_out=CutOut(like="waving", pictures="red"))
    sheets = (rig(BODY, LEFT), waving, red, dressed)
    one, other = (loaded(sheet, still, sheets) for sheet in (waving, dressed))
    assert len(one.frames) == len(other.frames) == 10
    was = (one.pixels == BLUE).all(axis=2)
    assert (
        was.any() and (other.pixels[was] == (250, 0, 0, 255)).all() and (other.pixels[~was] == one.pixels[~was]).all()
    )


def test_a_costume_of_the_parts_dresses_all_that_is_drawn_from_them(still: Path) -> None:
    pixels = np.array(Image.open(still / "figure.png"))
    pixels[(pixels == BLUE).all(axis=2)] = (250, 0, 0, 255)
    Image.fromarray(pixels).save(still / "red.png")
    red = Sheet(name="red", image="red.png", size=(64, 64))
    made = character(tracks=(Track(part="arm", keys=(PartKey(),)),))
    made = worn_instead(msgspec.structs.replace(made, sheets=(*made.sheets, red)), "red", "figure", "fire")
    (costume,) = made.costumes
    assert [(one.sheet, one.by) for one in costume.sheets] == [("figure", "red"), ("waving", "waving red")]
    shown = loaded(made.sheets[-1], still, made.sheets)
    assert (shown.picture(0) == (250, 0, 0, 255)).all(axis=2).any() and not (shown.picture(0) == BLUE).all(axis=2).any()
    assert not {one.id for one in check_character(made, still).findings if one.severity == "error"}
    # once more changes nothing
    assert worn_instead(made, "red", "figure", "fire").sheets == made.sheets


# --- bad input


def character(*parts: CutOutPart, **fields: object) -> Character:
    """A character whose sheet has parts, and one drawn from it."""
    cut_out = CutOut(**{"of": "figure", **fields})  # type: ignore[arg-type]
    return Character(sheets=(rig(*(parts or (BODY, LEFT))), Sheet(name="waving", cut_out=cut_out)))


def told(made: Character, folder: Path) -> dict[str, str]:
    """The findings about parts, and their sentences."""
    found = check_character(made, folder).findings
    return {one.id: one.sentence for one in found if one.id.startswith(("part.", "sheet."))}


def test_a_sound_cut_out_has_no_findings(still: Path) -> None:
    keys = (PartKey(), PartKey(at=30, turn=9))
    assert not told(character(tracks=(Track(part="arm", keys=keys),)), still)


def test_a_part_that_is_its_own_child_is_told_once_and_mended(still: Path) -> None:
    loop = msgspec.structs.replace(BODY, parent="arm")
    made = character(loop, LEFT)
    assert told(made, still) == {
        "part.broken": "Part body of sheet figure: it hangs on itself: 'body' on 'arm' on 'body'."
    }
    (finding,) = [one for one in check_character(made, still).findings if one.id == "part.broken"]
    mended = repair(made, finding, still)
    assert mended is not None and not told(mended.character, still)


@pytest.mark.parametrize(
    ("changed", "kind", "words"),
    [
        ({"parent": "legs"}, "part.broken", "it hangs on 'legs', which is not there"),
        ({"frame": 7}, "part.broken", "its picture is frame 7, and the sheet has frames 0 to 0"),
        ({"behind": "legs"}, "part.broken", "legs cannot go on under it"),
    ],
)
def test_what_is_wrong_with_a_part_is_told(still: Path, changed: dict[str, object], kind: str, words: str) -> None:
    made = character(BODY, msgspec.structs.replace(LEFT, **changed))
    assert words in told(made, still)[kind]


def test_a_part_with_a_quote_in_its_name_is_told_and_mended(still: Path) -> None:
    made = character(BODY, CutOutPart(name="keeper's arm", parent="keeper's arm"))
    (finding,) = [one for one in check_character(made, still).findings if one.id == "part.broken"]
    assert finding.details["part"] == "keeper's arm"
    mended = repair(made, finding, still)
    assert mended is not None and not mended.character.sheets[0].parts[1].parent


def test_an_image_that_is_gone_is_told_once_however_much_is_drawn_from_it(still: Path) -> None:
    (still / "figure.png").unlink()
    assert list(told(character(), still)) == ["sheet.missing"]


def test_keys_of_nothing_and_too_late_are_told_and_mended(still: Path) -> None:
    tracks = (Track(part="leg", keys=(PartKey(),)), Track(part="arm", keys=(PartKey(), PartKey(at=61, turn=4))))
    made = character(tracks=tracks, reaches=(Reach(part="body", keys=(ReachKey(),)),))
    found = {one.id: one for one in check_character(made, still).findings}
    assert "lasts 60 ticks, and a key of arm lies at tick 61" in found["part.late"].sentence
    for _ in range(3):
        finding = next((one for one in check_character(made, still).findings if one.id.startswith("part.")), None)
        if finding is not None:
            made = repair(made, finding, still).character
    assert made.sheets[1].cut_out == CutOut(of="figure", tracks=(Track(part="arm", keys=(PartKey(),)),))
    assert not told(made, still)


def test_a_sheet_drawn_from_what_is_not_there_says_so(still: Path) -> None:
    assert "it is drawn from 'nobody', which is not there" in told(character(of="nobody"), still)["sheet.parts"]
    made = character(of="waving")
    assert "has no parts" in told(made, still)["sheet.parts"]
    made = character(like="figure")
    assert "drawn like 'figure'" in told(made, still)["sheet.parts"]


@pytest.mark.parametrize(
    "text",
    [
        '"parts": [{"name": "a"}, {"name": "a"}]',
        '"parts": [{"name": "a", "outline": [[1, 2], [3, 4]]}]',
        '"cut_out": {"of": "s", "tracks": [{"part": "a", "keys": [{"at": 4}, {"at": 4}]}]}',
        '"cut_out": {"of": "s", "tracks": [{"part": "a", "keys": [{"turn": 1e999}]}]}',
        '"cut_out": {"of": "s", "tracks": [{"part": "a"}, {"part": "a"}]}',
        '"cut_out": {"of": "s", "ticks": 100000, "every": 1}',
        '"parts": [{"name": "a", "turn": "left"}]',
    ],
)
def test_a_file_that_cannot_be_is_refused_with_a_way_out(tmp_path: Path, text: str) -> None:
    path = tmp_path / "one.leanstep"
    path.write_text('{"leanstep": 1, "sheets": [{"name": "s", ' + text + "}]}", "utf-8")
    with pytest.raises(LeanStepError) as refused:
        load(path)
    assert refused.value.way_out


def test_more_parts_than_can_be_drawn_are_refused(tmp_path: Path) -> None:
    parts = tuple(CutOutPart(name=f"part {number}") for number in range(257))
    with pytest.raises(LeanStepError, match="257 of them are too many"):
        validate(character(*parts), "one")
    validate(character(*parts[:256]), "one")


def test_a_cut_out_is_kept_in_the_file(tmp_path: Path) -> None:
    made = character(tracks=(Track(part="arm", keys=(PartKey(turn=math.pi),)),))
    path = tmp_path / "one.leanstep"
    path.write_bytes(dump(made))
    assert load(path) == made
