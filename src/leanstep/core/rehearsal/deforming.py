"""Squash and lean over time: how a figure is drawn that its drawings do not have.

This follows what was stepped and decides nothing: no engine looks at it.  A squash begins when a state is entered, a transition taken
or a mark fires; it goes to its shape over a time (slowing down, t (2 - t)), holds, and springs back (t² (3 - 2 t)).  A breath comes
and goes as (1 - cos) / 2.  A lean follows its target by a share of ``dt / smooth`` a tick.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping

import msgspec
from msgspec.structs import replace

from leanstep.core.bearings import across, along, reduced, turn
from leanstep.core.body.body_state import BodyState
from leanstep.core.character.deforming import REMEMBERED, Lean, Squash
from leanstep.core.character.graph import State, Transition
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.event_words import marks_fired
from leanstep.core.rehearsal.situation import Situation, Step

TRIED = 0.5
"""Seconds for which a squash that holds is tried."""
HUNDRED = 100.0
"""A lean is given for so many units a second, or degrees, in a second."""


class Begun(msgspec.Struct, frozen=True):
    """A squash under way.  ``amount`` is how much of it (0 to 1), ``since`` the ticks since it began, ``held_by`` the (layer, state)
    that holds it, ``freed`` the ticks after which it began to spring back (-1: it has not); it went from the shape ``before``."""

    squash: Squash
    amount: float
    held_by: tuple[int, int] | None
    since: int = 0
    freed: int = -1
    before: tuple[float, float] = (1.0, 1.0)


class Deformed(msgspec.Struct, frozen=True):
    """How a figure is drawn now: ``wide`` and ``high`` times as large as it is drawn, tilted by ``lean`` degrees clockwise.  ``begun``
    is the squash under way; ``leaning`` the lean that a mark or a transition began, ``fall`` how fast the last fall was, in units
    a second, and ``landed`` the ticks since."""

    wide: float = 1.0
    high: float = 1.0
    lean: float = 0.0
    whole_pixels: bool = False
    begun: Begun | None = None
    leaning: str = ""
    fall: float = 0.0
    landed: int = 0

    @property
    def plain(self) -> bool:
        """Whether the figure is as it is drawn."""
        return self.wide == 1.0 and self.high == 1.0 and self.lean == 0.0


PLAIN = Deformed()


def deforms(machine: Machine) -> bool:
    """Whether a character has anything to follow."""
    return bool(machine.character.squashes or machine.character.leans)


def at_start(machine: Machine, first: Situation) -> Deformed:
    """The figure before tick 0."""
    now = PLAIN
    for layer, state in enumerate(first.states):
        now = _entered(machine, now, layer, state)
    return _shaped(machine, now)


def alone(machine: Machine, layer: int, state: int, ticks: int) -> Deformed:
    """The figure so many ticks after a state was entered by itself."""
    now = _entered(machine, PLAIN, layer, state)
    return (
        PLAIN
        if now.begun is None
        else _shaped(machine, replace(now, begun=replace(now.begun, amount=1.0, since=ticks)))
    )


def tried(now: Deformed, squash: Squash) -> Deformed:
    """The figure as a whole squash begins that springs back by itself."""
    held = squash.hold if squash.hold is not None else max(TRIED, squash.every)
    return replace(now, begun=Begun(replace(squash, hold=held), 1.0, None, before=(now.wide, now.high)))


def after(machine: Machine, now: Deformed, before: Situation, step: Step) -> Deformed:
    """The figure one tick later."""
    situation = step.situation
    now = _fallen(machine, now, before.body, situation.body)
    if now.begun is not None and not before.freeze:
        now = replace(now, begun=replace(now.begun, since=now.begun.since + 1))
    for mark in marks_fired(machine, step):
        # an effect on a mark holds until the next
        for effect in mark.effects:
            now = _apply(machine, now, effect.do, effect.name, None)
    for layer, fired in enumerate(step.fired):
        if fired >= 0:
            now = _taken(machine, now, layer, fired, before.states[layer], situation.states[layer])
    now = _leaned(machine, now, before.body, situation)
    return _shaped(machine, now)


def followed(machine: Machine, first: Situation, steps: Iterator[Step]) -> Iterator[Deformed]:
    """The figure after each of some steps."""
    now, before = at_start(machine, first), first
    for step in steps:
        now = after(machine, now, before, step)
        before = step.situation
        yield now


def _squashes(machine: Machine) -> Mapping[str, Squash]:
    return machine.once(_squashes, lambda: {one.name: one for one in machine.character.squashes})


def _leans(machine: Machine) -> Mapping[str, Lean]:
    return machine.once(_leans, lambda: {one.name: one for one in machine.character.leans})


def _taken(machine: Machine, now: Deformed, layer: int, fired: int, old: int, new: int) -> Deformed:
    """A transition is taken: what the state left held springs back, and what comes with the way and the new state begins."""
    written = machine.character.layers[layer]
    if now.begun is not None and now.begun.held_by == (layer, old):
        now = _freed(now)
    for effect in written.states[old].on_leave:
        now = _apply(machine, now, effect.do, effect.name, None)
    way: Transition = written.transitions[fired]
    for kind, name in (("squash", way.squash), ("lean", way.lean)):
        if name:
            now = _apply(machine, now, kind, name, None)
    return _entered(machine, now, layer, new)


def _entered(machine: Machine, now: Deformed, layer: int, state: int) -> Deformed:
    one: State = machine.character.layers[layer].states[state]
    for effect in one.on_entry:
        now = _apply(machine, now, effect.do, effect.name, None)
    return _apply(machine, now, "squash", one.squash, (layer, state)) if one.squash else now


def _apply(machine: Machine, now: Deformed, kind: str, name: str, held_by: tuple[int, int] | None) -> Deformed:
    if kind == "lean":
        return replace(now, leaning=name)
    if kind != "squash":
        return now
    if not name:
        return _freed(now)
    squash = _squashes(machine).get(name)
    if squash is None:
        return now
    amount = min(now.fall / squash.by_fall, 1.0) if squash.by_fall else 1.0
    return replace(now, begun=Begun(squash, amount, held_by, before=(now.wide, now.high)))


def _freed(now: Deformed) -> Deformed:
    """The squash there is begins to spring back, unless it does already."""
    if now.begun is None or now.begun.freed >= 0:
        return now
    return replace(now, begun=replace(now.begun, freed=now.begun.since))


def _fallen(machine: Machine, now: Deformed, before: BodyState, body: BodyState) -> Deformed:
    """Note how fast a fall was."""
    speed = before.rise if machine.character.body.model == "above" else before.vy
    if speed < 0.0 and not before.grounded:
        return replace(now, fall=-speed, landed=0)
    if now.landed > REMEMBERED * machine.character.rate:
        return now if now.fall == 0.0 else replace(now, fall=0.0)
    return replace(now, landed=now.landed + 1)


def _shaped(machine: Machine, now: Deformed) -> Deformed:
    """The figure's width and height now; what has sprung back is over."""
    begun = now.begun
    if begun is None:
        return now
    squash, rate = begun.squash, machine.character.rate
    over, hold, back = squash.over * rate, squash.hold, squash.back * rate
    freed = begun.freed
    if freed < 0 and hold is not None and begun.since >= over + hold * rate:
        freed = begun.since
    wide, high = _shape(begun, min(begun.since, freed) if freed >= 0 else begun.since, rate)
    if freed >= 0:
        gone = (begun.since - freed) / back if back > 0 else 1.0
        if gone >= 1.0:
            return replace(now, wide=1.0, high=1.0, whole_pixels=False, begun=None)
        left = 1.0 - gone * gone * (3.0 - 2.0 * gone)
        wide, high = _between((1.0, 1.0), (wide, high), left, squash.wide is None)
    begun = replace(begun, freed=freed)
    return replace(now, wide=wide, high=high, whole_pixels=squash.whole_pixels, begun=begun)


def _shape(begun: Begun, ticks: int, rate: float) -> tuple[float, float]:
    """Width and height so many ticks after a squash began, as long as it holds."""
    squash = begun.squash
    share = begun.amount
    if squash.every > 0:
        share *= (1.0 - along(reduced(360.0 * ticks / (squash.every * rate)))) / 2.0
    high = 1.0 + (squash.high - 1.0) * share
    wide = 1.0 / high if squash.wide is None else 1.0 + (squash.wide - 1.0) * share
    over = squash.over * rate
    t = min(ticks / over, 1.0) if over > 0 else 1.0
    return _between(begun.before, (wide, high), t * (2.0 - t), squash.wide is None)


def _between(one: tuple[float, float], other: tuple[float, float], share: float, keeps: bool) -> tuple[float, float]:
    """A shape between two; ``keeps``: its area goes evenly, not its width."""
    wide, high = (start + (end - start) * share for start, end in zip(one, other))
    if keeps:
        areas = one[0] * one[1], other[0] * other[1]
        wide = (areas[0] + (areas[1] - areas[0]) * share) / high
    return wide, high


def _leaned(machine: Machine, now: Deformed, before: BodyState, situation: Situation) -> Deformed:
    """The tilt follows how the body speeds up and turns."""
    named = [written.states[state].lean for written, state in zip(machine.character.layers, situation.states)]
    lean = _leans(machine).get(next((name for name in named if name), now.leaning))
    if lean is None and now.lean == 0.0:
        return now
    goal, smooth = 0.0, lean.smooth if lean is not None else REMEMBERED
    body, dt = situation.body, 1.0 / machine.character.rate
    if lean is not None:
        if machine.character.body.model == "above":
            ahead, gained = body.facing, (body.speed - before.speed) / dt
            goal = lean.turning * turn(before.facing, body.facing) / dt / HUNDRED * across((ahead + 90.0) % 360.0)
        else:
            ahead, gained = 90.0 if body.facing > 0 else 270.0, (body.vx - before.vx) * body.facing / dt
        goal += lean.speeding * gained / HUNDRED * across(ahead)
        goal = min(max(goal, -lean.most), lean.most)
    share = min(dt / smooth, 1.0) if smooth > 0 else 1.0
    leaned = now.lean + (goal - now.lean) * share
    return replace(now, lean=leaned if abs(leaned) > 1e-3 else 0.0)
