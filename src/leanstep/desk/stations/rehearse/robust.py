"""How robust a take is: tried at other rates and with every change a little early or late, beside the window."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor

from PySide6.QtCore import QObject, Signal

from leanstep.core.character.document import Character
from leanstep.core.character.takes import Take
from leanstep.core.errors import LeanStepError
from leanstep.core.rehearsal.robustness import Difference, differences


class Robust(QObject):
    """``done`` tells how many variants were tried; ``ended`` the first differences of those that have one, a sentence when
    the take could not be played, or None when it was stopped."""

    done = Signal(int)
    ended = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self.runs = False
        self._stop = False
        self._pool = ThreadPoolExecutor(max_workers=1, thread_name_prefix="robust")

    def start(self, character: Character, take: Take) -> None:
        """Begin to try variants of a take."""
        self.runs, self._stop = True, False
        self._pool.submit(self._work, character, take)

    def stop(self) -> None:
        """Try no more of them."""
        self._stop = True

    def close(self) -> None:
        """Let go of the thread."""
        self._stop = True
        self._pool.shutdown(wait=False, cancel_futures=True)

    def _work(self, character: Character, take: Take) -> None:
        found: list[Difference] | str | None
        try:
            found = list(differences(character, take, self._progress))
        except LeanStepError as error:
            found = str(error)
        self.runs = False
        try:
            self.ended.emit(None if self._stop else found)
        except RuntimeError:  # the window was closed meanwhile
            return

    def _progress(self, done: int) -> bool:
        if not self._stop:
            try:
                self.done.emit(done)
            except RuntimeError:
                return False
        return not self._stop
