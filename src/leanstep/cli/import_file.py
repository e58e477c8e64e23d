"""``lean-step import``: a state graph from another program as a new character."""

from __future__ import annotations

from pathlib import Path

import typer

from leanstep.core.errors import LeanStepError


def add_to(app: typer.Typer) -> None:
    """Register the command."""
    app.command(
        "import",
        epilog="Example:  lean-step import door.scxml --out door.leanstep.  "
        "Exit code 0: it was brought in, and what was left out was named; 2: it could not be.",
    )(run)


def run(
    file: Path = typer.Argument(..., metavar="FILE", help="An SCXML document."),
    out: Path | None = typer.Option(None, metavar="FILE", help="The new character file; NAME.leanstep unless said."),
    force: bool = typer.Option(False, "--force", help="Write over a file that is there."),
) -> None:
    """Bring a state graph in from W3C SCXML: states, parallel regions, events as pulses, conditions; what cannot be said is named."""
    from leanstep.core.character.files import save
    from leanstep.core.formats.scxml_in import load

    goal = out if out is not None else file.with_suffix(".leanstep")
    brought = load(file)
    if goal.exists() and not force:
        raise LeanStepError(str(goal), "there is a file of this name", "Say --out with another name, or --force.")
    save(goal, brought.character)
    for line in brought.left_out:
        typer.echo(f"{file}, {line}", err=True)
    typer.echo(str(goal))
