"""``lean-step cut``: cut an image into frames."""

from __future__ import annotations

import json
import re
from enum import Enum
from pathlib import Path
from typing import TYPE_CHECKING

import typer

if TYPE_CHECKING:
    from leanstep.core.character.sheets import Cut


class Format(str, Enum):
    """How frames are printed."""

    text = "text"
    json = "json"


def add_to(app: typer.Typer) -> None:
    """Register the command."""
    app.command(
        "cut",
        epilog="Examples:  lean-step cut hero.png --suggest  ·  lean-step cut hero.png --columns 8 --rows 4  ·  "
        "lean-step cut hero.png --size 64x64 --margin 1 --gap 2,0 --format json  ·  lean-step cut hero.png --find",
    )(run)


def run(
    image: Path = typer.Argument(..., metavar="IMAGE", help="A sheet image."),
    suggest: bool = typer.Option(False, "--suggest", help="Say how the image could be cut, the best way first."),
    find: bool = typer.Option(False, "--find", help="Find the drawings: one tight rectangle each."),
    columns: int | None = typer.Option(None, min=1, help="How many cells side by side."),
    rows: int | None = typer.Option(None, min=1, help="How many rows of cells."),
    size: str | None = typer.Option(None, metavar="WxH", help="The size of a cell in pixels, for example 64x64."),
    margin: str = typer.Option("0", metavar="N[,N]", help="Pixels left of and above the cells (with --size)."),
    gap: str = typer.Option("0", metavar="N[,N]", help="Pixels between cells, across and down (with --size)."),
    speck: int | None = typer.Option(None, min=0, help="Drop what has fewer pixels (with --find)."),
    near: int | None = typer.Option(None, min=0, help="Join parts that are at most so many pixels away (with --find)."),
    format: Format = typer.Option(Format.text, help="text or json."),
) -> None:
    """Cut an image by count or by size and list the frames, or say how it could be cut."""
    if suggest or find:
        if (suggest and find) or size is not None or columns is not None or rows is not None:
            raise typer.BadParameter("--suggest and --find stand alone: they say what the cut could be")
        _suggest(image, format) if suggest else _find(image, speck, near, format)
        return
    from leanstep.core.character.sheets import Sheet
    from leanstep.core.sheets.images import frames_of
    from leanstep.core.sheets.reading import read_image

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


def _suggest(image: Path, format: Format) -> None:
    from leanstep.core.sheets.reading import read_image
    from leanstep.core.sheets.suggestion import GridSuggestion, suggestions

    pixels = read_image(image)
    found = suggestions(pixels)
    if format is Format.json:
        height, width = pixels.shape[:2]
        said = [one.to_json() for one in found]
        typer.echo(
            json.dumps({"version": 1, "image": image.name, "width": width, "height": height, "suggestions": said})
        )
        return
    if not found:
        typer.echo(f"{image.name}: nothing is drawn in it")
    for one in found:
        typer.echo(f"{one.confidence:4.0%}  {one.reason}")
        if isinstance(one, GridSuggestion):
            (left, top), (across, down) = one.margin, one.gap
            typer.echo(
                f"      lean-step cut {image} --size {one.cell[0]}x{one.cell[1]} --columns {one.columns} "
                f"--rows {one.rows} --margin {left},{top} --gap {across},{down}"
            )


def _find(image: Path, speck: int | None, near: int | None, format: Format) -> None:
    from leanstep.core.sheets.background import drawn
    from leanstep.core.sheets.drawings import found_rects
    from leanstep.core.sheets.reading import read_image

    rects = [[one.x, one.y, one.width, one.height] for one in found_rects(drawn(read_image(image)), speck, near)]
    if format is Format.json:
        typer.echo(json.dumps({"version": 1, "rects": rects, "order": "rows"}))
        return
    typer.echo(f"{image.name}: {len(rects)} drawings")
    for number, (x, y, width, height) in enumerate(rects):
        typer.echo(f"{number:4}  x {x:4}  y {y:4}  {width} × {height}")


def _cut(columns: int | None, rows: int | None, size: str | None, margin: str, gap: str) -> Cut:
    from leanstep.core.character.sheets import Cut

    if size is not None:
        match = re.fullmatch(r"(\d+)[x×](\d+)", size)
        if match is None or not int(match[1]) or not int(match[2]):
            raise typer.BadParameter(f"--size {size} is not WIDTHxHEIGHT, for example 64x64")
        return Cut(
            way="size",
            columns=columns or 0,
            rows=rows or 0,
            width=int(match[1]),
            height=int(match[2]),
            margin=_pixels(margin, "--margin"),
            gap=_pixels(gap, "--gap"),
        )
    if columns is None or rows is None:
        raise typer.BadParameter("say how to cut: --columns C --rows R, or --size WxH, or ask with --suggest")
    if margin != "0" or gap != "0":
        raise typer.BadParameter("--margin and --gap go with --size")
    return Cut(way="count", columns=columns, rows=rows)


def _pixels(text: str, option: str) -> tuple[int, int]:
    match = re.fullmatch(r"(\d{1,5})(?:,(\d{1,5}))?", text)
    if match is None:
        raise typer.BadParameter(f"{option} {text} is neither a number of pixels nor two like 2,1")
    return int(match[1]), int(match[2] or match[1])
