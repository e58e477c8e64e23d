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
from leanstep.core.proof.states.free_world import FreeWorld, Halt, Tried
from leanstep.core.proof.states.places import View
from leanstep.core.proof.values.predicates import Masks, Split
from leanstep.core.proof.verdicts.events import contests, where_together
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


def trusts(world: FreeWorld, view: View, layer: int, first: int, other: int) -> list[int]:
    """In how much of what is open each set of values trusts with which two transitions are true together, every condition being
    decided."""
    ways, judges = world.machine.layers[layer].ways[view.states[layer]], world.conditions[layer][view.states[layer]]
    found = list[int]()

    def answer(masks: Masks, then: Tried | Halt | None) -> Split | bool:
        step = world.evaluate(view, masks, then, until=layer)
        if isinstance(step, Split):
            return step
        true = list[int]()
        for way, judge in zip(ways, judges):
            holds = judge(step.setting) if judge is not None else False
            if holds is None:
                return Split(step.setting.symbol, step.setting.part, step)
            true += [way.index] if holds else []
        if true[:1] == [first] and other in true and world.completed(masks) is not None:
            found.append(world.trust(masks))
        return False

    world.divide(world.open_masks(view), answer)
    return found


def test_what_is_true_together_trusts_in_as_little_as_it_can() -> None:
    compared = 0
    for seed in range(40):
        for part, layers in slices(compile_character(remembering_character(seed))):
            base = explore(FreeWorld(part, NOTHING, aged=NOTHING))
            for one in contests(base, layers):
                view = base.views[one.place]
                masks = where_together(one.layer, one.first, one.other, base.world, view)
                some = trusts(base.world, view, one.layer, one.first, one.other)
                assert masks is not None and base.world.trust(masks) <= min(some)
                compared += max(some) > min(some)
    assert compared > 3
