"""``lean-step compare``: what a game has logged beside what Lean Step does with the same inputs."""

from __future__ import annotations

import json
from dataclasses import asdict
from enum import Enum
from pathlib import Path

import typer

from leanstep.core.errors import LeanStepError

SURE = ("fits", "alike", "tried")
"""What is said of the situation that a log begins in."""


class Format(str, Enum):
    """How a comparison is printed."""

    text = "text"
    json = "json"


def add_to(app: typer.Typer) -> None:
    """Register the command."""
    app.command(
        "compare",
        epilog="Example:  lean-step compare hero.leanstep logged.csv.  The log has a column tick, one for each layer with the name of "
        "its state, and one for everything the game sets, as  lean-step rehearse  prints them.  "
        "Exit code 0: they do the same; 1: they differ; 2: the log cannot be read.",
    )(run)


def run(
    file: Path = typer.Argument(..., metavar="FILE", help="A character file."),
    trace: Path = typer.Argument(
        ...,
        metavar="TRACE",
        help="What the game has logged: CSV or JSON, every tick one after another, best from 0 on.",
    ),
    format: Format = typer.Option(Format.text, help="text for people; json: one object."),
) -> None:
    """Find the first tick on which a game does otherwise than its character, and say why and what would explain it."""
    from leanstep.core.character.files import load
    from leanstep.core.character.storage import read_bytes
    from leanstep.core.graph.compilation import compile_character
    from leanstep.core.rehearsal.comparing.difference import compare, summary
    from leanstep.core.rehearsal.comparing.logs import log_of
    from leanstep.core.rehearsal.comparing.situation_search import begun

    machine = compile_character(load(file))
    try:
        text = read_bytes(trace).decode("utf-8-sig")
    except UnicodeDecodeError:
        raise LeanStepError(str(trace), "it is not UTF-8 text", "Log CSV or JSON in UTF-8.") from None
    log = begun(machine, log_of(text, str(trace), machine))
    found = compare(machine, log)
    if format is Format.json:
        made = {
            "version": 1,
            "ticks": log.ticks,
            "begins": log.first,
            "searched": None if log.begins is None else {name: getattr(log.begins, name) for name in SURE},
            "not_compared": log.aside,
            "difference": None if found is None else asdict(found),
        }
        typer.echo(json.dumps(made, ensure_ascii=False))
    else:
        for line in summary(found, log):
            typer.echo(line)
    raise typer.Exit(0 if found is None else 1)
