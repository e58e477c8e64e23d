"""Asks why a state is not entered, on the tick that is looked at or the last one, and says why the transition of a tick was taken."""

from __future__ import annotations

from msgspec.structs import replace
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from leanstep.core.character.edits import append, free_name
from leanstep.core.character.takes import Take
from leanstep.core.errors import LeanStepError
from leanstep.core.rehearsal.answers import Answers
from leanstep.core.rehearsal.changed_inputs import Changed, smallest_change
from leanstep.core.rehearsal.traces import Trace
from leanstep.desk.background import Background
from leanstep.desk.session import Session
from leanstep.desk.simulation import Simulation
from leanstep.desk.widgets.basics import DropDown, button, fill_combo, label

ASK = "Why not …"


class WhyNot(QWidget):
    """A list of states, and the answer below it.  While a tick is looked at the answer follows it; else it is about the tick on
    which it was asked."""

    def __init__(self, session: Session, live: Simulation) -> None:
        super().__init__()
        self.session, self.live = session, live
        self._about: tuple[object, ...] = ()
        self._answers: Answers | None = None
        self._asked: tuple[Trace, Take, int, int, int] | None = None
        self.states = DropDown()
        self.states.setAccessibleName("Why not")
        self.states.setToolTip(
            "Choose a state: which part of a condition keeps the figure from entering it now, and since when"
        )
        self.states.activated.connect(lambda at: self.ask())
        self.answer = label("", wrap=True)
        self.answer.hide()
        self.way = label("", wrap=True)
        self.search = button(
            "What gets there?", "Look for the smallest change of what was done that leads there", self._search
        )
        self.play = button("Play it", "Play what gets there", self._play)
        self.keep = button("Keep it", "Keep what gets there as a take, with what it expects", self._keep)
        self.found: Changed | None = None
        self.work = Background()
        self.work.told.connect(lambda says: self.way.setText(says) if says else None)
        self.work.ended.connect(self._found)
        self.work.failed.connect(session.complained)
        buttons = QHBoxLayout()
        for one in (self.search, self.play, self.keep):
            one.hide()
            buttons.addWidget(one)
        buttons.addStretch(1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 4, 0)
        column.setSpacing(4)
        column.addWidget(self.states)
        column.addWidget(self.answer)
        column.addWidget(self.way)
        column.addLayout(buttons)
        session.editing.follow(self, self.refresh, session.changed)
        live.ticked.connect(self._tick)
        live.mode_changed.connect(self._tick)
        self.refresh()

    @property
    def _places(self) -> list[tuple[int, int]]:
        """Layers and states in the order in which they are listed."""
        return [
            (layer, at) for layer, table in enumerate(self.session.machine.layers) for at in range(len(table.states))
        ]

    def refresh(self) -> None:
        """List the states of the document as it is now; what was answered about another one is gone."""
        layers = self.session.machine.layers
        names = [
            layers[layer].states[at] if len(layers) == 1 else f"{layers[layer].name}: {layers[layer].states[at]}"
            for layer, at in self._places
        ]
        fill_combo(self.states, [ASK, *names], ASK)
        self._say([])

    def _tick(self) -> None:
        """Another tick may be looked at."""
        looking = self.live.mode == "looking"
        about = (self.live.take, self.live.position) if looking else ()
        if about != self._about:
            self._about = about
            if looking or self.states.currentIndex() == 0:
                self.ask()

    def ask(self) -> None:
        """Answer what is asked about the tick of now, and say what was taken on a tick that is looked at."""
        live, said = self.live, list[str]()
        wanted = self.states.currentIndex() - 1
        if live.machine is not self.session.machine or (wanted < 0 and live.mode != "looking"):
            self._say([])
            return
        try:
            trace, take, tick = live.played()
        except LeanStepError as error:
            self._say([error.reason])
            return
        answers = self._answers
        if answers is None or answers.trace is not trace:
            answers = self._answers = Answers(trace, take)
        if live.mode == "looking":
            for layer in range(len(trace.machine.layers)):
                taken = answers.why(tick, layer)
                if taken is not None:
                    true = " and ".join(
                        part.told(tick, self.session.document.rate) for part in taken.parts if part.true
                    )
                    said.append(f"{taken.name} was taken: {true or 'it asks for nothing'}.")
        if wanted >= 0:
            self._asked = trace, take, tick, *self._places[wanted]
            said += answers.why_not(tick, *self._places[wanted]).sentences
        self._say(said)
        self.search.setVisible(wanted >= 0)

    # --- what gets there

    def _search(self) -> None:
        """Look for the smallest change that leads there, beside the window."""
        if self._asked is not None:
            asked = self._asked
            self.work.start(lambda: smallest_change(*asked), "Trying what else could have been done …")

    def _found(self, found: Changed | None) -> None:
        self.found = found
        said = (
            f"{found.sentence}."
            if found is not None
            else "No small change that was tried gets there; that proves nothing."
        )
        self.way.setText(said)
        self.way.show()
        self.play.setVisible(found is not None)
        self.keep.setVisible(found is not None)

    def _play(self) -> None:
        if self.found is not None:
            try:
                self.live.play(self.found.take)
            except LeanStepError as error:
                self.session.complained.emit(error)

    def _keep(self) -> None:
        if self.found is None:
            return
        names = [take.name for take in self.session.document.takes]
        take = replace(self.found.take, name=free_name(self.found.take.name, names))
        self.session.edit(f"kept {take.name}", lambda document: append(document, ("takes",), take))
        self.session.said.emit(f"Kept {take.name}; it expects to enter that state.")

    def close_work(self) -> None:
        """The window closes."""
        self.work.close()

    def _say(self, sentences: list[str]) -> None:
        self.answer.setText("\n".join(sentences))
        self.answer.setVisible(bool(sentences))
        self.work.stop()
        self.found = None
        for part in (self.way, self.search, self.play, self.keep):
            part.hide()
