"""Pictures that flicker."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from leanstep.core.findings.model import Evidence, Finding, check, listed
from leanstep.core.proof.flicker import Flicker
from leanstep.core.proof.search import Reach
from leanstep.core.proof.verdicts import names
from leanstep.core.proof.witness import chosen, flickering


def _found(evidence: Evidence) -> Iterator[tuple[Reach, Flicker]]:
    for proof in evidence.proofs:
        for flicker in proof.flickers.found:
            yield proof.reach, flicker


def _inputs(evidence: Evidence, reach: Reach, flicker: Flicker) -> str:
    """The values kept during a flicker, as far as they matter."""
    world = reach.world
    said = []
    for index, symbol in enumerate(evidence.machine.symbols):
        if flicker.masks[index] != world.full[index] and symbol.free and not symbol.momentary:
            value = chosen(world, flicker.masks, [one.rest for one in evidence.machine.symbols])[index]
            text = (
                ("on" if value else "off")
                if isinstance(value, bool)
                else f"{value:g}"
                if isinstance(value, float)
                else value
            )
            said.append(f"{symbol.name} {text}{' ' + symbol.unit if symbol.unit and isinstance(value, float) else ''}")
    return ", ".join(said) or "any values"


@check
def steady(evidence: Evidence) -> Iterator[Finding]:
    """Several states give way to each other for ever while nothing changes."""
    for reach, flicker in _found(evidence):
        if len(flicker.states) > 1:
            states = names(reach, flicker.layer, flicker.states)
            rate = evidence.character.rate
            yield Finding(
                "flicker.steady",
                "error",
                {"layer": evidence.layer_name(flicker.layer), "states": states},
                f"{listed(states)} flicker: with nothing changing they follow each other for ever, "
                f"once round in {flicker.lap / rate * 1000:.0f} ms.",
                "free",
                "proved",
                why=f"While these values stay ({_inputs(evidence, reach, flicker)}), every stay is shorter than the flicker "
                f"window of {evidence.character.flicker_window:g} s. A gap between the two conditions, or a minimum "
                f"stay, stops it.",
            ).with_witness(flickering(reach, flicker))


@check
def restart(evidence: Evidence) -> Iterator[Finding]:
    """One state restarts itself for ever."""
    for reach, flicker in _found(evidence):
        if len(flicker.states) == 1:
            state = names(reach, flicker.layer, flicker.states)[0]
            yield Finding(
                "flicker.restart",
                "error",
                {"layer": evidence.layer_name(flicker.layer), "state": state},
                f"{state} restarts itself for ever, every {flicker.lap} tick{'s' if flicker.lap > 1 else ''}: "
                f"its clip never gets past the first frames.",
                "free",
                "proved",
                why=f"While these values stay ({_inputs(evidence, reach, flicker)}), a transition with restart enters {state} "
                f"again and again. Take restart off it, or let it wait.",
            ).with_witness(flickering(reach, flicker))


@check
def in_takes(evidence: Evidence) -> Iterator[Finding]:
    """A state is left and entered again within the flicker window in a take."""
    window = evidence.machine.window
    for take in evidence.character.takes:
        trace = evidence.traces.get(take.name)
        if trace is None:
            continue
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
                often = "once" if len(ticks) == 1 else f"{len(ticks)} times"
                yield Finding(
                    "flicker.take",
                    "note",
                    {"layer": evidence.layer_name(layer), "state": name, "take": take.name},
                    f"In take {take.name}, {name} is left and entered again within "
                    f"{evidence.character.flicker_window:g} s, {often}, first on tick {ticks[0]}.",
                    take.world,
                    "shown",
                    take,
                    f"A player sees {name} blink. Look at what lets go of it and what calls it back.",
                )
