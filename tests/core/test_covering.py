"""Takes for what takes leave out."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from leanstep.core.character.files import load
from leanstep.core.findings.feasible import leave_out_impossible
from leanstep.core.findings.report import check_character
from leanstep.core.graph.compilation import compile_character
from leanstep.core.proof.explore.covering import takes_for_the_rest
from leanstep.core.rehearsal.coverage import coverage
from leanstep.core.rehearsal.expectations import unmet
from leanstep.core.rehearsal.takes import rehearse
from leanstep.core.work import Work
from tests.support.build import DEMO, sketch, way
from tests.support.random_characters import random_character


@pytest.mark.long
@pytest.mark.parametrize(("name", "share"), [("lamplighter", 0.7), ("ferry-hand", 0.8)])
def test_they_take_what_was_left_out_and_expect_what_they_show(name: str, share: float) -> None:
    character = replace(load(DEMO / f"{name}.leanstep"), takes=())
    machine = compile_character(character)
    before = coverage(machine, ())
    rest = takes_for_the_rest(before, 20_000)
    after = coverage(machine, rest.takes)
    ways = set(after.conditions)
    assert len(set(after.transitions) & ways) >= share * len(ways)
    left = [one for one in after.undecided() if one[0] in after.transitions]
    assert len(rest.left) == len(ways - set(after.transitions)) + len(left), "what is left is named"
    assert len(left) < 0.2 * sum(2 * len(one.words) for one in after.conditions.values())
    for take in rest.takes:
        assert take.expects and not list(unmet(rehearse(machine, take), take)) and take.world == "body"
        others = [one for one in rest.takes if one is not take]
        fewer = coverage(machine, others).counted
        assert any(fewer[what] < after.counted[what] for what in ("transitions", "parts")), "none is one too many"
    assert len({take.name for take in rest.takes}) == len(rest.takes)


def test_single_parts_of_conditions_come_to_decide_both_ways() -> None:
    """What no take leaves out shows a part true; one thing done otherwise shortly before shows it false."""
    there, back = way("a>b", "speed > 5 and jump held or grounded"), way("b>a", "not jump held and hurt")
    machine = compile_character(sketch(there, back))
    before = coverage(machine, ())
    rest = takes_for_the_rest(before, 5000)
    after = coverage(machine, rest.takes)
    assert len(after.undecided()) == 0 == len(rest.left) and len(before.undecided()) == 10
    assert any(take.name.startswith("not to ") for take in rest.takes)


def test_where_nothing_is_left_nothing_is_made() -> None:
    character = load(DEMO / "harbour-cat.leanstep")
    machine = compile_character(character)
    covered = coverage(machine, character.takes)
    covered.states[0, 0] += 1
    assert takes_for_the_rest(covered).takes == ()


@pytest.mark.long
def test_generated_takes_take_every_transition_that_a_proof_calls_possible() -> None:
    """Where nothing is the body's, what the free world allows can be played: random characters are covered but for what is named."""
    ways = 0
    # hands meet what the last two ask for so seldom that only the free world tells how
    for seed in (*range(12), 47, 76):
        drawn = random_character(seed)
        free = tuple(replace(one, owner="game") if one.owner == "body" else one for one in drawn.parameters)
        character = replace(drawn, takes=(), parameters=free)
        machine, report = compile_character(character), check_character(character, work=Work(budget=20_000))
        rest = takes_for_the_rest(coverage(machine, ()), 5000)
        covered = coverage(machine, rest.takes)
        leave_out_impossible(covered, report)
        wanted = set(covered.conditions) - covered.impossible_ways
        ways += len(wanted)
        assert not report.complete or wanted <= set(covered.transitions), seed
    assert ways > 10
