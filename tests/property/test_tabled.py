"""Searches by tables come to the same as the search that makes every place."""

from __future__ import annotations

import os
from collections.abc import Callable
from functools import partial

import pytest

from benchmarks.platformers import platformer
from leanstep.core.character.document import Character
from leanstep.core.character.graph import Layer, State, Transition
from leanstep.core.character.inputs import Parameter
from leanstep.core.graph.compilation import compile_character
from leanstep.core.proof.reduce.slices import slices
from leanstep.core.proof.search.reach import Reach, first_places, ways_in
from leanstep.core.proof.search.reachability import explore
from leanstep.core.proof.search.tabled import TabledSearch
from leanstep.core.proof.search.tables import Tables
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.states.places import View
from leanstep.core.proof.verdicts.flashes import flash_of
from leanstep.core.proof.verdicts.short_stays import stays_of
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


def entered(reach: Reach, layer: int, state: int) -> set[tuple[View, int, tuple[object, ...]]]:
    """How a state of a layer is come into: from which view, by which outcome, and what short stays follow."""
    stays = stays_of(reach, layer)
    return {
        (reach.views[at], position, tuple([(one.box, one.way.index, one.ticks) for one in stays.of(reach.places[to])]))
        for at, position, to in ways_in(reach, layer)
        if reach.places[to].states[layer] == state != reach.views[at].states[layer]
    }


@pytest.mark.parametrize("kind", [*KINDS, partial(platformer, part=6)])
def test_the_ways_into_a_state_are_those_after_which_something_else_follows(kind: Callable[[int], Character]) -> None:
    looked_at = fewer = 0
    for seed in range(COUNT):
        for world in worlds(kind(seed)):
            whole = explore(world, Work(3_000))
            for layer in world.layers if whole.complete else ():
                for state in range(len(world.machine.layers[layer].states)):
                    reach = TabledSearch(Tables(world)).run(Work(20_000), into=(layer, state))
                    assert reach.complete
                    known_ways = entered(whole, layer, state)
                    differ = len(entered(reach, layer, state) ^ known_ways)
                    assert differ == 0, f"{seed}: {layer} {state}"
                    found, known = flash_of(layer, state, reach), flash_of(layer, state, whole)
                    assert (found and found.ticks) == (known and known.ticks)
                    looked_at += len(known_ways)
                    into = [way for way in ways_in(whole, layer) if whole.places[way[2]].states[layer] == state]
                    fewer += len(into) > len(list(ways_in(reach, layer)))
    assert looked_at > 3 * COUNT and fewer > 0


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
