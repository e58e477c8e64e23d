"""Seeded keys, clicks and commands on everything that is enabled, in the real window."""

from __future__ import annotations

import math
import random
import shutil
import sys
import time
from pathlib import Path
from typing import Any

from PySide6.QtCore import QEvent, QPoint, QSettings, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import (
    QAbstractButton,
    QAbstractSpinBox,
    QApplication,
    QComboBox,
    QDialog,
    QFileDialog,
    QLineEdit,
    QMenu,
    QMessageBox,
    QWidget,
)

from leanstep.core.character.files import dump, parse
from leanstep.desk.app import make_app, make_window
from leanstep.desk.command_search import CommandSearch
from tests.support.build import DEMO

KEYS = [
    Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Escape,
    Qt.Key.Key_Delete, Qt.Key.Key_Tab, Qt.Key.Key_F2, Qt.Key.Key_Plus, Qt.Key.Key_Minus, Qt.Key.Key_A, Qt.Key.Key_E, Qt.Key.Key_Z,
]  # fmt: skip
MODIFIERS = [Qt.KeyboardModifier.NoModifier] * 5 + [
    Qt.KeyboardModifier.ShiftModifier, Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.AltModifier
]  # fmt: skip
LEAVES = ("Quit", "Copy the window as a picture", "Find a command", "Open the demo")


class Hands:
    """Does one thing after another; what is wrong is collected, as is what takes more than ``hang`` seconds."""

    def __init__(self, folder: Path, seed: int, hang: float = math.inf) -> None:
        self.hang = hang
        self.pick = random.Random(seed)
        self.wrong: list[str] = []
        self.slowest = 0.0
        self.done: list[str] = []
        target = folder / "demo"
        shutil.copytree(DEMO, target, ignore=shutil.ignore_patterns("*.py", "__pycache__"))
        make_app()
        settings = QSettings(str(folder / "settings.ini"), QSettings.Format.IniFormat)
        settings.setValue("started", True)
        self.window = make_window(settings, target / "lamplighter.leanstep")
        self.window.live.stop()
        self.window.show()
        self.window.activateWindow()
        self._answers(folder)

    def _answers(self, folder: Path) -> None:
        """Dialogs are answered at once: a number as it stands, a file, yes or no."""
        places = [
            "",
            str(folder / "demo" / "saved.leanstep"),
            str(folder / "demo" / "art" / "ferry-hand.png"),
            str(folder),
        ]
        choose = staticmethod(lambda *_, **__: (self.pick.choice(places), ""))
        QFileDialog.getOpenFileName = QFileDialog.getSaveFileName = choose  # type: ignore[method-assign]
        QFileDialog.getExistingDirectory = staticmethod(  # type: ignore[method-assign]
            lambda *_, **__: self.pick.choice(["", str(folder / "handed over")])
        )
        QFileDialog.getOpenFileNames = staticmethod(  # type: ignore[method-assign]
            lambda *_, **__: ([one for one in [self.pick.choice(places)] if one], "")
        )
        QMessageBox.exec = lambda box: self.pick.choice(  # type: ignore[method-assign]
            [QMessageBox.StandardButton.Discard, QMessageBox.StandardButton.Cancel]
        )
        QDialog.exec = lambda dialog: self.pick.randrange(2)  # type: ignore[method-assign]
        QMenu.exec = lambda *_: None  # type: ignore[method-assign]

    def widgets(self) -> list[QWidget]:
        """Everything that can be seen and used."""
        tops = [self.window, *(one for one in QApplication.topLevelWidgets() if isinstance(one, QDialog))]
        return [
            one
            for top in tops
            if top.isVisible() and not isinstance(top, CommandSearch)
            for one in top.findChildren(QWidget)
            if one.isVisible() and one.isEnabled() and one.width() > 2 and one.height() > 2
        ]

    def act(self) -> None:
        """Do one thing."""
        began = time.perf_counter()
        try:
            self._act()
            QApplication.processEvents()
            QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        except Exception as error:  # everything that is raised is what is looked for
            self.wrong.append(f"{self.done[-1]}: {error!r}")
        took = time.perf_counter() - began
        self.slowest = max(self.slowest, took)
        if took > self.hang:
            self.wrong.append(f"{self.done[-1]}: {took:.1f} s")

    def _act(self) -> None:
        pick, window = self.pick, self.window
        what = pick.random()
        if what < 0.1:
            self.done.append("go")
            window.go(pick.choice(list(window.stations)))
        elif what < 0.28:
            actions = [one for one in window.commands if one.isEnabled() and not one.text().startswith(LEAVES)]
            action = pick.choice(actions)
            self.done.append(f"command {action.text()}")
            action.trigger()
        elif what < 0.34:
            self.done.append("ticks")
            for _ in range(pick.choice([1, 5, 30])):
                window.live.tick()
        elif what < 0.4:
            self.done.append("undo or redo")
            for _ in range(pick.choice([1, 1, 3, 12])):
                pick.choice([window.session.undo, window.session.undo, window.session.redo])()
        else:
            self._use(pick.choice(self.widgets()))

    def _use(self, widget: QWidget) -> None:
        pick = self.pick
        where = QPoint(pick.randrange(widget.width()), pick.randrange(widget.height()))
        self.done.append(f"{type(widget).__name__} {widget.accessibleName()} {where.x()},{where.y()}")
        button, keys = Qt.MouseButton.LeftButton, pick.choice(MODIFIERS)
        if isinstance(widget, QComboBox) and widget.count():
            at = pick.randrange(widget.count())
            widget.setCurrentIndex(at)
            widget.activated.emit(at)
        elif isinstance(widget, QAbstractSpinBox | QLineEdit) and pick.random() < 0.6:
            line: Any = widget if isinstance(widget, QLineEdit) else widget.findChild(QLineEdit)
            line.selectAll()
            QTest.keyClicks(line, pick.choice(["0", "7", "-3", "1e9", "speed > 3", "x y", "<img src=a>", "idle", ""]))
            QTest.keyClick(line, Qt.Key.Key_Return)
        elif isinstance(widget, QAbstractButton) and pick.random() < 0.7:
            QTest.mouseClick(widget, button)
        elif pick.random() < 0.45:
            QTest.keyClick(widget, pick.choice(KEYS), keys)
        else:
            QTest.mousePress(widget, button, keys, where)
            if pick.random() < 0.5:
                QTest.mouseMove(widget, QPoint(pick.randrange(widget.width()), pick.randrange(widget.height())))
            QTest.mouseRelease(widget, button, keys, where)
            if pick.random() < 0.1:
                QTest.mouseDClick(widget, button, keys, where)
        for popup in [one for one in QApplication.topLevelWidgets() if isinstance(one, QMenu) and one.isVisible()]:
            popup.close()

    def run(self, actions: int) -> list[str]:
        """Do so many things; everything that went wrong."""
        raised: list[str] = []
        before = sys.excepthook
        sys.excepthook = lambda kind, error, trace: raised.append(f"{self.done[-1]}: {error!r}")
        try:
            for number in range(actions):
                self.act()
                if number % 50 == 0:
                    document = self.window.session.document
                    if parse(dump(document)) != document:
                        self.wrong.append(f"{self.done[-1]}: the document does not survive being saved")
                if not self.window.isVisible():
                    self.window.show()
        finally:
            sys.excepthook = before
        QMessageBox.exec = lambda box: QMessageBox.StandardButton.Discard  # type: ignore[method-assign]
        if not self.window.close():
            self.wrong.append("the window does not close")
        self.window.deleteLater()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        return self.wrong + raised
