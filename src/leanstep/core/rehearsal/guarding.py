"""Whether a figure that walks backwards can guard: hands walk it there with its body, and then try what they can press."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import product

from leanstep.core.body.body_state import BodyState
from leanstep.core.character.takes import Take
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.actions import Inputs, asked_by, presses_among, pushes_among
from leanstep.core.rehearsal.contact import Figure
from leanstep.core.rehearsal.situation import Situation
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.takes import recorded

WALKED, TRIED = 45, 12
"""Ticks for which hands walk at most until the figure goes backwards, and then those for which they try each thing."""
AT_A_WALK = 6
"""Ticks after which a figure that goes backwards does so for good."""


@dataclass(frozen=True)
class OpenBack:
    """A state (by layer and number) in which a figure walks backwards and nothing that is pressed guards; the take walks there."""

    layer: int
    state: int
    take: Take


def open_backwards(machine: Machine) -> OpenBack | None:
    """A way to walk backwards, to the left of where it begins to look, out of which nothing that hands press or push makes the figure
    guard soon; None where every one does, or where nothing guards or nothing goes backwards.

    Tried are the buttons that the graph asks for, alone and in pairs, with the walk kept or let go, and alone with each push of a
    stick, each from one tick on.
    """
    if machine.touched.guards is None or not any(
        state.backward for layer in machine.character.layers for state in layer.states
    ):
        return None
    asked = asked_by(
        machine,
        [way.condition for layer in machine.layers for row in layer.ways for way in row] + [machine.touched.guards],
    )
    for stick in machine.sticks:
        walk: Inputs = {stick[0]: -1.0}
        walked = _walked(machine, walk)
        if walked is None:
            continue
        ticks, now, layer = walked
        if not any(_guards(machine, now, walk | hands) for hands in _tries(machine, asked, walk)):
            take = recorded(machine, "walks backwards", [walk] * (ticks + AT_A_WALK))
            return OpenBack(layer, now.states[layer], take)
    return None


def _walked(machine: Machine, walk: Inputs) -> tuple[int, Situation, int] | None:
    """After how many ticks of a walk the figure goes backwards, where it is then, and the layer whose state lets it; None: not."""
    stepper, back = Stepper(machine), 0
    now = stepper.first()
    for tick in range(WALKED):
        before, now = now.body, stepper.step(now, walk).situation
        layers = (
            at
            for at, layer in enumerate(machine.character.layers)
            if layer.states[now.states[at]].backward and not layer.states[now.states[at]].hold_still
        )
        layer = next(layers, None)
        back = back + 1 if layer is not None and _goes_backwards(machine, before, now.body) else 0
        if layer is not None and back >= AT_A_WALK:
            return tick + 1, now, layer
    return None


def _goes_backwards(machine: Machine, before: BodyState, body: BodyState) -> bool:
    across, up = body.x - before.x, body.y - before.y
    if machine.character.body.model == "side":
        return across * body.facing < 0
    bearing = math.radians(body.facing)
    return across * math.sin(bearing) + up * math.cos(bearing) < -1e-9


def _tries(machine: Machine, asked: set[int], walk: Inputs) -> Iterator[Inputs]:
    """What hands do, beside what they do anyway: what they let go is at rest."""
    stopped = {index: machine.symbols[index].rest for index in walk}
    alone, pairs = presses_among(machine, asked)
    pushes = pushes_among(machine, set(range(len(machine.symbols))))
    yield {}
    yield from (*alone, *pairs)
    yield from (stopped | press for press in ({}, *alone, *pairs))
    yield from (stopped | push | press for push, press in product(pushes, ({}, *alone)))


def _guards(machine: Machine, now: Situation, hands: Inputs) -> bool:
    """Whether the figure guards on one of the next ticks, while hands do this."""
    stepper, figure = Stepper(machine), Figure(machine)
    for _ in range(TRIED):
        now = stepper.step(now, hands).situation
        if figure.guards(now):
            return True
    return False
