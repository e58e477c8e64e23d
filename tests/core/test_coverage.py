"""What takes cover: states, transitions, marks, and each part of each condition both ways."""

from __future__ import annotations

import itertools
import random
import xml.etree.ElementTree as ElementTree

import pytest
from msgspec.structs import replace

from leanstep.core.character.files import load
from leanstep.core.character.takes import Change, Take
from leanstep.core.conditions.closures import truth
from leanstep.core.conditions.grammar import parse
from leanstep.core.conditions.parts import deciding, parts_of, worth
from leanstep.core.findings.feasible import leave_out_impossible
from leanstep.core.findings.report import check_character
from leanstep.core.formats.html import page
from leanstep.core.formats.junit import coverage_junit
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.coverage import coverage
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.takes import inputs_of, rehearse
from leanstep.core.work import Work
from tests.core.test_answers import given, some_take
from tests.support.build import DEMO, sketch, way
from tests.support.random_characters import random_character

BOTH = sketch(way("a>b", "speed > 4 and grounded"), way("b>a", "hurt"))


def test_a_part_counts_where_the_condition_hangs_on_it() -> None:
    machine = compile_character(BOTH)
    takes = [given((3, {"grounded": True}), (5, {"speed": 6.0}), ticks=10)]
    found = coverage(machine, takes)
    assert found.parts((0, 0)) == [("speed is above 4", True, True), ("grounded is on", True, False)]
    assert found.counted["states"] == (2, 2) and found.counted["transitions"] == (1, 2)
    assert "a → b: “grounded is on” never decides while it is false" in found.missing()
    takes.append(given((2, {"speed": 6.0}), (4, {"grounded": True}), (6, {"hurt": True}), ticks=10))
    found = coverage(machine, takes)
    assert found.counted["parts"] == (6, 6) and found.percent == 100.0 and not found.missing()


def test_what_is_not_tried_covers_nothing() -> None:
    """The second way is tried only where the first one was false."""
    machine = compile_character(
        sketch(way("a>b", "grounded"), way("a>c", "speed > 4"), way("b>a"), way("c>a"), states="a b c")
    )
    found = coverage(machine, [given((0, {"grounded": True, "speed": 6.0}), ticks=1)])
    assert found.parts((0, 1)) == [("speed is above 4", False, False)]


def test_a_take_that_cannot_be_played_is_named_and_without_takes_nothing_is_covered_but_the_start() -> None:
    machine = compile_character(BOTH)
    found = coverage(machine, [Take(name="old", ticks=4, world="free", changes=(Change(at=0, set={"gone": 1.0}),))])
    assert found.skipped == ["old"] and found.counted["transitions"] == (0, 2)
    assert coverage(machine, []).counted["states"] == (0, 2)


def test_what_is_proved_impossible_is_left_out() -> None:
    character = sketch(way("a>b"), way("b>a", "hurt"), way("c>a"), way("a>c", "speed > 9"), states="a b c")
    found = coverage(compile_character(character), [given((3, {"hurt": True}), ticks=10)])
    leave_out_impossible(found, check_character(character))
    assert found.percent < 100.0 and not any("c" in sentence.split() for sentence in found.missing())


@pytest.mark.parametrize("seed", range(40))
def test_it_agrees_with_the_plainest_count(seed: int) -> None:
    character, pick = random_character(seed), random.Random(seed)
    machine = compile_character(character)
    takes = [some_take(machine, pick) for _ in range(3)]
    found = coverage(machine, takes)
    seen: dict[tuple[int, int], set[tuple[int, bool]]] = {}
    for take in takes:
        trace, stepper, rows = rehearse(machine, take), Stepper(machine, free=True), inputs_of(machine, take)
        for tick, layer in itertools.product(range(take.ticks), range(len(machine.layers))):
            now = stepper.when_tried(trace.after(tick), rows[tick], layer)
            if trace.after(tick).freeze or now.blocked(layer):
                continue
            for one in machine.layers[layer].ways[now.states[layer]]:
                if one.condition is None:
                    continue
                shape, parts = parts_of(parse(character.layers[layer].transitions[one.index].when), one.condition)
                values = [truth(leaf)(now) for _, leaf in parts]
                decided = {(at, values[at]) for at in deciding(shape, values)}
                seen.setdefault((layer, one.index), set()).update(decided)
                if worth(shape, values):
                    break
        for layer in range(len(machine.layers)):
            for tick, state in trace.entries(layer):
                assert found.states[layer, state] and found.transitions[layer, trace.steps[tick].fired[layer]]
    for key in found.conditions:
        told = {
            (at, way)
            for at, (_, *each) in enumerate(found.parts(key))
            for way, done in zip((True, False), each)
            if done
        }
        assert told == seen.get(key, set()), key


def test_the_takes_of_the_demo_enter_every_state() -> None:
    character = load(DEMO / "lamplighter.leanstep")
    found = coverage(compile_character(character), character.takes)
    assert found.counted["states"] == (14, 14) and found.counted["marks"] == (2, 2) and found.percent > 80


def test_coverage_is_told_to_build_servers_as_cases_and_fails_under_a_share() -> None:
    character = load(DEMO / "lamplighter.leanstep")
    covered = coverage(compile_character(character), character.takes)
    passes = ElementTree.fromstring(coverage_junit("hero.leanstep", covered, 10.0))
    fails = ElementTree.fromstring(coverage_junit("hero.leanstep", covered, 99.0))
    (suite,) = passes
    assert (suite.get("tests"), suite.get("failures")) == ("5", "0") and fails[0].get("failures") == "1"
    names = [case.get("name") for case in suite]
    assert names[:2] == ["14 of 14 states", "24 of 27 transitions"] and names[-1] == "at least 10 %"
    failure = fails.find(".//failure")
    assert failure is not None and "skid → stride is never taken" in str(failure.text)


@pytest.mark.long
def test_a_page_tells_what_takes_cover_and_how_soon_presses_show() -> None:
    character = load(DEMO / "lamplighter.leanstep")
    report = check_character(character, work=Work(budget=2000))
    told = page(character, report)
    assert "What the takes cover: 8" in told and "<li>skid → stride is never taken</li>" in told
    assert "<td>jump</td><td>climb</td><td>1</td>" in told and "it asks for: at_lamp is on" in told
    assert "What the takes cover" not in page(replace(character, takes=()), report)
