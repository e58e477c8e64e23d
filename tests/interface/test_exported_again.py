"""Art that is exported again while the window is open: frames are known by their pictures."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

import msgspec
import numpy as np
import pytest
from PIL import Image
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from leanstep.core.character.edits import change
from leanstep.desk.stations.sheets.station import SheetsStation
from leanstep.desk.window import Window
from tests.interface.test_sheets import wait_until

LEFT = Qt.MouseButton.LeftButton
CELL, COLUMNS = 112, 11

WRITE = """
import sys
import numpy as np
from PIL import Image
Image.fromarray(np.load(sys.argv[1])).save(sys.argv[2])
"""


def pictures(path: Path) -> list[np.ndarray]:
    pixels = np.asarray(Image.open(path).convert("RGBA"))
    rows, columns = pixels.shape[0] // CELL, pixels.shape[1] // CELL
    return [
        pixels[row * CELL : (row + 1) * CELL, column * CELL : (column + 1) * CELL].copy()
        for row in range(rows)
        for column in range(columns)
    ]


def written_elsewhere(some: list[np.ndarray], path: Path) -> None:
    """Pictures laid out as a sheet and saved by another process."""
    rows = -(-len(some) // COLUMNS)
    pixels = np.zeros((rows * CELL, COLUMNS * CELL, 4), np.uint8)
    for number, one in enumerate(some):
        y, x = divmod(number, COLUMNS)
        pixels[y * CELL : (y + 1) * CELL, x * CELL : (x + 1) * CELL] = one
    np.save(path.with_suffix(".npy"), pixels)
    subprocess.run([sys.executable, "-c", WRITE, str(path.with_suffix(".npy")), str(path)], check=True)


def with_own_feet(window: Window) -> None:
    """Every frame of the sheet gets a foot and a body box of its own, told apart by its number."""
    feet = {str(number): (50 + number / 4, 90.0) for number in range(55)}
    boxes = {str(number): (-8.0, 0.0, 16.0, 20.0 + number) for number in range(55)}
    window.session.edit("gave feet", lambda document: change(document, ("sheets", 0), foot=(), feet=feet, boxes=boxes))


@pytest.mark.long
def test_clips_feet_and_marks_follow_inserted_removed_redrawn_and_swapped_drawings(window: Window, demo: Path) -> None:
    window.go("Sheets")
    station = window.station(SheetsStation)
    with_own_feet(window)
    wait_until(lambda: len(station.view.frames) == 55, "the sheet")
    path = demo / "art" / "lamplighter.png"
    before, old = window.session.document, pictures(path)

    order: list[int | None] = list(range(55))
    order[13], order[24] = 24, 13
    order.remove(20)
    order.insert(5, None)
    order.insert(40, None)
    red = old[30].copy()
    y, x = np.argwhere(red[:, :, 3] > 0)[200]
    red[y - 3 : y + 3, x - 3 : x + 3] = (200, 30, 30, 255)
    added = [np.zeros_like(red), np.zeros_like(red)]
    added[0][60:100, 40:60] = (10, 120, 30, 255)
    added[1][20:100, 20:30] = added[1][20:30, 20:90] = (90, 10, 130, 255)
    new = [added.pop() if one is None else red if one == 30 else old[one] for one in order]
    written_elsewhere(new, path)

    wait_until(lambda: station.export.isVisible(), "the question")
    assert window.session.document == before, "nothing shifts before it is asked"
    assert "2 drawings new, 1 drawing gone, 1 drawing redrawn" in station.export.words.text()
    said = station.export.pairs.accessibleDescription()
    assert (
        "– → 5: new" in said and "20 → –: gone" in said and "30 → 30: redrawn" in said and "13 → 24: the same" in said
    )
    QTest.mouseClick(station.export.follow, LEFT)

    after = window.session.document
    where = {one: number for number, one in enumerate(order) if one is not None}
    for was, now in zip(before.clips, after.clips):
        kept = tuple(msgspec.structs.replace(cel, frame=where.get(cel.frame, cel.frame)) for cel in was.cels)
        assert now == msgspec.structs.replace(was, cels=kept), was.name
    feet = before.sheets[0].feet
    assert after.sheets[0].feet == {str(number): feet[str(one)] for number, one in enumerate(order) if one is not None}
    boxes = before.sheets[0].boxes
    assert after.sheets[0].boxes == {
        str(number): boxes[str(one)] for number, one in enumerate(order) if one is not None
    }
    assert after.sheets[0].size == (1232, 672)
    wait_until(lambda: len(station.view.frames) == 66, "the new frames")
    if any(cel.frame == 20 for clip in before.clips for cel in clip.cels):
        assert "frame 20" in window.status.text()
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert window.session.document == before


def test_redrawn_frames_refresh_with_a_line_and_no_question(window: Window, demo: Path) -> None:
    window.go("Sheets")
    station = window.station(SheetsStation)
    path = demo / "art" / "lamplighter.png"
    wait_until(lambda: len(station.view.frames) == 55, "the sheet")
    some = pictures(path)
    some[3][60:64, 50:54] = (255, 0, 0, 255)
    written_elsewhere(some, path)
    wait_until(lambda: "was saved again: 1 drawing changed." in window.status.text(), "the line")
    assert not station.export.isVisible()
    assert station.view.image.pixelColor(3 * CELL + 51, 61).name() == "#ff0000"


@pytest.mark.long
def test_swapped_drawings_may_keep_their_numbers(window: Window, demo: Path) -> None:
    window.go("Sheets")
    station = window.station(SheetsStation)
    path = demo / "art" / "lamplighter.png"
    wait_until(lambda: len(station.view.frames) == 55, "the sheet")
    some, before = pictures(path), window.session.document
    some[13], some[24] = some[24], some[13]
    written_elsewhere(some, path)
    wait_until(lambda: station.export.isVisible(), "the question")
    assert "2 drawings elsewhere." in station.export.words.text()
    QTest.mouseClick(station.export.keep, LEFT)
    assert window.session.document == before and not station.export.isVisible()


@pytest.mark.long
def test_a_half_written_or_missing_image_says_so_and_is_matched_once_it_is_whole(window: Window, demo: Path) -> None:
    window.go("Sheets")
    station = window.station(SheetsStation)
    path = demo / "art" / "lamplighter.png"
    wait_until(lambda: len(station.view.frames) == 55, "the sheet")
    some, whole, before = pictures(path), path.read_bytes(), window.session.document
    path.write_bytes(whole[: len(whole) // 2])
    wait_until(lambda: "cannot be read as an image" in str(station.view.loaded), "the sentence")
    path.unlink()
    wait_until(lambda: "there is no such image" in str(station.view.loaded), "the other sentence")
    some[13], some[24] = some[24], some[13]
    written_elsewhere(some, path)
    wait_until(lambda: station.export.isVisible(), "the question")
    assert window.session.document == before and "2 drawings elsewhere." in station.export.words.text()
