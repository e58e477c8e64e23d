"""Names are followed everywhere: renaming, finding users, removing."""

from __future__ import annotations

import pytest

from leanstep.core.character import files
from leanstep.core.character.body import Body, Course, Shape
from leanstep.core.character.clips import Cel, Clip, Effect, Mark, Playback, Span
from leanstep.core.character.document import Character
from leanstep.core.character.graph import State
from leanstep.core.character.inputs import Button, Controls, Parameter, Stick
from leanstep.core.character.takes import Change, Expectation, Take
from leanstep.core.conditions.grammar import parse
from leanstep.core.conditions.printing import text_of
from leanstep.core.errors import LeanStepError
from leanstep.core.findings.report import check_character
from leanstep.core.graph.compilation import compile_character
from leanstep.core.naming.references import Thing, references, things, users
from leanstep.core.naming.removing import left_naming, without
from leanstep.core.naming.renaming import rename, rename_fault
from leanstep.core.naming.wording import place_in_words
from tests.support.build import DEMO, sketch, way

SOUND = files.load(DEMO / "lamplighter.leanstep")

FULL = sketch(
    way("speed run>walk", 'speed < 1 s or not (speed > 2) and in "base"."speed run"'.replace("1 s", "3")),
    way("walk>speed run", "mood = angry or since(\"speed run\") > 1 s or jump buffered 0.1 s"),
    way("lane:low>walk", "span cut and stick.x > 0.5 and haste"),
    states=(
        State(name="speed run", lane="low", clip="run", on_entry=(Effect(do="set", name="drawn"),)),
        State(name="walk", lane="low", expects="speed >= 0 and in base.walk", on_leave=(Effect(do="lock", name="hold"),)),
    ),
    parameters=(
        Parameter(name="speed", min=0, max=8),
        Parameter(name="mood", kind="choice", choices=("calm", "angry"), rest="calm"),
        Parameter(name="drawn", kind="flag", owner="graph"),
        Parameter(name="haste", kind="flag", owner="formula", formula="speed > 3 and not drawn"),
        Parameter(name="at_quay", kind="flag", owner="body"),
    ),
    assumptions=("speed < 7 or mood = calm",),
    controls=Controls(sticks=(Stick(name="stick"),), buttons=(Button(name="jump"),)),
    clips=(
        Clip(
            name="run",
            playback=Playback(parameter="speed"),
            cels=(Cel(frame=0, ticks=9),),
            marks=(Mark(name="step", at=2, effects=(Effect(do="unlock", name="hold"),)),),
            spans=(Span(name="cut", start=1, end=4, hold="drawn"),),
        ),
    ),
    course=Course(shapes=(Shape(kind="zone", name="at_quay"),)),
    body=Body(jump="jump"),
    takes=(
        Take(
            name="a walk",
            ticks=9,
            changes=(Change(at=1, set={"speed": 2.0, "stick.x": 1.0, "mood": "angry", "jump": True}),),
            expects=(Expectation(what="enter", name="walk"), Expectation(what="mark", name="step")),
        ),
    ),
)  # fmt: skip

OTHERS = {"state": "Ärger.x", "clip": "far run", "choice": "furious", "layer": "lower body", "lane": "quay"}


def test_the_character_of_these_tests_has_every_kind_of_thing_and_no_fault() -> None:
    assert {one.kind for one in things(FULL)} == {
        "parameter", "choice", "button", "stick", "clip", "layer", "state", "lane", "take", "mark", "span", "lock"
    }  # fmt: skip
    assert not compile_character(FULL).faults
    assert {one.kind for one in things(SOUND)} >= {"sheet", "blend"}


@pytest.mark.parametrize("thing", things(FULL), ids=lambda one: f"{one.kind} {one.name}")
def test_everything_is_renamed_everywhere_and_back_to_the_byte(thing: Thing) -> None:
    renamed = rename(FULL, thing, OTHERS.get(thing.kind, "quite_another"))
    assert not compile_character(renamed).faults
    assert thing not in {one for place in references(renamed) for one in place.things}
    assert not {one.kind for place in references(renamed) for one in place.things} & {"unknown"}
    new = next(one for one in things(renamed) if one not in things(FULL) and one.kind == thing.kind)
    assert files.dump(rename(renamed, new, thing.name)) == files.dump(FULL)


def test_a_parameter_is_renamed_in_formulas_expectations_effects_holds_and_playback() -> None:
    renamed = rename(FULL, Thing("parameter", "speed"), "pace")
    assert renamed.parameters[3].formula == "pace > 3 and not drawn"
    assert renamed.layers[0].states[1].expects == "pace >= 0 and in base.walk"
    assert renamed.clips[0].playback is not None and renamed.clips[0].playback.parameter == "pace"
    assert renamed.takes[0].changes[0].set["pace"] == 2.0
    assert renamed.layers[0].transitions[0].when == 'pace < 3 or not (pace > 2) and in "base"."speed run"'
    renamed = rename(FULL, Thing("parameter", "drawn"), "out")
    assert renamed.layers[0].states[0].on_entry[0].name == "out" and renamed.clips[0].spans[0].hold == "out"
    assert rename(FULL, Thing("parameter", "at_quay"), "at_pier").course.shapes[0].name == "at_pier"


def test_a_state_is_renamed_in_since_expectations_and_takes() -> None:
    renamed = rename(FULL, Thing("state", "walk", "base"), "amble along")
    assert renamed.layers[0].states[1].expects == 'speed >= 0 and in "base"."amble along"'
    assert renamed.takes[0].expects[0].name == "amble along"
    renamed = rename(FULL, Thing("state", "speed run", "base"), "dash")
    assert "since(dash)" in renamed.layers[0].transitions[1].when


@pytest.mark.parametrize(
    ("name", "text", "after"),
    [
        ("s", "s > 1 and stay > 1 s", "t > 1 and stay > 1 s"),
        ("done", "done > 1 or clip done", "t > 1 or clip done"),
        ("ticks", "ticks > 1 and stay > 3 ticks", "t > 1 and stay > 3 ticks"),
    ],
)
def test_words_of_the_language_are_left_alone(name: str, text: str, after: str) -> None:
    one = Parameter(name=name, min=0, max=8)
    renamed = rename(sketch(way("a>b", text), parameters=(one,)), Thing("parameter", name), "t")
    assert renamed.layers[0].transitions[0].when == after


@pytest.mark.parametrize("state", ["Ärger", "a.b", "-x", "1st", "in", "two words", "x-", "für", "ß"])
def test_names_of_states_are_printed_so_that_they_can_be_read_again(state: str) -> None:
    for layer in ("base", "Ärger", "-"):
        for text in (f'in "{layer}"."{state}"', f'since("{layer}"."{state}") > 1 s', f'since("{state}") > 1 s'):
            assert parse(text_of(parse(text))) == parse(text)


def test_names_that_touch_other_words_stay_apart() -> None:
    tight = sketch(way("a>b", 'not in"base"."far away"for 0.2 s'), states="a b far")
    far = rename(tight, Thing("state", "far", "base"), "far away")
    assert far.layers[0].transitions[0].when == tight.layers[0].transitions[0].when
    near = rename(far, Thing("state", "far away", "base"), "near")
    assert near.layers[0].transitions[0].when == "not in base.near for 0.2 s"


def test_a_name_that_something_else_would_answer_to_is_refused() -> None:
    clash = sketch(
        way("a>b", "mood = other"),
        parameters=(
            Parameter(name="mood", kind="choice", choices=("calm", "angry")),
            Parameter(name="other", kind="choice", choices=("calm", "angry")),
        ),
    )
    fault = rename_fault(clash, Thing("parameter", "other"), "angry")
    assert fault is not None and "the condition of a → b" in fault
    with pytest.raises(LeanStepError, match="still called other"):
        rename(clash, Thing("parameter", "other"), "angry")
    assert "already a button called jump" in str(rename_fault(FULL, Thing("parameter", "speed"), "jump"))
    assert "the body sets it" in str(rename_fault(SOUND, Thing("parameter", "grounded"), "standing"))
    assert rename_fault(FULL, Thing("state", "walk", "base"), "speed") is None


def test_conditions_that_cannot_be_read_are_left_as_they_are() -> None:
    broken = sketch(way("a>b", "speed >> 3"))
    assert rename(broken, Thing("parameter", "speed"), "pace").layers[0].transitions[0].when == "speed >> 3"


def test_who_uses_a_thing_is_said_in_words() -> None:
    said = [place_in_words(FULL, place) for place in users(FULL, Thing("parameter", "drawn"))]
    assert said == ["the formula of haste", "span cut of clip run", "entering speed run"]
    said = [place_in_words(FULL, place) for place in users(FULL, Thing("state", "walk", "base"))]
    assert said == [
        "the expectation of walk",
        "the transition speed run → walk",
        "the transition walk → speed run",
        "the transition every state of lane low → walk",
        "take a walk",
    ]


def test_a_state_goes_with_its_transitions_and_expectations_and_the_start_moves_on() -> None:
    gone = without(SOUND, Thing("state", "idle", "base"))
    layer = gone.layers[0]
    assert layer.start_name == layer.states[0].name == "stride"
    assert "idle" not in {name for one in layer.transitions for name in (one.source, one.to)}
    assert len(layer.states) == len(SOUND.layers[0].states) - 1
    assert without(FULL, Thing("state", "walk", "base")).takes[0].expects == FULL.takes[0].expects[1:]


def test_a_parameter_goes_with_what_sets_it_and_conditions_stay_to_be_mended() -> None:
    gone = without(FULL, Thing("parameter", "drawn"))
    assert not gone.layers[0].states[0].on_entry and gone.clips[0].spans[0].hold == ""
    assert (
        left_naming(without(FULL, Thing("parameter", "drawn")), Thing("parameter", "drawn"))
        == "drawn is still named by the formula of haste."
    )
    gone = without(FULL, Thing("parameter", "speed"))
    assert gone.clips[0].playback is None and "speed" not in gone.takes[0].changes[0].set
    assert "speed is still named by the formula of haste, assumption 1" in left_naming(
        without(FULL, Thing("parameter", "speed")), Thing("parameter", "speed")
    )
    assert left_naming(without(FULL, Thing("lock", "hold")), Thing("lock", "hold")) == ""


@pytest.mark.long(but=4)
@pytest.mark.parametrize("thing", things(FULL), ids=lambda one: f"{one.kind} {one.name}")
def test_what_is_left_after_removing_can_be_saved_and_opened(thing: Thing) -> None:
    if thing.kind in ("state", "layer"):
        pytest.skip("a layer needs states, and a character a layer")
    gone = without(FULL, thing)
    assert thing not in things(gone)
    assert files.parse(files.dump(gone)) == gone
    check_character(gone)


def test_what_nothing_uses_is_a_note() -> None:
    lonely = sketch(
        way("a>b", "speed > 1"),
        way("b>a", "true"),
        clips=(Clip(name="left over"),),
        parameters=(Parameter(name="speed"), Parameter(name="set_only", kind="flag", owner="graph")),
        states=(State(name="a", on_entry=(Effect(do="set", name="set_only"),)), State(name="b")),
    )
    found = {(one.id, one.severity, str(one.details)) for one in check_character(lonely).findings}
    assert ("clip.unused", "note", "{'clip': 'left over'}") in found
    assert [one for one in found if one[0] == "parameter.unread"] == [
        ("parameter.unread", "note", "{'parameter': 'set_only'}")
    ]


def test_a_character_without_anything_has_no_names() -> None:
    assert list(references(Character(body=Body(stick="", jump="", run="")))) == []
