"""``lean-step cut``: cut an image into frames."""

from __future__ import annotations

import json
import re
from enum import Enum
from pathlib import Path
from typing import TYPE_CHECKING

import typer

if TYPE_CHECKING:
    from leanstep.core.character.model import Cut


class Format(str, Enum):
    """How frames are printed."""

    text = "text"
    json = "json"


def add_to(app: typer.Typer) -> None:
    """Register the command."""
    app.command(
        "cut",
        epilog="Examples:  lean-step cut hero.png --columns 8 --rows 4  ·  "
        "lean-step cut hero.png --size 64x64 --margin 1 --gap 2 --format json",
    )(run)


def run(
    image: Path = typer.Argument(..., metavar="IMAGE", help="A sheet image."),
    columns: int | None = typer.Option(None, min=1, help="How many cells side by side."),
    rows: int | None = typer.Option(None, min=1, help="How many rows of cells."),
    size: str | None = typer.Option(None, metavar="WxH", help="The size of a cell in pixels, for example 64x64."),
    margin: int = typer.Option(0, min=0, help="Pixels around all cells (with --size)."),
    gap: int = typer.Option(0, min=0, help="Pixels between cells (with --size)."),
    format: Format = typer.Option(Format.text, help="text or json."),
) -> None:
    """Cut an image by count or by size and list the frames with their foot points."""
    from leanstep.core.character.model import Sheet
    from leanstep.core.sheets.images import frames_of, read_image

    cut = _cut(columns, rows, size, margin, gap)
    pixels = read_image(image)
    frames = frames_of(Sheet(name=image.stem, image=image.name, cut=cut), pixels)
    if format is Format.json:
        listed = [
            {
                "frame": number,
                "x": frame.rect.x,
                "y": frame.rect.y,
                "width": frame.rect.width,
                "height": frame.rect.height,
                "foot": list(frame.foot),
                "empty": frame.empty,
            }
            for number, frame in enumerate(frames)
        ]
        size_of_image = [pixels.shape[1], pixels.shape[0]]
        typer.echo(json.dumps({"version": 1, "image": image.name, "size": size_of_image, "frames": listed}))
        return
    typer.echo(f"{image.name}: {len(frames)} frames of {frames[0].rect.width} × {frames[0].rect.height}")
    for number, frame in enumerate(frames):
        empty = "  (empty)" if frame.empty else ""
        typer.echo(
            f"{number:4}  x {frame.rect.x:4}  y {frame.rect.y:4}  foot {frame.foot[0]:g}, {frame.foot[1]:g}{empty}"
        )


def _cut(columns: int | None, rows: int | None, size: str | None, margin: int, gap: int) -> Cut:
    from leanstep.core.character.model import Cut

    if size is not None:
        if columns is not None or rows is not None:
            raise typer.BadParameter("give either --size or --columns and --rows, not both")
        match = re.fullmatch(r"(\d+)[x×](\d+)", size)
        if match is None or not int(match[1]) or not int(match[2]):
            raise typer.BadParameter(f"--size {size} is not WIDTHxHEIGHT, for example 64x64")
        return Cut(way="size", width=int(match[1]), height=int(match[2]), margin=margin, gap=gap)
    if columns is None or rows is None:
        raise typer.BadParameter("say how to cut: --columns C --rows R, or --size WxH")
    if margin or gap:
        raise typer.BadParameter("--margin and --gap go with --size")
    return Cut(way="count", columns=columns, rows=rows)
