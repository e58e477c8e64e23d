"""Transitions that never get their turn."""

from __future__ import annotations

from collections.abc import Iterator

from leanstep.core.findings.evidence import Evidence, check, written
from leanstep.core.findings.results import Finding
from leanstep.core.naming.wording import described
from leanstep.core.proof.door import Idle, Proof, Verdict, shadowing
from leanstep.core.wording import listed


def _idle(evidence: Evidence) -> Iterator[tuple[Proof, Verdict[Idle]]]:
    return ((proof, verdict) for proof in evidence.decided for verdict in proof.idle)


def _finding(evidence: Evidence, verdict: Verdict[Idle], kind: str, sentence: str, why: str) -> Finding:
    where = {"layer": evidence.layer_name(verdict.about.layer), "transition": verdict.about.transition}
    return Finding(kind, "warning", where, sentence, "free", "proved", why=why).judged(verdict)


@check
def shadowed(evidence: Evidence) -> Iterator[Finding]:
    """True at times, but something before it is always taken first."""
    for proof, verdict in _idle(evidence):
        idle = verdict.about
        if idle.kind != "shadowed":
            continue
        transition = evidence.transition(idle.layer, idle.transition)
        others = [described(evidence.transition(idle.layer, other)) for other in shadowing(proof.reach, idle)]
        yield _finding(
            evidence,
            verdict,
            "transition.shadowed",
            f"{described(transition)} is never taken: whenever “{transition.when}” holds, another transition comes first.",
            f"Tried before it: {listed(others)}. Move it up, or narrow the others." if others else "",
        )


@check
def never(evidence: Evidence) -> Iterator[Finding]:
    """Never true, or never even tried."""
    for _, verdict in _idle(evidence):
        idle = verdict.about
        if idle.kind == "shadowed":
            continue
        transition = evidence.transition(idle.layer, idle.transition)
        layer = evidence.character.layers[idle.layer]
        if (layer.name, transition.source) in evidence.lost:
            continue
        if idle.kind == "never":
            reason = f"“{transition.when}” is never true when it is tried"
            why = "In every reachable situation in which it is tried, its condition is false."
            pictures = {state.name for state in layer.states if not state.clip}
            if "clip done" in transition.when and transition.source in pictures:
                why += f" {transition.source} plays no clip of its own, so “clip done” never comes true."
        elif transition.to not in {state.name for state in layer.states}:
            reason, why = f"there is no state called {transition.to or '(nothing)'}", "Name a state that exists."
        elif transition.to == transition.source and not transition.restart:
            reason = "it leads to the state it comes from and does not say restart"
            why = "A state does not give way to itself unless asked to."
        else:
            reason = "it is never tried"
            why = "No state it comes from can ever be active while its target is not."
        yield _finding(evidence, verdict, "transition.never", f"{described(transition)} is never taken: {reason}.", why)


@check
def unsure(evidence: Evidence) -> Iterator[Finding]:
    """Transitions of which it is not known whether they can be taken."""
    for proof in evidence.decided:
        for verdict in proof.unsure:
            transition = evidence.transition(verdict.about.layer, verdict.about.transition)
            why = "No take was found in which it is taken, and no proof that there is none."
            sentence = f"{described(transition)} may never be taken."
            yield _finding(evidence, verdict, "transition.never", sentence, why)


@check
def fades(evidence: Evidence) -> Iterator[Finding]:
    """Crossfades between drawn sprites."""
    for at, layer in enumerate(evidence.character.layers):
        drawn = {
            state.name for state, picture in zip(layer.states, evidence.machine.pictures[at]) if picture is not None
        }
        for number, one in enumerate(layer.transitions):
            if one.fade and one.to in drawn and (not one.source or one.source in drawn):
                yield written(
                    "fade.dissolves",
                    "note",
                    {"layer": layer.name, "transition": number},
                    f"{described(one)} fades for {one.fade:g} s onto a drawn picture.",
                    "Drawn sprites have no poses between them: one can only dissolve into the other, which looks like a ghost "
                    "for longer than a few ticks. With a fade of 0 s the new picture is there at once.",
                )
