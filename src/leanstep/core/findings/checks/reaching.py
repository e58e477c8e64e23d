"""States nobody can reach, and states nobody can leave."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator

from leanstep.core.findings.evidence import Evidence, check
from leanstep.core.findings.results import Finding
from leanstep.core.proof.door import Proof, names
from leanstep.core.wording import counted, listed


@check
def dead_end(evidence: Evidence) -> Iterator[Finding]:
    """A set of states that is entered and never left."""
    for proof, layer in _decided_layers(evidence):
        for verdict in proof.dead_ends(layer):
            states = names(proof.reach, layer, verdict.about)
            one = len(states) == 1
            yield Finding(
                "state.dead-end",
                "error",
                {"layer": evidence.layer_name(layer), **({"state": states[0]} if one else {"states": states})},
                f"{listed(states)} {'is a dead end' if one else 'are a dead end together'}: "
                f"once there, no input leads out again.",
                "free",
                "proved",
                why="No transition that leads out can ever be taken, and none of it is declared an ending. "
                "Add a way out, or declare the ending.",
            ).judged(verdict)


@check
def trap(evidence: Evidence) -> Iterator[Finding]:
    """A state that can be left, but not always."""
    for proof, layer in _decided_layers(evidence):
        for verdict in proof.traps(layer):
            name = evidence.state_name(layer, verdict.about)
            yield Finding(
                "state.trap",
                "error",
                {"layer": evidence.layer_name(layer), "state": name},
                f"{name} can become a trap: {'after this take ' if verdict.witness else ''}no input ever leads out of it.",
                "free",
                "proved",
                why="Its ways out need something that has passed by then, such as a short stay. "
                "Give it a way out that stays open.",
            ).judged(verdict)


@check
def no_rest(evidence: Evidence) -> Iterator[Finding]:
    """Left alone, the character never comes to rest."""
    for proof in evidence.decided:
        for verdict in proof.restless:
            one, witness = verdict.about, verdict.witness
            states = names(proof.reach, one.layer, one.states)
            stays = f"stays in {states[0]}" if len(states) == 1 else f"goes round between {listed(states)}"
            ticks = proof.reach.depths[one.place] if witness is None or witness.take is None else witness.take.ticks
            yield Finding(
                "state.no-rest",
                "warning",
                {
                    "layer": evidence.layer_name(one.layer),
                    **({"state": states[0]} if len(states) == 1 else {"states": states}),
                },
                f"Left alone after this take, with everything at rest, {evidence.layer_name(one.layer)} {stays} and never "
                f"comes to a state that is declared restful.",
                "free",
                "proved",
                why=f"It is so from tick {ticks} on. Add a way from {listed(states)} to a restful state that opens by itself, "
                f"or declare where it stays restful.",
            ).judged(verdict)


@check
def unreachable(evidence: Evidence) -> Iterator[Finding]:
    """A state no input sequence enters."""
    for _, layer in _decided_layers(evidence):
        leading = Counter(transition.to for transition in evidence.character.layers[layer].transitions)
        for name in evidence.machine.layers[layer].states:
            if (evidence.layer_name(layer), name) not in evidence.lost:
                continue
            if not leading[name]:
                why = "No transition leads to it. Add one, or remove the state."
            else:
                why = f"Of the {counted(leading[name], 'transition')} to it, none can ever be taken."
            yield Finding(
                "state.unreachable",
                "error",
                {"layer": evidence.layer_name(layer), "state": name},
                f"{name} can never be reached: no input sequence, however long, enters it.",
                "free",
                "proved",
                why=why,
            )


def _decided_layers(evidence: Evidence) -> Iterator[tuple[Proof, int]]:
    for proof in evidence.decided:
        for layer in proof.layers:
            yield proof, layer
