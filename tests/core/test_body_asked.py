"""What the graph asks of the body, from the side and from above: modes, pushes, caps, boxes; and what the body tells it is ahead."""

from __future__ import annotations

import dataclasses
import math
from typing import Any

import pytest
from msgspec.structs import replace

from leanstep.core.body import records
from leanstep.core.body.body_state import BodyState, Motion
from leanstep.core.body.records import CLIMB, FLOAT, STILL, WALK, Steer
from leanstep.core.character.body import Body, Course, Shape
from leanstep.core.character.clips import Effect
from leanstep.core.character.document import Character
from leanstep.core.character.graph import State
from leanstep.core.character.inputs import Button, Controls, Parameter, Stick
from leanstep.core.character.validation_together import BODY as BODY_SAYS
from leanstep.core.graph import effect_text
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.migration import behaves_alike, carried
from leanstep.core.rehearsal.situation import Situation
from leanstep.core.rehearsal.stepping import Stepper
from tests.support.build import sketch, way

FLOOR = Shape(x=-300, y=-20, width=600, height=20)
BODY = Body(width=20, height=50)


def walk(steers: list[Steer], *shapes: Shape, start: tuple[float, float] = (0, 0), **body: Any) -> list[BodyState]:
    motion = Motion(replace(BODY, **body), Course(start=start, shapes=(FLOOR, *shapes)), 60)
    states = [motion.first]
    for steer in steers:
        states.append(motion.step(states[-1], steer))
    return states[1:]


def tells(state: BodyState, *shapes: Shape, **body: Any) -> dict[str, float | bool]:
    return Motion(replace(BODY, **body), Course(shapes=(FLOOR, *shapes)), 60).published(state)


def test_still_stands_in_the_air_and_float_has_no_gravity_and_goes_up() -> None:
    assert walk([Steer(1, 1, mode=STILL)] * 20, start=(0, 40))[-1].y == 40
    floating = walk([Steer(1, 1, mode=FLOAT)] * 60, start=(0, 40))[-1]
    assert floating.y > 80 and floating.x > 40
    assert walk([Steer(0, 0, mode=FLOAT)] * 60, start=(0, 40))[-1].y == 40


def test_climb_holds_on_to_the_ladder_without_a_push_of_the_stick_and_walk_does_not_grab_it() -> None:
    ladder = Shape(kind="ladder", x=-10, y=0, width=20, height=100)
    assert walk([Steer(mode=CLIMB)] * 3, ladder, start=(4, 30))[-1].climbing
    assert walk([Steer(mode=CLIMB)] * 3, ladder, start=(4, 30))[-1].x == 0
    assert not walk([Steer(0, 1, mode=WALK)] * 5, ladder)[-1].climbing
    assert walk([Steer(0, 1)] * 5, ladder)[-1].climbing, "nothing is asked: the stick decides"


def test_a_cap_keeps_the_speed_down_also_of_a_push() -> None:
    assert walk([Steer(1, cap=30.0)] * 60)[-1].vx == 30
    motion = Motion(BODY, Course(shapes=(FLOOR,)), 60)
    pushed = BodyState(0, 0, grounded=True, push=500.0, wide=20, high=50)
    assert motion.step(pushed, Steer(cap=120.0)).vx == 120
    assert motion.step(pushed, Steer()).vx == pytest.approx(500 - 900 / 60)
    assert motion.step(motion.step(pushed, Steer()), Steer()).push == 0


def test_a_low_box_passes_below_and_standing_up_waits_for_room() -> None:
    roof = Shape(x=20, y=30, width=60, height=40)
    low = {"wide": 20.0, "high": 24.0}
    assert walk([Steer(1)] * 60, roof)[-1].blocked
    steers = [Steer(1, **low)] * 60 + [Steer()] * 30 + [Steer(1)] * 120  # type: ignore[arg-type]
    states = walk(steers, roof)
    assert states[59].high == 24 and states[59].x > 20
    assert states[80].high == 24, "below the roof it stays low"
    assert states[-1].high == 50 and states[-1].x > 90
    assert tells(states[80], roof)["headroom"] is False and tells(states[-1], roof)["headroom"] is True


@pytest.mark.parametrize(("facing", "away", "ledge"), [(1.0, 30.0, 40.0), (-1.0, 200.0, 0.0)])
def test_it_tells_what_is_ahead_and_how_high_that_is(facing: float, away: float, ledge: float) -> None:
    told = tells(BodyState(0, 0, facing=facing, wide=20, high=50), Shape(x=40, y=0, width=10, height=40))
    assert (told["ahead"], told["ledge"]) == (away, ledge)


def test_seen_from_above_it_looks_along_its_facing_and_over_what_is_lower_than_it_jumps() -> None:
    wall = Shape(x=30, y=30, width=20, height=20, tall=12.0)
    state = BodyState(0, 0, facing=45.0, wide=20, high=12)
    motion = Motion(replace(BODY, model="above"), Course(shapes=(wall,)), 60)
    assert (
        motion.published(state)["ahead"] == pytest.approx(30 * math.sqrt(2)) and motion.published(state)["ledge"] == 12
    )
    assert motion.published(BodyState(0, 0, facing=225.0))["ahead"] == 200
    assert motion.published(BodyState(0, 0, facing=45.0, lift=20.0))["ahead"] == 200
    pushed = BodyState(0, 0, facing=180.0, grounded=True, push=100.0, push_up=50.0, wide=20, high=12)
    after = motion.step(pushed, Steer())
    assert after.vy < -80 and after.vx == 0 and after.rise > 0
    assert motion.step(pushed, Steer(cap=40.0)).speed <= 40


SLOPE = Shape(kind="slope", x=40, y=0, width=60, height=40)
TOP = Shape(x=100, y=0, width=100, height=40)


def test_it_walks_up_a_slope_and_down_again_with_its_speed_kept_along_it() -> None:
    states = walk([Steer(1)] * 170, SLOPE, TOP)
    assert states[-1].y == 40 and states[-1].x > 150 and not any(state.blocked for state in states)
    on = [state for state in states if 50 < state.x < 90]
    assert all(state.grounded for state in on) and on[0].slope == pytest.approx(math.degrees(math.atan2(40, 60)))
    way = math.hypot(on[5].x - on[4].x, on[5].y - on[4].y) * 60
    assert way == pytest.approx(on[5].vx)
    down = walk([Steer(-1)] * 200, SLOPE, TOP, start=(150, 40))
    assert down[-1].y == 0 and all(state.grounded for state in down)


def test_a_slope_that_is_too_steep_stops_it_and_one_to_the_left_rises_to_the_left() -> None:
    assert walk([Steer(1)] * 100, SLOPE, TOP, slope=30.0)[-1].blocked
    left = Shape(kind="slope", x=-100, y=0, width=60, height=40, rises="left")
    states = walk([Steer(-1)] * 80, left)
    assert states[-1].y > 25 and states[-1].slope < 0


def test_it_lands_on_a_slope() -> None:
    state = walk([Steer()] * 60, SLOPE, start=(70, 80))[-1]
    assert state.grounded and state.y == pytest.approx(20) and state.vy == 0


def test_turning_takes_its_time() -> None:
    states = walk([Steer(1)] * 30 + [Steer(-1)] * 60, turn_time=0.3)
    first = next(at for at, state in enumerate(states) if state.facing < 0)
    assert first == 30 + 17
    assert walk([Steer(1)] * 30 + [Steer(-1)] * 60)[36].facing < 0


def test_states_and_effects_are_obeyed_from_the_next_tick_on_and_a_mode_of_an_effect_until_the_next() -> None:
    states = (
        State(name="a"),
        State(name="dash", push=(120.0, 0.0), cap=100.0, box=(20.0, 20.0), on_entry=(Effect(do="mode", name="still"),)),
        State(name="after"),
        State(name="free", on_entry=(Effect(do="mode", name="walk"),)),
    )
    ways = (way("a>dash", "jump held"), way("dash>after", "stay >= 4 ticks"), way("after>free", "stay >= 4 ticks"))
    character: Character = sketch(
        *ways,
        states=states,
        parameters=(Parameter(name="speed", owner="body", min=0, max=400),),
        controls=Controls(sticks=(Stick(name="stick"),), buttons=(Button(name="jump"), Button(name="run"))),
        body=replace(BODY, jump="run"),
        course=Course(shapes=(FLOOR,)),
    )
    machine = compile_character(character)
    stepper, rows = Stepper(machine), []
    now = stepper.first()
    for tick in range(14):
        now = stepper.step(now, {machine.index["jump"]: tick == 0, machine.index["stick.x"]: 1.0}).situation
        rows.append((machine.layers[0].states[now.states[0]], now.body))
    assert rows[0][0] == "dash" and rows[0][1].vx < 20 and rows[0][1].push == 120 and rows[0][1].high == 50
    assert rows[1][1].high == 20 and rows[1][1].vx == 0, "still from the effect"
    assert rows[6][0] == "after" and rows[6][1].vx == 0 and rows[6][1].high == 50
    assert rows[-1][0] == "free" and rows[-1][1].vx > 0


def test_in_the_free_world_the_wishes_change_nothing() -> None:
    pushing = State(name="a", push=(100.0, 0.0), mode="float")
    machine = compile_character(sketch(way("a>b", "hurt"), states=(pushing, State(name="b"))))
    stepper = Stepper(machine, free=True)
    before = stepper.first()
    after = stepper.step(before, {}).situation
    assert (after.body.x, after.body.vx) == (before.body.x, before.body.vx)


@pytest.mark.parametrize(
    "effects",
    [(Effect(do="mode", name="climb"),), (Effect(do="push", value=120.5, up=-3.0),), (Effect(do="push", value=-40.0),)],
)
def test_wishes_are_written_as_words_and_read_back(effects: tuple[Effect, ...]) -> None:
    assert effect_text.read_effects(effect_text.effect_words(effects)) == effects


def test_a_mode_there_is_not_is_named_with_the_nearest() -> None:
    fault = effect_text.fault_of(sketch(), (Effect(do="mode", name="clim"),))
    assert "no mode clim" in fault and "climb" in fault


def test_another_body_begins_anew_where_the_course_does_and_another_wish_is_another_behaviour() -> None:
    side = compile_character(sketch(states=(State(name="a"), State(name="b"))))
    above = compile_character(sketch(states=(State(name="a"), State(name="b")), body=Body(model="above")))
    before = replace_body(Stepper(side).first(), facing=-1.0, x=30.0)
    first = Stepper(above).first()
    assert carried(side, above, before, first).body == first.body
    assert carried(side, side, before, Stepper(side).first()).body.x == 30.0
    slow = compile_character(sketch(states=(State(name="a", cap=20.0), State(name="b"))))
    assert behaves_alike(side, side) and not behaves_alike(side, slow)


def replace_body(situation: Situation, **values: float) -> Situation:
    return dataclasses.replace(situation, body=dataclasses.replace(situation.body, **values))  # type: ignore[arg-type]


def test_a_take_that_begins_in_the_middle_says_all_there_is_of_the_body() -> None:
    assert records.Fields._fields == BODY_SAYS == tuple(field.name for field in dataclasses.fields(BodyState))


LEDGE = Shape(x=-50, y=20, width=60, height=20)


@pytest.mark.parametrize(("grace", "late", "jumps"), [(0.0, 1, False), (0.1, 1, True), (0.1, 6, True), (0.1, 7, False)])
def test_a_press_that_comes_late_still_jumps_for_the_ticks_of_the_grace(grace: float, late: int, jumps: bool) -> None:
    on = (0.0, 40.0)
    off = next(at for at, one in enumerate(walk([Steer(1)] * 60, LEDGE, start=on)) if not one.grounded)
    states = walk([Steer(1)] * (off + late) + [Steer(1, jump=True)] * 3, LEDGE, start=on, jump_grace=grace)
    assert (states[-1].vy > 0) is jumps
    assert not jumps or states[off + late].grace == 0.0, "it does not jump twice"


@pytest.mark.parametrize(
    ("buffer", "early", "jumps"), [(0.0, 1, False), (0.1, 2, True), (0.1, 6, True), (0.1, 7, False)]
)
def test_a_press_that_comes_early_waits_for_the_ground(buffer: float, early: int, jumps: bool) -> None:
    def fallen(*steers: Steer) -> list[BodyState]:
        return walk([*steers], start=(0, 60), jump_buffer=buffer)

    lands = next(at for at, one in enumerate(fallen(*[Steer()] * 60)) if one.grounded)
    # the first tick that begins on the ground is the one after it
    before = [Steer()] * (lands + 1 - early)
    held = fallen(*before, *[Steer(jump=True)] * (early + 1))
    assert (held[lands + 1].vy > 0) is jumps
    let_go = fallen(*before, Steer(jump=True), *[Steer()] * early)
    assert (0 < let_go[lands + 1].vy < held[lands + 1].vy) is jumps, "who has let go jumps less high"


def test_a_state_caps_the_speed_of_falling() -> None:
    assert walk([Steer(fall=40.0)] * 60, start=(0, 900))[-1].vy == -40
    assert walk([Steer(fall=4000.0)] * 60, start=(0, 900))[-1].vy == -BODY.fall_speed
