"""The command ``lean-step-desk``: opens the window."""

from __future__ import annotations

import os
import sys
from pathlib import Path

from PySide6.QtCore import QSettings, QTimer
from PySide6.QtGui import QPixmapCache
from PySide6.QtWidgets import QApplication

from leanstep.core.errors import LeanStepError
from leanstep.core.rehearsal import engine_readiness
from leanstep.desk import paint
from leanstep.desk.icon import ID, icon
from leanstep.desk.session import Session
from leanstep.desk.stations.registry import STATIONS
from leanstep.desk.theme import dress, load_fonts, undressed
from leanstep.desk.warming import Warming
from leanstep.desk.window import Window


def make_app(night: bool = False) -> QApplication:
    """The application with its fonts and colours."""
    app = QApplication.instance() or QApplication(sys.argv[:1])
    assert isinstance(app, QApplication)
    QPixmapCache.setCacheLimit(paint.KEPT_ENLARGED)
    app.setApplicationName("Lean Step")
    app.setDesktopFileName(ID)
    app.setWindowIcon(icon())
    load_fonts()
    dress(app, night)
    return app


def demo_folder() -> Path | None:
    """The folder with the demo characters: in the checkout, or where an installation put them; None without them."""
    places = (Path(__file__).parents[3] / "demo", Path(sys.prefix) / "share" / "lean-step" / "demo")
    return next((place for place in places if (place / "lamplighter.leanstep").is_file()), None)


def make_window(settings: QSettings, path: Path | None = None) -> Window:
    """The window with ``path`` open, or, on a first start, with the faulty demo and its first finding chosen."""
    session = Session(settings)
    demo = session.demos = demo_folder()
    recent = session.recent()
    started = settings.value("started", False, type=bool) or bool(recent)
    first = path is None and demo is not None and not started
    if path is None and demo is not None:
        path = demo / "lamplighter-faulty.leanstep" if first or not recent else recent[0]
    app = QApplication.instance()
    assert isinstance(app, QApplication)
    with undressed(app):
        window = Window(session, demo)
    if path is not None:
        try:
            session.open(path)
        except LeanStepError as error:
            QTimer.singleShot(0, lambda error=error: window.complain(error))
    session.keeper.offer(session.bring_back)
    if first:
        settings.setValue("started", True)
        greeting = next(one.name for one in STATIONS if one.greets)
        window.go(greeting)
        window.stations[greeting].greet()
    return window


def integrated(words: list[str]) -> int:
    """Put the program into the user's menu, or take it out again, and say what was done; the exit code."""
    from leanstep.desk.integration import integrate, take_out

    try:
        out = "--remove" in words
        paths = take_out() if out else integrate()
    except (LeanStepError, OSError) as error:
        print(f"lean-step-desk: {error}", file=sys.stderr)
        return 2
    for path in paths:
        print(path)
    print(
        "Taken out."
        if out
        else "Lean Step is in the menu, and a double click opens its files; --integrate --remove takes it out."
    )
    return 0


def main() -> None:
    """Open the window and stay until it is closed."""
    words = sys.argv[1:]
    if words[:1] in (["--help"], ["-h"]):
        print("usage: lean-step-desk [FILE.leanstep]\n       lean-step-desk --integrate [--remove]")
        sys.exit(0)
    if "--integrate" in words:
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
        make_app()
        sys.exit(integrated(words))
    engine_readiness.serve_meanwhile()
    settings = QSettings("Lean Step", "Lean Step")
    app = make_app(bool(settings.value("night", False, type=bool)))
    window = make_window(settings, Path(sys.argv[1]) if len(sys.argv) > 1 else None)
    window.show()
    warming = Warming()
    warming.said.connect(window.say)
    QTimer.singleShot(0, warming.start)
    code = app.exec()
    warming.stop()
    sys.exit(code)


if __name__ == "__main__":
    main()
