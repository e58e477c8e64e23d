"""Verdicts about rest, wobble, flashes, marks, effects and takes: each with a near miss that must not show it."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import msgspec
import pytest

from leanstep.core.character.body import Body
from leanstep.core.character.clips import Cel, Clip, Effect, Mark, Span
from leanstep.core.character.document import Character
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.core.character.inputs import Button, Controls, Parameter, Stick
from leanstep.core.character.takes import Change, Expectation, Take
from leanstep.core.conditions.grammar import parse
from leanstep.core.conditions.tree import narrower
from leanstep.core.findings.evidence import Evidence
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Finding
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.expectations import moved_backward
from leanstep.core.rehearsal.step_trace import StepTrace
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.takes import rehearse
from leanstep.core.work import Effort, Exhausted, Stopped, Work
from tests.support.build import PARAMETERS, sketch, way

SET = (Effect(do="set", name="drawn"),)
CLEAR = (Effect(do="set", name="drawn", value=False),)
WITH_FLAG = (*PARAMETERS, Parameter(name="drawn", kind="flag", owner="graph"))


def found(character: Character, kind: str) -> list[Finding]:
    """The findings of one kind; every free witness is as long as it says and replays."""
    findings = [finding for finding in check_character(character).findings if finding.id == kind]
    machine = compile_character(character)
    for finding in findings:
        if finding.witness is not None:
            assert "bug in Lean Step" not in finding.sentence
            assert len(rehearse(machine, finding.witness).steps) == finding.witness.ticks
    return findings


def swing(*marks: Mark, loop: str = "once", ticks: float = 10.0, spans: tuple[Span, ...] = ()) -> tuple[Clip, ...]:
    """A clip of ten ticks called swing."""
    cels = (Cel(frame=0, ticks=ticks),)
    return (Clip(name="swing", sheet="art", loop=loop, cels=cels, marks=marks, spans=spans),)  # type: ignore[arg-type]


def fencer(*transitions: Any, b: dict[str, Any] | None = None, **values: Any) -> Character:
    """States a and b; b swings."""
    states = (State(name="a", restful=True), State(name="b", clip="swing", **(b or {})))
    values.setdefault("parameters", WITH_FLAG)
    return sketch(*transitions, states=states, **values)


def test_no_rest_when_nothing_leads_home_without_a_press() -> None:
    states = (State(name="a", restful=True), State(name="b"))
    findings = found(sketch(way("a>b", "hurt"), way("b>a", "jump pressed"), states=states), "state.no-rest")
    assert [one.details for one in findings] == [{"layer": "base", "state": "b"}]
    assert findings[0].witness is not None and findings[0].witness.ticks == 1


def test_no_no_rest_when_time_alone_leads_home_or_nothing_is_declared_restful() -> None:
    states = (State(name="a", restful=True), State(name="b"))
    assert not found(sketch(way("a>b", "hurt"), way("b>a", "stay > 1 s"), states=states), "state.no-rest")
    assert not found(sketch(way("a>b", "hurt"), way("b>a", "jump pressed")), "state.no-rest")


def test_no_rest_takes_a_declared_rest_value() -> None:
    states = (State(name="a", restful=True), State(name="b"))
    ways = (way("a>b", "hurt"), way("b>a", "grounded"))
    assert found(sketch(*ways, states=states), "state.no-rest")
    rested = tuple(msgspec.structs.replace(one, rest=True) if one.name == "grounded" else one for one in PARAMETERS)
    assert not found(sketch(*ways, states=states, parameters=rested), "state.no-rest")


def wobbling(gap: float, wobble: float) -> Character:
    speed = Parameter(name="speed", min=0.0, max=8.0, wobble=wobble)
    ways = (way("a>b", f"speed > {2 + gap}"), way("b>a", "speed < 2"))
    return sketch(*ways, parameters=(speed,))


def test_wobble_when_the_gap_is_narrower_than_it() -> None:
    findings = found(wobbling(0.5, 0.6), "flicker.wobble")
    assert [one.details for one in findings] == [{"layer": "base", "states": ["a", "b"], "parameter": "speed"}]
    witness = findings[0].witness
    assert witness is not None
    values = {value for change in witness.changes for value in change.set.values()}
    assert max(values) - min(values) <= 0.6  # type: ignore[operator]


def test_no_wobble_when_the_gap_is_as_wide_as_it_because_both_ends_are_open() -> None:
    assert not found(wobbling(0.5, 0.5), "flicker.wobble")


@pytest.mark.parametrize(("below", "verdicts"), [(0.5000000000000001, []), (0.5000000000000004, ["proved"])])
def test_a_wobble_needs_two_doubles_no_farther_apart_than_it_not_only_numbers(
    below: float, verdicts: list[str]
) -> None:
    speed = Parameter(name="speed", min=0.0, max=8.0, wobble=0.5)
    ways = (way("a>b", "speed > 1"), way("b>a", f"speed < {below}"))
    assert [one.verdict for one in found(sketch(*ways, parameters=(speed,)), "flicker.wobble")] == verdicts


def test_no_wobble_beside_a_steady_flicker_because_nothing_needs_to_wobble() -> None:
    assert not found(wobbling(-0.5, 0.6), "flicker.wobble") and found(wobbling(-0.5, 0.6), "flicker.steady")


def test_no_wobble_when_a_stay_is_as_long_as_the_window() -> None:
    speed = Parameter(name="speed", min=0.0, max=8.0, wobble=1.0)
    slow = (way("a>b", "speed > 2"), way("b>a", "speed < 2 and stay >= 6 ticks"))
    assert not found(sketch(*slow, parameters=(speed,)), "flicker.wobble")


@pytest.mark.parametrize(("chatters", "count"), [(True, 1), (False, 0)])
def test_wobble_of_a_flag_only_when_it_is_declared_chattering(chatters: bool, count: int) -> None:
    ground = Parameter(name="grounded", kind="flag", chatters=chatters)
    ways = (way("a>b", "grounded"), way("b>a", "not grounded"))
    assert len(found(sketch(*ways, parameters=(ground,)), "flicker.wobble")) == count
    held = (way("a>b", "grounded for 0.1 s"), way("b>a", "not grounded"))
    assert not found(sketch(*held, parameters=(ground,)), "flicker.wobble")


def test_flash_when_the_same_values_lead_straight_on() -> None:
    ways = (way("a>b", "speed > 1"), way("b>c", "speed > 5"), way("c>a", "speed < 1"))
    findings = found(sketch(*ways, states="a b c"), "flash")
    assert [one.details for one in findings] == [{"layer": "base", "state": "b"}]
    assert findings[0].witness is not None and findings[0].witness.ticks == 2


@pytest.mark.parametrize("assumption", ["mood != angry or hurt", "mood = angry or not grounded or lives > 1"])
def test_a_flash_needs_values_that_the_assumptions_allow_without_the_pulse_too(assumption: str) -> None:
    ways = (way("a>b", "grounded"), way("b>c", "grounded"))
    assert found(sketch(*ways, states="a b c", assumptions=(assumption,)), "flash")
    never = sketch(*ways, states="a b c", assumptions=("hurt or not grounded",))
    assert not found(never, "flash")


def test_no_flash_when_the_way_on_is_urgent_or_needs_another_pulse_or_a_long_stay() -> None:
    back = way("c>a", "jump pressed")
    for on in (way("b>c", "speed > 5", urgent=True), way("b>c", "hurt"), way("b>c", "speed > 5 and stay >= 0.1 s")):
        findings = found(sketch(way("a>b", "speed > 1"), on, back, states="a b c"), "flash")
        assert "b" not in [one.details["state"] for one in findings]


def test_stuck_when_one_way_out_skips_what_sets_it_back() -> None:
    ways = (way("a>b", "hurt"), way("b>c", "speed > 1"), way("b>d", "speed < 1"), way("c>d"), way("d>c", "hurt"))
    states = (State(name="a"), State(name="b", on_entry=SET), State(name="c"), State(name="d"))
    with_reset = (
        *states[:1],
        msgspec.structs.replace(states[1], on_leave=()),
        states[2],
        states[3],
        State(name="e", on_entry=CLEAR),
    )
    stuck = sketch(*ways, way("b>e", "lives = 3"), states=with_reset, parameters=WITH_FLAG)
    assert [one.details for one in found(stuck, "flag.stuck")] == [{"parameter": "drawn"}]


def test_not_stuck_when_leaving_sets_it_back_or_nothing_ever_does() -> None:
    ways = (way("a>b", "hurt"), way("b>c", "speed > 1"), way("c>c", "hurt"))
    leaves = (State(name="a"), State(name="b", on_entry=SET, on_leave=CLEAR), State(name="c"))
    assert not found(sketch(*ways, states=leaves, parameters=WITH_FLAG), "flag.stuck")
    for_good = (State(name="a"), State(name="b", on_entry=SET), State(name="c"))
    assert not found(sketch(*ways, states=for_good, parameters=WITH_FLAG), "flag.stuck")


def test_a_lock_is_stuck_when_its_mark_can_be_cut_off_for_good() -> None:
    free = Mark(name="free", at=5, effects=(Effect(do="unlock", name="swing"),))
    locked = {"on_entry": (Effect(do="lock", name="swing"),)}
    ways = (way("a>b", "hurt"), way("b>a", "clip done"))
    assert not found(fencer(*ways, b=locked, clips=swing(free)), "flag.stuck")
    cut = (*ways, way("b>c", "jump pressed"))
    character = fencer(*cut, b=locked, clips=swing(free))
    layer = msgspec.structs.replace(character.layers[0], states=(*character.layers[0].states, State(name="c")))
    findings = found(msgspec.structs.replace(character, layers=(layer,)), "flag.stuck")
    assert [one.details for one in findings] == [{"lock": "swing"}]


def test_a_mark_beyond_the_end_or_behind_a_short_stay_never_fires() -> None:
    ways = (way("a>b", "hurt"), way("b>a", "clip done"))
    late = fencer(*ways, clips=swing(Mark(name="hit", at=12)))
    assert [one.details for one in found(late, "mark.never")] == [{"clip": "swing", "mark": "hit"}]
    short = fencer(way("a>b", "hurt"), way("b>a", "stay >= 4 ticks"), clips=swing(Mark(name="hit", at=5)))
    assert found(short, "mark.never")


def test_a_mark_on_the_last_tick_or_at_the_start_fires() -> None:
    ways = (way("a>b", "hurt"), way("b>a", "stay >= 4 ticks"))
    for at in (0, 3.5, 4):
        assert not found(fencer(*ways, clips=swing(Mark(name="hit", at=at))), "mark.never")


def test_a_mark_of_a_once_clip_that_can_be_cut_off_is_a_note() -> None:
    ways = (way("a>b", "hurt"), way("b>a", "jump pressed"))
    findings = found(fencer(*ways, clips=swing(Mark(name="hit", at=5))), "mark.missable")
    assert [(one.severity, one.details["mark"]) for one in findings] == [("note", "hit")]


def test_a_mark_that_gives_something_back_and_can_be_cut_off_is_an_error() -> None:
    mark = Mark(name="sheathe", at=5, effects=CLEAR)
    ways = (way("a>b", "hurt"), way("b>a", "jump pressed"))
    findings = found(fencer(*ways, b={"on_entry": SET}, clips=swing(mark, loop="repeat")), "mark.missable")
    assert [one.severity for one in findings] == ["error"]


def test_a_mark_the_way_out_waits_for_is_not_missable() -> None:
    mark = Mark(name="sheathe", at=5, effects=CLEAR)
    waits = (way("a>b", "hurt"), way("b>a", "jump pressed and stay >= 5 ticks"))
    assert not found(fencer(*waits, b={"on_entry": SET}, clips=swing(mark)), "mark.missable")


def test_a_mark_whose_work_leaving_does_as_well_gives_nothing_back() -> None:
    mark = Mark(name="sheathe", at=5, effects=CLEAR)
    cut = (way("a>b", "hurt"), way("b>a", "jump pressed"))
    both = {"on_entry": SET, "on_leave": CLEAR}
    assert not found(fencer(*cut, b=both, clips=swing(mark, loop="repeat")), "mark.missable")


def test_a_footstep_of_a_repeating_clip_is_not_missable() -> None:
    ways = (way("a>b", "hurt"), way("b>a", "jump pressed"))
    assert not found(fencer(*ways, clips=swing(Mark(name="step", at=5), loop="repeat")), "mark.missable")


def test_order_decides_between_two_that_can_be_true_together() -> None:
    back = (way("b>a", "hurt"), way("c>a", "hurt"))
    overlap = sketch(way("a>b", "speed > 2"), way("a>c", "grounded"), *back, states="a b c")
    findings = found(overlap, "order.decides")
    assert [one.details for one in findings] == [{"layer": "base", "transition": 0, "others": [1]}]


def test_order_does_not_decide_when_they_exclude_each_other_or_one_is_urgent_or_they_lead_to_one_state() -> None:
    back = (way("b>a", "hurt"), way("c>a", "hurt"))
    apart = (way("a>b", "speed > 2"), way("a>c", "speed < 2 and grounded"))
    urgent = (way("a>b", "speed > 2"), way("a>c", "grounded", urgent=True))
    same = (way("a>b", "speed > 2"), way("a>b", "grounded"), way("a>c", "speed < 2 and not grounded"))
    put_first = (way("a>b", "speed > 2", ordered=True), way("a>c", "grounded"))
    put_last = (way("a>b", "speed > 2"), way("a>c", "grounded", ordered=True))
    for ways in (apart, urgent, same, put_first, put_last):
        assert not found(sketch(*ways, *back, states="a b c"), "order.decides")


@pytest.mark.parametrize(
    ("first", "other", "special"),
    [
        ("grounded and speed > 2", "grounded", True),
        ("speed > 5", "speed > 2", True),
        ("speed > 5 and grounded", "speed >= 5", True),
        ("speed > 2", "speed > 5", False),
        ("grounded", "grounded", False),
        ("grounded or speed > 2", "grounded", False),
        ("speed < 2", "speed > 1", False),
    ],
)
def test_a_special_case_that_is_tried_first_needs_no_note(first: str, other: str, special: bool) -> None:
    assert narrower(parse(first), parse(other)) == special
    back = (way("b>a", "hurt"), way("c>a", "hurt"))
    told = found(sketch(way("a>b", first), way("a>c", other), *back, states="a b c"), "order.decides")
    assert not (special and told)


def body_of(*ways: Transition, **values: Any) -> Character:
    """A character whose speed and ground are the body's."""
    parameters = (
        Parameter(name="speed", owner="body", min=0, max=400),
        Parameter(name="grounded", kind="flag", owner="body"),
    )
    return sketch(*ways, states="a b c", parameters=parameters, **values)


def test_what_only_a_free_world_does_is_one_note_and_what_a_body_does_a_warning() -> None:
    ways = (way("a>b", "speed > 100"), way("b>c", "speed > 300"), way("c>a", "speed < 50"), way("b>a", "speed < 90"))
    (told,) = found(body_of(*ways), "flash")
    assert (told.severity, told.details["state"]) == ("note", "b"), "no body gains 300 units a second at once"
    assert "when speed jumps from one tick to the next" in told.sentence
    quick = Body(walk_speed=390.0, run_speed=390.0, acceleration=30_000.0)
    steered = Controls(sticks=(Stick(name="stick", right=("Right",)),))
    made = body_of(*ways, body=quick, controls=steered)
    told = next(one for one in check_character(made, work=Work(play=4000)).findings if one.id == "flash")
    assert (told.severity, told.details["state"]) == ("warning", "b"), "this one does"
    take = Take(name="off", ticks=40, changes=(Change(at=2, set={"stick.x": 1.0}),))
    assert found(msgspec.structs.replace(made, takes=(take,)), "flash")[0].severity == "warning", "a take shows it"
    hands = (way("a>b", "jump held"), way("b>c", "jump held"), way("c>a", "not jump held"))
    (told,) = found(body_of(*hands), "flash")
    assert told.severity == "warning", "hands can do it"


def grounded_take(ticks: int, **values: Any) -> Take:
    return Take(name="t", ticks=ticks, world="free", changes=(Change(at=0, set={"grounded": True}),), **values)


def test_an_expectation_of_a_state_is_broken_after_its_grace_and_not_within_it() -> None:
    states = (State(name="a", expects="not grounded", grace=0.1), State(name="b"))
    broken = sketch(way("a>b", "hurt"), way("b>a"), states=states, takes=(grounded_take(7),))
    assert "first on tick 6" in found(broken, "expectation.broken")[0].sentence
    short = sketch(way("a>b", "hurt"), way("b>a"), states=states, takes=(grounded_take(6),))
    assert not found(short, "expectation.broken")


def test_a_restart_gives_an_expectation_its_grace_again() -> None:
    states = (State(name="a", expects="not grounded", grace=0.1), State(name="b"))
    again = sketch(way("a>a", "stay >= 3 ticks", restart=True), way("b>a"), states=states, takes=(grounded_take(40),))
    assert not found(again, "expectation.broken")


@pytest.mark.parametrize(
    ("expects", "met"),
    [
        (Expectation(what="end-in", name="b"), True),
        (Expectation(what="end-in", name="a"), False),
        (Expectation(what="end-in", name="b", within=0.01), True),
        (Expectation(what="enter", name="b", within=0.01), True),
        (Expectation(what="enter", name="b", within=0.0), False),
        (Expectation(what="enter", name="zed"), False),
        (Expectation(what="never-enter", name="b"), False),
        (Expectation(what="never-enter", name="b", within=0.0), True),
        (Expectation(what="mark", name="hit", times=2), True),
        (Expectation(what="mark", name="hit", times=3), False),
        (Expectation(what="mark", name="hit", within=0.1), True),
        (Expectation(what="mark", name="hit", times=2, within=0.1), False),
        (Expectation(what="end-in", name="b", layer="upper"), False),
    ],
)
def test_what_a_take_expects_is_met_or_not(expects: Expectation, met: bool) -> None:
    clips = swing(Mark(name="hit", at=5), loop="repeat")
    take = grounded_take(20, expects=(expects,))
    findings = found(fencer(way("a>b", "grounded"), clips=clips, takes=(take,)), "expectation.broken")
    assert bool(findings) is not met


def walker(*changes: Change, backward: bool = False, ticks: int = 60) -> Character:
    stick = Stick(name="stick", left=("Left",), right=("Right",))
    controls = Controls(sticks=(stick,), buttons=(Button(name="jump"),))
    states = (State(name="a", backward=backward),)
    take = Take(name="t", ticks=ticks, changes=changes)
    return sketch(states=states, controls=controls, takes=(take,))


def test_facing_flickers_when_the_stick_is_flung_round_within_the_window() -> None:
    quick = (Change(at=5, set={"stick.x": -1}), Change(at=8, set={"stick.x": 1}))
    assert "once, first on tick 10" in found(walker(*quick), "flicker.facing")[0].sentence
    slow = (Change(at=5, set={"stick.x": -1}), Change(at=11, set={"stick.x": 1}))
    assert not found(walker(*slow), "flicker.facing")


@pytest.mark.parametrize(("ticks", "backward", "shown"), [(7, False, True), (6, False, False), (7, True, False)])
def test_facing_against_needs_more_than_the_window_in_a_state_that_does_not_allow_it(
    ticks: int, backward: bool, shown: bool
) -> None:
    character = walker(backward=backward, ticks=20)
    trace = rehearse(compile_character(character), character.takes[0])
    steps = trace.steps = StepTrace(Stepper(trace.machine, free=False), trace.steps)
    for tick in range(5, 5 + ticks):
        body = replace(steps[tick].situation.body, vx=-30.0)
        steps[tick] = replace(steps[tick], situation=replace(steps[tick].situation, body=body))
    assert moved_backward(trace) == ({(0, 0): ([11], ticks)} if shown else {})


def test_how_late_a_turn_that_takes_time_comes_is_told() -> None:
    changes = (Change(at=0, set={"stick.x": 1}), Change(at=40, set={"stick.x": -1}))
    character = walker(*changes, ticks=100)
    slow = msgspec.structs.replace(character, body=msgspec.structs.replace(character.body, turn_time=0.4))
    trace = rehearse(compile_character(slow), slow.takes[0])
    late = sum(body.vx * body.facing < 0 for body in trace.bodies())
    (told,) = found(slow, "facing.against")
    assert late > 12 and f"comes {late / 60:.2g} s late" in told.sentence
    assert not found(character, "facing.against")


def test_an_assumption_that_asks_for_a_pulse_more_often_than_it_comes_is_impossible() -> None:
    beat = Parameter(name="beat", kind="pulse", once_per=0.5)
    ways = (way("a>b", "beat"), way("b>a", "beat"))
    every = sketch(*ways, parameters=(beat,), assumptions=("beat",))
    findings = found(every, "assumption.impossible")
    assert findings and findings[0].witness is not None and findings[0].witness.ticks == 1
    assert not found(sketch(*ways, parameters=(beat,)), "assumption.impossible")
    assert not [
        one for one in check_character(every).findings if one.verdict == "proved" and one.id.startswith("state")
    ]


def test_a_take_that_keeps_to_the_assumptions_breaks_none() -> None:
    character = sketch(way("a>b", "hurt"), way("b>a"), takes=(grounded_take(3),), assumptions=("grounded or hurt",))
    assert not found(character, "assumption.broken")


@pytest.mark.parametrize(("wobble", "layers"), [(0.5, ["base", "glow"]), (0.0, [])])
def test_a_layer_that_follows_another_wobbles_with_it(wobble: float, layers: list[str]) -> None:
    """The lamp follows the gait, which follows a speed that shakes; no condition of the lamp's reads the speed."""
    speed = Parameter(name="speed", min=0, max=8, wobble=wobble)
    gait = sketch(
        way("slow>fast", "speed > 2"), way("fast>slow", "speed <= 2"), states="slow fast", parameters=(speed,)
    )
    lamp = Layer(
        name="glow",
        states=(State(name="dim"), State(name="bright")),
        transitions=(way("dim>bright", "in base.fast"), way("bright>dim", "in base.slow")),
    )
    shaking = found(msgspec.structs.replace(gait, layers=(*gait.layers, lamp)), "flicker.wobble")
    assert [one.details["layer"] for one in shaking] == layers


def test_a_search_for_wobbles_that_is_cut_short_says_so() -> None:
    assert check_character(wobbling(0.5, 0.6)).complete
    report = check_character(wobbling(0.5, 0.6), work=Work(effort=Effort(wobbled=0)))
    assert not report.complete and report.aborted == "the search for wobbles was cut short"


def test_a_search_for_wobbles_can_be_stopped_and_is_made_up_for_when_there_is_time() -> None:
    (proof,) = Evidence(wobbling(0.5, 0.6)).proofs
    proof.work_within(Work(stop=lambda: True))
    with pytest.raises(Stopped):
        _ = proof.wobbles
    proof.work_within(Work(deadline=0.0))
    with pytest.raises(Exhausted, match="the time limit was reached"):
        _ = proof.wobbles
    proof.work_within(Work())
    assert proof.wobbles.complete and len(proof.wobbles.found) == 1
