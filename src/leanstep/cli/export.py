"""``lean-step export``: a character in formats that games, build servers and other programs read."""

from __future__ import annotations

import json
from collections.abc import Callable
from enum import Enum
from pathlib import Path
from typing import TYPE_CHECKING

import typer

from leanstep.cli.documents import html_of, junit_of, sarif_of
from leanstep.core.defaults import TICKS
from leanstep.core.errors import LeanStepError

if TYPE_CHECKING:
    from leanstep.core.character.model import Character
    from leanstep.core.findings.report import Report


class Target(str, Enum):
    """What a character can be handed over as."""

    dot = "dot"
    graphml = "graphml"
    sarif = "sarif"
    junit = "junit"
    json = "json"
    html = "html"
    traces = "traces"
    apng = "apng"
    gif = "gif"
    strips = "strips"


PICTURES = {Target.apng: ".png", Target.gif: ".gif", Target.strips: ".strip.png"}
"""What makes a file of every clip."""


ENDINGS = {
    Target.dot: ".dot",
    Target.graphml: ".graphml",
    Target.sarif: ".sarif",
    Target.junit: ".junit.xml",
    Target.json: ".findings.json",
    Target.html: ".html",
}
OURS = b"Lean Step"
"""What stands near the beginning of everything that is written here."""
BEGINNING = 4096


def add_to(app: typer.Typer) -> None:
    """Register the command."""
    app.command(
        "export",
        epilog="Example:  lean-step export hero.leanstep --to dot --to sarif --out build.  "
        "Exit code 0: all was written; 2: something was not.",
    )(export)


def export(
    file: Path = typer.Argument(..., metavar="FILE", help="A character file."),
    to: list[Target] = typer.Option(..., "--to", help="What to write; more than once for several."),
    out: Path = typer.Option(Path("."), metavar="FOLDER", help="Where it goes; made where it is missing."),
    scale: int = typer.Option(
        1, min=1, max=64, metavar="TIMES", help="How large pictures are: every pixel so many times."
    ),
    force: bool = typer.Option(False, "--force", help="Write over files that were not written by this command."),
    play: int = typer.Option(TICKS, min=0, metavar="TICKS", help="How long a check searches by playing; 0: not."),
) -> None:
    """Hand a character over: its graph (dot, graphml), its findings (sarif, junit, json, html), its takes' traces, and its clips as
    moving pictures at true speed (apng, gif) or strips."""
    from leanstep.core.character.files import load
    from leanstep.core.character.storage import write_atomically
    from leanstep.core.findings.report import check_character

    character = load(file)
    judged = set(to) - {Target.traces, *PICTURES}
    report = check_character(character, file.parent, body_ticks=play) if judged else None
    made: dict[Path, bytes] = {}
    for target in dict.fromkeys(to):
        if target is Target.traces:
            made |= {out / f"{file.stem}.{name}.trace.csv": data for name, data in _traces(character).items()}
        elif target in PICTURES:
            made |= _pictures(file, character, target, out, scale)
        elif report is not None:
            made[out / f"{file.stem}{ENDINGS[target]}"] = _written(file, target, character, report)
    _refuse_foreign(made, force)
    try:
        out.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise LeanStepError(str(out), error.strerror or "it cannot be made", "Choose another folder.") from None
    for path, data in made.items():
        write_atomically(path, data)
        typer.echo(str(path))


def _refuse_foreign(made: dict[Path, bytes], force: bool) -> None:
    """Nothing is written over that somebody else wrote, unless that is asked for."""
    for path in made if not force else ():
        if path.suffix == ".csv" or not path.exists():
            continue
        try:
            with path.open("rb") as there:
                ours = OURS in there.read(BEGINNING)
        except OSError as error:
            raise LeanStepError(str(path), error.strerror or "it cannot be read", "Choose another folder.") from None
        if not ours:
            raise LeanStepError(
                str(path), "there is a file of this name that Lean Step did not write", "Move it, or say --force."
            )


def _pictures(file: Path, character: Character, target: Target, out: Path, scale: int) -> dict[Path, bytes]:
    """Every clip as a picture; by how much a GIF is out of time is said."""
    from leanstep.core.formats import moving

    sheets = moving.sheets_of(character, character.clips, file.parent)
    found = {}
    for clip in character.clips:
        shown = moving.moving(character, clip, sheets, scale)
        path = out / f"{file.stem}.{clip.name}{PICTURES[target]}"
        if target is Target.gif:
            found[path], late = moving.gif(shown)
            if late > 1:
                typer.echo(f"{path}: up to {late:.0f} ms out of time; a GIF counts in hundredths of a second", err=True)
        else:
            found[path] = moving.apng(shown) if target is Target.apng else moving.strip(shown)
    return found


def _traces(character: Character) -> dict[str, bytes]:
    from leanstep.core.graph.machine import compile_character
    from leanstep.core.rehearsal.takes import rehearse, trace_csv

    machine = compile_character(character)
    return {take.name: trace_csv(rehearse(machine, take)).encode() for take in character.takes}


def _written(file: Path, target: Target, character: Character, report: Report) -> bytes:
    """What is handed over in one file."""
    if target in _DOCUMENTS:
        return _DOCUMENTS[target]([(file.name, file, character, report)]).encode()
    return _WRITERS[target](character, report)


def _dot(character: Character, report: Report) -> bytes:
    from leanstep.core.formats.graphs import dot

    return dot(character, report).encode()


def _graphml(character: Character, report: Report) -> bytes:
    from leanstep.core.formats.graphs import graphml

    return graphml(character, report)


def _json(character: Character, report: Report) -> bytes:
    return json.dumps({"generator": OURS.decode(), **report.to_json()}, ensure_ascii=False, indent=1).encode()


_WRITERS: dict[Target, Callable[[Character, Report], bytes]] = {
    Target.dot: _dot,
    Target.graphml: _graphml,
    Target.json: _json,
}
_DOCUMENTS = {Target.sarif: sarif_of, Target.junit: junit_of, Target.html: html_of}
