"""What the body can tell is taken in where it is named."""

from __future__ import annotations

from leanstep.core.character.body import Course, Shape
from leanstep.core.character.edits import change
from leanstep.core.character.graph import State, Transition
from leanstep.core.character.starting import empty
from leanstep.core.findings.repairs.proving import repair
from leanstep.core.findings.report import check_character
from leanstep.core.naming.told import tellable, with_told


def test_a_condition_brings_what_it_names_of_the_body() -> None:
    character = change(
        empty(), (), course=Course(shapes=(Shape(kind="zone", name="by_the_quay", width=9.0, height=9.0),))
    )
    assert {"moving", "headroom", "by_the_quay"} <= set(tellable(character))
    after = with_told(character, "moving and not headroom and ahead < 20 and by_the_quay and speed > 3")
    added = {one.name: (one.kind, one.owner) for one in after.parameters if one not in character.parameters}
    assert added == {
        "moving": ("flag", "body"),
        "headroom": ("flag", "body"),
        "ahead": ("number", "body"),
        "by_the_quay": ("flag", "body"),
    }
    assert with_told(after, "moving") is after


def test_what_nobody_tells_stays_unknown() -> None:
    character = empty()
    assert with_told(character, "movin and speed > 3") is character
    assert with_told(character, "speed >") is character


def test_a_file_that_names_it_without_a_parameter_is_mended_by_one() -> None:
    states = (State(name="idle", restful=True), State(name="duck"))
    ways = (
        Transition(source="idle", to="duck", when="jump pressed"),
        Transition(source="duck", to="idle", when="headroom and stay > 1 s"),
    )
    character = change(empty(), ("layers", 0), states=states, transitions=ways, lanes=())
    (finding,) = [one for one in check_character(character).findings if one.id == "name.unknown"]
    assert "The body can tell it" in finding.sentence
    mended = repair(character, finding)
    assert mended is not None and "headroom" in {one.name for one in mended.character.parameters}
