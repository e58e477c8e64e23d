"""Run ``python -m benchmarks``: ticks a second, and how proofs grow with the number of states."""

from __future__ import annotations

import gc
import platform
import resource
from functools import partial
from pathlib import Path
from typing import Any

import msgspec
from rich.console import Console
from rich.table import Table

from benchmarks import ROUNDS, best, sized
from benchmarks.characters import generated
from leanstep.core.character.document import Character
from leanstep.core.character.edits import change
from leanstep.core.character.files import load
from leanstep.core.conditions.grammar import parse
from leanstep.core.findings.evidence import Memo
from leanstep.core.findings.report import check_character
from leanstep.core.findings.results import Report
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.engine.engine import Engine
from leanstep.core.rehearsal.takes import changes_of, rehearse

KINDS: dict[str, dict[str, Any]] = {
    "All verdicts; a quarter of the conditions asks about time, half of these with memories; 8 to 16 parameters": {},
    "The same with 12 parameters in all of them": {"parameters": 12},
    "Without memories; 8 to 16 parameters": {"remembering": 0.0},
}
"""Kinds of generated characters."""

SAMPLES = sized({50: 60, 100: 30, 200: 10}, {20: 2})
"""Characters that are checked of each size."""
SIZES = sized((50, 100, 200, 400), (20, 40))
"""Numbers of states of which it is measured how checks grow."""

CONDITIONS = [
    (0, 0, "speed > 13"),
    (0, 3, "speed > 130 and stick.x = 0"),
    (0, 8, "speed > 50 and stay >= 0.1 s"),
    (1, 0, "hit and grounded"),
    (1, 0, "hit and stay > 0.1 s"),
]
"""Layer, transition and its new condition.  The last one brings a timer into a state that had none."""

DEMO = Path(__file__).parents[1] / "demo"


def main() -> None:
    """Print the tables.  As in the desk's worker, Python looks for cycles that nothing needs any more between checks."""
    gc.disable()
    console = Console()
    pace = 1 / best(_count)
    console.print(
        f"Python {platform.python_version()} on {platform.machine()}, {pace:.1f} million plain steps a second"
    )
    machine = compile_character(load(DEMO / "lamplighter.leanstep"))
    console.print(_takes(machine))
    console.print(_batches(machine))
    for title, kind in KINDS.items():
        console.print(_growth(title, **kind))
    console.print(_decided())
    console.print(_demos())
    console.print(_rechecks())


def _count() -> None:
    """A million steps of plain Python, to tell machines apart."""
    total, seen = 0, dict[int, int]()
    for at in range(1_000_000):
        total += at & 7
        seen[at & 1023] = total


def _takes(machine: Machine) -> Table:
    """How fast single takes of the demo are played."""
    table = Table("take", "ticks", "ticks a second", title="Playing one take of the demo, body included")
    for take in machine.character.takes:
        rehearse(machine, take)
        many = msgspec.structs.replace(take, ticks=sized(60_000, 600))
        for title, one in ((take.name, take), (f"{take.name}, held on", many)):
            seconds = best(partial(rehearse, machine, one))
            table.add_row(title, f"{one.ticks:,}", f"{one.ticks / seconds:,.0f}")
    return table


def _batches(machine: Machine) -> Table:
    """How fast many takes are played at once: those of the demo, each a little later than the last."""
    table = Table(
        "takes", "ticks", "ticks a second in all", title="Playing many takes of 600 ticks at once, body included"
    )
    engine, takes = Engine(machine), [changes_of(machine, take) for take in machine.character.takes]
    for count in sized((10, 100, 1000), (10,)):
        shifted = [[(at + n % 7, index, value) for at, index, value in takes[n % len(takes)]] for n in range(count)]
        seconds = best(partial(engine.play_many, [(one, 600) for one in shifted]))
        table.add_row(f"{count:,}", f"{600 * count:,}", f"{600 * count / seconds:,.0f}")
    return table


def _checked(character: Character, memo: Memo | None = None, folder: Path | None = None) -> Report:
    """The report of a first check; conditions are read anew, as they are in a program that has just been started."""
    parse.cache_clear()
    return _checked_again(character, memo, folder)


def _checked_again(character: Character, memo: Memo | None, folder: Path | None) -> Report:
    """The report of a check in a program that has checked before, as the desk's worker has after an edit."""
    gc.collect()
    return check_character(character, folder, memo=memo)


def _growth(title: str, **kind: Any) -> Table:
    """What checks of larger and larger characters of a kind cost; they take turns, because a machine's pace may change."""
    table = Table("states", "situations", "seconds", "per state", "undecided", "peak MB", title=title)
    characters = {count: generated(count, **kind) for count in SIZES}
    rounds = [{count: _checked(one) for count, one in characters.items()} for _ in range(ROUNDS)]
    first = 0.0
    for count in characters:
        report = min((one[count] for one in rounds), key=lambda report: report.seconds)
        first = first or report.seconds / count
        undecided = _undecided(report)
        peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
        cells = (f"{report.seconds:.2f}", f"{report.seconds / count / first:.2f} ×", str(undecided), f"{peak:.0f}")
        table.add_row(str(count), str(report.situations), *cells)
    return table


def _undecided(report: Report) -> int:
    """How many findings and fates of states are undecided."""
    fates = sum(fate.free == "undecided" for fate in report.states)
    return fates + sum(finding.verdict == "undecided" for finding in report.findings)


def _decided() -> Table:
    """Of how many characters with too many memories to follow something stays undecided, and how much."""
    title = "Undecided of characters of the first kind, all different"
    table = Table("states", "characters", "with anything undecided", "findings and states", "undecided", title=title)
    for count, characters in SAMPLES.items():
        reports = [_checked(generated(count, seed)) for seed in range(1, characters + 1)]
        undecided = [_undecided(report) for report in reports]
        said = sum(len(report.findings) + len(report.states) for report in reports)
        cells = (str(sum(some > 0 for some in undecided)), f"{said:,}", f"{sum(undecided)}")
        table.add_row(str(count), str(characters), *cells)
    return table


def _demos() -> Table:
    """What first checks of the demos cost."""
    table = Table("demo", "situations", "seconds", title="Checking the demos for the first time")
    for name in ("lamplighter", "lamplighter-faulty"):
        character = load(DEMO / f"{name}.leanstep")
        report = min((_checked(character, folder=DEMO) for _ in range(ROUNDS)), key=lambda one: one.seconds)
        table.add_row(name, str(report.situations), f"{report.seconds:.3f}")
    return table


def _rechecks() -> Table:
    """What a second check costs after different edits of the demo."""
    table = Table("of", "was", "now", "seconds", title="Checking the demo again after one edit")
    sound = load(DEMO / "lamplighter.leanstep")
    take = sound.takes[0]
    edits = [(f"take {take.name}", take.note, "again", change(sound, ("takes", 0), note="again"))]
    for layer, number, when in CONDITIONS:
        transition = sound.layers[layer].transitions[number]
        edited = change(sound, ("layers", layer, "transitions", number), when=when)
        edits.append(
            (
                f"{transition.source or transition.from_lane or 'whole graph'} → {transition.to}",
                transition.when,
                when,
                edited,
            )
        )
    rounds = [[_again(sound, edited) for *_, edited in edits] for _ in range(ROUNDS)]
    for (subject, was, now, _), seconds in zip(edits, zip(*rounds)):
        table.add_row(subject, was, now, f"{min(seconds):.3f}")
    return table


def _again(sound: Character, edited: Character) -> float:
    """The seconds a check of an edited demo takes after one of the demo as it was."""
    memo = Memo()
    _checked(sound, memo, DEMO)
    return _checked_again(edited, memo, DEMO).seconds


if __name__ == "__main__":
    main()
