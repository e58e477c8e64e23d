"""How robust a take is: tried at other rates and with every change a little early or late, beside the window."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QPushButton

from leanstep.core.character.document import Character
from leanstep.core.character.takes import Take
from leanstep.core.errors import LeanStepError
from leanstep.core.rehearsal.robustness import Difference, differences
from leanstep.desk.background import Background

HOW = "How robust"


class RobustButton(QPushButton):
    """Tries the take that is asked for otherwise, or stops that; ``said``: how far it is, and what came of it."""

    said = Signal(str)

    def __init__(self, asked: Callable[[], tuple[Character, Take | None]]) -> None:
        super().__init__(HOW)
        self._asked = asked
        self.setToolTip("Try the take at other rates, and with every change up to 3 ticks early and late")
        self.work = Background()
        self.work.told.connect(lambda says: self.said.emit(says) if says else None)
        self.work.ended.connect(self._ended)
        self.work.failed.connect(self._failed)
        self.clicked.connect(self.try_or_stop)

    def try_or_stop(self) -> None:
        """Try the take otherwise, or stop that."""
        character, take = self._asked()
        if self.work.busy:
            self.work.stop()
            self._say("Stopped trying.")
        elif take is not None:
            self.setText("Stop trying")
            so_far = self.work.telling(lambda done: f"Trying the take otherwise: {done} variants so far …")
            self.work.start(lambda: list(differences(character, take, work=so_far)), "Trying the take otherwise …")

    def _say(self, outcome: str) -> None:
        self.setText(HOW)
        self.said.emit(outcome)

    def _failed(self, error: LeanStepError) -> None:
        self._say(str(error))

    def _ended(self, found: list[Difference]) -> None:
        if found:
            more = f" {len(found) - 1} more variants differ." if len(found) > 1 else ""
            first = found[0].sentence
            self._say(f"Not robust: {first[0].lower()}{first[1:]}.{more}")
        else:
            self._say("Robust: it does the same at every rate, and when a hand is a little early or late.")
