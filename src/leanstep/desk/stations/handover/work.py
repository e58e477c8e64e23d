"""Making what is handed over, beside the window."""

from __future__ import annotations

from collections.abc import Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path

from PySide6.QtCore import QObject, QTimer, Signal

from leanstep.core.deadline import Stopped, stoppable
from leanstep.core.errors import LeanStepError
from leanstep.core.formats.handover import FORMATS, Files, Source, hand_over, write

LOOKS = 30
"""Milliseconds between two looks at whether something was made."""


@dataclass
class Made:
    """What was made: ``files`` in memory, or ``paths`` where they were written; ``stopped``: not everything."""

    key: str = ""
    files: Files = field(default_factory=dict)
    paths: list[Path] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)
    stopped: bool = False


class Making(QObject):
    """Makes one lot of files at a time; a new one stops the one before.  ``told`` says what is made now (empty: nothing any more),
    ``made`` gives a :class:`Made`, ``failed`` a :class:`LeanStepError`."""

    told = Signal(str)
    made = Signal(object)
    failed = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self._pool = ThreadPoolExecutor(max_workers=1, thread_name_prefix="handing over")
        self._coming: Future[Made] | None = None
        self._stops = self._says = ""
        self._number = 0
        self._timer = QTimer(self, interval=LOOKS)
        self._timer.timeout.connect(self._look)

    @property
    def busy(self) -> bool:
        """Whether something is being made."""
        return self._coming is not None

    def start(self, source: Source, wanted: Sequence[str], folder: Path | None, force: bool = False) -> None:
        """Make what is wanted; without a folder only in memory."""
        self.stop()
        self._number += 1
        number = self._number
        self._coming = self._pool.submit(self._make, number, source, list(wanted), folder, force)
        self._timer.start()

    def stop(self) -> None:
        """What is being made is not made any further."""
        self._number += 1
        self._coming = None
        self._timer.stop()
        self._tell("")

    def close(self) -> None:
        """Let go of the thread."""
        self.stop()
        self._pool.shutdown(wait=False, cancel_futures=True)

    def _make(self, number: int, source: Source, wanted: list[str], folder: Path | None, force: bool) -> Made:
        made = Made(wanted[0] if len(wanted) == 1 else "")
        with stoppable(lambda: self._number != number):
            try:
                self._says = FORMATS[wanted[0]].title if wanted else ""
                for place, (_, files) in enumerate(hand_over(source, wanted), 1):
                    made.files |= files
                    self._says = FORMATS[wanted[place]].title if place < len(wanted) else ""
                made.notes = source.notes
                if folder is not None and self._number == number:
                    made.paths = write(made.files, folder, force)
            except Stopped:
                made.stopped = True
        return made

    def _look(self) -> None:
        coming = self._coming
        if coming is None:
            return
        if not coming.done():
            self._tell(self._says)
            return
        self._coming = None
        self._timer.stop()
        self._tell("")
        try:
            made = coming.result()
        except LeanStepError as error:
            self.failed.emit(error)
        else:
            self.made.emit(made)

    def _tell(self, text: str) -> None:
        if text != self._stops:
            self._stops = text
            self.told.emit(text)
