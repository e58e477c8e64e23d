"""``lean-step schema``: the JSON Schemas of character files and of what is written for other programs."""

from __future__ import annotations

import json
from enum import Enum

import typer


class Kind(str, Enum):
    """What a schema is of."""

    character = "character"
    table = "table"
    atlas = "atlas"
    findings = "findings"
    trace = "trace"


def add_to(app: typer.Typer) -> None:
    """Register the command."""
    app.command("schema", epilog="Example:  lean-step schema > leanstep.schema.json")(run)


def run(
    of: Kind = typer.Option(
        Kind.character,
        help="character files, tables for games, indexes of atlases, findings of a check, traces of a rehearsal.",
    ),
) -> None:
    """Print the JSON Schema of character files, or of what is written for other programs."""
    from leanstep.core.formats.schemas import schema

    typer.echo(json.dumps(schema(of.value), indent=2))
