"""The examples in the documents do what the documents say."""

from __future__ import annotations

import json
import re
from pathlib import Path

import pytest

from leanstep.core.character import files
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.takes import rehearse, take_csv, take_from_csv, trace_rows
from tests.support.build import DEMO

DOCUMENT = DEMO.parent / "docs" / "semantics.md"
SHEET = {"name": "s", "image": "s.png", "size": [96, 8], "cut": {"columns": 12, "rows": 1}}
EXAMPLES = [
    text
    for text in re.findall(r"^```json\n(.*?)^```$", Path(DOCUMENT).read_text("utf-8"), re.M | re.S)
    if '"shows"' in text
]


def test_there_are_examples() -> None:
    assert len(EXAMPLES) >= 16


@pytest.mark.parametrize("text", EXAMPLES, ids=range(len(EXAMPLES)))
def test_an_example_shows_what_it_says(text: str) -> None:
    made = json.loads(text)
    take, shows = made.pop("take"), made.pop("shows")
    whole = {"leanstep": 1, "sheets": [SHEET], **made, "takes": [{"name": "t", **take}]}
    character = files.parse(json.dumps(whole).encode())
    rows = list(trace_rows(rehearse(compile_character(character), character.takes[0])))
    for column, values in shows.items():
        assert [files.plain(row[column]) for row in rows] == values, column


def test_a_take_as_csv_says_its_world_in_its_first_line() -> None:
    character = files.load(DEMO / "lamplighter.leanstep")
    machine = compile_character(character)
    free = take_from_csv("tick,world,speed\n0,free,3\n5,body,4\n", "t", machine)
    assert free.world == "free" and free.ticks == 6
    assert take_from_csv("tick,jump\n3,1\n", "t", machine).world == "body"
    assert take_csv(machine, free).splitlines()[:2] == ["tick,world,speed", "0,free,3"]
