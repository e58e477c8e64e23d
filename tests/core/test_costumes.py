"""Costumes: what is worn when, what is shown instead of what, and what is said of what is wrong with one."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import jsonschema
import numpy as np
import pytest
from msgspec.structs import replace
from PIL import Image

from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.costume_edits import (
    as_they_are,
    in_other_colours,
    part_at,
    stands_for,
    with_colour,
    worn_instead,
)
from leanstep.core.character.costumes import Costume, StandIn
from leanstep.core.character.document import Character
from leanstep.core.character.files import dump, load, parse
from leanstep.core.character.graph import State
from leanstep.core.character.sheets import Cut, Exchange, Sheet
from leanstep.core.character.stand_in_edits import COSTUMES, by_new_choice, place_of, without_place
from leanstep.core.errors import LeanStepError
from leanstep.core.findings.repairs.proving import repair
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Finding
from leanstep.core.formats.atlas_index import schema
from leanstep.core.formats.handover import FORMATS
from leanstep.core.formats.handover_source import Source
from leanstep.core.formats.table import encoded
from leanstep.core.graph.compilation import compile_character
from leanstep.core.naming.references import Thing
from leanstep.core.naming.removing import without
from leanstep.core.naming.renaming import rename
from leanstep.core.rehearsal.drawable import Piece, of_situation, of_state
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.sheets.images import load_sheet
from leanstep.core.sheets.palette import exchanged, palette
from leanstep.core.sheets.recutting import Recut, recut
from leanstep.core.tick.table import table_of
from leanstep.runtime import Player, Table
from tests.support.build import DEMO, sketch, way

CELL = 16


def drawn(folder: Path, name: str, frames: list[tuple[int, int]]) -> Sheet:
    """A sheet of cells in a row with a figure 6 wide and 10 high that stands at x, y (its foot) in each; (0, 0): nothing is drawn."""
    pixels = np.zeros((CELL, CELL * len(frames), 4), np.uint8)
    for number, (x, y) in enumerate(frames):
        if x:
            pixels[y - 10 : y, CELL * number + x - 3 : CELL * number + x + 3] = (90 + number, 60, 40, 255)
    Image.fromarray(pixels).save(folder / f"{name}.png")
    return Sheet(
        name=name,
        image=f"{name}.png",
        size=(CELL * len(frames), CELL),
        cut=Cut(columns=len(frames)),
        foot_rule="drawing",
    )


def keeper(*sheets: Sheet, **costume: Any) -> Character:
    """A figure whose second state shows frames 0 to 3, in a coat by its mood."""
    coat = StandIn(sheet="art", by="coat", **costume.pop("stand_in", {}))
    made = Costume(name="coat", **({"sheets": (coat,), "parameter": "mood", "value": "angry"} | costume))
    clip = Clip(name="walk", sheet="art", cels=tuple(Cel(frame=at, ticks=2.0) for at in range(4)))
    still = Clip(name="still", sheet="art", cels=(Cel(frame=1),))
    states = (State(name="a", clip="still"), State(name="b", clip="walk"))
    ways = way("a>b", "jump pressed"), way("b>a", "not jump")
    return sketch(*ways, states=states, clips=(still, clip), sheets=sheets, costumes=(made,))


def bare(name: str, columns: int = 4) -> Sheet:
    return Sheet(name=name, image=f"{name}.png", size=(64, 16), cut=Cut(columns=columns))


def shown(character: Character, ticks: int = 3, **values: Any) -> list[tuple[str, int]]:
    """What is shown on each tick while values hold."""
    machine = compile_character(character)
    stepper, found = Stepper(machine, free=True), []
    now = stepper.first()
    for _ in range(ticks):
        now = stepper.step(now, {machine.index[name]: value for name, value in values.items()}).situation
        found += [(piece.sheet, piece.frame) for piece in of_situation(machine, now).pieces]
    return found


def found(character: Character, kind: str, folder: Path | None = None) -> list[Finding]:
    return [one for one in check_character(character, folder).findings if one.id == kind]


def test_a_costume_is_worn_while_a_choice_says_so() -> None:
    character = keeper(bare("art"), bare("coat"))
    assert shown(character, 2, mood="calm") == [("art", 1)] * 2
    assert shown(character, 2, mood="angry") == [("coat", 1)] * 2
    # from the first cel of the walk on
    assert shown(character, 5, mood="angry", jump=True) == [
        ("coat", 0),
        *[("coat", 0)],
        *[("coat", 1)] * 2,
        ("coat", 2),
    ]


def test_a_state_wears_its_own_whatever_is_worn_else() -> None:
    character = keeper(bare("art"), bare("coat"), bare("rags"))
    rags = Costume(name="rags", sheets=(StandIn(sheet="art", by="rags"),))
    layer = character.layers[0]
    own = replace(layer, states=(replace(layer.states[0], costume="rags"), layer.states[1]))
    character = replace(character, costumes=(*character.costumes, rags), layers=(own,))
    for mood in ("calm", "angry"):
        assert shown(character, 1, mood=mood) == [("rags", 1)]
    machine = compile_character(character)
    assert of_state(machine, 0, 0).pieces == (Piece("rags", 1, bare=("art", 1)),)
    assert of_state(machine, 0, 1).pieces == (Piece("art", 0),)


def test_what_a_costume_lacks_or_leaves_is_shown_as_it_is_and_other_numbers_are_followed() -> None:
    # two frames only, of which 0 is left as it is and 1 stands at 0; 2 is at 1, and 3 nowhere
    stand_in = {"frames": {"1": 0, "2": 1}, "original": (0,)}
    character = keeper(bare("art"), bare("coat", 2), stand_in=stand_in)
    frames = shown(character, 8, mood="angry", jump=True)[::2]
    assert frames == [("art", 0), ("coat", 0), ("coat", 1), ("art", 3)]


def test_costumes_change_no_trace_and_no_verdict() -> None:
    dressed = keeper(bare("art"), bare("coat"))
    plain = replace(dressed, costumes=())
    one, other = (check_character(character) for character in (dressed, plain))
    assert [fate.free for fate in one.states] == [fate.free for fate in other.states]
    machines = [compile_character(character) for character in (dressed, plain)]
    rows: list[dict[int, float | bool | str]] = [
        {machine.index["mood"]: "angry", machine.index["jump"]: True} for machine in machines
    ]
    steps = [
        Stepper(machine, free=True).step(Stepper(machine, free=True).first(), row)
        for machine, row in zip(machines, rows)
    ]
    assert steps[0] == steps[1]


def test_names_of_costumes_are_followed_and_removed_with_what_needs_them() -> None:
    character = keeper(bare("art"), bare("coat"))
    layer = character.layers[0]
    layers = (replace(layer, states=(replace(layer.states[0], costume="coat"), layer.states[1])),)
    character = replace(character, layers=layers)
    after = rename(character, Thing("costume", "coat"), "winter")
    assert after.costumes[0].name == "winter" and after.layers[0].states[0].costume == "winter"
    after = rename(after, Thing("sheet", "coat"), "wool")
    after = rename(after, Thing("choice", "angry", "mood"), "cold")
    (costume,) = after.costumes
    assert costume.sheets[0].by == "wool" and costume.value == "cold"
    assert parse(dump(after)) == after
    assert without(after, Thing("costume", "winter")).layers[0].states[0].costume == ""
    assert without(after, Thing("sheet", "wool")).costumes[0].sheets == ()


@pytest.mark.parametrize(
    ("sheets", "costume", "says"),
    [
        (("art", "coat"), {"sheets": (StandIn(sheet="art", by="cot"),)}, "there is no sheet called cot"),
        (("art", "coat"), {"sheets": (StandIn(sheet="art", by="art"),)}, "sheet art stands in for itself"),
        (
            ("art", "coat"),
            {"sheets": (StandIn(sheet="art", by="coat"), StandIn(sheet="coat", by="art"))},
            "coat is shown for art, and has a costume itself",
        ),
        (("art", "coat"), {"sheets": (StandIn(sheet="art", by="coat"),) * 2}, "two sheets stand in for art"),
        (("art", "coat"), {"parameter": "lives"}, "lives is no choice, so it is never worn by it"),
        (("art", "coat"), {"parameter": "moods"}, "there is no parameter moods, so it is never worn by it"),
        (("art", "coat"), {"value": "cold"}, "cold is no choice of mood, so it is never worn by it"),
    ],
)
def test_what_cannot_be_worn_is_said_and_the_rest_goes_on(
    sheets: tuple[str, ...], costume: dict[str, Any], says: str
) -> None:
    character = keeper(*map(bare, sheets), **costume)
    assert f"Costume coat: {says}." in [one.sentence for one in found(character, "costume.broken")]
    assert shown(character, 1, mood="calm") == [("art", 1)]
    assert parse(dump(character)) == character


def test_a_sound_costume_has_no_finding_and_one_that_nothing_wears_a_note() -> None:
    assert not [one for one in check_character(keeper(bare("art"), bare("coat"))).findings if "costume" in one.id]
    (one,) = found(keeper(bare("art"), bare("coat"), parameter="", value=""), "costume.unworn")
    assert one.sentence == "Nothing says when costume coat is worn."


def test_frames_that_a_costume_lacks_are_listed_and_can_be_meant_so(tmp_path: Path) -> None:
    art = drawn(tmp_path, "art", [(8, 14)] * 4)
    coat = drawn(tmp_path, "coat", [(8, 14), (0, 0), (8, 14)])
    (one,) = found(keeper(art, coat), "costume.lacks", tmp_path)
    assert one.sentence == "Costume coat lacks frames 1 and 3 of sheet art." and one.details["frames"] == [1, 3]
    made = repair(keeper(art, coat), one, tmp_path)
    assert made is not None and made.character.costumes[0].sheets[0].original == (1, 3)
    assert not found(made.character, "costume.lacks", tmp_path)
    # a whole one lacks nothing
    assert not found(keeper(art, drawn(tmp_path, "coat", [(8, 14)] * 4)), "costume.lacks", tmp_path)


def test_frames_that_stand_elsewhere_or_have_another_size_are_noted(tmp_path: Path) -> None:
    art = drawn(tmp_path, "art", [(8, 14)] * 4)
    aside = drawn(tmp_path, "coat", [(8, 14), (11, 14), (8, 12), (10, 14)])
    (one,) = found(keeper(art, aside), "costume.elsewhere", tmp_path)
    # 3 to the side is told, 2 pixels are not
    assert one.details["frames"] == [1] and "frame 1 of sheet coat is not where" in one.sentence
    made = repair(keeper(art, aside), one, tmp_path)
    assert made is not None and made.character.sheets[1].feet == {"1": (8.0, 14.0)}
    assert not found(made.character, "costume.elsewhere", tmp_path)
    wider = replace(
        drawn(tmp_path, "coat", [(8, 14)] * 4), cut=Cut(way="rects", rects=((0, 0, 16, 16), (16, 0, 20, 16)))
    )
    (one,) = found(keeper(art, wider), "costume.size", tmp_path)
    assert one.details["frames"] == [1]


def test_games_are_told_what_a_costume_shows(tmp_path: Path) -> None:
    art, coat = drawn(tmp_path, "art", [(8, 14)] * 4), drawn(tmp_path, "coat", [(8, 14)] * 3)
    character = keeper(art, coat, stand_in={"original": (2,)})
    made = FORMATS["atlas"].make(Source(tmp_path / "keeper.leanstep", character))
    index = json.loads(made["keeper.atlas.json"])
    jsonschema.validate(index, schema())
    frames = {"art/0": "coat/0", "art/1": "coat/1"}
    assert index["costumes"] == [{"name": "coat", "parameter": "mood", "value": "angry", "frames": frames}]
    assert {"art/3", "coat/2"} <= {one["name"] for one in index["frames"]}
    table = table_of(compile_character(character))
    assert table.leanstep_table == 5
    player = Player(Table(json.loads(encoded(table))))
    told = []
    for mood in ("calm", "angry"):
        player.set("mood", mood)
        player.step()
        frame = player.frame("base")
        told.append(frame.frame if frame is not None else None)
    assert told == ["art/1", "coat/1"]
    # without costumes the table is as old as it was
    assert table_of(compile_character(replace(character, costumes=()))).leanstep_table < 5


# --- edits


def test_a_sheet_stands_in_for_another_in_one_gesture_and_takes_its_layout() -> None:
    new = Sheet(name="wool", image="wool.png", size=(64, 16))
    old = replace(bare("art"), foot=(8.0, 15.0))
    character = worn_instead(replace(keeper(old, new), costumes=()), "wool", "art")
    assert character.costumes == (Costume(name="wool", sheets=(StandIn(sheet="art", by="wool"),)),)
    assert (character.sheets[1].cut, character.sheets[1].foot) == (old.cut, old.foot)
    # what is cut, or of another size, keeps its layout
    other = replace(new, size=(32, 16))
    assert worn_instead(keeper(old, other), "wool", "art").sheets[1] == other
    # put into a costume that is there, and taken out with it
    again = worn_instead(character, "wool", "art", "winter")
    assert [one.name for one in again.costumes] == ["winter"] and place_of(again, COSTUMES, "wool") == (0, 0)
    assert (
        without_place(again, COSTUMES, "wool").costumes == ()
        and place_of(without_place(again, COSTUMES, "wool"), COSTUMES, "wool") is None
    )


def test_numbered_pictures_are_matched_by_their_names() -> None:
    own = Sheet(name="art", image="art/keeper_08.png", images=("art/keeper_09.png", "art/keeper_10.png"))
    other = Sheet(name="coat", image="coat/coat_09.png", images=("coat/coat_10.png", "coat/coat_11.png"))
    character = worn_instead(replace(keeper(own, other), costumes=()), "coat", "art")
    assert character.costumes[0].sheets[0].frames == {"1": 0, "2": 1}


def test_a_costume_is_worn_by_a_new_choice_and_the_next_by_the_same() -> None:
    character = replace(keeper(bare("art"), bare("coat"), bare("rags")), costumes=())
    character = worn_instead(worn_instead(character, "coat", "art", "winter coat"), "rags", "art", "rags")
    character = by_new_choice(by_new_choice(character, 0), 1)
    (made,) = [one for one in character.parameters if one.name == "wears"]
    assert made.choices == ("plain", "winter_coat", "rags")
    assert [(one.parameter, one.value) for one in character.costumes] == [("wears", "winter_coat"), ("wears", "rags")]
    assert not found(character, "costume.broken")
    assert "wears" not in [one.details["parameter"] for one in found(character, "parameter.unread")]
    assert shown(character, 1, wears="rags") == [("rags", 1)] and shown(character, 1, wears="plain") == [("art", 1)]


def test_frames_are_shown_as_they_are_and_stand_in_for_others() -> None:
    character = keeper(bare("art"), bare("coat"))
    kept = as_they_are(character, (0, 0), [1, 3])
    assert part_at(kept, (0, 0)).original == (1, 3)
    assert part_at(as_they_are(kept, (0, 0), [1], on=False), (0, 0)).original == (3,)
    moved = stands_for(character, (0, 0), 3, 1)
    assert part_at(moved, (0, 0)).frames == {"1": 3} and shown(moved, 1, mood="angry") == [("coat", 3)]
    assert part_at(stands_for(moved, (0, 0), 1, 1), (0, 0)).frames == {}


def test_a_new_cut_of_either_sheet_leaves_the_same_drawings_on() -> None:
    character = keeper(bare("art"), bare("coat"), stand_in={"original": (2,)})
    turned = Recut(Cut(columns=4), (64, 16), {0: 1, 1: 0, 2: 3, 3: 2})
    after = recut(character, 0, turned)
    # frame 1 of the art is 0 now, and still shown as frame 1 of the coat
    assert part_at(after, (0, 0)).frames == {"0": 1, "1": 0, "2": 3, "3": 2} and part_at(after, (0, 0)).original == (3,)
    assert shown(after, 1, mood="angry") == [("coat", 1)]
    after = recut(character, 1, turned)
    assert part_at(after, (0, 0)).frames == {"0": 1, "1": 0, "2": 3, "3": 2} and part_at(after, (0, 0)).original == (2,)
    assert shown(after, 1, mood="angry") == [("coat", 0)]


@pytest.mark.long(but=1)
@pytest.mark.parametrize("name", ["lamplighter", "lamplighter-faulty"])
def test_what_is_worn_and_pinned_changes_nothing_that_is_found_of_a_demo(name: str) -> None:
    """By playing as well: hands do not try what only dresses."""
    dressed = load(DEMO / f"{name}.leanstep")
    parameters = tuple(one for one in dressed.parameters if one.name != "wears")
    clips = tuple(
        replace(clip, pins=(), marks=tuple(replace(mark, pin="") for mark in clip.marks)) for clip in dressed.clips
    )
    bare = {"costumes": (), "accessories": (), "parameters": parameters, "sheets": dressed.sheets[:1]}
    plain = replace(dressed, clips=clips, **bare)
    told = [
        [
            one.sentence
            for one in check_character(character).findings
            if one.id.split(".")[0] not in ("costume", "pin", "part")
        ]
        for character in (dressed, plain)
    ]
    assert told[0] == told[1] and len(told[0]) > 5


# --- colours


def test_a_palette_counts_what_is_drawn_and_colours_are_exchanged_all_at_once() -> None:
    pixels = np.zeros((2, 4, 4), np.uint8)
    pixels[0, :3] = (255, 0, 0, 255)
    pixels[1, 0] = (0, 0, 255, 128)
    pixels[1, 1] = (0, 255, 0, 0)
    assert palette(pixels, 9) == [("#ff0000", 0.75), ("#0000ff", 0.25)]
    assert palette(pixels, 1) == [("#ff0000", 0.75)] and palette(pixels[:, 2:] * 0, 9) == []
    # red and blue change places; green is as clear as it was
    turned = exchanged(pixels, (Exchange(was="#ff0000", to="#0000ff"), Exchange(was="#0000ff", to="#ff0000")))
    assert turned[0, 0].tolist() == [0, 0, 255, 255] and turned[1, 0].tolist() == [255, 0, 0, 128]
    assert turned[1, 1].tolist() == [0, 255, 0, 0] and pixels[0, 0].tolist() == [255, 0, 0, 255]


def test_a_costume_of_other_colours_needs_no_image_and_goes_into_the_atlas(tmp_path: Path) -> None:
    art = drawn(tmp_path, "art", [(8, 14)] * 4)
    character, name = in_other_colours(replace(keeper(art, art), sheets=(art,), costumes=()), "art")
    assert name == "art dyed" and character.costumes[0].sheets == (StandIn(sheet="art", by="art dyed"),)
    dyed = with_colour(with_colour(character.sheets[1], "#5a3c28", "#102030"), "#5b3c28", "#102031")
    assert [one.was for one in dyed.colours] == ["#5a3c28", "#5b3c28"]
    assert with_colour(dyed, "#5a3c28", "#5a3c28").colours == (Exchange(was="#5b3c28", to="#102031"),)
    character = replace(character, sheets=(art, dyed))
    seen = [load_sheet(sheet, tmp_path).picture(0)[10, 8].tolist() for sheet in character.sheets]
    assert seen == [[90, 60, 40, 255], [16, 32, 48, 255]]
    made = FORMATS["atlas"].make(Source(tmp_path / "keeper.leanstep", character))
    names = {one["name"] for one in json.loads(made["keeper.atlas.json"])["frames"]}
    assert {"art/0", "art dyed/0"} <= names and parse(dump(character)) == character


def test_what_is_no_colour_is_refused_with_a_way_out() -> None:
    broken = replace(bare("art"), colours=(Exchange(was="#ff0000", to="red"),))
    with pytest.raises(LeanStepError, match="'red' is no colour") as said:
        parse(dump(keeper(broken, bare("coat"))))
    assert said.value.way_out == "Write one like #ff00ff."
