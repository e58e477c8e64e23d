"""Sheets of every kind that people bring, drawn with known cells.

``drawn(kind, seed)`` makes one: its image, and where each drawing and its cell are.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np
from PIL import Image, ImageDraw

from tests.support import drawn_figures as figures
from tests.support.drawn_figures import Pixels, Traits

Box = tuple[int, int, int, int]


@dataclass
class Drawn:
    """A sheet: pixels (height × width × 4), the true cell of every drawing, and what is drawn in it (x, y, width, height);
    no cells where drawings lie loose."""

    kind: str
    pixels: Pixels
    cells: list[Box] = field(default_factory=list)
    drawings: list[Box] = field(default_factory=list)
    image: Image.Image | None = None

    def picture(self) -> Image.Image:
        """The image as it would be saved."""
        return self.image or Image.fromarray(self.pixels)


@dataclass
class Grid:
    """The layout of a sheet."""

    columns: int
    rows: int
    width: int
    height: int
    margin: tuple[int, int] = (0, 0)
    gap: tuple[int, int] = (0, 0)
    over: tuple[int, int] = (0, 0)

    def cell(self, column: int, row: int) -> Box:
        return (
            self.margin[0] + column * (self.width + self.gap[0]),
            self.margin[1] + row * (self.height + self.gap[1]),
            self.width,
            self.height,
        )

    def size(self, symmetric: bool = True) -> tuple[int, int]:
        """Width and height of the whole."""
        counts, cells, twice = (self.columns, self.rows), (self.width, self.height), 2 if symmetric else 1
        x, y = (
            twice * self.margin[at] + counts[at] * (cells[at] + self.gap[at]) - self.gap[at] + self.over[at]
            for at in (0, 1)
        )
        return x, y


SIZES = (16, 24, 32, 32, 48, 48, 64, 64, 80, 96, 128)


def layout(pick: np.random.Generator, columns: tuple[int, int] = (3, 10), rows: tuple[int, int] = (1, 6)) -> Grid:
    """A grid of a usual size, mostly."""
    side = int(pick.choice(SIZES)) if pick.random() < 0.75 else int(pick.integers(14, 120))
    return Grid(int(pick.integers(*columns, endpoint=True)), int(pick.integers(*rows, endpoint=True)), side, side)


def bounds(pixels: Pixels) -> Box | None:
    """What is drawn of some pixels."""
    seen = pixels[:, :, 3] >= 8
    x, y = np.flatnonzero(seen.any(axis=0)), np.flatnonzero(seen.any(axis=1))
    return (int(x[0]), int(y[0]), int(x[-1] - x[0] + 1), int(y[-1] - y[0] + 1)) if x.size else None


def paste(sheet: Pixels, picture: Pixels, left: int, top: int) -> Box | None:
    """Lay a picture over a sheet, as far as it fits; where it is drawn there."""
    high, wide = picture.shape[:2]
    x0, y0 = max(left, 0), max(top, 0)
    x1, y1 = min(left + wide, sheet.shape[1]), min(top + high, sheet.shape[0])
    if x1 <= x0 or y1 <= y0:
        return None
    part = picture[y0 - top : y1 - top, x0 - left : x1 - left]
    under = sheet[y0:y1, x0:x1]
    share = part[:, :, 3:].astype(float) / 255
    mixed = part[:, :, :3] * share + under[:, :, :3] * (1 - share)
    alpha = part[:, :, 3:] + under[:, :, 3:] * (1 - share)
    under[:] = np.concatenate([np.where(share > 0, mixed, under[:, :, :3]), alpha], axis=2).round().astype(np.uint8)
    found = bounds(part)
    return (x0 + found[0], y0 + found[1], found[2], found[3]) if found else None


Change = Callable[[Pixels, int, int], Pixels]


def filled(
    pick: np.random.Generator,
    grid: Grid,
    kind: str,
    counts: list[int] | None = None,
    fill: tuple[float, float] = (0.7, 0.98),
    change: Change | None = None,
    wander: int = 1,
    symmetric: bool = True,
    drawer: figures.Drawer | None = None,
) -> Drawn:
    """A sheet with a figure of its own in every cell, as many a row as ``counts`` says."""
    wide, high = grid.size(symmetric)
    sheet = Drawn(kind, np.zeros((high, wide, 4), np.uint8))
    side = min(grid.width, grid.height)
    size = max(8, int(side * pick.uniform(*fill)))
    one_kind = drawer is not None
    drawer, traits = drawer or figures.FIGURES[pick.integers(len(figures.FIGURES))], Traits.of(pick)
    stand = int(pick.integers(0, max(1, (grid.height - size) // 2 + 1)))
    for row in range(grid.rows):
        if pick.random() < 0.3 and not one_kind:
            drawer = figures.FIGURES[pick.integers(len(figures.FIGURES))]
        count = counts[row] if counts else grid.columns
        turned = bool(pick.random() < 0.5)
        for column in range(count):
            picture = drawer(size, column / max(1, count), traits)
            picture = picture[:, ::-1] if turned else picture
            if change is not None:
                picture = change(picture, column, row)
            x, y, *_ = grid.cell(column, row)
            left = x + (grid.width - picture.shape[1]) // 2 + int(pick.integers(-wander, wander + 1))
            top = y + grid.height - picture.shape[0] - stand
            found = paste(sheet.pixels, picture, left, top)
            if found:
                sheet.cells.append(grid.cell(column, row))
                sheet.drawings.append(found)
    return sheet


def strip(pick: np.random.Generator) -> Drawn:
    grid = layout(pick, (2, 14), (1, 1))
    if pick.random() < 0.25:
        grid.columns, grid.rows = 1, int(pick.integers(2, 9))
    return filled(pick, grid, "strip")


def directions(pick: np.random.Generator) -> Drawn:
    grid = layout(pick, (4, 10), (2, 8))
    counts = [int(pick.integers(2, grid.columns, endpoint=True)) for _ in range(grid.rows)]
    counts[int(pick.integers(grid.rows))] = grid.columns
    return filled(pick, grid, "directions", counts)


def overhanging(pick: np.random.Generator) -> Drawn:
    grid = layout(pick, (3, 9), (1, 5))
    reach = max(2, grid.width // 12)

    def change(picture: Pixels, column: int, row: int) -> Pixels:
        if pick.random() > 0.25:
            return picture
        wide = np.zeros((picture.shape[0], grid.width + 2 * reach, 4), np.uint8)
        paste(wide, picture, (wide.shape[1] - picture.shape[1]) // 2, 0)
        y = int(picture.shape[0] * pick.uniform(0.3, 0.8))
        start = 0 if pick.random() < 0.5 else wide.shape[1] // 2
        wide[y : y + max(1, grid.width // 24), start : start + wide.shape[1] // 2] = (90, 60, 30, 255)
        return wide

    return filled(pick, grid, "overhanging", fill=(0.85, 1.0), change=change, wander=0)


def touching(pick: np.random.Generator) -> Drawn:
    return filled(pick, layout(pick, (3, 9), (1, 5)), "touching", fill=(0.97, 1.0), wander=1)


def tail(pick: np.random.Generator) -> Drawn:
    grid = layout(pick, (4, 9), (2, 6))
    missing = int(pick.integers(1, grid.columns))
    return filled(pick, grid, "tail", [grid.columns] * (grid.rows - 1) + [grid.columns - missing])


def oblong(pick: np.random.Generator) -> Drawn:
    grid = layout(pick)
    if pick.random() < 0.5:
        grid.height = round(grid.width * pick.choice([1.25, 1.5, 2.0]))
    else:
        grid.width = round(grid.height * pick.choice([1.25, 1.5, 2.0]))
    return filled(pick, grid, "oblong")


def keyed(pick: np.random.Generator) -> Drawn:
    sheet = filled(pick, layout(pick), "keyed")
    hard = sheet.pixels.copy()
    drawn = hard[:, :, 3] >= 128
    hard[~drawn] = (255, 0, 255, 255)
    hard[:, :, 3] = 255
    image = Image.fromarray(hard[:, :, :3]).quantize(64, dither=Image.Dither.NONE)
    if pick.random() < 0.6:
        key = int(np.bincount(np.asarray(image)[~drawn].ravel()).argmax())
        image.info["transparency"] = key
    sheet.image, sheet.pixels = image, hard
    return sheet


def opaque(pick: np.random.Generator) -> Drawn:
    sheet = filled(pick, layout(pick), "opaque")
    ground = pick.choice([[255, 0, 255], [255, 255, 255], [0, 128, 0], [96, 160, 220], [30, 30, 40]])
    noise = int(pick.choice([0, 0, 3, 8]))
    return on_ground(sheet, ground, noise, pick)


def on_ground(sheet: Drawn, ground: object, noise: int, pick: np.random.Generator) -> Drawn:
    """The same drawings on an opaque ground."""
    high, wide = sheet.pixels.shape[:2]
    under = np.full((high, wide, 4), 255, np.uint8)
    grain = pick.integers(-noise, noise + 1, (high, wide, 3)) if noise else 0
    under[:, :, :3] = np.clip(np.array(ground) + grain, 0, 255)
    share = sheet.pixels[:, :, 3:] / 255
    under[:, :, :3] = (sheet.pixels[:, :, :3] * share + under[:, :, :3] * (1 - share)).round()
    sheet.pixels = under
    return sheet


def labelled(pick: np.random.Generator) -> Drawn:
    grid = layout(pick, (4, 9), (1, 5))
    if grid.width < 24:
        grid.width = grid.height = 32
    head = int(pick.choice([12, 16, 20, 24]))
    grid.margin = (0, head)
    sheet = filled(pick, grid, "labelled", symmetric=False)
    drawing = ImageDraw.Draw(image := Image.fromarray(sheet.pixels))
    words = " ".join("".join(chr(97 + pick.integers(26)) for _ in range(pick.integers(3, 8))) for _ in range(3))
    drawing.text((int(pick.integers(2, 12)), (head - 11) // 2), words, fill=(20, 20, 20, 255))
    sheet.pixels = np.asarray(image).copy()
    return sheet


def specked(pick: np.random.Generator) -> Drawn:
    sheet = filled(pick, layout(pick), "specked")
    high, wide = sheet.pixels.shape[:2]
    for _ in range(int(pick.integers(3, 40))):
        x, y, size = int(pick.integers(wide)), int(pick.integers(high)), int(pick.integers(1, 3))
        sheet.pixels[y : y + size, x : x + size] = (*pick.integers(0, 256, 3), 255)
    return sheet


def shadowed(pick: np.random.Generator) -> Drawn:
    strength = int(pick.integers(40, 120))

    def change(picture: Pixels, column: int, row: int) -> Pixels:
        size = picture.shape[0]
        y, x = np.mgrid[0:size, 0:size]
        far = ((x - size / 2) / (size * 0.42)) ** 2 + ((y - size * 0.93) / (size * 0.08)) ** 2
        under = np.zeros_like(picture)
        under[:, :, 3] = np.clip(strength * (1.3 - far), 0, strength)
        paste(under, picture, 0, 0)
        return under

    return filled(pick, layout(pick), "shadowed", fill=(0.85, 1.0), change=change)


def detached(pick: np.random.Generator) -> Drawn:
    grid = layout(pick, (3, 9), (1, 5))

    def change(picture: Pixels, column: int, row: int) -> Pixels:
        wide = np.zeros((grid.height, grid.width, 4), np.uint8)
        paste(wide, picture, int(grid.width * 0.02), grid.height - picture.shape[0])
        if pick.random() < 0.6:
            part = max(2, grid.width // 10)
            x = int(grid.width * pick.uniform(0.72, 0.95)) - part // 2
            y = int(grid.height * pick.uniform(0.1, 0.7))
            wide[y : y + part, x : min(grid.width, x + part)] = (250, 200, 60, 255)
        return wide

    return filled(pick, grid, "detached", fill=(0.6, 0.75), change=change, wander=0)


def edge_to_edge(pick: np.random.Generator) -> Drawn:
    grid = layout(pick, (3, 10), (1, 4))
    if grid.width < 16:
        grid.width = grid.height = 16
    drawer = figures.water if pick.random() < 0.5 else figures.fire
    return full(pick, grid, "edge-to-edge", drawer)


def same(pick: np.random.Generator) -> Drawn:
    """The same figure in every cell, but for a breath."""
    grid = layout(pick, (2, 10), (1, 3))
    drawer, traits = figures.FIGURES[pick.integers(len(figures.FIGURES))], Traits.of(pick)
    size = max(8, int(grid.width * pick.uniform(0.6, 0.98)))
    picture = drawer(size, 0.2, traits)
    shape, at = picture.shape[0], picture.shape[0] // 2

    def change(_: Pixels, column: int, row: int) -> Pixels:
        breathed = picture.copy()
        if column % 2:
            breathed[1 : at + 1] = picture[:at]
            breathed[0] = 0
        return breathed[:shape]

    return filled(pick, grid, "same", change=change, wander=0)


def spaced(pick: np.random.Generator) -> Drawn:
    grid = layout(pick, (3, 9), (1, 6))
    gap = int(pick.choice([1, 1, 2, 2, 4, 8]))
    grid.gap = (gap, gap)
    grid.margin = (gap, gap) if pick.random() < 0.5 else (0, 0)
    return filled(pick, grid, "spaced", fill=(0.85, 1.0))


def remainder(pick: np.random.Generator) -> Drawn:
    grid = layout(pick, (3, 9), (1, 5))
    grid.over = (int(pick.integers(1, grid.width // 2)), int(pick.integers(0, grid.height // 2)))
    return filled(pick, grid, "remainder")


def airy(pick: np.random.Generator) -> Drawn:
    """One row of drawings with empty rows inside."""
    grid = layout(pick, (3, 12), (1, 1))
    if grid.width < 24:
        grid.width = grid.height = 32
    drawer = figures.AIRY[pick.integers(len(figures.AIRY))]
    return filled(pick, grid, "airy", fill=(0.8, 1.0), drawer=drawer)


def uneven(pick: np.random.Generator) -> Drawn:
    """One row of equal cells, some drawings of which are much wider than others."""
    grid = layout(pick, (3, 10), (1, 1))
    if pick.random() < 0.6:
        grid.width = int(grid.height * pick.uniform(1.0, 2.0))
    widest, narrow = pick.uniform(0.85, 1.0), pick.uniform(0.2, 0.4)
    shares = [widest if pick.random() < 0.4 else narrow for _ in range(grid.columns)]
    shares[int(pick.integers(grid.columns))] = widest
    reach = max(1, grid.height // 16)

    def change(picture: Pixels, column: int, row: int) -> Pixels:
        wide = np.zeros((picture.shape[0], grid.width, 4), np.uint8)
        paste(wide, picture, (grid.width - picture.shape[1]) // 2, 0)
        long, y = int(grid.width * shares[column]), int(picture.shape[0] * 0.55)
        start = (grid.width - long) // 2
        wide[y : y + reach, start : start + long] = (200, 180, 90, 255)
        return wide

    return filled(pick, grid, "uneven", fill=(0.5, 0.8), change=change, wander=0)


def seamless(pick: np.random.Generator) -> Drawn:
    """Full cells whose pictures go on into each other, in one row or a few."""
    grid = layout(pick, (2, 10), (1, 2))
    if grid.width < 16:
        grid.width = grid.height = 16
    if pick.random() < 0.4:
        # cells that are no squares are told by their seams in a long row
        grid.height, grid.rows = int(grid.width * pick.choice([0.5, 1.5, 2.0])), 1
        grid.columns = max(4, grid.columns)
    drawer = figures.OPAQUE[pick.integers(len(figures.OPAQUE))]
    return full(pick, grid, "seamless", drawer)


def full(pick: np.random.Generator, grid: Grid, kind: str, drawer: Callable[..., Pixels]) -> Drawn:
    """A sheet whose cells are drawn to their edges."""
    wide, high = grid.size()
    sheet = Drawn(kind, np.zeros((high, wide, 4), np.uint8))
    for row in range(grid.rows):
        for column, picture in enumerate(moving(pick, grid, drawer)):
            x, y, *_ = grid.cell(column, row)
            found = paste(sheet.pixels, picture, x, y)
            assert found
            sheet.cells.append(grid.cell(column, row))
            sheet.drawings.append(found)
    return sheet


def moving(pick: np.random.Generator, grid: Grid, drawer: Callable[..., Pixels]) -> list[Pixels]:
    """A row of pictures that are not all alike: a belt that is a whole bar further in each picture stands."""
    while True:
        traits = Traits.of(pick)
        row = [drawer(grid.width, grid.height, column / grid.columns, traits) for column in range(grid.columns)]
        if len({picture.tobytes() for picture in row}) > 1:
            return row


def unusual(pick: np.random.Generator) -> Drawn:
    """Cells of a size that nobody would guess, which divides the image exactly."""
    grid = layout(pick, (3, 10), (1, 4))
    grid.width = int(pick.integers(50, 220))
    grid.height = grid.width if pick.random() < 0.5 else int(pick.integers(50, 220))
    return filled(pick, grid, "unusual", fill=(0.6, 0.95))


def paired(pick: np.random.Generator) -> Drawn:
    """Few large cells, whose drawings are in two halves with room between them."""
    side = int(pick.choice((32, 48, 64, 96)))
    grid = Grid(int(pick.integers(2, 5)), int(pick.integers(2, 4)), side, side)
    inner = int(grid.width * pick.uniform(0.08, 0.2))

    def change(picture: Pixels, column: int, row: int) -> Pixels:
        seen = bounds(picture)
        assert seen
        # nearer to each other than to the next drawing
        most = max(4, int((grid.width - 2.4 * inner) / 2))
        small = picture[:, seen[0] : seen[0] + min(seen[2], most)]
        wide = np.zeros((picture.shape[0], grid.width, 4), np.uint8)
        paste(wide, small, (grid.width - inner) // 2 - small.shape[1], 0)
        paste(wide, small[:, ::-1], (grid.width + inner) // 2, 0)
        return wide

    return filled(pick, grid, "paired", fill=(0.6, 0.9), change=change, wander=0)


def ruled(pick: np.random.Generator) -> Drawn:
    """A margin unlike the gap, on a coloured ground."""
    grid = layout(pick, (3, 9), (1, 5))
    grid.width = grid.height = int(pick.choice(SIZES))
    margin, gap = int(pick.integers(2, 8)), int(pick.choice([1, 1, 2, 3]))
    grid.margin, grid.gap = (margin, margin), (gap, gap)
    sheet = filled(pick, grid, "ruled", fill=(0.8, 1.0))
    ground = pick.choice([[255, 0, 255], [255, 255, 255], [0, 128, 0], [96, 160, 220]])
    return on_ground(sheet, ground, 0, pick)


GRIDS: dict[str, Callable[[np.random.Generator], Drawn]] = {
    "strip": strip,
    "directions": directions,
    "overhanging": overhanging,
    "touching": touching,
    "tail": tail,
    "oblong": oblong,
    "keyed": keyed,
    "opaque": opaque,
    "labelled": labelled,
    "specked": specked,
    "shadowed": shadowed,
    "detached": detached,
    "edge-to-edge": edge_to_edge,
    "same": same,
    "spaced": spaced,
    "remainder": remainder,
    "airy": airy,
    "uneven": uneven,
    "seamless": seamless,
    "unusual": unusual,
    "paired": paired,
    "ruled": ruled,
}
"""Kinds of sheets whose cells lie in a grid."""


def packed(pick: np.random.Generator) -> Drawn:
    """Drawings of different sizes, loosely in rows of different heights."""
    wide, count = int(pick.integers(200, 520)), int(pick.integers(6, 40))
    space = int(pick.integers(2, 7))
    placed: list[tuple[Pixels, int, int]] = []
    x, y, deep = space, space, 0
    for _ in range(count):
        picture = figures.FIGURES[pick.integers(len(figures.FIGURES))](
            int(pick.integers(16, 72)), pick.random(), Traits.of(pick)
        )
        found = bounds(picture)
        assert found
        picture = picture[found[1] : found[1] + found[3], found[0] : found[0] + found[2]]
        if x + picture.shape[1] + space > wide:
            x, y, deep = space, y + deep + space, 0
        placed.append((picture, x, y))
        x, deep = x + picture.shape[1] + space + int(pick.integers(0, 9)), max(deep, picture.shape[0])
    sheet = Drawn("packed", np.zeros((y + deep + space, wide, 4), np.uint8))
    for picture, left, top in placed:
        found = paste(sheet.pixels, picture, left, top)
        assert found
        sheet.drawings.append(found)
    if pick.random() < 0.3:
        on_ground(sheet, [255, 0, 255], 0, pick)
    return sheet


def drawn(kind: str, seed: int) -> Drawn:
    """A sheet of a kind."""
    pick = np.random.default_rng([seed, sum(map(ord, kind))])
    return packed(pick) if kind == "packed" else GRIDS[kind](pick)
