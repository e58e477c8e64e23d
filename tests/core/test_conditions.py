"""The condition language: reading, printing, checking, and what conditions are worth."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from leanstep.core.conditions import tree
from leanstep.core.conditions.evaluation import Moment, decide
from leanstep.core.conditions.grammar import ConditionError, parse
from leanstep.core.conditions.printing import reading, text_of
from leanstep.core.conditions.scope import scope_of
from leanstep.core.graph.compilation import compile_character
from tests.support.build import sketch, way

NAMES = st.sampled_from(["speed", "grounded", "jump", "stick.x", "android", "inn"])
numbers = st.floats(min_value=-1e12, max_value=1e12, allow_nan=False).map(tree.Number)
names = NAMES.map(tree.Name)
durations = st.builds(tree.Duration, st.sampled_from([0.0, 0.1, 2.0, 120.0]), st.sampled_from(["s", "ms", "ticks"]))
amounts = st.recursive(
    numbers | names,
    lambda inner: (
        st.builds(tree.Arithmetic, st.sampled_from("+-*/"), inner, inner)
        | st.builds(tree.Negative, names)
        | st.builds(lambda one: tree.Call("abs", (one,)), inner)
        | st.builds(lambda a, b: tree.Call("min", (a, b)), inner, inner)
    ),
    max_leaves=5,
)
atoms = (
    names
    | st.builds(tree.Compare, st.sampled_from(["<", "<=", "=", "!=", ">", ">="]), amounts, amounts)
    | st.builds(tree.Between, amounts, amounts, amounts)
    | st.builds(tree.Compare, st.just(">="), st.just(tree.Stay()), durations)
    | st.builds(tree.Edge, st.just("jump"), st.sampled_from(["pressed", "released", "held"]))
    | st.just(tree.ClipDone())
    | st.builds(
        tree.InState, st.sampled_from(["base", "upper body"]), st.sampled_from(["idle", "take-off", "far away"])
    )
)


def _joined(kind: type[tree.All] | type[tree.Any], parts: list[tree.Node]) -> tree.Node:
    flat = [one for part in parts for one in (part.operands if isinstance(part, kind) else (part,))]
    return kind(tuple(flat))


conditions = st.recursive(
    atoms,
    lambda inner: (
        st.builds(tree.Not, inner)
        | st.builds(tree.Timed, st.sampled_from(["for", "within"]), inner, durations)
        | st.lists(inner, min_size=2, max_size=3).map(lambda parts: _joined(tree.All, parts))
        | st.lists(inner, min_size=2, max_size=3).map(lambda parts: _joined(tree.Any, parts))
    ),
    max_leaves=8,
)


@pytest.mark.long
@settings(max_examples=400, deadline=None)
@given(conditions)
def test_printing_and_reading_back_gives_the_same_condition(node: tree.Node) -> None:
    text = text_of(node)
    assert parse(text) == node
    assert text_of(parse(text)) == text
    assert reading(node)


def test_for_binds_looser_than_not_and_tighter_than_and() -> None:
    node = parse("not grounded for 0.08 s and jump pressed")
    assert node == tree.All(
        (
            tree.Timed("for", tree.Not(tree.Name("grounded")), tree.Duration(0.08, "s")),
            tree.Edge("jump", "pressed"),
        )
    )


@pytest.mark.parametrize(
    ("text", "ticks"),
    [("0.1 s", 6), ("0.08 s", 5), ("120 ms", 8), ("1 tick", 1), ("2.5 ticks", 3), ("0 s", 0), ("0.3 s", 18)],
)
def test_durations_round_up_to_whole_ticks(text: str, ticks: int) -> None:
    node = parse(f"stay >= {text}")
    assert isinstance(node, tree.Compare) and isinstance(node.right, tree.Duration)
    assert tree.ticks_of(node.right, 60) == ticks


@pytest.mark.parametrize(
    ("text", "column", "said"),
    [
        ("", 1, "empty"),
        ("speed >", 8, "stops in the middle"),
        ("speed == 3", 8, "not expected"),
        ("speed > 1 & grounded", 11, "write and, or, not"),
        ("(grounded", 10, "stops in the middle"),
        ("grounded)", 9, "not expected"),
        ("(" * 1000 + "grounded" + ")" * 1000, 1, "nested"),
        ("not " * 1000 + "grounded", 1, "nested"),
        ("grounded or " * 5000 + "grounded", 1, "longer than"),
    ],
)
def test_what_cannot_be_read_says_where_and_why(text: str, column: int, said: str) -> None:
    with pytest.raises(ConditionError) as caught:
        parse(text)
    assert (caught.value.line, caught.value.column) == (1, column)
    assert said in caught.value.reason


@pytest.mark.parametrize(
    ("text", "kind", "word", "near"),
    [
        ("sped > 1", "name.unknown", "sped", "speed"),
        ("Grounded", "name.unknown", "Grounded", "grounded"),
        ("jmp pressed", "name.unknown", "jmp", "jump"),
        ("mood = angri", "name.unknown", "angri", "angry"),
        ("in base.c", "name.unknown", "c", ""),
        ("in bass.a", "name.unknown", "bass", "base"),
        ("speed", "kind.mismatch", "speed", ""),
        ("grounded > 1", "kind.mismatch", "grounded", ""),
        ("grounded pressed", "kind.mismatch", "grounded", ""),
        ("stay > 3", "kind.mismatch", "3", ""),
        ("speed > 0.1 s", "kind.mismatch", "0.1 s", ""),
        ("mood > calm", "kind.mismatch", ">", ""),
        ("speed > 12", "value.impossible", "speed", ""),
        ("lives = 1.5", "value.impossible", "lives", ""),
        ("abs(speed, 1) > 2", "kind.mismatch", "abs", ""),
    ],
)
def test_a_fault_names_the_word_and_the_nearest_known_one(text: str, kind: str, word: str, near: str) -> None:
    _, faults = scope_of(sketch()).compile(text, 0)
    assert [(fault.id, fault.word, fault.nearest) for fault in faults] == [(kind, word, near)]
    assert text[faults[0].at :].startswith(word) or kind != "name.unknown" or word in text


@pytest.mark.parametrize("text", ["speed < 8", "speed >= 8", "lives = 3", "mood != angry", "not hurt", "8 >= speed"])
def test_sound_conditions_have_no_fault(text: str) -> None:
    compiled, faults = scope_of(sketch()).compile(text, 0)
    assert compiled is not None and not faults


def test_an_assumption_is_about_parameters_alone() -> None:
    for text in ("stay > 1 s", "clip done", "in base.a", "grounded for 1 s", "jump pressed"):
        compiled, faults = scope_of(sketch()).compile(text, None)
        assert compiled is None and faults[0].id == "kind.mismatch", text


@pytest.mark.parametrize(
    ("text", "worth"),
    [
        ("speed between 1 and 2", True),
        ("speed between 2 and 3", False),
        ("speed + 1 = 2.5", True),
        ("speed * 2 - 1 > 2", False),
        ("max(speed, 3) = 3 and min(speed, 0) = 0", True),
        ("abs(speed - 4) > 2", True),
        ("speed / 0 = 0", True),
        ("-speed < 0", True),
        ("mood = angry or lives >= 2", True),
        ("not (mood != calm)", True),
    ],
)
def test_arithmetic_and_logic(text: str, worth: bool) -> None:
    machine = compile_character(sketch(way("a>b", text)))
    values = [{"speed": 1.5, "lives": 2.0, "mood": "calm"}.get(one.name, one.rest) for one in machine.symbols]
    condition = machine.layers[0].ways[0][0].condition
    assert condition is not None
    assert decide(condition, Moment(values)) is worth  # type: ignore[arg-type]
