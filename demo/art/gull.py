"""Draws the harbour gull in parts: each a picture of its own, to be put together and moved.

Run ``python -m demo.art.gull``: it writes the PNG beside itself, the same bytes every time.  A part is a few outlines drawn large,
brought down to pixels, shaded along its lower edge and outlined in ink.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from PIL import Image, ImageDraw

from demo.art.draw import INK, Tone, tone

HERE = Path(__file__).parent
CELL = (56, 40)
"""Width and height of a part's cell."""
COLUMNS = 4
FINE = 8
"""Drawing is done this many times larger."""

WHITE = tone("f4efe4", "cfc8bb", "ffffff")
GREY = tone("9aa6b2", "77838f", "b8c3cd")
SLATE = tone("7e8a97", "626e7b", "9aa6b2")
TIP = tone("33323c", "25242d", "4a4955")
BEAK = tone("e0a33a", "b57d22", "f2c468")
LEG = tone("d98a5f", "b06a44", "eba985")
EYE = tone("25242d", "25242d", "25242d")
Point = tuple[float, float]


@dataclass(frozen=True)
class Patch:
    """An outline filled with a material."""

    made_of: Tone
    corners: tuple[Point, ...]


def curve(points: Sequence[Point], steps: int = 8) -> tuple[Point, ...]:
    """A closed, smooth line through points (E. Catmull and R. Rom, A class of local interpolating splines, 1974)."""
    found = []
    for at in range(len(points)):
        a, b, c, d = (points[(at + by) % len(points)] for by in (-1, 0, 1, 2))
        for step in range(steps):
            t = step / steps
            found.append(
                tuple(
                    0.5 * (2 * q + (r - p) * t + (2 * p - 5 * q + 4 * r - s) * t * t + (3 * q - p - 3 * r + s) * t**3)
                    for p, q, r, s in zip(a, b, c, d)
                )
            )
    return tuple(found)  # type: ignore[arg-type]


def bar(start: Point, end: Point, wide: float) -> tuple[Point, ...]:
    """A straight piece so many pixels wide."""
    (x, y), (right, low) = start, end
    length = max(1e-9, ((right - x) ** 2 + (low - y) ** 2) ** 0.5)
    across, down = (low - y) / length * wide / 2, -(right - x) / length * wide / 2
    return ((x + across, y + down), (right + across, low + down), (right - across, low - down), (x - across, y - down))


def wing(made_of: Tone) -> tuple[Patch, ...]:
    """The inner half of a wing, from the shoulder at (10, 12) back to the wrist."""
    return (Patch(made_of, curve([(8, 9), (22, 7), (38, 10), (41, 15), (34, 20), (18, 21), (8, 17)])),)


def hand(made_of: Tone) -> tuple[Patch, ...]:
    """The outer half, from the wrist at (8, 12) to the dark tips."""
    return (
        Patch(made_of, curve([(5, 9), (18, 8), (32, 12), (28, 18), (14, 19), (5, 16)])),
        Patch(TIP, curve([(26, 11), (38, 15), (47, 20), (36, 20), (26, 18)])),
    )


PARTS: dict[str, tuple[Patch, ...]] = {
    "body": (Patch(WHITE, curve([(10, 20), (20, 12), (34, 13), (45, 20), (40, 28), (24, 31), (12, 27)])),),
    "tail": (
        Patch(WHITE, curve([(12, 18), (28, 15), (42, 17), (42, 22), (28, 23), (12, 23)])),
        Patch(TIP, curve([(10, 18), (16, 17), (18, 21), (15, 24), (9, 23)])),
    ),
    "head": (
        Patch(BEAK, ((37, 18), (50, 21), (48, 24), (37, 23))),
        Patch(WHITE, curve([(20, 26), (22, 14), (32, 9), (40, 15), (39, 23), (30, 29), (22, 32)])),
    ),
    "eye": (Patch(EYE, curve([(26, 18), (28, 16), (30, 18), (28, 20)])),),
    "near wing": wing(GREY),
    "near hand": hand(GREY),
    "far wing": wing(SLATE),
    "far hand": hand(SLATE),
    "near thigh": (Patch(LEG, bar((28, 8), (28, 18), 3.4)),),
    "near shin": (Patch(LEG, bar((28, 8), (28, 19), 2.6)), Patch(LEG, ((26, 18), (36, 20), (36, 22), (26, 21)))),
    "far thigh": (Patch(tone("b87350", "935a3c", "cf8d6b"), bar((28, 8), (28, 18), 3.2)),),
    "far shin": (
        Patch(tone("b87350", "935a3c", "cf8d6b"), bar((28, 8), (28, 19), 2.4)),
        Patch(tone("b87350", "935a3c", "cf8d6b"), ((26, 18), (35, 20), (35, 22), (26, 21))),
    ),
}
"""The parts, in the order of their cells."""


def picture(patches: Sequence[Patch]) -> np.ndarray:
    """A part's cell (height × width × 4)."""
    width, height = CELL
    made = np.zeros((height, width, 4), np.uint8)
    whole = np.zeros((height, width), np.bool_)
    for patch in patches:
        large = Image.new("L", (width * FINE, height * FINE))
        ImageDraw.Draw(large).polygon([(x * FINE, y * FINE) for x, y in patch.corners], fill=255)
        fine = np.asarray(large).reshape(height, FINE, width, FINE).mean(axis=(1, 3))
        mask = fine >= 110
        base, shade, light = patch.made_of
        made[mask] = (*base, 255)
        low = mask & ~np.roll(mask, -2, axis=0)
        high = mask & ~np.roll(mask, 1, axis=0)
        made[high] = (*light, 255)
        made[low] = (*shade, 255)
        whole |= mask
    grown = whole.copy()
    for axis, by in ((0, 1), (0, -1), (1, 1), (1, -1)):
        grown |= np.roll(whole, by, axis)
    made[grown & ~whole] = (*INK, 255)
    return made


def sheet() -> Image.Image:
    """All parts in a grid."""
    width, height = CELL
    rows = -(-len(PARTS) // COLUMNS)
    made = np.zeros((rows * height, COLUMNS * width, 4), np.uint8)
    for at, patches in enumerate(PARTS.values()):
        x, y = at % COLUMNS * width, at // COLUMNS * height
        made[y : y + height, x : x + width] = picture(patches)
    return Image.fromarray(made)


def main() -> None:
    """Write the sheet beside this file."""
    sheet().save(HERE / "harbour-gull.png", optimize=True)


if __name__ == "__main__":
    main()
