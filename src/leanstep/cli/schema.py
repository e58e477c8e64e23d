"""``lean-step schema``: the JSON Schemas of character files, tables and atlases."""

from __future__ import annotations

import json
from enum import Enum

import typer


class Kind(str, Enum):
    """What a schema is of."""

    character = "character"
    table = "table"
    atlas = "atlas"


def add_to(app: typer.Typer) -> None:
    """Register the command."""
    app.command("schema", epilog="Example:  lean-step schema > leanstep.schema.json")(run)


def run(
    of: Kind = typer.Option(Kind.character, help="character files, tables for games, or indexes of atlases."),
) -> None:
    """Print the JSON Schema of character files, or of what is handed over."""
    from leanstep.core.character import schema
    from leanstep.core.formats import atlas, table

    schemas = {Kind.character: schema.schema, Kind.table: table.schema, Kind.atlas: atlas.schema}
    typer.echo(json.dumps(schemas[of](), indent=2))
