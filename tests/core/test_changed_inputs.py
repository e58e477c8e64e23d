"""What would have had to be done otherwise: what is offered gets there, is small, and hands come before the game."""

from __future__ import annotations

import random

import pytest

from leanstep.core.character.files import load
from leanstep.core.character.takes import Take
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.changed_inputs import AHEAD, EARLY, Changed, smallest_change
from leanstep.core.rehearsal.expectations import unmet
from leanstep.core.rehearsal.takes import rehearse
from tests.core.test_answers import given, some_take
from tests.support.build import DEMO, sketch, way
from tests.support.random_characters import random_character

LAMP = compile_character(load(DEMO / "lamplighter.leanstep"))
WALK = LAMP.character.takes[0]


def asked(tick: int, wanted: str, take: Take = WALK, runs: int = 1200) -> Changed | None:
    trace = rehearse(LAMP, take)
    return smallest_change(trace, take, tick, 0, LAMP.layers[0].states.index(wanted), runs)


@pytest.mark.parametrize(
    ("tick", "wanted", "words"),
    [
        (40, "take-off", "jump held from tick 40 for 1 tick gets there on tick 40"),
        (250, "stride", "stick.x at 1 from tick 250 for 2 ticks gets there on tick 251"),
        (250, "crouch", "stick.y at -1 from tick 250 for 1 tick gets there on tick 250"),
        (40, "hurt", "hit on tick 40 gets there on tick 40"),
        (120, "take-off", "It gets there on tick 128 as it is"),
    ],
)
def test_the_smallest_change_is_said_in_words(tick: int, wanted: str, words: str) -> None:
    found = asked(tick, wanted)
    assert found is not None and found.sentence == words


@pytest.mark.long
def test_two_things_are_changed_where_one_will_not_do_and_hands_come_before_the_game() -> None:
    found = asked(250, "skid")
    assert found is not None and {bar.symbol.name for bar in found.bars} == {"stick.x", "run"}
    idle = asked(40, "idle")
    assert idle is not None and [bar.symbol.owner for bar in idle.bars] == ["controls"], "though a hit is shorter"


def test_what_no_small_change_reaches_is_not_offered_and_a_search_can_be_short() -> None:
    assert asked(40, "climb") is None, "the ladder is far away"
    assert asked(250, "skid", runs=5) is None


@pytest.mark.long
def test_whatever_is_offered_gets_there_on_two_hundred_questions() -> None:
    offered = 0
    for seed in range(50):
        pick, machine = random.Random(seed), compile_character(random_character(seed))
        take = some_take(machine, pick)
        trace = rehearse(machine, take)
        for _ in range(4):
            tick, wanted = pick.randrange(take.ticks), pick.randrange(len(machine.layers[0].states))
            found = smallest_change(trace, take, tick, 0, wanted, 150)
            if found is not None:
                offered += 1
                again = rehearse(machine, found.take)
                assert not list(unmet(again, found.take)), seed
                entered = [at for at, state in again.entries(0) if state == wanted]
                assert found.tick in entered and tick - EARLY <= found.tick <= tick + AHEAD
    assert offered > 50


def test_a_take_of_the_free_world_may_change_what_the_body_would_set() -> None:
    machine = compile_character(sketch(way("a>b", "grounded and speed > 4"), way("b>a", "not grounded")))
    take = given((0, {"speed": 6.0}))
    found = smallest_change(rehearse(machine, take), take, 20, 0, 1)
    assert found is not None and found.sentence == "grounded at on from tick 20 for 1 tick gets there on tick 20"
    assert found.take.world == "free" and found.take.expects[0].name == "b"
