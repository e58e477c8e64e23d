"""Run ``python -m benchmarks.blends``: picks a second, redraws of a dial, and how long the ferry hand is checked."""

from __future__ import annotations

import os
from pathlib import Path

import numpy as np
from msgspec.structs import replace
from rich.console import Console
from rich.table import Table

from benchmarks import best, sized
from leanstep.core.character.blends import Sample
from leanstep.core.character.files import load
from leanstep.core.findings.evidence import Memo
from leanstep.core.findings.report import check_character
from leanstep.core.graph.compilation import compile_character
from leanstep.core.jit import Real, Whole, kernel, where
from leanstep.core.rehearsal.engine.engine import Engine
from leanstep.core.tick.clips import picked
from leanstep.core.tick.conditions import state_of
from leanstep.desk.stations.blends.station import BlendsStation

DEMO = Path(__file__).parents[1] / "demo"
PICKS = sized(2_000_000, 10_000)


@kernel
def _many(
    tables: tuple[np.ndarray, np.ndarray], counts: np.ndarray, values: np.ndarray, symbol: int, turns: int
) -> int:  # pragma: no cover
    m: Whole = where(tables[0])
    r: Real = where(tables[1])
    z: Whole = where(counts)
    v: Real = where(values)
    state = state_of(m, z, 0)
    found, bearing = 0, 0.0
    for _ in range(turns):
        bearing = bearing + 7.3 if bearing < 350.0 else 0.0
        v[symbol] = bearing
        found += picked(m, r, v, state, -1)
    return found


def picks_a_second() -> float:
    """Picks of the ferry hand's gait, which has 24 samples, in compiled code."""
    machine = compile_character(load(DEMO / "ferry-hand.leanstep"))
    engine = Engine(machine)
    counts, values = engine.moving(engine.first)
    symbol = machine.index["facing"]
    return PICKS / best(lambda: _many(engine.laid.tables, counts, values, symbol, PICKS))


def redraws_a_second() -> float:
    """Redraws of a dial with 400 samples while its needle turns."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PySide6.QtCore import QSettings

    from leanstep.desk.app import make_app, make_window

    make_app()
    window = make_window(
        QSettings(str(DEMO / ".." / "benchmark.ini"), QSettings.Format.IniFormat), DEMO / "ferry-hand.leanstep"
    )
    window.live.stop()
    window.resize(1280, 800)
    window.show()
    window.go("Blends")
    samples = tuple(
        Sample(at=(float(n * 18 % 360), float(n // 20 * 9)), clip=window.session.document.clips[n % 24].name)
        for n in range(400)
    )
    blends = (replace(window.session.document.blends[0], samples=samples), window.session.document.blends[1])
    window.session.edit("many samples", lambda document: replace(document, blends=blends))
    dial = window.station(BlendsStation).view
    dial.grab()
    count = sized(40, 2)

    def turn() -> None:
        for at in range(count):
            dial.probe = (at * 9.0 % 360, 90.0)
            dial.grab()

    return count / best(turn)


def checks() -> tuple[float, float]:
    """Seconds of the first check of the ferry hand, and of a second one."""
    character, memo = load(DEMO / "ferry-hand.leanstep"), Memo()
    check_character(character, DEMO)
    first = best(lambda: check_character(character, DEMO, memo=Memo()))
    check_character(character, DEMO, memo=memo)
    return first, best(lambda: check_character(character, DEMO, memo=memo))


def main() -> None:
    """Print the table."""
    table = Table("What", "Figure")
    table.add_row("picks a second, 24 samples, compiled", f"{picks_a_second() / 1e6:.1f} million")
    first, again = checks()
    table.add_row("check of the ferry hand", f"{first:.2f} s")
    table.add_row("its second check", f"{again:.3f} s")
    table.add_row("redraws a second of a dial with 400 samples", f"{redraws_a_second():.0f}")
    Console().print(table)


if __name__ == "__main__":
    main()
    os._exit(0)
