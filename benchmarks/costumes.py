"""How fast a costume is put on: ``python -m benchmarks.costumes``."""

from __future__ import annotations

import tempfile
import time
from pathlib import Path

import numpy as np
from msgspec.structs import replace
from PIL import Image
from PySide6.QtWidgets import QApplication

from benchmarks import sized
from benchmarks.window import demo_window
from leanstep.core.character.clips import Cel, Clip
from leanstep.core.character.costume_edits import worn_instead
from leanstep.core.character.files import save
from leanstep.core.character.sheets import Cut, Sheet
from leanstep.core.character.starting import empty
from leanstep.desk.stations.clips.station import ClipsStation
from leanstep.desk.window import Window

COLUMNS, CELL, FRAMES = 25, 64, sized(500, 25)
"""Cells of a row, their side in pixels, and how many frames there are, all of which a clip shows."""


def dressed(folder: Path) -> Path:
    """A character with so many frames, and a costume for all of them."""
    sheets = []
    for name, colour in (("art", (60, 90, 120)), ("coat", (150, 50, 40))):
        pixels = np.zeros((CELL * (FRAMES // COLUMNS), CELL * COLUMNS, 4), np.uint8)
        for frame in range(FRAMES):
            y, x = divmod(frame, COLUMNS)
            pixels[y * CELL + 10 + frame % 20 : y * CELL + 60, x * CELL + 20 : x * CELL + 40] = (*colour, 255)
        Image.fromarray(pixels).save(folder / f"{name}.png")
        size = pixels.shape[1], pixels.shape[0]
        sheets.append(
            Sheet(name=name, image=f"{name}.png", size=size, cut=Cut(columns=COLUMNS, rows=FRAMES // COLUMNS))
        )
    clip = Clip(name="all", sheet="art", cels=tuple(Cel(frame=frame, ticks=2.0) for frame in range(FRAMES)))
    character = worn_instead(replace(empty(), sheets=tuple(sheets), clips=(clip,)), "coat", "art", "coat")
    save(folder / "keeper.leanstep", character)
    return folder / "keeper.leanstep"


def put_on(window: Window) -> float:
    """Seconds from the choice of a costume until every preview of the place shows it, at best."""
    times = []
    for at in range(sized(9, 2)):
        began = time.perf_counter()
        window.session.art.wear("coat" if at % 2 == 0 else "")
        QApplication.processEvents()
        times.append(time.perf_counter() - began)
    return min(times)


def main() -> None:
    """Print the figures."""
    with tempfile.TemporaryDirectory() as folder, demo_window(sized(1000, 100)) as window:
        window.open(dressed(Path(folder)))
        for place in ("Clips", "Sheets"):
            window.go(place)
            station = window.station(ClipsStation)
            station.choose("all")
            QApplication.processEvents()
            print(f"a costume of {FRAMES} frames is put on in {place} in {put_on(window) * 1000:.0f} ms")


if __name__ == "__main__":
    main()
