"""How robust a take is: tried at other rates and with every change a little early or late, beside the window."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QPushButton

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


class RobustButton(QPushButton):
    """Tries the take that is asked for otherwise, or stops that; ``said``: how far it is, and what came of it."""

    said = Signal(str)

    def __init__(self, asked: Callable[[], tuple[Character, Take | None]]) -> None:
        super().__init__("How robust")
        self._asked = asked
        self.setToolTip("Try the take at other rates, and with every change up to 3 ticks early and late")
        self.robust = Robust()
        self.robust.done.connect(self._tried)
        self.robust.ended.connect(self._ended)
        self.destroyed.connect(self.robust.close)
        self.clicked.connect(self.try_or_stop)

    def try_or_stop(self) -> None:
        """Try the take otherwise, or stop that."""
        character, take = self._asked()
        if self.robust.runs:
            self.robust.stop()
        elif take is not None:
            self.setText("Stop trying")
            self.robust.start(character, take)

    def _tried(self, done: int) -> None:
        if self.robust.runs:
            self.said.emit(f"Trying the take otherwise: {done} variants so far …")

    def _ended(self, found: list[Difference] | str | None) -> None:
        self.setText("How robust")
        if found is None:
            self.said.emit("Stopped trying.")
        elif isinstance(found, str):
            self.said.emit(found)
        elif found:
            more = f" {len(found) - 1} more variants differ." if len(found) > 1 else ""
            first = found[0].sentence
            self.said.emit(f"Not robust: {first[0].lower()}{first[1:]}.{more}")
        else:
            self.said.emit("Robust: it does the same at every rate, and when a hand is a little early or late.")
