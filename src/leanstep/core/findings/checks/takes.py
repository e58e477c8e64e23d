"""What the character's takes show."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from leanstep.core.character.takes import Take
from leanstep.core.findings.evidence import Evidence, check
from leanstep.core.findings.results import Details, Finding
from leanstep.core.rehearsal.expectations import missed_expectations, moved_backward, turned_twice, unmet
from leanstep.core.rehearsal.robustness import fragile
from leanstep.core.rehearsal.traces import Trace


def _shown(evidence: Evidence) -> Iterator[tuple[Take, Trace]]:
    for take in evidence.character.takes:
        if take.name in evidence.traces:
            yield take, evidence.traces[take.name]


def _times(ticks: list[int]) -> str:
    often = "once" if len(ticks) == 1 else f"{len(ticks)} times"
    return f"{often}, first on tick {ticks[0]}"


def _in_take(kind: str, severity: str, subject: Details, take: Take, sentence: str, why: str) -> Finding:
    return Finding(kind, severity, {**subject, "take": take.name}, sentence, take.world, "shown", take, why)


@check
def in_takes(evidence: Evidence) -> Iterator[Finding]:
    """A state is left and entered again within the flicker window in a take."""
    window = evidence.machine.window
    for take, trace in _shown(evidence):
        for layer in range(len(evidence.machine.layers)):
            left: dict[int, int] = {}
            times: dict[int, list[int]] = {}
            runs = trace.ribbon(layer)
            for before, after in itertools.pairwise(runs):
                if before.state != after.state:
                    left[before.state] = after.start
                    if after.state in left and after.start - left[after.state] < window:
                        times.setdefault(after.state, []).append(after.start)
            for state in sorted(times):
                ticks = times[state]
                name = evidence.state_name(layer, state)
                yield _in_take(
                    "flicker.take",
                    "note",
                    {"layer": evidence.layer_name(layer), "state": name},
                    take,
                    f"In take {take.name}, {name} is left and entered again within "
                    f"{evidence.character.flicker_window:g} s, {_times(ticks)}.",
                    f"A player sees {name} blink. Look at what lets go of it and what calls it back.",
                )


@check
def facing(evidence: Evidence) -> Iterator[Finding]:
    """The figure turns round and back within the flicker window, or moves against its facing."""
    for take, trace in _shown(evidence):
        if take.world == "free":
            continue
        ticks = turned_twice(trace)
        if ticks:
            yield _in_take(
                "flicker.facing",
                "note",
                {},
                take,
                f"In take {take.name}, the figure turns round and back within "
                f"{evidence.character.flicker_window:g} s, {_times(ticks)}.",
                "A player sees it twitch.",
            )
        for (layer, state), late in moved_backward(trace).items():
            name = evidence.state_name(layer, state)
            yield _in_take(
                "facing.against",
                "note",
                {"layer": evidence.layer_name(layer), "state": name},
                take,
                f"In take {take.name}, the figure in {name} faces one way and moves the other for longer than "
                f"{evidence.character.flicker_window:g} s, {_times(late.ticks)}; its longest turn comes "
                f"{late.longest / evidence.character.rate:.2g} s late.",
                f"If {name} is meant to move backward, let it say so.",
            )


@check
def expectations(evidence: Evidence) -> Iterator[Finding]:
    """What states and takes expect, and do not get."""
    for take, trace in _shown(evidence):
        for expects, ticks in missed_expectations(trace):
            state = evidence.character.layers[expects.layer].states[expects.state]
            yield _in_take(
                "expectation.broken",
                "warning",
                {"layer": evidence.layer_name(expects.layer), "state": state.name},
                take,
                f"In take {take.name}, {state.name} is shown for longer than {state.grace:g} s while what it expects, "
                f"“{state.expects}”, is false, {_times(ticks)}.",
                f"Either {state.name} should have given way by then, or it expects too much.",
            )
        for expectation, reason in unmet(trace, take):
            yield _in_take(
                "expectation.broken", "warning", {"expects": expectation}, take, f"Take {take.name}: {reason}.", ""
            )


@check
def fragility(evidence: Evidence) -> Iterator[Finding]:
    """Takes that do what they expect only at this rate, or only when every hand is exactly in time; played when there is time
    to play at all."""
    for take, _ in _shown(evidence) if evidence.work.play else ():
        found = fragile(evidence.character, take, evidence.folder)
        if found is not None:
            yield Finding(
                "take.fragile",
                "note",
                {"take": take.name, "expects": found.expectation},
                f"Take {take.name} does what it expects only as it is: {found.variant[0].lower()}{found.variant[1:]}, "
                f"{found.reason}.",
                take.world,
                "shown",
                found.take or take,
                "A game does not always run at this rate, and no hand is always in time: give the conditions a little room, "
                "with a buffered press or a time in seconds.",
            )
