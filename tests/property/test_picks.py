"""Picks of blend spaces, tick by tick, against a direct reading of what they mean, in both engines."""

from __future__ import annotations

import random
from math import floor, nextafter, sqrt
from typing import Literal

import pytest
from msgspec.structs import replace

from leanstep.core.bearings import MOST
from leanstep.core.blends.picking import band, pick, squares_of
from leanstep.core.blends.space import space_of
from leanstep.core.character.blends import Axis, BlendSpace, Sample
from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.document import Character
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.core.character.inputs import Parameter
from leanstep.core.clips.timing import TICK
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.machine import Machine
from leanstep.core.proof.reduce.sticky_picks import NEAR, Stretch, sticky_stretches
from leanstep.core.rehearsal.drawable import of_situation
from leanstep.core.rehearsal.engine.engine import Engine
from leanstep.core.rehearsal.engine.engine_trace import EngineTrace
from leanstep.core.rehearsal.situation import Setting
from leanstep.core.rehearsal.step_trace import spread
from leanstep.core.rehearsal.stepping import Stepper


def shorter(start: float, end: float) -> float:
    """The shorter way from one direction to another, clockwise positive."""
    way = end - start
    return way - 360 if way > 180 else way + 360 if way <= -180 else way


def plainly(blend: BlendSpace, values: list[float], before: int | None) -> int:
    """The pick, as it is written down: squares without sticky, roots with it."""
    squares = []
    for sample in blend.samples:
        total = 0.0
        for axis, place, value in zip(blend.axes, sample.at, values):
            if place == "any":
                continue
            if axis.parameter in ROUND:
                away = shorter(float(place) % 360, value) / (axis.step if axis.step is not None else 45)
            else:
                low, high = axis.min or 0.0, 1.0 if axis.max is None else axis.max
                value = low if value < low else high if value > high else value
                away = (value - place) / (axis.step if axis.step is not None else (high - low) / 4)
            total += away * away
        squares.append(total)
    nearest = squares.index(min(squares))
    if blend.sticky == 0 or before is None:
        return nearest
    roots = [square**0.5 for square in squares]
    return nearest if roots[nearest] < roots[before] - blend.sticky else before


ROUND = ("heading", "facing")


def random_axis(pick: random.Random, name: str) -> Axis:
    if name in ROUND:
        return Axis(parameter=name, step=pick.choice([None, 30.0, 90.0]))
    return Axis(parameter=name, min=0, max=8, step=pick.choice([None, 1.0, 3.0]))


def random_blend(pick: random.Random, name: str) -> BlendSpace:
    read = pick.choice(
        [
            ["speed"],
            ["lift"],
            ["heading"],
            ["heading", "speed"],
            ["speed", "heading"],
            ["speed", "lift"],
            ["heading", "facing"],
        ]
    )
    count = pick.choice([1, 2, 3, 5, 8])

    def place(one: str) -> float | Literal["any"]:
        if len(read) > 1 and pick.random() < 0.2:
            return "any"
        return float(pick.choice([0, 45, 90, 135, 180, 270, 315, 405] if one in ROUND else [0, 1, 2, 2.5, 4, 6, 8, 9]))

    return BlendSpace(
        name=name,
        sticky=pick.choice([0.0, 0.0, 0.2, 0.5, 1.5]),
        axes=tuple(random_axis(pick, one) for one in read),
        samples=tuple(
            Sample(
                at=tuple(place(one) for one in read),
                clip=f"c{at % 5}",
                mirrored=pick.random() < 0.3,
                phase=pick.choice([0.0, 0.0, 0.25, 0.7]),
            )
            for at in range(count)
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
            Parameter(name="heading", kind="bearing"),
            Parameter(name="facing", kind="bearing"),
            Parameter(name="go", kind="flag"),
        ),
        clips=clips,
        blends=(random_blend(pick, "one"), random_blend(pick, "two")),
        layers=(
            Layer(name="base", states=(State(name="a", blend="one"), State(name="b", blend="two")), transitions=ways),
        ),
    )


def carried(left: BlendSpace, picked: int, entered: BlendSpace) -> int | None:
    """What counts as picked before on entry, as it is written down."""

    def places(blend: BlendSpace, sample: Sample) -> dict[str, float | str]:
        named = {axis.parameter: place for axis, place in zip(blend.axes, sample.at)}
        return {
            name: place if place == "any" or name not in ROUND else float(place) % 360 for name, place in named.items()
        }

    old = places(left, left.samples[picked])
    for number, sample in enumerate(entered.samples):
        new = places(entered, sample)
        both = old.keys() & new.keys()
        if both and all(old[name] == new[name] for name in both):
            return number
    return None


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
        for name in ROUND:
            if pick.random() < 0.6:
                value = pick.choice([float(pick.randrange(0, 360, 15)) + pick.choice([0, 7.5]), pick.uniform(0, 359)])
                found.append((tick, machine.index[name], value))
        if pick.random() < 0.15:
            found.append((tick, machine.index["go"], pick.random() < 0.5))
    return found


@pytest.mark.long(but=1)
@pytest.mark.parametrize("chunk", range(2))
def test_random_walks_give_the_picks_of_a_direct_reading(chunk: int) -> None:
    for seed in range(chunk * 60, chunk * 60 + 60):
        character = random_figure(seed)
        machine = compile_character(character)
        changes = walk(machine, random.Random(seed + 1), 60)
        tape = EngineTrace(Engine(machine, True))
        list(tape.play(changes, 60))
        stepper, now = Stepper(machine, True), Stepper(machine, True).first()
        clips = {clip.name: clip for clip in character.clips}
        head, before_picks = now.playheads[0], now.picks[0]
        values = dict.fromkeys(("speed", "lift"), 0.0) | dict.fromkeys(ROUND, 90.0)
        picked: int | None = plainly(
            character.blends[0], [values[one.parameter] for one in character.blends[0].axes], None
        )
        for tick, row in enumerate(spread(changes, 60)):
            state = now.states[0]
            step = stepper.step(now, row)
            now = step.situation
            values = {name: float(now.values[machine.index[name]]) for name in values}
            blend = character.blends[state]
            picked = plainly(blend, [values[one.parameter] for one in blend.axes], picked)
            if now.states[0] != state:
                entered = character.blends[now.states[0]]
                picked = plainly(
                    entered, [values[one.parameter] for one in entered.axes], carried(blend, picked, entered)
                )
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
    assert band(space_of(blend, ())) == 1.0
    up = [plainly(blend, [3 + at / 100], 0) for at in range(200)]
    down = [plainly(blend, [5 - at / 100], 1) for at in range(200)]
    assert abs(3 + up.index(1) / 100 - 4.5) < 0.02 and abs(5 - down.index(0) / 100 - 3.5) < 0.02


def lies_in(stretch: Stretch, value: float) -> bool:
    return (stretch.low is None or value > stretch.low) and (stretch.high is None or value <= stretch.high)


def test_the_value_says_what_may_be_picked_where_borders_stick() -> None:
    held = 0
    for seed in range(120):
        chance = random.Random(seed)
        blend = random_blend(chance, "one")
        space = space_of(replace(blend, sticky=chance.choice([0.2, 0.5, 1.0, 1.5])), ROUND)
        if len(space.axes) > 1:
            continue
        stretches, before = [*sticky_stretches(space)], range(-1, len(space.places))
        assert [one.low for one in stretches[1:]] == [one.high for one in stretches[:-1]], "nothing lies between them"
        low, high = (0.0, MOST) if space.axes[0].round else (-3.0, 12.0)
        ends = [one.high for one in stretches if one.high is not None and low <= one.high <= high]
        values = [*(chance.uniform(low, high) for _ in range(40)), *(float(at) / 2 for at in range(int(2 * high)))]
        values += [
            min(max(near, low), high) for end in ends for near in (end, nextafter(end, low), nextafter(end, high))
        ]
        for value in values:
            picked = {pick(space, [value], one) for one in before}
            (stretch,) = (one for one in stretches if lies_in(one, value))
            assert picked <= stretch.picks, (seed, value)
            if all(abs(value - end) > 1e4 * NEAR for end in ends):
                held += 1
                away = [sqrt(square) for square in squares_of(space, [value])]
                farther = (away[one] - min(away) - space.sticky for one in stretch.picks - picked)
                assert all(abs(by) < 1e-5 for by in farther), (seed, value)
    assert held > 1000
