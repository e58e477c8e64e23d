"""Questions answered with only that followed on which they turn get the answers that following everything gives."""

from __future__ import annotations

import os
from collections import Counter

import pytest

from benchmarks.platformers import platformer
from leanstep.core.character.document import Character
from leanstep.core.graph.compilation import compile_character
from leanstep.core.proof.reduce.slices import slices
from leanstep.core.proof.search.reach import Reach
from leanstep.core.proof.search.reachability import explore
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.witness.guided import Guided
from leanstep.core.rehearsal.takes import rehearse
from leanstep.core.work import Exhausted, Stopped, Work
from tests.support.random_characters import remembering_character

COUNT = int(os.environ.get("LEANSTEP_GUIDED", "60"))
"""Random characters that are asked about."""

NOTHING = frozenset[int]()


def taken(reach: Reach, layer: int) -> set[tuple[int, int]]:
    """The states of a layer with the transitions that can be taken from them."""
    ways = reach.machine.layers[layer].ways
    fired = ((view.states[layer], one.fired[layer]) for view in reach.views for one in reach.world.outcomes(view))
    return {(state, ways[state][position].index) for state, position in fired if position >= 0}


def asked(character: Character) -> Counter[str]:
    """How the questions which transitions can be taken are answered; each answer is held against a search that follows everything."""
    machine, found = compile_character(character), Counter[str]()
    for part, layers in slices(machine):
        whole = explore(FreeWorld(part), Work(20_000))
        base = explore(FreeWorld(part, NOTHING, aged=NOTHING))
        if not whole.complete or not base.complete or base.world.wild:
            continue
        guided = Guided(base, Work)
        for layer in layers:
            can_be = taken(whole, layer)
            assert can_be <= taken(base, layer)
            for state, index in sorted(taken(base, layer)):
                answer = guided.taken(layer, state, index)
                if answer.ruled_out:
                    assert (state, index) not in can_be
                    found["ruled out"] += 1
                elif answer.witness is not None:
                    assert (state, index) in can_be and answer.witness.take is not None
                    steps = rehearse(part.machine, answer.witness.take).steps
                    assert steps[-1].fired[layer] == index
                    found["shown"] += 1
                else:
                    found["undecided"] += 1
    return found


@pytest.mark.parametrize("chunk", range(4))
def test_transitions_of_random_characters_are_taken_or_ruled_out(chunk: int) -> None:
    found = Counter[str]()
    for seed in range(chunk, COUNT, 4):
        found.update(asked(remembering_character(seed)))
    assert found["shown"] > 10 and found["ruled out"] > 0
    assert 50 * found["undecided"] <= found.total()


def test_transitions_of_a_platformer_are_taken_or_ruled_out() -> None:
    assert asked(platformer(4, part=6)).keys() == {"shown"}


def test_what_there_is_no_time_for_is_neither_shown_nor_ruled_out() -> None:
    late = 0
    for seed in range(12):
        for part, layers in slices(compile_character(remembering_character(seed))):
            base = explore(FreeWorld(part, NOTHING, aged=NOTHING))
            guided = Guided(base, lambda: Work(deadline=0.0))
            for key in [(layer, *key) for layer in layers for key in sorted(taken(base, layer))]:
                try:
                    assert guided.taken(*key).witness is not None
                except Exhausted:
                    late += 1
    assert late > 2


def test_a_question_can_be_stopped() -> None:
    stopped = 0
    for seed in range(12):
        for part, layers in slices(compile_character(remembering_character(seed))):
            base = explore(FreeWorld(part, NOTHING, aged=NOTHING))
            guided = Guided(base, lambda: Work(stop=lambda: True))
            try:
                for layer in layers:
                    for key in sorted(taken(base, layer)):
                        guided.taken(layer, *key)
            except Stopped:
                stopped += 1
    assert stopped > 2
