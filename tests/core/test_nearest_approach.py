"""Where playing came nearest to a state it never reached, in the sentence that says so."""

from __future__ import annotations

import pytest

from leanstep.core.character.document import Character
from leanstep.core.character.edits import change
from leanstep.core.character.files import load
from leanstep.core.findings.report import check_character
from leanstep.core.work import Work
from tests.core.test_body_world import character
from tests.support.build import DEMO, way


def told(character: Character, state: str, ticks: int = 3000) -> str:
    found = check_character(character, work=Work(play=ticks)).findings
    return next(one.why for one in found if one.id == "state.unreached" and one.details["state"] == state)


@pytest.mark.long
def test_the_way_that_is_left_is_named_with_what_it_asks_for() -> None:
    demo = load(DEMO / "lamplighter.leanstep")
    flat = change(demo, ("course",), shapes=tuple(one for one in demo.course.shapes if one.kind != "ladder"))
    flat = change(flat, (), takes=())
    climb, over = told(flat, "climb"), told(flat, "over")
    assert "every state of lane ground → climb asks for: climbing is on." in climb
    assert ", 1 way from there: " in climb and ", 2 ways from there: " in over


def test_of_several_moments_that_with_the_fewest_false_parts_counts() -> None:
    # standing still neither part is true; while it runs, one is
    way_in = way("b>c", "speed > 100 and climbing")
    made = character(way("a>b", "speed > 100"), way_in, way("b>a", "speed < 50"), way("c>a"), states="a b c")
    assert "It came nearest in b, 1 way from there: b → c asks for: climbing is on." in told(made, "c")
