"""Takes for what takes leave out."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from leanstep.core.character.files import load
from leanstep.core.graph.machine import compile_character
from leanstep.core.proof.covering import takes_for_the_rest
from leanstep.core.rehearsal.coverage import coverage
from leanstep.core.rehearsal.expectations import unmet
from leanstep.core.rehearsal.takes import rehearse
from tests.support.build import DEMO


@pytest.mark.parametrize(("name", "share"), [("lamplighter", 0.7), ("ferry-hand", 0.8)])
def test_they_take_what_was_left_out_and_expect_what_they_show(name: str, share: float) -> None:
    character = replace(load(DEMO / f"{name}.leanstep"), takes=())
    machine = compile_character(character)
    before = coverage(machine, ())
    rest = takes_for_the_rest(before, 20_000)
    after = coverage(machine, rest.takes)
    ways = set(after.conditions)
    assert len(set(after.transitions) & ways) >= share * len(ways)
    assert len(rest.left) == len(ways - set(after.transitions)), "what is left is named"
    for take in rest.takes:
        assert take.expects and not list(unmet(rehearse(machine, take), take)) and take.world == "body"
        others = [one for one in rest.takes if one is not take]
        assert set(coverage(machine, others).transitions) < set(after.transitions), "none is one too many"
    assert len({take.name for take in rest.takes}) == len(rest.takes)


def test_where_nothing_is_left_nothing_is_made() -> None:
    character = load(DEMO / "harbour-cat.leanstep")
    machine = compile_character(character)
    covered = coverage(machine, character.takes)
    covered.states[0, 0] += 1
    assert takes_for_the_rest(covered).takes == ()
