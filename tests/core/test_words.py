"""Conditions read aloud, pages of findings, and errors that a person can act on."""

from __future__ import annotations

import pytest

from leanstep.core.character.files import load
from leanstep.core.conditions.grammar import parse
from leanstep.core.conditions.printing import reading, text_of
from leanstep.core.errors import LeanStepError
from leanstep.core.findings.report import check_character
from leanstep.core.formats.html import page
from leanstep.core.wording import counted, listed
from tests.support.build import DEMO, sketch, way


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("true", "always"),
        ("false", "when never"),
        ("grounded", "when grounded is on"),
        ("not grounded", "when grounded is off"),
        ("speed > 0.1 and grounded", "when speed is above 0.1 and grounded is on"),
        ("speed >= 1 or speed <= -1", "when speed is at least 1, or speed is at most -1"),
        ("not grounded for 0.08 s", "when grounded has been off for 0.08 s"),
        ("jump pressed within 120 ms", "when at some time in the last 120 ms jump has just been pressed"),
        ("jump released", "when jump has just been let go"),
        ("stay >= 0.2 s", "when the time in this state is at least 0.2 s"),
        ("clip done", "when the clip has played to its end"),
        ("mood = angry", "when mood is angry"),
        ("mood != angry", "when mood is not angry"),
        ("in base.climb", "when base is in climb"),
        ("abs(speed) between 1 and 4", "when abs(speed) is from 1 to 4"),
        ("speed < 2", "when speed is below 2"),
        ("run held", "when run is held down"),
    ],
)
def test_a_condition_is_read_aloud(text: str, words: str) -> None:
    assert reading(parse(text)) == words


@pytest.mark.parametrize(
    ("written", "printed"),
    [
        ("speed>1", "speed > 1"),
        ("((grounded))", "grounded"),
        ("(a and b) and c", "a and b and c"),
        ("a and (b or c)", "a and (b or c)"),
        ("not (a and b)", "not (a and b)"),
        ("(a and b) for 1s", "(a and b) for 1 s"),
        ("1 - (2 - 3) > x", "1 - (2 - 3) > x"),
        ("(1 + 2) * 3 > x", "(1 + 2) * 3 > x"),
        ("+3 < x", "3 < x"),
        ("x > -.5", "x > -0.5"),
        ('in "base"."climb"', "in base.climb"),
        ('in "upper body"."far away"', 'in "upper body"."far away"'),
        ("stay >= 1 tick", "stay >= 1 ticks"),
    ],
)
def test_a_condition_is_printed_one_way(written: str, printed: str) -> None:
    assert text_of(parse(written)) == printed


@pytest.mark.long
def test_the_page_of_a_sound_character_says_so_and_is_self_contained() -> None:
    character = load(DEMO / "lamplighter.leanstep")
    text = page(character, check_character(character, DEMO))
    assert "0 errors, 3 warnings, 9 notes" in text
    assert "http" not in text and "src=" not in text and text.count("href") == text.count('href="data:,"') == 1
    states = text.split("<h2>States</h2>")[1].split("</table>")[0]
    assert states.count("<tr>") == 1 + sum(len(layer.states) for layer in character.layers)


def test_the_page_escapes_what_people_write() -> None:
    character = sketch(way("a>b", "speed < 1 and <script>"), states="a b <b>bold")
    text = page(character, check_character(character))
    assert "<script>" not in text and "<b>bold" not in text
    assert "&lt;script&gt;" in text


def test_an_error_names_the_thing_the_reason_and_the_way_out() -> None:
    error = LeanStepError("hero.png", "it is too large", "Make it smaller.")
    assert str(error) == "hero.png: it is too large. Make it smaller."
    assert (error.thing, error.reason, error.way_out) == ("hero.png", "it is too large", "Make it smaller.")


def test_one_of_something_is_not_called_many() -> None:
    assert [counted(number, "tick") for number in (0, 1, 2)] == ["0 ticks", "1 tick", "2 ticks"]
    assert [listed(["a"]), listed(["a", "b", "c"])] == ["a", "a, b and c"]
