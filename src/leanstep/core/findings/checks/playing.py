"""What the free world allows, but nobody has been able to play."""

from __future__ import annotations

from collections.abc import Iterator

from leanstep.core.character.takes import Take
from leanstep.core.findings.evidence import Evidence, check
from leanstep.core.findings.nearest_approach import nearest_approach
from leanstep.core.findings.results import Finding
from leanstep.core.naming.wording import described

_WHY = (
    "The body and the course may not allow it, or the search did not get that far; it is not proved. Try to play it, "
    "let the search go on for longer, or look at what the way there asks for."
)


@check
def unreached(evidence: Evidence) -> Iterator[Finding]:
    """States that neither the search of the body world nor a take enters, and transitions that neither takes."""
    body = evidence.body
    if body is None or body.barred >= 0:
        return
    states, ways = evidence.taken
    for proof in evidence.proofs:
        for layer, state in sorted(proof.reach.entered):
            if layer in proof.layers and (layer, state) not in {*body.states, *states}:
                name = evidence.state_name(layer, state)
                yield _not_found(
                    "state.unreached",
                    {"layer": evidence.layer_name(layer), "state": name},
                    f"{name} was not reached by playing: {body.ticks} ticks were tried from the start.",
                    nearest_approach(evidence, layer, state),
                )
        for layer, index in sorted(proof.reach.fired):
            if layer in proof.layers and (layer, index) not in {*body.transitions, *ways}:
                yield _not_found(
                    "transition.unreached",
                    {"layer": evidence.layer_name(layer), "transition": index},
                    f"{described(evidence.transition(layer, index))} was not taken by playing: {body.ticks} ticks were tried.",
                )


@check
def barred(evidence: Evidence) -> Iterator[Finding]:
    """The body breaks an assumption on its first tick, so that nothing can be played."""
    body = evidence.body
    if body is not None and body.barred >= 0:
        said = evidence.character.assumptions[body.barred]
        yield Finding(
            "assumption.broken",
            "error",
            {"assumption": body.barred},
            f"The body breaks the assumption “{said}” on its first tick, whatever is pressed.",
            "body",
            "shown",
            Take(name="the first tick", ticks=1),
            "Nothing could be searched for by playing. What is proved rests on the assumption all the same: take it back, or "
            "change the course or the body so that it holds at the start.",
        )


def _not_found(kind: str, subject: dict[str, object], sentence: str, nearest: str = "") -> Finding:
    return Finding(kind, "warning", subject, sentence, "body", "not found", why=f"{nearest} {_WHY}".strip())
