"""The command ``lean-step``.

Commands load what they need when they run, so that help and version answer at once.
"""

from __future__ import annotations

import io
import sys

import typer

from leanstep import __version__
from leanstep.cli import check, compare, cover, cut, export, import_file, rehearse, report, schema, sweep
from leanstep.core.errors import LeanStepError

app = typer.Typer(
    name="lean-step",
    help="Check, rehearse and prepare characters without a window.",
    epilog="Examples:  lean-step check hero.leanstep  ·  lean-step rehearse hero.leanstep --take walk-and-jump  ·  "
    "lean-step cut hero.png --columns 8 --rows 4  ·  lean-step export hero.leanstep --to sarif",
    no_args_is_help=True,
    add_completion=True,
    pretty_exceptions_enable=False,
    rich_markup_mode=None,
)
for module in (check, rehearse, sweep, cover, compare, export, import_file, cut, report, schema):
    module.add_to(app)


def _version(asked: bool) -> None:
    if asked:
        typer.echo(f"lean-step {__version__}")
        raise typer.Exit


@app.callback()
def options(
    version: bool = typer.Option(False, "--version", callback=_version, is_eager=True, help="Print the version."),
) -> None:
    """Check, rehearse and prepare characters without a window."""


def main() -> None:
    """Run the command line; problems a person can mend end in one sentence and exit code 2."""
    for stream in (sys.stdout, sys.stderr):
        # a terminal that cannot show a letter shows another one instead
        if isinstance(stream, io.TextIOWrapper):
            stream.reconfigure(errors="replace")
    try:
        app()
    except LeanStepError as error:
        typer.echo(f"lean-step: {error}", err=True)
        sys.exit(2)
    except BrokenPipeError:
        sys.exit(2)


if __name__ == "__main__":
    main()
