"""``lean-step cover``: how much of a character its takes cover."""

from __future__ import annotations

import json
from enum import Enum
from pathlib import Path

import typer


class Format(str, Enum):
    """How it is printed."""

    text = "text"
    json = "json"
    junit = "junit"


def add_to(app: typer.Typer) -> None:
    """Register the command."""
    app.command(
        "cover",
        epilog="Example:  lean-step cover hero.leanstep --fail-under 80.  "
        "Exit code 0: covered as far as asked; 1: it is not; 2: the file could not be opened.",
    )(run)


def run(
    file: Path = typer.Argument(..., metavar="FILE", help="A character file."),
    fail_under: float = typer.Option(
        0.0, "--fail-under", min=0.0, max=100.0, metavar="PERCENT", help="Exit with 1 when less than this is covered."
    ),
    format: Format = typer.Option(
        Format.text, help="text for people; json: one object; junit: cases for a build server."
    ),
    make: bool = typer.Option(
        False,
        "--make",
        help="Find takes by playing for states, transitions and parts of conditions that are left out; print them.",
    ),
    write: bool = typer.Option(False, "--write", help="With --make: add these takes to the file."),
) -> None:
    """Tell which states, transitions, marks and parts of conditions the takes of a character cover, and which they do not."""
    from msgspec.structs import replace

    from leanstep.core.character.files import load, save
    from leanstep.core.findings.feasible import leave_out_impossible
    from leanstep.core.findings.report import check_character
    from leanstep.core.formats.junit import coverage_junit
    from leanstep.core.proof.explore.covering import takes_for_the_rest
    from leanstep.core.rehearsal.coverage import coverage
    from leanstep.core.rehearsal.second_figures import compile_in

    character = load(file)
    found = coverage(compile_in(file.parent, character), character.takes)
    leave_out_impossible(found, check_character(character, file.parent))
    if make:
        rest = takes_for_the_rest(found)
        for take in rest.takes:
            typer.echo(f"  made take {take.name}, {take.ticks} ticks.", err=True)
        for sentence in rest.left:
            typer.echo(f"  left: {sentence}.", err=True)
        if write and rest.takes:
            save(file, replace(character, takes=(*character.takes, *rest.takes)))
        found.play(rest.takes)
    if format is Format.json:
        typer.echo(json.dumps(found.to_json(), ensure_ascii=False))
    elif format is Format.junit:
        typer.echo(coverage_junit(file.name, found, fail_under), nl=False)
    else:
        for sentence in found.missing():
            typer.echo(f"  {sentence}.")
        for name in found.skipped:
            typer.echo(f"  take {name} cannot be played, and covers nothing.")
        parts = ", ".join(f"{done} of {whole} {name}" for name, (done, whole) in found.counted.items())
        typer.echo(f"{character.name}: {found.percent:.1f} % covered: {parts} (each part of a condition both ways).")
    if found.percent < fail_under:
        raise typer.Exit(1)
