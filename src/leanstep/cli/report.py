"""``lean-step report``: findings as one HTML page."""

from __future__ import annotations

from pathlib import Path

import typer


def add_to(app: typer.Typer) -> None:
    """Register the command."""
    app.command("report", epilog="Example:  lean-step report hero.leanstep --out hero.html")(run)


def run(
    file: Path = typer.Argument(..., metavar="FILE", help="A character file."),
    out: Path = typer.Option(..., metavar="PAGE.html", help="Where the page goes."),
) -> None:
    """Check a character and write one self-contained page with findings and ribbons."""
    from leanstep.core.character.files import load
    from leanstep.core.character.storage import write_atomically
    from leanstep.core.findings.report import check_character
    from leanstep.core.formats.html import page

    character = load(file)
    report = check_character(character, file.parent)
    write_atomically(out, page(character, report, file.parent).encode())
    typer.echo(f"{out}: {len(report.findings)} findings")
