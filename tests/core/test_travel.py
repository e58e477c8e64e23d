"""Paths that clips travel end where the sentence says, in every engine, to the last bit."""

from __future__ import annotations

import itertools
import random
from fractions import Fraction
from typing import Any

import msgspec
import pytest

from leanstep.core.character.blends import Axis, BlendSpace, Sample
from leanstep.core.character.body import Body, Course, Shape
from leanstep.core.character.clips import Cel, Clip, Effect, Key, Mark, Playback, Travel
from leanstep.core.character.document import Character
from leanstep.core.character.files import dump, parse
from leanstep.core.character.graph import State
from leanstep.core.character.inputs import Button, Controls, Parameter, Stick  # fmt: skip
from leanstep.core.clips.travel import at, laid, total
from leanstep.core.errors import LeanStepError
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.engine.engine import Engine
from leanstep.core.rehearsal.engine.engine_trace import EngineTrace
from leanstep.core.rehearsal.step_trace import StepTrace
from leanstep.core.rehearsal.stepping import Stepper
from tests.support.build import sketch, way

TICK = 65536
LEAP = (Key(at=2, x=1.5), Key(at=9.5, x=33.3, y=20.25, ease="both"), Key(at=14, x=41.0, y=-3.7, ease="in"))

NOWHERE = Course(start=(0, 500), shapes=(Shape(x=9000, y=0, width=10, height=10),))
"""A course on which nothing is in the way."""


def clip(name: str = "leap", keys: tuple[Key, ...] = LEAP, loop: Any = "once", **values: Any) -> Clip:
    travel = Travel(
        keys=keys, **{key: values.pop(key) for key in ("scale_x", "scale_y", "through", "moves") if key in values}
    )
    return Clip(
        name=name, sheet="art", loop=loop, cels=(Cel(frame=0, ticks=8), Cel(frame=1, ticks=8)), travel=travel, **values
    )


def traveller(
    one: Clip, *more: Clip, course: Course = NOWHERE, model: Any = "side", rest: Any = "float", **state: Any
) -> Character:
    """A figure that travels while it is in state a, and does not in b."""
    states = (State(name="b", mode=rest), State(name="a", clip=one.name, mode="float", **state))
    return sketch(
        way("b>a", "act held"),
        way("a>b", "not act held"),
        states=states,
        clips=(one, *more),
        controls=Controls(sticks=(Stick(name="stick"),), buttons=(Button(name="jump"), Button(name="act"))),
        body=Body(model=model, width=8, height=20),
        course=course,
        parameters=(Parameter(name="speed", owner="body"), Parameter(name="gust", rest=1.0)),
    )


def eased(ease: str, t: Fraction) -> Fraction:
    return {"even": t, "in": t * t, "out": t * (2 - t), "both": t * t * (3 - 2 * t)}[ease]


def exactly(one: Clip, head: int, which: str) -> Fraction:
    """Where the path is, in exact numbers."""
    assert one.travel is not None
    keys = [(Fraction(0), Fraction(0), "even")] if one.travel.keys[0].at else []
    scale = Fraction(one.travel.scale_x if which == "x" else one.travel.scale_y)
    keys += [(Fraction(key.at) * TICK, Fraction(getattr(key, which)) * scale, key.ease) for key in one.travel.keys]
    for (start, old, _), (end, new, ease) in itertools.pairwise(keys):
        if head < end:
            return old if head <= start else old + (new - old) * eased(ease, (head - start) / (end - start))
    return keys[-1][1]


def both(character: Character, pressed: tuple[tuple[int, bool], ...], ticks: int, **more: Any) -> list[Any]:
    """The bodies of a take, the same in both engines."""
    machine = compile_character(character)
    changes = sorted([(tick, machine.index["act"], on) for tick, on in pressed] + more.get("changes", []))
    tape, stepped = EngineTrace(Engine(machine)), StepTrace(Stepper(machine))
    for one in (tape, stepped):
        list(one.play(changes, ticks))
    assert [repr(step) for step in tape] == [repr(step) for step in stepped]
    return [step.situation for step in stepped]


CASES: list[tuple[str, Clip, float]] = [
    ("plain", clip(), 1.0),
    ("scaled", clip(scale_x=1.25, scale_y=0.5), 1.0),
    ("repeats", clip(loop="repeat"), 1.0),
    ("there and back", clip(loop="there-and-back"), 1.0),
    ("from its second cel", clip(loop="repeat", repeat_from=1), 1.0),
    ("twice as fast", clip(playback=Playback(parameter="gust")), 2.0),
    ("at an odd rate", clip(playback=Playback(parameter="gust")), 0.7377),
    ("fast in a circle", clip(loop="repeat", playback=Playback(parameter="gust")), 3.3),
    ("keyed at its start", clip(keys=(Key(at=0, x=0.5), Key(at=16, x=10.1, y=1e-9))), 1.0),
    ("through walls", clip(through=True), 1.0),
]


@pytest.mark.parametrize("left", [False, True])
@pytest.mark.parametrize(("name", "one", "rate"), CASES)
def test_the_body_ends_where_the_path_says(name: str, one: Clip, rate: float, left: bool) -> None:
    character = traveller(one)
    machine = compile_character(character)
    turn = [(0, machine.index["stick.x"], -1.0), (4, machine.index["stick.x"], 0.0)] if left else []
    turn.append((0, machine.index["gust"], rate))
    seen = both(character, ((30, True),), 80, changes=turn)
    begins = next(tick for tick, now in enumerate(seen) if now.states[0] == 1)
    body, x, y = seen[begins].body, seen[begins].body.x, seen[begins].body.y
    facing = -1.0 if left else 1.0
    assert body.facing == facing and body.vx == 0.0
    reel = machine.pictures[0][1].reels[0]
    for before, now, after in zip(seen[begins:], seen[begins + 1 :], seen[begins + 2 :]):
        head, amount = before.playheads[0], reel.amount(now.values)
        # what is asked on a tick is obeyed on the next one
        assert now.body.travels == (7.0 if "through" in name else 3.0)
        x, y = x + now.body.travel * facing, y + now.body.travel_up
        assert (after.body.x, after.body.y) == (x, y)
        # and what is asked is the way of the path, but for rounding
        moved, length, back = head + amount, reel.timing.length, reel.timing.begin
        laps = (moved - length) // (length - back) if reel.timing.repeats and moved >= length else -1
        for which, asked in (("x", now.body.travel), ("y", now.body.travel_up)):
            end = exactly(one, min(moved, length), which) if laps < 0 else exactly(one, length, which)
            way_gone = end - exactly(one, min(head, length), which)
            if laps >= 0:
                way_gone += laps * (exactly(one, length, which) - exactly(one, back, which))
                way_gone += exactly(one, back + (moved - length) % (length - back), which) - exactly(one, back, which)
            assert abs(float(way_gone) - asked) < 1e-10
    if one.loop == "once" and rate >= 1:
        assert seen[-1].body.x - seen[begins].body.x == pytest.approx(total(one)[0] * facing)


def test_a_path_cut_off_half_way_ends_where_it_was() -> None:
    one = clip()
    seen = both(traveller(one, rest="still"), ((5, True), (14, False)), 60)
    assert seen[-1].states[0] == 0
    # entered on tick 5, left on 14: nine steps of the playhead, the last of them obeyed after it was left
    assert seen[-1].body.x == pytest.approx(at(laid(one.travel), 9 * TICK)[0])
    assert seen[-1].body.x != pytest.approx(total(one)[0])


def test_the_picked_samples_path_counts_through_a_blend() -> None:
    slow, fast = clip("slow", (Key(at=16, x=8),), "repeat"), clip("fast", (Key(at=16, x=80),), "repeat")
    character = msgspec.structs.replace(
        traveller(slow, fast, blend="gait"),
        blends=(
            BlendSpace(
                name="gait",
                axes=(Axis(parameter="gust", max=10.0),),
                samples=(Sample(at=(0.0,), clip="slow"), Sample(at=(10.0,), clip="fast")),
            ),
        ),
    )
    index = compile_character(character).index["gust"]
    seen = both(character, ((0, True),), 40, changes=[(10, index, 10.0), (20, index, 0.0)])
    steps = [round(after.body.x - before.body.x, 9) for before, after in itertools.pairwise(seen[2:])]
    assert steps == [0.5] * 8 + [5.0] * 10 + [0.5] * 19


def test_a_freeze_holds_the_path_and_what_was_asked_before_it() -> None:
    stop = Mark(name="hit", at=4, effects=(Effect(do="freeze", value=5),))
    one = msgspec.structs.replace(clip(keys=(Key(at=16, x=16),)), marks=(stop,))
    seen = both(traveller(one), ((0, True),), 40)
    xs = [now.body.x for now in seen]
    assert xs[-1] == 16.0
    frozen = [tick for tick in range(3, 20) if xs[tick] == xs[tick - 1]]
    assert len(frozen) == 5


def test_walls_stop_a_path_unless_it_goes_through() -> None:
    wall = Course(
        start=(0, 0), shapes=(Shape(x=-100, y=-10, width=300, height=10), Shape(x=20, y=0, width=10, height=50))
    )
    keys = (Key(at=10, x=60.0),)
    stopped = both(traveller(clip(keys=keys), course=wall), ((0, True),), 40)[-1].body
    assert stopped.x == 16.0
    through = both(traveller(clip(keys=keys, through=True), course=wall), ((0, True),), 40)[-1].body
    assert through.x == pytest.approx(60.0)


def test_seen_from_above_a_path_goes_along_the_facing_and_off_the_ground() -> None:
    character = traveller(clip(keys=(Key(at=8, x=20, y=12), Key(at=16, x=40)), loop="once"), model="above")
    index = compile_character(character).index
    up = [(0, index["stick.y"], 1.0), (6, index["stick.y"], 0.0)]
    seen = both(character, ((60, True),), 120, changes=up)
    begins = next(tick for tick, now in enumerate(seen) if now.states[0] == 1)
    assert seen[begins].body.facing == 0.0
    assert seen[-1].body.y - seen[begins].body.y == pytest.approx(40.0) and seen[-1].body.x == seen[begins].body.x
    assert max(now.body.lift for now in seen) == pytest.approx(12.0, abs=1.6) and seen[-1].body.lift == pytest.approx(
        0.0
    )


def test_a_path_of_the_drawing_moves_no_body() -> None:
    seen = both(traveller(clip(moves="drawing")), ((0, True),), 40)
    assert {(now.body.x, now.body.travels) for now in seen} == {(0.0, 0.0)}


def test_a_path_that_only_climbs_leaves_steering_to_the_stick() -> None:
    character = traveller(
        clip(keys=(Key(at=16, y=30),)), course=Course(shapes=(Shape(x=-100, y=-10, width=300, height=10),))
    )
    index = compile_character(character).index
    seen = both(character, ((0, True),), 60, changes=[(0, index["stick.x"], 1.0)])
    assert seen[-1].body.x > 30 and seen[16].body.y > 25


BROKEN = {
    "comes after": (Key(at=5, x=1), Key(at=3, x=2)),
    "two keys lie at tick 5": (Key(at=5, x=1), Key(at=5, x=2)),
    "the path has no length": (Key(at=5), Key(at=8)),
    "the path has no keys": (),
    "key 0, at: -1 is out of range": (Key(at=-1, x=2),),
}


@pytest.mark.parametrize("reason", BROKEN)
def test_a_broken_path_is_refused_with_its_reason(reason: str) -> None:
    character = traveller(clip(keys=BROKEN[reason]))
    with pytest.raises(LeanStepError, match=reason) as caught:
        parse(dump(character))
    assert caught.value.way_out


@pytest.mark.parametrize("scale", [0.0, -1.0])
def test_a_scale_must_be_above_0(scale: float) -> None:
    with pytest.raises(LeanStepError, match=r"travel, scale_x: .* is out of range. Write a number above 0"):
        parse(dump(traveller(clip(scale_x=scale))))


def test_a_path_survives_being_saved() -> None:
    character = traveller(clip(scale_x=1.5, through=True))
    assert parse(dump(character)) == character


def test_random_paths_are_continuous() -> None:
    pick = random.Random(5)
    for _ in range(200):
        times = sorted(pick.sample(range(1, 40), 4))
        eases: list[Any] = ["even", "in", "out", "both"]
        keys = tuple(Key(at=one / 2, x=pick.uniform(-50, 50), ease=pick.choice(eases)) for one in times)
        rows = laid(Travel(keys=keys))
        for key in keys:
            head = round(key.at * TICK)
            assert at(rows, head)[0] == key.x
            assert abs(at(rows, head - 1)[0] - key.x) < 0.01 and abs(at(rows, head + 1)[0] - key.x) < 0.01
