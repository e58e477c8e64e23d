"""Squash and lean over time, the right way round, and without a say in what happens."""

from __future__ import annotations

from typing import Any

import msgspec
import pytest

from leanstep.core.character.body import Body, Course, Shape
from leanstep.core.character.clips import Cel, Clip, Effect, Mark
from leanstep.core.character.deforming import Lean, Squash
from leanstep.core.character.document import Character
from leanstep.core.character.files import dump, parse
from leanstep.core.character.graph import State
from leanstep.core.character.inputs import Button, Controls, Parameter, Stick
from leanstep.core.character.sheets import Sheet
from leanstep.core.errors import LeanStepError
from leanstep.core.findings.report import check_character
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.deforming import Deformed, followed
from leanstep.core.rehearsal.drawable import of_situation
from leanstep.core.rehearsal.situation import Situation
from leanstep.core.rehearsal.step_trace import StepTrace
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.traces import Player
from leanstep.core.work import Work
from tests.support.build import sketch, way
from tests.support.random_characters import random_character

FLAT = Squash(name="flat", high=0.5, over=0.1, hold=0.1, back=0.2)


def figure(
    squashes: tuple[Squash, ...] = (FLAT,), *ways: Any, leans: tuple[Lean, ...] = (), **values: Any
) -> Character:
    clip = Clip(name="art", sheet="art", cels=(Cel(frame=0, ticks=60),))
    states = values.pop("states", (State(name="a", clip="art"), State(name="b", clip="art", squash="flat")))
    return sketch(
        *(ways or (way("a>b", "act pressed"), way("b>a", "jump pressed"))),
        states=states,
        clips=values.pop("clips", (clip,)),
        sheets=(Sheet(name="art"),),
        squashes=squashes,
        leans=leans,
        controls=Controls(sticks=(Stick(name="stick"),), buttons=(Button(name="jump"), Button(name="act"))),
        parameters=(Parameter(name="grounded", kind="flag", owner="body"),),
        **values,
    )


def seen(
    character: Character, presses: dict[str, list[int]], ticks: int, **held: Any
) -> list[tuple[Situation, Deformed]]:
    """How a figure is drawn, tick by tick, while buttons are pressed on some ticks."""
    machine = compile_character(character)
    changes = [
        (tick + after, machine.index[name], after == 0)
        for name, at in presses.items()
        for tick in at
        for after in (0, 1)
    ]
    changes += [(tick, machine.index[name], value) for name, some in held.items() for tick, value in some]
    steps = StepTrace(Stepper(machine))
    list(steps.play(sorted(changes), ticks))
    first = Stepper(machine).first()
    return list(zip((step.situation for step in steps), followed(machine, first, iter(steps))))


def test_a_squash_goes_down_holds_and_springs_back_with_its_area_kept() -> None:
    shown = [now for _, now in seen(figure(), {"act": [10]}, 60)]
    highs = [now.high for now in shown]
    assert highs[9] == 1.0 and highs[10] == 1.0 and 0.5 < highs[13] < 0.9
    # six ticks down, six held, twelve back
    assert highs[16:22] == [0.5] * 6 and 0.5 < highs[28] < 1.0 and highs[34] == 1.0
    assert all(now.wide * now.high == pytest.approx(1.0) for now in shown[10:22])
    assert shown[34].begun is None


def test_one_that_holds_ends_when_its_state_is_left() -> None:
    held = msgspec.structs.replace(FLAT, hold=None)
    highs = [now.high for _, now in seen(figure((held,)), {"act": [2], "jump": [50]}, 90)]
    assert highs[30] == highs[49] == 0.5 and highs[70] == 1.0


def test_one_that_a_mark_began_holds_until_the_next() -> None:
    held = msgspec.structs.replace(FLAT, hold=None)
    marks = (Mark(name="thud", at=4, effects=(Effect(do="squash", name="flat"),)),)
    clips = (Clip(name="art", sheet="art", cels=(Cel(frame=0, ticks=60),), loop="once", marks=marks),)
    states = (State(name="a"), State(name="b", clip="art"), State(name="c", on_entry=(Effect(do="squash"),)))
    ways = (way("a>b", "act pressed"), way("b>a", "jump pressed"), way("a>c", "jump pressed"))
    character = figure((held,), *ways, states=states, clips=clips)
    highs = [now.high for _, now in seen(character, {"act": [2], "jump": [30]}, 120)]
    assert highs[20] == highs[29] == highs[119] == 0.5, "left and still flat"
    ended = [now.high for _, now in seen(character, {"act": [2], "jump": [30, 60]}, 120)]
    assert ended[59] == 0.5 and ended[119] == 1.0


def test_a_transition_squashes_too() -> None:
    states = (State(name="a", clip="art"), State(name="b", clip="art"))
    ways = (way("a>b", "act pressed", squash="flat"), way("b>a", "jump pressed"))
    highs = [now.high for _, now in seen(figure((FLAT,), *ways, states=states), {"act": [5]}, 40)]
    assert min(highs) == 0.5 and highs[39] == 1.0


def test_a_landing_squashes_by_the_speed_of_the_fall() -> None:
    soft = Squash(name="flat", high=0.5, over=0.0, hold=0.05, back=0.1, by_fall=400.0)
    ways = (way("a>b", "grounded for 1 ticks"), way("b>a", "not grounded"))
    floor = (Shape(x=-100, y=-10, width=200, height=10),)
    lowest = []
    for height in (6.0, 20.0, 2000.0):
        character = figure(
            (soft,), *ways, course=Course(start=(0.0, height), shapes=floor), body=Body(fall_speed=420.0)
        )
        lowest.append(min(now.high for _, now in seen(character, {}, 600)))
    assert 0.6 < lowest[1] < lowest[0] < 0.95 and lowest[2] == 0.5


def test_a_breath_comes_and_goes_as_long_as_the_state_lasts() -> None:
    breath = Squash(name="flat", high=1.05, wide=1.0, over=0.0, every=1.0, whole_pixels=True)
    states = (State(name="a", clip="art", squash="flat"), State(name="b", clip="art"))
    shown = seen(figure((breath,), states=states), {}, 180)
    highs = [now.high for _, now in shown]
    assert highs[29] == pytest.approx(1.05) and highs[59] == pytest.approx(1.0) and highs[149] == pytest.approx(1.05)
    machine = compile_character(figure((breath,), states=states))
    (piece,) = of_situation(machine, *shown[29]).pieces
    assert piece.whole and piece.scale == (1.0, pytest.approx(1.05))


def test_a_figure_leans_into_where_it_speeds_up_whichever_way_it_faces() -> None:
    lean = Lean(name="into", speeding=2.0, most=8.0, smooth=0.05)
    states = (State(name="a", clip="art", lean="into"), State(name="b", clip="art"))
    tilts = {}
    for way_to in (1.0, -1.0):
        shown = seen(figure((), states=states, leans=(lean,)), {}, 80, **{"stick.x": [(0, way_to), (40, 0.0)]})
        tilts[way_to] = [now.lean for _, now in shown]
        machine = compile_character(figure((), states=states, leans=(lean,)))
        (piece,) = of_situation(machine, *shown[5]).pieces
        assert piece.tilt == shown[5][1].lean and piece.mirrored == (way_to < 0)
    assert max(tilts[1.0][:10]) > 3 and min(tilts[1.0]) < 0, "back again when it brakes"
    assert tilts[-1.0] == [-tilt for tilt in tilts[1.0]]
    assert max(map(abs, tilts[1.0])) <= 8.0


def test_seen_from_above_it_leans_into_the_turn() -> None:
    lean = Lean(name="into", turning=5.0, most=20.0, smooth=0.0)
    states = (State(name="a", clip="art", lean="into"), State(name="b", clip="art"))
    character = figure((), states=states, leans=(lean,), body=Body(model="above", turn_rate=180.0))
    up_then_right = {"stick.y": [(0, 1.0), (60, 0.0)], "stick.x": [(60, 1.0)]}
    shown = seen(character, {}, 90, **up_then_right)
    turning = [now.lean for situation, now in shown if 10 < situation.body.facing < 60 and situation.tick > 60]
    assert turning and min(turning) > 0, "clockwise, to the right, while it looks up"


def test_squash_and_lean_change_nothing_that_happens() -> None:
    told = 0
    for seed in range(40):
        plain = random_character(seed)
        layers = []
        for layer in plain.layers:
            states = tuple(msgspec.structs.replace(one, squash="flat", lean="into") for one in layer.states)
            ways = tuple(msgspec.structs.replace(one, squash="flat", lean="into") for one in layer.transitions)
            layers.append(msgspec.structs.replace(layer, states=states, transitions=ways))
        leans = (Lean(name="into", speeding=1.0),)
        shaped = msgspec.structs.replace(plain, layers=tuple(layers), squashes=(FLAT,), leans=leans)
        one, other = (check_character(each, work=Work(budget=20_000)) for each in (plain, shaped))
        assert [(each.key, each.verdict, each.sentence) for each in one.findings] == [
            (each.key, each.verdict, each.sentence) for each in other.findings
        ]
        assert one.states == other.states
        told += len(one.findings)
        traces = [Player(compile_character(each), False).play([], 60) for each in (plain, shaped)]
        assert [repr(step) for step in traces[0].steps] == [repr(step) for step in traces[1].steps]
    assert told > 100


@pytest.mark.parametrize(("asked", "height"), [(False, 52.0), (True, 26.0)])
def test_the_body_box_follows_only_where_that_is_asked(asked: bool, height: float) -> None:
    low = msgspec.structs.replace(FLAT, hold=None, box=asked)
    character = figure((low,), course=Course(shapes=(Shape(x=-100, y=-10, width=400, height=10),)))
    machine = compile_character(character)
    changes = [(5, machine.index["act"], True), (6, machine.index["act"], False), (40, machine.index["jump"], True)]
    tape, steps = Player(machine, False).play(changes, 60).steps, StepTrace(Stepper(machine))
    list(steps.play(changes, 60))
    assert [repr(step) for step in tape] == [repr(step) for step in steps]
    bodies = list(tape.bodies())
    assert (bodies[20].high, bodies[20].wide) == (height, 20.0 * 52 / height)
    assert bodies[59].high == 52.0 and bodies[59].wide == 20.0


def test_a_trace_tells_how_the_figure_is_drawn_on_any_tick() -> None:
    character = figure()
    machine = compile_character(character)
    trace = Player(machine, False).play([(10, machine.index["act"], True), (11, machine.index["act"], False)], 60)
    wanted = [now for _, now in seen(character, {"act": [10]}, 60)]
    assert [trace.deformed(tick) for tick in (40, 12, 18)] == [wanted[tick] for tick in (40, 12, 18)]


@pytest.mark.parametrize(
    ("part", "reason"),
    [
        ({"squashes": (Squash(name="s", high=0.0),)}, "high: 0 is out of range"),
        ({"squashes": (Squash(name="s", over=-1.0),)}, "over: -1 is out of range"),
        ({"squashes": (Squash(name="s"), Squash(name="s"))}, "two of them are called 's'"),
        ({"leans": (Lean(name="l", most=100.0),)}, "from 0 to 90 degrees"),
        ({"leans": (Lean(name="l", smooth=-1.0),)}, "smooth: -1 is out of range"),
    ],
)
def test_what_cannot_be_drawn_is_refused_with_a_way_out(part: dict[str, Any], reason: str) -> None:
    with pytest.raises(LeanStepError, match=reason) as caught:
        parse(dump(msgspec.structs.replace(sketch(way("a>b")), **part)))
    assert caught.value.way_out


def test_a_squash_nobody_has_is_a_finding_with_the_nearest() -> None:
    states = (State(name="a", squash="flta"), State(name="b", on_entry=(Effect(do="lean", name="lost"),)))
    report = check_character(figure((FLAT,), states=states))
    told = {one.sentence for one in report.findings if one.id == "name.unknown"}
    assert any("no squash is called flta" in one for one in told) and any(
        "no lean is called lost" in one for one in told
    )
