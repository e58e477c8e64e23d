"""Kill a program that edits and saves, again and again: nothing older than five seconds is lost, nothing broken is left.

``python -m tests.fuzz.kills --without 250 --window 50``
"""

from __future__ import annotations

import argparse
import os
import random
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from leanstep.core.character import files
from leanstep.core.character.storage import sweep
from leanstep.desk import recovery
from tests.support.build import DEMO

LOST = 5.0
"""Seconds of edits that may be lost with a window, which keeps them from time to time."""
AT_ONCE = 0.5
"""Seconds of edits that may be lost by the program without one, which keeps them at once."""

HEADLESS = """
import sys, time
from pathlib import Path
from leanstep.core.character.edits import Edit, change
from leanstep.core.character.history import History
from leanstep.desk.recovery import Recovery, keep_backup
path, state = Path(sys.argv[1]), Path(sys.argv[2])
history, kept = History.open(path), Recovery(state)
number, last = 0, 0.0
print("ready", flush=True)
while True:
    number += 1
    name = f"{number} {time.time():.4f}"
    history.apply(Edit("named", lambda document: change(document, (), name=name)))
    if time.time() - last > 0.02:
        last = time.time()
        kept.keep(history.document, path, history.unsaved(), last)
    if number % 7 == 0:
        keep_backup(state, path, history.on_disk)
        history.save()
        kept.clear()
    time.sleep(0.002)
"""

WINDOW = """
import os, sys, time
os.environ["QT_QPA_PLATFORM"] = "offscreen"
from pathlib import Path
from PySide6.QtCore import QSettings, QTimer
from leanstep.core.character.edits import change
from leanstep.desk.app import make_app, make_window
path, state = Path(sys.argv[1]), Path(sys.argv[2])
os.environ["LEANSTEP_STATE"] = str(state)
app = make_app()
settings = QSettings(str(state / "settings.ini"), QSettings.Format.IniFormat)
settings.setValue("started", True)
window = make_window(settings, path)
window.show()
number = 0
def act():
    global number
    number += 1
    name = f"{number} {time.time():.4f}"
    window.session.edit("named", lambda document: change(document, (), name=name))
    if number % 90 == 0:
        window.save()
timer = QTimer(interval=25)
timer.timeout.connect(act)
timer.start()
print("ready", flush=True)
app.exec()
"""


def kill_once(program: str, folder: Path, seconds: float, lost: float) -> str:
    """Run a program, kill it, and look at what is left; what is wrong, or an empty text."""
    path, state = folder / "hero.leanstep", folder / "state"
    state.mkdir(exist_ok=True)
    running = subprocess.Popen([sys.executable, "-c", program, str(path), str(state)], stdout=subprocess.PIPE)
    assert running.stdout is not None
    running.stdout.readline()
    time.sleep(seconds)
    os.kill(running.pid, signal.SIGKILL)
    killed = time.time()
    running.wait()
    sweep(path)
    names = [files.load(path).name, *(one.document.name for one in recovery.left_behind(state))]
    stray = [one.name for one in folder.iterdir() if one.name not in ("hero.leanstep", "state")]
    stray += [one.name for one in (state / "recovery").glob("*.tmp")] if (state / "recovery").is_dir() else []
    for one in recovery.left_behind(state):
        recovery.discard(one)
    kept = recovery.backup_of(state, path)
    if kept is not None:
        files.load(kept)
    if stray:
        return f"left behind: {stray}"
    newest = max((float(name.split()[1]) for name in names if " " in name), default=0.0)
    if seconds > lost and killed - newest > lost:
        return f"lost {killed - newest:.1f} s of edits"
    return ""


def kill(program: str, times: int, longest: float, lost: float, seed: int = 1) -> list[str]:
    """Kill a program so many times after at most ``longest`` seconds; everything that went wrong."""
    pick, wrong = random.Random(seed), []
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        files.save(folder / "hero.leanstep", files.load(DEMO / "lamplighter.leanstep"))
        for number in range(times):
            found = kill_once(program, folder, pick.uniform(0.0, longest), lost)
            if found:
                wrong.append(f"kill {number}: {found}")
    return wrong


def main() -> None:
    """Kill as often as asked and say what went wrong."""
    words = argparse.ArgumentParser(description=__doc__)
    words.add_argument("--without", type=int, default=250, help="kills of a program without a window")
    words.add_argument("--window", type=int, default=50, help="kills of one with a window")
    asked = words.parse_args()
    wrong = kill(HEADLESS, asked.without, 0.8, AT_ONCE) + kill(WINDOW, asked.window, 7.0, LOST)
    print("\n".join(wrong) or f"{asked.without} and {asked.window} kills: nothing lost, nothing left behind.")
    sys.exit(bool(wrong))


if __name__ == "__main__":
    main()
