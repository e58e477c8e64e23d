"""The real window, offscreen, with a copy of the demo; time runs only when a test says so."""

from __future__ import annotations

import gc
import os
import shutil
from collections.abc import Callable, Iterator
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import pytest
import shiboken6
from PySide6.QtCore import QCoreApplication, QEvent, QObject, QSettings, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit, QMessageBox

from leanstep import launching
from leanstep.desk import art
from leanstep.desk.app import make_app, make_window
from leanstep.desk.window import Window
from tests.support import warm_process
from tests.support.build import DEMO


@pytest.fixture(autouse=True)
def state(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """The folder for what outlives the program."""
    monkeypatch.setenv("LEANSTEP_STATE", str(tmp_path / "state"))
    return tmp_path / "state"


@pytest.fixture(autouse=True)
def pictures_at_once(monkeypatch: pytest.MonkeyPatch) -> None:
    """However slow the machine, what was edited is there with its pictures on the next line of a test."""
    monkeypatch.setattr(art, "PATIENCE", 20.0)


@pytest.fixture(autouse=True)
def checks_begin_at_once(warm: str, monkeypatch: pytest.MonkeyPatch) -> None:
    """What checks is a copy of a process that has loaded everything."""
    started = launching.words
    worker = "leanstep.cli.worker"
    monkeypatch.setattr(
        launching, "words", lambda module: warm_process.relayed(warm, worker) if module == worker else started(module)
    )


@pytest.fixture
def demo(tmp_path: Path) -> Path:
    """A folder with the demo characters and their art."""
    target = tmp_path / "demo"
    shutil.copytree(DEMO, target, ignore=shutil.ignore_patterns("*.py", "__pycache__"))
    return target


@pytest.fixture
def settings(tmp_path: Path) -> QSettings:
    """Settings of a person who has used the program before."""
    made = QSettings(str(tmp_path / "settings.ini"), QSettings.Format.IniFormat)
    made.setValue("started", True)
    return made


@pytest.fixture(scope="session")
def application() -> QApplication:
    """The application, which goes when nobody knows it any more."""
    made = make_app()
    # what is there already need not be looked through whenever a window goes
    gc.collect()
    gc.freeze()
    return made


@pytest.fixture
def open_window(
    application: QApplication, settings: QSettings, request: pytest.FixtureRequest, monkeypatch: pytest.MonkeyPatch
) -> Iterator[Callable[..., Window]]:
    """Opens windows and closes them again without asking.  What is edited is checked by itself where a test is marked so:
    starting what checks takes longer than most tests."""
    checks = request.node.get_closest_marker("checks") is not None
    made: list[Window] = []

    def opened(path: Path | None = None) -> Window:
        window = _shown(settings, path, checks)
        made.append(window)
        return window

    yield opened
    monkeypatch.setattr(QMessageBox, "exec", lambda _: QMessageBox.StandardButton.Discard)
    _close(made)


def _shown(settings: QSettings, path: Path | None, checks: bool) -> Window:
    """A window that is active, in which time stands still."""
    window = make_window(settings, path)
    window.live.stop()
    if not checks:
        window.session.checker.only_when_asked()
    window.show()
    window.activateWindow()
    QTest.qWaitForWindowActive(window, 2000)
    if QApplication.mouseButtons() != Qt.MouseButton.NoButton:
        # a double click of an earlier test leaves its button down
        QTest.mouseRelease(window, Qt.MouseButton.LeftButton)
    return window


def _close(windows: list[Window]) -> None:
    # one that stays open works on beside the later tests
    stayed = [window for window in windows if not window.close()]
    for window in windows:
        window.deleteLater()
    QCoreApplication.processEvents()
    # windows that are only waiting to go would slow the later tests down
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)
    # what belongs to no widget is held by what it is connected to: hundreds of windows would stay in memory
    for one in gc.get_objects():
        ours = isinstance(one, QObject) and type(one).__module__.startswith("leanstep.")
        if ours and shiboken6.isValid(one) and one.parent() is None:
            shiboken6.delete(one)
    assert not stayed


@pytest.fixture
def window(open_window: Callable[..., Window], demo: Path) -> Window:
    """The window with the sound demo open."""
    return open_window(demo / "lamplighter.leanstep")


@pytest.fixture(scope="module")
def lasting_window(application: QApplication, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Window]:
    """One window with the sound demo open, for the many cases of one test that each take back what they did."""
    folder = tmp_path_factory.mktemp("lasting") / "demo"
    shutil.copytree(DEMO, folder, ignore=shutil.ignore_patterns("*.py", "__pycache__"))
    settings = QSettings(str(folder / "settings.ini"), QSettings.Format.IniFormat)
    settings.setValue("started", True)
    with pytest.MonkeyPatch.context() as patch:
        patch.setenv("LEANSTEP_STATE", str(folder / "state"))
        made = _shown(settings, folder / "lamplighter.leanstep", checks=False)
        yield made
        patch.setattr(QMessageBox, "exec", lambda _: QMessageBox.StandardButton.Discard)
        _close([made])


@pytest.fixture
def boxes(monkeypatch: pytest.MonkeyPatch) -> list[str]:
    """The texts of message boxes that came up."""
    seen: list[str] = []

    def shown(box: QMessageBox) -> int:
        seen.append(f"{box.text()} {box.informativeText()}")
        return 0

    monkeypatch.setattr(QMessageBox, "exec", shown)
    return seen


def ticks(window: Window, count: int) -> None:
    """Let some ticks pass."""
    for _ in range(count):
        window.live.tick()


def wait_checked(window: Window) -> None:
    """Wait until the findings are those of the document."""
    window.session.checker.report = None
    window.session.checker.send()
    for _ in range(2400):
        QTest.qWait(25)
        if window.session.report is not None:
            return
    raise AssertionError("the check did not come back")


def press(window: Window, key: Qt.Key, modifiers: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
    """Press and let go of a key where the focus is."""
    QTest.keyClick(window.focusWidget() or window, key, modifiers)


def name_it(window: Window, text: str) -> None:
    """Type a name where a new thing waits for one."""
    field = window.focusWidget()
    assert isinstance(field, QLineEdit) and field.selectedText() == field.text() != ""
    QTest.keyClicks(field, text)
    QTest.keyClick(field, Qt.Key.Key_Return)
