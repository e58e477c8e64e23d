"""Steering on from elsewhere: a bookmark, another state, another place."""

from __future__ import annotations

import dataclasses

from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.migration import carried
from leanstep.core.rehearsal.saved_situations import in_state
from leanstep.core.rehearsal.situation import Situation
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.desk.simulation import Simulation


class Starts:
    """Where somebody steers on from."""

    def __init__(self, live: Simulation) -> None:
        self.live = live
        self._bookmark: tuple[Machine, Situation] | None = None
        live.session.opened.connect(self._opened)

    def _opened(self) -> None:
        """Another document is open."""
        self._bookmark = None

    def set_bookmark(self) -> None:
        """Remember this moment, to come back to."""
        self._bookmark = self.live.machine, self.live.situation
        self.live.said.emit("A bookmark is here; Ctrl+J comes back to it.")

    def come_back(self) -> None:
        """Steer on from the bookmark, in the character as it is now."""
        if self._bookmark is None:
            self.live.said.emit("There is no bookmark; Ctrl+B sets one.")
            return
        old, there = self._bookmark
        machine = self.live.session.machine
        self.live.go_on_from(carried(old, machine, there, Stepper(machine).first()))
        self.live.said.emit("Back at the bookmark; you steer on from there.")

    def start_in(self, layer: int, state: str) -> None:
        """Steer on in another state of a layer, as if it had just been entered; all else is as it was."""
        table = self.live.session.machine.layers[layer]
        self.live.go_on_from(in_state(self.live.session.machine, self.live.situation, table.name, state))
        self.live.said.emit(f"It is in {state} now; you steer on from there.")

    def start_at(self, x: float, y: float) -> None:
        """Steer on at another place of the course, standing still."""
        body = dataclasses.replace(
            self.live.situation.body, x=x, y=y, vx=0.0, vy=0.0, rise=0.0, lift=0.0, climbing=False
        )
        self.live.go_on_from(dataclasses.replace(self.live.situation, body=body))
        self.live.said.emit("The figure is put there; you steer on from there.")
