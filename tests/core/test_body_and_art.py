"""The body on its course, the devices, cutting, timing and picking."""

from __future__ import annotations

import itertools
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from leanstep.core.blends.mixing import weights
from leanstep.core.blends.picking import borders, pick
from leanstep.core.blends.space import space_of
from leanstep.core.body.body_state import BodyState, Motion, placed
from leanstep.core.body.records import Steer
from leanstep.core.character.blends import Axis, BlendSpace, Sample
from leanstep.core.character.body import Body, Course, Shape
from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.files import load
from leanstep.core.character.inputs import Button, Controls, Stick
from leanstep.core.character.sheets import Cut, Sheet
from leanstep.core.clips.timing import TICK, seconds, timing
from leanstep.core.errors import LeanStepError
from leanstep.core.findings.report import check_character
from leanstep.core.sheets.cutting import Rect, left_over, rectangles
from leanstep.core.sheets.images import load_sheet
from leanstep.desk.devices import Devices
from tests.support.build import DEMO

BODY = Body()
COURSE = Course(
    shapes=(
        Shape(kind="floor", x=-500, y=-20, width=1000, height=20),
        Shape(kind="floor", x=200, y=0, width=20, height=200),
        Shape(kind="ladder", x=-110, y=0, width=20, height=100),
        Shape(kind="floor", x=-200, y=88, width=120, height=12),
        Shape(kind="zone", x=-30, y=0, width=20, height=50, name="at_lamp"),
    )
)


def walk(state: BodyState, ticks: int, **steering: float | bool) -> list[BodyState]:
    """States after each tick under constant steering."""
    states = []
    for _ in range(ticks):
        state = Motion(BODY, COURSE, 60).step(state, Steer(**steering))  # type: ignore[arg-type]
        states.append(state)
    return states


def test_walking_reaches_walk_speed_and_running_run_speed() -> None:
    start = placed(BODY, COURSE)
    assert start.grounded
    assert walk(start, 40, x=1.0)[-1].vx == BODY.walk_speed
    assert walk(start, 40, x=-1.0, run=True)[-1].vx == -BODY.run_speed
    assert walk(walk(start, 40, x=1.0)[-1], 40)[-1].vx == 0


def test_a_jump_leaves_the_ground_and_lands_on_it() -> None:
    states = walk(placed(BODY, COURSE), 120, jump=True)
    assert not states[0].grounded and states[0].vy > 0
    top = max(state.y for state in states)
    assert 40 < top < 80
    assert states[-1].grounded and states[-1].y == 0
    hop = walk(walk(placed(BODY, COURSE), 3, jump=True)[-1], 60)
    assert max(state.y for state in hop) < top / 2


def test_a_held_jump_button_does_not_jump_again() -> None:
    states = walk(placed(BODY, COURSE), 300, jump=True)
    assert sum(before.grounded and not after.grounded for before, after in itertools.pairwise(states)) == 0


def test_a_wall_stops_the_body_and_facing_does_not_flip_against_it() -> None:
    state = walk(placed(BODY, COURSE), 300, x=1.0)[-1]
    assert state.x == 190 and state.blocked and state.vx == 0
    assert Motion(BODY, COURSE, 60).published(state)["blocked"] is True
    turned = walk(state, 1, x=-1.0)[-1]
    assert turned.facing == -1


def test_a_ladder_is_climbed_to_its_top_and_down_again() -> None:
    start = BodyState(-100.0, 0.0, grounded=True)
    up = walk(start, 200, y=1.0)
    assert up[0].climbing and not up[0].grounded
    assert up[-1].y == 100 and up[-1].grounded
    down = walk(up[-1], 200, y=-1.0)
    assert down[0].climbing
    assert down[-1].y == 0 and down[-1].grounded and not down[-1].climbing


def test_zones_raise_their_flag() -> None:
    assert Motion(BODY, COURSE, 60).published(BodyState(-20.0, 0.0))["at_lamp"] is True
    assert Motion(BODY, COURSE, 60).published(BodyState(20.0, 0.0))["at_lamp"] is False


@pytest.mark.parametrize(("rule", "value"), [("last", 1.0), ("first", -1.0), ("cancel", 0.0)])
def test_opposite_keys_resolve_by_the_rule(rule: str, value: float) -> None:
    stick = Stick(name="stick", left=("Left",), right=("Right",), opposite=rule)  # type: ignore[arg-type]
    devices = Devices(Controls(sticks=(stick,), buttons=(Button(name="jump", keys=("Space", "Z")),)))
    devices.press("Left")
    assert devices.values()["stick.x"] == -1
    devices.press("Right")
    assert devices.values()["stick.x"] == value
    assert devices.press("Z") and not devices.press("Q")
    assert devices.values()["jump"] is True
    devices.let_go()
    assert devices.values() == {"stick.x": 0.0, "stick.y": 0.0, "jump": False}


def test_cut_by_count_and_by_size_give_cells_in_reading_order() -> None:
    by_count = rectangles(Cut(columns=3, rows=2), 30, 20)
    assert by_count[:4] == [Rect(0, 0, 10, 10), Rect(10, 0, 10, 10), Rect(20, 0, 10, 10), Rect(0, 10, 10, 10)]
    by_size = rectangles(Cut(way="size", width=8, height=8, margin=1, gap=2), 30, 20)
    assert by_size == [Rect(x, y, 8, 8) for y in (1, 11) for x in (1, 11, 21)]


@pytest.mark.parametrize(
    ("cut", "said"),
    [
        (Cut(columns=7, rows=1), "2 px are left over. 6 or 10 columns would fit"),
        (Cut(columns=31, rows=1), "cannot be cut into 31 columns"),
        (Cut(way="size", width=8, height=20, columns=4), "4 cells of 8 px .* do not fit into 30 px. 3 would fit"),
        (Cut(way="rects", rects=((25, 0, 6, 6),)), "frame 0 .6 × 6 at 25, 0. lies outside"),
        (Cut(way="size", width=64, height=64), "does not fit into 30 px"),
    ],
)
def test_a_remainder_is_named_before_the_cut(cut: Cut, said: str) -> None:
    with pytest.raises(LeanStepError, match=said):
        rectangles(cut, 30, 20)


def test_cells_of_a_size_leave_the_rest_and_say_how_much() -> None:
    cut = Cut(way="size", width=8, height=8, margin=(2, 1), gap=(1, 4))
    assert rectangles(cut, 30, 20) == [Rect(x, 1, 8, 8) for x in (2, 11, 20)]
    assert left_over(cut, 30, 20) == (0, 11)
    assert rectangles(Cut(way="size", width=8, height=8, columns=2, rows=1), 30, 20) == [
        Rect(x, 0, 8, 8) for x in (0, 8)
    ]


def test_single_cells_of_a_grid_have_rectangles_of_their_own() -> None:
    found = rectangles(Cut(columns=3, rows=1, cells={"1": (8, 2, 14, 18), "9": (0, 0, 1, 1)}), 30, 20)
    assert found == [Rect(0, 0, 10, 20), Rect(8, 2, 14, 18), Rect(20, 0, 10, 20)]


def test_the_foot_is_the_bottom_centre_of_the_drawn_pixels(tmp_path: Path) -> None:
    pixels = np.zeros((20, 20, 4), dtype=np.uint8)
    pixels[4:15, 6:11] = 255
    Image.fromarray(pixels).save(tmp_path / "a.png")
    sheet = load_sheet(Sheet(name="a", image="a.png", size=(20, 20), cut=Cut(columns=1, rows=1)), tmp_path)
    assert sheet.frames[0].foot == (8.5, 15.0)
    assert sheet.usual_height == 11
    assert not load_sheet(Sheet(name="a", image="a.png", foot=(1, 2)), tmp_path).frames[0].empty


@pytest.mark.long
def test_the_demo_art_is_what_its_script_draws(tmp_path: Path) -> None:
    from demo.art import draw

    made = np.asarray(draw.sheet(draw.LAMPLIGHTER, draw.ROWS))
    committed = np.asarray(Image.open(DEMO / "art" / "lamplighter.png").convert("RGBA"))
    assert np.array_equal(made, committed)
    for sheet in load(DEMO / "lamplighter.leanstep").sheets:
        assert not any(frame.empty for frame in load_sheet(sheet, DEMO).frames)


def test_timing_of_once_repeat_and_there_and_back() -> None:
    cels = (Cel(frame=0, ticks=2), Cel(frame=1, ticks=1.5), Cel(frame=2, ticks=1))
    once = timing(Clip(name="c", loop="once", cels=cels))
    assert [once.cel_at(tick * TICK) for tick in range(6)] == [0, 0, 1, 1, 2, 2]
    assert once.step(4 * TICK)[0] == once.length == int(4.5 * TICK)
    repeat = timing(Clip(name="c", loop="repeat", cels=cels))
    assert repeat.step(4 * TICK) == (TICK // 2, True)
    back = timing(Clip(name="c", loop="there-and-back", cels=cels))
    assert back.order == (0, 1, 2, 1)
    assert timing(Clip(name="c")).length == TICK
    assert seconds(Clip(name="c", cels=cels), 60) == pytest.approx(0.075)


def test_a_rail_picks_the_nearest_and_mixes_to_one() -> None:
    blend = BlendSpace(
        name="gait",
        axes=(Axis(parameter="speed", min=0, max=10),),
        samples=(Sample(at=(8,), clip="run"), Sample(at=(2,), clip="walk"), Sample(at=(0,), clip="idle")),
    )
    space = space_of(blend, ())
    assert [pick(space, (value,)) for value in (-1, 0.9, 1.1, 4.9, 5.1, 99)] == [2, 2, 1, 1, 0, 0]
    assert borders(space) == [1, 5]
    for value in np.linspace(-1, 11, 49):
        shares = weights(space, (float(value),))
        assert sum(shares) == pytest.approx(1) and min(shares) >= 0
    assert weights(space, (5,)) == pytest.approx([0.5, 0.5, 0])
    assert pick(space_of(BlendSpace(name="empty"), ()), (1,)) is None


@pytest.mark.long
def test_the_awkward_demo_is_what_its_script_draws_and_is_cut_into_its_drawings(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    from demo.art import awkward

    (tmp_path / "art").mkdir()
    monkeypatch.setattr(awkward, "HERE", tmp_path / "art")
    awkward.main()
    for name in ("net-mender-before.leanstep", "net-mender-after.leanstep"):
        assert (tmp_path / name).read_bytes() == (DEMO / name).read_bytes()
    made, committed = (np.asarray(Image.open(place / "art" / "net-mender.png")) for place in (tmp_path, DEMO))
    assert np.array_equal(made, committed)
    character = load(DEMO / "net-mender-after.leanstep")
    sheet = load_sheet(character.sheets[0], DEMO)
    assert len(sheet.frames) == 12 and not sheet.pixels[0, 0, 3]
    _, feet = awkward.sheet()
    assert [(frame.rect.x + frame.foot[0], frame.rect.y + frame.foot[1]) for frame in sheet.frames] == feet
    assert not [one for one in check_character(character, DEMO).findings if one.severity != "note"]
