"""Many remembered presses and cooldowns at once are left open, so that a proof comes to an end; a few are followed."""

from __future__ import annotations

import pytest

from leanstep.core.character.document import Character
from leanstep.core.character.graph import State
from leanstep.core.character.inputs import Button, Controls, Parameter
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Report
from tests.support.build import sketch, way

VALUES = (
    Parameter(name="speed", min=0, max=300),
    Parameter(name="rise", min=-300, max=300),
    Parameter(name="grounded", kind="flag"),
)
CONTROLS = Controls(buttons=tuple(Button(name=name) for name in ("jump", "dart", "duck")))
STATES = "idle run jump fall land dart slide"


def ferry_hand(cooldown: str, *more: tuple[str, str]) -> Character:
    """Runs, jumps with some lenience, and darts and slides no more often than a cooldown lets it."""
    ways = [
        *[("idle>run", "speed > 12"), ("run>idle", "speed < 8"), ("jump>fall", "rise < 0"), ("fall>land", "grounded")],
        *[(f"{state}>jump", "jump buffered 0.1 s and grounded within 0.08 s") for state in ("idle", "run")],
        *[(f"{state}>fall", "not grounded for 0.08 s") for state in ("idle", "run")],
        *[("land>idle", "stay >= 0.15 s"), ("dart>idle", "stay >= 0.25 s"), ("slide>idle", "stay >= 0.4 s")],
        *[("run>dart", f"dart buffered 0.1 s and since(dart) >= {cooldown}")],
        *[("run>slide", f"duck buffered 0.1 s and speed > 100 and since(slide) >= {cooldown}")],
        *more,
    ]
    states = tuple(State(name=name, restful=name == "idle") for name in [*STATES.split(), "end"])
    return sketch(*(way(*one) for one in ways), states=states, parameters=VALUES, controls=CONTROLS)


def fates(report: Report) -> dict[str, str]:
    return {one.name: one.free for one in report.states}


@pytest.mark.parametrize("cooldown", ["1 s", "2 s"])
def test_many_cooldowns_and_remembered_presses_do_not_use_up_a_proof(cooldown: str) -> None:
    report = check_character(ferry_hand(cooldown))
    assert "how long ago buttons were pressed" in report.aborted and report.situations < 5_000
    assert {name: free for name, free in fates(report).items() if free != "reachable"} == {"end": "unreachable"}


def test_what_no_age_can_bring_about_is_still_proved() -> None:
    never = ("run>end", "dart buffered 0.1 s and since(dart) >= 1 s and speed > 200 and speed < 100")
    report = check_character(ferry_hand("1 s", never))
    assert fates(report)["end"] == "unreachable"
    assert "transition.never" in {one.id for one in report.findings if one.verdict == "proved"}


def test_only_what_needs_no_waiting_is_said_to_be_reached_soonest() -> None:
    """A fall comes on tick 1, after a jump on tick 0; the take that shows it waits on the ground's edge instead."""
    states = {one.name: one for one in check_character(ferry_hand("1 s")).states}
    assert (states["jump"].ticks, states["jump"].fewest) == (1, True)
    assert states["fall"].ticks is not None and states["fall"].ticks > 2 and not states["fall"].fewest


def test_one_cooldown_is_followed_to_the_tick() -> None:
    ways = (
        way("a>b", "jump pressed and since(b) >= 1 s"),
        way("b>a", "stay >= 0.2 s"),
        way("a>c", "since(b) = 30 ticks"),
    )
    report = check_character(sketch(*ways, states="a b c", controls=CONTROLS))
    assert report.complete and not report.aborted
    assert next(one.ticks for one in report.states if one.name == "c") == 43
