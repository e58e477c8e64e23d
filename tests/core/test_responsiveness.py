"""How soon presses show: counted in characters whose answer is plain, and held against a budget."""

from __future__ import annotations

from typing import Any

import pytest
from msgspec.structs import replace

from leanstep.core.character.body import Body
from leanstep.core.character.clips import Cel, Clip, Phase
from leanstep.core.character.document import Character
from leanstep.core.character.edits import change
from leanstep.core.character.files import load
from leanstep.core.character.graph import State
from leanstep.core.character.inputs import Button, Controls, Parameter, Stick
from leanstep.core.character.takes import Change, Take
from leanstep.core.findings.report import check_character
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.responsiveness import Response, in_words, responses
from leanstep.core.rehearsal.takes import rehearse
from tests.support.build import DEMO, sketch, way


def figure(*ways: Any, states: tuple[State, ...] = (), **more: Any) -> Character:
    """A figure with one button, each of whose states shows a clip of its own."""
    states = states or (State(name="a", restful=True), State(name="b"))
    drawn = tuple(replace(one, clip=one.name) for one in states)
    clips = tuple(Clip(name=one.name, loop="once", cels=(Cel(frame=at, ticks=8.0),)) for at, one in enumerate(states))
    return sketch(
        *ways,
        states=drawn,
        clips=clips,
        controls=Controls(sticks=(Stick(name="stick"),), buttons=(Button(name="act"),)),
        body=Body(jump="", run="", acceleration=6000.0, braking=6000.0),
        takes=(Take(name="stands", ticks=30),),
        **more,
    )


def tried(character: Character) -> dict[tuple[str, str], Response]:
    machine = compile_character(character)
    traces = {take.name: rehearse(machine, take) for take in character.takes}
    return {(one.button, one.state): one for one in responses(machine, traces)}


def test_a_press_that_is_taken_shows_on_its_own_tick_and_the_stick_is_obeyed_at_once() -> None:
    found = tried(figure(way("a>b", "act pressed"), way("b>a", "clip done")))[("act", "a")]
    assert (found.pictures, found.steering, found.eaten) == ((1,) * found.tries, (1,) * found.tries, 0)
    assert in_words(found.pictures) == "1" and in_words((1, 2, 9)) == "1 to 9, mostly 2" and in_words(()) == ""


def test_ticks_are_those_a_wind_up_and_a_lock_take() -> None:
    states = (State(name="a", restful=True), State(name="b", hold_still=True))
    character = figure(way("a>b", "act held for 5 ticks"), way("b>a", "stay >= 12 ticks"), states=states)
    found = tried(character)[("act", "a")]
    assert set(found.pictures) == {5}, "the press is the first of the five ticks"
    before = figure(way("a>b", "act pressed"), way("b>a", "stay >= 12 ticks"), states=states)
    locked = tried(before)[("act", "a")]
    # on the press the body still moves; held against the plain count: pushed either way it stands alike from the next tick on
    assert set(locked.steering) == {1} and set(locked.pictures) == {1}


def test_an_action_tells_when_it_first_hits() -> None:
    plain = figure(way("a>b", "act pressed"), way("b>a", "clip done"))
    cut = replace(plain.clips[1], phases=(Phase(start=5, end=7),))
    found = tried(replace(plain, clips=(plain.clips[0], cut)))[("act", "a")]
    # entered on the tick of the press, which is 1, it is active five ticks later
    assert set(found.hits) == {6} and found.texts[3] == "6"
    assert tried(plain)[("act", "a")].hits == ()


def test_what_eats_a_press_is_said() -> None:
    ready = Parameter(name="ready", kind="flag")
    found = tried(figure(way("a>b", "act pressed and ready"), way("b>a", "clip done"), parameters=(ready,)))
    one = found[("act", "a")]
    assert one.eaten == one.tries and not one.pictures and one.why == "it asks for: ready is on"
    unread = tried(figure(way("a>b", "ready"), way("b>a", "clip done"), parameters=(ready,)))[("act", "a")]
    assert unread.why == "nothing asks for it here"


def test_later_than_the_budget_is_a_finding_whose_witness_shows_it() -> None:
    character = figure(way("a>b", "act held for 9 ticks"), way("b>a", "clip done"))
    assert not [one for one in check_character(character).findings if one.id == "button.late"]
    button = ("controls", "buttons", 0)
    (found,) = [
        one for one in check_character(change(character, button, within=0.1)).findings if one.id == "button.late"
    ]
    assert found.sentence == "Pressed in a, act shows after 9 ticks; 6 are allowed." and found.severity == "warning"
    assert found.witness is not None and found.witness.begins is not None
    trace = rehearse(compile_character(character), found.witness)
    assert [run.start for run in trace.ribbon(0)][1] == 8, "on the ninth tick the other state begins"
    allowed = change(character, button, within=0.15)
    assert not [one for one in check_character(allowed).findings if one.id == "button.late"]


@pytest.mark.long
def test_in_the_demo_a_jump_is_quick_on_the_ground_and_the_lamp_asks_for_its_place() -> None:
    found = tried(load(DEMO / "lamplighter.leanstep"))
    assert found[("jump", "idle")].pictures[0] == 1 and found[("jump", "light")].late > 20
    assert found[("light", "idle")].why == "it asks for: at_lamp is on"
    assert found[("jump", "over")].why == "movement is locked"


@pytest.mark.parametrize(
    "take",
    [
        Take(name="free", ticks=20, world="free"),
        Take(name="held", ticks=20, changes=(Change(at=0, set={"act": True}),)),
    ],
)
def test_takes_without_a_body_and_buttons_that_are_held_already_tell_nothing(take: Take) -> None:
    character = replace(figure(way("a>b", "act pressed"), way("b>a", "clip done")), takes=(take,))
    assert ("act", "b") not in tried(character) or take.name == "free"
    assert not tried(replace(character, takes=()))
