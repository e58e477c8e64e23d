"""Measuring a trace: what states and takes expect of it, and which way the figure faces."""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from typing import NamedTuple

from leanstep.core.bearings import turn
from leanstep.core.body.body_state import BodyState
from leanstep.core.character.takes import Expectation, Take
from leanstep.core.conditions.evaluation import decide
from leanstep.core.conditions.tree import Duration, ticks_of
from leanstep.core.graph.machine import Expects
from leanstep.core.rehearsal.stepping import moment_of
from leanstep.core.rehearsal.traces import Trace
from leanstep.core.wording import counted

EIGHTH, RIGHT_ANGLE = 45.0, 90.0
STILL = 1e-9
"""Speeds up to this one, in units a second, are no movement."""


def turned_twice(trace: Trace) -> list[int]:
    """Ticks on which the figure faces again as it did, having turned and turned back within the flicker window; seen from above,
    by an eighth of a circle or more."""
    above = trace.machine.character.body.model == "above"
    facings = [round(body.facing / EIGHTH) % 8 if above else body.facing for body in trace.bodies()]
    flips = [tick for tick in range(1, len(facings)) if facings[tick] != facings[tick - 1]]
    return [
        after
        for before, after in itertools.pairwise(flips)
        if after - before < trace.machine.window and facings[after] == facings[before - 1]
    ]


def _goes_against(body: BodyState, above: bool) -> bool:
    """Whether a body moves against its facing; seen from above by more than a right angle."""
    if above:
        return body.speed > STILL and abs(turn(body.facing, body.heading)) > RIGHT_ANGLE
    return body.vx * body.facing < -STILL


class Late(NamedTuple):
    """A figure that turns late, or never: ``ticks`` on which the body has moved against its facing for longer than the flicker
    window, once for each time, and the most ticks it does so in one go."""

    ticks: list[int]
    longest: int


def moved_backward(trace: Trace) -> dict[tuple[int, int], Late]:
    """Where the body moves against its facing for longer than the flicker window, by the layer's state that shows it.  States
    that allow it are left out."""
    found: dict[tuple[int, int], Late] = {}
    states = trace.machine.character.layers[0].states if trace.machine.character.layers else ()
    against, shown = 0, (0, 0)
    if not states:
        return found
    above = trace.machine.character.body.model == "above"
    for tick, (body, state) in enumerate(zip(trace.bodies(), trace.states(0))):
        wrong = _goes_against(body, above) and not states[state].backward
        against = against + 1 if wrong else 0
        if against == trace.machine.window + 1:
            shown = 0, state
            found.setdefault(shown, Late([], 0)).ticks.append(tick)
        if against > trace.machine.window:
            found[shown] = found[shown]._replace(longest=max(found[shown].longest, against))
    return found


def missed_expectations(trace: Trace) -> Iterator[tuple[Expects, list[int]]]:
    """Expectations of states that are false for longer than their grace while the state is shown, each with the ticks on
    which that becomes so."""
    machine = trace.machine
    for expects in machine.expects:
        false, ticks = 0, []
        entered = {tick for tick, _ in trace.entries(expects.layer)}
        for tick, state in enumerate(trace.states(expects.layer)):
            if state != expects.state:
                continue
            false = 0 if tick in entered else false
            moment = moment_of(machine, trace.steps[tick].situation)
            if tick:
                moment.held_before = trace.steps[tick - 1].situation.held
            false = 0 if decide(expects.condition, moment) else false + 1
            if false == expects.grace + 1:
                ticks.append(tick)
        if ticks:
            yield expects, ticks


def unmet(trace: Trace, take: Take) -> Iterator[tuple[int, str]]:
    """The numbers of a take's expectations that its trace does not meet, each with what happened instead."""
    for number, expectation in enumerate(take.expects):
        reason = _reason(trace, expectation)
        if reason:
            yield number, reason


def _reason(trace: Trace, expectation: Expectation) -> str:
    machine = trace.machine
    most = len(trace.steps)
    if expectation.within is not None:
        most = min(most, ticks_of(Duration(expectation.within, "s"), machine.character.rate))
    time = "" if expectation.within is None else f" within {expectation.within:g} s"
    if expectation.what == "mark":
        count = sum(name == expectation.name for tick, _, name in trace.marks() if tick < most)
        if count >= expectation.times:
            return ""
        fires = f"fires {counted(count, 'time')}"
        return f"mark {expectation.name} {fires}{time}, but at least {expectation.times} are expected"
    layer = next(
        (at for at, one in enumerate(machine.layers) if not expectation.layer or one.name == expectation.layer), None
    )
    if layer is None:
        return f"it expects something of layer {expectation.layer}, and there is none of that name"
    names = machine.layers[layer].states
    shown = [names[state] for state in (trace.first.states[layer], *trace.states(layer)[:most])]
    if expectation.name not in names:
        return f"it expects something of state {expectation.name}, and there is none of that name"
    if expectation.what == "end-in":
        return (
            "" if shown[-1] == expectation.name else f"it ends in {shown[-1]}{time}, but {expectation.name} is expected"
        )
    if expectation.what == "enter":
        return "" if expectation.name in shown else f"{expectation.name} is never entered{time}, but that is expected"
    if expectation.name not in shown:
        return ""
    return f"{expectation.name} is entered by tick {max(shown.index(expectation.name) - 1, 0)}, but that should not happen{time}"
