"""What was steered last, as a take."""

from __future__ import annotations

from itertools import islice

from leanstep.core.character.takes import Take
from leanstep.core.graph.machine import Machine
from leanstep.core.rehearsal.stepping import Stepper
from leanstep.core.rehearsal.takes import recorded, rehearse
from leanstep.desk.input_log import InputLog

LEAD = 30
"""Ticks before the first input that what is kept as a take begins with, where that changes nothing."""


def kept_take(stepper: Stepper, kept: InputLog, name: str) -> Take | None:
    """What was driven last, as a take; None when there was nothing.  It reaches back 120 seconds or more, at most to the last edit
    that changed what the character does.  It begins shortly before the first input: at the character's start, where it does the
    same from there on, else in the situation of that moment."""
    machine = stepper.machine
    rest = {index: symbol.rest for index, symbol in enumerate(machine.symbols)}
    first = next((at for at, inputs in kept.rows if any(value != rest[i] for i, value in inputs.items())), None)
    if first is None:
        return None
    cut = max(kept.begun, first - LEAD)
    short = recorded(machine, name, kept.spread(cut))
    if kept.start is None and (not cut or _does_the_same(machine, recorded(machine, name, kept.spread()), short, cut)):
        return short
    at, start = kept.nearest(cut)
    situation = start or stepper.first()
    for inputs in islice(kept.spread(at), cut - at):
        situation = stepper.step(situation, inputs).situation
    return recorded(machine, name, kept.spread(cut), start=situation)


def _does_the_same(machine: Machine, whole: Take, short: Take, cut: int) -> bool:
    """Whether a take without its first ``cut`` ticks goes through the same states and places."""
    one, other = rehearse(machine, whole), rehearse(machine, short)
    layers = range(len(machine.layers))
    if any(one.states(layer)[cut:] != other.states(layer) for layer in layers):
        return False
    return one.steps[-1].situation.body == other.steps[-1].situation.body
