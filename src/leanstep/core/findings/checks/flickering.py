"""Pictures that flicker."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import astuple

from leanstep.core.findings.evidence import Evidence, check
from leanstep.core.findings.results import Finding
from leanstep.core.proof.door import Flicker, Passing, Proof, Reach, Verdict, chosen, close_together, names
from leanstep.core.wording import counted, listed


def _found(evidence: Evidence) -> Iterator[tuple[Proof, Verdict[Flicker]]]:
    for proof in evidence.proofs:
        for verdict in proof.flickering:
            yield proof, verdict


def _inputs(evidence: Evidence, reach: Reach, verdict: Verdict[Flicker]) -> str:
    """The values kept during a flicker, as far as they matter: those of its take."""
    world, flicker, witness = reach.world, verdict.about, verdict.witness
    said = []
    taken = {
        name: value
        for one in (witness.take.changes if witness and witness.take else ())
        for name, value in one.set.items()
    }
    rests = [one.rest for one in evidence.machine.symbols]
    for index, symbol in enumerate(evidence.machine.symbols):
        if flicker.masks[index] != world.full[index] and symbol.free and not symbol.momentary:
            first = symbol.first if witness and witness.take else chosen(world, flicker.masks, rests)[index]
            value = taken.get(symbol.name, first)
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
    for proof, verdict in _found(evidence):
        flicker = verdict.about
        if len(flicker.states) > 1:
            states = names(proof.reach, flicker.layer, flicker.states)
            rate = evidence.character.rate
            yield Finding(
                "flicker.steady",
                "error",
                {"layer": evidence.layer_name(flicker.layer), "states": states},
                f"{listed(states)} flicker: with nothing changing they follow each other for ever, "
                f"once round in {flicker.lap / rate * 1000:.0f} ms.",
                "free",
                "proved",
                why=f"While these values stay ({_inputs(evidence, proof.reach, verdict)}), every stay is shorter than "
                f"the flicker window of {evidence.character.flicker_window:g} s. A gap between the two conditions, or a minimum "
                f"stay, stops it.",
            ).judged(verdict)


@check
def restart(evidence: Evidence) -> Iterator[Finding]:
    """One state restarts itself for ever."""
    for proof, verdict in _found(evidence):
        flicker = verdict.about
        if len(flicker.states) == 1:
            state = names(proof.reach, flicker.layer, flicker.states)[0]
            yield Finding(
                "flicker.restart",
                "error",
                {"layer": evidence.layer_name(flicker.layer), "state": state},
                f"{state} restarts itself for ever, every {counted(flicker.lap, 'tick')}: "
                f"its clip never gets past the first frames.",
                "free",
                "proved",
                why=f"While these values stay ({_inputs(evidence, proof.reach, verdict)}), a transition with restart "
                f"enters {state} again and again. Take restart off it, or let it wait.",
            ).judged(verdict)


@check
def wobble(evidence: Evidence) -> Iterator[Finding]:
    """Two states give way to each other for ever while one value wobbles."""
    for proof in evidence.decided:
        for verdict in proof.wobbling:
            one = verdict.about
            states = names(proof.reach, one.layer, one.states)
            symbol = evidence.machine.symbols[one.symbol]
            values = sorted(close_together(proof.reach.world, one).values())
            if symbol.kind == "flag":
                how, mend = f"{symbol.name} chatters", f"“for” around {symbol.name} keeps the figure calm."
            else:
                unit = f" {symbol.unit}" if symbol.unit else ""
                how = f"{symbol.name} wobbles between {values[0]:g} and {values[-1]:g}{unit}"
                mend = f"A gap between the two conditions wider than {symbol.wobble:g}{unit} stops it."
            yield Finding(
                "flicker.wobble",
                "warning",
                {"layer": evidence.layer_name(one.layer), "states": states, "parameter": symbol.name},
                f"{listed(states)} flicker while {how}, although nothing else changes.",
                "free",
                "proved",
                why=f"Every stay on the way round is shorter than the flicker window of "
                f"{evidence.character.flicker_window:g} s. {mend} The take is not proved shortest.",
            ).judged(verdict)


@check
def flash(evidence: Evidence) -> Iterator[Finding]:
    """A state is left again at once by an ordinary transition.  Where that takes values which the body sets to change as no body
    was seen to change them, it is a note, one for all states of a layer."""
    unseen: dict[int, list[Verdict[Passing]]] = {}
    for proof in evidence.decided:
        for verdict in proof.passing:
            layer, state, stay, to = astuple(verdict.about)
            if _of_body(evidence, verdict) and (layer, state) not in evidence.passed:
                unseen.setdefault(layer, []).append(verdict)
                continue
            name = evidence.state_name(layer, state)
            then = evidence.state_name(layer, to) if to >= 0 else "another"
            ticks = counted(stay, "tick") if stay else "a few ticks"
            yield Finding(
                "flash",
                "warning",
                {"layer": evidence.layer_name(layer), "state": name},
                f"{name} only flashes by: it is shown for {ticks}, then {then} follows without anything changing.",
                "free",
                "proved",
                why=f"The values that lead into {name} lead on to {then} as well. Lead to {then} at once, or let {name} "
                f"stay for a while.",
            ).judged(verdict)

    for layer, found in unseen.items():
        states = [evidence.state_name(layer, one.about.state) for one in found]
        names = list(dict.fromkeys(name for one in found for name in _of_body(evidence, one)))
        where = {"state": states[0]} if len(states) == 1 else {"states": states}
        verb = "flashes" if len(states) == 1 else "flash"
        yield Finding(
            "flash",
            "note",
            {"layer": evidence.layer_name(layer), **where},
            f"{listed(states)} only {verb} by when {listed(names)} {'jumps' if len(names) == 1 else 'jump'} from one tick to the "
            f"next as no body was seen to do.",
            "free",
            "proved",
            why="In the free world every value may jump. Nothing that was played shows it; if your body can do that, keep such a "
            "take.",
        ).judged(found[0])


def _of_body(evidence: Evidence, verdict: Verdict[Passing]) -> list[str]:
    """What of the body's values a take sets."""
    owners = {one.name: one.owner for one in evidence.character.parameters}
    witness = verdict.witness
    changes = witness.take.changes if witness is not None and witness.take is not None else ()
    return list(dict.fromkeys(name for one in changes for name in one.set if owners.get(name) == "body"))
