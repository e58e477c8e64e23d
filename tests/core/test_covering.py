"""Takes for what takes leave out."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from leanstep.core.character.files import load
from leanstep.core.findings.feasible import leave_out_impossible
from leanstep.core.findings.report import check_character
from leanstep.core.graph.machine import compile_character
from leanstep.core.proof.covering import takes_for_the_rest
from leanstep.core.rehearsal.coverage import coverage
from leanstep.core.rehearsal.expectations import unmet
from leanstep.core.rehearsal.takes import rehearse
from tests.support.build import DEMO
from tests.support.random_characters import random_character


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


def test_generated_takes_take_every_transition_that_a_proof_calls_possible() -> None:
    """Where nothing is the body's, what the free world allows can be played: random characters are covered but for what is named."""
    ways = 0
    for seed in range(12):
        drawn = random_character(seed)
        free = tuple(replace(one, owner="game") if one.owner == "body" else one for one in drawn.parameters)
        character = replace(drawn, takes=(), parameters=free)
        machine, report = compile_character(character), check_character(character, budget=20_000)
        rest = takes_for_the_rest(coverage(machine, ()), 5000)
        covered = coverage(machine, rest.takes)
        leave_out_impossible(covered, report)
        wanted = set(covered.conditions) - covered.impossible_ways
        ways += len(wanted)
        assert not report.complete or wanted <= set(covered.transitions), seed
    assert ways > 10
