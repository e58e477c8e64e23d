"""A game's log beside what Lean Step does with the same inputs: the first difference, why, and what explains it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QFileDialog, QFrame, QHBoxLayout, QScrollArea

from leanstep.core.character.edits import free_name
from leanstep.core.character.storage import read_bytes
from leanstep.core.character.takes import Take
from leanstep.core.errors import LeanStepError
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.comparing.difference import Difference, compare, summary
from leanstep.core.rehearsal.comparing.logs import Log, log_of
from leanstep.core.rehearsal.comparing.situation_search import begun
from leanstep.core.rehearsal.takes import recorded
from leanstep.core.work import Work
from leanstep.desk.background import Background
from leanstep.desk.session import Session
from leanstep.desk.widgets.basics import button, label

HEIGHT = 104
"""Of the words, in pixels."""


def text_of(path: Path) -> str:
    """The text of a file; raises :class:`LeanStepError` when it is none."""
    try:
        return read_bytes(path).decode("utf-8-sig")
    except UnicodeDecodeError:
        raise LeanStepError(path.name, "it is not UTF-8 text", "Write CSV or JSON in UTF-8.") from None


class Comparison(QFrame):
    """Reads a log, makes a take of its inputs (``wanted``), and tells the difference.  ``changed``: the game's ribbon is another."""

    wanted = Signal(object)
    changed = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("card")
        self.session = session
        self.log: Log | None = None
        self.name = ""
        self.difference: Difference | None = None
        self.work = Background()
        self.work.ended.connect(self._ended)
        self.work.failed.connect(self._failed)
        self.work.told.connect(self._told)
        self.words = label("", wrap=True)
        self.words.setAccessibleName("Comparison with the game")
        self.stop_button = button("Stop", "Look for no further explanation", self._stop)
        self.away_button = button("Take the log away", "Show the take without the game's ribbon", self.forget)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(self.words)
        self.words.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.setMinimumHeight(HEIGHT)
        row = QHBoxLayout(self)
        row.setContentsMargins(6, 4, 8, 4)
        row.addWidget(scroll, 1)
        row.addWidget(self.stop_button)
        row.addWidget(self.away_button)
        session.opened.connect(self.forget)
        session.changed.connect(self._again)
        self.hide()

    def ask(self) -> None:
        """Ask for a log and compare."""
        name, _ = QFileDialog.getOpenFileName(
            self, "A game's log", str(self.session.last_folder), "Logs (*.csv *.json);;All files (*)"
        )
        if name:
            self.bring_in(Path(name))

    def bring_in(self, path: Path) -> None:
        """Compare with a log; what is wrong with it is shown."""
        self.session.bring_in(lambda paths: self.show_log(text_of(paths[0]), paths[0]), [path])

    def show_log(self, text: str, path: Path) -> None:
        """Compare with a log; raises :class:`LeanStepError` when it cannot be read."""
        machine = self.session.machine
        log = log_of(text, path.name, machine)
        self.forget()
        self.name = free_name(f"log {path.stem}", [take.name for take in self.session.document.takes])
        if log.first == 0:
            self._make_take(machine, log)
            return
        self._beside(lambda work: (machine, begun(machine, log, work)), "Searching where it begins", "situations")
        self.changed.emit()

    def _make_take(self, machine: Machine, log: Log) -> None:
        """Ask for the take of what went in, from where the log begins."""
        self.log = log
        start = None if log.begins is None else log.start(machine)
        self.wanted.emit(recorded(machine, self.name, log.inputs, "free", start))

    def _beside(self, make: Callable[[Work], object], says: str, of: str) -> None:
        """Do something beside the window, saying how many have been tried."""
        so_far = self.work.telling(lambda tried: f"{says}: {tried} {of} tried …")
        self.work.start(lambda: make(so_far), f"{says} …")

    def is_log(self, text: str) -> bool:
        """Whether a text is a log, and not a take: it says in which states layers are."""
        names = {layer.name for layer in self.session.machine.layers}
        if text.lstrip()[:1] == "{":
            return '"leanstep_take"' not in text
        return bool(names & {column.strip() for column in text.partition("\n")[0].split(",")})

    def states(self, take: Take | None) -> Sequence[Sequence[int] | None]:
        """The game's states to be shown with a take, layer by layer."""
        mine = take is not None and self.log is not None and take.name == self.name
        self.setVisible(mine or self.searching)
        return self.log.states if mine and self.log is not None else ()

    @property
    def searching(self) -> bool:
        """Whether it is searched where a log begins."""
        return self.log is None and self.work.busy

    def forget(self) -> None:
        """Take the log away, or search no longer where it begins; the take stays."""
        known = self.log is not None or self.searching
        self.work.stop()
        if known:
            self.log = self.difference = None
            self.hide()
            self.changed.emit()

    def close_work(self) -> None:
        """The window closes."""
        self.work.close()

    def _again(self) -> None:
        """Compare with the document as it is now."""
        log, machine = self.log, self.session.machine
        if log is None:
            return
        if self.name not in [take.name for take in self.session.document.takes]:
            self.forget()
            return
        if any(
            len(states or ()) and max(states or ()) >= len(layer.states)
            for states, layer in zip(log.states, machine.layers)
        ):
            self.forget()
            return
        self.difference = None
        self._beside(lambda work: compare(machine, log, work), "Looking for what explains it", "explanations")

    def _told(self, text: str) -> None:
        self.stop_button.setVisible(bool(text))
        if text:
            self.words.setText(text)

    def _ended(self, found: Difference | tuple[Machine, Log] | None) -> None:
        if isinstance(found, tuple):
            self._make_take(*found)
            return
        self.difference = found
        assert self.log is not None
        self.words.setText("\n".join(summary(found, self.log)))

    def _failed(self, error: LeanStepError) -> None:
        if self.log is None:
            self.hide()
            self.changed.emit()
            self.session.complained.emit(error)
            return
        self.words.setText(str(error))

    def _stop(self) -> None:
        if self.searching:
            self.forget()
            return
        self.work.stop()
        self.words.setText("Stopped; the red stretches of the game's ribbon are where it differs.")
