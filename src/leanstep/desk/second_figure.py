"""Somebody else on the course while the character is steered or a take plays: stands, guards, walks in, acts, or is steered."""

from __future__ import annotations

from collections import deque
from dataclasses import dataclass
from typing import Literal

from msgspec.structs import replace

from leanstep.core.character.takes import SecondFigure
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.contact import decided
from leanstep.core.rehearsal.migration import carried
from leanstep.core.rehearsal.pair_traces import Contact, Measured, Taken, expected, what_ate
from leanstep.core.rehearsal.second_figures import changes_of_second, figure_of, noted, second_machine
from leanstep.core.rehearsal.situation import Situation, Step
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.takes import inputs_of, recorded

Does = Literal["stands", "guards", "walks in", "steered"] | str
"""What it does: one of these, or ``take NAME``."""
Inputs = dict[int, Symbolic]
NEAR = 1.2
"""How many widths of bodies apart it stands still when it walks in."""
MOST = 60
"""Contacts that are remembered."""


@dataclass
class Seen:
    """A contact while it is measured: its tick is one since both were put back, ``stay`` how long the state that strikes had been
    shown, and ``free`` when each figure came to be free."""

    contact: Contact
    stay: int
    free: list[int | None]
    told: bool = False


class SecondOnCourse:
    """The second figure beside the live one, of a ``machine``; ``written`` is how a take holds it.

    Raises
    ------
    LeanStepError : its file cannot be opened, or does not go with the character.
    """

    def __init__(self, machine: Machine, written: SecondFigure, does: Does = "stands") -> None:
        self.written, self.does = written, does
        self.own = figure_of(machine)
        self.figure = figure_of(second_machine(machine, written))
        self.contacts: deque[Seen] = deque(maxlen=MOST)
        self._taken: deque[Taken] = deque(maxlen=MOST)
        self.rows: list[Inputs] = []
        """What was set of it, tick by tick, since it was put back."""
        self.put_back()

    def put_back(self) -> None:
        """Stand where it is written, with nothing under way."""
        self.side = self.figure.first(self.written.x, self.written.y, self.written.facing == "left")
        self._own = self.own.begun(Stepper(self.own.machine).first())
        self.contacts.clear()
        self.rows = []
        self.tick = 0
        self._taken.clear()
        self._states = self._own.situation.states, self.side.situation.states
        self._take = self._inputs_of_take()

    def go_on_as(self, before: SecondOnCourse) -> None:
        """Be where another was, whose character or this one's has been edited."""
        old, new = before.figure.machine, self.figure.machine
        now = carried(old, new, before.side.situation, self.side.situation)
        self.side = self.figure.begun(now)

    def recorded(self, ticks: int) -> SecondFigure:
        """How a take holds it, with what was set of it on its last ticks."""
        machine = self.figure.machine
        made = recorded(machine, "second", self.rows[-ticks:] if ticks else [])
        return noted(self.own.machine, replace(self.written, changes=made.changes))

    def _inputs_of_take(self) -> list[Inputs]:
        machine = self.figure.machine
        if self.does == "written":
            rows: list[Inputs] = []
            for at, index, value in changes_of_second(machine, self.written):
                rows += [{} for _ in range(at + 1 - len(rows))]
                rows[at][index] = value
            return rows
        name = self.does.removeprefix("take ")
        take = next((one for one in machine.character.takes if f"take {one.name}" == self.does and name), None)
        return inputs_of(machine, take) if take is not None and take.world == "body" else []

    # --- a tick

    def with_due(self, inputs: Inputs) -> Inputs:
        """What is set of the live figure, with what contact raises."""
        return {**self._own.due.given, **inputs}

    def after(self, step: Step, hands: Inputs) -> Step:
        """One tick of the second figure beside a step of the live one, and what contact makes of that."""
        step = self.own.settled(self._own, step)
        given = self._given(step.situation, hands)
        self.rows.append(given)
        other = self.figure.step(self.side, given)
        met = decided((self.own, self.figure), (self._own, self.side), (step, other))
        self._own, self.side = met.sides
        self.tick += 1
        for who in (0, 1):
            stays = met.sides[who].situation.stays
            self.contacts.extend(
                Seen(Contact(self.tick, who, one), stays[one.layer], [None, None]) for one in met.touches[who]
            )
        before = self._states
        self._states = met.sides[0].situation.states, met.sides[1].situation.states
        self._taken.extend(
            Taken(self.tick, who, layer, before[who][layer], way)
            for who, one in enumerate((step, other))
            for layer, way in enumerate(one.fired)
            if way >= 0
        )
        self._measure()
        return step

    def _given(self, own: Situation, hands: Inputs) -> Inputs:
        machine = self.figure.machine
        if self.does == "steered":
            return hands
        if self.does == "guards" and not self.tick and "braced" in machine.index:
            return {machine.index["braced"]: True}
        if self.does == "walks in":
            return self._walk(own)
        return self._take[self.tick] if self.tick < len(self._take) else {}

    def _walk(self, own: Situation) -> Inputs:
        by = self.figure.machine.steered_by["stick_x"]
        if by < 0:
            return {}
        apart = own.body.x - self.side.situation.body.x
        near = (self.own.machine.character.body.width + self.figure.machine.character.body.width) / 2 * NEAR
        return {by: 0.0 if abs(apart) <= near else 1.0 if apart > 0 else -1.0}

    def _measure(self) -> None:
        now = self._own.situation, self.side.situation
        for seen in self.contacts:
            for who, figure in enumerate((self.own, self.figure)):
                if seen.free[who] is None and self.tick > seen.contact.tick and figure.is_free(now[who]):
                    seen.free[who] = self.tick

    # --- what is seen

    @property
    def touching(self) -> Contact | None:
        """A contact of a moment ago."""
        moment = self.own.machine.character.rate * 0.4
        last = self.contacts[-1].contact if self.contacts else None
        return last if last is not None and self.tick - last.tick < moment else None

    def told(self) -> tuple[Measured, str] | None:
        """The next contact of which both figures are free again, and why that is not as the clips say; each is told once."""
        seen = next((one for one in self.contacts if not one.told and None not in one.free), None)
        if seen is None:
            return None
        seen.told = True
        who, figures = seen.contact.who, (self.own, self.figure)
        free = seen.free[who], seen.free[1 - who]
        measured = Measured(seen.contact, free, expected(figures[who].machine, seen.contact, seen.stay))
        same = measured.computed in (None, measured.advantage)
        return measured, "" if same else what_ate(figures, measured, self._taken)
