"""``lean-step rehearse``: run a take and print what happens."""

from __future__ import annotations

import json
from dataclasses import asdict
from enum import Enum
from pathlib import Path
from typing import TYPE_CHECKING

import typer

from leanstep.core.errors import LeanStepError

if TYPE_CHECKING:
    from leanstep.core.character.document import Character
    from leanstep.core.character.takes import Take
    from leanstep.core.graph.machine import Machine
    from leanstep.core.rehearsal.traces import Trace


class Format(str, Enum):
    """How a trace is printed."""

    csv = "csv"
    json = "json"


def add_to(app: typer.Typer) -> None:
    """Register the command."""
    app.command(
        "rehearse",
        epilog="Examples:  lean-step rehearse hero.leanstep --take jump  ·  "
        "lean-step rehearse hero.leanstep --take presses.csv --format json  ·  "
        "lean-step rehearse hero.leanstep --take jump --robust  ·  lean-step rehearse hero.leanstep --take jump --why",
    )(run)


def run(
    file: Path = typer.Argument(..., metavar="FILE", help="A character file."),
    take: str = typer.Option(..., metavar="NAME|take.csv|take.json", help="A take of the file, or a file with one."),
    format: Format = typer.Option(Format.csv, help="csv: a line a tick; json: one object."),
    robust: bool = typer.Option(
        False,
        "--robust",
        help="Instead, try other rates and every change up to 3 ticks early and late; print differences.",
    ),
    why: bool = typer.Option(
        False,
        "--why",
        help="Instead, every transition tried on each tick, with the parts of its condition: an object a line.",
    ),
) -> None:
    """Run a take and print its trace: states, stays, values, body and picture of every tick."""
    from leanstep.core.character.files import load
    from leanstep.core.rehearsal import engine_readiness
    from leanstep.core.rehearsal.second_figures import compile_in
    from leanstep.core.rehearsal.takes import rehearse, trace_csv, trace_json

    character = load(file)
    machine = compile_in(file.parent, character)
    wanted = _take(character, machine, take)
    if robust:
        _print_differences(character, wanted, format, file.parent)
        return
    engine_readiness.spare_compiling()
    trace = rehearse(machine, wanted)
    if why:
        _print_why(trace, wanted)
        return
    if format is Format.csv:
        typer.echo(trace_csv(trace), nl=False)
    else:
        typer.echo(trace_json(trace, take))


def _print_why(trace: Trace, take: Take) -> None:
    """For every tick and layer the transitions that were tried, each with the parts of its condition and their values."""
    from leanstep.core.rehearsal.answers import Answers

    answers, layers = Answers(trace, take), trace.machine.layers
    for tick in range(len(trace.steps)):
        for layer, table in enumerate(layers):
            tried = [
                {
                    "transition": way.name,
                    "true": way.true,
                    "untried": way.untried,
                    "parts": [{"says": part.words, "true": part.true, "values": part.values} for part in way.parts],
                }
                for way in answers.ways_tried(tick, layer)
            ]
            # they end with the one that was taken
            taken = tried[-1]["transition"] if trace.steps[tick].fired[layer] >= 0 else None
            state = table.states[answers.tried(tick, layer).states[layer]]
            row = {"tick": tick, "layer": table.name, "state": state, "taken": taken, "tried": tried}
            typer.echo(json.dumps(row, ensure_ascii=False))


def _print_differences(character: Character, take: Take, format: Format, folder: Path) -> None:
    from leanstep.core.rehearsal.robustness import differences

    found = list(differences(character, take, folder=folder))
    if format is Format.json:
        made = {
            "version": 1,
            "character": character.name,
            "take": take.name,
            "differences": [asdict(one) for one in found],
        }
        typer.echo(json.dumps(made, ensure_ascii=False))
    else:
        for one in found:
            typer.echo(f"{one.sentence}.")
        typer.echo(
            f"{take.name}: {len(found)} variants do otherwise."
            if found
            else f"{take.name}: every variant does the same."
        )


def _take(character: Character, machine: Machine, wanted: str) -> Take:
    from leanstep.core.character.storage import read_bytes
    from leanstep.core.conditions.checking import nearest
    from leanstep.core.rehearsal.takes import take_from_csv, take_from_json

    for one in character.takes:
        if one.name == wanted:
            return one
    if wanted.lower().endswith((".csv", ".json")):
        try:
            text = read_bytes(wanted).decode("utf-8-sig")
        except UnicodeDecodeError:
            raise LeanStepError(wanted, "it is not UTF-8 text", "Save it as CSV or JSON in UTF-8.") from None
        return (take_from_json if wanted.lower().endswith(".json") else take_from_csv)(text, wanted, machine)
    names = [one.name for one in character.takes]
    close = nearest(wanted, names)
    known = f"It has: {', '.join(names)}." if names else "It has none."
    raise LeanStepError(
        f"take {wanted!r}", "the character has no take of that name", f"Did you mean {close}?" if close else known
    )
