"""Very many takes nobody would play, beside the window: what they show, once for a cause, each with its shortest take."""

from __future__ import annotations

import random
from dataclasses import dataclass

from leanstep.core.character.takes import Take
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.migration import behaves_alike
from leanstep.core.rehearsal.sweeping import Key, Sweep, never_seen, shorter, sweep, take_of
from leanstep.core.wording import counted, some
from leanstep.desk.session import Session
from leanstep.desk.stations.rehearse.found_table import FoundTable, Row
from leanstep.desk.widgets.basics import button

COLUMNS = {"State": (130, ""), "Layer": (90, ""), "What it does": (0, ""), "On tick": (90, "of its shortest take")}
TAKES, TICKS = 1000, 600
"""How many takes are made up, and how long each is at most."""
MOST_NAMED = 6


@dataclass(frozen=True)
class Swept:
    """What a sweep came to."""

    machine: Machine
    found: Sweep
    shown: tuple[tuple[Key, Take, int], ...]


class Sweeping(FoundTable):
    """Begins when it is asked to, says how far it is, and can be stopped; another seed makes up other takes."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, "What sweeps show", COLUMNS)
        self.takes = TAKES
        self.again = button(
            "Sweep again",
            "Make up other takes: buttons mashed, hands that wander, every button in every state",
            self.start,
        )
        self.top.addWidget(self.again)
        self._for: Machine | None = None
        self.work.ended.connect(self._show)

    def refresh(self) -> None:
        """What was found of another document does not hold any more."""
        if self.rows and self._for is not None and not behaves_alike(self._for, self.session.machine):
            self.fill([], "The character was changed; sweep again.")

    def start(self) -> None:
        """Begin to play, or stop that."""
        if self.work.busy:
            self.work.stop()
            self.fill([], "Stopped; nothing is said of what was not played.")
            self.again.setText("Sweep again")
            return
        machine, takes, seed = self.session.machine, self.takes, random.randrange(1 << 30)

        def work() -> Swept:
            found = sweep(machine, seed, takes, TICKS, self.work.telling(lambda done: f"{done} of {takes} takes …"))
            keys = sorted(key for key in found.seen if key[0] != "state")
            shown = [(key, shorter(machine, key, found.seen[key])) for key in keys]
            return Swept(machine, found, tuple((key, take_of(machine, key, one), one.ticks - 1) for key, one in shown))

        self.again.setText("Stop")
        self.work.start(work, f"0 of {takes} takes …")

    def _show(self, swept: Swept) -> None:
        self.again.setText("Sweep again")
        self._for = swept.machine
        if not behaves_alike(swept.machine, self.session.machine):
            self.fill([], "The character was changed meanwhile; sweep again.")
            return
        window = f"is left and entered again within {self.session.document.flicker_window:g} s"
        words = {"flicker": window, "expectation": "is shown while what it expects is false"}
        rows = [Row((key[2], key[1], words[key[0]], str(tick)), take) for key, take, tick in swept.shown]
        missing = [state for _, state in never_seen(swept.machine, swept.found)]
        never = f" Never seen: {some(missing, MOST_NAMED)}." if missing else " Every state was seen."
        self.fill(rows, f"{counted(swept.found.takes, 'take')}, {counted(swept.found.ticks, 'tick')}.{never}")
