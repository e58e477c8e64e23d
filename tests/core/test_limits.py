"""Numbers that change only so fast, in proofs, takes and the search of the body world."""

from __future__ import annotations

from typing import Any

import msgspec
import pytest

from leanstep.core.character.document import Character
from leanstep.core.character.edits import change
from leanstep.core.character.files import load
from leanstep.core.character.graph import State
from leanstep.core.character.inputs import Parameter
from leanstep.core.character.takes import Change, Take
from leanstep.core.character.validation import validate
from leanstep.core.errors import LeanStepError
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Finding, Report, StateFate
from leanstep.core.graph.compilation import compile_character
from leanstep.core.proof.explore.body_world import BodyWorld
from leanstep.core.rehearsal.limits import first_broken, tick_by_tick
from leanstep.core.rehearsal.takes import rehearse
from tests.support.build import DEMO, sketch, way

SPEED = Parameter(name="speed", min=0, max=8, per_second=30.0, wobble=0.0)
"""Half a unit a tick, at 60 ticks a second."""


def with_speed(*transitions: Any, speed: Parameter = SPEED, **values: Any) -> Character:
    """A character about how fast it goes."""
    values.setdefault("states", "a b c")
    return sketch(*transitions, parameters=(speed, Parameter(name="calm", kind="flag")), **values)


def fate(character: Character, name: str) -> StateFate:
    """What becomes of a state."""
    return next(one for one in check_character(character).states if one.name == name)


def of(report: Report, kind: str) -> list[Finding]:
    """The findings of one kind; none may own up to a witness that does not replay."""
    assert not [one for one in report.findings if "bug in Lean Step" in one.sentence]
    return [one for one in report.findings if one.id == kind]


@pytest.mark.parametrize(
    ("condition", "ticks"), [("speed > 3.2", 7), ("speed >= 3", 6), ("speed = 3", 6), ("speed > 0", 1)]
)
def test_a_number_takes_as_many_ticks_to_rise_as_its_limit_asks_for(condition: str, ticks: int) -> None:
    assert fate(with_speed(way("a>b", condition), way("b>a")), "b").ticks == ticks


def test_without_a_limit_the_same_condition_is_true_at_once() -> None:
    free = Parameter(name="speed", min=0, max=8)
    assert fate(with_speed(way("a>b", "speed > 3.2"), way("b>a"), speed=free), "b").ticks == 1


def test_a_state_that_needs_a_jump_its_limit_forbids_is_unreachable() -> None:
    ways = (way("a>b", "speed > 4"), way("b>a", "speed < 4"), way("b>c", "speed < 3"))
    passed = check_character(with_speed(*ways))
    assert [one.details["state"] for one in of(passed, "state.unreachable")] == ["c"]
    slower = (way("a>b", "speed > 4"), way("b>a", "speed < 3.2"), way("b>c", "speed < 3.8"))
    assert not of(check_character(with_speed(*slower)), "state.unreachable")


def test_its_witness_keeps_to_the_limit_and_replays() -> None:
    character = with_speed(
        way("a>b", "speed > 3.2"), way("b>c", "speed < 1"), way("c>a", "speed > 2"), way("c>c", restart=True)
    )
    report, machine = check_character(character), compile_character(character)
    shown = [one.witness for one in report.findings if one.witness is not None]
    assert shown
    for take in shown:
        trace = rehearse(machine, take)
        assert first_broken(machine, tick_by_tick(trace.values(), [0])) is None
        assert len(trace.steps) == take.ticks


def test_an_assumption_the_limit_cannot_keep_up_with_is_impossible() -> None:
    ways = (way("a>b", "calm"), way("b>a", "not calm"))
    assumption = ("not calm or speed > 4",)
    assert not of(check_character(with_speed(*ways, assumptions=assumption)), "assumption.impossible")
    never = check_character(with_speed(*ways, assumptions=("speed > 4",)))
    assert of(never, "assumption.impossible")


def test_a_flash_needs_values_that_its_limit_lets_through_on_one_tick() -> None:
    far = with_speed(
        way("a>b", "speed > 0"),
        way("b>c", "speed > 4"),
        way("c>a", "speed = 0 and stay > 0.5 s"),
        way("b>a", "speed = 0"),
    )
    near = with_speed(way("a>b", "speed > 3.8"), way("b>c", "speed > 4"), way("c>a", "speed = 0 and stay > 0.5 s"))
    assert not of(check_character(far), "flash")
    assert [one.details["state"] for one in of(check_character(near), "flash")] == ["b"]


def test_going_to_rest_takes_the_ticks_its_limit_asks_for() -> None:
    """On the way down to rest the speed passes the band in which b is left for c, where there is no rest."""
    states = (State(name="a", restful=True), State(name="b"), State(name="c"))
    ways = (way("a>b", "speed > 6.2"), way("b>c", "speed between 2 and 3"), way("b>a", "speed < 1"))
    slow = of(check_character(with_speed(*ways, states=states)), "state.no-rest")
    assert [one.witness.ticks for one in slow if one.witness is not None] == [13]
    leaping = Parameter(name="speed", min=0, max=8, per_second=60.0 * 7, wobble=0.0)
    quick = of(check_character(with_speed(*ways, states=states, speed=leaping)), "state.no-rest")
    assert [one.witness.ticks for one in quick if one.witness is not None] == [2]


def test_a_limit_that_is_too_slow_to_follow_is_owned_up_to() -> None:
    slow = Parameter(name="speed", min=0, max=8, per_second=0.1)
    report = check_character(with_speed(way("a>b", "speed > 3"), way("b>a"), speed=slow))
    assert "how fast speed changes" in report.aborted
    assert next(one for one in report.states if one.name == "b").ticks in range(1800, 1803)
    slower = msgspec.structs.replace(slow, per_second=0.001)
    assert fate(with_speed(way("a>b", "speed > 3"), way("b>a"), speed=slower), "b").free == "undecided"
    never = check_character(with_speed(way("a>b", "speed > 3 and speed < 2"), way("b>a"), speed=slow))
    assert of(never, "state.unreachable")


@pytest.mark.long
def test_where_a_limit_is_not_followed_takes_that_keep_to_it_still_show_what_they_show() -> None:
    slow = Parameter(name="speed", min=0, max=8, per_second=0.001, wobble=0.0)
    ways = (way("a>b", "calm"), way("b>c", "calm and speed < 1"), way("c>a", "not calm"))
    shown = of(check_character(with_speed(*ways, speed=slow)), "flash")
    assert [(one.details["state"], one.verdict, one.severity) for one in shown] == [("b", "shown", "warning")]
    far = (way("a>b", "calm"), way("b>c", "calm and speed > 7"), way("c>a", "not calm"))
    undecided = of(check_character(with_speed(*far, speed=slow)), "flash")
    assert [(one.details["state"], one.verdict, one.severity) for one in undecided] == [("b", "undecided", "note")]


def test_a_limit_that_would_make_a_search_too_large_is_not_followed_and_that_is_said() -> None:
    demo = load(DEMO / "lamplighter.leanstep")
    report = check_character(change(demo, ("parameters", 0), per_second=900.0))
    assert not report.complete and report.situations < 2_000
    assert "how fast speed changes" in report.aborted
    assert {one.free for one in report.states} == {"reachable"}


@pytest.mark.parametrize(
    ("values", "breaks"), [((0.5, 1.0, 1.5), None), ((0.5, 1.5), 1), ((0.6,), 0), ((0.5, 0.5, 0.0), None)]
)
def test_a_take_that_changes_a_number_too_fast_breaks_an_assumption(
    values: tuple[float, ...], breaks: int | None
) -> None:
    changes = tuple(Change(at=tick, set={"speed": value}) for tick, value in enumerate(values))
    take = Take(name="hurry", ticks=5, world="free", changes=changes)
    report = check_character(with_speed(way("a>b", "calm"), way("b>a"), takes=(take,)))
    found = of(report, "assumption.broken")
    assert bool(found) == (breaks is not None)
    if found:
        assert f"on tick {breaks}: “speed changes by at most 30 per s”" in found[0].sentence


def test_a_take_with_a_pulse_that_comes_too_soon_breaks_an_assumption() -> None:
    bell = Parameter(name="bell", kind="pulse", once_per=0.5)
    for gap, broken in ((29, True), (30, False)):
        changes = (Change(at=0, set={"bell": True}), Change(at=gap, set={"bell": True}))
        take = Take(name="twice", ticks=40, world="free", changes=changes)
        report = check_character(sketch(way("a>b", "bell"), way("b>a"), parameters=(bell,), takes=(take,)))
        assert bool(of(report, "assumption.broken")) == broken


def test_the_search_of_the_body_world_keeps_to_limits() -> None:
    wind = Parameter(name="wind", min=0, max=8, per_second=30.0)
    character = sketch(way("a>b", "wind > 7.2"), way("b>a", "wind < 1"), parameters=(wind,))
    world = BodyWorld(compile_character(character))
    found = world.search({(0, 0), (0, 1)}, {(0, 0), (0, 1)}, 20_000)
    assert (0, 1) in found.states
    take = world.take(found.states[0, 1], ("state", 0, 1))
    trace = rehearse(world.machine, take)
    assert trace.after(take.ticks).states == (1,) and take.ticks >= 15
    assert first_broken(world.machine, tick_by_tick(trace.values(), [0])) is None


@pytest.mark.parametrize(
    ("values", "reason"),
    [
        ({"kind": "whole"}, "how fast it changes .per_second. is for numbers and bearings from outside"),
        ({"owner": "graph"}, "how fast it changes .per_second. is for numbers and bearings from outside"),
        ({"per_second": 0.0}, "per_second: 0 is out of range"),
        ({"per_second": -1.0}, "per_second: -1 is out of range"),
    ],
)
def test_a_limit_that_makes_no_sense_is_refused_with_the_reason(values: dict[str, Any], reason: str) -> None:
    odd = Parameter(**{"name": "speed", "min": 0, "max": 8, "per_second": 30.0, **values})
    with pytest.raises(LeanStepError, match=reason):
        validate(with_speed(way("a>b"), speed=odd), "")
