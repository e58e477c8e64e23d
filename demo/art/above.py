"""Draws the demo's figures seen from above: the ferry hand in eight directions and the harbour cat in five, as pixel sheets.

Run ``python -m demo.art.above``: it writes the PNGs beside itself, the same bytes every time.  A figure is a handful of balls in
space, turned to the direction it faces and seen from a high place in front of it; each ball is a disc with a shade and a light,
the farthest drawn first.  In space x is to the figure's right, y ahead of it and z up, in pixels.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from PIL import Image, ImageDraw

from demo.art.draw import INK, Tone, tone

HERE = Path(__file__).parent
FINE = 6
"""Drawing is done this many times larger."""
SLANT, RISE = 0.62, 0.88
"""How much of a pixel of depth and of height is seen."""

COAT, DARK, SKIN = (
    tone("c8553d", "97392a", "e07b5f"),
    tone("2f4f74", "223a57", "436a98"),
    tone("a8724d", "865636", "c58f69"),
)
HAT, BOOT = tone("e6dbbd", "c0b391", "fbf5e2"), tone("3a3f49", "292d35", "565d6b")
WOOD, IRON = tone("9a7448", "745533", "bb9461"), tone("8d97a3", "68717c", "b5bec8")
FUR, PALE, NOSE = (
    tone("7b7f8a", "5a5e69", "9da2ae"),
    tone("e9e4d8", "c7c0b0", "fbf8f0"),
    tone("c98f86", "a5716a", "dcaaa2"),
)
ROPE = tone("d9c58f", "b29d68", "efe0b5")
EYE = tone("2a2622", "2a2622", "2a2622")


@dataclass(frozen=True)
class Ball:
    """A ball of a material: where its middle is, and how large it is across."""

    x: float
    y: float
    z: float
    size: float
    made_of: Tone


def rod(start: tuple[float, float, float], end: tuple[float, float, float], size: float, made_of: Tone) -> list[Ball]:
    """Balls along a line."""
    count = max(2, int(math.dist(start, end) / max(0.6, size * 0.4)))
    steps = [at / (count - 1) for at in range(count)]
    places = [[a + (b - a) * step for a, b in zip(start, end)] for step in steps]
    return [Ball(x, y, z, size, made_of) for x, y, z in places]


def ferry_hand(step: float, stride: float, haul: float = 0.0, throw: float = 0.0) -> list[Ball]:
    """The ferry hand: ``step`` turns the legs (0 to 1), ``stride`` says how far they go, ``haul`` leans into it, ``throw`` swings the
    line.  The boat hook is carried in the right hand."""
    swing = math.sin(2 * math.pi * step) * stride
    bob = abs(math.cos(2 * math.pi * step)) * stride * 0.18
    lean = 3.2 * haul
    found: list[Ball] = []
    for side, way in ((-1, swing), (1, -swing)):
        lift = max(0.0, math.cos(2 * math.pi * step) * side) * stride * 0.3
        found += rod((side * 2.8, 0, 9 + bob), (side * 2.8, way, 2.4 + lift), 4.2, DARK)
        found.append(Ball(side * 2.8, way + 1.0, 1.8 + lift, 4.4, BOOT))
    found += [Ball(0, lean * at / 4, 10 + at * 2.0 + bob, 10.5 - at * 0.4, COAT) for at in range(5)]
    found.append(Ball(0, 1.2 + lean * 1.4, 23.0 + bob, 9.4, SKIN))
    found += [Ball(side * 2.1, 5.6 + lean * 1.4, 22.6 + bob, 1.9, EYE) for side in (-1, 1)]
    found.append(Ball(0, -0.8 + lean * 1.4, 27.0 + bob, 8.6, HAT))
    left = (-6.2, 2.0 - swing * 0.5 + lean, 11.0 + bob)
    right = (6.4, 2.5 + swing * 0.3 + lean, 12.0 + bob)
    if throw:
        left = (-5.0, 6.0 * throw, 14.0 + 6.0 * throw)
        found += rod(left, (-2.0, 6.0 + 16.0 * throw, 16.0 - 4.0 * throw), 1.4, ROPE)
    found += rod((-5.0, lean, 17.5 + bob), left, 3.4, COAT) + rod((5.0, lean, 17.5 + bob), right, 3.4, COAT)
    found += [Ball(*left, 3.2, SKIN), Ball(*right, 3.2, SKIN)]
    low, high = (7.6, -3.0 + lean, 2.0 + bob), (6.4, 5.5 + lean * 1.6, 34.0 + bob)
    found += rod(low, high, 1.7, WOOD)
    found += [Ball(6.4, 6.2 + lean * 1.6, 35.0 + bob, 2.4, IRON), Ball(6.4, 8.0 + lean * 1.6, 33.4 + bob, 2.0, IRON)]
    return found


def cat(step: float, stride: float) -> list[Ball]:
    """The harbour cat."""
    swing = math.sin(2 * math.pi * step) * stride
    sway = math.cos(2 * math.pi * step) * 2.2
    found: list[Ball] = []
    for side in (-1, 1):
        for front, way in ((1, swing * side), (-1, -swing * side)):
            found += rod((side * 2.1, front * 4.2, 4.5), (side * 2.1, front * 4.2 + way, 1.0), 2.2, FUR)
            found.append(Ball(side * 2.1, front * 4.2 + way + 0.6, 0.9, 2.3, PALE))
    found += [Ball(0, at - 4.5, 6.0, 6.4, FUR) for at in range(0, 10, 2)]
    found += [Ball(0, 8.2, 9.4, 7.0, FUR), Ball(0, 11.0, 8.4, 3.4, PALE), Ball(0, 12.4, 8.8, 1.4, NOSE)]
    found += [Ball(side * 2.0, 7.4, 12.4, 2.2, FUR) for side in (-1, 1)]
    found += [Ball(side * 1.9, 11.2, 10.6, 1.4, EYE) for side in (-1, 1)]
    found += rod((0, -6.0, 7.0), (sway, -11.0, 12.0), 2.0, FUR)
    return found


def drawn(balls: Sequence[Ball], bearing: float, cell: int, foot: tuple[float, float]) -> Image.Image:
    """A figure turned to a bearing, in a cell, outlined in ink."""
    image = Image.new("RGBA", (cell * FINE, cell * FINE), (0, 0, 0, 0))
    brush = ImageDraw.Draw(image)
    angle = math.radians(bearing)
    sine, cosine = math.sin(angle), math.cos(angle)
    placed = []
    for ball in balls:
        across, deep = ball.x * cosine + ball.y * sine, -ball.x * sine + ball.y * cosine
        placed.append((deep * RISE - ball.z * SLANT, across, -deep * SLANT - ball.z * RISE, ball))
    for _, x, y, ball in sorted(placed, key=lambda one: -one[0]):
        base, shade, light = ball.made_of
        middle, reach = ((foot[0] + x) * FINE, (foot[1] + y) * FINE), ball.size / 2 * FINE
        for colour, off, share in (
            (shade, 0.0, 1.0),
            (base, -0.14, 0.84),
            (light, -0.36, 0.34 if ball.size > 3 else 0.0),
        ):
            at = (middle[0] + off * reach, middle[1] + off * reach)
            size = reach * share
            brush.ellipse((at[0] - size, at[1] - size, at[0] + size, at[1] + size), fill=(*colour, 255))
    small = np.asarray(image.resize((cell, cell), Image.Resampling.BOX)).copy()
    small[:, :, 3] = np.where(small[:, :, 3] >= 128, 255, 0)
    solid = small[:, :, 3] > 0
    around = np.zeros_like(solid)
    for axis in (0, 1):
        for way in (1, -1):
            around |= np.roll(solid, way, axis)
    edge = around & ~solid
    small[edge] = (*INK, 255)
    small[~solid & ~edge] = 0
    # few colours, as pixel art has them
    small[:, :, :3] = (small[:, :, :3] // 12) * 12
    small[~solid & ~edge] = 0
    return Image.fromarray(small)


def sheet(rows: Sequence[tuple[float, Sequence[list[Ball]]]], cell: int, foot: tuple[float, float]) -> Image.Image:
    """Rows of figures, each with the bearing it faces."""
    columns = max(len(balls) for _, balls in rows)
    whole = Image.new("RGBA", (columns * cell, len(rows) * cell), (0, 0, 0, 0))
    for row, (bearing, some) in enumerate(rows):
        for column, balls in enumerate(some):
            whole.paste(drawn(balls, bearing, cell, foot), (column * cell, row * cell))
    return whole


Movement = Callable[[float], list[Ball]]
MOVEMENTS: dict[str, Movement] = {
    "idle": lambda step: ferry_hand(0.25, 0.9 * math.sin(2 * math.pi * (step + 1 / 24))),
    "walk": lambda step: ferry_hand(step + 1 / 24, 4.6),
    "haul": lambda step: ferry_hand(step + 1 / 24, 7.0, haul=1.0),
}
EIGHT = [180.0 + 45.0 * at for at in range(8)]
"""The rows begin with the figure that looks at us and go on clockwise as seen on the screen."""
FIVE = [180.0, 135.0, 90.0, 45.0, 0.0]
FRAMES = 6
HAND, HAND_FOOT = 56, (28.0, 46.0)
CAT, CAT_FOOT = 32, (16.0, 21.0)


def main() -> None:
    """Write both sheets."""
    steps = [at / FRAMES for at in range(FRAMES)]
    rows = [(bearing % 360, [move(step) for step in steps]) for move in MOVEMENTS.values() for bearing in EIGHT]
    rows += [
        (bearing % 360, [ferry_hand(0.25, 0.0, throw=t) for t in (0.15, 0.6, 1.0, 0.85, 0.5, 0.3)]) for bearing in EIGHT
    ]
    sheet(rows, HAND, HAND_FOOT).save(HERE / "ferry-hand-above.png", optimize=True)
    rows = [
        (bearing, [cat(0.25 + step / 12, 0.9 * math.sin(2 * math.pi * (step + 1 / 24))) for step in steps])
        for bearing in FIVE
    ]
    rows += [(bearing, [cat(step + 1 / 24, 2.6) for step in steps]) for bearing in FIVE]
    sheet(rows, CAT, CAT_FOOT).save(HERE / "harbour-cat.png", optimize=True)


if __name__ == "__main__":
    main()
