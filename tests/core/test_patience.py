"""Where the past is left open, takes show what can happen: values are chosen, kept, and where need be waited with."""

from __future__ import annotations

import pytest

from leanstep.core.character.graph import Transition
from leanstep.core.character.inputs import Parameter
from leanstep.core.graph.compilation import compile_character
from leanstep.core.proof.reduce.slices import slices
from leanstep.core.proof.search.reachability import explore
from leanstep.core.proof.states.free_world import FreeWorld
from leanstep.core.proof.witness.playing import Played, played
from leanstep.core.work import Effort, Work
from tests.support.build import sketch, way

FLAGS = tuple(Parameter(name=name, kind="flag") for name in ("f", "g"))


def patiently(*ways: Transition) -> Played:
    """What is played of a character none of whose memories is followed."""
    ((part, layers),) = slices(compile_character(sketch(*ways, states="a b c", parameters=FLAGS)))
    return played(explore(FreeWorld(part, frozenset())), layers, lambda: Work(effort=Effort(asked=(0, 0))))


def test_values_are_kept_until_a_memory_holds() -> None:
    assert len(patiently(way("a>b", "f for 9 ticks")).states[0, 1]) == 9


def test_what_would_fire_before_is_kept_from_it_by_other_values() -> None:
    ways = (way("a>b", "f for 3 ticks"), way("b>a", "f for 2 ticks"), way("b>c", "not g"))
    assert (0, 2) in patiently(*ways).states


def test_a_transition_is_waited_for_where_another_would_fire_at_once() -> None:
    ways = (way("a>b", "f and g and stay >= 12 ticks"), way("a>a", "f and g for 1 ticks", restart=True))
    rows = patiently(*ways).states[0, 1]
    assert 12 <= len(rows) <= 14 and not (rows[5][0] and rows[5][1])


@pytest.mark.parametrize("condition", ["f and not f", "f for 3 ticks and not f"])
def test_what_cannot_happen_is_not_played_however_patient(condition: str) -> None:
    assert (0, 1) not in patiently(way("a>b", condition)).states
