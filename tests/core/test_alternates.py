"""Ways of moving: which clip is played instead of which, when, and what is said of what is wrong with one."""

from __future__ import annotations

import random
from pathlib import Path
from typing import Any

import numpy as np
from msgspec.structs import replace
from PIL import Image

from leanstep.core.character.alternate_edits import by_names, lacking, moved_instead
from leanstep.core.character.alternates import Alternate, Instead
from leanstep.core.character.blends import Axis, BlendSpace, Sample
from leanstep.core.character.clips import Cel, Clip, Effect, Mark, Span
from leanstep.core.character.document import Character
from leanstep.core.character.graph import State
from leanstep.core.character.inputs import Parameter
from leanstep.core.character.pins import Pin, PinKey
from leanstep.core.character.sheets import Cut, Sheet
from leanstep.core.character.stand_in_edits import WAYS, by_new_choice, place_of, without_place
from leanstep.core.findings.repairs.proving import repair
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Finding
from leanstep.core.graph.compilation import compile_character
from leanstep.core.naming.references import Thing
from leanstep.core.naming.removing import without
from leanstep.core.naming.renaming import rename
from leanstep.core.rehearsal.engine.engine import Engine
from leanstep.core.rehearsal.engine.engine_trace import EngineTrace
from leanstep.core.rehearsal.stepping import Stepper, shown
from tests.property.test_engine_against_plain import anything
from tests.support.build import sketch, way
from tests.support.random_characters import moving_character


def clip(name: str, cels: int, ticks: float = 2.0, **more: Any) -> Clip:
    return Clip(name=name, sheet="art", cels=tuple(Cel(frame=at, ticks=ticks) for at in range(cels)), **more)


GAIT = Parameter(name="gait", kind="choice", choices=("usual", "lame", "loaded"))


def keeper(*alternates: Alternate, clips: tuple[Clip, ...] = (), **more: Any) -> Character:
    """A figure that stands, and walks while jump is held: 4 cels of 2 ticks, or lamely 6 cels of 3."""
    own = (clip("still", 1), clip("walk", 4), clip("limp walk", 6, 3.0), clip("carry walk", 4))
    sheet = Sheet(name="art", image="art.png", size=(128, 16), cut=Cut(columns=8))
    made: dict[str, Any] = {
        "states": (State(name="a", clip="still"), State(name="b", clip="walk")),
        "clips": (*own, *clips),
        "sheets": (sheet,),
        "alternates": alternates or (LIMP,),
    }
    character = sketch(way("a>b", "jump"), way("b>a", "not jump"), **(made | more))
    return replace(character, parameters=(*character.parameters, GAIT))


LIMP = Alternate(name="limp", clips=(Instead(clip="walk", by="limp walk"),), parameter="gait", value="lame")


def played(character: Character, *gaits: str) -> list[tuple[str, int]]:
    """The clip and cel shown on each tick of walking, while the gait is each of these."""
    machine = compile_character(character)
    assert not machine.faults
    stepper, found = Stepper(machine, free=True), []
    now = stepper.first()
    for gait in gaits:
        now = stepper.step(now, {machine.index["jump"]: True, machine.index["gait"]: gait}).situation
        seen = shown(machine.pictures[0][now.states[0]], now.picks[0], now.playheads[0], now.values)
        assert seen is not None
        found.append(seen)
    return found


def of_kind(character: Character, kind: str, folder: Path | None = None) -> list[Finding]:
    return [one for one in check_character(character, folder).findings if one.id == kind]


def test_a_way_of_moving_is_chosen_by_a_choice_on_entry_and_on_every_tick() -> None:
    assert played(keeper(), *["usual"] * 3) == [("walk", 0), ("walk", 0), ("walk", 1)]
    assert played(keeper(), *["lame"] * 5)[-1] == ("limp walk", 1)
    # the share of the length is kept: after 4 of 8 ticks at half of 18, and one more
    gaits = ["usual"] * 5 + ["lame"]
    assert played(keeper(), *gaits)[-2:] == [("walk", 2), ("limp walk", 3)]
    # what nothing stands in for is played as it is
    loaded = Alternate(name="carry", clips=(Instead(clip="still", by="limp walk"),), parameter="gait", value="loaded")
    assert played(keeper(LIMP, loaded), "loaded", "loaded")[-1][0] == "walk"


def test_the_first_way_that_is_chosen_counts_and_a_state_has_its_own() -> None:
    carry = Alternate(name="carry", clips=(Instead(clip="walk", by="carry walk"),), parameter="gait", value="lame")
    assert played(keeper(LIMP, carry), "lame")[0][0] == "limp walk"
    assert played(keeper(carry, LIMP), "lame")[0][0] == "carry walk"
    states = (State(name="a", clip="still"), State(name="b", clip="walk", alternate="carry"))
    assert {played(keeper(LIMP, carry, states=states), gait)[0][0] for gait in GAIT.choices} == {"carry walk"}
    # one that nothing chooses is nowhere
    nobody = replace(LIMP, parameter="", value="")
    assert played(keeper(nobody), "lame")[0][0] == "walk"


def test_blend_spaces_pick_among_the_stand_ins() -> None:
    run, limp_run = clip("run", 3), clip("limp run", 5)
    samples = (Sample(at=(0.0,), clip="walk"), Sample(at=(8.0,), clip="run", mirrored=True))
    space = BlendSpace(name="gaits", axes=(Axis(parameter="speed", min=0, max=8),), samples=samples)
    both = replace(LIMP, clips=(*LIMP.clips, Instead(clip="run", by="limp run")))
    states = (State(name="a", clip="still"), State(name="b", blend="gaits"))
    character = keeper(both, clips=(run, limp_run), blends=(space,), states=states)
    machine = compile_character(character)
    picture = machine.pictures[0][1]
    assert picture is not None and picture.each == 2 and len(picture.reels) == 4
    stepper = Stepper(machine, free=True)
    now, found = stepper.first(), []
    for gait, speed in (("usual", 0.0), ("usual", 9.0), ("lame", 9.0), ("lame", 0.0)):
        given: dict[str, bool | str | float] = {"jump": True, "gait": gait, "speed": speed}
        now = stepper.step(now, {machine.index[name]: value for name, value in given.items()}).situation
        found.append((picture.reels[now.picks[0]].clip.name, picture.mirrors(now.picks[0])))
    assert found == [("walk", False), ("run", True), ("limp run", True), ("limp walk", False)]


def test_the_compiled_engine_moves_as_the_plain_one() -> None:
    moved = 0
    for seed in range(30):
        machine, rng = compile_character(moving_character(seed)), random.Random(seed)
        moved += any(picture is not None and picture.moved for row in machine.pictures for picture in row)
        changes = anything(rng, machine, 80)
        stepper, tape = Stepper(machine, True), EngineTrace(Engine(machine, True))
        list(tape.play(changes, 80))
        now = stepper.first()
        for tick in range(80):
            step = stepper.step(now, {index: value for at, index, value in changes if at == tick})
            assert repr(tape[tick]) == repr(step), (seed, tick)
            now = step.situation
    assert moved > 12


def test_edits() -> None:
    character = keeper(replace(LIMP, parameter="", value=""))
    assert place_of(character, WAYS, "limp walk") == (0, 0) and place_of(character, WAYS, "walk") is None
    assert lacking(character, 0) == ["still"]
    made = moved_instead(character, "carry walk", "walk")
    assert [(one.name, one.clips) for one in made.alternates][1:] == [
        ("carry walk", (Instead(clip="walk", by="carry walk"),))
    ]
    # a clip stands in for one at a time; a way that has nothing left is gone
    again = moved_instead(made, "limp walk", "still", "carry walk")
    assert [one.name for one in again.alternates] == ["carry walk"] and len(again.alternates[0].clips) == 2
    assert without_place(character, WAYS, "limp walk").alternates == ()
    chosen = by_new_choice(character, 0, "alternates")
    assert chosen.parameters[-1].choices == ("usual", "limp")
    assert (chosen.alternates[0].parameter, chosen.alternates[0].value) == ("moves", "limp")


def test_clips_are_matched_by_their_names() -> None:
    clips = (clip("run fast", 2), clip("limping run fast", 2), clip("still limp", 1), clip("still limping sadly", 1))
    states = (State(name="a", clip="still"), State(name="b", clip="walk"), State(name="c", clip="run fast"))
    character = keeper(replace(LIMP, clips=()), clips=clips, states=states)
    assert by_names(character, 0) == {"walk": "limp walk", "run fast": "limping run fast", "still": "still limp"}


def test_names_are_followed_and_what_is_removed_goes() -> None:
    character = rename(keeper(), Thing("clip", "limp walk"), "hobble")
    assert character.alternates[0].clips[0].by == "hobble"
    states = (State(name="a", clip="still"), State(name="b", clip="walk", alternate="limp"))
    character = rename(keeper(states=states), Thing("alternate", "limp"), "lame one")
    assert character.layers[0].states[1].alternate == character.alternates[0].name == "lame one"
    assert without(character, Thing("alternate", "lame one")).layers[0].states[1].alternate == ""
    assert without(character, Thing("clip", "limp walk")).alternates[0].clips == ()


def test_what_cannot_be_is_said_with_the_way_out() -> None:
    assert not [one for one in check_character(keeper()).findings if one.id.startswith("alternate")]
    for change, says in (
        ({"clips": (Instead(clip="walk", by="limp wlak"),)}, "Did you mean limp walk?"),
        ({"clips": (Instead(clip="walk", by="walk"),)}, "stands in for itself"),
        ({"clips": (*LIMP.clips, Instead(clip="walk", by="carry walk"))}, "two clips stand in for walk"),
        ({"parameter": "speed"}, "speed is no choice"),
        ({"parameter": "pace"}, "no parameter pace"),
        ({"value": "limping"}, "limping is no choice of gait"),
    ):
        (found,) = of_kind(keeper(replace(LIMP, **change)), "alternate.broken")
        assert says in f"{found.sentence} {found.why}", change
    states = (State(name="a", clip="still", costume="cape"), State(name="b", clip="walk", alternate="lipm"))
    told = [one.sentence for one in of_kind(keeper(states=states), "name.unknown")]
    assert told == [
        "State a: no costume is called cape.",
        "State b: no way of moving is called lipm. Did you mean limp?",
    ]
    (found,) = of_kind(keeper(replace(LIMP, parameter="", value="")), "alternate.unused")
    assert "Nothing says when limp" in found.sentence


def test_a_stand_in_without_what_states_wait_for_is_found_and_mended() -> None:
    effect = Effect(do="raise", name="thump")
    marks = Mark(name="swing", at=6.0, effects=(effect,), pin="hand"), Mark(name="step", at=2.0)
    pins = (Pin(name="hand", keys=(PinKey(),)),)
    walk = clip("walk", 4, pins=pins, marks=marks, spans=(Span(name="cut", start=4.0, end=6.0),))
    short = clip("limp walk", 2)
    clips = (clip("still", 1), walk, short, clip("carry walk", 4))
    ways = (way("a>b", "jump"), way("b>a", "span cut and not jump"))
    character = replace(sketch(*ways, states=keeper().layers[0].states, clips=clips, sheets=keeper().sheets))
    thump = Parameter(name="thump", kind="pulse", owner="graph")
    kept = [one for one in character.parameters if one.name != "thump"]
    character = replace(character, parameters=(*kept, thump, GAIT), alternates=(LIMP,))
    (found,) = of_kind(character, "alternate.lacks")
    assert found.sentence == (
        "limp walk stands in for walk and lacks its mark swing and span cut, and is over after 4 ticks, before tick 6."
    )
    mended = repair(character, found, None)
    assert mended is not None and not of_kind(mended.character, "alternate.lacks")
    # it has no such pin point
    assert {mark.name: (mark.at, mark.pin) for mark in mended.character.clips[2].marks}["swing"] == (3.0, "")


def test_other_lengths_in_a_blend_space_and_other_feet_are_told(tmp_path: Path) -> None:
    run = clip("run", 4)
    samples = (Sample(at=(0.0,), clip="walk"), Sample(at=(8.0,), clip="run"))
    space = BlendSpace(name="gaits", axes=(Axis(parameter="speed", min=0, max=8),), samples=samples)
    states = (State(name="a", clip="still"), State(name="b", blend="gaits"))
    character = keeper(clips=(run,), blends=(space,), states=states)
    (found,) = of_kind(character, "alternate.length")
    assert "are of several lengths: limp walk 18 and run 8 ticks" in found.sentence
    same = replace(LIMP, clips=(Instead(clip="walk", by="carry walk"),))
    assert not of_kind(replace(character, alternates=(same,)), "alternate.length")
    pixels = np.zeros((16, 128, 4), np.uint8)
    for cel in range(8):
        pixels[4 : 15 if cel < 4 else 8, cel * 16 + 5 : cel * 16 + 11] = 255
    Image.fromarray(pixels).save(tmp_path / "art.png")
    sheet = replace(character.sheets[0], foot=(8.0, 15.0))
    high = Clip(name="limp walk", sheet="art", cels=(Cel(frame=5), Cel(frame=6)))
    clips = tuple(high if one.name == "limp walk" else one for one in character.clips)
    (found,) = of_kind(replace(character, sheets=(sheet,), clips=clips), "alternate.foot", tmp_path)
    assert "limp walk stands 7 px higher than walk" in found.sentence
    assert not of_kind(replace(character, sheets=(sheet,), alternates=(same,)), "alternate.foot", tmp_path)
