"""Copies of what has a name."""

from __future__ import annotations

import pytest

from leanstep.core.character.document import Character
from leanstep.core.character.files import load
from leanstep.core.character.graph import State
from leanstep.core.character.validation import validate
from leanstep.core.naming.doubling import OCCURRING, doubled
from leanstep.core.naming.references import Thing, things
from tests.core.test_names import FULL
from tests.support.build import DEMO, sketch, way

FERRY = load(DEMO / "ferry-hand.leanstep")


@pytest.mark.parametrize("document", [FULL, FERRY], ids=["every kind", "a demo"])
def test_everything_that_has_a_name_is_copied_under_a_free_one(document: Character) -> None:
    named = things(document)
    firsts = {one.kind: one for one in reversed(named)}.values()
    for thing in named if document is FULL else firsts:
        if thing.kind in OCCURRING:
            with pytest.raises(ValueError):
                doubled(document, [thing])
            continue
        made, (copy,) = doubled(document, [thing])
        validate(made, "")
        assert (copy.kind, copy.within) == (thing.kind, thing.within) and copy not in named
        assert copy in things(made) and set(named) <= set(things(made)), "what was there is there"


def test_states_that_are_copied_together_lead_to_each_other() -> None:
    document = sketch(way("idle>run"), way("run>idle"), way("run>jump"), states="idle run jump")
    made, copies = doubled(document, [Thing("state", name, "base") for name in ("run", "idle")])
    assert [one.name for one in copies] == ["idle 2", "run 2"]
    layer = made.layers[0]
    assert [state.name for state in layer.states] == ["idle", "idle 2", "run", "run 2", "jump"]
    ways = {(one.source, one.to) for one in layer.transitions}
    assert {("idle 2", "run 2"), ("run 2", "idle 2"), ("run 2", "jump")} <= ways and layer.start_name == "idle"


def test_a_lane_is_copied_with_what_stands_in_it_and_leads_out_of_it() -> None:
    document = sketch(
        way("lane:ground>fall"), states=(State(name="idle", lane="ground"), State(name="fall", lane="air"))
    )
    made, (copy,) = doubled(document, [Thing("lane", "ground", "base")])
    layer = made.layers[0]
    assert layer.lane_names == ("ground", copy.name, "air")
    assert [state.name for state in layer.states if state.lane == copy.name] == ["idle 2"]
    assert [(one.from_lane, one.to) for one in layer.transitions] == [("ground", "fall"), (copy.name, "fall")]


def test_a_copied_control_has_no_keys_and_what_the_body_set_is_the_games() -> None:
    document = load(DEMO / "lamplighter.leanstep")
    button = document.controls.buttons[0]
    made, (copy,) = doubled(document, [Thing("button", button.name)])
    one = next(one for one in made.controls.buttons if one.name == copy.name)
    assert button.keys and not one.keys and not one.pad
    body = next(one for one in document.parameters if one.owner == "body")
    made, (copy,) = doubled(document, [Thing("parameter", body.name)])
    assert next(one for one in made.parameters if one.name == copy.name).owner == "game"
