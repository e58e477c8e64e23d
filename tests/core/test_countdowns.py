"""Countdowns: given a value by the game, they go down by one on every tick."""

from __future__ import annotations

import json

import pytest

from leanstep.core.character.clips import Cel, Clip, Effect, Mark
from leanstep.core.character.document import Character
from leanstep.core.character.files import dump, parse
from leanstep.core.character.graph import State, Transition
from leanstep.core.character.inputs import Parameter
from leanstep.core.character.takes import Change, Take
from leanstep.core.errors import LeanStepError
from leanstep.core.findings.report import check_character
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.takes import rehearse, take_csv, take_from_csv
from tests.support.build import sketch, way

STUN = Parameter(name="stun", kind="whole", max=20, countdown=True)


def hit(*ways: Transition, **more: object) -> Character:
    """A figure that is stunned while a countdown runs."""
    made = ways or (way("a>b", "stun > 0"), way("b>a", "stun = 0"))
    return sketch(*made, parameters=(STUN,), **more)  # type: ignore[arg-type]


def curve(character: Character, *given: tuple[int, float], ticks: int = 10) -> list[float]:
    machine = compile_character(character)
    take = Take(name="t", ticks=ticks, changes=tuple(Change(at=at, set={"stun": value}) for at, value in given))
    return rehearse(machine, take).curve(machine.index["stun"])


def test_it_goes_down_on_the_tick_on_which_it_is_given_too_and_stops_at_0() -> None:
    assert curve(hit(), (2, 3.0), ticks=7) == [0, 0, 2, 1, 0, 0, 0]


def test_the_same_value_given_twice_counts_twice_and_less_is_given_as_well() -> None:
    assert curve(hit(), (0, 4.0), (1, 4.0), (3, 1.0), ticks=5) == [3, 3, 2, 0, 0]


def test_a_stunned_figure_is_free_when_it_has_run_down() -> None:
    machine = compile_character(hit())
    trace = rehearse(machine, Take(name="t", ticks=8, changes=(Change(at=1, set={"stun": 4}),)))
    assert trace.states(0) == [0, 1, 1, 1, 0, 0, 0, 0]


def test_time_that_stands_does_not_count() -> None:
    stops = (Mark(name="stop", at=2.0, effects=(Effect(do="freeze", value=3.0),)),)
    clip = Clip(name="c", sheet="art", loop="once", cels=(Cel(frame=0, ticks=4),), marks=stops)
    character = hit(way("a>b", "stun = 9"), clips=(clip,), states=(State(name="a", clip="c"), State(name="b")))
    assert curve(character, (0, 9.0), ticks=8) == [8, 7, 7, 7, 7, 6, 5, 4]


def test_a_take_of_it_goes_out_and_comes_in() -> None:
    machine = compile_character(hit())
    take = Take(name="t", ticks=6, changes=(Change(at=1, set={"stun": 4.0}), Change(at=2, set={"stun": 4.0})))
    assert take_from_csv(take_csv(machine, take), "t", machine) == take


def test_correct_work_with_a_stun_is_not_warned_about() -> None:
    report = check_character(hit(states=(State(name="a", restful=True), State(name="b"))))
    assert not [one.sentence for one in report.findings if one.severity != "note"]


def test_a_graph_that_flickers_while_nothing_is_given_is_found_and_one_that_needs_it_given_is_not() -> None:
    steady = {one.id for one in check_character(hit(way("a>b", "stun = 0"), way("b>a", "stun = 0"))).findings}
    given = {one.id for one in check_character(hit(way("a>b", "stun > 2"), way("b>a", "stun > 2"))).findings}
    assert "flicker.steady" in steady and "flicker.steady" not in given


def test_its_greatest_value_is_never_there_when_transitions_are_tried() -> None:
    found = check_character(hit(way("a>b", "stun >= 20"), way("a>c", "stun >= 19"), states="a b c")).findings
    assert [one.details["state"] for one in found if one.id == "state.unreachable"] == ["b"]


@pytest.mark.parametrize(
    ("wrong", "reason"),
    [
        ({"kind": "number"}, "only a whole that the game sets can be a countdown"),
        ({"owner": "graph"}, "only a whole that the game sets can be a countdown"),
        ({"min": 2}, "a countdown goes down to 0 and rests there"),
        ({"rest": 3}, "a countdown goes down to 0 and rests there"),
    ],
)
def test_what_cannot_count_is_refused_with_the_way_out(wrong: dict[str, object], reason: str) -> None:
    one = {"name": "stun", "kind": "whole", "max": 20, "countdown": True} | wrong
    made = json.loads(dump(hit())) | {"parameters": [one]}
    with pytest.raises(LeanStepError, match=reason):
        parse(json.dumps(made).encode())
