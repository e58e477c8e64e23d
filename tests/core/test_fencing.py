"""The fencing teacher: sound as she is written, every planted mistake of her twin named, and mended by repairs alone."""

from __future__ import annotations

import json
from pathlib import Path

import jsonschema
import pytest
from PIL import Image

from demo import fencing
from demo.art import fencing as drawing
from demo.art.draw import sheet
from leanstep.core.character.document import Character
from leanstep.core.character.files import dump
from leanstep.core.findings.repairs.proving import repair
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Finding
from leanstep.core.formats.atlas_index import schema
from leanstep.core.formats.handover import hand_over
from leanstep.core.formats.handover_source import Source
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.actions import actions, sentence
from leanstep.core.rehearsal.expectations import unmet
from leanstep.core.rehearsal.takes import rehearse
from leanstep.runtime import Player, Table
from tests.support.build import DEMO


def told(character: Character, *severities: str) -> list[Finding]:
    return [one for one in check_character(character, DEMO).findings if one.severity in severities]


@pytest.mark.parametrize(
    ("name", "made"), [("fencing-teacher", fencing.teacher), ("fencing-teacher-faulty", fencing.faulty)]
)
def test_the_files_are_what_the_script_writes(name: str, made: object) -> None:
    assert callable(made)
    assert (DEMO / f"{name}.leanstep").read_bytes() == dump(made())


@pytest.mark.long
def test_the_sheet_is_what_the_script_draws() -> None:
    drawn = sheet(drawing.TEACHER, drawing.ROWS, drawing.foil, drawing.bare)
    with Image.open(Path(drawing.__file__).parent / "fencing-teacher.png") as there:
        assert there.convert("RGBA").tobytes() == drawn.tobytes()


@pytest.mark.long
def test_the_teacher_is_sound_and_does_what_her_takes_expect() -> None:
    character = fencing.teacher()
    assert not told(character, "error", "warning")
    machine = compile_character(character)
    for take in character.takes:
        assert not list(unmet(rehearse(machine, take), take))


def test_her_actions_are_timed() -> None:
    lunge, riposte = actions(compile_character(fencing.teacher()))
    assert sentence(lunge) == (
        "starts in 9, is active for 7, recovers in 14 ticks: plus 5 to plus 11 on hit and minus 8 to minus 2 on guard; "
        "let go after 16: plus 19 to plus 29 on hit and plus 6 to plus 16 on guard"
    )
    assert sentence(riposte).startswith("starts in 6, is active for 4, recovers in 10 ticks: plus 4 to plus 7 on hit")


def test_games_are_told_her_phases_and_her_boxes() -> None:
    made = {
        name: data
        for _, files in hand_over(Source(DEMO / "fencing-teacher.leanstep", fencing.teacher()), ("table", "atlas"))
        for name, data in files.items()
    }
    index = json.loads(made["fencing-teacher.atlas.json"])
    jsonschema.validate(index, schema())
    lunge = next(clip for clip in index["clips"] if clip["name"] == "lunge")
    assert [(one["name"], one["start"], one["end"]) for one in lunge["phases"]] == [
        ("startup", 0, 9),
        ("active", 9, 16),
        ("recovery", 16, 30),
    ]
    on = [
        [(one["name"], one["box"]) for one in cel.get("boxes", []) if one["kind"] == "strike"] for cel in lunge["cels"]
    ]
    assert on == [[], [], [("blade", [22, 36, 38, 8])], [("blade", [22, 36, 38, 8])], [], []]
    assert "phases" not in next(clip for clip in index["clips"] if clip["name"] == "guard")
    player = Player(Table(json.loads(made["fencing-teacher.table.json"])))
    told = []
    for tick in range(40):
        player.hold("thrust", tick == 3)
        player.step()
        told.append([name.removeprefix("phase ") for name in player.spans])
    assert told == [[]] * 3 + [["startup"]] * 9 + [["active"]] * 7 + [["recovery"]] * 14 + [[]] * 7


PLANTED = (
    *("action.boxless", "action.reach", "action.cut", "action.inactive", "state.unhittable"),
    *("action.link", "action.endless", "contact.backwards"),
)


@pytest.mark.long
def test_every_planted_mistake_is_named_and_repairs_mend_what_they_can() -> None:
    character = fencing.faulty()
    kinds = {one.id for one in check_character(character, DEMO).findings}
    assert set(PLANTED) <= kinds and not [one for one in told(fencing.teacher(), "note") if one.id in PLANTED]
    for kind in PLANTED:
        finding = next((one for one in check_character(character, DEMO).findings if one.id == kind), None)
        if finding is None or kind == "action.cut":
            continue
        made = repair(character, finding, DEMO)
        assert made is not None, finding.sentence
        character = made.character
    left = {one.id for one in check_character(character, DEMO).findings} & set(PLANTED)
    assert left == {"action.cut"}, "who leaves too early has to say when instead"
