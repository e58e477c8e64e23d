"""A take in a sentence: how long it is, where it ends, and who touched whom."""

from __future__ import annotations

from leanstep.core.character.takes import Take
from leanstep.core.rehearsal.actions import signed
from leanstep.core.rehearsal.second_figures import PairSteps, has_changed
from leanstep.core.rehearsal.traces import Trace

MOST_TOLD = 3
"""Contacts of a take that are told in its sentence."""


def take_sentence(take: Take, trace: Trace, most: int) -> str:
    """What a take did; of more than ``most`` ticks the first are shown."""
    rate = trace.machine.character.rate
    more = f" The timeline shows the first {most} ticks." if take.ticks > most else ""
    end = trace.steps[-1].situation if trace.steps else trace.first
    states = ", ".join(layer.states[state] for layer, state in zip(trace.machine.layers, end.states))
    begins = ""
    if take.begins is not None:
        begins = f" begins in {', '.join(one.state for one in take.begins.layers)}, where you were;"
    return f"{take.ticks} ticks, {take.ticks / rate:.1f} s;{begins} ends in {states}.{more}{_met(take, trace)}"


def _met(take: Take, trace: Trace) -> str:
    """What touched in a take, and who was free first."""
    if not isinstance(trace.steps, PairSteps) or take.second is None:
        return ""
    pair, told = trace.steps.pair, []
    for contact in pair.contacts[:MOST_TOLD]:
        found = pair.measured(contact)
        plus = "" if found.advantage is None else f", {signed(found.advantage)}"
        if plus and found.computed not in (None, found.advantage):
            plus += f" where it says {signed(found.computed or 0)}: {pair.differs(found)}"
        told.append(f"{contact.told} on tick {contact.tick}{plus}")
    more = f" and {len(pair.contacts) - MOST_TOLD} more" if len(pair.contacts) > MOST_TOLD else ""
    changed = has_changed(trace.machine, take.second)
    other = " The second figure is not what it was when the take was made." if changed else ""
    return f" {'; '.join(told)[:1].upper()}{'; '.join(told)[1:]}{more}.{other}" if told else f" Nothing touches.{other}"
