"""Run ``python -m benchmarks``: ticks a second, and how proofs grow with the number of states."""

from __future__ import annotations

import platform
import resource
import time
from pathlib import Path

from rich.console import Console
from rich.table import Table

from benchmarks.characters import generated
from leanstep.core.character.edits import change
from leanstep.core.character.files import load
from leanstep.core.findings.model import Memo
from leanstep.core.findings.report import Report, check_character
from leanstep.core.graph.machine import compile_character
from leanstep.core.rehearsal.takes import rehearse

DEMO = Path(__file__).parents[1] / "demo"


def main() -> None:
    """Print the tables."""
    console = Console()
    console.print(f"Python {platform.python_version()} on {platform.machine()}")
    stepping = Table("take", "ticks", "ticks a second", title="Stepping the demo, body included")
    machine = compile_character(load(DEMO / "lamplighter.leanstep"))
    for take in machine.character.takes:
        started = time.perf_counter()
        trace = rehearse(machine, take)
        stepping.add_row(take.name, str(len(trace.steps)), f"{len(trace.steps) / (time.perf_counter() - started):,.0f}")
    console.print(stepping)
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


def _row(table: Table, name: str, report: Report, against: str = "") -> None:
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
    return table


if __name__ == "__main__":
    main()
