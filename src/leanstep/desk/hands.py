"""What hands do: keys, sticks and a controller's buttons with their times, and values that somebody sets for the game."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from time import monotonic

from leanstep.core.character.inputs import Controls
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.graph.machine import Machine
from leanstep.desk.devices import Devices, Vector
from leanstep.desk.presses import Presses

PAD = "pad:"
"""What the names of a controller's buttons begin with, among keys."""
OLDEST = 1.0
"""Seconds by which an event may be older than when it comes."""


class Hands:
    """What is held by hands; ``handles`` are the values of the game that somebody has set, ``raised`` its pulses of this tick,
    ``given`` what countdowns are given on it."""

    def __init__(self, controls: Controls) -> None:
        self.devices = Devices(controls)
        self.handles: dict[str, Symbolic] = {}
        self.raised: set[str] = set()
        self.given: dict[str, Symbolic] = {}
        self.stirred: Callable[[], None] = lambda: None
        """What is done as soon as hands do something else: a press has its time already, a stick is not pushed yet."""
        self._presses = Presses()
        self._late = float("inf")

    def key(self, name: str, down: bool, at: float | None = None) -> bool:
        """A key went down or up, at a time of :func:`time.monotonic` (now unless given); it counts on the tick it belongs to.
        Returns whether it steers something."""
        self._presses.put(monotonic() if at is None else at, name, down)
        self.stirred()
        return self.devices.knows(name)

    def pad(self, sticks: Mapping[str, Vector], buttons: Iterable[tuple[str, bool]], at: float | None = None) -> None:
        """A controller says where its sticks are, and which of its buttons have gone down or up."""
        for name, down in buttons:
            self._presses.put(monotonic() if at is None else at, PAD + name, down)
        self.stirred()
        self.devices.push_pad(sticks)

    def push(self, stick: str, x: float, y: float) -> None:
        """A stick is pushed on the screen."""
        self.stirred()
        self.devices.push(stick, x, y)

    def unplug(self) -> None:
        """The controller is gone: it holds nothing any more."""
        self.stirred()
        self._presses.forget(PAD)
        self.devices.unplug()

    def let_go(self) -> None:
        """Nothing is held any more."""
        self.stirred()
        self._presses.clear()
        self.devices.let_go()

    def clocked(self, stamp: int) -> float:
        """When an event came, by the milliseconds of the clock of whoever sent it: that clock is known by the event which came with
        the least delay."""
        now = monotonic()
        self._late = min(self._late, now - stamp / 1000)
        return max(now - OLDEST, min(now, stamp / 1000 + self._late))

    @property
    def waiting(self) -> bool:
        """Whether something that was pressed or let go waits for its tick."""
        return self._presses.waiting

    def take(self, until: float) -> None:
        """What was pressed and let go up to a time counts now."""
        for name, down in self._presses.take(until):
            if name.startswith(PAD):
                self.devices.hold_pad(name.removeprefix(PAD), down)
            elif down:
                self.devices.press(name)
            else:
                self.devices.release(name)

    def inputs(self, machine: Machine) -> dict[int, Symbolic]:
        """What the controls say, by symbol."""
        values = {**self.handles, **self.devices.values(), **dict.fromkeys(self.raised, True), **self.given}
        index = machine.index
        return {index[name]: value for name, value in values.items() if name in index}
