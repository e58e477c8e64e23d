"""States and transitions that are copied, also into another character."""

from __future__ import annotations

import pytest

from leanstep.core.character.clips import Clip
from leanstep.core.character.document import Character
from leanstep.core.character.graph import Layer, State
from leanstep.core.character.inputs import Parameter
from leanstep.core.errors import LeanStepError
from leanstep.core.naming.copying import copied_states, copied_transitions, holds_copy, pasted
from tests.support.build import sketch, way

HOME = sketch(
    way("a>b", "speed > 3 and not hurt"),
    way("b>a", "stay >= 0.2 s", fade=0.1),
    way("lane:low>b", "hurt"),
    states=(State(name="a", lane="low", clip="walk", restful=True), State(name="b")),
    clips=(Clip(name="walk"),),
)


def test_a_state_is_pasted_under_a_free_name_with_its_ways_out() -> None:
    made = pasted(HOME, 0, copied_states(HOME.layers[0], ["a"]))
    layer = made.document.layers[0]
    assert [state.name for state in layer.states] == ["a", "b", "a 2"]
    assert layer.states[2] == State(name="a 2", lane="low", clip="walk", restful=True)
    assert layer.transitions[-1] == way("a 2>b", "speed > 3 and not hurt")
    assert (made.states, made.transitions, made.lacking) == (("a 2",), (3,), ())


def test_ways_between_copied_states_lead_between_the_copies() -> None:
    layer = pasted(HOME, 0, copied_states(HOME.layers[0], ["a", "b"])).document.layers[0]
    assert [(one.source, one.to) for one in layer.transitions[3:]] == [("a 2", "b 2"), ("b 2", "a 2")]


def test_what_is_lacking_in_another_character_is_listed_and_nothing_is_invented() -> None:
    other = Character(layers=(Layer(name="base", states=(State(name="rest"),)),))
    made = pasted(other, 0, copied_states(HOME.layers[0], ["a"]))
    assert made.states == ("a",) and made.transitions == ()
    assert made.sentence == "Lacking here: state b and clip walk."
    whole = pasted(other, 0, copied_states(HOME.layers[0], ["a", "b"]))
    assert len(whole.transitions) == 2
    assert set(whole.lacking) == {"clip walk", "speed", "hurt"}
    some = Character(parameters=(Parameter(name="speed"), Parameter(name="hurt", kind="pulse")), layers=other.layers)
    assert pasted(some, 0, copied_states(HOME.layers[0], ["a", "b"])).lacking == ("clip walk",)


def test_a_transition_is_pasted_for_the_chosen_state_or_as_it_was() -> None:
    text = copied_transitions([HOME.layers[0].transitions[0]])
    assert pasted(HOME, 0, text, "b").document.layers[0].transitions[-1] == way("b>b", "speed > 3 and not hurt")
    assert pasted(HOME, 0, text).document.layers[0].transitions[-1] == HOME.layers[0].transitions[0]
    lane = copied_transitions([HOME.layers[0].transitions[2]])
    assert pasted(HOME, 0, lane, "a").document.layers[0].transitions[-1] == HOME.layers[0].transitions[2]
    other = Character(parameters=HOME.parameters, layers=(Layer(name="base", states=(State(name="b"),)),))
    assert pasted(other, 0, lane).lacking == ("lane low",)


@pytest.mark.parametrize("text", ["", "{", '{"leanstep-copy": 1, "states": 3}', "nothing of ours"])
def test_another_text_is_refused_with_the_way_out(text: str) -> None:
    with pytest.raises(LeanStepError, match="Copy some in Graph first"):
        pasted(HOME, 0, text)


def test_what_was_copied_is_known_again() -> None:
    assert holds_copy(copied_states(HOME.layers[0], ["a"])) and not holds_copy('{"tick": 3}')
