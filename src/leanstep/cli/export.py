"""``lean-step export``: a character in formats that games, build servers and other programs read."""

from __future__ import annotations

from pathlib import Path

import typer

from leanstep.core.defaults import TICKS
from leanstep.core.errors import LeanStepError


def add_to(app: typer.Typer) -> None:
    """Register the command."""
    app.command(
        "export",
        epilog="Example:  lean-step export hero.leanstep --to table --to players --to sarif --out build.  "
        "Exit code 0: all was written; 2: something was not.",
    )(export)


def export(
    file: Path = typer.Argument(..., metavar="FILE", help="A character file."),
    to: list[str] = typer.Option(
        [], "--to", metavar="WHAT", help="What to write; more than once for several; all: everything."
    ),
    out: Path = typer.Option(Path("."), metavar="FOLDER", help="Where it goes; made where it is missing."),
    scale: int = typer.Option(
        1, min=1, max=64, metavar="TIMES", help="How large pictures are: every pixel so many times."
    ),
    fixes: bool = typer.Option(False, "--fixes", help="SARIF: every repair there is as a fix; takes longer."),
    no_trim: bool = typer.Option(False, "--no-trim", help="Atlas: frames keep their clear rims."),
    padding: int = typer.Option(2, min=0, max=64, metavar="PIXELS", help="Atlas: clear pixels between frames."),
    extrude: int = typer.Option(
        0, min=0, max=16, metavar="PIXELS", help="Atlas: repeat the outermost pixels of frames."
    ),
    power_of_two: bool = typer.Option(False, "--power-of-two", help="Atlas: sides are powers of two."),
    rotate: bool = typer.Option(False, "--rotate", help="Atlas: frames may lie on their side."),
    largest: int = typer.Option(
        4096, min=64, max=16384, metavar="PIXELS", help="Atlas: the longest side of a picture."
    ),
    force: bool = typer.Option(False, "--force", help="Write over files that were not written by this command."),
    play: int = typer.Option(TICKS, min=0, metavar="TICKS", help="How long a check searches by playing; 0: not."),
    formats: bool = typer.Option(False, "--list", help="Say what there is, what for, and what it cannot hold."),
) -> None:
    """Hand a character over to games, build servers and other programs; --list says as what."""
    from leanstep.core.character.files import parse
    from leanstep.core.character.storage import read_bytes
    from leanstep.core.conditions.checking import nearest
    from leanstep.core.formats.atlas import Packing
    from leanstep.core.formats.handover import FORMATS, hand_over
    from leanstep.core.formats.handover_source import Source
    from leanstep.core.formats.written_files import write
    from leanstep.core.rehearsal import engine_readiness

    if formats:
        for one in FORMATS.values():
            typer.echo(f"{one.key:9} {one.title}: {one.purpose}\n          cannot hold: {one.lacks}")
        return
    wanted = list(FORMATS) if "all" in to else to
    for key in wanted:
        if key not in FORMATS:
            close = nearest(key, list(FORMATS))
            known = f"There are: {', '.join(FORMATS)}."
            raise LeanStepError(
                f"--to {key}", "there is nothing of that name", f"Did you mean {close}?" if close else known
            )
    if not wanted:
        raise LeanStepError("export", "it is not said as what", f"Say --to with one of: {', '.join(FORMATS)}, all.")
    if not any(FORMATS[key].judged for key in wanted):
        engine_readiness.spare_compiling()
    packing = Packing(not no_trim, padding, extrude, power_of_two, rotate, largest)
    data = read_bytes(file)
    source = Source(file, parse(data, file.name), scale, play, packing, fixes, data.decode("utf-8-sig"))
    made = {name: data for _, files in hand_over(source, wanted) for name, data in files.items()}
    for path in write(made, out, force):
        typer.echo(str(path))
    for note in source.notes:
        typer.echo(f"lean-step: {note}", err=True)
