"""Paths that end wrong, feet that skate, squashes that stay: found, and mended in one step."""

from __future__ import annotations

import math
from pathlib import Path
from typing import Any

import msgspec
import numpy as np
import pytest
from PIL import Image

from demo.art.draw import SHIN, THIGH
from leanstep.core.character.blends import Axis, BlendSpace, Sample
from leanstep.core.character.body import Body, Course, Shape
from leanstep.core.character.clips import Cel, Clip, Contact, Effect, Key, Mark, Playback, Travel
from leanstep.core.character.deforming import Squash
from leanstep.core.character.document import Character
from leanstep.core.character.files import load
from leanstep.core.character.graph import State
from leanstep.core.character.inputs import Button, Controls, Parameter, Stick
from leanstep.core.character.sheets import Cut, Sheet
from leanstep.core.character.takes import Change, Take  # fmt: skip
from leanstep.core.clips.strides import skating, speeds_of, stride_of
from leanstep.core.findings.repairs.proving import repair
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Finding
from leanstep.core.rehearsal.path_checks import measured
from tests.support.build import DEMO, sketch, way

WALK = Clip(
    name="walk",
    sheet="art",
    cels=tuple(Cel(frame=at, ticks=6) for at in range(8)),
    contacts=(Contact(start=0, end=24, x=15, to=-15), Contact(start=24, end=48, x=15, to=-15)),
)
LEDGE = (Shape(x=-100, y=-10, width=400, height=10), Shape(x=20, y=0, width=60, height=40))


def climber(
    keys: tuple[Key, ...], shapes: tuple[Shape, ...] = LEDGE, marks: tuple[Mark, ...] = (), **travel: Any
) -> Character:
    """A figure that climbs when a button is pressed, with a take of it."""
    climb = Clip(
        name="climb", sheet="art", loop="once", marks=marks, travel=Travel(keys=keys, **travel),
        cels=(Cel(frame=0, ticks=20), Cel(frame=1, ticks=20)),
    )  # fmt: skip
    return sketch(
        way("a>b", "act pressed"),
        way("b>a", "clip done"),
        way("b>a", "jump pressed"),
        states=(State(name="a", clip="rest"), State(name="b", clip="climb")),
        clips=(climb, Clip(name="rest", sheet="art", cels=(Cel(frame=0),))),
        controls=Controls(sticks=(Stick(name="stick"),), buttons=(Button(name="jump"), Button(name="act"))),
        parameters=(Parameter(name="grounded", kind="flag", owner="body"),),
        body=Body(width=10, height=20),
        course=Course(start=(10, 0), shapes=shapes),
        takes=(Take(name="up", ticks=90, changes=(Change(at=3, set={"act": True}), Change(at=5, set={"act": False}))),),
    )


def found(character: Character, kind: str, folder: Path | None = None) -> list[Finding]:
    return [one for one in check_character(character, folder).findings if one.id == kind]


def mended(character: Character, finding: Finding, folder: Path | None = None) -> Character:
    made = repair(character, finding, folder)
    assert made is not None, finding.sentence
    assert not found(made.character, finding.id, folder), made.sentence
    return made.character


def test_a_climb_that_ends_inside_the_wall_is_found_and_made_to_end_on_it() -> None:
    over = (Key(at=20, y=30), Key(at=40, x=9, y=30))
    (one,) = found(climber(over, through=True), "travel.inside")
    assert "ends 4 units inside the wall" in one.sentence and one.verdict == "shown"
    cured = mended(climber(over, through=True), one)
    # made shorter it would end below the edge: it is made higher
    assert cured.clips[0].travel is not None and cured.clips[0].travel.scale_y == pytest.approx(4 / 3, rel=1e-4)


def test_one_that_is_cleared_is_no_finding() -> None:
    clear = climber((Key(at=20, y=44), Key(at=40, x=20, y=44)))
    assert not [one for one in check_character(clear).findings if one.id.startswith("travel.")]


def test_a_climb_that_ends_below_the_edge_is_made_higher() -> None:
    character = climber((Key(at=40, y=32),))
    (one,) = found(character, "travel.short")
    assert "ends 8 units below the edge" in one.sentence
    cured = mended(character, one)
    assert cured.clips[0].travel is not None and cured.clips[0].travel.scale_y == pytest.approx(40 / 32)


def test_a_path_that_a_wall_stops_is_said_with_how_much_is_missing() -> None:
    character = climber((Key(at=40, x=50),))
    (one,) = found(character, "travel.short")
    assert "is stopped 45 units before its end" in one.sentence
    mended(character, one)


def test_a_climb_that_is_left_before_its_mark_gives_control_back() -> None:
    marks = (Mark(name="free", at=30, effects=(Effect(do="unlock", name="climb"),)),)
    character = climber((Key(at=20, y=44), Key(at=40, x=20, y=44)), marks=marks)
    assert not found(character, "travel.short")
    changes = (*character.takes[0].changes, Change(at=20, set={"jump": True}))
    early = msgspec.structs.replace(character, takes=(msgspec.structs.replace(character.takes[0], changes=changes),))
    (one,) = found(early, "travel.short")
    assert "before its mark free gives control back" in one.sentence


def test_a_stride_is_the_way_of_the_contacts_over_their_time() -> None:
    # 30 units in 24 ticks of 1/60 s: 75 units a second, 60 in a pass of 48 ticks
    stride = stride_of(WALK, 60)
    assert stride is not None and stride.speed == pytest.approx(75) and stride.length == pytest.approx(60)
    shown = skating(stride, 100)
    assert (
        shown.share == pytest.approx(1 / 3) and shown.step == pytest.approx(10) and shown.rate == pytest.approx(4 / 3)
    )


def walker(speed: float, clip: Clip = WALK) -> Character:
    speed_axis = Axis(parameter="speed", max=200.0)
    idle = Clip(name="idle", sheet="art", cels=(Cel(frame=0),))
    gait = BlendSpace(
        name="gait", axes=(speed_axis,), samples=(Sample(at=(0.0,), clip="idle"), Sample(at=(speed,), clip="walk"))
    )
    return sketch(
        states=(State(name="a", blend="gait", restful=True),),
        clips=(idle, clip),
        blends=(gait,),
        parameters=(Parameter(name="speed", owner="body", min=0.0, max=200.0),),
    )


def test_feet_that_skate_are_found_with_the_rate_that_stops_them() -> None:
    (one,) = found(walker(100), "clip.slide")
    assert "skate forward by 10.0 units a step, 33% of a stride" in one.sentence and "1.33 times as fast" in one.why
    cured = mended(walker(100), one)
    assert cured.clips[1].playback == Playback(parameter="speed", at=75.0)
    assert not found(walker(80), "clip.slide")
    (slow,) = found(walker(50), "clip.slide")
    assert "skate back" in slow.sentence


def test_a_clip_paced_by_the_speed_is_measured_where_it_plays_as_written() -> None:
    paced = msgspec.structs.replace(WALK, playback=Playback(parameter="speed", at=120.0))
    (one,) = found(walker(100, paced), "clip.slide")
    cured = mended(walker(100, paced), one)
    assert cured.clips[1].playback == Playback(parameter="speed", at=75.0)


def test_feet_are_measured_in_the_drawings_where_marks_say_when_they_step(tmp_path: Path) -> None:
    # two legs: apart by 20 on the marks, together between; a sole is 6 wide
    frames = []
    for apart in (20, 10, 0, 10):
        frame = np.zeros((60, 60, 4), np.uint8)
        frame[10:40, 25:35, 3] = 255
        for at in (-apart // 2, apart // 2):
            frame[40:58, 27 + at : 33 + at, 3] = 255
        frames.append(frame)
    Image.fromarray(np.concatenate(frames, 1)).save(tmp_path / "art.png")
    sheet = Sheet(name="art", image="art.png", cut=Cut(columns=4))
    cels = tuple(Cel(frame=at, ticks=6) for at in (0, 1, 2, 3, 0, 1, 2, 3))
    clip = Clip(name="walk", sheet="art", cels=cels, marks=(Mark(name="step", at=0), Mark(name="step", at=24)))
    character = msgspec.structs.replace(walker(100, clip), sheets=(sheet,))
    (one,) = found(character, "clip.slide", tmp_path)
    # twice 20 units in 48 ticks
    assert one.details["natural"] == pytest.approx(50)


def test_a_drawing_that_drifts_is_pinned_and_its_drift_becomes_the_path(tmp_path: Path) -> None:
    frames = []
    for at in range(5):
        frame = np.zeros((40, 80, 4), np.uint8)
        frame[8:40, 10 + 8 * at : 20 + 8 * at, 3] = 255
        frames.append(frame)
    Image.fromarray(np.concatenate(frames, 1)).save(tmp_path / "art.png")
    sheet = Sheet(name="art", image="art.png", cut=Cut(columns=5), foot=(40, 40))
    clip = Clip(name="dash", sheet="art", loop="once", cels=tuple(Cel(frame=at, ticks=4) for at in range(5)))
    character = sketch(states=(State(name="a", clip="dash", restful=True),), clips=(clip,), sheets=(sheet,))
    (one,) = found(character, "clip.drifts", tmp_path)
    cured = mended(character, one, tmp_path)
    assert cured.clips[0].travel == Travel(keys=tuple(Key(at=4.0 * n, x=8.0 * n) for n in (1, 2, 3, 4)))


def test_a_squash_that_a_mark_leaves_for_good_is_found_and_springs_back() -> None:
    marks = (Mark(name="thud", at=30, effects=(Effect(do="squash", name="flat"),)),)
    held = Squash(name="flat", high=0.6)
    climb = climber((Key(at=20, y=44), Key(at=40, x=20, y=44)), marks=marks)
    character = msgspec.structs.replace(climb, squashes=(held,))
    (one,) = found(character, "squash.stays")
    assert "stays for good" in one.sentence
    cured = mended(character, one)
    assert cured.squashes[0].hold is not None
    ended = (Mark(name="up", at=38, effects=(Effect(do="squash"),)),)
    clips = (msgspec.structs.replace(character.clips[0], marks=(*marks, *ended)), character.clips[1])
    assert not found(msgspec.structs.replace(character, clips=clips), "squash.stays")


def test_samples_whose_paths_disagree_by_a_lot_are_named() -> None:
    fast = msgspec.structs.replace(WALK, travel=Travel(keys=(Key(at=48, x=80),)), contacts=())
    (one,) = found(walker(100, fast), "blend.travel")
    assert "walk travels 100 units/s and idle 0" in one.sentence


def test_a_path_is_measured_against_the_ladder_it_is_for() -> None:
    ladder = Shape(kind="ladder", x=5, y=0, width=10, height=300)
    character = climber((Key(at=20, y=312), Key(at=40, x=14, y=312)), (*LEDGE, ladder))
    sentence = "Goes 14 units ahead and 312 up: clears the 300-unit ladder by 12 units."
    assert measured(character, character.clips[0]) == sentence
    short = climber((Key(at=40, y=296),), (*LEDGE, ladder))
    assert measured(short, short.clips[0]) == "Goes 296 up: ends 4 units below the top of the 300-unit ladder."


def ankles(swing: float, lift: float, back: float) -> float:
    """How far a leg of the demo's figure goes back while it stands, worked out from its bones: from where it comes down to where it
    leaves the ground, half a cycle later."""

    def ahead(phase: float) -> float:
        thigh = swing * math.cos(2 * math.pi * phase) + back
        knee = 5 + lift * 0.22 * math.sin(2 * math.pi * phase) if phase < 0.5 else 6 + lift * math.sin(0)
        return THIGH * math.sin(math.radians(thigh)) + SHIN * math.sin(math.radians(thigh - knee))

    return ahead(0.0) - ahead(0.5)


@pytest.mark.long(but=1)
@pytest.mark.parametrize(("name", "bones", "ticks"), [("walk", (27, 46, 2), 20), ("run", (46, 92, 8), 14)])
def test_the_demos_feet_walk_as_far_as_its_bones_say(name: str, bones: tuple[int, int, int], ticks: int) -> None:
    character = load(DEMO / "lamplighter.leanstep")
    clip = next(one for one in character.clips if one.name == name)
    by_hand = ankles(*bones) / ticks * 60
    stride = stride_of(clip, 60)
    assert stride is not None and stride.speed == pytest.approx(by_hand, rel=0.03)
    (speed,) = speeds_of(character, clip)
    assert abs(skating(stride, speed).share - (speed / by_hand - 1)) < 0.03
    assert not [one for one in found(character, "clip.slide", DEMO) if one.details["clip"] == name]


@pytest.mark.long
@pytest.mark.parametrize(
    ("kind", "words"),
    [
        ("clip.slide", "33% of a stride"),
        ("travel.inside", "ends 4 units inside the wall"),
        ("squash.stays", "stays for good"),
    ],
)
def test_the_twins_faults_of_motion_are_named_and_mended(kind: str, words: str) -> None:
    character = load(DEMO / "lamplighter-faulty.leanstep")
    (one,) = found(character, kind, DEMO)
    assert words in one.sentence
    mended(character, one, DEMO)
