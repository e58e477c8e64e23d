"""Getting the compiled engine ready beside the window, which works with the plain one until then."""

from __future__ import annotations

import gc
from concurrent.futures import Future

from PySide6.QtCore import QObject, QProcess, Signal

from leanstep import launching
from leanstep.core.rehearsal import engine_readiness
from leanstep.desk.workers import Workers


class Warming(QObject):
    """Compiles in a process of its own, so that the window never stutters for it, then loads what was compiled."""

    said = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self._process = QProcess(self)
        self._process.finished.connect(self._compiled)
        self._process.errorOccurred.connect(lambda error: self._compiled(1))
        self.reason = ""
        """Why there is no fast engine; empty while nothing went wrong."""
        self._workers = Workers("warming")

    def start(self) -> None:
        """Begin; takes are played more slowly until it is done."""
        self.said.emit("Ready. Takes are played more slowly until the fast engine is compiled.")
        program, *words = launching.words("leanstep.warm")
        self._process.start(program, words)

    def _compiled(self, code: int) -> None:
        if code:
            lines = bytes(self._process.readAllStandardError().data()).decode(errors="replace").split("\n")
            said = [line.strip() for line in lines if line.strip()] or [self._process.errorString()]
            self._fail(said[-1])
        elif not engine_readiness.is_ready():
            self._workers.begin(_load, self._loaded)

    def _loaded(self, done: Future[None]) -> None:
        error = done.exception()
        if error is not None:
            self._fail(repr(error))
        else:
            # some hundred thousand objects are there to stay: looking through them again and again would halt the window each time
            gc.freeze()
            engine_readiness.announce()
            self.said.emit("The fast engine is ready.")

    def _fail(self, reason: str) -> None:
        """Keep why there is no fast engine, and say it once."""
        if not self.reason:
            self.reason = reason
            self.said.emit(f"The fast engine could not be compiled ({reason}); takes are played more slowly.")

    def stop(self) -> None:
        """The window is closed."""
        self._workers.close()
        self._process.kill()
        self._process.waitForFinished(500)


def _load() -> None:
    """Load what was compiled."""
    # half a second of loading that no start should wait for
    from leanstep import warm

    warm.load()
