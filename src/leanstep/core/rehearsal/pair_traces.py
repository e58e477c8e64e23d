"""What two figures did on one course, tick by tick, and who was free first after each contact."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.actions import action_of
from leanstep.core.rehearsal.contact import Figure, Side, Touch, meet
from leanstep.core.rehearsal.situation import Setting
from leanstep.core.rehearsal.step_trace import StepTrace, spread
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.traces import Trace


@dataclass(frozen=True)
class Contact:
    """A strike of figure ``who`` (0 or 1) that met the other on a tick."""

    tick: int
    who: int
    touch: Touch

    @property
    def words(self) -> str:
        """What happened."""
        return f"{self.touch.clip} {'is guarded' if self.touch.guarded else 'hits'}"

    @property
    def told(self) -> str:
        """The same, seen from figure 0."""
        return self.words if self.who == 0 else f"the other’s {self.words}"

    @property
    def short(self) -> str:
        """The same in a word."""
        return "guarded" if self.touch.guarded else "hit"


@dataclass(frozen=True)
class Measured:
    """Who was free first after a contact: the ticks on which the striking and the struck figure were (None: not until the end), and
    those on which they are as the clips say."""

    contact: Contact
    free: tuple[int | None, int | None]
    expected: tuple[int, int] | None

    @property
    def advantage(self) -> int | None:
        """By how many ticks the striking figure was free before the struck one."""
        striking, struck = self.free
        return None if striking is None or struck is None else struck - striking

    @property
    def computed(self) -> int | None:
        """The same as the clips say."""
        return None if self.expected is None else self.expected[1] - self.expected[0]


class Taken(NamedTuple):
    """A transition that figure ``who`` took in a layer on a tick, from a state."""

    tick: int
    who: int
    layer: int
    state: int
    way: int


@dataclass
class PairTrace:
    """Two figures as far as they have been stepped; ``begun`` are they before tick 0."""

    figures: tuple[Figure, Figure]
    begun: tuple[Side, Side]
    contacts: list[Contact] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.traces = tuple(
            Trace(figure.machine, side.situation, StepTrace(Stepper(figure.machine), start=side.situation))
            for figure, side in zip(self.figures, self.begun)
        )

    def play(self, changes: tuple[Sequence[Setting], Sequence[Setting]], ticks: int) -> Iterator[int]:
        """Play both from the start, yielding the ticks done."""
        self.contacts.clear()
        sides, rows = self.begun, (spread(changes[0], ticks), spread(changes[1], ticks))
        for trace in self.traces:
            trace.steps.clear()  # type: ignore[union-attr]
        for tick, inputs in enumerate(zip(*rows)):
            met = meet(*self.figures, sides, (inputs[0], inputs[1]))
            sides = met.sides
            for trace, step in zip(self.traces, met.steps):
                trace.steps.append(step)  # type: ignore[union-attr]
            self.contacts += [Contact(tick, who, one) for who in (0, 1) for one in met.touches[who]]
            yield tick + 1

    def measured(self, contact: Contact) -> Measured:
        """Who was free first after a contact."""
        free = self._free(contact.who, contact.tick), self._free(1 - contact.who, contact.tick)
        return Measured(contact, free, self._expected(contact))

    def told(self, contact: Contact) -> dict[str, str | int | None]:
        """A contact in words and numbers, as it stands in traces."""
        found = self.measured(contact)
        return {
            "tick": contact.tick,
            "who": self.figures[contact.who].machine.character.name,
            "clip": contact.touch.clip,
            "contact": "guarded" if contact.touch.guarded else "hit",
            "advantage": found.advantage,
            "computed": found.computed,
            "because": self.differs(found) or None,
        }

    def differs(self, measured: Measured) -> str:
        """Why an advantage is not what the clips say: which transition ate the ticks, in words; empty where it is."""
        if measured.expected is None or measured.advantage in (None, measured.computed):
            return ""
        taken = [
            Taken(tick, who, layer, trace.after(tick).states[layer], way)
            for who, trace in enumerate(self.traces)
            for tick in range(measured.contact.tick + 1, len(trace.steps))
            for layer, way in enumerate(trace.steps[tick].fired)
            if way >= 0
        ]
        return what_ate(self.figures, measured, taken)

    def _free(self, who: int, after: int) -> int | None:
        """The first tick after another on which a figure is free."""
        steps = self.traces[who].steps
        ticks = range(after + 1, len(steps))
        return next((tick for tick in ticks if self.figures[who].is_free(steps[tick].situation)), None)

    def _expected(self, contact: Contact) -> tuple[int, int] | None:
        """When both are free as the clip says, for contact on this tick of it."""
        now = self.traces[contact.who].steps[contact.tick].situation
        machine = self.figures[contact.who].machine
        return expected(machine, contact, now.stays[contact.touch.layer])


def expected(machine: Machine, contact: Contact, stay: int) -> tuple[int, int] | None:
    """When both figures are free as the clips say, for contact after a ``stay`` in the state that strikes."""
    clip = next(one for one in machine.character.clips if one.name == contact.touch.clip)
    action = action_of(machine, clip)
    if action is None:
        return None
    strike = contact.touch.strike
    stun = strike.guard_stun if contact.touch.guarded else strike.stun
    found = action.timed.frees(stay, stun, strike.freeze)
    begun = contact.tick - stay
    return None if found is None else (begun + found[0], begun + found[1])


def what_ate(figures: tuple[Figure, Figure], measured: Measured, taken: Iterable[Taken]) -> str:
    """The transition, of those that were taken since a contact, that made an advantage another than the clips say, in words."""
    striking, assumed = measured.contact.who, measured.expected
    own = assumed is not None and measured.free[0] != assumed[0]
    who, last = (striking, measured.free[0]) if own else (1 - striking, measured.free[1])
    between = [one for one in taken if one.who == who and last is not None and measured.contact.tick < one.tick <= last]
    role = "who strikes" if own else "who is struck"
    if not between:
        return f"something else than a transition of {role} ate the ticks"
    # an action ends with the first way out of it, being struck with the last
    one = between[0] if own else between[-1]
    machine = figures[who].machine
    names = machine.layers[one.layer].states
    to = machine.character.layers[one.layer].transitions[one.way].to
    return f"{names[one.state]} → {to} of {role}, on tick {one.tick}, ate the ticks"
