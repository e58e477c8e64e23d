"""How samples mix, and what a blend space covers."""

from __future__ import annotations

import random
from typing import Literal

import numpy as np
import pytest

from leanstep.core.blends import coverage
from leanstep.core.blends.mixing import weights
from leanstep.core.blends.picking import nearest, pick, squares_of
from leanstep.core.blends.space import Space, space_of
from leanstep.core.character.blends import Axis, BlendSpace, Sample

At = tuple[float | Literal["any"], ...]
SPEED = Axis(parameter="speed", min=0, max=180, step=90)
HEADING = Axis(parameter="heading")
EIGHT = [45.0 * at for at in range(8)]


def space(axes: tuple[Axis, ...], *places: At, sticky: float = 0.0) -> Space:
    samples = tuple(Sample(at=place, clip=f"c{at}") for at, place in enumerate(places))
    return space_of(BlendSpace(name="b", axes=axes, samples=samples, sticky=sticky), {"heading", "facing"})


PLANE = (Axis(parameter="x", min=0, max=4, step=1), Axis(parameter="y", min=0, max=4, step=1))


@pytest.mark.parametrize("order", [(0, 1, 2, 3), (1, 2, 3, 0), (2, 0, 3, 1)])
def test_a_square_of_samples_is_split_through_the_first_listed(order: tuple[int, ...]) -> None:
    corners: list[At] = [(0, 0), (2, 0), (2, 2), (0, 2)]
    found = weights(space(PLANE, *(corners[at] for at in order)), (1, 1))
    opposite = order.index((order[0] + 2) % 4)
    assert found[0] == pytest.approx(0.5) and found[opposite] == pytest.approx(0.5)


def test_samples_on_one_line_mix_along_it_and_beyond_them_as_at_the_nearest_place() -> None:
    slanted = space(PLANE, (0, 0), (2, 2), (4, 4))
    assert weights(slanted, (1, 1)) == pytest.approx([0.5, 0.5, 0])
    assert weights(slanted, (2, 0)) == pytest.approx([0.5, 0.5, 0])
    assert weights(slanted, (4, 4)) == pytest.approx([0, 0, 1])
    assert weights(space(PLANE, (1, 1)), (3, 0)) == [1]
    triangle = space(PLANE, (0, 0), (4, 0), (0, 4))
    assert weights(triangle, (4, 4)) == pytest.approx([0, 0.5, 0.5])


def test_a_direction_mixes_the_short_way_round() -> None:
    ring = space((HEADING,), (0,), (90,), (180,), (315,))
    assert weights(ring, (337.5,)) == pytest.approx([0.5, 0, 0, 0.5])
    assert weights(ring, (350,)) == pytest.approx([35 / 45, 0, 0, 10 / 45])


def test_any_stands_at_every_place_of_its_axis() -> None:
    dial = space((HEADING, SPEED), ("any", 0), *((at, 90) for at in EIGHT))
    assert weights(dial, (100, 0)) == pytest.approx([1] + [0] * 8)
    half = weights(dial, (90, 45))
    assert half[0] == pytest.approx(0.5) and half[3] == pytest.approx(0.5)


def random_space(seed: int) -> Space:
    pick = random.Random(seed)
    axes = pick.choice([(HEADING, SPEED), PLANE, (HEADING, Axis(parameter="facing", step=90))])
    places = []
    for _ in range(pick.randint(1, 9)):
        place = []
        for axis in axes:
            some = (
                EIGHT
                if axis.parameter in ("heading", "facing")
                else [0, 45, 90, 180]
                if axis is SPEED
                else [0, 1, 2, 3, 4]
            )
            place.append("any" if pick.random() < 0.1 else pick.choice(some))
        places.append(tuple(place))
    return space(axes, *places)  # type: ignore[arg-type]


@pytest.mark.parametrize("seed", range(40))
def test_weights_are_shares_of_one_and_never_jump(seed: int) -> None:
    made, rng = random_space(seed), random.Random(seed)
    before: list[float] | None = None
    start, end = ([rng.uniform(axis.low, axis.high) for axis in made.axes] for _ in range(2))
    for step in range(400):
        values = [a + (b - a) * step / 400 for a, b in zip(start, end)]
        found = weights(made, values)
        assert sum(found) == pytest.approx(1) and min(found) >= 0
        if before is not None:
            assert max(abs(a - b) for a, b in zip(found, before)) < 0.1
        before = found
    places = [place for place in made.places if all(at == at for at in place)]
    alone = [at for at, place in enumerate(made.places) if place in places and made.places.count(place) == 1]
    if len(places) == len(made.places):
        for at in alone:
            assert weights(made, made.places[at])[at] == pytest.approx(1)


@pytest.mark.parametrize("seed", range(40))
def test_many_picks_at_once_are_those_of_one_by_one(seed: int) -> None:
    made, rng = random_space(seed), np.random.default_rng(seed)
    rows = [rng.uniform(axis.low, axis.high, 200) for axis in made.axes]
    index, away, lead = nearest(made, rows)
    for at, values in enumerate(zip(*rows)):
        assert abs(away[at] ** 2 - min(squares_of(made, values))) < 1e-9
        assert index[at] == pick(made, values) or lead[at] < 1e-6


@pytest.mark.parametrize("seed", range(60))
def test_samples_said_never_to_be_picked_never_are(seed: int) -> None:
    made = random_space(seed)
    ranges = [(axis.low, axis.high) for axis in made.axes]
    dead = set(coverage.never_picked(made, ranges))
    lines = [coverage.axis_grid(made, at, ranges[at]) for at in range(len(made.axes))]
    picked = {pick(made, (float(a), float(b))) for a in lines[0][::3] for b in lines[1][::3]} | {
        pick(made, (float(place[0]), float(place[1]))) for place in made.places if all(at == at for at in place)
    }
    assert not dead & picked


def test_a_gap_is_told_with_the_value_in_it_and_how_far_it_is() -> None:
    ranges = [(0.0, 359.0), (0.0, 180.0)]
    seven = space(
        (HEADING, SPEED),
        *((at, 90) for at in EIGHT if at != 225),
        *((at, 180) for at in EIGHT if at != 225),
        ("any", 0),
    )
    found = coverage.gap(seven, ranges)
    assert found is not None and found[0] == (225.0, 135.0) and found[1] == pytest.approx(1.25**0.5)
    full = space((HEADING, SPEED), *((at, speed) for at in EIGHT for speed in (90, 180)), ("any", 0))
    assert coverage.gap(full, ranges) is None
    five = space(
        (HEADING, SPEED), *((at, speed) for at in EIGHT if at not in (180, 225, 270) for speed in (90, 180)), ("any", 0)
    )
    found = coverage.gap(five, ranges)
    assert found is not None and found[0] == (225.0, 180.0) and found[1] == pytest.approx(2.0)


@pytest.mark.long(but=4)
@pytest.mark.parametrize("seed", range(60))
def test_a_flip_is_one_there_and_back_within_its_width(seed: int) -> None:
    made = random_space(seed)
    sticky = Space(made.axes, made.places, 0.05 * (seed % 3))
    widths = [3.6 if axis.round else (axis.high - axis.low) / 30 for axis in made.axes]
    for flip in coverage.flips(sticky, [(axis.low, axis.high) for axis in made.axes], widths):
        assert pick(sticky, flip.one, flip.second) == flip.first and pick(sticky, flip.other, flip.first) == flip.second
        moved = [at for at in range(len(made.axes)) if flip.one[at] != flip.other[at]]
        assert moved == [flip.axis]
        way = abs(flip.one[flip.axis] - flip.other[flip.axis])
        assert min(way, 360 - way) if made.axes[flip.axis].round else way <= widths[flip.axis]
    cured = max(width / axis.step for width, axis in zip(widths, made.axes)) * 1.001
    assert not coverage.flips(
        Space(made.axes, made.places, cured), [(axis.low, axis.high) for axis in made.axes], widths
    )


def test_directions_one_cannot_stand_in_are_those_of_going_samples_alone() -> None:
    dial = space((HEADING, SPEED), *((at, 90) for at in EIGHT), (90, 0), (270, 0))
    assert coverage.not_stood_in(dial, frozenset({0.0})) == [45, 135, 180, 225, 315]
    assert coverage.not_stood_in(space((HEADING, SPEED), *((at, 90) for at in EIGHT)), frozenset()) == []
