"""Walls hold: whatever widths, edges and approaches are, in both engines."""

from __future__ import annotations

import os
import random

import numpy as np
import pytest

from leanstep.core.body import sensors
from leanstep.core.body.body_state import BodyState, Motion
from leanstep.core.body.records import Steer
from leanstep.core.character.body import Body, Course, Shape
from leanstep.core.character.files import load
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.takes import rehearse
from tests.support.cases import case

LONG = bool(os.environ.get("LEANSTEP_LONG"))
"""Whether compiled code is held to it, too, which takes a minute to compile for this; tests of bodies compare the engines."""
COUNT = 100_000 if LONG else 2_000
CHUNKS = 4
TICKS = 70
ROUNDED = 1e-9
"""What rounding may add to a way, in units."""


def somewhere(pick: random.Random, low: float, high: float) -> float:
    """A number as people write it: whole, with a digit or three, or anything."""
    return round(pick.uniform(low, high), pick.choice([0, 1, 1, 2, 3, 15]))


def walled(pick: random.Random, above: bool) -> tuple[Body, Course]:
    """A body with walls, ceilings and steps about it, in none of which it stands."""
    body = Body(
        model="above" if above else "side",
        ways=pick.choice(["free", "eight", "four", "square"]),
        width=somewhere(pick, 1, 30),
        height=somewhere(pick, 4, 60),
        depth=somewhere(pick, 1, 20),
        cell=somewhere(pick, 8, 40),
        walk_speed=somewhere(pick, 20, 400),
        run_speed=somewhere(pick, 20, 2000),
        acceleration=pick.choice([300.0, 4000.0, 1e6]),
        jump_speed=somewhere(pick, 100, 900),
        along=pick.choice([0.0, 0.0, 0.7]),
    )
    x, y = somewhere(pick, -100, 100), somewhere(pick, -10, 10)
    shapes = [] if above else [Shape(x=-4000, y=y - 20, width=8000, height=20)]
    half, low = body.width / 2 + 0.1, (body.depth / 2 + 0.1 if above else 0.0)
    high = body.depth / 2 + 0.1 if above else body.height
    while len(shapes) < 5:
        one = Shape(
            x=x + somewhere(pick, -90, 70),
            y=y + somewhere(pick, -60 if above else -5, 70),
            width=somewhere(pick, 0.1, 50),
            height=somewhere(pick, 0.1, 90),
            tall=pick.choice([None, 20.0]) if above else None,
        )
        across = one.x < x + half and one.x + one.width > x - half
        if not (across and one.y < y + high and one.y + one.height > y - low):
            shapes.append(one)
    return body, Course(start=(x, y), shapes=tuple(shapes))


def deep_in(body: Body, course: Course, state: BodyState) -> float:
    """By how many units a body is in a wall, the shortest way out; 0 or less: in none."""
    under = state.high / 2 if body.model == "above" else 0.0
    deepest = 0.0
    for wall in course.shapes:
        if body.model == "above" and wall.tall is not None and state.lift >= 0 and wall.tall < state.lift:
            continue
        ways = (
            state.x + state.wide / 2 - wall.x,
            wall.x + wall.width - state.x + state.wide / 2,
            state.y - under + state.high - wall.y,
            wall.y + wall.height - state.y + under,
        )
        deepest = max(deepest, min(ways))
    return deepest


def steering(pick: random.Random) -> list[Steer]:
    """A way into something: mostly kept, now and then another."""
    found, now = [], Steer(x=pick.choice([-1.0, 1.0]))
    for _ in range(TICKS):
        if pick.random() < 0.06:
            now = Steer(
                pick.choice([-1.0, 1.0, 1.0, 0.0, somewhere(pick, -1, 1)]),
                pick.choice([0.0, 0.0, -1.0, 1.0, somewhere(pick, -1, 1)]),
                pick.random() < 0.4,
                pick.random() < 0.5,
            )
        found.append(now)
    return found


def wrong(seed: int) -> str:
    """What goes wrong with a body among walls; empty when nothing does."""
    pick = random.Random(seed)
    above = pick.random() < 0.5
    body, course = walled(pick, above)
    motion = Motion(body, course, 60)
    fastest = max(body.walk_speed, body.run_speed) / 60 + ROUNDED
    upright = fastest if above else max(body.jump_speed, body.fall_speed) / 60 + ROUNDED
    plan, numbers = np.array(motion._plan), np.array(motion._numbers)
    state, row = motion.first, np.array(motion.first.row)
    jumped = False
    for tick, steer in enumerate(steering(pick)):
        after = motion.step(state, steer)
        if LONG:
            sensors.move(plan, 0, numbers, row, 0, *steer)
        if LONG and list(row) != after.row:
            return f"tick {tick}: compiled {BodyState.of(row)}, plain {after}"
        if abs(after.x - state.x) > fastest or abs(after.y - state.y) > upright:
            return f"tick {tick}: from {state.x, state.y} to {after.x, after.y}"
        # over a wall that is jumped over it may come down into it
        jumped = jumped or after.lift > 0
        if not jumped and deep_in(body, course, after) > ROUNDED:
            return f"tick {tick}: {deep_in(body, course, after)} units in a wall"
        state = after
    return ""


@pytest.mark.long
@pytest.mark.parametrize("chunk", range(CHUNKS))
def test_no_body_ends_in_a_wall_or_moves_faster_than_it_can(chunk: int) -> None:
    for seed in range(chunk, COUNT, CHUNKS):
        assert not wrong(seed), seed


def played(name: str) -> list[BodyState]:
    character = load(case(name))
    return [*rehearse(compile_character(character), character.takes[0]).bodies()]


@pytest.mark.parametrize("name", ["wall_lifts_figure", "above_walks_through_wall"])
def test_who_walks_at_a_wall_is_stopped_at_its_edge(name: str) -> None:
    bodies = played(name)
    assert {body.y for body in bodies} == {0.0}
    assert min(body.x for body in bodies) == 19.1 + 40 + 10
    assert bodies[-1].blocked


def test_who_jumps_at_a_wall_lands_on_it() -> None:
    bodies = played("jump_through_floor")
    assert min(body.y for body in bodies) == 0.0
    assert max(body.y for body in bodies) > 40


def test_the_high_side_of_a_slope_is_a_wall() -> None:
    last = played("into_slope_from_high_side")[-1]
    assert (last.x, last.y, last.blocked) == (30.0, 0.0, True)


def test_a_path_ahead_through_a_wall_stays_on_its_floor() -> None:
    bodies = played("through_path_sinks")
    assert {(body.y, body.grounded) for body in bodies} == {(0.0, True)}
    assert bodies[-1].x == 40.0


def slopes(*shapes: Shape, start: tuple[float, float]) -> Motion:
    return Motion(Body(), Course(start=start, shapes=shapes), 60)


def walk(motion: Motion, x: float, ticks: int) -> list[BodyState]:
    found = [motion.first]
    for _ in range(ticks):
        found.append(motion.step(found[-1], Steer(x=x)))
    return found


GROUND = Shape(x=-300, y=-20, width=900, height=20)


@pytest.mark.parametrize("plateau", [0.0, 5.0, 60.0])
def test_up_a_slope_over_its_top_and_down_another(plateau: float) -> None:
    up = Shape(kind="slope", x=40, y=0, width=60, height=40)
    down = Shape(kind="slope", x=100 + plateau, y=0, width=60, height=40, rises="left")
    flat = (Shape(x=100, y=0, width=plateau, height=40),) if plateau else ()
    bodies = walk(slopes(GROUND, up, down, *flat, start=(0, 0)), 1.0, 300)
    assert not any(body.blocked for body in bodies)
    assert all(body.grounded for body in bodies)
    assert max(body.y for body in bodies) == pytest.approx(40, abs=1)
    assert bodies[-1].x > 170 and bodies[-1].y == 0.0


def test_who_drops_beside_the_high_side_of_a_slope_does_not_get_in() -> None:
    high = Shape(kind="slope", x=0, y=0, width=60, height=60, rises="left")
    bodies = walk(slopes(GROUND, high, start=(-4, 100)), 1.0, 120)
    assert all(body.x <= 0 or body.y >= 60 - body.x - 1.5 for body in bodies)


def test_a_slope_under_a_low_ceiling_ends_there() -> None:
    slope = Shape(kind="slope", x=20, y=0, width=100, height=100, rises="right")
    ceiling = Shape(x=0, y=70, width=140, height=10)
    bodies = walk(slopes(GROUND, slope, ceiling, start=(0, 0)), 1.0, 200)
    assert bodies[-1].blocked and bodies[-1].y + 52 <= 70


def test_what_is_touched_is_ahead_at_no_distance() -> None:
    wall = Shape(x=50.1, y=0, width=7.3, height=33)
    motion = slopes(GROUND, wall, start=(0, 0))
    body = walk(motion, 1.0, 100)[-1]
    told = motion.published(body)
    assert body.blocked and (told["ahead"], told["ledge"]) == (0.0, 33.0)


def test_the_high_side_of_a_slope_is_told_as_a_wall() -> None:
    motion = slopes(GROUND, Shape(kind="slope", x=40, y=0, width=60, height=60, rises="left"), start=(0, 0))
    told = motion.published(motion.first)
    assert (told["ahead"], told["ledge"]) == (30.0, 60.0)


def test_who_is_set_down_in_a_floor_is_put_on_it_and_in_a_wall_walks_out() -> None:
    assert walk(slopes(GROUND, start=(0, -3)), 0.0, 2)[-1].y == 0.0
    tall = Shape(x=-6, y=0, width=40, height=200)
    bodies = walk(slopes(GROUND, tall, start=(-8, 0)), -1.0, 60)
    assert bodies[-1].x < -40 and all(body.y == 0 for body in bodies)


def test_a_second_wall_does_not_throw_the_body_beyond_it() -> None:
    # seen from above two walls were hit on one tick, and the second one put the body on its far side
    shapes = (Shape(x=30, y=-20, width=40, height=40), Shape(x=30.5, y=-20, width=40, height=40))
    motion = Motion(Body(model="above"), Course(shapes=shapes), 60)
    assert max(body.x for body in walk(motion, 1.0, 60)) == 20.0


def test_squares_do_not_step_over_a_thin_wall() -> None:
    motion = Motion(
        Body(model="above", ways="square", width=6, depth=6),
        Course(shapes=(Shape(x=14, y=-40, width=2, height=80),)),
        60,
    )
    assert max(body.x for body in walk(motion, 1.0, 60)) == 0.0


def test_who_stands_in_a_floor_by_a_hair_is_not_let_down_to_one_just_below_it() -> None:
    """The start lies one bit below the upper floor; what lies below it stops the fall, which is not the way out."""
    floors = (
        Shape(x=-4000, y=-17.063, width=8000, height=20),
        Shape(x=-98.52000000000001, y=1.9369999999999998, width=33.0, height=0.651),
    )
    motion = Motion(Body(width=12.5), Course(start=(-72.9, 2.937), shapes=floors), 60)
    state = motion.step(motion.first, Steer(x=1.0))
    assert state.grounded and state.y == -17.063 + 20
