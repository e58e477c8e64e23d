"""Pin points and accessories: where they lie, what turns them, what is shown, and what is said of what is wrong with one."""

from __future__ import annotations

import json
import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from msgspec.structs import replace
from PIL import Image

from leanstep.core.character.clips import Cel, Clip, Mark
from leanstep.core.character.costumes import Costume, StandIn
from leanstep.core.character.document import Character
from leanstep.core.character.files import dump, load, parse
from leanstep.core.character.graph import State
from leanstep.core.character.pin_edits import (
    Spot,
    as_before,
    as_drawn,
    as_shown,
    carried,
    even_between,
    followed,
    spot_at,
    unkeyed,
    with_moved_feet,
)
from leanstep.core.character.pins import Accessory, Pin, PinKey
from leanstep.core.character.sheets import Cut, Sheet
from leanstep.core.clips.events import cel_of_mark
from leanstep.core.errors import LeanStepError
from leanstep.core.findings.repairs.proving import repair
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Finding
from leanstep.core.formats.handover import FORMATS
from leanstep.core.formats.handover_source import Source
from leanstep.core.graph.compilation import compile_character
from leanstep.core.naming.references import Thing
from leanstep.core.naming.removing import left_naming, without
from leanstep.core.naming.renaming import rename
from leanstep.core.rehearsal.drawable import of_cel_number, of_situation
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.takes import rehearse, trace_csv, trace_rows
from leanstep.core.sheets.following import follow
from leanstep.core.sheets.images import load_sheet
from leanstep.core.sheets.pin_guesses import guesses
from leanstep.core.sheets.recutting import Recut, recut
from tests.support.build import DEMO, sketch, way

HAND = Pin(name="hand", keys=(PinKey(cel=0, x=10.0, y=20.0, angle=350.0), PinKey(cel=4, x=14.0, y=12.0, angle=10.0)))


def keeper(pin: Pin = HAND, **more: Any) -> Character:
    """A figure that stands, or walks over five cels with a pin point, to which a moth is pinned."""
    walk = Clip(
        name="walk",
        sheet="art",
        cels=tuple(Cel(frame=at, ticks=2.0) for at in range(5)),
        pins=(pin,),
        marks=(Mark(name="tap", at=4.0, pin="hand"),),
    )
    still = Clip(name="still", sheet="art", cels=(Cel(frame=1),))
    sheet = Sheet(name="art", image="art.png", size=(80, 16), cut=Cut(columns=5))
    moth = Sheet(name="moth", image="moth.png", size=(32, 16), cut=Cut(columns=2))
    made: dict[str, Any] = {
        "states": (State(name="a", clip="still"), State(name="b", clip="walk")),
        "clips": (still, walk),
        "sheets": (sheet, moth),
        "accessories": (Accessory(name="moth", pin="hand", sheet="moth", frame=1),),
    }
    return sketch(way("a>b", "jump pressed"), way("b>a", "not jump"), **(made | more))


def of_kind(character: Character, kind: str, folder: Path | None = None) -> list[Finding]:
    return [one for one in check_character(character, folder).findings if one.id == kind]


# --- where a pin point lies


def test_between_keys_a_pin_point_goes_evenly_and_turns_the_shorter_way() -> None:
    assert [spot_at(HAND, cel).angle for cel in range(6)] == [350.0, 355.0, 0.0, 5.0, 10.0, 10.0]
    assert spot_at(HAND, 1) == Spot(11.0, 18.0, 355.0)
    one = Pin(name="one", keys=(PinKey(cel=2, x=3.0, y=4.0, behind=True),))
    assert {spot_at(one, cel) for cel in range(5)} == {Spot(3.0, 4.0, 90.0, True)}
    # half a turn goes clockwise
    half = Pin(name="half", keys=(PinKey(cel=0, angle=90.0), PinKey(cel=2, angle=270.0)))
    assert spot_at(half, 1).angle == 180.0
    with pytest.raises(ValueError, match="no keys"):
        spot_at(Pin(name="none"), 0)


@pytest.mark.parametrize(
    ("mirrored", "turns", "scale", "tilt", "wanted"),
    [
        (False, 0, (1.0, 1.0), 0.0, (10.0, 20.0, 120.0)),
        (True, 0, (1.0, 1.0), 0.0, (-10.0, 20.0, 240.0)),
        # a quarter clockwise: what was up is right
        (False, 1, (1.0, 1.0), 0.0, (20.0, -10.0, 210.0)),
        (True, 1, (1.0, 1.0), 0.0, (20.0, 10.0, 330.0)),
        (False, 2, (1.0, 1.0), 0.0, (-10.0, -20.0, 300.0)),
        # the direction (sin 120, cos 120) twice as wide
        (False, 0, (2.0, 1.0), 0.0, (20.0, 20.0, math.degrees(math.atan2(2 * math.sqrt(3) / 2, -0.5)))),
        (False, 0, (1.0, 1.0), 90.0, (20.0, -10.0, 210.0)),
        (True, 0, (1.0, 0.5), 90.0, (10.0, 10.0, math.degrees(math.atan2(-math.sqrt(3) / 2, -0.25)) % 360 + 90)),
    ],
)
def test_a_pin_point_goes_through_the_steps_of_the_picture(
    mirrored: bool, turns: int, scale: tuple[float, float], tilt: float, wanted: tuple[float, float, float]
) -> None:
    made = carried(Spot(10.0, 20.0, 120.0), mirrored, turns, scale, tilt)
    assert (made.x, made.y) == pytest.approx(wanted[:2], abs=1e-9)
    assert made.angle == pytest.approx(wanted[2] % 360, abs=1e-9)


def test_what_is_shown_leads_back_to_what_is_drawn() -> None:
    for mirrored in (False, True):
        for turns in range(4):
            cel = Cel(frame=0, mirrored=mirrored, turns=turns)  # type: ignore[arg-type]
            assert as_drawn(as_shown(Spot(10.0, 20.0, 120.0, True), cel), cel) == Spot(10.0, 20.0, 120.0, True)


def test_edits_of_keys() -> None:
    clip = keeper().clips[1]
    assert spot_at(as_before(clip, 0, 3).pins[0], 3) == spot_at(HAND, 2)
    made = even_between(as_before(clip, 0, 3), 0, 1, 4)
    assert [key.cel for key in made.pins[0].keys] == [0, 1, 4]
    assert unkeyed(unkeyed(made, 0, 1), 0, 4).pins[0].keys == HAND.keys[:1]
    gone = unkeyed(unkeyed(clip, 0, 0), 0, 4)
    # without its pin point the mark names none
    assert gone.pins == () and gone.marks[0].pin == ""


def test_pin_points_stay_on_cels_that_are_moved_added_and_taken_out() -> None:
    # cel 1 goes, cels 2 and 3 change places, one is new
    (made,) = followed((HAND,), (0, 3, 2, -1, 4))
    for place, old in ((0, 0), (1, 3), (2, 2), (4, 4)):
        assert spot_at(made, place) == spot_at(HAND, old)
    assert followed((HAND,), range(5)) == (HAND,)
    assert followed((HAND,), (-1,)) == ()


def test_pin_points_stay_on_the_drawings_when_feet_move() -> None:
    clip = keeper().clips[1]
    moved = {frame: (2.0, -3.0) for frame in range(5)}
    made = with_moved_feet(clip, "art", moved).pins[0]
    assert [key.cel for key in made.keys] == [0, 4]
    assert [(spot_at(made, cel).x, spot_at(made, cel).y) for cel in range(5)] == [
        (spot_at(HAND, cel).x - 2.0, spot_at(HAND, cel).y + 3.0) for cel in range(5)
    ]
    some = with_moved_feet(clip, "art", {2: (1.0, 0.0)}).pins[0]
    assert [spot_at(some, cel).x - spot_at(HAND, cel).x for cel in range(5)] == [0.0, 0.0, -1.0, 0.0, 0.0]
    assert with_moved_feet(clip, "moth", moved) is clip


def test_a_pinned_frame_is_followed_when_a_sheet_is_cut_again() -> None:
    character = keeper()
    new = Recut(Cut(columns=2), (32, 16), {0: 1, 1: 0})
    assert recut(character, 1, new).accessories[0].frame == 0


# --- what is pinned


def pieces(character: Character, ticks: int, **values: Any) -> list[tuple[str, int, tuple[float, float], float]]:
    """The pieces of the last of so many ticks while values hold: sheet, frame, where pinned, and turn."""
    machine = compile_character(character)
    assert not machine.faults
    stepper = Stepper(machine, free=True)
    now = stepper.first()
    for _ in range(ticks):
        now = stepper.step(now, {machine.index[name]: value for name, value in values.items()}).situation
    return [(one.sheet, one.frame, one.pinned, one.turn) for one in of_situation(machine, now).pieces]


def test_an_accessory_lies_on_its_pin_point_turned_along_it_and_goes_with_the_clip() -> None:
    # what is drawn to the right (90) is laid along 350: a hundred degrees anticlockwise
    assert pieces(keeper(), 1, jump=True) == [("art", 0, (0.0, 0.0), 0.0), ("moth", 1, (10.0, 20.0), 260.0)]
    assert pieces(keeper(), 3, jump=True)[1] == ("moth", 1, (11.0, 18.0), 265.0)
    # the other clip has no such pin point
    assert [one[0] for one in pieces(keeper(), 1)] == ["art"]


def test_what_is_behind_is_drawn_first_as_the_pin_point_or_the_accessory_says() -> None:
    back = replace(HAND, keys=(replace(HAND.keys[0], behind=True), HAND.keys[1]))
    for order, first in (("pin", "moth"), ("before", "art"), ("behind", "moth")):
        one = replace(keeper().accessories[0], order=order)
        assert pieces(keeper(back, accessories=(one,)), 1, jump=True)[0][0] == first
    assert pieces(keeper(back), 9, jump=True)[0][0] == "art"


def test_an_accessory_is_shown_while_its_condition_holds_and_may_be_a_clip() -> None:
    one = keeper().accessories[0]
    lit = replace(one, shown="hurt or speed > 3")
    assert len(pieces(keeper(accessories=(lit,)), 2, jump=True)) == 1
    assert len(pieces(keeper(accessories=(lit,)), 2, jump=True, speed=4.0)) == 2
    blink = Clip(name="blink", sheet="moth", cels=(Cel(frame=0, ticks=1.0), Cel(frame=1, ticks=2.0, mirrored=True)))
    clips = (*keeper().clips, blink)
    made = keeper(clips=clips, accessories=(replace(one, clip="blink"),))
    # it begins anew with the state
    assert [pieces(made, ticks, jump=True)[1][1] for ticks in (1, 2, 3, 4, 5)] == [0, 1, 1, 0, 1]


def test_previews_show_what_is_pinned_to_a_cel() -> None:
    character = keeper(accessories=(replace(keeper().accessories[0], shown="hurt"),))
    machine = compile_character(character)
    assert len(of_cel_number(machine, character.clips[1], 2).pieces) == 1
    shown = of_cel_number(machine, character.clips[1], 2, every=True).pieces
    assert [one.pinned for one in shown] == [(0.0, 0.0), (12.0, 16.0)]


def test_in_a_costume_what_is_pinned_lies_where_it_lies_without() -> None:
    coat = replace(keeper().sheets[0], name="coat")
    worn = StandIn(sheet="art", by="coat"), StandIn(sheet="moth", by="moths")
    costume = Costume(name="coat", sheets=worn, parameter="mood", value="angry")
    moths = replace(keeper().sheets[1], name="moths")
    machine = compile_character(keeper(sheets=(*keeper().sheets, coat, moths), costumes=(costume,)))
    given: dict[int, bool | float | str] = {machine.index["jump"]: True, machine.index["mood"]: "angry"}
    stepper = Stepper(machine, free=True)
    body, moth = of_situation(machine, stepper.step(stepper.first(), given).situation).pieces
    assert (body.sheet, moth.sheet, moth.to, moth.pinned) == ("coat", "moths", "art", (10.0, 20.0))


# --- marks


def test_a_mark_tells_where_it_fires_in_traces() -> None:
    character = load(DEMO / "lamplighter.leanstep")
    take = character.takes[0]
    trace = rehearse(compile_character(character), replace(take, ticks=60))
    rows = [row for row in trace_rows(trace) if row["marks"] == "whistle"]
    assert rows
    pin = next(one for clip in character.clips if clip.name == "idle" for one in clip.pins if one.name == "mouth")
    clip = next(one for one in character.clips if one.name == "idle")
    spot = spot_at(pin, cel_of_mark(clip, clip.marks[-1]))
    assert rows[0]["places"] == {"whistle": {"pin": "mouth", "x": spot.x, "y": spot.y, "angle": spot.angle}}
    assert json.dumps(rows[0]["places"]).replace('"', '""') in trace_csv(trace)


def test_a_mark_at_the_end_stands_on_the_last_cel() -> None:
    clip = keeper().clips[1]
    assert [cel_of_mark(clip, Mark(name="m", at=at)) for at in (0.0, 1.9, 2.0, 9.9, 10.0, 30.0)] == [0, 0, 1, 4, 4, 4]


# --- what is wrong


def test_what_cannot_be_a_pin_point_is_refused_with_a_way_out() -> None:
    text = json.loads(dump(keeper()))
    for change, says in (
        ({"pins": [{"name": "hand", "keys": [{"angle": "up"}]}]}, "angle"),
        ({"pins": [{"name": "hand", "keys": [{"angle": 360}]}]}, "angle"),
        ({"pins": [{"name": "hand", "keys": []}]}, "no cel"),
        ({"pins": [{"name": "", "keys": [{}]}]}, "may not be empty"),
        ({"pins": [{"name": "hand", "keys": [{"cel": 9}]}]}, "cel 9"),
        ({"pins": [{"name": "hand", "keys": [{"cel": 2}, {"cel": 1}]}]}, "does not come after"),
        ({"pins": [{"name": "hand", "keys": [{}]}] * 2}, "two of them are called 'hand'"),
    ):
        made = {**text, "clips": [text["clips"][0], {**text["clips"][1], **change}]}
        with pytest.raises(LeanStepError) as caught:
            parse(json.dumps(made).encode(), "t")
        assert says in str(caught.value), change


def test_what_is_named_and_not_there_is_said(tmp_path: Path) -> None:
    character = keeper()
    assert not of_kind(character, "pin.missing") and not of_kind(character, "accessory.broken")
    marks = (Mark(name="tap", pin="hnad"),)
    lost = replace(character, clips=(character.clips[0], replace(character.clips[1], marks=marks)))
    (found,) = of_kind(lost, "pin.missing")
    assert "Did you mean hand?" in found.why
    mended = repair(lost, found, None)
    assert mended is not None and mended.character.clips[1].marks[0].pin == ""
    one, broken = character.accessories[0], []
    for change, says in (
        ({"pin": ""}, "pinned to nothing"),
        ({"pin": "foot"}, "no clip has a pin point called foot"),
        ({"sheet": "wing"}, "no sheet called wing"),
        ({"sheet": ""}, "it has no picture"),
        ({"clip": "flap"}, "no clip called flap"),
        ({"clip": "walk"}, "pinned to itself"),
    ):
        (found,) = of_kind(replace(character, accessories=(replace(one, **change),)), "accessory.broken")
        assert says in found.sentence, change
        broken.append(found)
    pixels = np.zeros((16, 80, 4), np.uint8)
    pixels[4:12, 3::16] = 255
    Image.fromarray(pixels).save(tmp_path / "art.png")
    Image.fromarray(pixels[:, :32]).save(tmp_path / "moth.png")
    (found,) = of_kind(replace(character, accessories=(replace(one, frame=7),)), "accessory.broken", tmp_path)
    assert "frame 7 of sheet moth, and that has 2" in found.sentence


@pytest.mark.parametrize("shown", ["stay > 3 ticks", "jump pressed", "clip done", "speed > 1 for 0.2 s", "span cut"])
def test_what_shows_an_accessory_asks_nothing_that_hangs_on_time(shown: str) -> None:
    character = keeper(accessories=(replace(keeper().accessories[0], shown=shown),))
    (fault,) = compile_character(character).faults[:1]
    assert fault.place == {"accessory": "moth"}
    said = [one for one in check_character(character).findings if "Accessory moth, shown" in one.sentence]
    assert said and len(pieces_of_broken(character)) == 1


def pieces_of_broken(character: Character) -> list[str]:
    machine = compile_character(character)
    stepper = Stepper(machine, free=True)
    now = stepper.step(stepper.first(), {machine.index["jump"]: True}).situation
    return [one.sheet for one in of_situation(machine, now).pieces]


def test_names_are_followed() -> None:
    character = rename(keeper(), Thing("pin", "hand"), "paw")
    clip = character.clips[1]
    assert (clip.pins[0].name, clip.marks[0].pin, character.accessories[0].pin) == ("paw", "paw", "paw")
    assert rename(character, Thing("accessory", "moth"), "fly").accessories[0].name == "fly"
    # what is left naming a thing that is removed is said in words
    removed = without(character, Thing("sheet", "moth"))
    assert left_naming(removed, Thing("sheet", "moth")) == "moth is still named by accessory moth."


# --- following


def dotted(places: list[tuple[int, int]], side: int = 96) -> list[np.ndarray]:
    """Pictures of a body that stays, with a spot on an arm at each of these places."""
    made = []
    for x, y in places:
        picture = np.zeros((side, side, 4), np.uint8)
        picture[20:90, 38:58] = (70, 60, 50, 255)
        picture[y - 4 : y + 4, x - 4 : x + 4] = (200, 180, 60, 255)
        picture[y - 1 : y + 1, x - 1 : x + 1] = (20, 20, 20, 255)
        made.append(picture)
    return made


def test_a_spot_is_followed_over_a_body_and_not_where_nothing_is() -> None:
    places = [(30 + 4 * step, 40 + round(10 * math.sin(step / 2))) for step in range(12)]
    pictures, feet = dotted(places), [(48.0, 90.0)] * 12
    found = list(follow(pictures, feet, (30.0, 40.0)))
    assert [(one.x, one.y) for one in found if one is not None] == places[1:]
    assert all(one is not None and one.sure > 0.8 for one in found)
    assert list(follow(pictures, feet, (5.0, 5.0))) == [None] * 11


def test_a_pin_point_is_guessed_on_cels_that_are_mirrored_and_turned(tmp_path: Path) -> None:
    places = [(30, 40), (34, 42), (38, 40), (36, 36)]
    Image.fromarray(np.hstack(dotted(places))).save(tmp_path / "arm.png")
    sheet = Sheet(name="arm", image="arm.png", size=(96 * 4, 96), cut=Cut(columns=4), foot=(48.0, 90.0))
    # what is shown is the same way round: the second cel is a picture of the mirrored figure
    flipped = np.hstack([one[:, ::-1] if at == 1 else one for at, one in enumerate(dotted(places))])
    Image.fromarray(flipped).save(tmp_path / "arm.png")
    pin = Pin(name="hand", keys=(PinKey(cel=0, x=-18.0, y=50.0, angle=30.0),))
    cels = (Cel(frame=0), Cel(frame=1, mirrored=True), Cel(frame=2), Cel(frame=3))
    clip = Clip(name="wave", sheet="arm", cels=cels, pins=(pin,))
    found = guesses(clip, 0, range(4), {"arm": load_sheet(sheet, tmp_path)})
    shown = [as_shown(one.spot, cels[one.cel]) for one in found]
    for one, (x, y) in zip(shown, places[1:], strict=True):
        assert (one.x, one.y) == pytest.approx((x - 48.0, 90.0 - y), abs=1.1)
    assert {round(one.angle) for one in shown} == {30} and found[0].spot.angle == 330.0


@pytest.mark.long
def test_a_pin_point_that_jumps_where_the_drawing_does_not_is_found_and_mended(tmp_path: Path) -> None:
    for name in ("lamplighter", "lamplighter-faulty"):
        character = load(DEMO / f"{name}.leanstep")
        found = of_kind(character, "pin.jump", DEMO)
        assert len(found) == (name == "lamplighter-faulty")
    mended = repair(character, found[0], DEMO)
    assert mended is not None and not of_kind(mended.character, "pin.jump", DEMO)
    at = next(at for at, clip in enumerate(character.clips) if clip.name == "walk")
    right = load(DEMO / "lamplighter.leanstep").clips[at].pins[0]
    one, other = spot_at(mended.character.clips[at].pins[0], 3), spot_at(right, 3)
    assert math.hypot(one.x - other.x, one.y - other.y) < 3
    # a hand that is thrown out and comes back jumps with the drawing
    places = [(30, 40), (31, 40), (60, 20), (31, 40), (30, 40)]
    Image.fromarray(np.hstack(dotted(places))).save(tmp_path / "arm.png")
    sheet = Sheet(name="arm", image="arm.png", size=(96 * 5, 96), cut=Cut(columns=5), foot=(48.0, 90.0))
    keys = tuple(PinKey(cel=at, x=x - 48.0, y=90.0 - y) for at, (x, y) in enumerate(places))
    clip = Clip(
        name="punch", sheet="arm", cels=tuple(Cel(frame=at) for at in range(5)), pins=(Pin(name="fist", keys=keys),)
    )
    punch = sketch(states=(State(name="a", clip="punch"),), clips=(clip,), sheets=(sheet,))
    assert not of_kind(punch, "pin.jump", tmp_path)
    off = replace(clip, pins=(Pin(name="fist", keys=(*keys[:2], replace(keys[1], cel=2, x=12.0, y=5.0), *keys[3:])),))
    assert not of_kind(replace(punch, clips=(off,)), "pin.jump", tmp_path)


def test_the_atlas_tells_pin_points_accessories_and_where_marks_fire() -> None:
    path = DEMO / "lamplighter.leanstep"
    index = json.loads(FORMATS["atlas"].make(Source(path, load(path)))["lamplighter.atlas.json"])
    assert [one["name"] for one in index["accessories"]] == ["lamp", "glow"]
    idle = next(one for one in index["clips"] if one["name"] == "idle")
    assert [one["name"] for one in idle["cels"][0]["pins"]] == ["pole", "mouth"]
    assert idle["marks"][-1]["pin"] == "mouth"
    assert any(one["name"] == "lamp/1" for one in index["frames"])
