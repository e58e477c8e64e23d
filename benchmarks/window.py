"""How much of a processor the window takes while it is left alone and while it is driven, and how soon findings come.

Run under a display: ``xvfb-run -s "-screen 0 1280x800x24" python -m benchmarks.window``.
"""

from __future__ import annotations

import argparse
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from tempfile import TemporaryDirectory

from PySide6.QtCore import QEventLoop, QSettings, Qt, QTimer
from PySide6.QtTest import QTest

from benchmarks import sized
from leanstep.core.character.document import Character
from leanstep.core.character.edits import change
from leanstep.desk.app import make_app, make_window
from leanstep.desk.window import Window

DEMO = Path(__file__).parents[1] / "demo" / "lamplighter.leanstep"


def share(seconds: float) -> float:
    """Processor time over wall time while the window runs, in percent."""
    began, used = time.perf_counter(), time.process_time()
    loop = QEventLoop()
    QTimer.singleShot(int(seconds * 1000), loop.quit)
    loop.exec()
    return 100 * (time.process_time() - used) / (time.perf_counter() - began)


def edit_to_findings(window: Window, times: int) -> list[float]:
    """Seconds from an edit of a condition to the findings of the document after it."""
    found = []
    for number in range(times):
        text = f"speed > {12 + number % 3}"
        came: list[float] = []

        def note(came: list[float] = came) -> None:
            came.append(time.perf_counter())

        connection = window.session.checker.checked.connect(note)
        began = time.perf_counter()
        edited = change(window.session.document, ("layers", 0, "transitions", 0), when=text)

        def changed(document: Character, edited: Character = edited) -> Character:
            return edited

        window.session.edit("changed", changed)
        while not came and time.perf_counter() < began + 10:
            QTest.qWait(1)
        window.session.checker.checked.disconnect(connection)
        found.append(came[0] - began if came else 10.0)
        QTest.qWait(120)
    return found


@contextmanager
def demo_window(milliseconds: int) -> Iterator[Window]:
    """The window with the demo, once it has been there for a while; it is closed without its edits."""
    make_app()
    with TemporaryDirectory() as folder:
        settings = QSettings(str(Path(folder) / "settings.ini"), QSettings.Format.IniFormat)
        settings.setValue("started", True)
        window = make_window(settings, DEMO)
        window.resize(1280, 800)
        window.show()
        window.activateWindow()
        QTest.qWait(milliseconds)
        yield window
        while window.session.history.undo():
            pass
        window.close()


def main() -> None:
    """Print the table."""
    words = argparse.ArgumentParser(description=__doc__)
    words.add_argument("--seconds", type=float, default=sized(30.0, 0.3))
    words.add_argument("--briefly", action="store_true")
    asked = words.parse_args()
    with demo_window(sized(8000, 500)) as window:
        times = sorted(edit_to_findings(window, sized(15, 1)))
        print(f"from an edit to findings: {times[len(times) // 2]:.3f} s (best {times[0]:.3f}, worst {times[-1]:.3f})")
        for name in window.stations:
            window.go(name)
            QTest.qWait(sized(2500, 50))
        # what a station works out in the background when it is first seen is done
        QTest.qWait(sized(15000, 50))
        for name in window.stations:
            window.go(name)
            QTest.qWait(sized(2500, 50))
            print(f"left alone in {name}: {share(asked.seconds / 3 if name != 'Graph' else asked.seconds):.1f} %")
        for name in ("Graph", "Rehearse"):
            window.go(name)
            window.live.drive()
            QTest.keyPress(window.stations[name], Qt.Key.Key_Right)
            QTest.qWait(500)
            print(f"driven in {name}: {share(asked.seconds / 3):.1f} %")
            QTest.keyRelease(window.stations[name], Qt.Key.Key_Right)
            window.live.leave()


if __name__ == "__main__":
    main()
