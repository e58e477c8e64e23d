"""Several states and transitions are edited at once."""

from msgspec.structs import replace

from leanstep.core.character.document import Character
from leanstep.core.character.validation import validate
from leanstep.core.naming import graph_edits
from tests.support.build import sketch, way

DRAWN = sketch(way("a>b", "hurt"), way("b>a", "not hurt"), way("a>c", "hurt"), states="a b c")


def ways(character: Character) -> list[str]:
    return [f"{one.source}>{one.to} {one.when}" for one in character.layers[0].transitions]


def test_what_is_set_is_set_for_all_chosen_states_and_no_other() -> None:
    made = graph_edits.with_states(DRAWN, [(0, "a"), (0, "c")], lambda one: replace(one, note="low"))
    assert {one.name: one.note for one in made.layers[0].states} == {"a": "low", "b": "", "c": "low"}


def test_a_condition_takes_in_what_the_body_can_tell() -> None:
    made = graph_edits.with_transitions(DRAWN, [(0, 0), (0, 2)], {"when": "blocked"})
    assert ways(made) == ["a>b blocked", "b>a not hurt", "a>c blocked"]
    assert [one.owner for one in made.parameters if one.name == "blocked"] == ["body"]
    expecting = graph_edits.with_states(DRAWN, [(0, "b")], lambda one: replace(one, expects="blocked"), "blocked")
    assert [one.owner for one in expecting.parameters if one.name == "blocked"] == ["body"]


def test_copies_are_tried_after_their_own_and_known_by_where_they_are() -> None:
    made, places = graph_edits.transitions_doubled(DRAWN, [(0, 2), (0, 0)])
    assert ways(made) == ["a>b hurt", "a>b hurt", "b>a not hurt", "a>c hurt", "a>c hurt"]
    assert sorted(places) == [(0, 1), (0, 4)]
    assert graph_edits.without_transitions(made, places) == DRAWN


def test_a_state_that_breathes_gets_a_stretch_of_its_own() -> None:
    once = graph_edits.breathing(DRAWN, 0, 1, 1.04)
    twice = graph_edits.breathing(once, 0, 2, 1.1)
    assert [one.squash for one in twice.layers[0].states] == ["", "breath", twice.squashes[1].name]
    assert [one.high for one in twice.squashes] == [1.04, 1.1] and twice.squashes[1].name != "breath"
    validate(twice, "twice")
