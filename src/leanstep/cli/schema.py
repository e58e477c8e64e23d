"""``lean-step schema``: the JSON Schema of character files."""

from __future__ import annotations

import json

import typer


def add_to(app: typer.Typer) -> None:
    """Register the command."""
    app.command("schema", epilog="Example:  lean-step schema > leanstep.schema.json")(run)


def run() -> None:
    """Print the JSON Schema of character files."""
    from leanstep.core.character import files

    typer.echo(json.dumps(files.schema(), indent=2))
