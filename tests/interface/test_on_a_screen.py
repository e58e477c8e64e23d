"""One smoke test on a real X screen: the program starts, shows its window, and closes."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

SCRIPT = """
import sys
from PySide6.QtCore import QSettings
from PySide6.QtTest import QTest
from leanstep.desk.app import make_app, make_window
app = make_app()
window = make_window(QSettings(sys.argv[1], QSettings.Format.IniFormat))
window.show()
assert QTest.qWaitForWindowExposed(window, 10000)
for _ in range(1200):
    QTest.qWait(50)
    if window.live.mode == "playing":
        break
picture = window.screen().grabWindow(window.winId())
print(app.platformName(), window.stack.currentIndex(), picture.width() > 1000, window.live.mode)
window.close()
"""


@pytest.mark.skipif(shutil.which("xvfb-run") is None and shutil.which("Xvfb") is None, reason="no Xvfb here")
def test_the_window_opens_under_xvfb(tmp_path: Path) -> None:
    display = f":{90 + os.getpid() % 100}"
    server = subprocess.Popen(["Xvfb", display, "-screen", "0", "1400x900x24"], stderr=subprocess.DEVNULL)
    try:
        environment = {**os.environ, "DISPLAY": display, "QT_QPA_PLATFORM": "xcb"}
        result = subprocess.run(
            [sys.executable, "-c", SCRIPT, str(tmp_path / "settings.ini")],
            env=environment, capture_output=True, text=True, timeout=90, check=False,
        )  # fmt: skip
    finally:
        server.terminate()
        server.wait(10)
    assert result.stdout.split() == ["xcb", "5", "True", "playing"], result.stderr
