"""Directions: how they are worked out, written in conditions, stepped and proved."""

from __future__ import annotations

import math
import random

import pytest

from leanstep.core.bearings import across, along, bearing_of, in_words, reduced, turn
from leanstep.core.character.clips import Effect
from leanstep.core.character.files import parse as read
from leanstep.core.character.graph import State
from leanstep.core.character.inputs import Controls, Parameter, Stick
from leanstep.core.character.takes import Change, Take
from leanstep.core.conditions.grammar import parse
from leanstep.core.conditions.printing import reading, text_of
from leanstep.core.conditions.scope import scope_of
from leanstep.core.errors import LeanStepError
from leanstep.core.findings.report import check_character as check
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.situation import Setting
from leanstep.core.rehearsal.step_trace import spread
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.takes import rehearse
from tests.support.build import sketch, way

HEADING = Parameter(name="heading", kind="bearing")
AIM = Parameter(name="aim", kind="bearing", owner="graph", start=10)
STICK = Controls(sticks=(Stick(name="stick"),))


def true_at(text: str, heading: float) -> bool:
    machine = compile_character(sketch(way("a>b", text), parameters=(HEADING,)))
    assert not machine.faults
    return Stepper(machine, free=True).step(Stepper(machine).first(), {0: heading}).situation.states == (1,)


def test_the_bearing_of_a_vector_is_exact_in_the_main_directions_and_close_elsewhere() -> None:
    ways = [(0, 1), (0.3, 0.3), (1, 0), (7, -7), (0, -2), (-1, -1), (-0.1, 0), (-5, 5)]
    assert [bearing_of(*one) for one in ways] == [0, 45, 90, 135, 180, 225, 270, 315]
    rng = random.Random(4)
    for _ in range(2000):
        x, y = rng.uniform(-1, 1), rng.uniform(-1, 1)
        assert abs(turn(bearing_of(x, y), math.degrees(math.atan2(x, y)) % 360)) < 1e-11
        angle = rng.uniform(0, 360)
        assert math.isclose(across(angle), math.sin(math.radians(angle)), abs_tol=1e-14)
        assert math.isclose(along(angle), math.cos(math.radians(angle)), abs_tol=1e-14)
    assert bearing_of(-1e-30, 1) == 0 and [reduced(value) for value in (360, -90, 725, -1e-20, math.nan)] == [
        0,
        270,
        5,
        0,
        0,
    ]


def test_the_shorter_way_round_is_never_more_than_half_a_circle() -> None:
    assert [turn(*pair) for pair in ((350, 10), (10, 350), (0, 180), (180, 0), (90, 90))] == [20, -20, 180, 180, 0]


@pytest.mark.parametrize(
    ("text", "inside", "outside"),
    [
        ("heading between 315 and 45", [0, 315, 45, 359.9], [46, 180, 314.9]),
        ("heading between 45 and 315", [45, 180, 315], [0, 44.9, 315.1]),
        ("heading between -45 and 405", [0, 315, 45], [90, 270]),
        ("heading = 450", [90], [89.9]),
        ("turn(heading, 90) > 10", [0, 350, 79], [80, 90, 180, 260]),
        ("abs(turn(heading, 0)) <= 20", [0, 20, 340], [21, 180]),
    ],
)
def test_conditions_about_a_direction_wrap_round(text: str, inside: list[float], outside: list[float]) -> None:
    assert all(true_at(text, value) for value in inside)
    assert not any(true_at(text, value) for value in outside)
    assert text_of(parse(text_of(parse(text)))) == text_of(parse(text))


@pytest.mark.parametrize(
    ("text", "reason"),
    [
        ("heading > 90", "heading is a direction, which is neither more nor less"),
        ("heading + 5 > 90", "nothing is added to it; write turn"),
        ("turn(heading) > 5", "turn takes two bearings"),
        ("heading = speed", "speed is a number; a direction is a bearing"),
        ("heading", "heading is a bearing: compare it"),
    ],
)
def test_what_makes_no_sense_for_a_direction_is_refused_with_the_way_out(text: str, reason: str) -> None:
    character = sketch(parameters=(HEADING, Parameter(name="speed", min=0, max=5)))
    compiled, faults = scope_of(character).compile(text, 0)
    assert compiled is None and reason in faults[0].sentence


def test_to_a_full_circle_is_only_up_and_a_warning_says_so() -> None:
    compiled, (fault,) = scope_of(sketch(parameters=(HEADING,))).compile("heading between 0 and 360", 0)
    assert compiled is not None and fault.id == "value.impossible" and "360 is the same direction as 0" in fault.reason


def test_turn_can_still_be_a_name() -> None:
    character = sketch(parameters=(Parameter(name="turn", min=0, max=5),))
    assert scope_of(character).compile("turn > 2", 0)[1] == []


def test_a_condition_about_a_direction_is_read_by_way_of_what() -> None:
    assert (
        reading(parse("heading between 315 and 45"), {"heading"})
        == "when heading is between up-left and up-right, by way of up"
    )
    assert reading(parse("stick.bearing = 100")) == "when stick.bearing is 10° clockwise of right"
    assert reading(parse("abs(turn(facing, heading)) > 90")) == "when the angle between facing and heading is above 90"
    assert in_words(350) == "10° anticlockwise of up"


def test_a_bearing_with_a_range_is_refused() -> None:
    text = '{"leanstep": 1, "parameters": [{"name": "heading", "kind": "bearing", "max": 90}]}'
    with pytest.raises(LeanStepError, match="goes all the way round"):
        read(text.encode(), "figure")


def test_effects_set_and_add_the_wrapping_way_and_formulas_are_taken_modulo_the_circle() -> None:
    entry = (Effect(do="add", name="aim", value=-20), Effect(do="set", name="back", value=450))
    parameters = (
        AIM,
        Parameter(name="back", kind="bearing", owner="graph"),
        HEADING,
        Parameter(name="seen", kind="bearing", owner="formula", formula="turn(heading, aim)"),
    )
    states = (State(name="a"), State(name="b", on_entry=entry))
    machine = compile_character(sketch(way("a>b", "seen between 170 and 190"), states=states, parameters=parameters))
    assert not machine.faults
    step = Stepper(machine, free=True).step(Stepper(machine).first(), {2: 190.0})
    assert step.situation.values[:4] == (350.0, 90.0, 190.0, 160.0)


def played(takes: list[Setting], ticks: int, free: bool) -> list[tuple[object, ...]]:
    machine = compile_character(sketch(parameters=(), controls=STICK))
    stepper = Stepper(machine, free)
    now, found = stepper.first(), []
    for row in spread(takes, ticks):
        now = stepper.step(now, row).situation
        found.append(now.values[2:])
    return found  # type: ignore[return-value]


def test_a_stick_says_how_far_and_where_to_and_keeps_the_direction_when_let_go() -> None:
    assert played([(0, 0, 0.0), (1, 0, -1.0), (1, 1, 1.0), (3, 0, 0.0), (3, 1, 0.0)], 4, False) == [
        (0.0, 90.0),
        (1.0, 315.0),
        (1.0, 315.0),
        (0.0, 315.0),
    ]


def test_in_the_free_world_a_direction_counts_once_the_stick_is_pushed() -> None:
    machine = compile_character(sketch(parameters=(), controls=STICK))
    changes = (Change(at=0, set={"stick.bearing": 45.0}), Change(at=2, set={"stick.push": 0.5}))
    trace = rehearse(machine, Take(name="t", ticks=4, world="free", changes=changes))
    assert [row[2:] for row in trace.values()] == [(0.0, 90.0), (0.0, 90.0), (0.5, 45.0), (0.5, 45.0)]


def verdict(character: object, layer_state: str) -> set[str]:
    return {one.id for one in check(character).findings if one.details.get("state") == layer_state}  # type: ignore[arg-type]


def test_a_state_no_direction_leads_to_is_proved_unreachable() -> None:
    never = sketch(way("a>b", "heading between 0 and 90 and heading between 180 and 270"), parameters=(HEADING,))
    assert "state.unreachable" in verdict(never, "b")
    touching = sketch(way("a>b", "heading between 0 and 90 and heading between 90 and 270"), parameters=(HEADING,))
    assert "state.unreachable" not in verdict(touching, "b")


def test_two_directions_are_a_named_atom_that_nothing_is_claimed_of() -> None:
    parameters = (HEADING, Parameter(name="facing", kind="bearing"))
    report = check(sketch(way("a>b", "turn(facing, heading) > 200"), parameters=parameters))
    assert not [one for one in report.findings if one.id == "state.unreachable"]
    assert "a comparison of facing and heading" in report.aborted
    plainly = check(sketch(way("a>b", "turn(facing, 0) > 200"), parameters=parameters))
    assert [one for one in plainly.findings if one.id == "state.unreachable"]


def test_a_stick_read_both_ways_is_left_undecided() -> None:
    both = sketch(way("a>b", "stick.x > 0.5 and stick.push < 0.1"), parameters=(), controls=STICK)
    report = check(both)
    assert report.aborted and not [one for one in report.findings if one.id == "state.unreachable"]
    alone = sketch(way("a>b", "stick.bearing between 80 and 100"), parameters=(), controls=STICK)
    assert not check(alone).aborted


def test_a_border_between_two_directions_flickers_inside_its_wobble_also_across_up() -> None:
    ways = (way("a>b", "heading between 0 and 90"), way("b>a", "heading between 180 and 359"))
    report = check(sketch(*ways, parameters=(HEADING,), flicker_window=0.1))
    (found,) = [one for one in report.findings if one.id == "flicker.wobble"]
    assert found.verdict == "proved" and found.witness is not None
    apart = (way("a>b", "heading between 0 and 90"), way("b>a", "heading between 180 and 355"))
    assert not [one for one in check(sketch(*apart, parameters=(HEADING,))).findings if one.id == "flicker.wobble"]
