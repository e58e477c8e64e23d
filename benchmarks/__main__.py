"""Run ``python -m benchmarks``: ticks a second, and how proofs grow with the number of states."""

from __future__ import annotations

import platform
import random
import resource
import time
from pathlib import Path

from rich.console import Console
from rich.table import Table

from leanstep.core.character.files import load
from leanstep.core.character.model import Character, Layer, Parameter, State, Transition
from leanstep.core.findings.report import check_character
from leanstep.core.graph.machine import compile_character
from leanstep.core.rehearsal.takes import rehearse

DEMO = Path(__file__).parents[1] / "demo"


def generated(states: int, seed: int = 1) -> Character:
    """A character of ``states`` states with four transitions each over eight parameters, one condition in eight timed."""
    pick = random.Random(seed)
    parameters = [Parameter(name=f"p{at}", min=0, max=10) for at in range(4)]
    parameters += [Parameter(name=f"f{at}", kind="flag") for at in range(4)]

    def condition() -> str:
        text = f"p{pick.randrange(4)} {pick.choice('<>')} {pick.randrange(1, 10)} and f{pick.randrange(4)}"
        return f"{text} and stay >= {pick.randrange(1, 6)} ticks" if pick.random() < 0.125 else text

    names = [f"s{at}" for at in range(states)]
    transitions = tuple(
        Transition(source=name, to=pick.choice(names), when=condition()) for name in names for _ in range(4)
    )
    layer = Layer(name="base", states=tuple(State(name=name) for name in names), transitions=transitions)
    return Character(name=f"{states} states", parameters=tuple(parameters), layers=(layer,))


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
        "character", "situations", "seconds", "per state, against the first", "peak MB", title="All verdicts"
    )
    first = 0.0
    for character in [generated(count) for count in (25, 50, 100, 200)]:
        report = check_character(character)
        each = report.seconds / len(report.states)
        first = first or each
        peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
        proofs.add_row(
            character.name, str(report.situations), f"{report.seconds:.2f}", f"{each / first:.2f} ×", f"{peak:.0f}"
        )
    for name in ("lamplighter", "lamplighter-faulty"):
        report = check_character(load(DEMO / f"{name}.leanstep"), DEMO)
        proofs.add_row(name, str(report.situations), f"{report.seconds:.2f}", "", "")
    console.print(proofs)


if __name__ == "__main__":
    main()
