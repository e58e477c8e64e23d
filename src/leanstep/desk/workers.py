"""Threads beside the window, and what they made brought back to the window's own."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from typing import Any, TypeVar

from PySide6.QtCore import QObject, Qt, Signal

_T = TypeVar("_T")
Then = Callable[[Future[Any]], object]


class Workers(QObject):
    """A few threads that do work in the order in which it comes; ``name`` says what for."""

    _ended = Signal(object, object)

    def __init__(self, name: str, threads: int = 1) -> None:
        super().__init__()
        self._pool = ThreadPoolExecutor(threads, thread_name_prefix=name)
        # later, also for work that was done before anybody waited for it
        self._ended.connect(self._end, Qt.ConnectionType.QueuedConnection)

    def begin(self, work: Callable[[], _T], then: Then | None = None) -> Future[_T]:
        """Begin a work; once it is done ``then`` takes it on the window's thread, with what it made or why it failed."""
        coming = self._pool.submit(work)
        if then is not None:
            coming.add_done_callback(lambda done: self._tell(then, done))
        return coming

    def close(self, wait: bool = False) -> None:
        """Let go of the threads; what has not begun is dropped, unless all is to be waited for."""
        self._pool.shutdown(wait=wait, cancel_futures=not wait)

    def _tell(self, then: Then, done: Future[Any]) -> None:
        if done.cancelled():
            return
        try:
            self._ended.emit(then, done)
        except RuntimeError:  # the window was closed meanwhile
            return

    def _end(self, then: Then, done: Future[Any]) -> None:
        then(done)
