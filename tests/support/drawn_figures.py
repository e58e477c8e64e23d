"""Figures of many kinds, drawn in small pictures, for sheets that nobody prepared.

Every drawer gets a square of ``side`` pixels, a phase of its motion (0 to 1), and the traits its kind is drawn with, which
stay the same for all pictures of a figure.  Feet stand on the bottom line of the square.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from PIL import Image, ImageDraw

Pixels = np.ndarray
Colour = tuple[int, int, int, int]


@dataclass
class Traits:
    """What makes one figure differ from the next of its kind."""

    pick: np.random.Generator
    colours: list[Colour]
    build: float
    seed: int
    smooth: bool

    @classmethod
    def of(cls, pick: np.random.Generator) -> Traits:
        base = pick.integers(0, 256, (6, 3))
        colours = [(int(r), int(g), int(b), 255) for r, g, b in base]
        return cls(
            pick, colours, float(pick.uniform(0.7, 1.25)), int(pick.integers(1 << 30)), bool(pick.random() < 0.35)
        )


Drawer = Callable[[int, float, Traits], Pixels]


def canvas(side: int, traits: Traits, draw: Callable[[ImageDraw.ImageDraw, float], None]) -> Pixels:
    """A picture drawn at its size, or four times as large and scaled down smoothly."""
    scale = 4 if traits.smooth else 1
    image = Image.new("RGBA", (side * scale, side * scale), (0, 0, 0, 0))
    draw(ImageDraw.Draw(image), float(side * scale))
    if scale > 1:
        image = image.resize((side, side), Image.Resampling.BOX)
    return np.asarray(image).copy()


def walker(side: int, phase: float, traits: Traits) -> Pixels:
    """A person with swinging arms and legs, some with a pole or a hat."""
    swing, rng = math.sin(2 * math.pi * phase), np.random.default_rng(traits.seed)
    pole, hat, stride = rng.random() < 0.4, rng.random() < 0.5, rng.uniform(0.08, 0.2)

    def draw(on: ImageDraw.ImageDraw, s: float) -> None:
        c, mid, wide = traits.colours, s / 2, max(1, int(s * 0.09 * traits.build))
        hip, neck = s * 0.62, s * 0.32 + abs(swing) * s * 0.02
        for way, tone in ((1, c[0]), (-1, c[1])):
            on.line((mid, hip, mid + way * swing * s * stride, s - 1), fill=tone, width=wide)
        on.rectangle((mid - wide, neck, mid + wide, hip), fill=c[2])
        for way, tone in ((1, c[2]), (-1, c[3])):
            on.line((mid, neck + s * 0.04, mid - way * swing * s * 0.17, s * 0.56), fill=tone, width=max(1, wide - 1))
        head = s * 0.1 * traits.build
        on.ellipse((mid - head, neck - 2 * head, mid + head, neck), fill=c[4])
        if hat:
            on.rectangle((mid - head * 1.3, neck - 2.2 * head, mid + head * 1.3, neck - 1.8 * head), fill=c[5])
        if pole:
            on.line(
                (mid - s * 0.1, s * 0.7, mid + s * (0.2 + 0.2 * swing), s * 0.15), fill=c[5], width=max(1, wide // 2)
            )

    return canvas(side, traits, draw)


def blob(side: int, phase: float, traits: Traits) -> Pixels:
    """A drop that is pressed and stretched."""

    def draw(on: ImageDraw.ImageDraw, s: float) -> None:
        squash = 0.12 * math.sin(2 * math.pi * phase)
        half, high = s * (0.26 + squash / 2) * traits.build, s * (0.45 - squash)
        on.ellipse((s / 2 - half, s - 1 - high, s / 2 + half, s - 1), fill=traits.colours[0])
        eye = s * 0.05
        for way in (-1, 1):
            x, y = s / 2 + way * half * 0.4, s - high * 0.62
            on.ellipse((x - eye, y - eye, x + eye, y + eye), fill=traits.colours[1])

    return canvas(side, traits, draw)


def beast(side: int, phase: float, traits: Traits) -> Pixels:
    """Something on four legs with a tail."""

    def draw(on: ImageDraw.ImageDraw, s: float) -> None:
        c, top, belly = traits.colours, s * 0.55, s * 0.78
        on.rectangle((s * 0.22, top, s * 0.72, belly), fill=c[0])
        for number, x in enumerate((0.26, 0.36, 0.58, 0.68)):
            reach = math.sin(2 * math.pi * (phase + number / 4)) * s * 0.07
            on.line((s * x, belly, s * x + reach, s - 1), fill=c[1], width=max(1, int(s * 0.06)))
        head = s * 0.12 * traits.build
        on.ellipse((s * 0.78 - head, top - head, s * 0.78 + head, top + head), fill=c[2])
        on.line((s * 0.22, top, s * 0.08, top - s * 0.1 * (1 + math.sin(2 * math.pi * phase))), fill=c[3], width=2)

    return canvas(side, traits, draw)


def flyer(side: int, phase: float, traits: Traits) -> Pixels:
    """A bird with flapping wings, off the ground."""

    def draw(on: ImageDraw.ImageDraw, s: float) -> None:
        c, middle = traits.colours, s * 0.5
        on.ellipse((s * 0.38, s * 0.42, s * 0.64, s * 0.62), fill=c[0])
        flap = math.sin(2 * math.pi * phase) * s * 0.28
        for way in (-1, 1):
            tip = (middle + way * s * 0.38 * min(1.0, traits.build), s * 0.5 - flap)
            on.polygon([(middle, s * 0.45), tip, (middle + way * s * 0.08, s * 0.58)], fill=c[1])

    return canvas(side, traits, draw)


def machine(side: int, phase: float, traits: Traits) -> Pixels:
    """Boxes on wheels."""

    def draw(on: ImageDraw.ImageDraw, s: float) -> None:
        c, lift = traits.colours, int(2 * math.sin(2 * math.pi * phase))
        on.rectangle((s * 0.25, s * 0.35 + lift, s * 0.75, s * 0.8), fill=c[0])
        on.rectangle((s * 0.36, s * 0.16 + lift, s * 0.64, s * 0.34 + lift), fill=c[1])
        on.line((s * 0.5, s * 0.02 + lift, s * 0.5, s * 0.16 + lift), fill=c[2], width=1)
        for x in (0.33, 0.67):
            on.ellipse((s * (x - 0.1), s * 0.78, s * (x + 0.1), s - 1), fill=c[3])
            turn = 2 * math.pi * phase
            on.line((s * x, s * 0.88, s * (x + 0.09 * math.cos(turn)), s * (0.88 + 0.09 * math.sin(turn))), fill=c[4])

    return canvas(side, traits, draw)


def mask(side: int, phase: float, traits: Traits) -> Pixels:
    """A symmetric creature of random squares; a few of them change from picture to picture."""
    rng = np.random.default_rng(traits.seed)
    cells = rng.random((8, 4)) < 0.6
    cells[2:6, 3] = True
    tones = rng.integers(0, 3, (8, 4))
    beat = np.random.default_rng(traits.seed + int(phase * 16) + 1)
    for _ in range(2):
        cells[beat.integers(8), beat.integers(2)] ^= True
    cells, tones = np.hstack([cells, cells[:, ::-1]]), np.hstack([tones, tones[:, ::-1]])
    unit = max(1, int(side * 0.8) // 8)
    pixels = np.zeros((side, side, 4), np.uint8)
    left, top = (side - 8 * unit) // 2, side - 8 * unit
    for row, column in zip(*np.nonzero(cells)):
        box = pixels[top + row * unit : top + (row + 1) * unit, left + column * unit : left + (column + 1) * unit]
        box[:] = traits.colours[tones[row, column]]
    return pixels


def coin(side: int, phase: float, traits: Traits) -> Pixels:
    """A disc that turns about its height."""

    def draw(on: ImageDraw.ImageDraw, s: float) -> None:
        half = s * 0.3 * abs(math.cos(math.pi * phase)) + s * 0.04
        on.ellipse((s / 2 - half, s * 0.2, s / 2 + half, s * 0.8), fill=traits.colours[0])
        on.ellipse((s / 2 - half / 2, s * 0.35, s / 2 + half / 2, s * 0.65), fill=traits.colours[1])

    return canvas(side, traits, draw)


def snake(side: int, phase: float, traits: Traits) -> Pixels:
    """A line that winds."""

    def draw(on: ImageDraw.ImageDraw, s: float) -> None:
        at = [(s * (0.12 + 0.76 * n / 24), s * (0.78 + 0.1 * math.sin(n / 3 + 2 * math.pi * phase))) for n in range(25)]
        on.line(at, fill=traits.colours[0], width=max(2, int(s * 0.1)))
        x, y = at[-1]
        on.ellipse((x - s * 0.08, y - s * 0.08, x + s * 0.08, y + s * 0.08), fill=traits.colours[1])

    return canvas(side, traits, draw)


def cloaked(side: int, phase: float, traits: Traits) -> Pixels:
    """A cloak with a face, swaying."""

    def draw(on: ImageDraw.ImageDraw, s: float) -> None:
        sway, c = math.sin(2 * math.pi * phase) * s * 0.06, traits.colours
        half = s * 0.24 * traits.build
        on.polygon([(s / 2 + sway, s * 0.2), (s / 2 - half - sway, s - 1), (s / 2 + half - sway, s - 1)], fill=c[0])
        on.ellipse((s * 0.41 + sway, s * 0.14, s * 0.59 + sway, s * 0.36), fill=c[1])
        on.rectangle((s * 0.46 + sway, s * 0.22, s * 0.54 + sway, s * 0.26), fill=c[2])

    return canvas(side, traits, draw)


def _with_parts(
    drawer: Drawer, part: Callable[[ImageDraw.ImageDraw, float, float, Traits], None], share: float
) -> Drawer:
    """A figure that takes up a ``share`` of its square, with parts apart from it above or below."""

    def whole(side: int, phase: float, traits: Traits) -> Pixels:
        small = max(6, int(side * share))
        figure = drawer(small, phase, traits)
        pixels = canvas(side, traits, lambda on, s: part(on, s, phase, traits))
        left = (side - small) // 2
        under = pixels[side - small :, left : left + small]
        seen = figure[:, :, 3:] > 0
        under[:] = np.where(seen, figure, under)
        return pixels

    return whole


def _halo(on: ImageDraw.ImageDraw, s: float, phase: float, traits: Traits) -> None:
    y = s * (0.06 + 0.02 * math.sin(2 * math.pi * phase))
    on.ellipse((s * 0.34, y - s * 0.04, s * 0.66, y + s * 0.05), outline=traits.colours[5], width=max(1, int(s * 0.03)))


def _sparks(on: ImageDraw.ImageDraw, s: float, phase: float, traits: Traits) -> None:
    rng = np.random.default_rng(traits.seed)
    for number in range(int(rng.integers(2, 6))):
        x, rise = s * rng.uniform(0.3, 0.7), (rng.random() + phase) % 1.0
        size = max(1.0, s * 0.02 * (1 + number % 3))
        y = s * (0.28 - 0.25 * rise)
        on.rectangle((x, y, x + size, y + size), fill=traits.colours[number % 3])


haloed = _with_parts(walker, _halo, 0.8)
sparking = _with_parts(blob, _sparks, 0.62)


def floating(side: int, phase: float, traits: Traits) -> Pixels:
    """Something in the air over its shadow."""

    def draw(on: ImageDraw.ImageDraw, s: float) -> None:
        up = s * (0.08 + 0.06 * math.sin(2 * math.pi * phase))
        on.ellipse((s * 0.25, s * 0.9, s * 0.75, s - 1), fill=(30, 30, 40, 160))
        on.ellipse((s * 0.28, s * 0.3 - up, s * 0.72, s * 0.74 - up), fill=traits.colours[0])
        on.rectangle((s * 0.4, s * 0.4 - up, s * 0.5, s * 0.5 - up), fill=traits.colours[1])

    return canvas(side, traits, draw)


def blast(side: int, phase: float, traits: Traits) -> Pixels:
    """A burst whose shreds fly apart, and thin out."""
    rng = np.random.default_rng(traits.seed)
    ways, reach = rng.uniform(0, 2 * math.pi, 14), rng.uniform(0.6, 1.0, 14)

    def draw(on: ImageDraw.ImageDraw, s: float) -> None:
        core = s * max(0.0, 0.22 - 0.3 * abs(phase - 0.3))
        if core > 1:
            on.ellipse((s / 2 - core, s / 2 - core, s / 2 + core, s / 2 + core), fill=traits.colours[0])
        for number, (way, far) in enumerate(zip(ways, reach)):
            away, size = s * (0.1 + 0.36 * far * phase), max(1.0, s * 0.07 * (1.1 - phase))
            x, y = s / 2 + away * math.cos(way), s / 2 + away * math.sin(way)
            on.rectangle((x - size / 2, y - size / 2, x + size / 2, y + size / 2), fill=traits.colours[number % 4])

    return canvas(side, traits, draw)


AIRY = (haloed, sparking, floating, blast)
"""Drawers of figures with empty rows inside."""

FIGURES = (walker, walker, blob, beast, flyer, machine, mask, coin, snake, cloaked)
"""Drawers of figures with room around them."""


def water(width: int, height: int, phase: float, traits: Traits) -> Pixels:
    """A cell full of waves: nothing of it is empty."""
    rng = np.random.default_rng(traits.seed)
    y, x = np.mgrid[0:height, 0:width]
    waves = np.zeros((height, width))
    for _ in range(4):
        across, down, speed = rng.integers(1, 4), rng.integers(0, 4), rng.integers(1, 3)
        waves += rng.uniform(0.3, 1) * np.sin(
            2 * np.pi * (across * x / width + down * y / height + speed * phase + rng.random())
        )
    levels = np.clip(((waves + 2) / 4 * 4).astype(int), 0, 3)
    return np.array(traits.colours[:4], np.uint8)[levels]


def belt(width: int, height: int, phase: float, traits: Traits) -> Pixels:
    """A belt that runs: slanted bars between two edges, that go on from cell to cell."""
    rng = np.random.default_rng(traits.seed)
    bars, slant = int(rng.integers(1, 5)), rng.uniform(-1, 1)
    y, x = np.mgrid[0:height, 0:width]
    level = np.floor((x / width + slant * y / height + phase) * bars * 2).astype(int) % 2
    pixels = np.array(traits.colours[:2], np.uint8)[level]
    edge = max(1, height // 8)
    pixels[:edge] = pixels[-edge:] = traits.colours[2]
    pixels[edge // 2 :: edge * 3, :: max(2, width // 4)] = traits.colours[3]
    return pixels


def door(width: int, height: int, phase: float, traits: Traits) -> Pixels:
    """A door in its frame, that opens upwards."""
    pixels = np.empty((height, width, 4), np.uint8)
    pixels[:] = traits.colours[0]
    side, top = max(1, width // 8), max(1, height // 8)
    pixels[top:, side : width - side] = traits.colours[1]
    low = top + int((height - top) * (1 - phase * 0.9))
    pixels[top:low, side : width - side] = traits.colours[2]
    pixels[top:low:4, side : width - side] = traits.colours[3]
    return pixels


OPAQUE = (water, belt, door)
"""Drawers of cells that are full."""


def fire(width: int, height: int, phase: float, traits: Traits) -> Pixels:
    """Tongues as wide as the cell, with ragged tops."""
    rng = np.random.default_rng(traits.seed)
    x = np.arange(width)
    top = np.zeros(width)
    for _ in range(4):
        top += rng.uniform(0.3, 1) * np.sin(2 * np.pi * (rng.integers(1, 5) * x / width + phase * rng.integers(1, 3)))
    top = height * (0.35 + 0.12 * top)
    y = np.arange(height)[:, None]
    pixels = np.zeros((height, width, 4), np.uint8)
    for number, share in enumerate((0.0, 0.25, 0.5)):
        pixels[y >= top + (height - top) * share] = traits.colours[number]
    return pixels
