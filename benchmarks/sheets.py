"""How fast sheets are looked at: ``python -m benchmarks.sheets``.

Ratios are to one labelling of the same mask; times depend on the machine.
"""

from __future__ import annotations

import os
import resource
import tempfile
import time
from pathlib import Path

import numpy as np
from PIL import Image
from rich.console import Console
from rich.table import Table
from scipy import ndimage

from benchmarks import best, sized
from leanstep.core.sheets.background import drawn
from leanstep.core.sheets.cutting import Rect
from leanstep.core.sheets.drawings import found_rects
from leanstep.core.sheets.matching import matched
from leanstep.core.sheets.suggestion import suggestions
from tests.support.drawn_figures import FIGURES, Traits
from tests.support.drawn_sheets import paste

MATCHED = sized(500, 25)
"""Frames that are matched."""


def large(side: int = sized(4096, 1024), cell: int = 128) -> np.ndarray:
    """A sheet of about a thousand drawings."""
    pixels = np.zeros((side, side, 4), np.uint8)
    count = side // cell
    for number in range(count * count):
        row, column = divmod(number, count)
        traits = Traits.of(np.random.default_rng(row))
        paste(pixels, FIGURES[row % 10](110, column / count, traits), column * cell + 9, row * cell + 16)
    return pixels


def matching(count: int = MATCHED) -> float:
    """Seconds to match frames that were all redrawn a little."""
    rects = [Rect(number % 25 * 64, number // 25 * 64, 64, 64) for number in range(count)]
    before = np.zeros((64 * -(-count // 25), 1600, 4), np.uint8)
    for number, rect in enumerate(rects):
        traits = Traits.of(np.random.default_rng(number))
        paste(before, FIGURES[number % 10](56, number % 32 / 32, traits), rect.x, rect.y)
    after = before.copy()
    after[:, :, :3] = np.where(before[:, :, 3:] > 0, before[:, :, :3] // 8 * 7, before[:, :, :3])
    return best(lambda: matched(before, rects, after, rects))


def redraws(pixels: np.ndarray) -> dict[str, float]:
    """Redraws a second of the Sheets station's view while it is zoomed and moved."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PySide6.QtCore import QPointF

    from leanstep.core.character.sheets import Cut, Sheet
    from leanstep.core.sheets.images import cut_sheet
    from leanstep.desk.app import make_app
    from leanstep.desk.art import Loaded, picture_of
    from leanstep.desk.stations.sheets.sheet_view import SheetView

    make_app()
    sheet = Sheet(name="large", cut=Cut(way="size", width=128, height=128))
    view = SheetView()
    view.resize(1000, 600)
    view.show_sheet(Loaded(cut_sheet(sheet, pixels, pixels), picture_of(pixels)), [])
    found = {}
    for zoom in (view.zoom, 1.0, 8.0):
        view.zoom_to(zoom, QPointF(500, 300))
        view.grab()
        began, times = time.perf_counter(), sized(60, 2)
        for _ in range(times):
            view._pan(QPointF(-7, -3))
            view.grab()
        found[f"{zoom:.2g} times"] = times / (time.perf_counter() - began)
    return found


def opening(pixels: np.ndarray) -> tuple[float, float]:
    """Seconds to open a character of 2 000 frames and 200 clips in the window with its pictures, and how many times as much
    memory as the decoded image the program takes more for it."""
    from PySide6.QtCore import QSettings
    from PySide6.QtTest import QTest

    from leanstep.core.character import files
    from leanstep.core.character.clips import Cel, Clip
    from leanstep.core.character.document import Character
    from leanstep.core.character.graph import Layer, State
    from leanstep.core.character.sheets import Cut, Sheet
    from leanstep.desk.app import make_app, make_window
    from leanstep.desk.art import Loaded

    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        os.environ["LEANSTEP_STATE"] = str(folder / "state")
        Image.fromarray(pixels).save(folder / "large.png", compress_level=1)
        cut = Cut(columns=64, rows=32)
        sheet = Sheet(name="large", image="large.png", size=(pixels.shape[1], pixels.shape[0]), cut=cut)
        clips = tuple(
            Clip(name=f"clip {at}", sheet="large", cels=tuple(Cel(frame=10 * at + n) for n in range(10)))
            for at in range(200)
        )
        layer = Layer(name="base", states=(State(name="idle", clip="clip 0"),))
        path = folder / "large.leanstep"
        path.write_bytes(files.dump(Character(sheets=(sheet,), clips=clips, layers=(layer,))))
        make_app()
        window = make_window(QSettings(str(folder / "settings.ini"), QSettings.Format.IniFormat), None)
        window.show()
        QTest.qWait(300)
        before, began = _resident(), time.perf_counter()
        window.open(path)
        opened = time.perf_counter() - began
        for _ in range(2000):
            if isinstance(window.session.art.sheet("large"), Loaded):
                break
            QTest.qWait(5)
        pictured = time.perf_counter() - began
        grown = (_resident() - before) / pixels.nbytes
        print(f"window after {opened:.2f} s, pictures after {pictured:.2f} s")
        window.close()
    return pictured, grown


def _resident() -> int:
    """The most memory the program has had so far, in bytes."""
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024


def main() -> None:
    """Print the table."""
    pixels = large()
    mask = drawn(pixels)
    label = best(lambda: ndimage.label(mask, np.ones((3, 3))))
    table = Table("what", "seconds", "labellings")
    for what, seconds in (
        (f"one labelling of {len(pixels)} × {len(pixels)} pixels, {(len(pixels) // 128) ** 2:,} drawings", label),
        ("finding its drawings", best(lambda: found_rects(drawn(pixels)))),
        ("suggesting its cut", best(lambda: suggestions(pixels))),
        (f"matching {MATCHED} frames against {MATCHED}, all redrawn", matching()),
    ):
        table.add_row(what, f"{seconds:.2f}", f"{seconds / label:.1f}")
    for what, rate in redraws(pixels).items():
        table.add_row(f"redraws a second of that sheet at {what}", f"{rate:.0f}", "")
    seconds, grown = opening(pixels)
    table.add_row("opening 2 000 frames on that many pixels and 200 clips, pictures included", f"{seconds:.2f}", "")
    table.add_row("memory that takes, in decoded images", f"{grown:.1f}", "")
    Console().print(table)


if __name__ == "__main__":
    main()
