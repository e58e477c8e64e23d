"""The body seen from above: ways, walls, turning, aiming, squares and jumps."""

from __future__ import annotations

import itertools
import math
from typing import Any

import msgspec
import pytest

from leanstep.core.bearings import turn
from leanstep.core.body.body_state import BodyState, Motion
from leanstep.core.body.records import Steer
from leanstep.core.character.body import Body, Course, Shape
from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.graph import State
from leanstep.core.character.inputs import Button, Controls, Parameter, Stick
from leanstep.core.character.sheets import Sheet
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.drawable import of_situation
from leanstep.core.rehearsal.situation import Setting
from leanstep.core.rehearsal.step_trace import spread
from leanstep.core.rehearsal.stepping import Stepper
from tests.support.build import sketch

OPEN = Course()
WALL = Course(shapes=(Shape(x=40, y=-200, width=20, height=400),))
QUICK: dict[str, Any] = {"model": "above", "acceleration": 1e6, "braking": 1e6, "walk_speed": 60, "run_speed": 120}


def walk(steers: list[Steer], course: Course = OPEN, **body: Any) -> list[BodyState]:
    motion = Motion(Body(**QUICK | body), course, 60)
    states = [motion.first]
    for steer in steers:
        states.append(motion.step(states[-1], steer))
    return states[1:]


@pytest.mark.parametrize("ways", ["free", "eight"])
def test_a_diagonal_is_as_fast_as_a_straight_line(ways: str) -> None:
    for x, y in ((1, 0), (1, 1), (-1, 1), (0, -1)):
        last = walk([Steer(x, y)] * 60, ways=ways)[-1]
        assert math.hypot(last.x, last.y) == pytest.approx(60) and last.speed == pytest.approx(60)
    assert walk([Steer(1, 0, run=True)] * 60, ways=ways)[-1].x == pytest.approx(120)


def test_a_circle_of_the_stick_shows_eight_directions_in_order_and_letting_go_keeps_the_last() -> None:
    circle = [Steer(math.sin(math.radians(at)), math.cos(math.radians(at))) for at in range(0, 360, 3)]
    seen = [state.facing for state in walk(circle, ways="eight")]
    changes = [seen[0]] + [b for a, b in itertools.pairwise(seen) if abs(turn(a, b)) > 1]
    assert [round(one) % 360 for one in changes] == [0, 45, 90, 135, 180, 225, 270, 315, 0]
    after = walk([*circle[:50], *[Steer()] * 20], ways="eight")
    assert after[-1].facing == after[49].facing and after[-1].heading == after[49].heading and after[-1].speed == 0


def test_of_four_ways_the_last_pressed_wins_and_the_other_comes_back() -> None:
    states = walk([Steer(1, 0)] * 2 + [Steer(1, 1)] * 2 + [Steer(1, 0)] * 2, ways="four")
    assert [round(one.heading) for one in states] == [90, 90, 0, 0, 90, 90]
    assert round(walk([Steer(1, 1)], ways="four")[0].heading) == 90, "across on a tie"
    assert walk([Steer(0.4, 0.3)], ways="four")[0].speed == 0


def test_it_slides_along_a_wall_and_does_not_turn_into_one_it_cannot_enter() -> None:
    states = walk([Steer(1, 1)] * 60, WALL, width=20)
    assert states[-1].x == 30 and states[-1].heading == 0 and not states[-1].blocked
    straight = walk([Steer(0, -1)] * 5 + [Steer(1, 0)] * 60 + [Steer(1, 0)], WALL, width=20)
    assert straight[-1].blocked and straight[-1].facing == 90, "it faced right while it still went there"
    beside = walk([Steer(0, -1)], Course(start=(30, 0), shapes=WALL.shapes), width=20)[-1]
    against = Motion(Body(**QUICK | {"width": 20}), WALL, 60).step(beside, Steer(1, 0))
    assert against.blocked and against.facing == 180 and against.heading == 180


def test_the_figure_turns_no_faster_than_it_may() -> None:
    states = walk([Steer(0, 1)] * 5, turn_rate=600)
    assert [state.facing for state in states[:5]] == pytest.approx([80, 70, 60, 50, 40])


def test_motion_goes_over_from_the_stick_to_where_the_figure_looks() -> None:
    body = {"along": 1.0, "along_after": 0.5, "turn_rate": 90.0}
    states = walk([Steer(0, 1)] * 40, **body)  # type: ignore[arg-type]
    assert states[0].heading < 10, "at first it goes where the stick points"
    assert states[35].heading == pytest.approx(states[34].facing, abs=2), "then where it looks"
    given_back = walk([Steer(0, 1)] * 40 + [Steer()] * 16 + [Steer(0, 1)], **body, along_back=2.0)  # type: ignore[arg-type]
    assert given_back[55].pushing == 0


def test_it_aims_while_told_to_and_walks_backwards_then() -> None:
    states = walk([Steer(-1, 0, aims=True, aim=90.0)] * 10)
    assert states[-1].facing == 90 and states[-1].heading == 270


def test_squares_are_crossed_whole_and_one_step_is_remembered() -> None:
    tap = [Steer(1, 0)] + [Steer()] * 40
    assert walk(tap, ways="square", cell=32)[-1].x == 32
    states = walk([Steer(1, 0)] * 4 + [Steer(0, 1)] * 2 + [Steer()] * 80, ways="square", cell=32)
    assert (states[-1].x, states[-1].y) == (32, 32)
    assert all(state.x == 32 or state.y == 0 for state in states)
    held = walk([Steer(1, 0)] * 100, ways="square", cell=32)
    assert held[-1].x == pytest.approx(100), "no tick is lost between squares"
    blocked = walk([Steer(0, 1)] * 3 + [Steer()] * 40 + [Steer(1, 0)] * 3, WALL, ways="square", cell=32)
    assert blocked[-1].blocked and blocked[-1].x == 0 and blocked[-1].facing == 0


def test_a_jump_leaves_the_shadow_and_passes_over_what_is_low() -> None:
    low = Course(shapes=(Shape(x=20, y=-50, width=10, height=100, tall=8.0),))
    assert walk([Steer(1, 0)] * 60, low, width=10)[-1].x == 15
    jumping = [Steer(1, 0, jump=True)] + [Steer(1, 0, jump=True)] * 59
    states = walk(jumping, low, width=10)
    assert max(state.lift for state in states) > 40 and states[-1].x > 40 and not states[5].grounded
    assert states[-1].lift == 0 and states[-1].grounded and states[-1].rise == 0
    cut = walk([Steer(jump=True)] * 2 + [Steer()] * 40, low)
    assert max(state.lift for state in cut) < max(state.lift for state in states)


def test_a_body_that_is_in_a_wall_already_can_leave_it() -> None:
    assert walk([Steer(1, 0)] * 30, Course(shapes=(Shape(x=-5, y=-5, width=10, height=10),)))[-1].x == pytest.approx(30)


def figure(*states: State, **body: Any) -> Any:
    parameters = (
        Parameter(name="heading", kind="bearing", owner="body"),
        Parameter(name="facing", kind="bearing", owner="body"),
        Parameter(name="speed", owner="body", min=0, max=200),
        Parameter(name="moving", kind="flag", owner="body"),
        Parameter(name="quay", kind="flag", owner="body"),
    )
    course = Course(
        shapes=(Shape(x=0, y=20, width=10, height=10), Shape(kind="zone", name="quay", x=-5, y=-5, width=10, height=10))
    )
    controls = Controls(sticks=(Stick(name="stick"), Stick(name="look")), buttons=(Button(name="jump"),))
    return sketch(states=states, parameters=parameters, controls=controls, course=course, body=Body(**QUICK | body))


def played(character: Any, changes: list[Setting], ticks: int) -> list[dict[str, Any]]:
    machine = compile_character(character)
    stepper, found = Stepper(machine), []
    now = stepper.first()
    named = [(tick, machine.index[str(name)], value) for tick, name, value in changes]
    for row in spread(named, ticks):
        now = stepper.step(now, row).situation
        found.append({symbol.name: value for symbol, value in zip(machine.symbols, now.values)} | {"body": now.body})
    return found


def test_it_sets_heading_facing_speed_moving_and_zones() -> None:
    rows = played(figure(State(name="a")), [(0, "stick.x", 1.0), (8, "stick.x", 0.0)], 10)  # type: ignore[list-item]
    assert (rows[3]["heading"], rows[3]["facing"], rows[3]["moving"]) == (90.0, 90.0, True)
    assert rows[3]["speed"] == pytest.approx(60) and rows[3]["quay"] is True
    assert rows[-1]["moving"] is False and rows[-1]["heading"] == 90.0 and rows[-1]["quay"] is False


def test_a_second_stick_drives_the_facing_while_it_is_pushed() -> None:
    rows = played(
        figure(State(name="a"), aim="look"),
        [(0, "stick.x", 1.0), (2, "look.y", -1.0), (4, "look.y", 0.0)],  # type: ignore[list-item]
        6,
    )
    assert [round(row["facing"]) for row in rows] == [90, 90, 180, 180, 90, 90]


def test_a_held_button_keeps_it_looking_where_it_does() -> None:
    rows = played(
        figure(State(name="a"), aim_held="jump"),
        [(0, "jump", True), (0, "stick.y", -1.0), (3, "jump", False)],  # type: ignore[list-item]
        5,
    )
    assert [round(row["facing"]) for row in rows] == [90, 90, 90, 180, 180]


def test_a_state_turns_the_figure_to_what_it_touches_at_its_rate_and_a_lock_stops_other_turning() -> None:
    throwing = State(name="a", hold_still=True, face=300)
    course = Course(start=(5, 13.5), shapes=(Shape(x=0, y=20, width=10, height=10),))
    character = figure(throwing)

    rows = played(msgspec.structs.replace(character, course=course), [(0, "stick.x", 1.0)], 20)  # type: ignore[list-item]
    assert [row["facing"] for row in rows[:3]] == pytest.approx([85, 80, 75]) and rows[-1]["facing"] == 0
    locked = msgspec.structs.replace(character, course=course, layers=figure(State(name="a", hold_still=True)).layers)
    assert {row["facing"] for row in played(locked, [(0, "stick.y", -1.0)], 5)} == {90.0}  # type: ignore[list-item]


def test_a_figure_drawn_from_the_side_looks_the_way_it_last_went_and_keeps_that_in_depth() -> None:
    clip = Clip(name="walk", sheet="art", cels=(Cel(frame=0),))
    character = msgspec.structs.replace(
        figure(State(name="a", clip="walk")), clips=(clip,), sheets=(Sheet(name="art", size=(8, 8)),)
    )
    machine = compile_character(character)
    stepper = Stepper(machine)
    now, seen = stepper.first(), []
    for x, y in ((-1.0, 0.0), (0.0, 1.0), (1.0, 0.0), (0.0, -1.0)):
        now = stepper.step(now, {machine.index["stick.x"]: x, machine.index["stick.y"]: y}).situation
        seen.append(of_situation(machine, now).pieces[0].mirrored)
    assert seen == [True, True, False, False]
