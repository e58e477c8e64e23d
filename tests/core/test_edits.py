"""Edits are pure, rename everywhere, and can be taken back."""

from __future__ import annotations

from pathlib import Path

import msgspec
import pytest

from leanstep.core.character import edits, files
from leanstep.core.character.document import Character
from leanstep.core.character.edits import Edit
from leanstep.core.character.history import History
from leanstep.core.character.inputs import Parameter
from leanstep.core.errors import LeanStepError
from leanstep.core.graph.compilation import compile_character
from tests.support.build import DEMO

SOUND = files.load(DEMO / "lamplighter.leanstep")


def test_paths_lead_to_parts_and_nothing_else_changes() -> None:
    path = ("layers", 0, "states", 2)
    changed = edits.change(SOUND, path, ending=True)
    assert edits.part_at(changed, path).ending and not edits.part_at(SOUND, path).ending
    assert changed.layers[1] is SOUND.layers[1] and changed.clips is SOUND.clips
    assert edits.remove(edits.insert(SOUND, ("clips",), 3, SOUND.clips[0]), ("clips", 3)) == SOUND
    assert edits.move(edits.move(SOUND, ("clips", 2), 7), ("clips", 7), 2) == SOUND
    assert edits.append(SOUND, ("clips",), SOUND.clips[0]).clips[-1] == SOUND.clips[0]


def test_a_free_name_is_the_first_number_that_is_not_taken() -> None:
    assert edits.free_name("walk", ["run"]) == "walk"
    assert edits.free_name("walk", ["walk", "walk 2", "walk 4"]) == "walk 3"


@pytest.mark.parametrize(("lane", "place"), [("ground", 0), ("ground", 2), ("air", 1), ("ladder", 1), ("new lane", 0)])
def test_a_state_is_placed_in_a_lane_and_the_order_of_others_stays(lane: str, place: int) -> None:
    placed = edits.place_state(SOUND, 0, "land", lane, place)
    states = placed.layers[0].states
    mates = [one.name for one in states if one.lane == lane]
    assert mates.index("land") == min(place, len(mates) - 1)
    others = [one.name for one in states if one.name != "land"]
    assert others == [one.name for one in SOUND.layers[0].states if one.name != "land"]
    assert placed.layers[0].start_name == "idle"


def rename_to(name: str) -> Edit:
    return Edit(f"renamed to {name}", lambda document: msgspec.structs.replace(document, name=name))


def test_history_goes_back_and_forth_and_names_its_steps() -> None:
    history = History(Character(name="a"))
    assert not history.undo_name and not history.redo() and not history.undo()
    assert history.apply(rename_to("b")) and history.apply(rename_to("c"))
    assert not history.apply(rename_to("c"))
    assert history.undo_name == "renamed to c"
    assert history.undo() == "renamed to c" and history.document.name == "b"
    assert history.redo_name == "renamed to c"
    history.apply(rename_to("d"))
    assert not history.redo_name
    assert [history.undo(), history.undo(), history.undo()] == ["renamed to d", "renamed to b", ""]
    assert history.document.name == "a" and not history.changed


def test_steps_of_one_drag_are_one_step() -> None:
    history = History(Character(name="a"))
    for name in "bcd":
        history.apply(rename_to(name), "drag")
    history.end_merge()
    history.apply(rename_to("e"), "drag")
    history.undo()
    assert history.document.name == "d"
    history.undo()
    assert history.document.name == "a"


def test_saving_what_was_opened_writes_the_very_bytes(tmp_path: Path) -> None:
    path = tmp_path / "odd.leanstep"
    odd = b'{"name":"Odd",   "leanstep":1}\n\n'
    path.write_bytes(odd)
    history = History.open(path)
    history.apply(rename_to("Other"))
    history.save()
    assert path.read_bytes() != odd and not history.changed
    history.undo()
    assert history.changed
    history.save()
    assert path.read_bytes() == odd


def test_a_save_that_fails_keeps_the_document_unsaved(tmp_path: Path) -> None:
    history = History(Character(name="a"), tmp_path / "gone" / "a.leanstep")
    history.apply(rename_to("b"))
    with pytest.raises(LeanStepError, match="Save somewhere else"):
        history.save()
    assert history.changed and history.document.name == "b"


def test_adding_a_parameter_is_harmless() -> None:
    added = edits.append(SOUND, ("parameters",), Parameter(name="mood", kind="choice", choices=("calm", "angry")))
    assert not compile_character(added).faults
