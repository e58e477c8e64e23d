"""The actions of a character: how soon each can hit, for how long, and who is free first when it does.

An action is a clip with an active phase, in a state that shows it.  What the clip says (:mod:`leanstep.core.clips.phases`) stands
beside what the graph lets go earlier: the first tick on which some value of the controls makes it take a transition that it does not
take without, or on which it takes one by itself.
"""

from __future__ import annotations

import csv
import io
import itertools
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from leanstep.core.bearings import bearing_of, push_of
from leanstep.core.character.clips import Clip, Strike
from leanstep.core.clips.phases import Timed, timed
from leanstep.core.conditions import expression as x
from leanstep.core.conditions.evaluation import Symbolic
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.wording import counted, listed

LONGEST, BEYOND = 600, 60
"""Ticks of an action in which it is looked for a way out, and those after its last active one where it is played again and again."""
Inputs = dict[int, Symbolic]
HEADINGS = (
    "clip",
    "shown by",
    "starts in",
    "active for",
    "recovers in",
    "on hit",
    "on guard",
    "let go after",
    "on hit if let go",
    "on guard if let go",
)
"""What a table of actions tells of each; advantages are those of the first active tick."""


@dataclass(frozen=True)
class LetGo:
    """A state is left ``tick`` ticks after its entry, by the layer's transition ``way``; ``by_hand``: some value of the controls does
    it, and without it is not left."""

    tick: int
    way: int
    by_hand: bool


@dataclass(frozen=True)
class Action:
    """A clip that acts, ``timed`` at its written speed; ``states`` show it (layer and state), ``let_go`` is the earliest way out of
    them after the first active tick that comes before the clip is free."""

    clip: Clip
    timed: Timed
    states: tuple[tuple[int, int], ...] = ()
    let_go: LetGo | None = None

    @property
    def strike(self) -> Strike:
        """What it does to whom it hits."""
        return self.clip.strike or Strike()

    def advantages(self, stun: int, let_go: bool = False) -> tuple[int, int] | None:
        """Those of contact on the first and on the last active tick; None where it is never free."""
        free = self.let_go.tick if let_go and self.let_go is not None else self.timed.free
        if free is None:
            return None
        when = replace(self.timed, free=free)
        ticks = (when.starts_in, max(when.starts_in, min(when.last, free - 1)))
        first, last = (when.advantage(tick, stun, self.strike.freeze) for tick in ticks)
        assert first is not None and last is not None
        return first, last

    def row(self, machine: Machine) -> tuple[str | int | None, ...]:
        """A line of a table, as :data:`HEADINGS` say."""

        def first(stun: int, let_go: bool = False) -> int | None:
            found = self.advantages(stun, let_go)
            return None if found is None or (let_go and self.let_go is None) else found[0]

        names = [machine.layers[layer].states[state] for layer, state in self.states]
        return (
            self.clip.name,
            ", ".join(names),
            self.timed.starts_in,
            sum(end - begin for begin, end in self.timed.active),
            self.timed.recovers_in,
            first(self.strike.stun),
            first(self.strike.guard_stun),
            self.let_go.tick if self.let_go is not None else None,
            first(self.strike.stun, let_go=True),
            first(self.strike.guard_stun, let_go=True),
        )


def action_of(machine: Machine, clip: Clip) -> Action | None:
    """A clip as an action; None for one that has no active phase, or none that a tick meets."""
    when = timed(clip)
    if when is None:
        return None
    states = tuple(
        (layer, number)
        for layer, written in enumerate(machine.character.layers)
        for number, state in enumerate(written.states)
        if state.clip == clip.name
    )
    ways = [found for layer, state in states if (found := let_go(machine, layer, state, when)) is not None]
    return Action(clip, when, states, min(ways, key=lambda one: one.tick, default=None))


def actions(machine: Machine) -> list[Action]:
    """Every action of a character, in the order of its clips."""
    found = (action_of(machine, clip) for clip in machine.character.clips if clip.phases)
    return [one for one in found if one is not None]


def let_go(machine: Machine, layer: int, state: int, when: Timed) -> LetGo | None:
    """The first way out of a state, entered with everything else at rest, after the first active tick and before its clip is free.

    Buttons are tried alone and in pairs, sticks in eight directions, as far as its conditions ask for them.
    """
    found = _first_way(machine, layer, state, when)
    return found if found is not None and found.tick > when.starts_in else None


def left_early(machine: Machine, layer: int, state: int, when: Timed) -> LetGo | None:
    """The way by which a state is left before its clip is active, whatever comes from outside; None where it is not."""
    found = _first_way(machine, layer, state, when)
    if found is None or found.by_hand or found.tick > when.starts_in:
        return None
    asked = asked_by(machine, [machine.layers[layer].ways[state][_place(machine, layer, state, found.way)].condition])
    return None if any(machine.symbols[index].free for index in asked) else found


def _place(machine: Machine, layer: int, state: int, way: int) -> int:
    return [one.index for one in machine.layers[layer].ways[state]].index(way)


def _first_way(machine: Machine, layer: int, state: int, when: Timed) -> LetGo | None:
    """The first way out of a state, by itself or, after the first active tick, by hand; looked for once."""
    key = (_first_way, layer, state, when.starts_in, when.free)
    return machine.once(key, lambda: _searched(machine, layer, state, when))


def _searched(machine: Machine, layer: int, state: int, when: Timed) -> LetGo | None:
    written = machine.layers[layer]
    layers = (*machine.layers[:layer], replace(written, start=state), *machine.layers[layer + 1 :])
    stepper = Stepper(replace(machine, layers=layers), free=True)
    # the body stands on the floor
    resting: Inputs = {index: one.alone for index, one in enumerate(machine.symbols) if one.owner == "body"}
    now, tried = stepper.first(), controls_of(machine, layer, state)
    for tick in range(1, min(when.last + BEYOND if when.free is None else when.free, LONGEST)):
        by_itself = stepper.true_when_tried(now, resting, layer)
        if by_itself:
            return LetGo(tick, by_itself[0], False)
        for inputs in tried if tick > when.starts_in else ():
            ways = stepper.true_when_tried(now, resting | inputs, layer)
            if ways:
                return LetGo(tick, ways[0], True)
        now = stepper.step(now, resting).situation
    return None


def controls_of(machine: Machine, layer: int, state: int) -> list[Inputs]:
    """Values of the controls that the ways out of a state may ask for; listed once."""

    def made() -> list[Inputs]:
        asked = asked_by(machine, [way.condition for way in machine.layers[layer].ways[state]])
        alone, pairs = presses_among(machine, asked)
        pushes = pushes_among(machine, asked)
        return [*alone, *pairs, *pushes, *({**press, **push} for press in alone for push in pushes)]

    return machine.once((controls_of, layer, state), made)


def presses_among(machine: Machine, asked: set[int]) -> tuple[list[Inputs], list[Inputs]]:
    """The buttons among some symbols held, alone and in pairs."""
    held = [index for index in sorted(asked) if machine.symbols[index].kind == "button"]
    pairs: list[Inputs] = [{one: True, other: True} for one, other in itertools.combinations(held, 2)]
    return [{one: True} for one in held], pairs


def pushes_among(machine: Machine, asked: set[int]) -> list[Inputs]:
    """The sticks among some symbols pushed in eight directions."""
    return [push for stick in machine.sticks if asked & set(stick) for push in _pushes(stick)]


def asked_by(machine: Machine, conditions: Sequence[x.Expression | None]) -> set[int]:
    """The symbols that conditions read, also through memories and formulas."""
    formulas = dict(machine.formulas)
    waiting, asked, memories = list(conditions), set[int](), set[int]()
    while waiting:
        condition = waiting.pop()
        if condition is None:
            continue
        new = x.symbols_in(condition) - asked
        waiting += [formulas[index] for index in new if index in formulas]
        asked |= new
        read = {part.index for part in x.parts(condition) if isinstance(part, x.Remembered)}
        waiting += [machine.memories[index].operand for index in read - memories]
        memories |= read
    return asked


def _pushes(stick: Sequence[int]) -> Iterator[Inputs]:
    for across, up in itertools.product((-1.0, 0.0, 1.0), repeat=2):
        if across or up:
            yield dict(zip(stick, (across, up, push_of(across, up), bearing_of(across, up))))


def sentence(action: Action) -> str:
    """How an action is timed, and who is free first, in words."""
    when, strike = action.timed, action.strike
    parts = [f"starts in {when.starts_in}"]
    for number, (begin, end) in enumerate(when.active):
        after = f" after {begin - when.active[number - 1][1]}" if number else ""
        parts.append(f"is active {'again ' if number else ''}for {end - begin}{after}")
    if when.recovers_in is None:
        return f"{', '.join(parts)} ticks, and is played again and again"
    parts.append(f"recovers in {counted(when.recovers_in, 'tick')}")
    told = ", ".join(parts)
    told += f": {listed([_weighed(action, strike.stun, 'on hit'), _weighed(action, strike.guard_stun, 'on guard')])}"
    if action.let_go is not None:
        early = [
            _weighed(action, stun, words, let_go=True)
            for stun, words in ((strike.stun, "on hit"), (strike.guard_stun, "on guard"))
        ]
        told += f"; let go after {action.let_go.tick}: {listed(early)}"
    return told


def _weighed(action: Action, stun: int, words: str, let_go: bool = False) -> str:
    found = action.advantages(stun, let_go)
    assert found is not None
    first, last = map(signed, found)
    return f"{first} {words}" if first == last else f"{first} to {last} {words}"


def signed(number: int) -> str:
    """An advantage in words."""
    return "even" if not number else f"{'plus' if number > 0 else 'minus'} {abs(number)}"


def actions_csv(machine: Machine) -> str:
    """A table of all actions: :data:`HEADINGS`, then a line each."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerows([HEADINGS, *(one.row(machine) for one in actions(machine))])
    return out.getvalue()
