"""How long the things take that are done all day: a pattern put in, an answer, time that runs back, what takes cover.

Run under a display or offscreen: ``python -m benchmarks.daily``.
"""

from __future__ import annotations

import time

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from benchmarks import best, sized, timed
from benchmarks.window import DEMO, demo_window
from leanstep.core.character.edits import change
from leanstep.core.character.files import load
from leanstep.core.character.graph import State, Transition
from leanstep.core.graph.compilation import compile_character
from leanstep.core.proof.explore.covering import MOST_TICKS, takes_for_the_rest
from leanstep.core.rehearsal.answers import Answers
from leanstep.core.rehearsal.changed_inputs import smallest_change
from leanstep.core.rehearsal.coverage import coverage
from leanstep.core.rehearsal.responsiveness import responses
from leanstep.core.rehearsal.takes import rehearse
from leanstep.desk.stations.graph.station import GraphStation
from leanstep.desk.window import Window


def pattern_in_and_driven(window: Window) -> float:
    """Seconds from the key that puts a pattern in until the figure has done a tick with it."""
    gallery = window.station(GraphStation).patterns
    window.session.wanted.emit("pattern")
    gallery.list.setCurrentRow(12)
    began = time.perf_counter()
    gallery.put()
    window.live.drive()
    window.live.tick()
    QTest.qWait(1)
    taken = time.perf_counter() - began
    window.live.leave()
    window.session.undo()
    return taken


def a_tick_back(window: Window, seconds: int) -> tuple[float, float]:
    """Seconds until time runs back through what was steered so long, and those of the slowest tick of it."""
    live = window.live
    window.go("Rehearse")
    live.drive()
    for tick in range(60 * seconds):
        if tick % 50 == 0:
            live.hands.key("Right" if tick % 100 else "Left", tick % 200 < 100)
        live.tick()
    first = timed(live.rewind)
    slowest = max(timed(live.tick) for _ in range(sized(600, 5)))
    live.go_on()
    live.leave()
    return first, slowest


def big_table(window: Window) -> float:
    """Seconds until the table of 60 states and 200 transitions is seen."""
    states = tuple(State(name=f"s{number}") for number in range(60))
    ways = tuple(
        Transition(source=f"s{number % 60}", to=f"s{(number * 7 + 1) % 60}", when=f"speed > {number}")
        for number in range(200)
    )
    window.session.edit(
        "many", lambda document: change(document, ("layers", 0), states=states, transitions=ways, start="")
    )
    window.go("Graph")
    QTest.qWait(50)
    began = time.perf_counter()
    window.station(GraphStation).table_button.click()
    QTest.qWait(1)
    return time.perf_counter() - began


def main() -> None:
    """Print the table."""
    machine = compile_character(load(DEMO))
    take = machine.character.takes[0]
    trace = rehearse(machine, take)
    wanted = machine.layers[0].states.index("skid")
    print(f"why not, on a tick: {best(lambda: Answers(trace, take).why_not(150, 0, wanted)) * 1000:.1f} ms")
    print(f"what gets there: {best(lambda: smallest_change(trace, take, 250, 0, wanted)):.2f} s")
    traces = {one.name: rehearse(machine, one) for one in machine.character.takes}
    print(f"how soon presses show: {best(lambda: list(responses(machine, traces))):.2f} s")
    print(f"what the takes cover: {best(lambda: coverage(machine, machine.character.takes)):.2f} s")
    covered = coverage(machine, machine.character.takes)
    print(f"takes for the rest: {timed(lambda: takes_for_the_rest(covered, sized(MOST_TICKS, 500))):.1f} s")
    with demo_window(sized(6000, 300)) as window:
        times = sorted(pattern_in_and_driven(window) for _ in range(sized(5, 1)))
        print(f"a pattern in and driven: {times[len(times) // 2]:.3f} s (worst {times[-1]:.3f})")
        first, slowest = a_tick_back(window, sized(120, 2))
        print(f"rewinding {sized(120, 2)} s: begins after {first:.2f} s, the slowest tick {slowest * 1000:.1f} ms")
        print(f"the table of 60 states and 200 transitions: {big_table(window) * 1000:.0f} ms")
        QTest.keyClick(window, Qt.Key.Key_Escape)


if __name__ == "__main__":
    main()
