"""Picks of blend spaces, tick by tick, against a direct reading of what they mean, in both engines."""

from __future__ import annotations

import random
from math import floor

import pytest

from leanstep.core.blends.picking import band
from leanstep.core.character.model import (
    Axis,
    BlendSpace,
    Cel,
    Character,
    Clip,
    Layer,
    Parameter,
    Sample,
    State,
    Transition,
)
from leanstep.core.clips.timing import TICK
from leanstep.core.graph.machine import Machine, compile_character
from leanstep.core.rehearsal.drawable import of_situation
from leanstep.core.rehearsal.engine.engine import Engine
from leanstep.core.rehearsal.engine.tape import Tape
from leanstep.core.rehearsal.situation import Setting
from leanstep.core.rehearsal.stepped import spread
from leanstep.core.rehearsal.stepping import Stepper


def plainly(blend: BlendSpace, value: float, before: int | None) -> int:
    """The pick, as it is written down: squares without sticky, roots with it."""
    axis = blend.axes[0]
    step = axis.step if axis.step is not None else (axis.max - axis.min) / 4
    value = axis.min if value < axis.min else axis.max if value > axis.max else value
    squares = []
    for sample in blend.samples:
        difference = (value - sample.at[0]) / step
        squares.append(difference * difference)
    nearest = squares.index(min(squares))
    if blend.sticky == 0 or before is None:
        return nearest
    roots = [square**0.5 for square in squares]
    return nearest if roots[nearest] < roots[before] - blend.sticky else before


def random_blend(pick: random.Random, name: str) -> BlendSpace:
    count = pick.choice([1, 2, 3, 5])
    places = [float(pick.choice([0, 1, 2, 2.5, 4, 6, 8, 9])) for _ in range(count)]
    return BlendSpace(
        name=name,
        sticky=pick.choice([0.0, 0.0, 0.2, 0.5, 1.5]),
        axes=(
            Axis(parameter=pick.choice(["speed", "speed", "lift"]), min=0, max=8, step=pick.choice([None, 1.0, 3.0])),
        ),
        samples=tuple(
            Sample(at=(place,), clip=f"c{at}", mirrored=pick.random() < 0.3, phase=pick.choice([0.0, 0.0, 0.25, 0.7]))
            for at, place in enumerate(places)
        ),
    )


def random_figure(seed: int) -> Character:
    pick = random.Random(seed)
    clips = tuple(
        Clip(name=f"c{at}", sheet="art", loop=pick.choice(["repeat", "once"]), cels=(Cel(frame=at, ticks=ticks),))
        for at, ticks in enumerate(pick.choices([4, 5, 6.5, 12], k=5))
    )
    ways = (Transition(source="a", to="b", when="go"), Transition(source="b", to="a", when="not go"))
    return Character(
        rate=10,
        parameters=(
            Parameter(name="speed", min=-2, max=10),
            Parameter(name="lift", min=-2, max=10),
            Parameter(name="go", kind="flag"),
        ),
        clips=clips,
        blends=(random_blend(pick, "one"), random_blend(pick, "two")),
        layers=(
            Layer(name="base", states=(State(name="a", blend="one"), State(name="b", blend="two")), transitions=ways),
        ),
    )


def moved(blend: BlendSpace, clips: dict[str, Clip], head: int, old: int, new: int) -> int:
    """The playhead in the new clip, as it is written down: the same share, less one phase and plus the other."""
    one, other = blend.samples[old], blend.samples[new]
    lengths = [round(clips[sample.clip].cels[0].ticks * TICK) for sample in (one, other)]
    phases = [floor(sample.phase * length) for sample, length in zip((one, other), lengths)]
    place = (head - phases[0]) * lengths[1] // lengths[0] + phases[1]
    return place % lengths[1] if clips[other.clip].loop == "repeat" else min(max(place, 0), lengths[1])


def walk(machine: Machine, pick: random.Random, ticks: int) -> list[Setting]:
    """Values that creep and jump, with ties and ends among them."""
    found: list[Setting] = []
    for tick in range(ticks):
        for name in ("speed", "lift"):
            if pick.random() < 0.6:
                value = pick.choice([float(pick.randint(-4, 20)) / 2, pick.uniform(-2, 10)])
                found.append((tick, machine.index[name], value))
        if pick.random() < 0.15:
            found.append((tick, machine.index["go"], pick.random() < 0.5))
    return found


@pytest.mark.parametrize("chunk", range(2))
def test_random_walks_give_the_picks_of_a_direct_reading(chunk: int) -> None:
    for seed in range(chunk * 60, chunk * 60 + 60):
        character = random_figure(seed)
        machine = compile_character(character)
        changes = walk(machine, random.Random(seed + 1), 60)
        tape = Tape(Engine(machine, True))
        list(tape.play(changes, 60))
        stepper, now = Stepper(machine, True), Stepper(machine, True).first()
        clips = {clip.name: clip for clip in character.clips}
        head, before_picks = now.playheads[0], now.picks[0]
        picked: int | None = plainly(character.blends[0], 0.0, None)
        for tick, row in enumerate(spread(changes, 60)):
            state = now.states[0]
            step = stepper.step(now, row)
            now = step.situation
            values = {name: float(now.values[machine.index[name]]) for name in ("speed", "lift")}
            blend = character.blends[state]
            picked = plainly(blend, values[blend.axes[0].parameter], picked)
            if now.states[0] != state:
                entered, before = character.blends[now.states[0]], None
                if entered.axes[0].parameter == blend.axes[0].parameter:
                    same = [at for at, one in enumerate(entered.samples) if one.at == blend.samples[picked].at]
                    before = same[0] if same else None
                picked = plainly(entered, values[entered.axes[0].parameter], before)
            assert now.picks[0] == picked, (seed, tick)
            if now.states[0] == state:
                clip = clips[blend.samples[picked].clip]
                if picked != before_picks:
                    head = moved(blend, clips, head, before_picks, picked)
                length = round(clip.cels[0].ticks * TICK)
                head = (head + TICK) % length if clip.loop == "repeat" else min(head + TICK, length)
                assert now.playheads[0] == head, (seed, tick)
            head, before_picks = now.playheads[0], picked
            assert repr(tape[tick]) == repr(step), (seed, tick)


def test_a_mirrored_sample_shows_its_clip_the_other_way_round() -> None:
    character = random_figure(0)
    samples = (Sample(at=(0,), clip="c0"), Sample(at=(8,), clip="c1", mirrored=True))
    blend = BlendSpace(name="one", axes=(Axis(parameter="speed", min=0, max=8),), samples=samples)
    machine = compile_character(
        Character(
            parameters=character.parameters,
            clips=character.clips,
            blends=(blend,),
            layers=(Layer(name="base", states=(State(name="a", blend="one"),)),),
        )
    )
    stepper = Stepper(machine, True)
    for value, mirrored in ((0.0, False), (8.0, True)):
        now = stepper.step(stepper.first(), {machine.index["speed"]: value}).situation
        assert [piece.mirrored for piece in of_situation(machine, now).pieces] == [mirrored]


def test_the_band_of_a_sticky_border_is_where_a_pick_stays() -> None:
    samples = (Sample(at=(2,), clip="c0"), Sample(at=(6,), clip="c1"))
    blend = BlendSpace(name="one", sticky=0.5, axes=(Axis(parameter="speed", min=0, max=8, step=2.0),), samples=samples)
    assert band(blend) == 1.0
    up = [plainly(blend, 3 + at / 100, 0) for at in range(200)]
    down = [plainly(blend, 5 - at / 100, 1) for at in range(200)]
    assert abs(3 + up.index(1) / 100 - 4.5) < 0.02 and abs(5 - down.index(0) / 100 - 3.5) < 0.02
