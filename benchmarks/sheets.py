"""How fast sheets are looked at: ``python -m benchmarks.sheets``.

Ratios are to one labelling of the same mask; times depend on the machine.
"""

from __future__ import annotations

import os
import time
from collections.abc import Callable

import numpy as np
from rich.console import Console
from rich.table import Table
from scipy import ndimage

from leanstep.core.sheets.cutting import Rect
from leanstep.core.sheets.drawings import found_rects
from leanstep.core.sheets.ground import drawn
from leanstep.core.sheets.matching import matched
from leanstep.core.sheets.suggestion import suggestions
from tests.support.drawn_figures import FIGURES, Traits
from tests.support.drawn_sheets import paste

ROUNDS = 3


def large(side: int = 4096, cell: int = 128) -> np.ndarray:
    """A sheet of about a thousand drawings."""
    pixels = np.zeros((side, side, 4), np.uint8)
    count = side // cell
    for number in range(count * count):
        row, column = divmod(number, count)
        traits = Traits.of(np.random.default_rng(row))
        paste(pixels, FIGURES[row % 10](110, column / count, traits), column * cell + 9, row * cell + 16)
    return pixels


def best(work: Callable[[], object]) -> float:
    """The least seconds some work took."""
    found = []
    for _ in range(ROUNDS):
        began = time.perf_counter()
        work()
        found.append(time.perf_counter() - began)
    return min(found)


def matching(count: int = 500) -> float:
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

    from leanstep.core.character.model import Cut, Sheet
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
        began, times = time.perf_counter(), 60
        for _ in range(times):
            view._pan(QPointF(-7, -3))
            view.grab()
        found[f"{zoom:.2g} times"] = times / (time.perf_counter() - began)
    return found


def main() -> None:
    """Print the table."""
    pixels = large()
    mask = drawn(pixels)
    label = best(lambda: ndimage.label(mask, np.ones((3, 3))))
    table = Table("what", "seconds", "labellings")
    for what, seconds in (
        ("one labelling of 4096 × 4096 pixels, 1 024 drawings", label),
        ("finding its drawings", best(lambda: found_rects(drawn(pixels)))),
        ("suggesting its cut", best(lambda: suggestions(pixels))),
        ("matching 500 frames against 500, all redrawn", matching()),
    ):
        table.add_row(what, f"{seconds:.2f}", f"{seconds / label:.1f}")
    for what, rate in redraws(pixels).items():
        table.add_row(f"redraws a second of that sheet at {what}", f"{rate:.0f}", "")
    Console().print(table)


if __name__ == "__main__":
    main()
