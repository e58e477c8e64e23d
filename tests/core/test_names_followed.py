"""Names are followed wherever they stand: what the body looks along, what is muted, what a take remembers."""

from __future__ import annotations

import os
from functools import cache

import msgspec
import pytest

from leanstep.core.character.document import Character, Muted
from leanstep.core.character.edits import change
from leanstep.core.character.files import load
from leanstep.core.character.starting import empty
from leanstep.core.character.takes import Beginning, Change, SecondFigure, Standing, Take
from leanstep.core.findings.report import check_character
from leanstep.core.graph.compilation import compile_character
from leanstep.core.naming.references import Thing, users
from leanstep.core.naming.renaming import rename
from leanstep.core.naming.targets import about, renamed_about
from leanstep.core.rehearsal.saved_situations import fingerprints, remembered_alike, situation_of
from tests.support.build import DEMO

FAULTY = DEMO / "lamplighter-faulty.leanstep"


def test_what_the_body_looks_along_and_the_button_for_it_follow() -> None:
    character = change(empty(), ("body",), model="above", aim="stick", aim_held="run")
    stick, button = Thing("stick", "stick"), Thing("button", "run")
    assert ("body", "aim") in [one.path for one in users(character, stick)]
    assert ("body", "aim_held") in [one.path for one in users(character, button)]
    after = rename(rename(character, stick, "lever"), button, "hold")
    assert (after.body.aim, after.body.aim_held) == ("lever", "hold")


@cache
def muted_demo() -> Character:
    """The faulty demo with every finding muted."""
    character = load(FAULTY)
    found = check_character(character, DEMO).findings
    muted = tuple(
        {
            (one.id, about(character, one.subject)): Muted(
                id=one.id, about=about(character, one.subject), reason="known"
            )
            for one in found
        }.values()
    )
    muting: Character = change(character, (), muted=muted)
    return muting


@pytest.mark.long
@pytest.mark.parametrize("number", range(40) if os.environ.get("LEANSTEP_LONG") else range(0, 40, 5))
def test_what_is_muted_stays_muted_under_every_other_name(number: int) -> None:
    character = whole = muted_demo()
    things = [
        Thing("layer", character.layers[0].name),
        *(Thing("state", state.name, layer.name) for layer in character.layers for state in layer.states),
        *(Thing("lane", lane, layer.name) for layer in character.layers for lane in layer.lane_names if lane),
        *(Thing("clip", clip.name) for clip in character.clips),
    ]
    if number >= len(things):
        pytest.skip("there are no more things")
    try:
        renamed = rename(whole, things[number], "renamed")
    except Exception as error:  # a name that cannot be used is another matter
        pytest.skip(str(error))
    after = check_character(change(renamed, (), muted=()), DEMO).findings
    assert {(one.id, about(renamed, one.subject)) for one in after} == {(one.id, one.about) for one in renamed.muted}


def test_parts_that_only_look_alike_stay() -> None:
    state = Thing("state", "run", "base")
    assert renamed_about("base, run", state, "go") == "base, go"
    assert renamed_about("base, run → running (2)", state, "go") == "base, go → running (2)"
    assert renamed_about("base, lane run → run", state, "go") == "base, lane run → go"
    assert renamed_about("top, run", state, "go") == "top, run"
    assert renamed_about("clip run", state, "go") == "clip run"
    assert renamed_about("base, lane run → run", Thing("lane", "run", "base"), "go") == "base, lane go → run"


def remembering() -> Character:
    """A take that begins while a memory has counted to 40."""
    character = load(DEMO / "lamplighter.leanstep")
    at = next(n for n, one in enumerate(character.layers[0].transitions) if "speed" in one.when)
    character = change(character, ("layers", 0, "transitions", at), when="(speed > 12) for 1 s")
    machine = compile_character(character)
    memories = {key: 40 for key in fingerprints(machine)}
    begins = Beginning(
        layers=tuple(Standing(layer=layer.name, state=layer.start_name) for layer in character.layers),
        memories=memories,
    )
    return change(character, (), takes=(Take(name="later", ticks=30, begins=begins),))


def test_what_a_take_remembers_is_remembered_under_other_names() -> None:
    before = remembering()
    renamed = rename(before, Thing("layer", before.layers[0].name), "renamed")
    renamed = rename(renamed, Thing("state", before.layers[0].states[0].name, "renamed"), "another")
    after = remembered_alike(before, renamed)
    counts = [situation_of(compile_character(one), one.takes[0].begins).counters for one in (before, after)]
    assert counts[0] == counts[1] and 40 in counts[1]
    assert msgspec.structs.replace(after, takes=()) == msgspec.structs.replace(renamed, takes=())


def test_what_is_set_of_a_second_figure_follows_where_it_is_the_same_character() -> None:
    def take(name: str, who: str) -> Take:
        second = SecondFigure(who=who, changes=(Change(at=3, set={"jump": True}),))  # type: ignore[arg-type]
        return Take(name=name, ticks=9, second=second)

    character = change(empty(), (), takes=(take("alike", "itself"), take("other", "file")))
    button = Thing("button", "jump")
    assert [one.path for one in users(character, button) if one.path[0] == "takes"] == [
        ("takes", 0, "second", "changes", 0)
    ]
    after = rename(character, button, "leap").takes
    assert [dict(one.second.changes[0].set) for one in after if one.second] == [{"leap": True}, {"jump": True}]
