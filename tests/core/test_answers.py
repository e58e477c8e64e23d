"""Why a state was not entered: which part of a condition was false, its values, since when, and what would have had to change."""

from __future__ import annotations

import itertools
import random
from collections.abc import Iterator

import pytest

from leanstep.core.character.document import Character
from leanstep.core.character.files import load
from leanstep.core.character.takes import Change, Take
from leanstep.core.conditions import expression as x
from leanstep.core.conditions import tree
from leanstep.core.conditions.closures import truth
from leanstep.core.conditions.grammar import parse
from leanstep.core.conditions.parts import parts_of
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.answers import Answer, Answers
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.takes import inputs_of, rehearse
from tests.support.build import DEMO, sketch, way
from tests.support.random_characters import random_character


def asked(character: Character, take: Take, tick: int, wanted: str) -> Answer:
    machine = compile_character(character)
    return Answers(rehearse(machine, take), take).why_not(tick, 0, machine.layers[0].states.index(wanted))


def given(*changes: tuple[int, dict[str, object]], ticks: int = 40) -> Take:
    made = tuple(Change(at=at, set=values) for at, values in changes)  # type: ignore[arg-type]
    return Take(name="t", ticks=ticks, world="free", changes=made)


def test_the_false_part_is_named_with_its_value_and_since_when() -> None:
    character = sketch(way("a>b", "speed > 4 and grounded"), way("b>a"))
    answer = asked(character, given((0, {"speed": 6.0}), (10, {"speed": 2.0, "grounded": True})), 30, "b")
    (one,) = answer.ways
    assert [(part.words, part.true, part.since) for part in one.parts] == [
        ("speed is above 4", False, 10),
        ("grounded is on", True, 10),
    ]
    assert one.missing == ((0,),) and not one.untried and not one.true
    assert answer.sentences == ["a → b: not so is speed is above 4 (speed 2 m/s), for 0.35 s."]


def test_the_fewest_parts_that_would_have_to_change_are_found() -> None:
    text = "(speed > 4 and lives = 2 and grounded) or (mood = angry and not (hurt or grounded))"
    answer = asked(sketch(way("a>b", text), way("b>a")), given((0, {"grounded": True, "mood": "angry"})), 5, "b")
    (one,) = answer.ways
    false = [part.words for part in one.parts if not part.true]
    assert "speed is above 4" in false and "grounded is on" not in false
    assert [[one.parts[at].words for at in numbers] for numbers in one.missing] == [["grounded is on"]]


def test_an_earlier_way_a_fade_and_a_freeze_are_the_reason() -> None:
    ways = (way("a>b", "grounded"), way("a>c", "grounded"), way("b>a", "speed > 4"), way("c>a"))
    answer = asked(sketch(*ways, states="a b c"), given((5, {"grounded": True})), 5, "c")
    assert answer.sentences == ["a → c: a → b is tried before it, and was taken."]
    fading = (way("a>b", "grounded", fade=0.5, interruptible=False), *ways[1:])
    answer = asked(sketch(*fading, states="a b c"), given((5, {"grounded": True}), (8, {"speed": 6.0})), 9, "a")
    assert "a fade that may not be interrupted was going on" in answer.sentences[0]


def test_without_a_way_the_shortest_chain_is_said() -> None:
    character = sketch(way("a>b"), way("b>c", "grounded"), way("c>a"), states="a b c d")
    take = given(ticks=3)
    assert asked(character, take, 0, "c").sentences == [
        "None leads from a to c at once: a → b → c is the shortest way."
    ]
    assert asked(character, take, 0, "d").sentences == ["No way leads from a to d."]


def test_what_was_taken_is_told_with_its_parts() -> None:
    machine = compile_character(sketch(way("a>b", "speed > 4 or grounded"), way("b>a", "hurt")))
    take = given((7, {"speed": 6.0}))
    trace = rehearse(machine, take)
    found = Answers(trace, take).why(7, 0)
    assert found is not None and found.name == "a → b" and [part.true for part in found.parts] == [True, False]
    assert Answers(trace, take).why(8, 0) is None


def worth(node: tree.Node, parts: Iterator[bool]) -> bool:
    """A condition by the truth of its parts, in the order in which they are written."""
    if isinstance(node, tree.All | tree.Any):
        each = [worth(one, parts) for one in node.operands]
        return all(each) if isinstance(node, tree.All) else any(each)
    if isinstance(node, tree.Not) and isinstance(node.operand, tree.All | tree.Any):
        return not worth(node.operand, parts)
    return next(parts)


def some_take(machine: Machine, pick: random.Random) -> Take:
    free = [one for one in machine.symbols if one.owner not in ("graph", "formula") and one.kind in ("flag", "number")]
    changes: list[tuple[int, dict[str, object]]] = []
    for at in sorted(pick.sample(range(30), 6)) if free else ():
        one = pick.choice(free)
        changes.append(
            (at, {one.name: pick.random() < 0.5 if one.kind == "flag" else pick.choice([one.low, one.high])})
        )
    return given(*changes)


@pytest.mark.long(but=1)
@pytest.mark.parametrize("chunk", range(4))
def test_planted_questions_are_answered_rightly(chunk: int) -> None:
    """What is said to be missing makes the condition true, nothing smaller does, and it was as it is since then."""
    told = 0
    for seed in range(chunk, 1000, 4):
        character, pick = random_character(seed), random.Random(seed)
        machine = compile_character(character)
        take, tick = some_take(machine, pick), pick.randrange(30)
        trace, stepper = rehearse(machine, take), Stepper(machine, free=True)
        rows = inputs_of(machine, take)
        now = stepper.when_tried(trace.after(tick), rows[tick], 0)
        answer = Answers(trace, take).why_not(tick, 0, pick.randrange(len(machine.layers[0].states)))
        for one in answer.ways:
            meant = next(each for each in machine.layers[0].ways[now.states[0]] if each.index == one.index)
            if one.untried or meant.condition is None:
                continue
            assert truth(meant.condition)(now) == one.true
            node, true = parse(character.layers[0].transitions[one.index].when), [part.true for part in one.parts]
            assert worth(node, iter(true)) == one.true
            least = len(one.missing[0]) if one.missing else len(true) + 1
            for size in range(1, min(least, 4) + 1):
                for flipped in itertools.combinations(range(len(true)), size):
                    turned = worth(node, (value != (at in flipped) for at, value in enumerate(true)))
                    assert one.true or turned == (size == least and flipped in one.missing), (seed, one)
            _, leaves = parts_of(node, meant.condition)
            for part, (_, leaf) in zip(one.parts, leaves, strict=True):
                set_by_graph = any(machine.symbols[index].owner in ("graph", "formula") for index in x.symbols_in(leaf))
                if part.since is not None and not set_by_graph:
                    held = [truth(leaf)(stepper.when_tried(trace.after(at), rows[at], 0)) for at in range(tick + 1)]
                    assert set(held[part.since :]) == {part.true}, (seed, part)
                    assert part.since == 0 or held[part.since - 1] != part.true, (seed, part)
            told += not one.true
    assert told > 50


def test_the_demo_says_why_it_does_not_light_the_lamp() -> None:
    character = load(DEMO / "lamplighter.leanstep")
    machine = compile_character(character)
    take = next(one for one in character.takes if one.world == "body")
    trace = rehearse(machine, take)
    light = machine.layers[0].states.index("light")
    answer = Answers(trace, take).why_not(3, 0, light)
    assert answer.state == "idle" and "light has just been pressed" in answer.sentences[0]
