"""Draws the net mender's sheet the way art often arrives: an opaque ground with noise, uneven gaps, specks, a frame that leans
over into its neighbour's room, and a figure that wanders.  Writes it, and the character before and after it was put right.

Run ``python -m demo.art.awkward``.
"""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import msgspec
import numpy as np
from PIL import Image

from demo.art.draw import FERRY_HAND, draw, idle, tone, walk
from leanstep.core.character.edits import change
from leanstep.core.character.files import save
from leanstep.core.character.sheets import Ground, Sheet
from leanstep.core.character.starting import empty, walking
from leanstep.core.sheets.background import Ground as Colour
from leanstep.core.sheets.background import drawn, ground_of, holes_of
from leanstep.core.sheets.drawings import found_rects
from leanstep.core.sheets.recutting import by_hand

HERE = Path(__file__).parent
NAME = "net-mender"

NET_MENDER = replace(
    FERRY_HAND,
    coat=tone("7d4a52", "5f373e", "9d656d"),
    coat_far=tone("66404a", "4f3039", "7f545f"),
    trousers=tone("5b5f48", "444736", "787d60"),
    trousers_far=tone("4a4e3b", "383b2c", "62674e"),
    hat=tone("c9b27a", "a5905d", "e3d09c"),
    band=tone("7d4a52", "5f373e", "9d656d"),
)
GROUND = (118, 156, 178)
FOOT = (50, 106)
"""Where a figure stands in the picture it is drawn in."""


def sheet() -> tuple[Image.Image, list[tuple[int, int]]]:
    """The sheet, and where the figure stands in every frame of it."""
    pick = np.random.default_rng(7)
    rows = [idle(4), walk(8)]
    pixels = np.zeros((220, 560, 4), np.uint8)
    feet = []
    for row, poses in enumerate(rows):
        left = 6 + 5 * row
        for number, pose in enumerate(poses):
            picture = draw(pose, NET_MENDER)
            seen = picture[:, :, 3] > 0
            columns, lines = np.flatnonzero(seen.any(axis=0)), np.flatnonzero(seen.any(axis=1))
            part = picture[lines[0] : lines[-1] + 1, columns[0] : columns[-1] + 1]
            high, wide = part.shape[:2]
            top = 104 * (row + 1) - high - int(pick.integers(0, 3))
            under = pixels[top : top + high, left : left + wide]
            under[part[:, :, 3] > 0] = part[part[:, :, 3] > 0]
            feet.append((left + FOOT[0] - int(columns[0]), top + FOOT[1] - int(lines[0])))
            # the third walker hardly leaves any room
            left += wide + (2 if (row, number) == (1, 2) else int(pick.integers(8, 22)))
    grain = pick.integers(-4, 5, (*pixels.shape[:2], 3))
    ground = np.clip(np.array(GROUND) + grain, 0, 255).astype(np.uint8)
    pixels[:, :, :3] = np.where(pixels[:, :, 3:] > 0, pixels[:, :, :3], ground)
    for _ in range(60):
        y, x = int(pick.integers(pixels.shape[0] - 1)), int(pick.integers(pixels.shape[1] - 1))
        if not pixels[max(0, y - 40) : y + 40, max(0, x - 30) : x + 30, 3].any():
            pixels[y, x : x + 2, :3] = pick.integers(0, 256, 3)
    pixels[:, :, 3] = 255
    return Image.fromarray(pixels), feet


def main() -> None:
    """Write the sheet and both characters."""
    image, feet = sheet()
    image.convert("RGB").save(HERE / f"{NAME}.png", optimize=True)
    pixels = np.asarray(image)
    raw = Sheet(name=NAME, image=f"art/{NAME}.png", size=image.size)
    before = msgspec.structs.replace(empty(), name="Net mender, as it was sent", sheets=(raw,))
    save(HERE.parent / f"{NAME}-before.leanstep", before)
    ground = ground_of(pixels)
    assert isinstance(ground, Colour)
    rects = found_rects(drawn(pixels))
    own = {
        str(number): (float(x - rect.x), float(y - rect.y))
        for number, rect in enumerate(rects)
        for x, y in feet
        if rect.x <= x < rect.x + rect.width and rect.y < y <= rect.y + rect.height + 4
    }
    made = change(
        before,
        ("sheets", 0),
        ground=Ground(colour=ground.text, tolerance=ground.tolerance, holes=tuple(holes_of(pixels, ground))),
        cut=by_hand(rects),
        feet=own,
    )
    after = walking(made, NAME, range(4), range(4, 12), height=rects[0].height)
    save(HERE.parent / f"{NAME}-after.leanstep", msgspec.structs.replace(after, name="Net mender, put right"))


if __name__ == "__main__":
    main()
