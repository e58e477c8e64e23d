"""Places that share a view do the same: what is tried in a view is what each of its places would try by itself."""

from __future__ import annotations

from collections.abc import Sequence

import pytest

from leanstep.core.graph.compilation import compile_character
from leanstep.core.proof.reduce.slices import Slice, slices
from leanstep.core.proof.search.reachability import explore
from leanstep.core.proof.states.free_world import FreeWorld, Outcome
from leanstep.core.work import Work
from tests.support.random_characters import random_character

MOST = 120
"""Places of a slice up to which each is looked at by itself."""


def told(outcomes: Sequence[Outcome]) -> list[tuple[object, ...]]:
    """What an outcome comes to."""
    return [(one.masks, one.fired, one.news.operands, one.news.held) for one in outcomes]


def with_ages(seed: int) -> list[Slice]:
    """The slices of a character in which ages are asked for."""
    machine = compile_character(random_character(seed))
    return [part for part, _ in slices(machine) if machine.buffers or machine.clocks]


@pytest.mark.long(but=2)
@pytest.mark.parametrize("chunk", range(8))
def test_every_place_does_by_itself_what_its_view_does(chunk: int) -> None:
    looked = 0
    for seed in (*([1025205] if chunk == 0 else []), *range(1_000_000 + chunk, 1_000_800, 8)):
        for part in with_ages(seed):
            reach = explore(FreeWorld(part), Work(budget=MOST))
            if not reach.complete:
                continue
            for place, view in zip(reach.places, reach.views):
                alone = FreeWorld(part)
                own = alone.outcomes(alone.move(place).view)
                assert told(own) == told(reach.world.outcomes(view)), (seed, place.core.key)
                looked += 1
    assert looked > 150
