"""Work that may take long is done beside the window, which goes on drawing meanwhile."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import wait
from typing import TypeVar

from PySide6.QtCore import QEventLoop, QObject, QTimer, Signal

from leanstep.desk.workers import Workers

PATIENCE = 0.04
"""Seconds the window waits outright; what takes longer is said, and the window goes on."""

_T = TypeVar("_T")


class BlockingWait(QObject):
    """A thread beside the window.  ``told`` says what is waited for; an empty text: nothing any more."""

    told = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self._workers = Workers("beside")
        self._waits = False

    def wait_for(self, what: str, work: Callable[[], _T]) -> _T:
        """Do work and give what it makes.  If it takes long, the window draws and time goes on, but keys and clicks wait."""
        coming = self._workers.begin(work)
        if self._waits or wait([coming], PATIENCE).done:
            return coming.result()
        self._waits = True
        self.told.emit(what)
        loop, timer = QEventLoop(), QTimer(interval=10)
        timer.timeout.connect(lambda: loop.quit() if coming.done() else None)
        timer.start()
        try:
            loop.exec(QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents)
        finally:
            timer.stop()
            self._waits = False
            self.told.emit("")
        return coming.result()

    def close(self) -> None:
        """Let go of the thread."""
        self._workers.close()
