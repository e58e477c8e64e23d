"""Bodies on random courses do the same in both engines, to the last bit."""

from __future__ import annotations

import random
from typing import Any

import pytest

from leanstep.core.body.records import TOLD
from leanstep.core.character.blends import Axis, BlendSpace, Sample
from leanstep.core.character.body import Body, Course, Shape
from leanstep.core.character.clips import Cel, Clip, Effect, Key, Mark, Playback, Travel
from leanstep.core.character.document import Character
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.core.character.inputs import Button, Controls, Parameter, Stick
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.engine.engine import Engine
from leanstep.core.rehearsal.engine.engine_trace import EngineTrace
from leanstep.core.rehearsal.situation import Setting
from leanstep.core.rehearsal.step_trace import spread
from leanstep.core.rehearsal.stepping import Stepper

TICKS = 240


def random_course(pick: random.Random, above: bool) -> Course:
    """Walls, ceilings, ladders and zones about the start, some of them close enough to be run into."""
    shapes = [] if above else [Shape(x=-150, y=-20, width=pick.choice([200, 400]), height=20)]
    for _ in range(pick.randint(1, 6)):
        kind: Any = pick.choice(["floor", "floor", "floor", "ladder", "zone", "slope"])
        x, y = pick.choice([-70, -40, 20, 45, 80]), pick.choice([-60, -30, 0, 25, 60])
        wide, high = pick.choice([10, 24, 60]), pick.choice([8, 30, 110])
        if pick.random() < 0.3:
            # edges that no double has exactly
            x, wide, high = x + 0.1, wide + 0.3, high + 0.7  # type: ignore[assignment]
        tall = pick.choice([None, None, 6.0, 30.0])
        rises: Any = pick.choice(["right", "left"])
        shapes.append(
            Shape(
                kind=kind,
                rises=rises,
                x=x,
                y=y,
                width=wide,
                height=high,
                tall=tall,
                name="spot" if kind == "zone" else "",
            )
        )
    return Course(start=(pick.choice([0.0, -20.0, 7.5]), 0.0), shapes=tuple(shapes))


def random_body(pick: random.Random, model: Any) -> Body:
    # drawn apart, so that bodies in which mistakes are known to show stay those they were
    waits = random.Random(pick.getstate()[1][0])
    return Body(
        model=model,
        ways=pick.choice(["free", "eight", "four", "square"]),
        width=pick.choice([8.0, 20.0, 20.1]),
        height=pick.choice([20.0, 52.0]),
        depth=pick.choice([6.0, 14.0]),
        cell=pick.choice([16.0, 33.0]),
        acceleration=pick.choice([200.0, 600.0, 1e6]),
        braking=pick.choice([150.0, 900.0]),
        turn_rate=pick.choice([0.0, 90.0, 400.0]),
        along=pick.choice([0.0, 0.0, 0.5, 1.0]),
        along_after=pick.choice([0.0, 0.3]),
        along_wait=pick.choice([0.0, 0.2]),
        along_back=pick.choice([0.5, 2.0]),
        slope=pick.choice([30.0, 60.0]),
        turn_time=pick.choice([0.0, 0.1]),
        jump_grace=waits.choice([0.0, 0.07]),
        jump_buffer=waits.choice([0.0, 0.15]),
        aim=pick.choice(["", "look", "aim"]),
        aim_held=pick.choice(["", "", "hold"]),
    )


def random_path(pick: random.Random) -> Travel | None:
    """A path, or none as often."""
    times = sorted(pick.sample(range(50), pick.randint(1, 4)))
    keys = []
    for at in times:
        ease: Any = pick.choice(["even", "in", "out", "both"])
        keys.append(
            Key(at=at / 2, x=pick.choice([0.0, 9.0, -20.0, 40.5]), y=pick.choice([0.0, 0.0, 12.0, -7.3]), ease=ease)
        )
    moves: Any = pick.choice(["body", "body", "body", "drawing"])
    made = Travel(keys=tuple(keys), moves=moves, through=pick.random() < 0.2, scale_x=pick.choice([1.0, 0.7]))
    return made if pick.random() < 0.5 and any(key.x or key.y for key in keys) else None


def random_clip(pick: random.Random, name: str) -> Clip:
    """A clip of any kind, which may travel, at a rate of its own; half of them hold time still for a moment."""
    loop: Any = pick.choice(["once", "repeat", "there-and-back"])
    pace = Playback(parameter="speed", at=60.0, min=0.5, max=3.0)
    stop = Mark(name="hit", at=pick.choice([3.0, 7.5]), effects=(Effect(do="freeze", value=4.0),))
    return Clip(
        name=name,
        sheet="art",
        loop=loop,
        repeat_from=pick.choice([0, 1]),
        playback=pick.choice([None, None, pace]),
        cels=tuple(Cel(frame=at, ticks=pick.choice([3.0, 6.5, 8.0])) for at in range(3)),
        marks=pick.choice([(), (stop,)]),
        travel=random_path(pick),
    )


def random_walker(seed: int) -> Character:
    pick = random.Random(seed)
    model = pick.choice(["side", "above"])
    body = (*TOLD, "spot")
    kinds: dict[str, Any] = dict.fromkeys(("speed", "rise", "ahead", "ledge"), "number")
    kinds |= dict.fromkeys(("heading", "facing"), "bearing")
    parameters = tuple(Parameter(name=name, kind=kinds.get(name, "flag"), owner="body") for name in body)
    aim = Parameter(name="aim", kind="bearing")
    push = (pick.choice([0.0, 90.0, -40.0]), pick.choice([0.0, 60.0]))
    mode: Any = pick.choice(["", "walk", "climb", "float", "still"])
    effects = (Effect(do="mode", name=pick.choice(["walk", "climb", "float"])), Effect(do="push", value=50.0, up=20.0))
    states = (
        State(name="a", clip="roam", on_entry=effects[: pick.choice([0, 0, 1, 2])]),
        State(
            name="b",
            clip=pick.choice(["", "leap"]),
            blend=pick.choice(["", "gait"]),
            hold_still=pick.random() < 0.4,
            face=pick.choice([0.0, 200.0]),
            mode=mode,
            cap=pick.choice([None, 30.0]),
            box=pick.choice([(), (12.0, 9.0), (30.0, 70.0)]),
            push=pick.choice([(), push]),
        ),
    )
    ways = (Transition(source="a", to="b", when="act held"), Transition(source="b", to="a", when="not act held"))
    buttons = tuple(Button(name=name) for name in ("jump", "run", "hold", "act"))
    gait = BlendSpace(
        name="gait",
        axes=(Axis(parameter="speed", max=100.0),),
        samples=(Sample(at=(0.0,), clip="roam"), Sample(at=(80.0,), clip="leap", mirrored=True, phase=0.25)),
    )
    return Character(
        parameters=(*parameters, aim),
        clips=(random_clip(pick, "roam"), random_clip(pick, "leap")),
        blends=(gait,),
        controls=Controls(sticks=(Stick(name="stick"), Stick(name="look")), buttons=buttons),
        body=random_body(pick, model),
        course=random_course(pick, model == "above"),
        layers=(Layer(name="base", states=states, transitions=ways),),
    )


def steering(pick: random.Random, machine: Machine) -> list[Setting]:
    found: list[Setting] = []
    for tick in range(TICKS):
        for name in ("stick.x", "stick.y", "look.x", "look.y"):
            if pick.random() < 0.06:
                found.append((tick, machine.index[name], pick.choice([-1.0, 0.0, 1.0, 1.0, pick.uniform(-1, 1)])))
        if pick.random() < 0.05:
            found.append((tick, machine.index["aim"], pick.uniform(0, 359)))
        for name in ("jump", "run", "hold", "act"):
            if pick.random() < 0.06:
                found.append((tick, machine.index[name], pick.random() < 0.5))
    return found


@pytest.mark.long(but=1)
@pytest.mark.parametrize("chunk", range(4))
def test_random_bodies_do_the_same_in_both_engines(chunk: int) -> None:
    touched = carried = 0
    for seed in range(chunk * 40, chunk * 40 + 40):
        machine = compile_character(random_walker(seed))
        changes = steering(random.Random(seed), machine)
        tape, stepper = EngineTrace(Engine(machine)), Stepper(machine)
        list(tape.play(changes, TICKS))
        now = stepper.first()
        assert repr(tape.engine.situation(*tape.engine.first)) == repr(now)
        for tick, row in enumerate(spread(changes, TICKS)):
            step = stepper.step(now, row)
            now = step.situation
            assert repr(tape[tick]) == repr(step), (seed, tick)
            touched += now.body.blocked
            carried += now.body.travels > 0
    assert touched > 50, "the courses are in the way"
    assert carried > 1000, "clips travel"
