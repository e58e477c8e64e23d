"""Character files: what opens, what does not, and what comes back."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from leanstep.core.character import artwork, files
from leanstep.core.character.document import Character
from leanstep.core.character.schema import schema
from leanstep.core.character.sheets import Sheet
from leanstep.core.errors import LeanStepError
from tests.support.build import DEMO, sketch, way


@pytest.mark.parametrize("name", ["lamplighter", "lamplighter-faulty"])
def test_demo_files_are_written_as_they_are_read(name: str) -> None:
    data = (DEMO / f"{name}.leanstep").read_bytes()
    assert files.dump(files.parse(data)) == data


def test_left_out_fields_have_defaults_and_stay_left_out() -> None:
    character = files.parse(b'{"leanstep": 1, "layers": [{"name": "base", "states": [{"name": "idle"}]}]}')
    assert (character.rate, character.flicker_window, character.layers[0].start_name) == (60, 0.1, "idle")
    assert b"rate" not in files.dump(character)
    assert files.parse(files.dump(character)) == character


def test_unknown_fields_are_kept_and_named() -> None:
    data = (
        b'{"leanstep": 1, "name": "A", "mood": 3, "layers": [{"name": "b", "states": [{"name": "s", "hat": "tall"}]}]}'
    )
    character = files.parse(data)
    assert files.unknown_fields(character) == ["mood", "layers[0].states[0].hat"]
    again = json.loads(files.dump(character))
    assert again["mood"] == 3
    assert again["layers"][0]["states"][0]["hat"] == "tall"


def test_a_changed_number_is_a_one_line_difference() -> None:
    before = files.dump(files.load(DEMO / "lamplighter.leanstep")).decode().splitlines()
    character = files.parse("\n".join(before).encode().replace(b'"speed > 12"', b'"speed > 13"'))
    after = files.dump(character).decode().splitlines()
    assert sum(a != b for a, b in zip(before, after, strict=True)) == 1


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "not JSON"),
        (b"\xff\xfe{}", "not JSON"),
        (b"[]", 'no "leanstep" field'),
        (b'{"name": "A"}', 'no "leanstep" field'),
        (b'{"leanstep": "one"}', "no format number"),
        (b'{"leanstep": 99}', "newer than this program"),
        (b'{"leanstep": 1, "rate": "fast"}', "rate"),
        (b'{"leanstep": 1, "rate": 0}', "from 1 to 1000 ticks a second"),
        (b'{"leanstep": 1, "flicker_window": -1}', "out of range"),
        (b'{"leanstep": 1, "layers": [{"name": "b"}]}', "has no states"),
        (b'{"leanstep": 1, "layers": [{"name": "b", "states": [{"name": "s"}, {"name": "s"}]}]}', "two of them"),
        (b'{"leanstep": 1, "parameters": [{"name": "a"}, {"name": "a"}]}', "two of them"),
        (b'{"leanstep": 1, "parameters": [{"name": "and"}]}', "a word of the condition language"),
        (b'{"leanstep": 1, "parameters": [{"name": "a b"}]}', "cannot be written in a condition"),
        (b'{"leanstep": 1, "parameters": [{"name": "a", "kind": "colour"}]}', "parameters"),
        (b'{"leanstep": 1, "parameters": [{"name": "a", "min": 2, "max": 1}]}', "above max"),
        (b'{"leanstep": 1, "parameters": [{"name": "a", "min": 1e999}]}', ""),
        (b'{"leanstep": 1, "parameters": [{"name": "a", "kind": "choice"}]}', "needs choices"),
        (
            b'{"leanstep": 1, "sheets": [{"name": "a", "image": "a/../../secret.png"}]}',
            "not named by a path from the file's folder",
        ),
        (
            b'{"leanstep": 1, "sheets": [{"name": "a", "image": "/etc/x.png"}]}',
            "not named by a path from the file's folder",
        ),
        (
            b'{"leanstep": 1, "clips": [{"name": "a", "cels": [{"frame": 0, "ticks": 0}]}]}',
            "above 0 to 1 000 000 ticks",
        ),
        (b'{"leanstep": 1, "takes": [{"name": "a", "ticks": -4}]}', "out of range"),
    ],
)
def test_what_cannot_be_opened_says_place_reason_and_way_out(data: bytes, said: str) -> None:
    with pytest.raises(LeanStepError) as caught:
        files.parse(data, "hero.leanstep")
    assert said in str(caught.value)
    assert str(caught.value).startswith("hero.leanstep")
    assert caught.value.way_out.endswith(".")


def test_a_missing_file_and_a_folder_are_named(tmp_path: Path) -> None:
    with pytest.raises(LeanStepError, match="there is no such file"):
        files.load(tmp_path / "nobody.leanstep")
    with pytest.raises(LeanStepError, match="this is a folder"):
        files.load(tmp_path)


def test_a_failed_save_leaves_the_old_file(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = tmp_path / "hero.leanstep"
    files.save(path, sketch(way("a>b")))
    before = path.read_bytes()

    def fails(*_: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("os.fsync", fails)
    with pytest.raises(LeanStepError, match="nothing was changed"):
        files.save(path, Character(name="Other"))
    assert path.read_bytes() == before
    assert list(tmp_path.iterdir()) == [path]


def test_the_schema_names_every_field_and_allows_others() -> None:
    made = schema()
    state = made["$defs"]["State"]
    assert {"name", "lane", "clip", "ending"} <= set(state["properties"])
    assert "extra" not in state["properties"]
    assert made["$defs"]["Character"]["required"] == ["leanstep"]
    assert "from" in made["$defs"]["Transition"]["properties"]


def test_images_outside_the_folder_are_referred_to_and_copied_when_asked(tmp_path: Path) -> None:
    home = tmp_path / "home"
    home.mkdir()
    image = tmp_path / "hero.png"
    image.write_bytes(b"first")
    assert artwork.path_to(image, home) == "../hero.png" and not (home / "art").exists()
    sheet = Sheet(name="hero", image="../hero.png")
    assert artwork.copied_in(sheet, home).image == "art/hero.png"
    image.write_bytes(b"second")
    assert artwork.copied_in(sheet, home).image == "art/hero-2.png"
    assert (home / "art/hero.png").read_bytes() == b"first"
    assert artwork.path_to(home / "art" / "hero.png", home) == "art/hero.png"
    assert artwork.copied_in(Sheet(name="hero", image="art/hero.png"), home).image == "art/hero.png"


def test_a_path_that_a_file_cannot_hold_is_a_copy(tmp_path: Path) -> None:
    home, odd = tmp_path / "home", tmp_path / "a: b"
    for folder in (home, odd):
        folder.mkdir()
    (odd / "hero.png").write_bytes(b"first")
    assert artwork.path_to(odd / "hero.png", home) == "art/hero.png"


@pytest.mark.parametrize("image", ["../art/hero.png", "../../hero.png", "art/hero.png"])
def test_a_path_may_lead_out_of_the_folder(image: str) -> None:
    sheet = Sheet(name="hero", image=image)
    assert files.parse(files.dump(Character(sheets=(sheet,)))).sheets[0].image == image


@pytest.mark.parametrize("image", ["/etc/hero.png", "art/../../hero.png", "c:/hero.png", "..\\hero.png"])
def test_other_paths_are_refused(image: str) -> None:
    with pytest.raises(LeanStepError, match="not named by a path from the file's folder"):
        files.parse(files.dump(Character(sheets=(Sheet(name="hero", image=image),))))


def test_a_file_that_moves_goes_on_referring_to_what_lies_elsewhere(tmp_path: Path) -> None:
    sheets = (Sheet(name="hero", image="../art/hero.png"), Sheet(name="own", image="own.png", images=("../b.png",)))
    made = artwork.moved(Character(sheets=sheets), tmp_path / "game", tmp_path / "other" / "deep")
    assert [one.all_images for one in made.sheets] == [("../../art/hero.png",), ("own.png", "../../b.png")]
    assert artwork.moved(made, tmp_path / "other" / "deep", tmp_path).sheets[0].image == "art/hero.png"
