"""Documents that are small and become large are refused with a sentence, before memory is taken or minutes go by."""

from __future__ import annotations

import json
import tracemalloc
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image

from leanstep.core.character import files
from leanstep.core.errors import LeanStepError
from leanstep.core.findings import evidence
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Finding
from leanstep.core.sheets import images, reading
from leanstep.core.sheets.reading import read_images

LARGE = 2048 * 2048 * 4
"""Bytes of the picture that is used here."""


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    """A folder with a large picture."""
    Image.fromarray(np.full((2048, 2048, 4), 200, np.uint8)).save(tmp_path / "large.png")
    return tmp_path


def document(**parts: Any) -> bytes:
    return json.dumps({"leanstep": 1, "layers": [{"name": "b", "states": [{"name": "a"}]}], **parts}).encode()


def findings(folder: Path, **parts: Any) -> list[Finding]:
    return list(check_character(files.parse(document(**parts)), folder).findings)


def sheet(name: str = "s", **more: Any) -> dict[str, Any]:
    return {"name": name, "image": "large.png", **more}


def test_more_frames_than_anybody_draws_are_refused(folder: Path) -> None:
    (found,) = findings(folder, sheets=[sheet(cut={"columns": 256, "rows": 256})])
    assert found.id == "sheet.cut" and "256 × 256 frames are too many" in found.sentence
    rects = [[0, 0, 1, 1]] * 20_000
    (found,) = findings(folder, sheets=[sheet(cut={"way": "rects", "rects": rects})])
    assert found.id == "sheet.cut" and "20000 frames are too many" in found.sentence


def test_pictures_of_one_sheet_are_looked_at_together_before_one_is_decoded(
    folder: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(reading, "LARGEST", 2048 * 2048 * 10)
    decoded = []
    monkeypatch.setattr(reading, "_pixels", lambda image: decoded.append(image))
    with pytest.raises(LeanStepError) as caught:
        read_images([folder / "large.png"] * 20)
    assert "20 pictures of 2048 × 2048 pixels" in str(caught.value)
    assert not decoded


def test_a_moving_picture_is_in_memory_once(tmp_path: Path) -> None:
    frames = [Image.new("RGBA", (512, 512), (at, 0, 0, 255)) for at in range(24)]
    frames[0].save(tmp_path / "a.png", save_all=True, append_images=frames[1:], duration=50)
    whole = 24 * 512 * 512 * 4
    tracemalloc.start()
    found = reading.read(tmp_path / "a.png")
    _, most = tracemalloc.get_traced_memory()
    tracemalloc.stop()
    assert found.count == 24 and found.pixels.nbytes == whole
    assert most < 1.5 * whole


@pytest.mark.long
def test_pictures_of_all_sheets_are_bounded_together(folder: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(images, "MOST_TOGETHER", 2048 * 2048 * 3)
    found = findings(folder, sheets=[sheet(f"s{at}", cut={"columns": 2, "rows": 2}) for at in range(5)])
    refused = [one for one in found if one.id == "sheet.unreadable"]
    assert [one.details["sheet"] for one in refused] == ["s3", "s4"]
    assert "pixels together" in refused[0].sentence


def test_a_thousand_sheets_are_refused_when_the_file_is_opened() -> None:
    with pytest.raises(LeanStepError, match="there are 1000 of them"):
        files.parse(document(sheets=[sheet(f"s{at}") for at in range(1000)]))


def test_takes_beyond_what_is_played_are_named_and_not_played(folder: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    takes = [{"name": f"t{at}", "ticks": 1_000_000} for at in range(3)]
    found = findings(folder, takes=takes)
    assert [one.details["take"] for one in found] == ["t0", "t1", "t2"]
    assert all("ticks together, so it is not played" in one.sentence for one in found)
    monkeypatch.setattr(evidence, "MOST_PLAYED", 100)
    found = findings(folder, takes=[{"name": "a", "ticks": 90}, {"name": "b", "ticks": 20}])
    assert [one.details["take"] for one in found] == ["b"]


def clip_of(ticks: float, most: float) -> dict[str, Any]:
    """A clip that goes back to its last cel, which lasts so many ticks, and plays up to so many times faster."""
    return {
        "name": "c",
        "sheet": "s",
        "repeat_from": 1,
        "cels": [{"frame": 0, "ticks": 4}, {"frame": 0, "ticks": ticks}],
        "playback": {"parameter": "v", "at": 1, "max": most},
        "marks": [{"name": "m", "at": 4}],
    }


@pytest.mark.parametrize(
    ("ticks", "most", "refused"), [(1e-5, 1000, True), (1e-5, 4, True), (1, 4, False), (0.5, 100, False)]
)
def test_marks_that_would_fire_for_ever_in_a_tick_are_left_out(ticks: float, most: float, refused: bool) -> None:
    parts: dict[str, Any] = {"parameters": [{"name": "v", "min": 0, "max": 1000}], "clips": [clip_of(ticks, most)]}
    parts["layers"] = [{"name": "b", "states": [{"name": "a", "clip": "c"}]}]
    parts["takes"] = [{"name": "t", "ticks": 20, "world": "free", "changes": [{"at": 1, "set": {"v": 1000}}]}]
    found = check_character(files.parse(document(**parts))).findings
    assert ("value.impossible" in {one.id for one in found}) == refused


def test_axes_of_extreme_numbers_are_refused() -> None:
    for axis in ({"step": 1e-300}, {"min": -1e300}, {"max": 1e-300}):
        blend = {"name": "b", "axes": [{"parameter": "v", **axis}], "samples": []}
        with pytest.raises(LeanStepError, match="blend space"):
            files.parse(document(blends=[blend]))


def test_a_row_of_frames_with_hardly_anything_in_them_has_feet(folder: Path) -> None:
    pixels = np.zeros((64, 64, 4), np.uint8)
    pixels[::9, ::7] = 255
    Image.fromarray(pixels).save(folder / "dust.png")
    findings(folder, sheets=[{"name": "s", "image": "dust.png", "cut": {"columns": 32, "rows": 4}}])
