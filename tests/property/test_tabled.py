"""Searches by tables come to the same as the search that makes every place."""

from __future__ import annotations

import os
from collections.abc import Callable

import pytest

from benchmarks.platformers import platformer
from leanstep.core.character.document import Character
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.core.character.inputs import Parameter
from leanstep.core.graph.compilation import compile_character
from leanstep.core.proof.reduce.slices import slices
from leanstep.core.proof.search.reach import first_places, ways_in
from leanstep.core.proof.search.reachability import explore
from leanstep.core.proof.search.tabled import TabledSearch
from leanstep.core.proof.search.tables import Tables
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.states.places import View
from leanstep.core.work import Reason, Work
from tests.support import random_characters as drawn

COUNT = int(os.environ.get("LEANSTEP_TABLED", "12"))
"""Random characters of each kind."""

KINDS = (
    drawn.random_character,
    drawn.slow_character,
    drawn.acting_character,
    drawn.counting_character,
    drawn.fighting_character,
    drawn.moving_character,
    drawn.pulsing_character,
    drawn.remembering_character,
)


def worlds(character: Character) -> list[FreeWorld]:
    """The worlds of a character's slices, with every memory and age followed and with none."""
    parts = [part for part, _ in slices(compile_character(character))]
    return [FreeWorld(part, followed, False, followed) for part in parts for followed in (None, frozenset[int]())]


def depths_of(world: FreeWorld, trusts: bool = False) -> tuple[dict[View, int], bool]:
    """The views of a world with the fewest ticks to each, each come to by a search of its own from where the one before ended; and
    whether there is nothing else."""
    found, search, most = dict[View, int](), TabledSearch(Tables(world), trusts), Work(20_000)
    while (reach := search.run(most, lambda view: view not in found)).reason is Reason.PAST:
        for view, place in first_places(reach).items():
            found.setdefault(view, reach.depths[place])
    return found, reach.complete


@pytest.mark.parametrize("kind", KINDS)
def test_every_view_is_come_to_in_as_many_ticks(kind: Callable[[int], Character]) -> None:
    looked_at = 0
    for seed in range(COUNT):
        for world in worlds(kind(seed)):
            whole = explore(world, Work(3_000))
            if whole.complete:
                found, complete = depths_of(world)
                assert complete
                assert found == {view: whole.depths[place] for view, place in first_places(whole).items()}
                looked_at += len(found)
    assert looked_at > 3 * COUNT


@pytest.mark.parametrize("kind", KINDS)
def test_whoever_trusts_least_comes_to_all_views_too(kind: Callable[[int], Character]) -> None:
    for seed in range(COUNT):
        for world in worlds(kind(seed)):
            whole = explore(world, Work(3_000))
            if whole.complete:
                found, complete = depths_of(world, trusts=True)
                assert complete
                assert found.keys() == first_places(whole).keys()


def test_the_ways_into_a_state_are_those_that_there_are() -> None:
    for number in (4, 9, 17):
        world, *_ = worlds(platformer(number, part=6))
        whole = explore(world, Work(20_000))
        assert whole.complete
        for state in range(len(world.machine.layers[0].states)):
            reach = TabledSearch(Tables(world)).run(Work(20_000), into=(0, state))
            assert reach.complete
            ways = {(reach.views[at], position, reach.places[to]) for at, position, to in ways_in(reach, 0)}
            into = [way for way in ways_in(whole, 0) if whole.places[way[2]].states[0] == state]
            entered = {
                (whole.views[at], position, whole.places[to])
                for at, position, to in into
                if whole.views[at].states[0] != state
            }
            assert entered <= ways and len(ways) > 0


def test_a_search_that_is_cut_short_says_so_and_goes_on() -> None:
    world, *_ = worlds(platformer(9, part=6))
    search = TabledSearch(Tables(world))
    assert search.run(Work(5)).reason is Reason.BUDGET
    assert search.run(Work(20_000)).complete


def test_a_view_in_which_more_can_happen_than_may_be_looked_at_is_not_worked_out() -> None:
    """Sixteen memories of sixteen flags make 65 536 outcomes of every tick."""
    flags = tuple(Parameter(name=f"f{number}", kind="flag") for number in range(16))
    ways = [Transition(source="a", to="b", when=f"f{number} for {number + 2} ticks") for number in range(16)]
    ways.append(Transition(source="b", to="a", when="f0"))
    layer = Layer(name="base", states=(State(name="a"), State(name="b")), transitions=tuple(ways))
    whole, _ = worlds(Character(name="wide", parameters=flags, layers=(layer,)))
    found = explore(whole, Work(2_000))
    assert found.reason is Reason.BUDGET and not whole.kept.outcomes
    assert TabledSearch(Tables(whole)).run(Work(2_000)).reason is Reason.BUDGET
    assert not whole.kept.outcomes
