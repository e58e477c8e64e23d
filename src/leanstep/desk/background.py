"""Work that goes on beside the window and can be stopped."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import Future
from typing import Any

from PySide6.QtCore import QObject, QTimer, Signal

from leanstep.core.errors import LeanStepError
from leanstep.core.work import Stopped, Work
from leanstep.desk.workers import Workers

LOOKS = 30
"""Milliseconds between two looks at whether the work is done."""


class Background(QObject):
    """Does one work at a time; a new one stops the one before.  ``told`` says what is done now (empty: nothing any more),
    ``ended`` gives what the work made, ``failed`` a :class:`LeanStepError`.  Work looks for whether it is to stop with
    :func:`leanstep.core.work.look`, and may say how far it is by :meth:`telling`."""

    told = Signal(str)
    ended = Signal(object)
    failed = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self._workers = Workers("background")
        self._coming: Future[Any] | None = None
        self._told = self.says = ""
        self._number = 0
        self._timer = QTimer(self, interval=LOOKS)
        self._timer.timeout.connect(self._look)

    @property
    def busy(self) -> bool:
        """Whether something is being done."""
        return self._coming is not None

    def start(self, work: Callable[[], object], says: str) -> None:
        """Begin a work; ``says`` is told while it goes on."""
        self.stop()
        self._number += 1
        number, self.says = self._number, says

        def run() -> object:
            with Work(stop=lambda: self._number != number).under_way():
                return work()

        self._coming = self._workers.begin(run)
        self._timer.start()

    def telling(self, words: Callable[[int], str]) -> Work:
        """A part of the work that says how much of it is done, in ``words``."""

        def told(done: int) -> None:
            self.says = words(done)

        return Work(told=told)

    def stop(self) -> None:
        """What is being done is not done any further."""
        self._number += 1
        self._coming = None
        self._timer.stop()
        self._tell("")

    def close(self) -> None:
        """Let go of the thread."""
        self.stop()
        self._workers.close()

    def _look(self) -> None:
        coming = self._coming
        if coming is None:
            return
        if not coming.done():
            self._tell(self.says)
            return
        self._coming = None
        self._timer.stop()
        self._tell("")
        try:
            made = coming.result()
        except LeanStepError as error:
            self.failed.emit(error)
        except Stopped:
            return
        else:
            self.ended.emit(made)

    def _tell(self, text: str) -> None:
        if text != self._told:
            self._told = text
            self.told.emit(text)
