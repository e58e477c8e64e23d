"""Run ``python -m benchmarks.motion``: ticks a second of a take with travel, and how long a squashed, leaning figure is drawn."""

from __future__ import annotations

import os
import time
from pathlib import Path

from rich.console import Console
from rich.table import Table

from benchmarks import best, sized
from leanstep.core.character.files import load
from leanstep.core.graph.compilation import compile_character
from leanstep.core.rehearsal.deforming import Deformed, after, at_start
from leanstep.core.rehearsal.drawable import of_situation
from leanstep.core.rehearsal.engine.engine import Engine
from leanstep.core.rehearsal.engine.engine_trace import EngineTrace
from leanstep.core.rehearsal.takes import changes_of, rehearse
from leanstep.core.rehearsal.traces import Player

DEMO = Path(__file__).parents[1] / "demo"
TICKS = sized(300_000, 3_000)
DRAWN = sized(400, 4)


def main() -> None:
    """Measure, and show the figures."""
    character = load(DEMO / "lamplighter.leanstep")
    machine = compile_character(character)
    take = next(one for one in character.takes if one.name == "ladder-and-lamp")
    engine = Engine(machine)
    changes = changes_of(machine, take)
    again = [(tick + start, index, value) for start in range(0, TICKS, take.ticks) for tick, index, value in changes]
    seconds = best(lambda: list(EngineTrace(engine).play(again, TICKS)))
    trace = rehearse(machine, take)
    first = Player(machine, False).first
    begin = time.perf_counter()
    now, before = at_start(machine, first), first
    for step in trace.steps:
        now, before = after(machine, now, before, step), step.situation
    followed = (time.perf_counter() - begin) / len(trace.steps)
    table = Table("what", "figure")
    table.add_row("ticks a second of a take that travels", f"{TICKS / seconds / 1e6:.2f} million")
    table.add_row("squash and lean followed for a tick", f"{followed * 1e6:.0f} µs")
    table.add_row("a squashed, leaning figure drawn", f"{drawn():.3f} ms")
    Console().print(table)


def drawn() -> float:
    """Milliseconds to draw the lamplighter squashed and leaning, at twice its size."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PySide6.QtCore import QPointF
    from PySide6.QtGui import QImage, QPainter

    from leanstep.desk import paint
    from leanstep.desk.app import make_app
    from leanstep.desk.art import Art

    make_app()
    character = load(DEMO / "lamplighter.leanstep")
    machine = compile_character(character)
    art = Art(lambda: character, lambda: DEMO)
    art.prepare()
    shown = of_situation(machine, Player(machine, False).first, Deformed(1.2, 0.83, 7.0))
    image = QImage(600, 400, QImage.Format.Format_ARGB32_Premultiplied)
    painter = QPainter(image)

    def draw() -> None:
        for _ in range(DRAWN):
            paint.figure(painter, art, shown, QPointF(300, 380), 2)

    seconds = best(draw)
    painter.end()
    art.close()
    return seconds / DRAWN * 1000


if __name__ == "__main__":
    main()
