"""``lean-step sweep``: play very many generated takes, and tell what they show."""

from __future__ import annotations

import json
import sys
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from enum import Enum
from functools import lru_cache
from pathlib import Path
from typing import TYPE_CHECKING

import typer

from leanstep.launching import processes

if TYPE_CHECKING:
    from leanstep.core.graph.machine import Machine
    from leanstep.core.rehearsal.sweeping import Key, Seen, Sweep

Task = tuple[Path, int, int, int, int]
"""A lot: the file, the seed, the numbers of its takes, and their ticks."""


class Format(str, Enum):
    """How a sweep is printed."""

    text = "text"
    json = "json"


class FailOn(str, Enum):
    """What makes a sweep fail."""

    expectation = "expectation"
    flicker = "flicker"
    never = "never"


COUNTS = {
    FailOn.expectation: ("expectation",),
    FailOn.flicker: ("expectation", "flicker"),
    FailOn.never: ("expectation", "flicker", "never"),
}
"""What counts, the gravest first."""


def add_to(app: typer.Typer) -> None:
    """Register the command."""
    app.command(
        "sweep",
        epilog="Example:  lean-step sweep hero.leanstep --takes 5000 --seed 7 --jobs 4.  "
        "Exit code 0: nothing that counts (--fail-on); 1: something did; 2: the file could not be opened.",
    )(run)


def run(
    file: Path = typer.Argument(..., metavar="FILE", help="A character file."),
    takes: int = typer.Option(1000, min=1, metavar="N", help="How many takes are made up and played."),
    seed: int = typer.Option(1, metavar="S", help="Another one makes up others; the same the same."),
    ticks: int = typer.Option(600, min=1, max=100_000, metavar="TICKS", help="How long a take is at most."),
    jobs: int = typer.Option(1, min=1, max=256, metavar="N", help="On how many processes they are played."),
    cluster: str = typer.Option("", metavar="ADDRESS", help="On the workers of a Dask cluster instead."),
    format: Format = typer.Option(Format.text, help="text for people; json: one object with the takes."),
    fail_on: FailOn = typer.Option(
        FailOn.expectation,
        help="What makes exit code 1: a broken expectation, a flicker as well, or a state never seen as well.",
    ),
    keep: bool = typer.Option(
        False, "--keep", help="Put the takes that show a flicker or a broken expectation into the character's file."
    ),
) -> None:
    """Mash buttons, let hands wander, do everything in every state; tell flickers, broken expectations and states never seen."""
    from leanstep.core.character.files import plain
    from leanstep.core.rehearsal.sweeping import Sweep, lots, never_seen, shorter, take_of

    machine = _machine(file.absolute())
    tasks: list[Task] = [(file.absolute(), seed, begin, end, ticks) for begin, end in lots(takes)]
    found = Sweep()
    for number, part in enumerate(_played(tasks, jobs, cluster), 1):
        found.add(part)
        if sys.stderr.isatty():
            typer.echo(
                f"\r\x1b[K{found.takes} of {takes} takes …" if number < len(tasks) else "\r\x1b[K", err=True, nl=False
            )
    missing = never_seen(machine, found)
    shown = {
        key: shorter(machine, key, one)
        for key, one in sorted(found.seen.items())
        if format is Format.json or key[0] != "state"
    }
    if format is Format.json:
        made = {
            "version": 1,
            "character": machine.character.name,
            "takes": found.takes,
            "ticks": found.ticks,
            "seed": seed,
            "found": [
                {
                    "what": key[0],
                    "layer": key[1],
                    "state": key[2],
                    "ticks": one.ticks,
                    "take": plain(take_of(machine, key, one)),
                }
                for key, one in shown.items()
            ],
            "never": [{"layer": layer, "state": state} for layer, state in missing],
        }
        typer.echo(json.dumps(made, ensure_ascii=False))
    else:
        _tell(machine, found, missing, shown)
    if keep:
        _keep(file, machine, {key: one for key, one in shown.items() if key[0] != "state"})
    counts = {kind for kind, _, _ in found.seen if kind != "state"} | ({"never"} if missing else set())
    raise typer.Exit(1 if counts & set(COUNTS[fail_on]) else 0)


def _keep(file: Path, machine: Machine, shown: dict[Key, Seen]) -> None:
    """Put takes into a file; those of an earlier sweep that show the same are replaced."""
    from msgspec.structs import replace

    from leanstep.core.character.edits import Edit
    from leanstep.core.character.history import History
    from leanstep.core.rehearsal.sweeping import take_of

    made = [replace(take, name=f"sweep: {take.name}") for take in (take_of(machine, *one) for one in shown.items())]
    names = {take.name for take in made}
    history = History.open(file)
    rest = [take for take in history.document.takes if take.name not in names]
    if made and history.apply(Edit("kept takes of a sweep", lambda document: replace(document, takes=(*rest, *made)))):
        history.save(file)
    typer.echo(
        f"{len(made)} takes are in {file.name}: play one with  lean-step rehearse {file.name} --take NAME", err=True
    )


def _tell(machine: Machine, found: Sweep, missing: list[tuple[str, str]], shown: dict[Key, Seen]) -> None:
    from leanstep.core.formats.sarif import step_words
    from leanstep.core.rehearsal.sweeping import take_of
    from leanstep.core.wording import counted

    window = f"{machine.character.flicker_window:g} s"
    words = {
        "flicker": f"{{state}} of {{layer}} is left and entered again within {window}",
        "expectation": "{state} of {layer} is shown while what it expects is false",
    }
    for (kind, layer, state), one in shown.items():
        take = take_of(machine, (kind, layer, state), one)
        typer.echo(f"{words[kind].format(layer=layer, state=state)}, on tick {one.ticks - 1} of take {one.number}:")
        typer.echo(f"  {'; '.join(step_words(change) for change in take.changes[:8]) or 'nothing is done'}")
    for layer, state in missing:
        typer.echo(f"{state} of {layer} was never seen.")
    seen = sum(kind == "state" for kind, _, _ in found.seen)
    typer.echo(
        f"{counted(found.takes, 'take')}, {counted(found.ticks, 'tick')}: {counted(seen, 'state')} entered, "
        f"{len(missing)} never seen, {counted(sum(key[0] == 'flicker' for key in shown), 'flicker')}, "
        f"{counted(sum(key[0] == 'expectation' for key in shown), 'broken expectation')}."
    )


def _played(tasks: list[Task], jobs: int, cluster: str) -> Iterator[Sweep]:
    """Lots played here, on processes, or on a cluster."""
    if cluster:
        from leanstep.cli.clusters import client_of, results_of
        from leanstep.core.errors import LeanStepError

        def lost(task: Task, error: str) -> Sweep:
            way_out = "Give the workers more memory, or sweep fewer ticks."
            raise LeanStepError(f"takes {task[2]} to {task[3] - 1}", f"workers died playing them ({error})", way_out)

        yield from results_of(client_of(cluster), play_lot, tasks, lost)
    elif jobs > 1 and len(tasks) > 1:
        with ProcessPoolExecutor(min(jobs, len(tasks)), processes()) as pool:
            yield from pool.map(play_lot, *zip(*tasks))
    else:
        yield from (play_lot(*task) for task in tasks)


def play_lot(file: Path, seed: int, begin: int, end: int, ticks: int) -> Sweep:
    """Play one lot."""
    from leanstep.core.rehearsal.sweeping import sweep_lot

    return sweep_lot(_machine(file), seed, begin, end, ticks)


def _machine(file: Path) -> Machine:
    from leanstep.core.character.storage import read_bytes

    return _compiled(file.name, read_bytes(file))


@lru_cache(maxsize=4)
def _compiled(name: str, data: bytes) -> Machine:
    """The machine of a file with this content: workers live long, and files change."""
    from leanstep.core.character.files import parse
    from leanstep.core.graph.compilation import compile_character

    return compile_character(parse(data, name))
