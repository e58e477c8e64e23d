"""Nothing hangs, nothing is wrongly kept silent, and what cannot be read ends in a sentence."""

from __future__ import annotations

import itertools
import time
from pathlib import Path

import msgspec
import numpy as np
import pytest
from PIL import Image

from leanstep.core.character import files
from leanstep.core.character.clips import Cel, Clip, Effect, Mark
from leanstep.core.character.document import Character
from leanstep.core.character.graph import State
from leanstep.core.character.inputs import Controls, Parameter
from leanstep.core.character.sheets import Sheet
from leanstep.core.character.takes import Take
from leanstep.core.conditions.grammar import ConditionError, parse
from leanstep.core.errors import LeanStepError
from leanstep.core.findings.report import check_character
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.takes import LONGEST_PLAYED, inputs_of, rehearse, take_from_csv
from leanstep.core.sheets.reading import read_image
from leanstep.core.work import Exhausted, Reason, Stopped, Work, look
from tests.support.build import sketch, way

SHARP = Parameter(name="sharp", kind="flag", owner="graph")
GO = Parameter(name="go", kind="flag")


# --- long waits


@pytest.mark.parametrize("wait", ["1e6 s", "1e9 s"])
def test_a_wait_of_any_length_is_jumped_over(wait: str) -> None:
    report = check_character(sketch(way("a>b", f"stay >= {wait}"), way("b>a", "speed > 1")))
    assert report.complete and {one.name: one.free for one in report.states} == {"a": "reachable", "b": "reachable"}
    assert report.states[1].ticks == float(wait.split()[0]) * 60


def test_a_take_too_long_to_be_replayed_is_said_and_what_it_shows_is_still_proved() -> None:
    ways = (way("a>b", "stay >= 1e6 s"),)
    found = next(one for one in check_character(sketch(*ways)).findings if one.id == "state.dead-end")
    assert found.verdict == "proved" and found.witness is None and "60000000 ticks" in found.why


def test_a_mark_far_away_is_reached_at_once() -> None:
    clip = Clip(name="c", loop="once", cels=(Cel(frame=0, ticks=1e6),), marks=(Mark(name="m", at=1e6),))
    states = (State(name="a"), State(name="b", clip="c"))
    report = check_character(
        sketch(way("a>b", "go"), way("b>a", "clip done"), states=states, clips=(clip,), parameters=(GO,))
    )
    assert report.complete and "mark.never" not in {one.id for one in report.findings}


def many_states(count: int) -> Character:
    ring = (way(f"s{at}>s{(at + 1) % count}", f"speed > {at % 7}") for at in range(count))
    return sketch(*ring, states=" ".join(f"s{at}" for at in range(count)))


def many_ways(count: int) -> Character:
    ways = (
        way(f"s{at % 50}>s{(at * 7 + 1) % 50}", f"speed > {at % 7} and stay > {at % 9} ticks") for at in range(count)
    )
    return sketch(*ways, states=" ".join(f"s{at}" for at in range(50)))


@pytest.mark.long(but=3)
@pytest.mark.parametrize(
    "character",
    [
        many_states(3000),
        many_ways(20_000),
        sketch(way("a>b", "jump buffered 1e6 s"), way("b>a", "speed < 1")),
        sketch(way("a>b", "since(b) > 1e6 s"), way("b>a", "speed < 1")),
        sketch(way("a>b", "speed > 3 for 1e6 s"), way("b>a", "speed < 1 within 1e5 s")),
    ],
    ids=["states", "transitions", "buffered", "since", "memories"],
)
def test_a_time_limit_is_kept(character: Character) -> None:
    began = time.perf_counter()
    report = check_character(character, work=Work(seconds=0.4))
    assert report.complete or report.aborted
    # generous, since other tests run beside it: without a look at the limit these take from ten seconds to minutes
    assert time.perf_counter() - began < 6
    assert report.complete or report.reason is Reason.TIME, "whichever part of the search it was that was cut short"


def test_a_memory_limit_is_kept_and_claims_nothing() -> None:
    report = check_character(sketch(way("a>b", "jump"), way("b>a", "not jump")), work=Work(memory=1))
    assert not report.complete and report.aborted == "the memory limit was reached"
    assert report.reason is Reason.MEMORY and not report.states
    assert check_character(sketch(way("a>b", "jump")), work=Work(memory=1 << 30)).complete


def test_a_check_that_is_cut_off_says_how_far_it_came() -> None:
    def told(situations: int) -> None:
        if situations > 100:
            raise Exhausted(Reason.TIME, "the time limit was reached")

    report = check_character(many_states(300), work=Work(told=told))
    assert report.aborted == "the time limit was reached" and report.situations > 100


def test_work_keeps_to_what_it_is_part_of() -> None:
    asked = itertools.count()
    with pytest.raises(Stopped), Work(stop=lambda: next(asked) > 3).under_way():
        check_character(sketch(way("a>b", "jump"), way("b>a", "not jump")), work=Work(seconds=60))
    with pytest.raises(Exhausted, match="time limit"), Work(seconds=0).under_way():
        look()
    look()


def test_a_budget_is_kept_however_long_the_waits_are() -> None:
    report = check_character(
        sketch(way("a>b", "stay >= 1e6 s and jump buffered 1e6 s"), way("b>a", "go")), work=Work(budget=50)
    )
    assert not report.complete and report.situations <= 120


@pytest.mark.parametrize("sign", ["+1", "-1"])
def test_long_chains_of_operators_are_read_or_refused(sign: str) -> None:
    with pytest.raises(Exception, match="levels deep"):
        parse("1" + sign * 9000 + " > 0")
    parse(" or ".join(["a"] * 3000))


@pytest.mark.parametrize("text", ["+ not", "speed > + or", "+ between", "span for"])
def test_a_word_of_the_language_is_never_taken_for_a_name(text: str) -> None:
    with pytest.raises(ConditionError):
        parse(text)


# --- no wrong silence


def test_a_check_is_complete_exactly_when_nothing_was_left_open() -> None:
    for character in (
        sketch(
            way("a>b", "speed * speed > 4"), way("b>a", "go"), parameters=(Parameter(name="speed", min=0, max=8), GO)
        ),
        sketch(way("a>b", "speed > 4"), way("b>a", "speed < 1")),
        sketch(way("a>b", "speed > 4 for 100 ticks"), way("b>a", "go"), parameters=(Parameter(name="speed"), GO)),
    ):
        report = check_character(character)
        assert report.complete == (not report.aborted)


def test_a_body_that_breaks_an_assumption_at_once_is_said_and_the_check_ends() -> None:
    grounded = Parameter(name="grounded", kind="flag", owner="body")
    character = sketch(
        way("a>b", "stay >= 3 ticks"),
        way("b>a", "stay > 1 s"),
        parameters=(grounded,),
        assumptions=("not grounded",),
        controls=Controls(),
    )
    report = check_character(character, work=Work(play=30_000))
    found = next(one for one in report.findings if one.id == "assumption.broken")
    assert found.severity == "error" and found.verdict == "shown" and "not grounded" in found.sentence
    assert not [one for one in report.findings if one.id.endswith("unreached")]


def cut_off(when: str) -> Character:
    """A mark that gives back what entering sets, in a state that is always left before it and in one that is not."""
    off = Mark(name="off", at=4, effects=(Effect(do="set", name="sharp", value=False),))
    clip = Clip(name="c", loop="once", cels=(Cel(frame=0, ticks=4),), marks=(off,))
    states = (
        State(name="a"),
        State(name="hit", clip="c", on_entry=(Effect(do="set", name="sharp"),)),
        State(name="slow", clip="c"),
    )
    ways = (way("a>hit", "go"), way("hit>a", when), way("a>slow", "not go"), way("slow>a", "clip done"))
    return sketch(*ways, states=states, clips=(clip,), parameters=(GO, SHARP))


def test_a_mark_that_is_always_cut_off_in_one_state_is_an_error_there_though_it_fires_in_another() -> None:
    found = [one for one in check_character(cut_off("stay >= 2 ticks")).findings if one.id == "mark.never"]
    assert [(one.severity, one.details) for one in found] == [
        ("error", {"layer": "base", "state": "hit", "mark": "off"})
    ]
    assert "what it gives back stays lost" in found[0].sentence


def test_a_mark_that_fires_wherever_it_is_shown_is_not_reported() -> None:
    assert not [one for one in check_character(cut_off("clip done")).findings if one.id.startswith("mark")]


# --- no traceback


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("tick,jump,jump\n0,1,0\n", "column jump is there twice"),
        ("tick,,\n0,1,0\n", "without a name"),
        ("tick,jump\n" + "1" * 5000 + ",1\n", "is no tick"),
        ("tick,jump\n0,maybe\n", "neither 1 nor 0"),
        ("tick,speed\n0,nan\n", "no number"),
        ("tick,speed\n0,1e999\n", "no number"),
        (f"tick,jump\n{LONGEST_PLAYED},1\n", "beyond the"),
        ('tick,jump\n0,"' + "x" * 200_000 + '"\n', "no CSV"),
        ("jump\n1\n", "no column called tick"),
        ("tick,jump\n", "no rows"),
        ("", "no column called tick"),
        ("tick,jump\n-1,1\n", "ticks must go up"),
    ],
)
def test_csv_that_is_none_ends_in_a_sentence(text: str, said: str) -> None:
    with pytest.raises(LeanStepError, match=said):
        take_from_csv(text, "take.csv", compile_character(sketch(way("a>b"))))


@pytest.mark.parametrize("end", ["\n", "\r\n", "\r"])
def test_csv_is_read_whatever_ends_its_lines(end: str) -> None:
    text = end.join(["tick,jump,speed", "0,1,", "", "3,,2.5,more,cells", "5"])
    take = take_from_csv(text, "take.csv", compile_character(sketch(way("a>b"))))
    assert take.ticks == 6 and [(one.at, one.set) for one in take.changes] == [(0, {"jump": True}), (3, {"speed": 2.5})]


def test_a_take_too_long_to_be_played_is_named_with_its_length_and_the_limit() -> None:
    machine = compile_character(sketch(way("a>b")))
    take = Take(name="long", ticks=40_000_000)
    for play in (rehearse, inputs_of):
        with pytest.raises(LeanStepError, match="40000000 ticks, and at most 1000000 are played"):
            play(machine, take)
    assert len(rehearse(machine, take, most=10).steps) == 10


@pytest.mark.long
def test_an_image_is_limited_by_what_it_decodes_to_before_it_is_decoded(tmp_path: Path) -> None:
    Image.new("1", (20_000, 20_000)).save(tmp_path / "large.png")
    with pytest.raises(LeanStepError, match=r"20000 × 20000 pixels, and at most 67108864 \(8192 × 8192\)"):
        read_image(tmp_path / "large.png")


@pytest.mark.parametrize("kept", [0.0, 0.1, 0.4, 0.8])
def test_garbled_images_end_in_a_sentence(tmp_path: Path, kept: float) -> None:
    Image.fromarray(np.arange(4096, dtype=np.uint8).reshape(32, 32, 4)).save(tmp_path / "a.png")
    data = (tmp_path / "a.png").read_bytes()
    (tmp_path / "b.png").write_bytes(data[: int(len(data) * kept)])
    with pytest.raises(LeanStepError):
        read_image(tmp_path / "b.png")


@pytest.mark.parametrize("name", ["x" * 300 + ".png", "no\nwhere.png", "art"])
def test_strange_image_names_are_findings(tmp_path: Path, name: str) -> None:
    (tmp_path / "art").mkdir()
    character = msgspec.structs.replace(sketch(way("a>b")), sheets=(Sheet(name="s", image=name),))
    assert "sheet.missing" in {one.id for one in check_character(character, tmp_path).findings}


def test_an_image_name_with_a_zero_character_is_refused_with_the_document() -> None:
    with pytest.raises(LeanStepError, match="zero character"):
        files.parse(b'{"leanstep": 1, "sheets": [{"name": "s", "image": "a\\u0000b"}]}')


def test_a_byte_order_mark_is_accepted_and_a_key_written_twice_is_named() -> None:
    assert files.parse(b'\xef\xbb\xbf{"leanstep": 1, "name": "a"}').name == "a"
    with pytest.raises(LeanStepError, match="“name” is written twice"):
        files.parse(b'{"leanstep": 1, "name": "a", "name": "b"}')
