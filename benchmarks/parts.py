"""How fast a figure of parts is drawn, and rendered to frames: ``python -m benchmarks.parts``."""

from __future__ import annotations

from functools import partial

import numpy as np

from benchmarks import best, sized
from leanstep.core.character.cut_outs import CutOut, CutOutPart, PartKey, Track
from leanstep.core.character.sheets import Cut, Sheet
from leanstep.core.cut_outs.canvas import fitting
from leanstep.core.cut_outs.loading import Figure, drawn, figure
from leanstep.core.cut_outs.skeleton import Placed, placed, poses_at
from leanstep.core.sheets.images import cut_sheet

PARTS, CELL, COLUMNS, FRAMES = 20, 64, 5, sized(200, 10)


def of_parts() -> Figure:
    """Twenty pieces of 24 × 44 pixels that hang on each other."""
    rows = -(-PARTS // COLUMNS)
    image = np.zeros((rows * CELL, COLUMNS * CELL, 4), np.uint8)
    for at in range(PARTS):
        y, x = at // COLUMNS * CELL, at % COLUMNS * CELL
        image[y + 10 : y + 54, x + 20 : x + 44] = (50 + 9 * at, 220 - 8 * at, 120, 255)
    parts = tuple(
        CutOutPart(
            name=f"part {at}",
            frame=at,
            joint=(32, 32),
            at=(32, 8) if at else (),
            parent=f"part {(at - 1) // 2}" if at else "",
            order=at % 3,
        )
        for at in range(PARTS)
    )
    rig = Sheet(name="figure", cut=Cut(columns=COLUMNS, rows=rows), foot=(32, 60), parts=parts)
    return figure(cut_sheet(rig, image, image))


def pose(of: Figure, cut_out: CutOut, ticks: float) -> list[Placed]:
    """How the parts lie at a tick."""
    return placed(of.bones, poses_at(of.bones, cut_out, ticks))


def main() -> None:
    """Print the figures."""
    of, ticks = of_parts(), 6 * FRAMES
    tracks = tuple(
        Track(part=f"part {at}", keys=(PartKey(), PartKey(at=ticks / 2, turn=60.0 + at))) for at in range(PARTS)
    )
    for smooth in (False, True):
        cut_out = CutOut(of="figure", ticks=ticks, every=6, tracks=tracks, smooth=smooth)
        sheet = Sheet(name="moves", cut_out=cut_out)
        lying = pose(of, cut_out, ticks / 4)
        canvas, drawing = fitting("moves", of.bones, of.pictures, [lying]), of.drawing
        drawing.drawn(canvas, lying, smooth)
        kind = "smooth" if smooth else "hard"
        posed = best(partial(pose, of, cut_out, ticks / 4))
        shown = best(partial(drawing.drawn, canvas, lying, smooth))
        print(f"{PARTS} parts, {kind}: posed in {posed * 1000:.2f} ms, drawn in {shown * 1000:.2f} ms")
        frame = drawn(sheet, cut_out, of).frames[0].rect
        whole = best(partial(drawn, sheet, cut_out, of))
        print(f"  {FRAMES} frames of {frame.width} × {frame.height} pixels rendered in {whole:.2f} s")


if __name__ == "__main__":
    main()
