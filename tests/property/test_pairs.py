"""Two figures: the compiled engine does on every tick what the plain one does, and it does not matter who steps first.

``LEANSTEP_LONG=1`` plays 1 000 pairs of 200 ticks.
"""

from __future__ import annotations

import os
import random
from typing import Any

import pytest

from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.contact import Figure, Met, Side, meet
from leanstep.core.rehearsal.engine.engine import Engine
from leanstep.core.rehearsal.engine.pairs import play_both
from leanstep.core.rehearsal.situation import Setting
from leanstep.core.rehearsal.step_trace import spread
from tests.property.test_engine_against_plain import anything
from tests.support.random_characters import fighting_character

LONG = bool(os.environ.get("LEANSTEP_LONG"))
PAIRS, TICKS = (1000, 200) if LONG else (120, 100)
CHUNKS = 4
Pair = tuple[tuple[Figure, Figure], tuple[Side, Side], tuple[list[Setting], list[Setting]]]


def pair(seed: int) -> Pair:
    """Two random figures beside each other, and what is set of each."""
    pick = random.Random(seed)
    figures = tuple(
        Figure(
            compile_character(fighting_character(2 * seed + at)),
            (pick.choice((1.0, 0.5, 2.25)), pick.choice((1.0, 2.0))),
        )
        for at in (0, 1)
    )
    sides = (
        figures[0].first(0.0, 0.0, pick.random() < 0.3),
        figures[1].first(pick.uniform(-9, 9), 0.0, pick.random() < 0.7),
    )
    changes = tuple(anything(pick, figure.machine, TICKS) for figure in figures)
    return (figures[0], figures[1]), sides, (changes[0], changes[1])


def played(figures: tuple[Figure, Figure], sides: tuple[Side, Side], changes: Any) -> list[Met]:
    found, now = [], sides
    for inputs in zip(*(spread(some, TICKS) for some in changes)):
        found.append(meet(*figures, now, (inputs[0], inputs[1])))
        now = found[-1].sides
    return found


@pytest.mark.long
@pytest.mark.parametrize("chunk", range(CHUNKS))
def test_two_random_figures_do_the_same_in_both_engines(chunk: int) -> None:
    touched = 0
    for seed in range(chunk, PAIRS, CHUNKS):
        figures, sides, changes = pair(seed)
        plain, quick = played(figures, sides, changes), play_both(figures, sides, changes, TICKS)
        engines = [Engine(figure.machine) for figure in figures]
        for tick, met in enumerate(plain):
            for at, (engine, part) in enumerate(zip(engines, quick.parts)):
                now = engine.situation(part.counts[tick], part.values[tick])
                assert repr(now) == repr(met.sides[at].situation), (seed, tick, at)
        wanted = [
            (tick, who, one.layer, 2 if one.guarded else 1)
            for tick, met in enumerate(plain)
            for who in (0, 1)
            for one in sorted(met.touches[who], key=lambda one: one.layer)
        ]
        assert [tuple(row) for row in quick.touches.tolist()] == wanted, seed
        touched += len(wanted)
    assert touched > PAIRS / CHUNKS


@pytest.mark.long(but=1)
@pytest.mark.parametrize("chunk", range(CHUNKS))
def test_who_steps_first_makes_no_difference(chunk: int) -> None:
    for seed in range(chunk, PAIRS // 2, CHUNKS):
        figures, sides, changes = pair(seed)
        one, other = (
            played(figures, sides, changes),
            played((figures[1], figures[0]), (sides[1], sides[0]), (changes[1], changes[0])),
        )
        for met, swapped in zip(one, other):
            assert met.sides == (swapped.sides[1], swapped.sides[0])
            assert met.touches == (swapped.touches[1], swapped.touches[0])
