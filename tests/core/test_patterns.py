"""Patterns put into characters: what they make is sound, alone and two by two; what is there already is used; names are followed."""

from __future__ import annotations

import os
from itertools import combinations
from pathlib import Path

import msgspec
import pytest
from msgspec.structs import replace

from leanstep.core.character.clips import Cel, Clip, Phase
from leanstep.core.character.document import Character
from leanstep.core.character.edits import change
from leanstep.core.character.files import dump, load, parse
from leanstep.core.character.graph import State, Transition
from leanstep.core.character.inputs import Button, Parameter
from leanstep.core.character.starting import empty
from leanstep.core.defaults import TICKS
from leanstep.core.errors import LeanStepError
from leanstep.core.findings.report import check_character
from leanstep.core.naming.references import Thing
from leanstep.core.naming.renaming import rename
from leanstep.core.patterns.gallery import built_in, forget, gallery, keep
from leanstep.core.patterns.inserting import insert, open_parameters, open_slots, refusal, with_takes
from leanstep.core.patterns.keeping import pattern_of
from leanstep.core.patterns.meaning import found, meaning
from leanstep.core.patterns.slots import EMPTY, Fill, Row, guesses, part_of
from leanstep.core.work import Work
from tests.support.build import DEMO

NAMED = {one.name: one for one in built_in()}
WALK, JUMP, DIAL = NAMED["Stand, walk, run"], NAMED["Jump in four parts"], NAMED["Eight directions"]
LONG = bool(os.environ.get("LEANSTEP_LONG"))
PAIRS = [(one, other) for one, other in combinations(NAMED, 2)]


def with_patterns(*names: str, start: Character | None = None) -> Character | None:
    """A character with patterns put in one after the other; None where one is for another model of the body."""
    document = start or empty()
    for name in names:
        if refusal(document, NAMED[name]) is not None:
            return None
        document = with_takes(insert(document, NAMED[name], 0, {}))
    return document


def wrong(document: Character, play: int = 0) -> list[str]:
    report = check_character(document, work=Work(play=play))
    assert report.complete
    return [f"{one.id}: {one.sentence}" for one in report.findings if one.severity != "note"]


def states(document: Character) -> list[str]:
    return [state.name for state in document.layers[0].states]


def ways(document: Character) -> list[tuple[str, str, str]]:
    return [(one.source or f"@{one.from_lane}", one.to, one.when) for one in document.layers[0].transitions]


@pytest.mark.long(but=3)
@pytest.mark.parametrize("name", list(NAMED))
def test_a_pattern_alone_is_sound_and_takes_what_it_needs(name: str) -> None:
    made = with_patterns(name)
    assert made is not None and not wrong(made, TICKS)
    again = insert(made, NAMED[name], 0, {})
    assert again.document == made and not again.states, "nothing is doubled"
    assert parse(dump(made)) == made


@pytest.mark.long
@pytest.mark.parametrize("first", list(NAMED))
def test_two_patterns_are_sound_together(first: str) -> None:
    tried = 0
    for one, other in PAIRS:
        orders = [(one, other), (other, one)] if LONG else [(one, other)]
        for pair in orders if one == first else ():
            made = with_patterns(*pair)
            if made is not None:
                tried += 1
                # what only playing for long comes to is not looked for
                assert not [one for one in wrong(made, 20_000 if LONG else 2000) if ".unreached" not in one], pair
    assert tried or first in (DIAL.name, list(NAMED)[-1])


def test_states_and_clips_of_the_same_meaning_are_used_and_not_doubled() -> None:
    names = {"idle": "standing", "walk": "Walking"}
    base = with_patterns("Stand, walk, run")
    assert base is not None
    for old, new in names.items():
        base = rename(base, Thing("state", old, "base"), new)
    made = insert(base, JUMP, 0, {})
    assert made.merged == ("standing", "Walking", "run")
    assert states(made.document) == ["standing", "Walking", "run", "take-off", "rise", "fall", "land"]
    assert ("land", "Walking", "speed > 12 and stay >= 0.1 s") in ways(made.document)
    assert made.document.layers[0].states[:3] == base.layers[0].states, "what was there stays as it was"
    assert [clip.name for clip in made.document.clips] == ["idle", "walk", "run", "take-off", "rise", "fall", "land"]


def test_a_pattern_goes_by_what_steers_the_body_and_leaves_other_things_of_its_names_alone() -> None:
    start = empty()
    start = rename(start, Thing("button", "jump"), "leap")
    start = change(start, (), parameters=(*start.parameters, Parameter(name="strike", kind="flag")))
    made = insert(start, NAMED["Strike in a string of three"], 0, {}).document
    assert [one.name for one in made.controls.buttons] == ["leap", "run", "strike_2"]
    assert ("@ground", "strike 1", "strike_2 pressed and grounded") in ways(made) and not wrong(made)
    taken = change(empty(), ("controls",), buttons=(Button(name="wave", keys=("X",)),))
    made = insert(taken, NAMED["Strike in a string of three"], 0, {}).document
    assert made.controls.buttons[-1] == Button(name="strike"), "a key that is taken is not taken twice"


def test_a_way_that_is_there_stays_as_it_is() -> None:
    layer = empty().layers[0]
    mine = (State(name="idle", lane="ground", restful=True), State(name="walk", lane="ground"))
    own = (
        Transition(source="idle", to="walk", when="speed > 30"),
        Transition(source="walk", to="idle", when="speed < 9"),
    )
    start = change(empty(), ("layers", 0), states=mine, transitions=own)
    made = insert(start, WALK, 0, {}).document
    assert made.layers[0].transitions[:2] == own and len(ways(made)) == 4 and layer.name == made.layers[0].name


def test_speeds_and_boxes_fit_the_body() -> None:
    start = change(empty(), ("body",), walk_speed=140.0, run_speed=330.0, height=104.0)
    made = insert(start, WALK, 0, {}).document
    assert ("idle", "walk", "speed > 24 and stay >= 0.1 s") in ways(made)
    assert ("walk", "run", "speed > 250 and stay >= 0.1 s") in ways(made)
    crouch = insert(start, NAMED["Crouch with room above"], 0, {}).document.layers[0].states[-1]
    assert crouch.box == (20.0, 60.0) and crouch.cap == 60.0
    slow = change(empty(), ("body",), walk_speed=0.0, run_speed=0.0)
    assert not [one for one in wrong(insert(slow, WALK, 0, {}).document) if "unreadable" in one]


def test_one_for_the_other_model_of_the_body_is_refused_with_a_sentence() -> None:
    above = with_patterns("Eight directions")
    assert above is not None and above.body.model == "above", "an empty character takes its model"
    before = dump(above)
    with pytest.raises(LeanStepError, match="seen from the side, and this one is seen from above"):
        insert(above, JUMP, 0, {})
    assert dump(above) == before
    walking = with_patterns("Stand, walk, run")
    assert walking is not None
    drawn = change(walking, ("clips", 0), sheet="art")
    assert refusal(drawn, DIAL) == "it is for a body seen from above, and this one is seen from the side"
    with pytest.raises(LeanStepError, match="it is no pattern"):
        insert(empty(), empty(), 0, {})


def test_slots_are_guessed_by_name_by_part_and_by_motion() -> None:
    clips = (
        Clip(name="Stand", sheet="a", cels=(Cel(frame=3),)),
        Clip(name="jump", sheet="a", cels=tuple(Cel(frame=n) for n in range(6))),
    )
    document = change(empty(), (), clips=clips)
    slots = open_slots(document, JUMP, 0)
    guessed = guesses(slots, document, ())
    assert guessed == {
        "idle": Fill(clip="Stand"),
        "take-off": Fill(sheet="a", frames=(0,)),
        "rise": Fill(sheet="a", frames=(1, 2)),
        "fall": Fill(sheet="a", frames=(3, 4)),
        "land": Fill(sheet="a", frames=(5,)),
    }
    rows = [Row("s", (0, 1), 0.5), Row("s", (2, 3), 0.1), Row("s", (4, 5), 0.6), Row("s", (6, 7), 0.3, used=True)]
    by_row = guesses(["run", "walk", "idle", "slide"], empty(), rows)
    assert [by_row[name].frames for name in ("idle", "walk", "run", "slide")] == [(2, 3), (0, 1), (4, 5), ()]
    assert guesses(["climb"], empty(), ()) == {"climb": EMPTY}
    for count in range(1, 9):
        parts = [part_of(slot, range(count)) for slot in ("take-off", "rise", "fall", "land")]
        assert all(parts) and set().union(*map(set, parts)) == set(range(count)), (
            "every frame is shown, and every part shows one"
        )
    assert part_of("climb", range(4)) is None


def test_an_empty_slot_keeps_its_time_and_is_listed_once_and_a_clip_of_one_frame_will_do() -> None:
    made = insert(empty(), JUMP, 0, {"take-off": Fill(sheet="a", frames=(7,))})
    assert made.empty == ("idle", "rise", "fall", "land")
    clips = {clip.name: clip for clip in made.document.clips}
    assert clips["take-off"].cels == (Cel(frame=7, ticks=6.0),) and clips["land"].undrawn
    (note,) = [one for one in check_character(made.document).findings if one.id == "clip.undrawn"]
    assert note.sentence == "Clips idle, rise, fall and land have times and no drawings yet."


def test_spans_and_phases_of_a_slot_come_to_the_clip_that_fills_it() -> None:
    blow = Clip(name="blow", sheet="a", loop="once", cels=tuple(Cel(frame=n, ticks=10) for n in range(4)))
    document = change(empty(), (), clips=(blow,))
    made = insert(document, NAMED["Strike in a string of three"], 0, {"strike 1": Fill(clip="blow")}).document
    spans = {one.name: (one.start, one.end) for one in made.clips[0].spans}
    assert spans == {"link": (18.0, 40.0)} and not [one for one in wrong(made) if "link" in one]
    assert made.clips[0].phases == (Phase(start=12.0, end=22.0),)
    # what is there already stays
    own = (Phase(start=30.0, end=33.0),)
    other = change(empty(), (), clips=(msgspec.structs.replace(blow, phases=own),))
    kept = insert(other, NAMED["Strike in a string of three"], 0, {"strike 1": Fill(clip="blow")}).document
    assert kept.clips[0].phases == own


def test_a_parameter_of_the_game_that_could_be_meant_is_asked_for() -> None:
    start = change(empty(), (), parameters=(*empty().parameters, Parameter(name="ouch", kind="pulse")))
    hurt = NAMED["Hurt and stun"]
    assert open_parameters(start, hurt) == {"hit": ["ouch"], "stunned": ["ouch"]}
    made = insert(start, hurt, 0, {}, {"hit": "ouch"}).document
    assert ("@", "hurt", "ouch") in ways(made) and [one.name for one in made.parameters][-1] == "stunned"
    assert not open_parameters(empty(), hurt)


def test_states_of_a_demo_are_kept_as_a_pattern_with_slots_and_put_in_elsewhere(tmp_path: Path) -> None:
    demo = load(DEMO / "lamplighter.leanstep")
    made = pattern_of(demo, 0, ["take-off", "rise", "fall", "land"], "leap")
    assert made.pattern is not None and {"idle", "climb"} <= set(made.pattern.joins)
    assert not made.sheets and not made.takes and all(clip.undrawn for clip in made.clips)
    assert {clip.name for clip in made.clips} == {"take-off", "rise", "fall", "land"}
    path = keep(made, tmp_path)
    assert keep(made, tmp_path) != path, "one of the same name does not write over it"
    kept = load(path)
    into = insert(empty(), kept, 0, {})
    assert set(into.states) == {"take-off", "rise", "fall", "land"} and "climb" not in states(into.document)
    assert [way for way in ways(into.document) if "idle" in way], "it joins what is there"
    assert not [one for one in wrong(into.document) if one.startswith(("name", "condition"))]
    shown, faults = gallery(tmp_path)
    assert len(shown) == len(NAMED) + 2 and not faults
    forget(path)
    (tmp_path / "torn.leanstep").write_text("{")
    shown, faults = gallery(tmp_path)
    assert len(shown) == len(NAMED) + 1 and [one.thing for one in faults] == ["torn.leanstep"]
    named = rename(kept, Thing("state", "idle", "base"), "standing")
    assert named.pattern is not None and "standing" in named.pattern.joins


@pytest.mark.long
@pytest.mark.parametrize("demo", ["lamplighter", "net-mender-after"])
def test_patterns_go_into_the_demos_without_an_error(demo: str) -> None:
    document = load(DEMO / f"{demo}.leanstep")
    before = {one.sentence for one in check_character(document, work=Work(seconds=20)).findings}
    for pattern in built_in():
        if refusal(document, pattern) is None and pattern.name != "Slide with a cooldown":
            made = insert(document, pattern, 0, {}).document
            assert made.takes == document.takes and made.clips[: len(document.clips)] != ()
            new = [one for one in check_character(made, work=Work(seconds=20)).findings if one.sentence not in before]
            assert not [one.sentence for one in new if one.severity == "error"], pattern.name


def test_a_character_without_a_layer_and_one_with_a_course_get_what_belongs_there() -> None:
    bare = replace(empty(), layers=())
    made = insert(bare, NAMED["Ladder"], 0, {}).document
    assert states(made) == ["idle", "climb"] and not wrong(made)
    shapes = made.course.shapes
    assert [one.kind for one in shapes] == ["floor", "ladder", "floor"]
    both = insert(made, NAMED["Wall slide"], 0, {}).document
    assert both.course.shapes[:3] == shapes and len(both.course.shapes) == 5
    wall, ground = both.course.shapes[4], both.course.shapes[3]
    assert wall.y == ground.y + ground.height and ground.x < wall.x < ground.x + ground.width


def test_names_mean_the_same_however_they_are_written() -> None:
    assert found("take-off", ["Take Off", "fall"]) == "Take Off" and meaning("Jump_Rise") == "rise"
    assert found("walk", ["stride", "walk"]) == "walk" and found("dash", ["idle"]) is None


def test_takes_of_a_pattern_come_with_it_where_they_do_what_they_expect() -> None:
    made = with_patterns("Strike in a string of three")
    assert made is not None and [take.name for take in made.takes] == ["two strikes", "three strikes"]
    assert all(take.expects for take in made.takes)
    frozen = change(
        empty(), ("layers", 0), states=(State(name="door", restful=True), *empty().layers[0].states), start="door"
    )
    locked = with_takes(insert(frozen, NAMED["Strike in a string of three"], 0, {}))
    assert not locked.takes, "where it begins elsewhere they show nothing"
