"""How fast clips that act are: boxes that are drawn and taken hold of, one edit of a family, checks, and what phases cost a player.

Run under a display or offscreen: ``python -m benchmarks.actions``.
"""

from __future__ import annotations

import time
from pathlib import Path

from msgspec.structs import replace
from PySide6.QtCore import QPointF
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from benchmarks import best, sized
from benchmarks.window import DEMO, demo_window
from leanstep.core.character.clips import Cel, Clip, Mark
from leanstep.core.character.files import load
from leanstep.core.findings.report import check_character
from leanstep.core.graph.compilation import compile_character
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.actions import actions
from leanstep.core.rehearsal.contact import Figure
from leanstep.core.rehearsal.engine.engine import Engine
from leanstep.core.rehearsal.engine.pairs import play_both
from leanstep.core.rehearsal.takes import changes_of
from leanstep.desk.stations.clips.station import ClipsStation
from leanstep.desk.window import Window

TEACHER = Path(DEMO).parent / "fencing-teacher.leanstep"
MANY, FAMILY, CELS = sized(300, 3), 8, 40


def redraws(window: Window) -> float:
    """Redraws a second of the large picture with boxes, each with a look for what is under a hand, among many clips."""
    station = window.station(ClipsStation)
    station.choose("lunge")
    station.boxes.on.setChecked(True)
    station.go_to_cel(2)
    station.boxes.choose(1)
    QTest.qWait(50)
    count, began = 0, time.perf_counter()
    while time.perf_counter() - began < sized(2.0, 0.05):
        station.large.box_at(QPointF(450.0 + count % 50, 200.0))
        station.large.repaint()
        count += 1
    station.boxes.on.setChecked(False)
    return count / (time.perf_counter() - began)


def edit_of_a_family(window: Window) -> float:
    """Seconds from an edit of one clip of a family until it is seen, at best."""
    cels = tuple(Cel(frame=18 + at % 6, ticks=6.0) for at in range(CELS))
    marks = (Mark(name="step", at=9.0),)
    clips = tuple(
        Clip(name=f"walk {at}", sheet="fencing teacher", cels=cels, family="walk", marks=marks) for at in range(FAMILY)
    )
    window.session.edit("many", lambda document: replace(document, clips=(*document.clips, *clips)))
    station = window.station(ClipsStation)
    station.choose("walk 3")
    QTest.qWait(sized(3000, 50))
    times = []
    for at in range(sized(8, 1)):
        began = time.perf_counter()
        station.cels.set_chosen("the time", ticks=7.0 + at)
        QApplication.processEvents()
        times.append(time.perf_counter() - began)
        QTest.qWait(sized(300, 1))
    return min(times)


def ticks_a_second(machine: Machine) -> float:
    """Ticks a second of the compiled engine over the lesson, many times."""
    lesson, count = machine.character.takes[0], sized(500, 5)
    engine, changes = Engine(machine), changes_of(machine, lesson)
    engine.play_many([(changes, lesson.ticks)])
    return count * lesson.ticks / best(lambda: engine.play_many([(changes, lesson.ticks)] * count))


def pair_ticks_a_second(machine: Machine) -> float:
    """Ticks a second of two figures of which one strikes over and over, in the compiled engine."""
    figure, count, thrust = Figure(machine), sized(50_000, 500), machine.index["thrust"]
    sides = figure.first(120.0, 0.0), figure.first(170.0, 0.0, True)
    changes = [(tick, thrust, tick // 10 % 2 == 0) for tick in range(0, count, 10)]
    return count / best(lambda: play_both((figure, figure), sides, (changes, []), count))


def main() -> None:
    """Print the table."""
    teacher = load(TEACHER)
    machine = compile_character(teacher)
    print(f"the check of the teacher: {best(lambda: check_character(teacher, TEACHER.parent)):.2f} s")
    print(f"all actions timed: {best(lambda: actions(compile_character(teacher))) * 1000:.1f} ms")
    bare = replace(teacher, clips=tuple(replace(clip, phases=()) for clip in teacher.clips))
    ways = tuple(way for way in teacher.layers[0].transitions if "phase" not in way.when)
    without = replace(bare, layers=(replace(teacher.layers[0], transitions=ways),))
    share = ticks_a_second(machine) / ticks_a_second(compile_character(without))
    print(f"ticks a second with phases, of those without: {share:.2f}")
    print(f"ticks a second of two figures: {pair_ticks_a_second(machine):,.0f}")
    with demo_window(sized(3000, 100)) as window:
        window.open(TEACHER)
        window.go("Clips")
        lunge = next(clip for clip in teacher.clips if clip.name == "lunge")
        many = tuple(replace(lunge, name=f"lunge {at}") for at in range(MANY))
        window.session.edit("many", lambda document: replace(document, clips=(*document.clips, *many)))
        print(f"redraws with boxes, of {MANY} clips: {redraws(window):.0f} a second")
        window.session.undo()
        print(f"an edit of {FAMILY} clips of {CELS} cels is seen: {edit_of_a_family(window) * 1000:.0f} ms")


if __name__ == "__main__":
    main()
