"""Run ``python -m benchmarks``: ticks a second, and how proofs grow with the number of states."""

from __future__ import annotations

import gc
import platform
import resource
import time
from collections.abc import Callable
from pathlib import Path

import msgspec
from rich.console import Console
from rich.table import Table

from benchmarks.characters import generated
from leanstep.core.character.edits import change
from leanstep.core.character.files import load
from leanstep.core.findings.model import Memo
from leanstep.core.findings.report import Report, check_character
from leanstep.core.graph.machine import Machine, compile_character
from leanstep.core.rehearsal.engine.engine import Engine
from leanstep.core.rehearsal.takes import changes_of, rehearse

ROUNDS = 5
"""Times a short run is repeated; the best one counts."""

DEMO = Path(__file__).parents[1] / "demo"


def main() -> None:
    """Print the tables.  As in the desk's worker, Python looks for cycles that nothing needs any more between checks."""
    gc.disable()
    console = Console()
    pace = 1 / min(_timed(_count) for _ in range(ROUNDS))
    console.print(
        f"Python {platform.python_version()} on {platform.machine()}, {pace:.1f} million plain steps a second"
    )
    machine = compile_character(load(DEMO / "lamplighter.leanstep"))
    console.print(_takes(machine))
    console.print(_batches(machine))
    proofs = Table(
        *("character", "situations", "seconds", "per state, against the first", "states undecided", "peak MB"),
        title="All verdicts; a quarter of the conditions asks about time, half of these with memories",
    )
    first = 0.0
    for count in (50, 100, 200, 400):
        report = check_character(generated(count))
        each = report.seconds / count
        first = first or each
        _row(proofs, f"{count} states", report, f"{each / first:.2f} ×")
    for count in (50, 100, 200, 400):
        report = check_character(generated(count, remembering=0.0))
        _row(proofs, f"{count} states without memories", report)
    for name in ("lamplighter", "lamplighter-faulty"):
        _row(proofs, name, check_character(load(DEMO / f"{name}.leanstep"), DEMO))
    console.print(proofs)
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
        many = msgspec.structs.replace(take, ticks=60_000)
        for title, one in ((take.name, take), (f"{take.name}, held on", many)):
            best = min(_timed(lambda one=one: rehearse(machine, one)) for _ in range(ROUNDS))
            table.add_row(title, f"{one.ticks:,}", f"{one.ticks / best:,.0f}")
    return table


def _batches(machine: Machine) -> Table:
    """How fast many takes are played at once: those of the demo, each a little later than the last."""
    table = Table(
        "takes", "ticks", "ticks a second in all", title="Playing many takes of 600 ticks at once, body included"
    )
    engine, takes = Engine(machine), [changes_of(machine, take) for take in machine.character.takes]
    for count in (10, 100, 1000):
        shifted = [[(at + n % 7, *rest) for at, *rest in takes[n % len(takes)]] for n in range(count)]
        best = min(_timed(lambda some=shifted: engine.play_many([(one, 600) for one in some])) for _ in range(ROUNDS))
        table.add_row(f"{count:,}", f"{600 * count:,}", f"{600 * count / best:,.0f}")
    return table


def _timed(work: Callable[[], object]) -> float:
    started = time.perf_counter()
    work()
    return time.perf_counter() - started


def _row(table: Table, name: str, report: Report, against: str = "") -> None:
    gc.collect()
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    undecided = sum(fate.free == "undecided" for fate in report.states)
    table.add_row(name, str(report.situations), f"{report.seconds:.2f}", against, str(undecided), f"{peak:.0f}")


def _rechecks() -> Table:
    """What a second check costs after different edits."""
    table = Table("edit", "seconds", title="Checking the demo again after one edit")
    sound, memo = load(DEMO / "lamplighter.leanstep"), Memo()
    edits = {
        "none, the first check": sound,
        "a take's note": change(sound, ("takes", 0), note="again"),
        "a condition of the second layer": change(sound, ("layers", 1, "transitions", 0), when="hit and stay > 0.1 s"),
        "a condition of the first layer": change(sound, ("layers", 0, "transitions", 0), when="speed > 13"),
    }
    for edit, character in edits.items():
        table.add_row(edit, f"{check_character(character, DEMO, memo=memo).seconds:.3f}")
        gc.collect()
    return table


if __name__ == "__main__":
    main()
