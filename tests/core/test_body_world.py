"""The search of the body world: it finds what can be played, says what it did not find, and is the same every time."""

from __future__ import annotations

import msgspec
import pytest

from leanstep.core.character.body import Course, Shape
from leanstep.core.character.document import Character
from leanstep.core.character.files import load
from leanstep.core.character.graph import State
from leanstep.core.character.inputs import Button, Controls, Parameter, Stick
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Report
from leanstep.core.graph.compilation import compile_character
from leanstep.core.proof.explore.body_world import BodyWorld
from leanstep.core.rehearsal.takes import rehearse
from leanstep.core.work import Work
from tests.support.build import DEMO, sketch, way

BODY = (
    Parameter(name="speed", owner="body", min=0, max=240),
    Parameter(name="rise", owner="body", min=-600, max=400),
    Parameter(name="grounded", kind="flag", owner="body", rest=True),
    Parameter(name="climbing", kind="flag", owner="body"),
    Parameter(name="hit", kind="pulse", once_per=0.5),
)
CONTROLS = Controls(
    sticks=(Stick(name="stick", left=("Left",), right=("Right",), down=("Down",), up=("Up",)),),
    buttons=(Button(name="jump", keys=("Space",)), Button(name="run", keys=("Shift",))),
)
FLOOR = Shape(x=-200, y=-20, width=800, height=20)


def character(*ways: object, shapes: tuple[Shape, ...] = (FLOOR,), states: str = "a b") -> Character:
    course = Course(start=(0.0, 0.0), shapes=shapes)
    made = tuple(State(name=name) for name in states.split())
    return sketch(*ways, states=made, parameters=BODY, controls=CONTROLS, course=course)  # type: ignore[arg-type]


def played(document: Character, ticks: int = 4000) -> Report:
    return check_character(document, work=Work(play=ticks))


def unreached(report: Report, kind: str) -> list[object]:
    return [one.details.get("state", one.details.get("transition")) for one in report.findings if one.id == kind]


@pytest.mark.parametrize("when", ["speed > 100", "rise > 100", "not grounded for 0.3 s", "hit", "jump pressed"])
def test_what_the_body_can_do_is_reached_by_playing(when: str) -> None:
    report = played(character(way("a>b", when), way("b>a", "stay > 0.5 s")))
    assert {fate.body for fate in report.states} == {"reached"}
    assert not unreached(report, "state.unreached") and not unreached(report, "transition.unreached")


def test_a_ladder_is_climbed_only_where_there_is_one() -> None:
    ways = (way("a>b", "climbing"), way("b>a", "not climbing"))
    ladder = Shape(kind="ladder", x=60, y=0, width=24, height=120)
    assert not unreached(played(character(*ways, shapes=(FLOOR, ladder)), 40_000), "state.unreached")
    assert unreached(played(character(*ways)), "state.unreached") == ["b"]


def test_what_the_body_cannot_do_is_not_found_but_not_called_impossible() -> None:
    report = played(character(way("a>b", "speed > 200"), way("b>a", "speed > 200")))
    assert unreached(report, "state.unreached") == ["b"]
    assert unreached(report, "transition.unreached") == [0, 1]
    finding = next(one for one in report.findings if one.id == "state.unreached")
    assert (finding.world, finding.verdict, finding.severity) == ("body", "not found", "warning")
    assert str(report.played) in finding.sentence and report.played >= 4000
    assert {fate.name: fate.free for fate in report.states} == {"a": "reachable", "b": "reachable"}


def test_what_is_proved_unreachable_is_not_searched_for() -> None:
    report = played(character(way("a>b", "speed > 300"), way("b>a")))
    assert not unreached(report, "state.unreached") and report.played == 0


def test_nothing_is_said_of_the_body_world_when_it_was_not_searched() -> None:
    report = check_character(character(way("a>b", "speed > 200"), way("b>a")))
    assert not unreached(report, "state.unreached") and {fate.body for fate in report.states} == {""}


def test_the_search_is_the_same_for_the_same_seed_and_its_takes_replay() -> None:
    document = character(way("a>b", "not grounded for 0.2 s"), way("b>c", "grounded and hit"), states="a b c")
    machine = compile_character(document)
    states = {(0, 1), (0, 2)}
    first, again = (BodyWorld(machine, seed=7).search(states, set(), 8000) for _ in range(2))
    assert first.states == again.states and first.ticks == again.ticks and first.complete
    for (layer, state), inputs in first.states.items():
        take = BodyWorld(machine).take(inputs, ("state", layer, state))
        assert take.ticks <= len(inputs)
        steps = rehearse(machine, take).steps
        assert (steps[-1].situation if steps else rehearse(machine, take).first).states[layer] == state


def test_a_pulse_that_comes_only_so_often_is_not_played_more_often() -> None:
    document = character(way("a>b", "hit"), way("b>c", "hit and stay < 0.4 s"), states="a b c")
    assert [fate.free for fate in check_character(document).states] == ["reachable", "reachable", "unreachable"]
    found = BodyWorld(compile_character(document)).search({(0, 2)}, set(), 6000)
    assert (0, 1) in found.states and (0, 2) not in found.states


@pytest.mark.long
def test_every_state_of_the_sound_demo_is_reached_by_playing() -> None:
    document = msgspec.structs.replace(load(DEMO / "lamplighter.leanstep"), takes=())
    machine = compile_character(document)
    states = {(layer, state) for layer, table in enumerate(machine.layers) for state in range(len(table.states))}
    assert BodyWorld(machine).search(states, set(), 60_000).complete
