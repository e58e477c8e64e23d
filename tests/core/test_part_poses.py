"""How a game is told how parts are moved."""

from __future__ import annotations

import json
import shutil
from pathlib import Path

import pytest
from msgspec.structs import replace

from leanstep.core.character.blends import Axis, BlendSpace, Sample
from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.cut_outs import CutOut, CutOutPart, PartKey, Track
from leanstep.core.character.document import Character
from leanstep.core.character.files import load
from leanstep.core.character.graph import State
from leanstep.core.character.inputs import Parameter
from leanstep.core.character.sheets import Cut, Sheet
from leanstep.core.formats.handover import FORMATS
from leanstep.core.formats.handover_source import Source
from leanstep.core.formats.table import encoded
from leanstep.core.graph.compilation import compile_character
from leanstep.core.tick.table import table_of
from leanstep.runtime import Player, Table
from tests.support.build import DEMO, sketch
from tests.support.random_parts import poses_without_art

MOVED = {"low": PartKey(x=4, turn=350, wide=2), "high": PartKey(x=8, y=-2, turn=10)}


def figure(*samples: Sample) -> Character:
    """A wing on a body; it is moved in one way by a clip *low*, and in another by *high*; the body rests."""
    parts = (
        CutOutPart(name="wing", parent="body", joint=(3.0, 2.0)),
        CutOutPart(name="body", joint=(2.0, 2.0)),
    )
    rig = Sheet(name="rig", image="rig.png", size=(8, 4), cut=Cut(columns=2), parts=parts)
    drawn = [
        Sheet(name=name, cut_out=CutOut(of="rig", ticks=6, every=6, tracks=(Track(part="wing", keys=(key,)),)))
        for name, key in MOVED.items()
    ]
    clips = tuple(Clip(name=name, sheet=name, cels=(Cel(frame=0, ticks=6),)) for name in MOVED)
    blend = BlendSpace(name="glide", axes=(Axis(parameter="lean", min=0, max=4),), samples=samples)
    one = sketch(states=(State(name="up", blend="glide"),), clips=clips, blends=(blend,), sheets=(rig, *drawn))
    return replace(one, parameters=(Parameter(name="lean", min=-10, max=10),))


def played(character: Character, lean: float) -> Player:
    machine = compile_character(character)
    assert not machine.faults
    player = Player(Table(json.loads(encoded(table_of(machine, poses_without_art(character))))))
    player.set("lean", lean)
    player.step()
    return player


BOTH = Sample(at=(0.0,), clip="low"), Sample(at=(4.0,), clip="high")


def test_parts_are_mixed_by_weights_with_angles_the_shorter_way() -> None:
    body, wing = played(figure(*BOTH), 1.0).parts()
    assert (body.name, body.x, body.y, body.turn, body.wide, body.high) == ("body", 0, 0, 0, 1, 1)
    # three quarters of the one and a quarter of the other, from 350 by a quarter of 20 degrees
    assert (wing.name, wing.x, wing.y, wing.turn, wing.wide, wing.high) == ("wing", 5, -0.5, 355, 1.75, 1)


def test_beyond_the_outermost_samples_they_are_as_at_these() -> None:
    for lean, name in ((-3.0, "low"), (9.0, "high")):
        _, wing = played(figure(*BOTH), lean).parts()
        key = MOVED[name]
        assert (wing.x, wing.y, wing.turn, wing.wide) == (key.x, key.y, key.turn, key.wide)


def test_what_is_shown_the_other_way_round_does_not_mix() -> None:
    player = played(figure(BOTH[0], replace(BOTH[1], mirrored=True)), 1.0)
    _, wing = player.parts()
    assert (wing.x, wing.turn) == (4, 350) and not player.frames()[0].mirrored


def test_a_table_made_without_poses_has_no_parts_and_is_as_old_as_before() -> None:
    table = table_of(compile_character(figure(*BOTH)))
    assert table.leanstep_table < 7 and "poses" not in table.sections
    assert Player(Table(json.loads(encoded(table)))).parts() == []


def exported(folder: Path) -> tuple[dict[str, bytes], Source]:
    path = folder / "harbour-gull.leanstep"
    source = Source(path, load(path))
    return FORMATS["table"].make(source), source


@pytest.fixture
def gull(tmp_path: Path) -> Path:
    """The demo's gull with its art, in a folder of its own."""
    shutil.copy(DEMO / "harbour-gull.leanstep", tmp_path)
    for sheet in load(tmp_path / "harbour-gull.leanstep").sheets:
        for image in sheet.all_images:
            (tmp_path / image).parent.mkdir(parents=True, exist_ok=True)
            shutil.copy(DEMO / image, tmp_path / image)
    return tmp_path


def test_the_gull_s_table_has_its_poses_and_they_are_those_of_the_atlas(gull: Path) -> None:
    made, source = exported(gull)
    player = Player(Table(json.loads(made["harbour-gull.table.json"])))
    player.step()
    parts = player.parts()
    index = json.loads(FORMATS["atlas"].make(source)["harbour-gull.atlas.json"])
    shown = player.frames()[0].frame
    (one,) = [figure for figure in index["figures"] if shown in figure["poses"]]
    assert [part["name"] for part in one["parts"]] == [part.name for part in parts]
    assert [list(part[2:]) for part in parts] == one["poses"][shown]


def test_without_the_art_the_table_goes_out_without_poses_and_says_so(gull: Path) -> None:
    for sheet in load(gull / "harbour-gull.leanstep").sheets:
        for image in sheet.all_images:
            (gull / image).unlink()
    made, source = exported(gull)
    assert json.loads(made["harbour-gull.table.json"])["leanstep_table"] < 7
    (note,) = [note for note in source.notes if "no poses of parts" in note]
    assert "gull" in note
