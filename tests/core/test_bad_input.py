"""What is too deep, too large or too strange gets a clear answer: never a hang, a crash or a wrong proof."""

from __future__ import annotations

import pytest

from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.document import Character
from leanstep.core.character.files import parse
from leanstep.core.character.graph import State
from leanstep.core.character.inputs import Parameter
from leanstep.core.character.takes import Take
from leanstep.core.errors import LeanStepError
from leanstep.core.findings.report import check_character
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.takes import rehearse
from leanstep.core.work import Work
from tests.support.build import sketch, way


def ids(character: Character, **limits: int) -> set[str]:
    return {finding.id for finding in check_character(character, **limits).findings}  # type: ignore[arg-type]


@pytest.mark.parametrize(
    "when",
    ["(" * 1000 + "grounded" + ")" * 1000, "not " * 1000 + "grounded", "abs(" * 1000 + "speed" + ")" * 1000 + " > 1"],
)
def test_conditions_nested_a_thousand_deep_are_refused_with_a_reason(when: str) -> None:
    findings = check_character(sketch(way("a>b", when), way("b>a", "hurt"))).findings
    finding = next(one for one in findings if one.id == "condition.unreadable")
    assert "deep" in finding.sentence or "long" in finding.sentence


@pytest.mark.parametrize(
    ("text", "reason"),
    [
        ('{"leanstep":1,"parameters":[{"name":"p","min":5,"max":1}]}', "min 5 is above max 1"),
        ('{"leanstep":1,"parameters":[{"name":"p","min":NaN}]}', "not JSON"),
        ('{"leanstep":1,"rate":1e308}', "from 1 to 1000 ticks a second"),
        ('{"leanstep":1,"parameters":[{"name":"p","min":-1e308,"max":1e308}]}', "min: .* is out of range"),
    ],
)
def test_numbers_that_make_no_sense_do_not_open(text: str, reason: str) -> None:
    with pytest.raises(LeanStepError, match=reason):
        parse(text.encode())


def test_a_clip_without_length_lasts_one_tick_and_is_over_then() -> None:
    clips = (Clip(name="blink", sheet="art", loop="once", cels=(Cel(frame=0, ticks=0.0),)),)
    states = (State(name="a", clip="blink"), State(name="b", clip="blink"))
    character = sketch(way("a>b", "clip done"), way("b>a", "clip done"), states=states, clips=clips)
    assert "flicker.steady" in ids(character)
    assert [step.fired[0] for step in rehearse(compile_character(character), Take(name="t", ticks=3)).steps] == [
        0,
        1,
        0,
    ]


def test_a_ring_of_transitions_that_are_all_true_is_one_flicker() -> None:
    count = 60
    ring = [way(f"s{at}>s{(at + 1) % count}") for at in range(count)]
    states = " ".join(f"s{at}" for at in range(count))
    findings = check_character(sketch(*ring, states=states, parameters=())).findings
    assert [one.id for one in findings] == ["flicker.steady"]
    assert len(findings[0].subject.states) == count


def test_arithmetic_beyond_the_largest_double_is_decided_like_it_is_stepped() -> None:
    character = sketch(way("a>b", "speed * 1e308 * 10 > 1e308"), way("b>a", "hurt"))
    fates = {one.name: one.ticks for one in check_character(character).states}
    assert fates == {"a": 0, "b": 1}


def test_a_long_line_of_states_is_proved_to_its_end() -> None:
    count = 400
    line = [way(f"s{at}>s{at + 1}", "speed > 1 and stay >= 6 ticks") for at in range(count - 1)]
    report = check_character(sketch(*line, states=" ".join(f"s{at}" for at in range(count))))
    assert report.complete and report.states[-1].ticks == 6 * (count - 1)


def test_of_more_memories_than_can_be_followed_takes_show_what_happens_and_the_rest_is_proved_impossible() -> None:
    parameters = tuple(Parameter(name=f"f{at}", kind="flag") for at in range(8))
    ways = [way(f"s{at}>s{at + 1}", f"f{at} for {40 + at} ticks") for at in range(8)]
    names = " ".join(f"s{at}" for at in range(9))
    character = sketch(*ways, way("s8>lost", "f0 and not f0"), states=f"{names} lost", parameters=parameters)
    report = check_character(character)
    fates = {one.name: one.free for one in report.states}
    assert fates["lost"] == "unreachable" and set(fates.values()) == {"reachable", "unreachable"}
    assert report.complete and not report.aborted
    assert [one.verdict for one in report.findings if one.id == "state.dead-end"] == ["shown"]


def test_a_budget_stops_a_search_that_would_go_on_and_says_so() -> None:
    parameters = tuple(Parameter(name=f"f{at}", kind="flag") for at in range(3))
    ways = [way(f"s{at}>s{at + 1}", f"f{at} for 60 ticks") for at in range(3)]
    character = sketch(*ways, states="s0 s1 s2 s3", parameters=parameters)
    report = check_character(character, work=Work(budget=3))
    assert not report.complete and "budget of 3" in report.aborted
    assert "state.unreachable" not in {one.id for one in report.findings}


def test_a_take_of_hours_is_run_as_far_as_asked() -> None:
    take = Take(name="t", ticks=10 * 3600 * 60)
    trace = rehearse(compile_character(sketch(way("a>b", "hurt"))), take, most=200)
    assert len(trace.steps) == 200
